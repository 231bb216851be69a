//! `kelvok fuses FILE`

use super::check::sound;
use anyhow::{Context, bail};
use kelvok_core::circuit::Circuit;
use kelvok_core::fuses::{Fitted, FuseWorkings};
use std::path::PathBuf;
use std::process::ExitCode;

#[derive(clap::Args)]
pub struct Arguments {
    /// A machine document.
    file: PathBuf,
    /// A fuse that was read, as `main-fuse=30`; may be given again. Those not given are as called for.
    #[arg(long, value_name = "FUSE=AMPS")]
    fitted: Vec<String>,
}

/// Prints the sheet as comma-separated values.
pub fn run(arguments: &Arguments) -> anyhow::Result<ExitCode> {
    let circuit = Circuit::compile(&sound(&arguments.file)?);
    let fitted = arguments.fitted.iter().map(|text| fitted(&circuit, text));
    let fitted: Vec<_> = fitted.collect::<Result<_, _>>()?;
    let sheet = FuseWorkings::new(&circuit).sheet(&circuit, &fitted);
    let document = circuit.document();
    print!(
        "{}",
        sheet.to_csv(
            |part| circuit.part(part).name.clone(),
            |wire| document.wire_name(&document.wires[wire]).to_string(),
            |load| {
                let all = load.condition.named(&circuit).map(|(c, at)| format!("{c}={at}"));
                all.collect::<Vec<_>>().join(" ")
            },
        )
    );
    let wrong = sheet.fuses.iter().flat_map(|f| &f.words).any(|w| w.is_wrong());
    Ok(if wrong { ExitCode::FAILURE } else { ExitCode::SUCCESS })
}

fn fitted(circuit: &Circuit, text: &str) -> anyhow::Result<Fitted> {
    let (fuse, amps) = text
        .split_once('=')
        .with_context(|| format!("\"{text}\": write it as FUSE=AMPS, like main-fuse=30"))?;
    let known: Vec<_> = circuit.fuses().filter_map(|f| circuit.element(f).part).collect();
    let part = known.iter().copied().find(|p| circuit.part(*p).id == fuse);
    let part = part.with_context(|| {
        let names: Vec<_> = known.iter().map(|p| circuit.part(*p).id.as_str()).collect();
        format!("this machine has no fuse \"{fuse}\": it has {}", names.join(", "))
    })?;
    let amps: f64 = amps.parse().with_context(|| format!("\"{amps}\" is not a number of amps"))?;
    if !(0.1..=500.0).contains(&amps) {
        bail!("a fuse has 1 to 500 A printed on it, not {amps}");
    }
    Ok(Fitted { part, amps })
}
