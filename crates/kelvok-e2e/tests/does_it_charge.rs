//! Does it charge? A battery that goes flat: read off and at full speed, the drop and the stator, by keyboard, till the
//! regulator is named.

use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_machine_that_does_not_charge_is_read_till_its_regulator_is_named() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("charging.title")).await?;
        page.sees(say("charging.nothingRead")).await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        // No number first; then what is asked for, one after the other.
        page.script("document.activeElement.blur()").await?;
        page.press("r").await?;
        page.press("abc\u{e007}").await?;
        page.sees(say("charging.nothingRead")).await?;
        page.script("document.querySelector('.reading-typed input').select()").await?;
        // A flat battery goes on the charger first, and is read again.
        page.press("11.3\u{e007}").await?;
        page.sees("The battery is flat").await?;
        page.click(say("charging.chargedNow")).await?;
        page.sees("Battery charged").await?;
        page.lacks("The battery is flat").await?;
        page.script("document.activeElement.blur()").await?;
        page.press("r").await?;
        page.press("12.4\u{e007}").await?;
        page.sees("Engine off: 12.40 V").await?;
        page.sees("Hold full speed until the volts stop rising").await?;
        page.press("12.36\u{e007}").await?;
        page.sees("Not charging").await?;
        page.accessible_in_both_themes().await?;
        // Six is the drop to battery +, seven that from battery −: chosen by their numbers.
        for (number, reads) in [("6", "0.00"), ("7", "0.00")] {
            page.script("document.activeElement.blur()").await?;
            page.press(number).await?;
            page.press(&format!("{reads}\u{e007}")).await?;
            page.sees(if number == "6" {
                "Drop to battery +: 0.00 V"
            } else {
                "Drop from battery −: 0.00 V"
            })
            .await?;
        }
        page.script("document.activeElement.blur()").await?;
        page.press("8").await?;
        page.sees("Unplug stator plug").await?;
        page.press("27.5\u{e007}").await?;
        page.sees("Stator at full speed: 27.5 V AC").await?;
        page.sees("Regulator: puts out nothing").await?;
        page.sees(say("charging.toRepair")).await?;
        // The plug is still off: nothing goes on before it is back.
        page.sees("Stator plug").await?;
        page.script("document.activeElement.blur()").await?;
        page.press("u").await?;
        page.lacks("Stator at full speed: 27.5 V AC").await?;
        Ok(())
    });
}
