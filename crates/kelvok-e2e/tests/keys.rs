//! Keys where something lies over the page, and the sheet that lists them.

use kelvok_e2e::{say, with_page};
use std::time::Duration;
use thirtyfour::Key;

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
const ENTRIES: &str = "return document.querySelectorAll('.story li').length";

#[test]
fn a_letter_typed_in_an_open_list_records_nothing() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.sees("First: see it happen").await?;
        let before = page.script(ENTRIES).await?;
        page.click(say("job.somethingElse")).await?;
        page.unfold(say("job.instrument")).await?;
        page.sees("Test lamp, filament").await?;
        page.press("n").await?;
        tokio::time::sleep(Duration::from_millis(800)).await;
        let after = page.script(ENTRIES).await?;
        assert_eq!(after, before, "n in a list said that the starter is silent");
        page.press(Key::Escape + "").await?;
        page.script("document.activeElement.blur()").await?;
        tokio::time::sleep(Duration::from_millis(500)).await;
        page.press("n").await?;
        page.sees("You got: nothing, no click.").await
    });
}

#[test]
fn the_keys_lie_over_the_page_wherever_it_is_scrolled_and_give_the_focus_back() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.sees(say("pictures.possibleCauses")).await?;
        page.script("window.scrollTo(0, document.body.scrollHeight)").await?;
        page.script("[...document.querySelectorAll('a')].at(-1).focus()").await?;
        let focus = "return document.activeElement.outerHTML";
        let before = page.script(focus).await?;
        page.press("?").await?;
        page.sees(say("shell.whatEachInstrumentCannotSee")).await?;
        let seen = "const r = document.querySelector('.sheet').getBoundingClientRect(); \
                    return r.top >= 0 && r.bottom <= innerHeight";
        tokio::time::sleep(Duration::from_millis(500)).await;
        assert_eq!(page.script(seen).await?, true, "it lies off the screen");
        page.press(Key::Escape + "").await?;
        page.lacks(say("shell.whatEachInstrumentCannotSee")).await?;
        tokio::time::sleep(Duration::from_millis(300)).await;
        assert_eq!(page.script(focus).await?, before, "the focus is lost");
        let title = page.script("return document.title").await?;
        assert!(title.as_str().unwrap_or_default().contains("Orchard 3"), "{title}");
        Ok(())
    });
}

#[test]
fn the_first_card_of_a_switch_stands_in_one_column() {
    with_page(|_workshop, page| async move {
        page.go("/bench").await?;
        page.click(say("bench.testASwitch")).await?;
        page.click("Unknown").await?;
        page.click(say("bench.startTesting")).await?;
        page.sees(say("bench.leadsFirst")).await?;
        let columns = "return getComputedStyle(document.querySelector('form.leads')) \
                       .gridTemplateColumns.split(' ').length";
        assert_eq!(page.script(columns).await?, 1, "a parent's grid leaks into it");
        Ok(())
    });
}
