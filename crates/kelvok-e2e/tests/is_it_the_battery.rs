//! Is it the battery: its label, rest and load by keyboard, what it comes to, and back in the job.

use anyhow::Context;
use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_battery_is_tested_by_itself_and_the_job_knows() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.battery")).await?;
        page.click(say("battery.testIt")).await?;
        page.sees(say("battery.readTheLabel")).await?;
        page.sees("Nothing read yet").await?;
        page.accessible_in_both_themes().await?;
        // Nothing typed is said, and nothing kept.
        page.click(say("common.record")).await?;
        page.sees(say("battery.aNumber")).await?;
        page.types("cold", "300").await?;
        page.press("\u{e007}").await?;
        page.sees("Label: 300 cold-cranking amps").await?;
        page.click("2 At rest").await?;
        page.types("volts", "12,58").await?;
        page.types("warm", "68").await?;
        page.click(say("battery.overnight")).await?;
        page.click(say("common.record")).await?;
        page.sees("12.58 V at rest, 12 h after").await?;
        page.sees("battery at 68 °F").await?;
        page.accessible_in_both_themes().await?;
        page.click("4 Load tester").await?;
        page.types("volts", "124").await?;
        page.click(say("common.record")).await?;
        page.sees("is not the reading of a 12 V battery").await?;
        page.script("document.querySelector('.volts input').select()").await?;
        page.press("5.9").await?;
        page.click(say("common.record")).await?;
        page.sees("Worn out").await?;
        page.sees("150 A").await?;
        page.size(390, 844).await?;
        // Every form, whichever is asked for next: how the controls stand is the longest line.
        for form in ["2 At rest", "3 Machine’s own loads", "4 Load tester", "5 While cranking"] {
            page.click(form).await?;
            page.fits_thumb_and_eye().await.with_context(|| form.to_owned())?;
        }
        page.size(1280, 800).await?;
        // The last is undone by its key, and the verdict with it.
        page.script("document.activeElement.blur()").await?;
        page.press("u").await?;
        page.lacks("5.90 V after 15 s").await?;
        page.click(say("common.backToTheJob")).await?;
        page.sees("12.58 V at rest").await?;
        Ok(())
    });
}
