//! Bay view: a phone clipped to the machine shows the card alone, and two keys work it.

use kelvok_e2e::{say, with_page};
use serde_json::json;
use thirtyfour::prelude::*;

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
/// The button in hand, if it is one of the card's.
const IN_HAND: &str = "return document.activeElement.closest('.next .card') \
                       ? document.activeElement.innerText : ''";
/// What can be seen of the page besides the card and its tools, its bar among it.
const BESIDES: &str = "return [...document.querySelectorAll('.left, .right, .story, header')] \
     .filter((e) => e.checkVisibility()) \
     .map((e) => [e, e.getBoundingClientRect()]) \
     .filter(([e, r]) => r.top < 0 || r.top > innerHeight || \
        e.contains(document.elementFromPoint(r.left + 9, r.top + 9))) \
     .map(([e]) => e.className)";

#[test]
fn the_card_alone_and_two_keys_that_work_it() {
    with_page(|_workshop, page| async move {
        page.size(390, 844).await?;
        page.go(JOB).await?;
        page.sees(say("job.doneItsSet")).await?;
        assert_ne!(page.script(BESIDES).await?, json!([]));
        page.press("v").await?;
        page.sees(say("job.leaveBayView")).await?;
        assert_eq!(page.script(BESIDES).await?, json!([]), "more than the card");
        page.accessible_in_both_themes().await?;

        // A presenter or foot switch: on to the next button, and back.
        page.press(Key::PageDown + "").await?;
        assert_eq!(page.script(IN_HAND).await?, "Done, it’s set");
        page.press(Key::PageDown + "").await?;
        assert_ne!(page.script(IN_HAND).await?, "Done, it’s set");
        page.press(Key::PageUp + "").await?;
        assert_eq!(page.script(IN_HAND).await?, "Done, it’s set");
        page.press(Key::Enter + "").await?;
        page.sees("Nothing").await?;

        page.click(say("job.leaveBayView")).await?;
        page.lacks(say("job.leaveBayView")).await?;
        assert_ne!(page.script(BESIDES).await?, json!([]));

        // Gone by the browser's own way, the next screen is whole.
        page.go("/").await?;
        page.click_on(&format!("a[href='{JOB}']"), "").await?;
        page.sees("First: see it happen").await?;
        page.press("v").await?;
        page.sees(say("job.leaveBayView")).await?;
        page.driver.back().await?;
        page.sees(say("jobs.newJob")).await?;
        page.lacks(say("job.leaveBayView")).await
    });
}
