//! What becomes of the battery, said at the bench: charged, jumped, another.

use kelvok_e2e::{say, with_page};

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_battery_is_jumped_and_charged_and_nobody_forgets_the_cables() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.battery")).await?;
        page.sees(say("job.whatHappenedToTheBattery")).await?;
        page.sees(say("job.jumperCaution")).await?;
        page.accessible_in_both_themes().await?;
        page.click("Jumper cables on").await?;
        // It stays in sight until they are off, and the log has both.
        page.sees(say("job.jumperCablesOn")).await?;
        page.accessible_in_both_themes().await?;
        // The sweep wants no power: it waits for the cables.
        page.go(&format!("{JOB}/sweep")).await?;
        page.sees(say("job.jumperCablesOn")).await?;
        page.lacks("Step 1 of").await?;
        page.click(say("job.jumperCablesAreOff")).await?;
        page.sees("Step 1 of").await?;
        page.go(JOB).await?;
        page.click(say("job.battery")).await?;
        page.click("Jumper cables on").await?;
        page.click(say("job.jumperCablesAreOff")).await?;
        page.lacks(say("job.jumperCablesAreOff")).await?;
        page.click("Battery charged").await?;
        for said in ["Jumper cables on.", "Jumper cables off.", "Battery charged."] {
            page.sees(said).await?;
        }
        page.click(say("common.done")).await?;
        page.lacks(say("job.whatHappenedToTheBattery")).await
    });
}
