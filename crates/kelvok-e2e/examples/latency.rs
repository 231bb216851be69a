//! From a control moved to its new values on screen, measured in the browser on loopback:
//! `cargo run --release -p kelvok-e2e --example latency`. Prints the median and the worst of 50, for
//! a job's track and for the views of a machine; and how long the harness map takes to lay out.

use anyhow::Context;
use kelvok_e2e::{Page, Workshop};

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
    page.click("It is set so").await?;
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
