//! A drawing changed by hand: a wire moved, a mistake undone, a contact of the other kind refused, kept with its
//! reason; by keyboard, on a phone, and after a reload.

use kelvok_e2e::{say, with_page};

#[test]
fn a_wire_is_recolored_a_mistake_undone_and_the_drawing_kept_with_its_reason() {
    with_page(|_workshop, page| async move {
        page.go("/machines/pellwick-gt-46").await?;
        page.click(say("machine.editTheDrawing")).await?;
        page.sees(say("edit.nothingYet")).await?;
        page.accessible_in_both_themes().await?;
        // A contact turned round breaks a safety check, and that is said before anything is kept.
        page.click_on("[data-shown]", say("machine.parts")).await?;
        page.click_on("[data-part='brake']", "").await?;
        page.sees(say("edit.openAtRest")).await?;
        page.click_on("[data-contact='brake.start'] button[aria-pressed='false']", "").await?;
        page.sees(say("edit.fixFirst")).await?;
        page.lacks(say("edit.keepIt")).await?;
        page.press("u").await?;
        page.lacks(say("edit.fixFirst")).await?;
        // One that is less safe and breaks no check can be kept, and that is said first.
        page.go("/machines/dunmarrow-z-52/edit").await?;
        page.sees(say("edit.nothingYet")).await?;
        page.click_on("[data-shown]", say("machine.parts")).await?;
        page.click_on("[data-part='seat-switch']", "").await?;
        let turned = "[data-contact='seat-switch.presence'] button[aria-pressed='false']";
        page.click_on(turned, "").await?;
        page.sees(say("edit.lessSafe")).await?;
        page.sees(say("edit.fixTheMachine")).await?;
        page.accessible_in_both_themes().await?;
        page.click(say("edit.startOver")).await?;
        page.lacks(say("edit.lessSafe")).await?;
        page.go("/machines/pellwick-gt-46/edit").await?;
        // A wire of another color than drawn.
        page.click_on("[data-shown]", say("common.wires")).await?;
        page.click_on("[data-wire='w9']", "").await?;
        let color = page.driver.find(thirtyfour::By::Css(".paint input")).await?;
        color.send_keys("\u{e009}a\u{e000}pink\u{e007}").await?;
        page.sees("color pink").await?;
        page.accessible_in_both_themes().await?;
        // What was changed outlives a reload.
        page.go("/machines/pellwick-gt-46/edit").await?;
        page.sees("color pink").await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.size(1280, 800).await?;
        let reason = page.named("input", say("edit.whatFor")).await?;
        reason.send_keys("Seen while looking for a short").await?;
        page.click(say("edit.keepIt")).await?;
        page.sees("Revision 2").await?;
        page.click(say("revisions.seeWhatChanged")).await?;
        page.sees("Seen while looking for a short").await?;
        page.sees("color pink").await
    });
}
