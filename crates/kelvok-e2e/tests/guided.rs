//! From the complaint to the verdict on three machines: by the meter without typing, by the sweep
//! of a kill wire, and from what was told.

use kelvok_e2e::{Meter, Page, say, with_page};
use std::time::Duration;
use thirtyfour::prelude::*;

/// What the next step says.
const NEXT: &str = "return document.querySelector('.next')?.innerText ?? ''";

/// Opens a job on a machine, from the jobs page.
async fn open_job(page: &Page, machine: &str, complaint: &str) -> anyhow::Result<()> {
    page.go("/").await?;
    page.click(say("jobs.newJob")).await?;
    page.click_on(".v-select, .v-field", say("common.machine")).await?;
    page.choose(machine).await?;
    let form = page.named("form", say("jobs.newJob")).await?;
    form.find(By::Css("textarea")).await?.send_keys(complaint).await?;
    page.click(say("jobs.openJob")).await?;
    page.sees(say("pictures.possibleCauses")).await
}

#[test]
fn the_meter_finds_the_open_switch_and_nobody_types() {
    with_page(|workshop, page| async move {
        let _meter = Meter::start(&*workshop.lock().await, "pellwick-gt-46", "brake.start=open")?;
        page.click("1 Pellwick GT-46 Orchard 3").await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        page.click(say("common.meter")).await?;
        page.click(say("meter.connect")).await?;
        let entries = "return document.querySelectorAll('.story li').length";
        // What a mechanic would see and hear with the brake switch open.
        let seen = ["Bright", "Clutch snaps in", "Looks good"];
        let mut taken = 0;
        for _ in 0..14 {
            if page.text().await?.contains("Found ·") {
                break;
            }
            let before = page.script(entries).await?;
            let began = std::time::Instant::now();
            let mut sent = false;
            while page.script(entries).await? == before {
                let says = page.script(NEXT).await?;
                let says = says.as_str().unwrap_or_default();
                if began.elapsed() > Duration::from_secs(30) {
                    anyhow::bail!("nothing was recorded at {says:?}: {}", page.text().await?);
                }
                let answer = seen.iter().find(|a| says.contains(**a));
                match answer {
                    Some(answer) if !sent => sent = page.click(answer).await.is_ok(),
                    None if !sent && says.contains("Probes there") => {
                        page.click(say("meter.probesThere")).await?;
                        (sent, taken) = (true, taken + 1);
                    }
                    _ => {}
                }
                tokio::time::sleep(Duration::from_millis(150)).await;
            }
            // The plan follows the log by a moment.
            tokio::time::sleep(Duration::from_millis(1200)).await;
        }
        page.sees("Found · 9").await?;
        page.sees("Pedal switch, start contacts open").await?;
        page.sees(say("job.becauseOf")).await?;
        anyhow::ensure!(taken >= 2, "{taken} readings came from the meter");
        page.click(say("job.thatsIt")).await?;
        page.sees("Fault found Pedal switch").await?;
        page.accessible_in_both_themes().await
    });
}

#[test]
fn anything_else_is_measured_and_counts_just_the_same() {
    with_page(|_workshop, page| async move {
        page.click("1 Pellwick GT-46 Orchard 3").await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        // A lamp in the hand where the plan wants volts is weighed as what it is.
        page.click("Test lamp, filament").await?;
        page.sees("A good machine: Bright").await?;
        page.click("Voltmeter").await?;
        page.click(say("job.somethingElse")).await?;
        let fields = page.driver.find_all(By::Css(".own .v-field")).await?;
        fields[0].click().await?;
        page.choose("Ohmmeter").await?;
        // A long list is searched by typing.
        for (field, pin) in [(1, "Start pin in"), (2, "Start pin out")] {
            fields[field].click().await?;
            page.press(pin).await?;
            page.choose(&format!("{pin}, pedal switch plug off")).await?;
        }
        fields[3].click().await?;
        page.choose("Pedal switch pressed by hand").await?;
        page.accessible_in_both_themes().await?;
        page.click(say("job.measureThis")).await?;
        page.sees(say("job.yourOwnPoint")).await?;
        page.sees("Unplug the pedal switch plug and press its plunger by hand.").await?;
        page.sees("Red Start pin in Black Start pin out").await?;
        page.sees("Battery negative clamp off first, on last.").await?;
        page.sees("A good machine: Under 0.5 ohm").await?;
        page.sees("OL pedal switch").await?;
        // The kill wire runs through that plug, and nobody heard what the starter does with the
        // key at start and the plug off.
        page.sees(say("job.notAdvised")).await?;
        page.sees("the starter could turn the engine: nothing would stop it.").await?;
        page.accessible_in_both_themes().await?;
        page.set("key", "off").await?;
        page.sees("Never ohms on a live circuit.").await?;
        page.click(say("bench.ol")).await?;
        page.sees("start pin out: OL").await?;
        page.sees("To put back: Pedal switch plug is back on").await?;
        // Pressed by hand the pole is open: the linkage is not it, and the plan goes on from there.
        page.sees("Pedal switch, start contacts open").await
    });
}

#[test]
fn an_engine_that_will_not_stop_is_swept_by_two_keys_through_a_lost_server() {
    with_page(|workshop, page| async move {
        open_job(&page, "Hexley Walk-50", "No spark.").await?;
        page.click(say("job.sweepTheKillWire")).await?;
        page.sees("Step 1 of").await?;
        page.sees(say("sweep.allControlsAsParked")).await?;
        page.accessible_in_both_themes().await?;
        // The first is as it should be, the second is not.
        let expected = page.named(".expect", "").await?.text().await?;
        page.press(if expected.contains("beeps") { "z" } else { "n" }).await?;
        page.sees("✓").await?;
        let expected = page.named(".expect", "").await?.text().await?;
        page.press(if expected.contains("beeps") { "n" } else { "z" }).await?;
        page.sees("✕").await?;
        // The server dies in the middle: the hands go on.
        workshop.lock().await.kill_server();
        let stands = page.script("return document.querySelectorAll('tbody tr').length").await?;
        let stands = stands.as_u64().unwrap_or_default();
        anyhow::ensure!(stands >= 3, "{stands} stands");
        for _ in 2..stands {
            let expected = page.named(".expect", "").await?.text().await?;
            page.press(if expected.contains("beeps") { "z" } else { "n" }).await?;
            tokio::time::sleep(Duration::from_millis(250)).await;
        }
        page.sees("What you said is kept here and goes in, in order").await?;
        workshop.lock().await.start_server()?;
        page.sees("1 of").await?;
        page.sees("steps are not as they should be").await?;
        page.click(say("sweep.whatItMeansOnThe")).await?;
        page.sees(say("pictures.possibleCauses")).await?;
        // Sent once, in the order in which they were said.
        let rows = page.script("return document.querySelectorAll('.story li').length").await?;
        anyhow::ensure!(rows.as_u64() == Some(stands), "{rows} entries of {stands}");
        Ok(())
    });
}

#[test]
fn what_was_told_rules_out_contradicts_and_is_found_again() {
    with_page(|_workshop, page| async move {
        open_job(&page, "Hexley W-21E", "Turns no sound at the key.").await?;
        page.click(say("job.doneItsSet")).await?;
        page.click(say("job.sayWhatItDoes")).await?;
        page.click(say("job.pastRepairs")).await?;
        let note = page.named(".before", say("job.beforeThisJob")).await?;
        note.find(By::Css("form input")).await?.send_keys("Neighbor was in there").await?;
        page.click(say("job.noteIt")).await?;
        page.sees("Neighbor was in there").await?;
        page.click(say("job.customerSaysToggle")).await?;
        page.click_on(".heard button", "Nothing").await?;
        page.sees("customer says").await?;
        // That held for one entry.
        let held = "return document.querySelectorAll('.heard button[aria-pressed=true]').length";
        assert_eq!(page.script(held).await?, 0, "the customer says the next one too");
        page.accessible_in_both_themes().await?;

        // The walk-round, the strategies, and replace or test.
        page.click(say("job.walkRound")).await?;
        page.sees("Walk-round, everything off, no meter").await?;
        page.click(say("job.otherMethods")).await?;
        page.sees("costs less").await?;
        page.accessible_in_both_themes().await?;
        page.click("Load back").await?;
        page.sees("Method: load back").await?;
        page.click(say("common.close")).await?;

        // Heard otherwise: one of the two cannot be.
        page.click("Cranks").await?;
        page.sees(say("job.theseTwoDontAgreeTitle")).await?;
        page.accessible_in_both_themes().await?;
        page.click(say("job.itsOffAndOn")).await?;
        page.sees("off and on").await?;
        let search = page.named("input[type=search]", say("job.searchThisJob")).await?;
        search.send_keys("neighbor").await?;
        page.sees("Neighbor was in there").await?;
        let rows = page.script("return document.querySelectorAll('.story li').length").await?;
        anyhow::ensure!(rows.as_u64() == Some(1), "{rows}");

        // It ran for a while, and there was no trouble.
        search.send_keys(Key::Control + "a").await?;
        search.send_keys(Key::Backspace + "").await?;
        let engine = page.named("label", say("job.engine")).await?.find(By::Css("select")).await?;
        engine.send_keys("running").await?;
        page.click(say("job.sayWhatItDoes")).await.ok();
        page.named("input", say("job.minutesItRan")).await?.send_keys("40").await?;
        page.click(say("job.recordTheRun")).await?;
        page.sees("Ran 40 minutes with no trouble").await?;

        // The story goes out, and comes back as a job of its own.
        let fetch = "return await (await fetch(document.querySelector('a[download]').href)).text()";
        let story = page.script(fetch).await?;
        page.go("/").await?;
        page.click(say("jobs.importJob")).await?;
        let field =
            page.named("form", say("jobs.importJob")).await?.find(By::Css("textarea")).await?;
        field.send_keys("{").await?;
        page.click(say("common.import")).await?;
        page.sees("At ").await?;
        let put = format!(
            "const t = document.querySelector('form textarea'); t.value = {story}; \
             t.dispatchEvent(new Event('input')); return 1"
        );
        page.script(&put).await?;
        page.sees("Hexley W-21E, electric-start walk-behind").await?;
        page.click(say("common.import")).await?;
        page.sees("Neighbor was in there").await
    });
}
