//! Times the page as its user waits for it, on loopback: from a control moved to its new values
//! drawn, and from a reading recorded to the next card.
//! `cargo run --release -p kelvok-e2e --example timings`.

use kelvok_e2e::{Page, Workshop};

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
/// Clicks what goes by a selector and a name, and gives the milliseconds until the words and pictures
/// of a place changed for the last time.
const CLICKED: &str = "
    const [selector, name, place, most, done] = arguments;
    const it = [...document.querySelectorAll(selector)]
        .find((e) => e.innerText.trim().startsWith(name));
    const seen = document.querySelector(place);
    const look = () => seen.isConnected
        ? document.querySelector(place).innerHTML.replace(/ (data-lag|style|class)=\"[^\"]*\"/g, '')
        : document.querySelector(place)?.innerHTML;
    const began = performance.now();
    let [before, last] = [look(), 0];
    it.click();
    const watch = () => {
        const now = look();
        if (now !== before) [before, last] = [now, performance.now() - began];
        if (performance.now() - began < most) requestAnimationFrame(watch);
        else done(last);
    };
    requestAnimationFrame(watch);";

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let workshop = Workshop::start()?;
    let page = Page::open(&workshop.address()).await?;
    let timed = timed(&page).await;
    page.close().await;
    timed
}

async fn timed(page: &Page) -> anyhow::Result<()> {
    page.go(JOB).await?;
    page.sees("Done, it’s set").await?;
    tokio::time::sleep(std::time::Duration::from_secs(3)).await;
    let mut moved = Vec::new();
    for round in 0..6 {
        for position in ["run", "start", "off"] {
            let key = "[aria-labelledby=control-key] [role=radio]";
            let took = clicked(page, (key, position), ".left", 500).await?;
            if round > 0 {
                moved.push(took);
            }
        }
    }
    tell("control moved to new values", moved);
    let mut recorded = Vec::new();
    page.go(JOB).await?;
    page.click("Done, it’s set").await?;
    recorded.push(clicked(page, (".next button", "Nothing"), ".next", 2500).await?);
    for (point, typed) in [
        ("Battery + post", "12.58"),
        ("Key S", "12.57"),
        ("Lever switch out", "12.56"),
        ("Pedal switch in", "12.56"),
        ("Pedal switch out", "0.02"),
    ] {
        page.point(point).await?;
        page.sees(&format!("Red {point}")).await?;
        page.type_only(typed).await?;
        recorded.push(clicked(page, (".next button", "Record"), ".next", 2500).await?);
    }
    tell("reading recorded to next card", recorded);
    Ok(())
}

async fn clicked(
    page: &Page,
    (selector, name): (&str, &str),
    place: &str,
    most: u64,
) -> anyhow::Result<f64> {
    let arguments = [selector.into(), name.into(), place.into(), most.into()];
    let took = page.driver.execute_async(CLICKED, arguments.to_vec()).await?;
    Ok(took.json().as_f64().unwrap_or(f64::NAN))
}

fn tell(what: &str, mut all: Vec<f64>) {
    all.sort_by(f64::total_cmp);
    let median = all[all.len() / 2];
    let most = all[all.len() - 1];
    println!("{what}: median {median:.0} ms, most {most:.0} ms, {} times", all.len());
}
