//! A harness traced with a buzzer in hand: keys only, on a phone, and two pins that somebody swapped.

use kelvok_core::circuit::Circuit;
use kelvok_core::machine::{LIBRARY, Machine, Provenance};
use kelvok_core::trace::{Harness, Trace};
use kelvok_e2e::{Page, say, with_page};
use serde_json::Value;

/// The Z-52 as it came in: two pins of its seat plug the other way round.
struct Truth(Circuit);

impl Truth {
    fn new() -> Self {
        let shipped = LIBRARY.iter().find(|m| m.name == "dunmarrow-z-52").expect("the Z-52");
        let drawn = Machine::read(shipped.text).expect("a sound machine");
        let change = "seat-switch-plug.A=swapped:seat-switch-plug.C".to_owned();
        let document = drawn.document().corrected(&[change], "", Provenance::Drawing);
        let text = serde_json::to_string(&document).expect("a document");
        Self(Circuit::compile(&Machine::read(&text).expect("a sound machine")))
    }

    fn beeps(&self, red: &str, black: &str) -> bool {
        let trace = Trace::new(Harness::new(&self.0));
        let net = |at| Some(trace.nets()[trace.harness().end(at)?]);
        net(red) == net(black)
    }
}

async fn step(page: &Page) -> anyhow::Result<Option<(String, String, bool)>> {
    let asked = "const card = document.querySelector('[data-step]'); \
        return card && [...card.dataset.step.split(' '), String(!!card.querySelector('.ohms'))]";
    let Value::Array(parts) = page.script(asked).await? else { return Ok(None) };
    let text = |i: usize| parts[i].as_str().unwrap_or_default().to_owned();
    Ok(Some((text(0), text(1), text(2) == "true")))
}

/// Answers what the meter would, by keys, until nothing of the circuit is left.
async fn trace(page: &Page, truth: &Truth) -> anyhow::Result<usize> {
    for steps in 0..60 {
        let Some((red, black, ohms)) = step(page).await? else { return Ok(steps) };
        match (ohms, truth.beeps(&red, &black)) {
            (false, true) => page.press("z").await?,
            (false, false) => page.press("n").await?,
            (true, true) => page.press("0.2\u{e007}").await?,
            (true, false) => page.press("o").await?,
        }
        // The next card is there once the log has grown.
        let grown =
            format!("return document.querySelectorAll('.log li').length > {}", steps.min(5));
        for _ in 0..100 {
            let busy =
                page.script("return !!document.querySelector('[data-answer]:disabled')").await?;
            if page.script(&grown).await? == Value::Bool(true) && busy == Value::Bool(false) {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
    }
    anyhow::bail!("it never ends")
}

#[test]
fn two_swapped_pins_are_found_and_go_into_the_drawing() {
    with_page(|_workshop, page| async move {
        page.go("/machines/dunmarrow-z-52").await?;
        page.click(say("trace.traceItsWires")).await?;
        page.sees(say("trace.nothingFound")).await?;
        page.accessible_in_both_themes().await?;
        page.click("PTO: 8 left").await?;
        let steps = trace(&page, &Truth::new()).await?;
        anyhow::ensure!(steps > 8, "{steps} steps");
        page.sees("The wires of these two pins are swapped").await?;
        page.accessible_in_both_themes().await?;
        page.click(say("trace.keep")).await?;
        page.sees("Revision 2").await?;
        page.sees(say("trace.nothingFound")).await?;
        page.click(say("trace.lookAtTheMap")).await?;
        page.sees("revision 2").await
    });
}

#[test]
fn on_a_phone_a_slip_is_undone_two_pins_of_ones_own_are_measured_and_a_color_is_two_taps() {
    with_page(|_workshop, page| async move {
        page.size(390, 844).await?;
        page.go("/machines/hexley-w-21e/trace").await?;
        page.sees(say("trace.nothingFound")).await?;
        page.fits_thumb_and_eye().await?;
        page.click(say("trace.noBeep")).await?;
        page.sees(say("trace.doubted")).await?;
        page.press("u").await?;
        page.lacks(say("trace.doubted")).await?;
        page.script("document.querySelector('.own summary').click()").await?;
        page.sees(say("trace.measureThis")).await?;
        page.fits_thumb_and_eye().await?;
        // On to a step with a wire in a plug, whose color is told.
        for _ in 0..6 {
            let colored = "return !!document.querySelector('.card .color')";
            if page.script(colored).await? == Value::Bool(true) {
                break;
            }
            page.press("z").await?;
            tokio::time::sleep(std::time::Duration::from_millis(800)).await;
        }
        page.script("document.querySelector('.card .color').click()").await?;
        page.click("pink").await?;
        page.click(say("trace.noStripe")).await?;
        page.sees(": pink").await?;
        tokio::time::sleep(std::time::Duration::from_millis(600)).await;
        page.fits_thumb_and_eye().await?;
        page.press("?").await?;
        page.sees("over range (OL)").await
    });
}
