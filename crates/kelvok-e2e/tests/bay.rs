//! Bay view: a phone clipped to the machine shows the card alone, and two keys work it.

use kelvok_e2e::{Meter, Page, say, with_page};
use serde_json::json;
use std::time::{Duration, Instant};
use thirtyfour::prelude::*;

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
/// The button in hand, if it is one of the card's or the meter's.
const IN_HAND: &str = "return document.activeElement.matches('.next .card button, [data-by-foot]') \
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

/// What somebody beside a tractor whose pedal switch is open would answer.
const ANSWERS: [&str; 6] =
    ["Done, it’s set", "Nothing", "Probes there", "Clutch snaps in", "Looks good", "Bright"];
/// How often a foot goes down for the next button before none is left.
const MOST_STEPS: usize = 16;
const ENTRIES: &str = "return document.querySelectorAll('.story li').length";

/// Steps on until one of the answers is in hand, and takes it; which it was.
async fn by_foot(page: &Page) -> anyhow::Result<Option<&'static str>> {
    for _ in 0..MOST_STEPS {
        page.press(Key::PageDown + "").await?;
        let hand = page.script(IN_HAND).await?;
        let hand = hand.as_str().unwrap_or_default();
        if let Some(answer) = ANSWERS.iter().find(|a| hand.contains(**a)) {
            page.press(Key::Enter + "").await?;
            return Ok(Some(answer));
        }
    }
    Ok(None)
}

#[test]
fn to_the_fault_by_the_meter_and_a_foot_switch_and_no_touch() {
    with_page(|workshop, page| async move {
        let _meter = Meter::start(&*workshop.lock().await, "pellwick-gt-46", "brake.start=open")?;
        page.size(390, 844).await?;
        page.go(JOB).await?;
        page.sees(say("job.doneItsSet")).await?;
        page.click(say("common.meter")).await?;
        page.click(say("meter.connect")).await?;
        page.press("v").await?;
        page.sees(say("job.leaveBayView")).await?;
        // From here on nobody touches the screen.
        let mut by_meter = 0;
        let found = |text: &str| text.contains("Pedal switch, start contacts open");
        let began = Instant::now();
        while !found(&page.text().await?) {
            anyhow::ensure!(began.elapsed() < Duration::from_secs(150), "not found");
            let before = page.script(ENTRIES).await?;
            let Some(answer) = by_foot(&page).await? else { continue };
            by_meter += usize::from(answer == "Probes there");
            let took = Instant::now();
            let sets = answer == ANSWERS[0];
            while !sets && page.script(ENTRIES).await? == before {
                anyhow::ensure!(took.elapsed() < Duration::from_secs(30), "{answer}: not recorded");
                tokio::time::sleep(Duration::from_millis(100)).await;
            }
            // The plan follows the log by a moment.
            tokio::time::sleep(Duration::from_millis(1200)).await;
            assert_eq!(page.script(BESIDES).await?, json!([]), "more than the card");
        }
        anyhow::ensure!(by_meter >= 2, "{by_meter} readings came from the meter");
        Ok(())
    });
}
