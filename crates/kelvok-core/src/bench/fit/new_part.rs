//! A new part, before it is fitted.

use crate::bench::judge::{Bench, SwitchVerdict};
use crate::bench::profile::{Ignition, ProfileDocument};
use crate::circuit::Circuit;
use crate::machine::PartKind;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Why a part is not to be fitted, or not yet.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Unfit {
    /// One for a magneto on a battery coil's machine, or the other way round: it destroys the
    /// module, or never stops the engine.
    WrongIgnition { part: Ignition, machine: Ignition },
    /// The machine wants so many terminals.
    Terminals { has: usize, wants: usize },
    /// A new part can be bad too.
    Bad,
    /// Not everything was tried.
    Untested,
    /// It does not do what the machine wants of it, whichever way its terminals are wired.
    OtherTable,
    /// So many wires of the plug sit where they do not belong.
    WiresToMove { wires: usize },
    /// Its contacts are rated for less than the old one's, in amperes.
    Rating { has: f64, wants: f64 },
    /// Nothing says what its contacts are rated for.
    RatingUnknown,
}

/// What a machine's engine is stopped by: grounding a magneto's kill wire, or taking the feed from a
/// coil or fuel solenoid. `None` where it has neither.
pub fn ignition_of(circuit: &Circuit) -> Option<Ignition> {
    let has = |kind: PartKind| circuit.document().parts.iter().any(|p| p.kind == kind);
    match () {
        () if has(PartKind::IgnitionModule) => Some(Ignition::Magneto),
        () if has(PartKind::IgnitionCoil) || has(PartKind::FuelSolenoid) => {
            Some(Ignition::BatteryCoil)
        }
        () => None,
    }
}

/// Everything that speaks against fitting a part in place of the old one, the worst first.
///
/// # Arguments
/// - `bench`: the new part.
/// - `part`: the kind of switch that it is, as far as that is known.
/// - `old`: what the machine wants.
/// - `wires`: how many wires must be moved; none where no order of its terminals would do.
pub fn unfit(
    bench: &Bench,
    part: Option<&ProfileDocument>,
    old: &ProfileDocument,
    machine: Option<Ignition>,
    wires: Option<usize>,
) -> Vec<Unfit> {
    let mut all = Vec::new();
    let ignitions = part.and_then(|p| p.ignition).zip(machine.or(old.ignition));
    if let Some((part, machine)) = ignitions
        && part != machine
    {
        all.push(Unfit::WrongIgnition { part, machine });
    }
    let (has, wants) = (bench.subject.terminals.len(), old.terminals.len());
    if has != wants {
        all.push(Unfit::Terminals { has, wants });
    }
    match bench.verdict() {
        SwitchVerdict::Bad => all.push(Unfit::Bad),
        _ if !bench.is_complete() => all.push(Unfit::Untested),
        SwitchVerdict::Unfinished => all.push(Unfit::Untested),
        SwitchVerdict::Sound | SwitchVerdict::KindUnknown => {}
    }
    match wires {
        None if has == wants => all.push(Unfit::OtherTable),
        Some(wires) if wires > 0 => all.push(Unfit::WiresToMove { wires }),
        _ => {}
    }
    match (part.and_then(|p| p.amps), old.amps) {
        (Some(has), Some(wants)) if has < wants => all.push(Unfit::Rating { has, wants }),
        (None, _) => all.push(Unfit::RatingUnknown),
        _ => {}
    }
    all
}
