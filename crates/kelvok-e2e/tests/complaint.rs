//! The complaint is heard: from a new job to the first card that fits, on a phone, by thumb.

use kelvok_e2e::{Meter, say, with_page};
use std::sync::atomic::{AtomicUsize, Ordering::Relaxed};
use std::time::Duration;

/// What stands on the job's card.
const CARD: &str = "return document.querySelector('.next section')?.innerText ?? ''";

#[test]
fn it_dies_when_i_get_off_opens_with_the_card_that_has_it_die() {
    with_page(|_workshop, page| async move {
        page.size(390, 844).await?;
        page.go("/").await?;
        page.click(say("jobs.newJob")).await?;
        page.click_on(".v-select, .v-field", say("common.machine")).await?;
        page.choose("Dunmarrow Z-52").await?;
        page.click("Dies").await?;
        page.click("When I get off").await?;
        // Both halves are shown before they count.
        page.sees("Engine keeps running: key run, seat on").await?;
        page.sees("Engine dies: key run, seat empty").await?;
        page.accessible_in_both_themes().await?;
        let wide = "return document.documentElement.scrollWidth > innerWidth";
        assert_eq!(page.script(wide).await?, false, "the page scrolls sideways");
        page.click(say("jobs.openJob")).await?;
        page.sees("First: see it happen").await?;
        page.sees("Does the engine keep running?").await?;
        let card = page.script(CARD).await?;
        let card = card.as_str().unwrap_or_default().to_owned();
        for words in [
            "Start it with key run, seat on",
            "Now get up.",
            "Does the engine keep running?",
            "Dies",
        ] {
            assert!(card.contains(words), "no {words:?} in: {card}");
        }
        assert!(card.contains("The engine runs: keep clear"), "no caution in: {card}");
        page.lacks("turn the key and listen").await?;
        // Seen here, the plan goes on.
        page.click_on(".next button", "Dies").await?;
        page.lacks("First: see it happen").await?;
        page.sees(say("job.ruledOut")).await
    });
}

#[test]
fn what_is_typed_for_a_new_job_outlives_a_reload_and_no_figure_is_dropped_in_silence() {
    with_page(|_workshop, page| async move {
        page.go("/").await?;
        page.click(say("jobs.newJob")).await?;
        page.named("input", say("common.owner")).await?.send_keys("Ada Quill").await?;
        page.named("input", say("jobs.hoursOnTheMeter")).await?.send_keys("abc").await?;
        page.sees("That is not a number.").await?;
        tokio::time::sleep(Duration::from_millis(200)).await;
        page.reload().await?;
        page.click(say("jobs.newJob")).await?;
        let kept = "return [...document.querySelectorAll('form input')].map((i) => i.value)";
        let kept = page.script(kept).await?;
        let kept = kept.as_array().cloned().unwrap_or_default();
        assert!(kept.contains(&serde_json::json!("Ada Quill")), "{kept:?}");
        Ok(())
    });
}

/// What somebody beside a Z-52 whose brake switch does not pass presence would answer to a card.
fn answers(card: &str) -> &'static [&'static str] {
    let dies = card.contains("seat empty") || card.contains("Now get up.");
    if dies && card.contains("Keeps running") {
        return &["Dies"];
    }
    &["Keeps running", "Looks good", "Fires up", "Blades turn", "Clutch snaps in", "Probes there"]
}

/// The whole job by thumb: nothing is typed, and no more than twenty-five taps are needed.
#[test]
fn from_new_job_to_closed_by_thumb() {
    with_page(|workshop, page| async move {
        let fault = "brake-switch.presence=open";
        let _meter = Meter::start(&*workshop.lock().await, "dunmarrow-z-52", fault)?;
        page.size(390, 844).await?;
        page.go("/").await?;
        let taps = AtomicUsize::new(0);
        let tap = async |name: &str| {
            page.click(name).await?;
            anyhow::Ok(taps.fetch_add(1, Relaxed) + 1)
        };
        tap(say("jobs.newJob")).await?;
        page.click_on(".v-select, .v-field", say("common.machine")).await?;
        page.choose("Dunmarrow Z-52").await?;
        tap("Dies").await?;
        tap("When I get off").await?;
        // The field and its list are two taps more.
        let first = tap(say("jobs.openJob")).await? + 2;
        assert!(first <= 6, "{first} taps to the first card");
        page.sees("First: see it happen").await?;
        page.sees("Now get up.").await?;
        tap("Dies").await?;
        page.lacks("First: see it happen").await?;
        tap(say("common.meter")).await?;
        tap(say("meter.connect")).await?;
        for _ in 0..16 {
            if page.text().await?.contains("Found ·") {
                break;
            }
            let card = page.script(CARD).await?;
            let card = card.as_str().unwrap_or_default();
            page.answer(answers(card)).await?;
            taps.fetch_add(1, Relaxed);
        }
        page.sees("Found · 9").await?;
        page.sees("Brake switch, presence contacts open").await?;
        tap(say("job.thatsIt")).await?;
        page.sees(say("job.whatDidYouDo")).await?;
        let off = "return document.querySelector('section.off button')?.innerText ?? ''";
        while let Some(back) = page.script(off).await?.as_str().filter(|b| !b.is_empty()) {
            tap(back).await?;
            page.lacks(back).await?;
        }
        tap("Cleaned").await?;
        tap("Plug re-seated").await?;
        tap(say("job.recordTheRepair")).await?;
        page.sees("Check the repair").await?;
        for _ in 0..4 {
            page.answer(&["Keeps running", "Clutch snaps in", "Blades turn"]).await?;
            taps.fetch_add(1, Relaxed);
        }
        let taps = tap(say("job.closeJob")).await? + 2;
        page.sees(say("common.openAgain")).await?;
        eprintln!("{taps} taps");
        assert!(taps <= 25, "{taps} taps");
        Ok(())
    });
}
