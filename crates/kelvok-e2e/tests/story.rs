//! A silent tractor, to the broken switch: by mouse and by keyboard.

use kelvok_e2e::{Page, say, with_page};
use thirtyfour::prelude::*;

const WALK: [(&str, &str); 5] = [
    ("Battery + post", "12.58"),
    ("Key S", "12.57"),
    ("Lever switch out", "12.56"),
    ("Pedal switch in", "12.56"),
    ("Pedal switch out", "0.02"),
];
const BROKEN: &str = "The pedal switch’s start contacts are open with the pedal down.";

#[test]
fn the_story_by_mouse() {
    with_page(|workshop, page| async move {
        page.sees("Turns no sound, lights work.").await?;
        page.accessible_in_both_themes().await?;
        page.click("1 Pellwick GT-46 Orchard 3").await?;

        page.sees("First: see it happen").await?;
        page.set("key", "start").await?;
        page.set("pedal", "down").await?;
        page.set("blades", "off").await?;
        page.set("lever", "N").await?;
        page.sees("A good machine, set like this: cranks.").await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        page.accessible_in_both_themes().await?;

        // Every peg says what it should read, and what a good machine reads.
        let label = page.named("g.peg", "Pedal switch out,").await?.attr("aria-label").await?;
        assert!(
            label.unwrap_or_default().contains("should read 12.6"),
            "expected is battery level"
        );
        let healthy = page
            .script(
                "return [...document.querySelectorAll('.healthy.mono')].map((t) => +t.textContent)",
            )
            .await?;
        let healthy = healthy.as_array().unwrap();
        assert!(healthy.iter().any(|v| (10.0..11.5).contains(&v.as_f64().unwrap())));

        for (point, typed) in WALK {
            page.read(point, typed).await?;
        }
        page.sees(BROKEN).await?;
        page.sees("12.54 V lost here").await?;
        page.sees("These would read the same: the linkage of the pedal switch, the pedal switch plug or a bad reading (probe slipped).").await?;
        // The proof by the meter, on the switch itself: linkage and switch apart.
        page.sees("Unplug the pedal switch plug and press its plunger by hand.").await?;
        page.sees("Red Start pin in Black Start pin out").await?;
        page.accessible_in_both_themes().await?;

        page.click(say("job.doneItsSet")).await?;
        page.stands_at("key", "off").await?;
        page.click("No beep").await?;
        page.sees("Found · 9").await?;
        page.sees("To put back: Pedal switch plug is back on").await?;
        page.click(say("job.thatsIt")).await?;
        page.sees("Fault found Pedal switch").await?;
        page.sees(say("job.confirmedByASecondKind")).await?;
        page.accessible_in_both_themes().await?;

        let holds = |page: Page| async move {
            page.sees("Fault found Pedal switch").await?;
            page.sees("Pedal switch out: 0.02 V").await?;
            page.sees("Start pin in to start pin out: no beep")
                .await
                .or(page.sees("start pin in to start pin out: no beep").await)
        };
        page.reload().await?;
        holds(page.clone()).await?;
        workshop.lock().await.kill_server();
        workshop.lock().await.start_server()?;
        page.reload().await?;
        holds(page.clone()).await?;
        workshop.lock().await.kill_server();
        workshop.lock().await.database.kill();
        workshop.lock().await.database.resume()?;
        workshop.lock().await.start_server()?;
        page.reload().await?;
        holds(page.clone()).await?;

        page.go("/").await?;
        page.sees("Fault found: pedal switch").await
    });
}

#[test]
fn the_story_by_keyboard_alone() {
    with_page(|_workshop, page| async move {
        page.sees("Turns no sound, lights work.").await?;
        // Tab to the first job: brand, theme, new job, then the list.
        page.tab_to("Orchard 3").await?;
        page.press(Key::Enter + "").await?;
        page.sees("First: see it happen").await?;
        // Key: off, run, rev-mow, start. Pedal: up, down.
        page.press("kkkb").await?;
        page.stands_at("key", "start").await?;
        page.stands_at("pedal", "down").await?;
        // Shift goes back; Escape lets the key go, which springs to run.
        page.press("P").await?;
        page.stands_at("blades", "on").await?;
        page.press("p").await?;
        page.stands_at("blades", "off").await?;
        page.press(Key::Escape + "").await?;
        page.stands_at("key", "run").await?;
        page.press("kk").await?;
        page.stands_at("key", "start").await?;
        page.press("n").await?;
        page.sees("You got: nothing, no click.").await?;

        for (point, typed) in WALK {
            // [ and ] step along the points until the card asks for this one.
            for step in 0..20 {
                let card = page.text().await?;
                if card.contains(&format!("Red {point}")) {
                    break;
                }
                let back_to_the_start = step == 0 && point == WALK[0].0;
                page.press(if back_to_the_start { "[[[[[[[[[[[[[[[[" } else { "]" }).await?;
                tokio::time::sleep(std::time::Duration::from_millis(100)).await;
            }
            page.sees(&format!("Red {point}")).await?;
            page.press(typed).await?;
            assert_eq!(page.field().await?, typed, "digits start a reading");
            page.press(Key::Enter + "").await?;
            page.sees(&format!("Recorded {typed} at {point}.")).await?;
            page.press(Key::Escape + "").await?;
        }
        page.sees(BROKEN).await?;

        page.press("u").await?;
        page.sees("Mistyped").await?;
        page.press(Key::Enter + "").await?;
        page.sees("undone by").await?;
        // The last Escape left the field of the card that came next; the key is still held.
        page.stands_at("key", "start").await?;
        page.point("Pedal switch out").await?;
        page.sees("Red Pedal switch out").await?;
        // A letter in the field is a letter: no shortcut acts there.
        page.press("1").await?;
        page.press("k").await?;
        assert_eq!(page.field().await?, "1k");
        page.press(Key::Backspace + Key::Backspace).await?;
        page.press(Key::Escape + "").await?;
        page.press("0.02").await?;
        page.press(Key::Enter + "").await?;
        page.sees(BROKEN).await?;
        page.press(Key::Escape + "").await?;

        page.sees("Unplug the pedal switch plug and press its plunger by hand.").await?;
        page.press("o").await?;
        page.sees("Found · 9").await?;
        page.press("?").await?;
        page.sees(say("shell.switchSingleLettersOff")).await?;
        page.accessible().await
    });
}
