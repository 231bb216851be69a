//! The switch bench: a key switch tested by keyboard, an unknown one by touch, a plunger switch from
//! the meter, wires moved, tables brought in, everything printed.

use kelvok_e2e::{Meter, Page, say, with_page};
use std::time::Duration;
use thirtyfour::common::print::PrintParameters;
use thirtyfour::prelude::*;

/// Demo switches, by place.
const PTO: &str = "/bench/01930000-0000-7000-9000-000000000000";
const NEW_KEY: &str = "/bench/01930000-0000-7000-9000-0000000003e8";
const DRAWER: &str = "/bench/01930000-0000-7000-9000-0000000007d0";
const SEAT: &str = "/bench/01930000-0000-7000-9000-000000000bb8";
const KEY: &str = "/bench/01930000-0000-7000-9000-000000000fa0";

/// What the card of the next step says, and how much was written down.
const CARD: &str = "const card = document.querySelector('[aria-label=Next]');
    const pair = [...card.querySelectorAll('dd')].map((d) => d.innerText.trim());
    return {says: card.innerText.replace(/\\s+/g, ' '), pair}";

struct Card {
    says: String,
    pair: Vec<String>,
}

async fn card(page: &Page) -> anyhow::Result<Card> {
    let card = page.script(CARD).await?;
    let pair = card["pair"].as_array().cloned().unwrap_or_default();
    let text = |v: &serde_json::Value| v.as_str().unwrap_or_default().to_owned();
    Ok(Card { says: text(&card["says"]), pair: pair.iter().map(text).collect() })
}

/// Whether the card wants the switch in this position.
fn stands(card: &Card, position: &str) -> bool {
    [format!("Turn to {position}"), format!("Leave it in {position}")]
        .iter()
        .any(|words| card.says.contains(words))
        || position == "start" && card.says.contains("and hold")
}

/// Does what the card asks, until it says that there is nothing more, or `until` does.
async fn follow<F, R>(page: &Page, answer: F, until: &str) -> anyhow::Result<usize>
where
    F: Fn(Card) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    for taken in 0..120 {
        let before = card(page).await?;
        if before.says.contains(until) {
            return Ok(taken);
        }
        let was = before.says.clone();
        answer(before).await?;
        let began = std::time::Instant::now();
        while card(page).await?.says == was {
            anyhow::ensure!(began.elapsed() < Duration::from_secs(20), "nothing came of it: {was}");
            tokio::time::sleep(Duration::from_millis(40)).await;
        }
    }
    anyhow::bail!("the plan has no end")
}

#[test]
fn a_key_switch_is_tested_by_keyboard_alone() {
    with_page(|_workshop, page| async move {
        page.tab_to("Switch bench").await?;
        page.press(Key::Enter + "").await?;
        page.sees(say("bench.lastOnTheBench")).await?;
        page.tab_to("Test a switch").await?;
        page.press(Key::Enter + "").await?;
        page.sees("From a machine").await?;
        page.sees(say("bench.keySwitch")).await?;
        page.tab_to("Start testing").await?;
        page.press(Key::Enter + "").await?;
        page.sees(say("bench.leadsFirst")).await?;
        page.accessible().await?;
        page.tab_to("Beep only").await?;
        page.press(Key::Enter + "").await?;
        page.sees("Should not beep").await?;
        // Its starter contact is dead, and it hangs up on nothing.
        let answer = async |card: Card| {
            let dead = card.pair.contains(&"S".to_owned());
            let made = card.says.contains("Should beep") && !dead;
            page.press(if made { "z" } else { "n" }).await
        };
        let taken = follow(&page, answer, "Nothing more to test").await?;
        anyhow::ensure!(taken >= 15, "{taken} answers: the start is tried again and again");
        page.sees("Bad: 1 thing wrong").await?;
        page.sees("B – S in start: open, should be closed. Nothing at START.").await?;
        page.sees("On the Corrieford 8-speed: does not crank").await?;
        // The last is taken back, and asked again.
        page.press("u").await?;
        page.sees("Let it spring back").await?;
        page.press("n").await?;
        page.sees(say("bench.nothingMoreToTest")).await?;
        page.press("?").await?;
        page.sees("start a reading in ohms").await?;
        page.press(Key::Escape + "").await?;
        page.tab_to("Send to job").await?;
        page.press(Key::Enter + "").await?;
        page.sees("No job is open on a Corrieford").await?;
        page.accessible_in_both_themes().await
    });
}

#[test]
fn an_answer_that_waits_for_the_server_is_kept_and_no_other_goes_to_its_pair() {
    with_page(|workshop, page| async move {
        page.go(DRAWER).await?;
        page.sees("Next pair, fewest probes").await?;
        workshop.lock().await.kill_server();
        page.press("n").await?;
        page.sees("What you said is kept and goes in").await?;
        page.press("z").await?;
        page.sees("The last answer is still under way.").await?;
        workshop.lock().await.start_server()?;
        page.sees("4 of 7").await?;
        page.go(&format!("{DRAWER}/log")).await?;
        page.sees("8 1 – 2 in run: no beep").await?;
        let entries = page.script("return document.querySelectorAll('main ol li').length").await?;
        anyhow::ensure!(entries == 8, "{entries} entries");
        Ok(())
    });
}

#[test]
fn an_unknown_switch_is_told_by_touch_and_kept_as_a_profile() {
    with_page(|_workshop, page| async move {
        page.size(800, 1280).await?;
        page.go("/bench").await?;
        page.click(say("bench.testASwitch")).await?;
        page.click("Unknown").await?;
        page.click(say("bench.startTesting")).await?;
        page.sees(say("bench.leadsFirst")).await?;
        let field = page.named(".leads input", "").await?;
        field.send_keys("0.3").await?;
        page.click(say("bench.ol")).await?;
        page.click(say("common.record")).await?;
        page.sees("Tells which is which").await?;
        page.fits_thumb_and_eye().await?;
        let real = |name: &str| ["A", "G", "S", "B", "M"][name.parse::<usize>().unwrap_or(1) - 1];
        let answer = async |card: Card| {
            let mut pair = [real(&card.pair[0]), real(&card.pair[1])];
            pair.sort_unstable();
            let made = match pair {
                ["G", "M"] => stands(&card, "off"),
                ["A", "B"] => !stands(&card, "off"),
                ["B", "S"] | ["A", "S"] => stands(&card, "start"),
                _ => false,
            };
            page.click(if made { "z Beeps" } else { "n No beep" }).await
        };
        let told = follow(&page, answer, "Next pair, fewest probes").await?;
        anyhow::ensure!(told <= 14, "{told} probes until it is told");
        page.click("Which is which").await?;
        page.sees("2 switch types match, 8 possible layouts in all.").await?;
        page.sees("is S, starter").await?;
        page.sees("For a magneto: grounds the kill wire to stop.").await?;
        page.click(say("bench.showEveryLayoutThatFits")).await?;
        page.sees("five lettered terminals, for a magneto: 4").await?;
        page.fits_thumb_and_eye().await?;
        page.click(say("bench.startFromWhatYouFound")).await?;
        page.sees("Not every pair is known yet").await?;
        page.click(say("bench.table")).await?;
        follow(&page, answer, "Nothing more to test").await?;
        page.sees("No reading at the switch tells these apart").await?;
        page.sees("supply: its wire has battery volts with the key off").await?;
        page.click("Which is which").await?;
        page.click(say("bench.startFromWhatYouFound")).await?;
        page.sees("Terminal 3").await?;
        page.click(say("common.keepIt")).await?;
        page.sees("Kept as “Unknown key switch, 5 terminals”").await?;
        page.go("/bench").await?;
        page.sees("kept by").await?;
        page.click("Unknown key switch, 5 terminals kept by").await?;
        page.sees("off: 2 + 5").await?;
        page.fits_thumb_and_eye().await?;
        page.accessible_in_both_themes().await
    });
}

#[test]
fn a_plunger_switch_is_tested_from_the_meter_and_nobody_types() {
    with_page(|workshop, page| async move {
        let _meter = Meter::start(&*workshop.lock().await, "pellwick-gt-46", "neutral.start=open")?;
        page.go("/bench").await?;
        page.click(say("bench.testASwitch")).await?;
        page.unfold(say("common.machine")).await?;
        page.choose("Pellwick GT-46").await?;
        page.sees(say("bench.keySwitch")).await?;
        page.unfold(say("bench.itsSwitch")).await?;
        page.choose("Lever switch").await?;
        page.click(say("bench.startTesting")).await?;
        page.click(say("bench.beepOnlyGoOn")).await?;
        page.click(say("common.meter")).await?;
        page.click(say("meter.connect")).await?;
        page.sees("STAND-IN").await?;
        let answer = async |_: Card| page.click(say("meter.probesThere")).await;
        let taken = follow(&page, answer, "Nothing more to test").await?;
        anyhow::ensure!(taken >= 10, "{taken} readings came from the meter");
        page.sees("Bad: 1 thing wrong").await?;
        page.sees("The contact does not make.").await?;
        // What was found goes to the job of that machine.
        page.click(say("bench.sendToJob")).await?;
        page.sees("Every reading goes into the job as evidence").await?;
        page.click(say("bench.sendIt")).await?;
        page.click(say("bench.toItsJob")).await?;
        page.sees("Lever switch of the Pellwick GT-46 on the bench: bad.").await?;
        page.sees("Lever switch").await
    });
}

#[test]
fn wires_are_moved_one_at_a_time_and_checked_at_the_end() {
    with_page(|_workshop, page| async move {
        page.go(&format!("{NEW_KEY}/wires")).await?;
        page.sees("3 wires to move, one at a time.").await?;
        page.sees(say("bench.notToBeFittedYet")).await?;
        page.sees("red (B) out of cavity 1, hold it aside, taped").await?;
        page.click(say("common.done")).await?;
        page.sees("Held aside now: red (B)").await?;
        page.click(say("common.done")).await?;
        page.sees("1 wire to move").await?;
        page.click(say("common.done")).await?;
        page.sees(say("bench.everyWireIsWhereIt")).await?;
        let next = "return document.querySelector('[aria-label=Check] .do')?.parentElement.innerText ?? ''";
        for _ in 0..12 {
            let says = page.script(next).await?;
            let says = says.as_str().unwrap_or_default().to_owned();
            if says.is_empty() || page.text().await?.contains("✓ Checked.") {
                break;
            }
            page.press(if says.contains("should beep") { "z" } else { "n" }).await?;
            tokio::time::sleep(Duration::from_millis(500)).await;
        }
        page.sees(say("bench.checked")).await?;
        page.accessible_in_both_themes().await
    });
}

#[test]
fn a_drawing_is_contradicted_and_a_table_is_brought_in() {
    with_page(|_workshop, page| async move {
        page.go(&format!("{NEW_KEY}/which")).await?;
        page.click(say("bench.itsThisOne")).await?;
        page.sees("Confirmed: what was read fits the drawing").await?;
        // Two of it the other way round.
        for (terminal, be) in [("2", "B, supply"), ("3", "S, starter"), ("5", "A, accessory")] {
            page.unfold(&format!("Terminal {terminal} is")).await?;
            page.choose(be).await?;
        }
        page.click(say("bench.thisIsTheLayout")).await?;
        page.sees("Contradicted. 4 other layouts of this type do fit").await?;
        page.accessible().await?;

        page.go(&format!("{PTO}/log")).await?;
        let field = page.named("textarea", "").await?;
        field.send_keys("position;from;to;reading\n\non;B NO;C COM;silent\non;B NO;B NO;buzz\non;B NO;C NC;blue\npulled;A NC;A COM;buzz").await?;
        page.click(say("common.import")).await?;
        page.sees("2 lines imported. Added to the switch: position pulled.").await?;
        page.sees("line 5: \"blue\" is not beep, no beep or ohms").await?;
        page.sees("tells nothing").await?;
        page.accessible().await
    });
}

#[test]
fn every_view_of_a_switch_is_accessible_and_a_test_prints_on_one_page() {
    with_page(|_workshop, page| async move {
        for path in [
            format!("{SEAT}/machine"),
            format!("{SEAT}/stroke"),
            format!("{SEAT}/log"),
            SEAT.to_owned(),
            PTO.to_owned(),
            format!("{DRAWER}/which"),
            DRAWER.to_owned(),
            "/bench".to_owned(),
        ] {
            page.go(&path).await?;
            page.named("h1", "").await?;
            tokio::time::sleep(Duration::from_millis(700)).await;
            page.accessible_in_both_themes().await.map_err(|e| e.context(path))?;
        }
        for path in [SEAT, PTO, KEY] {
            page.go(path).await?;
            page.sees(say("pictures.found")).await?;
            let pdf = page.driver.print_page(PrintParameters::default()).await?;
            let text = String::from_utf8_lossy(&pdf);
            let pages = text.matches("/Type /Page\n").count();
            anyhow::ensure!(pages == 1, "{path} prints on {pages} pages");
        }
        Ok(())
    });
}
