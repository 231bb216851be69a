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

/// 12.1 V into the PTO switch's clutch contacts and 3.2 V out of them, twice.
const BURNT: &str = "
    const on = {key: 'run', seat: 'on', pedal: 'up', blades: 'on', lever: 'neutral'}
    return (async () => {
        for (const [at, typed] of [['E', '12.1'], ['F', '3.2'], ['E', '12.1'], ['F', '3.3']]) {
            const observed = {kind: 'reading', instrument: 'voltmeter', red: `pto-plug.${at}`,
                black: 'battery.-', typed}
            await fetch('/api/v1/jobs/01930000-0000-7000-8000-000000000000/evidence', {method: 'POST',
                headers: {'Content-Type': 'application/json'}, body: JSON.stringify({
                    id: crypto.randomUUID(), by: 'Maren', condition: on, engine: 'stopped',
                    set_up: [], observed})})
        }
    })()";

#[test]
fn what_killed_a_switch_is_checked_and_holds_up_whoever_would_close_the_job() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.script(BURNT).await?;
        page.reload().await?;
        page.click(say("job.thatsIt")).await?;
        page.sees(say("job.whatMayHaveCausedIt")).await?;
        // Nobody looked yet: closing says so, and asks.
        page.click(say("job.closeJob")).await?;
        page.sees("What killed the PTO switch? Not checked yet: Blade clutch").await?;
        page.sees(say("job.closeAnyway")).await?;
        // A word on the old switch settles it; a slip of the thumb is undone.
        page.go(&format!("{JOB}/release")).await?;
        page.click(say("release.finish")).await?;
        page.click(say("release.wornOut")).await?;
        page.sees(say("release.causeLookedAt")).await?;
        page.click_on(".killed button", say("common.undo")).await?;
        page.lacks(say("release.causeLookedAt")).await?;
        page.sees("What killed the PTO switch? Not checked yet: Blade clutch").await?;
        page.go(JOB).await?;
        page.click(say("job.checkIt")).await?;
        page.sees("Ohmmeter").await?;
        page.type_reading("1.2").await?;
        // It is bad: the release says what the next switch will come to, and no word settles it.
        page.go(&format!("{JOB}/release")).await?;
        page.click(say("release.finish")).await?;
        page.sees(say("release.killed")).await?;
        page.sees("The next PTO switch will go the same way").await?;
        page.lacks(say("release.wornOut")).await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        page.go(JOB).await?;
        page.click("Battery clamp is back on").await?;
        page.lacks("battery clamp off. Do that").await?;
        page.click(say("job.closeJob")).await?;
        page.sees("The next PTO switch will go the same way").await?;
        page.click(say("job.closeAnyway")).await?;
        page.sees(say("common.openAgain")).await?;
        Ok(())
    });
}
