//! A jumper on, a wire off, a finger on a relay: said first, kept in the register, counted.

use kelvok_e2e::{say, with_page};
use thirtyfour::prelude::*;

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_jumper_to_the_trigger_is_forewarned_registered_counted_and_taken_off() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.click(say("job.unplugOrJumper")).await?;
        for (list, point) in
            [("job.jumperFrom", "Battery + post"), ("job.jumperTo", "Solenoid trigger")]
        {
            page.unfold(say(list)).await?;
            // The list is long: it is narrowed by typing.
            page.press(point).await?;
            page.choose(point).await?;
        }
        // What it would do is said before it is done.
        page.sees("A fused jumper, 15 A.").await?;
        page.sees("on a good machine.").await?;
        page.accessible_in_both_themes().await?;
        page.fits_thumb_and_eye().await?;
        page.click(say("job.itsOn")).await?;
        let off = "Jumper wire (battery + post to solenoid trigger) is off";
        page.sees(off).await?;

        // It cranks with it, which is asked for at once: the starter and its solenoid are good.
        page.sees(say("job.turnTheKeyWhatDo")).await?;
        page.click_on(".heard button", "Cranks").await?;
        page.sees("jumper wire on, battery + post to solenoid trigger").await?;
        page.lacks(say("job.theseTwoDontAgreeTitle")).await?;
        let suspects = page.script("return document.querySelector('.right').innerText").await?;
        let suspects = suspects.as_str().unwrap_or_default().to_lowercase();
        anyhow::ensure!(!suspects.contains("starter motor"), "{suspects}");

        // A reading with the jumper on is one with the jumper on.
        page.read("Solenoid trigger", "12.10").await?;
        // The shop's list names it, for whoever opens the job next.
        page.go("/").await?;
        page.sees(say("jobs.stillOff")).await?;
        page.sees("jumper wire on, battery + post to solenoid trigger").await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        page.go(JOB).await?;
        // Nothing of the plan before it is off.
        page.sees(say("job.putItBackFirst")).await?;
        page.click(off).await?;
        page.sees("Jumper wire off again").await?;
        page.lacks(say("job.putItBackFirst")).await
    });
}

#[test]
fn a_finger_on_the_solenoid_and_a_squirt_of_fuel_are_understood() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.click(say("job.sayWhatItDoes")).await?;
        page.unfold(say("job.closer")).await?;
        page.press("Starter solenoid, finger").await?;
        page.choose("Starter solenoid, finger on it").await?;
        page.accessible_in_both_themes().await?;
        page.click_on(".closer button", "No click").await?;
        page.sees("Starter solenoid doesn’t click.").await?;
        page.click(say("job.sayWhatItDoes")).await?;
        page.unfold(say("job.closer")).await?;
        page.press("A squirt").await?;
        page.choose("A squirt of fuel").await?;
        page.click_on(".closer button", "Fires").await?;
        page.sees("Fires on a squirt of fuel.").await?;
        // It was cranked for that.
        page.sees("engine cranking").await
    });
}

#[test]
fn a_jumper_across_the_battery_is_advised_against() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.unplugOrJumper")).await?;
        for (list, point) in [("job.jumperFrom", "Battery + post"), ("job.jumperTo", "Frame")] {
            page.unfold(say(list)).await?;
            // The list is long: it is narrowed by typing.
            page.press(point).await?;
            page.choose(point).await?;
        }
        page.sees("This puts the battery straight to ground").await?;
        // To the trigger with the key off it is the safety switches that it goes round.
        page.set("key", "off").await?;
        page.unfold(say("job.jumperTo")).await?;
        page.press("Solenoid tr").await?;
        page.choose("Solenoid trigger").await?;
        page.sees("Like this a safety switch no longer works.").await?;
        page.lacks("This puts the battery straight to ground").await?;
        // A plug off has no ends.
        page.click(say("job.aPlug")).await?;
        let ends = page.driver.find_all(By::Css(".arrange .v-autocomplete")).await?;
        anyhow::ensure!(ends.len() == 1, "{}", ends.len());
        page.lacks("Like this a safety switch").await
    });
}
