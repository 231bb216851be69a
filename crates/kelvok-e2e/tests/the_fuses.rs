//! Fuses: read by keyboard, one that is too big said to be, put right, and the wires beside them.

use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_fuse_that_is_too_big_is_found_and_put_right() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("fuses.title")).await?;
        page.sees(say("fuses.readThem")).await?;
        page.sees("20 A called for").await?;
        page.sees("key run").await?;
        page.accessible_in_both_themes().await?;
        // By keyboard: the first fuse, no number, then one that is too big.
        page.script("document.activeElement.blur()").await?;
        page.press("1").await?;
        page.press("big\u{e007}").await?;
        page.sees(say("release.noAmps")).await?;
        page.script("document.querySelector('.fuse-card input').select()").await?;
        page.press("40\u{e007}").await?;
        page.sees(say("fuses.putRight")).await?;
        page.sees("40 A in it").await?;
        page.sees("Its fuse is too big: the wire burns first").await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        // The release knows of it, and of the right one.
        page.go(&format!("{JOB}/release")).await?;
        page.go(&format!("{JOB}/fuses")).await?;
        page.sees(say("fuses.putRight")).await?;
        page.script("document.activeElement.blur()").await?;
        page.press("1").await?;
        page.press("20\u{e007}").await?;
        page.lacks("40 A in it").await?;
        page.script("document.activeElement.blur()").await?;
        page.press("2").await?;
        page.sees(say("fuses.readThem")).await?;
        page.press("20\u{e007}").await?;
        page.sees(say("fuses.allFine")).await?;
        page.click(say("common.backToTheJob")).await?;
        page.sees(say("fuses.title")).await?;
        Ok(())
    });
}
