//! How likely each thing is to fail, before anything is known: one table, and what the shop's own
//! closed jobs make of it.
//!
//! Weights are relative. Opens and high resistance outweigh shorts; what moves, sits in the wet or
//! is sat on outweighs what is sealed; a plug's pin ranks below the switch it feeds. A part that
//! was replaced lately keeps its weight: a new part may be bad.

use super::{Belief, Suspect, Suspects, Unit, Work};
use crate::circuit::{Circuit, ElementKind, Fault, FaultMode, NodeId};
use crate::machine::PartKind;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Nothing is wrong now: a fault that is not showing, or a control not as stated.
pub(super) const NOTHING_WRONG: f64 = 0.5;
/// A fault that comes and goes, as a share of the weight of the same fault lasting.
const INTERMITTENT_SHARE: f64 = 0.4;
/// Two faults at once, as a share of the product of their chances.
pub(super) const TOGETHER: f64 = 0.04;

/// The kind of thing a fault sits in, as closed jobs are counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Seat {
    Switch,
    Key,
    Relay,
    Plug,
    Wire,
    Ground,
    Fuse,
    Battery,
    Linkage,
    Starter,
    Ignition,
    Charging,
    Other,
}

impl Seat {
    /// What a fault sits in.
    pub fn of(circuit: &Circuit, fault: &Fault) -> Self {
        if fault.plunger().is_some() {
            return match fault.mode {
                FaultMode::WrongSwitch => Self::Switch,
                _ => Self::Linkage,
            };
        }
        let part = fault.seat(circuit).part.map(|p| circuit.part(p).kind);
        match part {
            None => Self::Wire,
            Some(PartKind::InterlockSwitch | PartKind::HandSwitch) => Self::Switch,
            Some(PartKind::KeySwitch) => Self::Key,
            Some(PartKind::Relay | PartKind::Solenoid | PartKind::PresenceModule) => Self::Relay,
            Some(PartKind::Connector | PartKind::Socket) => Self::Plug,
            Some(PartKind::Ground) => Self::Ground,
            Some(PartKind::Fuse | PartKind::Breaker) => Self::Fuse,
            Some(PartKind::Battery) => Self::Battery,
            Some(PartKind::Starter | PartKind::Generator) => Self::Starter,
            Some(PartKind::IgnitionModule | PartKind::IgnitionCoil | PartKind::BreakerPoints) => {
                Self::Ignition
            }
            Some(PartKind::Regulator | PartKind::Stator) => Self::Charging,
            Some(_) => Self::Other,
        }
    }
}

/// The weight of a single fault.
pub(super) fn weight(circuit: &Circuit, fault: &Fault) -> f64 {
    use FaultMode::*;
    let element = fault.element().map(|e| circuit.element(e));
    let kind = element.map(|e| e.kind);
    let part = element.and_then(|e| e.part).map(|p| circuit.part(p).kind);
    match (fault.mode, kind, part) {
        (Open, Some(ElementKind::Contact(_)), Some(PartKind::InterlockSwitch)) => 3.0,
        (Open, Some(ElementKind::Contact(_)), _) => 2.0,
        (HighResistance, Some(ElementKind::Contact(_)), _) => 1.2,
        (DeadSpot, ..) => 1.2 * INTERMITTENT_SHARE,
        (StuckMade, ..) => 0.4,
        (LinkageShort, ..) => 0.8,
        (LinkageHolds, ..) => 0.3,
        (WrongSwitch, ..) => 0.1,
        (ConnectorApart, ..) => 0.2,
        (Open, Some(ElementKind::Joint), _) => 0.2,
        (HighResistance, Some(ElementKind::Joint), _) => 0.25,
        (Open, Some(ElementKind::Ground), _) => 0.3,
        (HighResistance, Some(ElementKind::Ground), _) => 0.5,
        (Open, Some(ElementKind::Wire), _) => 0.3,
        (HighResistance, Some(ElementKind::Wire), _) => 0.15,
        (Intermittent, ..) => 0.3 * INTERMITTENT_SHARE,
        (FuseBlown, ..) => 1.5,
        (WrongFuse, ..) => 0.05,
        (HighResistance, ..) => 0.1,
        (Open, Some(ElementKind::Coil(_)), _) => 0.8,
        (Open, ..) => 0.5,
        (ShortedTurns, ..) => 0.3,
        (BatteryFlat, ..) => 1.5,
        (BatteryWeak, ..) => 1.2,
        (BatteryReversed, ..) => 0.02,
        (ShortToGround, ..) => 0.15,
        (GroundWhenHot, ..) => 0.05,
        (ShortToNeighbor, ..) => 0.04,
        (CrossFeed, ..) => 0.03,
        (Swapped | Water, ..) => 0.03,
        (Dead, ..) => 0.6,
        (GroundedInside, ..) => 0.3,
        (RegulatorDead, ..) => 0.8,
        (Overcharge | StatorGrounded, ..) => 0.3,
        (WideGap, ..) => 0.6,
        (NoDelay, ..) => 0.1,
        (NoDrive | Seized, ..) => 0.3,
        _ => 0.1,
    }
}

/// How much likelier a suspect becomes by what somebody had done to a unit.
///
/// A part that was replaced is not excused, and what plugs onto it was handled; what was bridged
/// may have been bridged wrongly or left so; a fuse that was changed may be of another size.
pub(super) fn likelier_after(circuit: &Circuit, suspect: &Suspect, unit: Unit, work: Work) -> f64 {
    use FaultMode::*;
    let own = suspect.unit == unit;
    let is = |modes: &[FaultMode]| suspect.faults.iter().any(|f| modes.contains(&f.mode));
    match work {
        Work::Replaced if own && is(&[WrongSwitch, Swapped]) => 10.0,
        Work::Replaced if !own && hangs_on(circuit, suspect, unit) => 3.0,
        Work::Jumped if own && is(&[StuckMade, CrossFeed]) => 8.0,
        Work::Jumped if hangs_on(circuit, suspect, unit) => 3.0,
        Work::Cut if own => 4.0,
        Work::Cut if hangs_on(circuit, suspect, unit) => 6.0,
        Work::FuseChanged if own && is(&[WrongFuse]) => 20.0,
        // A fuse that was changed had blown.
        Work::FuseChanged
            if is(&[ShortToGround, GroundWhenHot, ShortedTurns, Shorted, Overcharge]) =>
        {
            3.0
        }
        _ => 1.0,
    }
}

/// Whether a suspect sits in a wire or plug that ends on a unit's part.
fn hangs_on(circuit: &Circuit, suspect: &Suspect, unit: Unit) -> bool {
    let Unit::Part(part) = unit else {
        return false;
    };
    let ends: BTreeSet<_> = circuit
        .elements()
        .filter(|(_, e)| e.part == Some(part))
        .flat_map(|(_, e)| [e.a, e.b])
        .filter(|n| *n != NodeId::REFERENCE)
        .collect();
    suspect.elements.iter().any(|e| {
        let e = circuit.element(*e);
        let joins = matches!(e.kind, ElementKind::Wire | ElementKind::Joint);
        joins && (ends.contains(&e.a) || ends.contains(&e.b))
    })
}

/// Verdicts of the shop's closed jobs, counted by what the fault sat in and how it failed.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct History {
    counts: BTreeMap<(Seat, FaultMode), u32>,
}

/// The table counts as much as this many closed jobs: ten of a kind shift it, one does not.
const TABLE_JOBS: f64 = 40.0;

impl History {
    /// Counts one closed job.
    pub fn count(&mut self, seat: Seat, mode: FaultMode) {
        *self.counts.entry((seat, mode)).or_default() += 1;
    }

    /// What a verdict counts as: what the likeliest fault of its units sits in, and how it fails.
    pub fn kind(
        circuit: &Circuit,
        suspects: &Suspects,
        belief: &Belief,
        units: &[Unit],
    ) -> Option<(Seat, FaultMode)> {
        let own = suspects.list.iter().enumerate().filter(|(_, s)| units.contains(&s.unit));
        let likeliest = own.max_by(|a, b| belief.suspects[a.0].total_cmp(&belief.suspects[b.0]));
        let fault = likeliest?.1.faults.first()?;
        Some((Seat::of(circuit, fault), fault.mode))
    }

    /// Weights of faults by the table, shifted by what this shop has found: the mean of a Dirichlet
    /// distribution over kinds of fault whose prior counts are the table's.
    pub(super) fn weights(&self, circuit: &Circuit, faults: &[Fault]) -> Vec<f64> {
        let weights: Vec<_> = faults.iter().map(|f| weight(circuit, f)).collect();
        let kinds: Vec<_> = faults.iter().map(|f| (Seat::of(circuit, f), f.mode)).collect();
        let total: f64 = weights.iter().sum();
        let mut by_kind: BTreeMap<_, f64> = BTreeMap::new();
        for (kind, weight) in kinds.iter().zip(&weights) {
            *by_kind.entry(*kind).or_default() += weight / total;
        }
        let jobs: u32 = by_kind.keys().filter_map(|k| self.counts.get(k)).sum();
        let shifted = kinds.iter().zip(&weights).map(|(kind, weight)| {
            let (share, seen) = (by_kind[kind], self.counts.get(kind).copied().unwrap_or(0));
            let now = (TABLE_JOBS * share + f64::from(seen)) / (TABLE_JOBS + f64::from(jobs));
            weight * now / share
        });
        shifted.collect()
    }
}
