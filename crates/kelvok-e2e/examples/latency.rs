//! From a control moved to its new expected values on screen, measured in the browser on loopback:
//! `cargo run --release -p kelvok-e2e --example latency`. Prints the median and the worst of 50.

use kelvok_e2e::{Page, Workshop};

const MOVES: &str = r"
    const done = arguments[arguments.length - 1];
    const shown = () => [...document.querySelectorAll('.labels .expected')]
        .map((t) => t.textContent.trim()).join();
    const radios = (id) => [...document.querySelectorAll(`[aria-labelledby=control-${id}] button`)];
    (async () => {
        const times = [];
        for (let i = 0; i < 50; i++) {
            const before = shown();
            const key = radios('key');
            const start = performance.now();
            // Off and start in turn: every value along the track changes.
            (i % 2 ? key.at(-1) : key[0]).click();
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
    let [median, worst] = measured?;
    println!("a control moved: median {median:.0} ms, worst of 50 {worst:.0} ms");
    Ok(())
}

async fn measure(page: &Page) -> anyhow::Result<[f64; 2]> {
    page.go("/jobs/01930000-0000-7000-8000-000000000000").await?;
    page.click("It is set so").await?;
    page.click("Silent").await?;
    page.sees("Found: silent, no click.").await?;
    Ok(page.driver.execute_async(MOVES, vec![]).await?.convert()?)
}
