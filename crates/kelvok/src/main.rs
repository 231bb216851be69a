//! `kelvok`: the engine on the command line, and the server.

mod backup;
mod check;
mod decide;
mod demo;
mod describe;
mod diagnose;
mod diff;
mod faults;
mod fuses;
mod identify;
mod meter;
mod netlist;
mod release;
mod serve;
mod solve;
mod trace;
mod trial;

use clap::{Parser, Subcommand};
use std::process::ExitCode;

/// What was worked out and let go goes back to the system; the system's own allocator keeps it, a
/// piece for every thread that ever helped.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Diagnosis bench for the 12 V interlock circuits of mowers and tractors.
#[derive(Parser)]
#[command(version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Report every problem of a machine document; exit 1 if there is any.
    Check(check::Arguments),
    /// Solve a machine in a condition: node volts, currents, coils, outcome.
    Solve(solve::Arguments),
    /// Make a machine document from what can be seen of a machine; print the questions.
    Describe(describe::Arguments),
    /// Say how a machine decides, and prove its duties; exit 1 if one is broken.
    Decide(decide::Arguments),
    /// Say what one machine document has otherwise than another, drawn and decided; exit 1 if anything.
    Diff(diff::Arguments),
    /// Print a machine's fault-and-effect sheet as CSV.
    Faults(faults::Arguments),
    /// Print every fuse and wire of a machine beside what it carries, as CSV; exit 1 if a fuse is wrong.
    Fuses(fuses::Arguments),
    /// Plan the fewest steps that show every interlock to work; exit 1 if the machine breaks a duty as it is.
    Release(release::Arguments),
    /// Print a machine in a condition as a SPICE netlist.
    Netlist(netlist::Arguments),
    /// Judge a log of evidence on a machine: suspects, what cannot be it, and the next test.
    Diagnose(diagnose::Arguments),
    /// Say which switch a found table is of, which terminal is which, and what to probe next.
    Identify(identify::Arguments),
    /// Trace a harness with a buzzer: what is traced, what is not as drawn, where to put the probes next.
    Trace(trace::Arguments),
    /// Seed faults into library machines and let each strategy find them; print how well it went.
    Trial(trial::Arguments),
    /// Stand in for a bench multimeter: it talks over TCP and reads a simulated machine.
    Meter(meter::Arguments),
    /// Serve the application, on a MariaDB of your own or on one kept in a directory.
    Serve(serve::Arguments),
    /// Start a database on loopback, load the demo workshop and serve it.
    Demo(demo::Arguments),
    /// Write everything in a database into one file; it may be in use meanwhile.
    Backup(backup::Arguments),
    /// Read a backup into an empty database.
    Restore(backup::Arguments),
    /// Print the JSON Schema of machine documents, of stories, or of switch profiles.
    Schema {
        /// Of the evidence that `kelvok diagnose` reads and a job goes out as.
        #[arg(long, conflicts_with = "switch")]
        story: bool,
        /// Of switch profiles.
        #[arg(long)]
        switch: bool,
    },
    /// Print the OpenAPI description of the API.
    Openapi,
    /// Print the words for the codes that the API sends, as JSON.
    Words,
}

fn main() -> ExitCode {
    let command = Arguments::parse().command;
    let serves = matches!(command, Command::Serve(_) | Command::Demo(_) | Command::Meter(_));
    if !serves {
        // `kelvok decide ... | head` ends when head does, as other programs do.
        sigpipe::reset();
    }
    let done = match command {
        Command::Check(arguments) => check::run(&arguments),
        Command::Solve(arguments) => solve::run(&arguments),
        Command::Describe(arguments) => describe::run(&arguments),
        Command::Decide(arguments) => decide::run(&arguments),
        Command::Diff(arguments) => diff::run(&arguments),
        Command::Faults(arguments) => faults::run(&arguments),
        Command::Fuses(arguments) => fuses::run(&arguments),
        Command::Release(arguments) => release::run(&arguments),
        Command::Netlist(arguments) => netlist::run(&arguments),
        Command::Diagnose(arguments) => diagnose::run(&arguments),
        Command::Identify(arguments) => identify::run(&arguments),
        Command::Trace(arguments) => trace::run(&arguments),
        Command::Trial(arguments) => trial::run(&arguments),
        Command::Meter(arguments) => meter::run(&arguments),
        Command::Serve(arguments) => serve::run(&arguments),
        Command::Demo(arguments) => demo::run(&arguments),
        Command::Backup(arguments) => backup::backup(&arguments),
        Command::Restore(arguments) => backup::restore(&arguments),
        Command::Schema { story, switch } => {
            let schema = match (story, switch) {
                (true, _) => kelvok_core::diagnosis::story_schema(),
                (_, true) => kelvok_core::bench::profile_schema(),
                _ => kelvok_core::machine::json_schema(),
            };
            println!("{schema:#}");
            Ok(ExitCode::SUCCESS)
        }
        Command::Words => {
            println!("{:#}", kelvok_core::words());
            Ok(ExitCode::SUCCESS)
        }
        Command::Openapi => {
            print!("{}", kelvok_server::openapi());
            Ok(ExitCode::SUCCESS)
        }
    };
    done.unwrap_or_else(|error| {
        eprintln!("kelvok: {error:#}");
        ExitCode::from(2)
    })
}
