//! From a control moved to its new values on screen, measured in the browser on loopback:
//! `cargo run --release -p kelvok-e2e --example latency`. Prints the median and the worst of 50, for
//! a job's track and for the views of a machine; how long a job of 500 readings takes to open; and
//! how long the harness map takes to lay out.

use anyhow::Context;
use kelvok_e2e::{Page, Workshop, say};

const MOVES: &str = r"
    const done = arguments[arguments.length - 1];
    const shown = () => [...document.querySelectorAll(arguments[0])]
        .map((t) => t.textContent.trim() + t.getAttribute('class')).join();
    const radios = (id) => [...document.querySelectorAll(`[aria-labelledby=control-${id}] button`)];
    (async () => {
        const times = [];
        for (let i = 0; i < 50; i++) {
            const before = shown();
            const key = radios('key');
            const start = performance.now();
            // Off and start in turn: every value along the track changes.
            const off = key[0].getAttribute('aria-checked') === 'true';
            (off ? key.at(-1) : key[0]).click();
            while (shown() === before) await new Promise((next) => requestAnimationFrame(next));
            times.push(performance.now() - start);
            await new Promise((next) => setTimeout(next, 150));
        }
        times.sort((a, b) => a - b);
        done([times[25], times[49]]);
    })();";

/// Brings in a job of 500 readings, and asks for it as its page does: the job, then its track and
/// what follows from the readings.
const OPEN: &str = r"
    const done = arguments[arguments.length - 1];
    const ask = async (path, body) => {
        const asked = body && {
            method: 'POST', headers: {'content-type': 'application/json'}, body: JSON.stringify(body),
        };
        // 202: it is being worked out.
        for (;;) {
            const answer = await fetch(`/api/v1/${path}`, asked);
            if (answer.status !== 202) return answer.json();
        }
    };
    (async () => {
        const machine = (await ask('machines')).machines.find((m) => m.name === 'pellwick-gt-46');
        const condition = {key: 'start', pedal: 'down', seat: 'on'};
        const walk = [['battery.+', 12.58], ['key-plug.S', 12.56], ['neutral-plug.B', 12.55],
                      ['brake-plug.A', 12.55], ['brake-plug.B', 0.02]];
        const reading = ([red, value], i) => ({
            condition, engine: 'stopped', observation: {kind: 'reading', instrument: 'voltmeter', red,
            black: 'battery.-', reading: {kind: 'volts', value: value - 0.0002 * i}}});
        const entries = [{condition, engine: 'stopped', observation: {kind: 'heard', heard: 'silent'}}];
        for (let i = 0; i < 500; i++) entries.push(reading(walk[i % 5], Math.min(i, 100)));
        const id = '01930000-0000-7000-8000-0000000005a0';
        await ask('jobs/stories', {id, revision_id: machine.revision_id, by: 'Ilse', text: JSON.stringify({
            format: 'kelvok-story-1', machine: 'pellwick-gt-46', complaint: 'Long', entries})});
        const set = Object.entries(condition).map(([c, p]) => `set=${c}:${p}`).join('&');
        const times = [];
        for (let i = 0; i < 12; i++) {
            const start = performance.now();
            const job = await ask(`jobs/${id}`);
            const [, judged] = await Promise.all([
                ask(`jobs/${id}/trace/start?${set}`), ask(`jobs/${id}/diagnosis?${set}`)]);
            if (job.evidence?.length !== 501 || !judged.tests) throw new Error(JSON.stringify([job, judged]));
            times.push(performance.now() - start);
        }
        // The first asks what no one asked of this machine before.
        const later = times.slice(1).sort((a, b) => a - b);
        done([later[5], times[0]]);
    })().catch((e) => done(String(e)));";

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let workshop = Workshop::start()?;
    let page = Page::open(&workshop.address()).await?;
    let measured = measure(&page).await;
    page.close().await;
    for (what, [median, worst]) in measured? {
        println!("{what}: median {median:.0} ms, worst {worst:.0} ms");
    }
    Ok(())
}

async fn measure(page: &Page) -> anyhow::Result<Vec<(&'static str, [f64; 2])>> {
    page.go("/jobs/01930000-0000-7000-8000-000000000000").await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("Silent").await?;
    page.sees("Found: silent, no click.").await?;
    let mut measured = vec![("a job's track", moves(page, ".labels .expected").await?)];
    for (what, view, says, selector) in [
        ("a machine's track", "circuits", "every part sound", ".labels .found"),
        ("a machine's ladder", "circuits?circuit=kill", "kill wire", ".ladder g"),
        ("the harness map", "harness", "bolted to metal", "g.run"),
    ] {
        page.go(&format!("/machines/dunmarrow-f-60/{view}")).await?;
        page.sees(says).await?;
        measured.push((what, moves(page, selector).await?));
    }
    let opened = page.driver.execute_async(OPEN, vec![]).await?;
    measured.push((
        "a job of 500 readings opened, and the first time",
        opened.convert().with_context(|| format!("{:?}", opened.json()))?,
    ));
    let mut layouts = Vec::new();
    for _ in 0..5 {
        // The machine's page first, as a person comes by it: the layout's script is there then.
        page.go("/machines/tarnbeck-c-24d").await?;
        page.sees("✓ proved").await?;
        tokio::time::sleep(std::time::Duration::from_millis(1500)).await;
        page.click("3 Harness map").await?;
        page.sees("bolted to metal").await?;
        let took =
            page.script("return +document.querySelector('[data-took]').dataset.took").await?;
        layouts.push(took.as_f64().unwrap_or(f64::NAN));
    }
    layouts.sort_by(f64::total_cmp);
    measured.push(("the harness map of the largest machine laid out", [layouts[2], layouts[4]]));
    Ok(measured)
}

/// Median and worst from a control moved to what the selector finds being drawn anew.
async fn moves(page: &Page, selector: &str) -> anyhow::Result<[f64; 2]> {
    let measured = page.driver.execute_async(MOVES, vec![selector.into()]).await;
    Ok(measured.with_context(|| format!("watching {selector}"))?.convert()?)
}
