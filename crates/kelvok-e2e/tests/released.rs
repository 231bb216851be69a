//! Before a machine goes back: steps tried by keyboard and by thumb, one that fails, fuses read, and a name put under it.

use kelvok_e2e::{Page, say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

/// The place of the step that is looked at, and of how many; nothing at the end.
async fn step(page: &Page) -> anyhow::Result<String> {
    let shown = page.script("return document.querySelector('.card h2')?.innerText ?? ''").await?;
    Ok(shown.as_str().unwrap_or_default().to_owned())
}

/// Answers the step as it should be, and waits for the next.
async fn good(page: &Page) -> anyhow::Result<()> {
    let before = step(page).await?;
    page.press("1").await?;
    for _ in 0..100 {
        if step(page).await? != before {
            return Ok(());
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    anyhow::bail!("{before} stays; the page says:\n{}", page.text().await?)
}

#[test]
fn a_machine_is_tried_step_by_step_a_failed_one_is_found_and_it_is_signed_for() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("release.title")).await?;
        page.sees("Step 1 of 7").await?;
        page.sees("It should not crank here").await?;
        page.accessible_in_both_themes().await?;
        for _ in 0..4 {
            good(&page).await?;
        }
        // The engine does not stop: that goes into the job, and waits for its repair.
        page.sees("Step 5 of 7").await?;
        page.lacks(say("release.startFirst")).await?;
        page.press("w").await?;
        page.sees(say("release.stopClock")).await?;
        page.click("3").await?;
        page.sees(say("release.failedHelp")).await?;
        page.accessible_in_both_themes().await?;
        page.click(say("release.toFind")).await?;
        page.sees("keeps running").await?;
        // It was misread: undone, nothing of it counts any more.
        page.go(&format!("{JOB}/release")).await?;
        page.sees("Step 6 of 7").await?;
        page.press("[").await?;
        page.sees(say("release.failedHelp")).await?;
        page.press("u").await?;
        page.lacks(say("release.failedHelp")).await?;
        // Who comes back to a step with the engine running may find it off.
        page.sees(say("release.startFirst")).await?;
        good(&page).await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.click("1 No crank").await?;
        page.sees("Step 7 of 7").await?;
        page.click("1 Engine stops").await?;
        // Nothing is signed while something is in the way.
        page.sees("main fuse").await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        page.accessible_in_both_themes().await?;
        let fuses = "return document.querySelectorAll('.fuse button:not([type=submit])').length";
        while page.script(fuses).await?.as_u64().unwrap_or_default() > 0 {
            page.click_on(".fuse button:not([type=submit])", "").await?;
            tokio::time::sleep(std::time::Duration::from_millis(400)).await;
        }
        page.sees("20 A in it").await?;
        page.click_on(".reading button", say("release.fine")).await?;
        page.sees(say("release.nothingLeft")).await?;
        page.click(say("release.signAndClose")).await?;
        page.sees("Released, Ilse").await?;
        page.accessible_in_both_themes().await?;
        // The job says so, leads to the record, and can be opened again.
        page.go(JOB).await?;
        page.sees("Released, Ilse").await?;
        page.click(say("common.openAgain")).await?;
        page.sees(say("release.reopened")).await?;
        page.click_on(".released a", "").await?;
        page.sees(say("release.reopened")).await
    });
}
