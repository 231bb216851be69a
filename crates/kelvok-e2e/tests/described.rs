//! A machine that is in nobody's list: described by its looks, kept, and tested at once.

use kelvok_e2e::{Page, say, with_page};

/// What is pressed at each question about a lawn tractor: 0 where nobody can tell.
const LAWN_TRACTOR: &[(&str, &str)] = &[
    ("What is it?", "2"),
    ("What turns the engine over?", "1"),
    ("Where does the spark come from?", "1"),
    ("Is there a solenoid under the carburetor bowl?", "2"),
    ("stamped at the key switch", "1"),
    ("Seat switch: how many pins?", "2"),
    ("Brake or clutch pedal switch: how many pins?", "3"),
    ("Neutral switch at the shift lever: how many pins?", "1"),
    ("How do you turn the blades or the PTO on?", "2"),
    ("Blade or PTO switch: how many pins?", "3"),
    ("How many relays do you see?", "1"),
    ("Small terminals on the solenoid", "0"),
    ("Fuse or breaker", "1"),
    ("Headlamps?", "2"),
    ("What charges the battery?", "1"),
];

async fn describe(page: &Page) -> anyhow::Result<()> {
    for (asks, key) in LAWN_TRACTOR {
        page.sees(asks).await?;
        // What the key does is asked on the way, where there is a choice.
        page.press(*key).await?;
        if *asks == "Is there a solenoid under the carburetor bowl?" {
            page.sees("What does the key do?").await?;
            page.press("1").await?;
        }
    }
    page.sees(say("describe.howItDecides")).await
}

#[test]
fn a_stranger_in_the_yard_gets_its_first_test_without_typing() {
    with_page(|_workshop, page| async move {
        page.click(say("jobs.newJob")).await?;
        page.click(say("jobs.notInTheList")).await?;
        page.sees("What is it?").await?;
        page.accessible_in_both_themes().await?;
        describe(&page).await?;
        page.sees("Cranks when key at start, pedal down, blade lever off.").await?;
        page.sees(say("shell.notTraced")).await?;
        page.accessible_in_both_themes().await?;
        // What is answered outlives a reload.
        page.reload().await?;
        page.sees(say("describe.howItDecides")).await?;

        page.click(say("describe.startAJob")).await?;
        page.sees("Dies").await?;
        page.click("Dies").await?;
        page.click("When I get off").await?;
        page.click(say("jobs.openJob")).await?;
        page.sees(say("shell.notTraced")).await?;
        page.sees("First: see it happen").await
    });
}

#[test]
fn an_answer_is_gone_back_to_and_what_nobody_saw_is_said() {
    with_page(|_workshop, page| async move {
        page.size(390, 844).await?;
        page.go("/describe").await?;
        page.sees("What is it?").await?;
        page.fits_thumb_and_eye().await?;
        describe(&page).await?;
        page.sees(say("describe.usual")).await?;
        page.fits_thumb_and_eye().await?;
        // There is no blade switch after all: then nothing keeps it from cranking with the blades on.
        page.click("Blade or PTO switch: how many pins?").await?;
        page.click("No switch").await?;
        page.sees(say("describe.asDescribedNothingGuards")).await?;
        page.sees("Cranking with the blades on").await?;
        page.click(say("common.keepIt")).await?;
        page.sees("usual for its kind, not traced").await?;
        // What holds for its usual wiring is not shown for the machine.
        page.sees(say("machine.onPaperOnly")).await?;
        page.lacks("✓ proved").await?;

        // Answers kept on the device that are none any more do not keep anybody out.
        let old = r#"sessionStorage.setItem('kelvok.draft.describe', '{"wings":"2"}')"#;
        page.script(old).await?;
        page.go("/describe").await?;
        page.sees("wings").await?;
        page.click(say("describe.startOver")).await?;
        page.sees("What is it?").await
    });
}

#[test]
fn how_it_is_wired_is_said_settled_and_taken_back() {
    with_page(|_workshop, page| async move {
        page.go("/describe").await?;
        describe(&page).await?;
        page.sees(say("describe.lookingDoesntTell")).await?;
        page.click(say("describe.startAJob")).await?;
        page.sees("Won’t crank").await?;
        page.click("Won’t crank").await?;
        page.click("Dead").await?;
        page.click(say("jobs.openJob")).await?;
        page.sees(say("job.howItsWired")).await?;
        page.sees("First the blade lever switch, then the pedal switch").await?;
        page.accessible_in_both_themes().await?;

        // What tells the ways apart is the card, for as long as nothing is recorded.
        page.sees("First: see it happen").await?;
        page.click(say("job.doThisTest")).await?;
        page.lacks("First: see it happen").await?;

        // Somebody has looked: the drawing has it from now on, and it can be taken back.
        let open = "How the start circuit runs";
        page.click("It’s this one: First the pedal switch, then the blade lever switch").await?;
        page.sees(say("job.theDrawingIsChanged")).await?;
        page.lacks(open).await?;
        page.click(say("common.undo")).await?;
        page.sees(open).await
    });
}
