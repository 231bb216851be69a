//! Where the volts go: a walk along the starter's circuit by keyboard, a clamp on the cable, and what it
//! comes to.

use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_circuit_is_walked_and_the_bad_joint_named() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("drops.drops")).await?;
        page.sees("Nothing read yet").await?;
        page.script("document.querySelector('[data-circuit=crank]').click()").await?;
        page.sees("Battery + post").await?;
        page.sees(say("drops.nothingRead")).await?;
        page.accessible_in_both_themes().await?;
        // Nothing typed is nothing recorded; what is no reading is said.
        page.script("document.activeElement.blur()").await?;
        page.press("v").await?;
        page.press("12,x\u{e007}").await?;
        page.sees("is not a reading").await?;
        page.script("document.querySelector('.drop-volts input').select()").await?;
        page.press("0.08\u{e007}").await?;
        page.sees("Good so far").await?;
        // Two points of one's own choice, by tapping them: the whole way to the starter.
        page.script("document.activeElement.blur()").await?;
        page.script("document.querySelectorAll('.ladder .point')[4].click()").await?;
        page.script("document.querySelectorAll('.ladder .point')[0].click()").await?;
        page.types("drop-volts", "1.32\u{e007}").await?;
        page.sees("Too many volts lost in there").await?;
        page.sees("together").await?;
        page.accessible_in_both_themes().await?;
        page.script("document.activeElement.blur()").await?;
        page.script("document.querySelectorAll('.ladder .point')[0].click()").await?;
        page.sees(say("drops.pickSecond")).await?;
        page.script("document.querySelectorAll('.ladder .point')[1].click()").await?;
        page.types("drop-volts", "0.9\u{e007}").await?;
        page.sees("Found: too many volts lost here").await?;
        page.types("clamp-amps", "68\u{e007}").await?;
        page.sees("61 W").await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        // The last is undone by its key.
        page.script("document.activeElement.blur()").await?;
        page.press("u").await?;
        page.lacks("Clamp: 68 A").await?;
        page.click(say("common.backToTheJob")).await?;
        page.sees("0.90 V").await?;
        Ok(())
    });
}
