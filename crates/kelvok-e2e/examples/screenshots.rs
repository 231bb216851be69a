//! Refreshes `docs/screenshots/` from the demo workshop:
//! `cargo run -p kelvok-e2e --example screenshots`.

use anyhow::bail;
use kelvok_e2e::{Page, Theme, Workshop, say};
use std::path::Path;

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    std::fs::create_dir_all(&folder)?;
    let workshop = Workshop::start()?;
    let page = Page::open(&workshop.address()).await?;
    let taken = take(&page, &folder).await;
    page.close().await;
    taken
}

async fn take(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.sees("Turns no sound, lights work.").await?;
    page.picture(&folder.join("jobs-day.png")).await?;
    complaint(page, folder).await?;
    page.go(JOB).await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("Nothing").await?;
    page.sees(say("job.nextTest")).await?;
    for (point, typed) in [
        ("Battery + post", "12.58"),
        ("Key S", "12.57"),
        ("Lever switch out", "12.56"),
        ("Pedal switch in", "12.56"),
        ("Pedal switch out", "0.02"),
    ] {
        page.read(point, typed).await?;
    }
    page.sees("start contacts are open").await?;
    // The pointer off the track, the focus out of the field.
    page.click_on("h2", say("pictures.possibleCauses")).await?;
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("job-trace-day.png")).await?;
    page.sees("press its plunger by hand").await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("No beep").await?;
    page.sees("Found · 9").await?;
    page.click(say("job.thatsIt")).await?;
    page.sees(say("job.faultFound")).await?;
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("job-verdict-day.png")).await?;
    sweep(page, folder).await?;
    bench(page, folder).await?;
    machines(page, folder).await?;
    described(page, folder).await?;
    edited(page, folder).await?;
    traced(page, folder).await?;
    released(page, folder).await?;
    battery(page, folder).await?;
    drops(page, folder).await?;
    fuses(page, folder).await?;
    loads(page, folder).await?;
    charging(page, folder).await?;
    if std::fs::read_dir(folder)?.count() >= 20 {
        bail!("docs/screenshots/ keeps fewer than 20 pictures");
    }
    Ok(())
}

/// A complaint by buttons, on a phone.
async fn complaint(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.size(390, 844).await?;
    page.click(say("jobs.newJob")).await?;
    page.click_on(".v-select, .v-field", say("common.machine")).await?;
    page.choose("Dunmarrow Z-52").await?;
    page.click("Dies").await?;
    page.click("When I get off").await?;
    page.sees("Engine dies: key run, seat empty").await?;
    page.script("document.querySelector('.picker').scrollIntoView()").await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("complaint-phone-day.png")).await?;
    page.click(say("jobs.openJob")).await?;
    page.sees("First: see it happen").await?;
    page.script("window.scrollTo(0, 0)").await?;
    page.theme(Theme::Bay).await?;
    page.press("v").await?;
    page.sees(say("job.leaveBayView")).await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("job-bay-view-bay.png")).await?;
    page.theme(Theme::Day).await?;
    page.size(1280, 800).await
}

/// A machine half-way through what is tried before it goes back.
async fn released(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/jobs/01930000-0000-7000-8000-000000000fa0/release").await?;
    page.sees("Step 4 of 5").await?;
    page.picture(&folder.join("release-day.png")).await
}

/// A battery read at rest, under a load and after it.
async fn battery(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/jobs/01930000-0000-7000-8000-000000001b58/battery").await?;
    page.sees("12.10 V 60 s after").await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    page.picture(&folder.join("battery-day.png")).await
}

/// A starter's circuit walked with a voltmeter.
async fn drops(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/jobs/01930000-0000-7000-8000-000000001b58/drops/crank").await?;
    page.sees("Found: too many volts lost here").await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    page.picture(&folder.join("drops-day.png")).await
}

/// A fuse that is too big for its wire.
async fn fuses(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go(&format!("{JOB}/fuses")).await?;
    page.sees(say("fuses.readThem")).await?;
    page.types("v-input", "30\u{e007}").await?;
    page.sees(say("fuses.putRight")).await?;
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    page.picture(&folder.join("fuses-day.png")).await
}

/// A clutch that lost its turns, by its ohms and by what it draws.
async fn loads(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go(&format!("{JOB}/loads/clutch")).await?;
    page.sees("2.90 ohm").await?;
    page.types("reading-typed", "1.2\u{e007}").await?;
    page.sees("Shorted inside").await?;
    for (key, typed) in [("v", "11.8\u{e007}"), ("a", "9.4\u{e007}")] {
        page.script("document.activeElement.blur()").await?;
        page.press(key).await?;
        page.press(typed).await?;
        page.sees(if key == "v" { "Across it: 11.80 V" } else { "Draws: 9.4 A" }).await?;
    }
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    page.picture(&folder.join("loads-day.png")).await
}

/// The sweep of a kill wire half walked.
async fn sweep(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go(&format!("{JOB}/sweep")).await?;
    page.sees("Step 1 of").await?;
    for key in ["z", "z", "n", "n"] {
        page.press(key).await?;
        tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    }
    page.picture(&folder.join("sweep-day.png")).await?;
    Ok(())
}

/// Views of the switch bench: path, what it says once it is drawn, name of the picture, theme.
const BENCH: [(&str, &str, &str, Theme); 1] =
    [("/01930000-0000-7000-9000-000000000fa0", "Headlights dead", "bench-key-day", Theme::Day)];

async fn bench(page: &Page, folder: &Path) -> anyhow::Result<()> {
    for (path, says, name, theme) in BENCH {
        page.theme(theme).await?;
        page.go(&format!("/bench{path}")).await?;
        page.sees(says).await?;
        tokio::time::sleep(std::time::Duration::from_millis(900)).await;
        page.picture(&folder.join(format!("{name}.png"))).await?;
    }
    page.theme(Theme::Day).await
}

/// Path, what it says once it is drawn, name of the picture, theme.
const MACHINES: [(&str, &str, &str, Theme); 3] = [
    ("/pellwick-gt-46?set=key:run&engine=running", "✓ proved", "machine-decides-day", Theme::Day),
    (
        "/tarnbeck-c-24d/harness?set=key:start&set=clutch:down",
        "bolted to the frame",
        "machine-harness-day",
        Theme::Day,
    ),
    ("/dunmarrow-z-52/faults", "Only a check of the interlocks", "machine-faults-day", Theme::Day),
];

async fn machines(page: &Page, folder: &Path) -> anyhow::Result<()> {
    for (path, says, name, theme) in MACHINES {
        page.theme(theme).await?;
        page.go(&format!("/machines{path}")).await?;
        page.sees(says).await?;
        tokio::time::sleep(std::time::Duration::from_millis(900)).await;
        page.picture(&folder.join(format!("{name}.png"))).await?;
    }
    Ok(())
}

/// A harness half traced: a wire that is not where it is drawn.
async fn traced(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/machines/dunmarrow-z-52/trace").await?;
    page.click("PTO: 8 left").await?;
    page.sees(say("trace.putProbes")).await?;
    for answer in [["beep"; 7].as_slice(), &["silent"; 3]].concat() {
        let press = format!("document.querySelector('[data-answer={answer}]')?.click()");
        page.script(&press).await?;
        tokio::time::sleep(std::time::Duration::from_millis(1200)).await;
    }
    page.sees(say("trace.notDrawnSo")).await?;
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("trace-day.png")).await
}

/// A drawing with a contact of the seat switch turned round.
async fn edited(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/machines/dunmarrow-z-52/edit").await?;
    page.sees(say("edit.nothingYet")).await?;
    page.click_on("[data-shown]", say("machine.parts")).await?;
    page.click_on("[data-part='seat-switch']", "").await?;
    page.sees(say("edit.openAtRest")).await?;
    page.click_on("[data-contact='seat-switch.presence'] button[aria-pressed='false']", "").await?;
    page.sees(say("edit.lessSafe")).await?;
    page.script("document.activeElement.blur()").await?;
    page.script(
        "document.querySelector('[data-part=seat-switch]').scrollIntoView({block: 'center'})",
    )
    .await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("edit-day.png")).await
}

/// A machine in nobody's list, half described.
async fn described(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go("/describe").await?;
    for (asks, key) in [
        ("What is it?", "2"),
        ("What turns the engine over?", "1"),
        ("Where does the spark come from?", "1"),
        ("Is there a solenoid", "2"),
        ("What does the key do?", "1"),
        ("stamped at the key switch", "0"),
        ("Seat switch", "2"),
    ] {
        page.sees(asks).await?;
        page.press(key).await?;
    }
    page.sees("Brake or clutch pedal switch").await?;
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
    page.picture(&folder.join("describe-day.png")).await
}

/// A battery that is not charged: off and at full speed, the drops, the stator.
async fn charging(page: &Page, folder: &Path) -> anyhow::Result<()> {
    page.go(&format!("{JOB}/charging")).await?;
    page.sees(say("charging.nothingRead")).await?;
    let readings = [
        ("1", "12.4", "Engine off: 12.40 V"),
        ("2", "12.36", "Battery at full speed: 12.36 V"),
        ("6", "0.00", "Drop to battery +: 0.00 V"),
        ("7", "0.00", "Drop from battery −: 0.00 V"),
        ("3", "12.38", "Battery at idle: 12.38 V"),
    ];
    for (number, typed, says) in readings {
        page.script("document.activeElement.blur()").await?;
        page.press(number).await?;
        page.press(&format!("{typed}\u{e007}")).await?;
        page.sees(says).await?;
    }
    page.script("document.activeElement.blur(); window.scrollTo(0, 0)").await?;
    tokio::time::sleep(std::time::Duration::from_millis(900)).await;
    page.picture(&folder.join("charging-day.png")).await
}
