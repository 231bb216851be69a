//! How the program stands a hard day, measured: `cargo run --release -p kelvok-e2e --example hard_day
//! -- WHAT [TIMES]`, WHAT one of the below. Each prints a line of figures for docs/reliability.md and
//! ends with an error where one of them is not what it must be.

mod kills;
mod lists;
mod load;
mod program;
mod sheet;
mod starts;

use anyhow::bail;

const WHAT: &str = "\
kills N        kill -9 of the server N times while readings come in, a third with its database
starts N       first starts on a new directory, interrupted at any moment, N times
migrations N   upgrades of an older database, interrupted at any moment, N times
twice N        two servers at once on an empty database, N times
stops N        SIGTERM under full load, N times
machines N     N machines worked on one after the other: what the server keeps
sheet N        the fault sheet of a machine with N harnesses, asked for until it is there
lists          2,000 closed and 40 open jobs, 500 machines, 2,000 switches: how long a page takes";

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let mut arguments = std::env::args().skip(1);
    let what = arguments.next().unwrap_or_default();
    let times = arguments.next().map(|n| n.parse::<usize>()).transpose()?;
    match what.as_str() {
        "kills" => kills::run(times.unwrap_or(200)).await,
        "starts" => starts::interrupted(times.unwrap_or(100)).await,
        "migrations" => starts::migrations(times.unwrap_or(100)).await,
        "twice" => starts::twice(times.unwrap_or(100)).await,
        "stops" => load::stops(times.unwrap_or(20)).await,
        "machines" => load::machines(times.unwrap_or(60)).await,
        "sheet" => sheet::run(times.unwrap_or(6)).await,
        "lists" => lists::run().await,
        _ => bail!("say what to measure:\n{WHAT}"),
    }
}
