//! The complaint is heard: from a new job to the first card that fits, on a phone, by thumb.

use kelvok_e2e::with_page;
use std::time::Duration;

/// What stands on the job's card.
const CARD: &str = "return document.querySelector('.next section')?.innerText ?? ''";

#[test]
fn it_dies_when_i_get_off_opens_with_the_card_that_has_it_die() {
    with_page(|_workshop, page| async move {
        page.size(390, 844).await?;
        page.go("/").await?;
        page.click("New job").await?;
        page.named(".v-select, .v-field", "Machine").await?.click().await?;
        page.choose("Dunmarrow Z-52").await?;
        page.click("Dies").await?;
        page.click("When I get off").await?;
        // Both halves are shown before they count.
        page.sees("Engine keeps running: key run, seat on").await?;
        page.sees("Engine dies: key run, seat empty").await?;
        page.accessible_in_both_themes().await?;
        let wide = "return document.documentElement.scrollWidth > innerWidth";
        assert_eq!(page.script(wide).await?, false, "the page scrolls sideways");
        page.click("Open job").await?;
        page.sees("First: see it happen").await?;
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
        page.named(".next button", "Dies").await?.click().await?;
        page.lacks("First: see it happen").await?;
        page.sees("Ruled out").await
    });
}

#[test]
fn what_is_typed_for_a_new_job_outlives_a_reload_and_no_figure_is_dropped_in_silence() {
    with_page(|_workshop, page| async move {
        page.go("/").await?;
        page.click("New job").await?;
        page.named("input", "Owner").await?.send_keys("Ada Quill").await?;
        page.named("input", "Hours on the meter").await?.send_keys("abc").await?;
        page.sees("That is not a number.").await?;
        tokio::time::sleep(Duration::from_millis(200)).await;
        page.reload().await?;
        page.click("New job").await?;
        let kept = "return [...document.querySelectorAll('form input')].map((i) => i.value)";
        let kept = page.script(kept).await?;
        let kept = kept.as_array().cloned().unwrap_or_default();
        assert!(kept.contains(&serde_json::json!("Ada Quill")), "{kept:?}");
        Ok(())
    });
}
