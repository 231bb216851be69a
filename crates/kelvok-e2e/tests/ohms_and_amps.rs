//! Ohms and amps of what the machine feeds: a clutch read cold by keyboard, put back, read on, named.

use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_clutch_is_named_by_its_ohms_and_by_what_it_draws() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("loads.title")).await?;
        page.sees(say("loads.next")).await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        page.go(&format!("{JOB}/loads/clutch")).await?;
        page.sees("2.90 ohm").await?;
        // No number first, then too few ohms, by keyboard.
        page.script("document.activeElement.blur()").await?;
        page.press("o").await?;
        page.press("abc\u{e007}").await?;
        page.lacks("Shorted inside").await?;
        page.script("document.querySelector('.reading-typed input').select()").await?;
        page.press("1.1\u{e007}").await?;
        page.sees("Shorted inside").await?;
        page.sees("Ohms: 1.10 ohm at 20 °C").await?;
        page.accessible_in_both_themes().await?;
        page.script("document.activeElement.blur()").await?;
        page.press("u").await?;
        page.lacks("Ohms: 1.10 ohm").await?;
        page.sees("Not read yet").await?;
        Ok(())
    });
}
