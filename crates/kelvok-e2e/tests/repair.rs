//! From the fault to giving the machine back: put back, repaired, checked, closed, on paper.

use kelvok_e2e::{Page, say, with_page};
use thirtyfour::prelude::*;

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
const CARD: &str = "return document.querySelector('.next .card')?.innerText ?? ''";

/// What the card says.
async fn card(page: &Page) -> anyhow::Result<String> {
    Ok(page.script(CARD).await?.as_str().unwrap_or_default().to_owned())
}

/// From the complaint to the pedal switch, its plug still off.
async fn to_the_fault(page: &Page) -> anyhow::Result<()> {
    page.go(JOB).await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("Nothing").await?;
    for (point, typed) in [("Pedal switch in", "12.56"), ("Pedal switch out", "0.02")] {
        page.read(point, typed).await?;
    }
    page.sees("Unplug the pedal switch plug and press its plunger by hand.").await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("No beep").await?;
    page.sees("Found · 9").await
}

#[test]
fn a_switch_is_replaced_checked_and_the_job_closed_with_everything_back_on() {
    with_page(|_workshop, page| async move {
        to_the_fault(&page).await?;
        page.click(say("job.thatsIt")).await?;
        page.sees(say("job.whatDidYouDo")).await?;
        // The plug is still off: it is said, and the job cannot be closed.
        page.sees("To put back: pedal switch plug off. Do that before you close.").await?;
        page.accessible_in_both_themes().await?;
        page.click("Pedal switch plug is back on").await?;
        page.lacks(say("common.toPutBack")).await?;
        page.click("Replaced").await?;
        page.click(say("job.recordTheRepair")).await?;
        page.sees("Pedal switch: replaced.").await?;
        page.accessible_in_both_themes().await?;

        // Each check has its answer; what a good machine does is what is seen.
        for _ in 0..12 {
            if !card(&page).await?.starts_with("Check the repair") {
                break;
            }
            let good = ["Cranks", "Keeps running", "Clutch snaps in", "Bright"];
            page.answer(&good).await?;
        }
        page.click(say("job.closeJob")).await?;
        page.sees(say("common.openAgain")).await?;
        // What is closed takes nothing in.
        page.lacks(say("job.sayWhatItDoes")).await?;
        page.lacks(say("job.walkRound")).await?;
        page.go(&format!("{JOB}/sheet/customer")).await?;
        page.sees("Pedal switch: replaced.").await?;
        page.sees("Kelvok does not certify this machine.").await?;
        page.accessible_in_both_themes().await?;
        page.click(say("sheet.forTheFile")).await?;
        page.sees(say("sheet.everythingRecorded")).await
    });
}

#[test]
fn from_the_fault_to_the_check_by_keys_the_focus_goes_where_it_goes_on() {
    with_page(|_workshop, page| async move {
        to_the_fault(&page).await?;
        let at = |place: &'static str| {
            let page = page.clone();
            async move {
                let focused = "return document.activeElement?.getAttribute('aria-label')";
                for _ in 0..50 {
                    if page.script(focused).await? == place {
                        return Ok(());
                    }
                    tokio::time::sleep(std::time::Duration::from_millis(100)).await;
                }
                let has = "return document.activeElement.outerHTML.slice(0, 300)";
                anyhow::bail!("{place} has not the focus: {}", page.script(has).await?)
            }
        };
        at(say("job.verdict")).await?;
        page.press(Key::Tab + Key::Enter).await?;
        at(say("job.repair")).await?;
        page.tab_to("Cleaned").await?;
        page.press(Key::Enter + "").await?;
        page.tab_to("Plug re-seated").await?;
        page.press(Key::Enter + "").await?;
        page.tab_to(say("job.recordTheRepair")).await?;
        page.press(Key::Enter + "").await?;
        page.sees("Pedal switch: cleaned.").await?;
        page.sees("Pedal switch: plug re-seated.").await?;
        // Its plug is still off: back on it goes, from the card. The skip link leads there too.
        at(say("job.nextTest")).await?;
        page.tab_to(say("job.goToTheCard")).await?;
        page.press(Key::Enter + "").await?;
        at(say("job.nextTest")).await?;
        page.press(Key::Tab + Key::Enter).await?;
        page.lacks(say("common.toPutBack")).await?;
        // Ordinary use comes first, and all of it is good.
        for _ in 0..3 {
            page.settled().await?;
            let before = card(&page).await?;
            anyhow::ensure!(before.starts_with("Check the repair"), "{before}");
            at(say("job.nextTest")).await?;
            let good = ["Cranks", "Keeps running", "Fires up", "Clutch snaps in", "Bright"];
            let answer = good.iter().find(|good| before.lines().any(|line| line == **good));
            page.tab_to_exactly(answer.unwrap_or(&"Can’t")).await?;
            page.press(Key::Enter + "").await?;
            let mut waits = 0;
            while card(&page).await? == before {
                waits += 1;
                anyhow::ensure!(waits < 100, "{answer:?} changed nothing: {before}");
                tokio::time::sleep(std::time::Duration::from_millis(100)).await;
            }
        }
        // The focus is on the next card each time, and the job is closed from the verdict.
        page.settled().await?;
        at(say("job.nextTest")).await?;
        page.tab_to(say("job.closeJob")).await?;
        page.press(Key::Enter + "").await?;
        page.sees(say("common.openAgain")).await
    });
}

#[test]
fn a_second_tab_shows_what_the_first_recorded() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.sees("First: see it happen").await?;
        let first = page.driver.window().await?;
        let second = page.driver.new_tab().await?;
        page.driver.switch_to_window(second.clone()).await?;
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        page.driver.switch_to_window(first).await?;
        page.sees("Nothing, no click.").await
    });
}

#[test]
fn it_cranks_now_is_asked_about_before_it_is_a_contradiction() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        page.click(say("job.sayWhatItDoes")).await?;
        page.click_on(".heard button", "Cranks").await?;
        page.sees(say("job.theseTwoDontAgreeTitle")).await?;
        page.click(say("job.iFixedItInBetween")).await?;
        page.sees(say("job.whatDidYouDoIn")).await?;
        page.click("Replaced").await?;
        page.click(say("job.recordTheRepair")).await?;
        page.lacks(say("job.theseTwoDontAgreeTitle")).await?;
        page.sees("Repaired before this").await
    });
}

#[test]
fn nothing_heard_where_a_good_machine_does_nothing_is_asked_about() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.sayWhatItDoes")).await?;
        page.click_on(".heard button", "Nothing").await?;
        page.sees("Did you turn the key to START?").await?;
        page.click(say("job.yesToStart")).await?;
        page.sees("Nothing, no click.").await?;
        let at = "return document.querySelector('.story li small')?.innerText ?? ''";
        let at = page.script(at).await?;
        assert!(at.as_str().unwrap_or_default().contains("key start"), "{at}");
        Ok(())
    });
}

#[test]
fn the_card_is_on_the_screen_at_once_whatever_its_size() {
    with_page(|_workshop, page| async move {
        page.sees("Turns no sound, lights work.").await?;
        let jobs = page.driver.find_all(By::Css("main li a")).await?;
        let mut paths = Vec::new();
        for job in jobs.into_iter().take(6) {
            paths.extend(job.attr("href").await?);
        }
        anyhow::ensure!(paths.len() >= 4, "{paths:?}");
        for (width, height) in [(390, 844), (800, 1280), (1280, 800)] {
            page.size(width, height).await?;
            for path in &paths {
                page.go(path).await?;
                page.sees(say("common.whatWasDone")).await?;
                // Its first buttons, or the verdict, without scrolling; nothing sideways.
                let seen = "const c = document.querySelector('.card-first section'); \
                    const r = c?.getBoundingClientRect(); \
                    return !!r && r.top < innerHeight * 0.6 \
                        && document.documentElement.scrollWidth <= innerWidth";
                assert_eq!(page.script(seen).await?, true, "{path} at {width}");
                page.fits_thumb_and_eye().await.map_err(|e| e.context(path.clone()))?;
            }
        }
        Ok(())
    });
}

#[test]
fn a_point_of_ones_own_is_not_read_before_the_plug_is_back_on() {
    with_page(|_workshop, page| async move {
        to_the_fault(&page).await?;

        let fields = "return document.querySelectorAll('.next .reading input').length";
        page.point("Key S").await?;
        page.sees(say("job.putItBackFirst")).await?;
        assert_eq!(page.script(fields).await?, 0, "a reading could be typed");
        page.accessible_in_both_themes().await?;
        page.click_on(".next .card button", "Pedal switch plug is back on").await?;
        page.lacks(say("job.putItBackFirst")).await?;
        page.sees("Red Key S").await?;
        assert_eq!(page.script(fields).await?, 1, "nowhere to type the reading");
        page.read("Key S", "0.02").await
    });
}
