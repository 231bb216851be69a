//! What comes and goes: run it with the clock on the server, on another device, until it happens or has kept quiet.

use kelvok_e2e::{Page, say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

async fn types(page: &Page, field: &str, text: &str) -> anyhow::Result<()> {
    page.script(&format!("document.querySelector('.{field} input').focus()")).await?;
    page.press(text).await
}

#[test]
fn a_machine_is_run_and_watched_and_the_clock_outlives_the_page() {
    with_page(|_workshop, page| async move {
        page.go(&format!("{JOB}/soak")).await?;
        page.sees(say("soak.howOften")).await?;
        page.accessible_in_both_themes().await?;
        page.click(say("soak.begin")).await?;
        page.sees(say("soak.bothNumbers")).await?;
        types(&page, "times", "4").await?;
        types(&page, "hours", "5").await?;
        page.click("Rough ground").await?;
        page.click(say("soak.halfOfIt")).await?;
        page.click(say("soak.fixedMaybe")).await?;
        page.click(say("soak.begin")).await?;
        page.sees(say("soak.notBroughtOn")).await?;
        page.sees("Not reproduced in").await?;
        page.sees("95% sure it’s gone").await?;
        page.script("document.activeElement.blur()").await?;
        page.press("1").await?;
        page.lacks(say("soak.notBroughtOn")).await?;
        page.accessible_in_both_themes().await?;
        // The tablet goes flat; another one shows the same clock.
        page.go("/").await?;
        page.sees(say("jobs.soaking")).await?;
        page.go(&format!("{JOB}/soak")).await?;
        page.sees("Rough ground: on").await?;
        page.script("document.activeElement.blur()").await?;
        page.press("p").await?;
        page.sees(say("soak.clockStands")).await?;
        page.press("p").await?;
        page.sees(say("soak.stopClock")).await?;
        page.press("f").await?;
        page.sees("It happened once in").await?;
        page.sees(say("soak.findIt")).await?;
        page.press("u").await?;
        page.sees("Not reproduced in").await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.click(say("soak.end")).await?;
        page.sees(say("soak.howOften")).await?;
        page.go(&format!("{JOB}/sheet/customer")).await?;
        page.sees("Not reproduced in").await?;
        Ok(())
    });
}
