//! What a fault may have harmed, and what may have caused it: both read off the circuit.
//!
//! In every condition of ordinary use the machine is solved with the fault in; contacts that carry
//! more than they are rated for, fuses that blow, a battery that is not charged or is boiled are
//! what it harms. What may have caused it are those other faults that would do such a thing to the
//! very element that failed.

use crate::circuit::{
    Change, Circuit, Condition, ElementId, ElementKind, Engine, FaultMode, Relays,
};
use crate::diagnosis::evidence::Unit;
use crate::diagnosis::faults::Scenario;
use crate::diagnosis::predict::{FaultModel, Predictor, nominal_volts};
use crate::fuses::Fitted;
use crate::machine::{BOILS_VOLTS, FUSE_BLOWS_AT, rated_amps};
use std::borrow::Cow;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// Something that a fault does beyond what is complained of.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Strain {
    /// A contact carries more than it is rated for.
    Overloads {
        contact: ElementId,
        amps: f64,
        rated: f64,
        /// The smallest fuse that all of it runs through, and that lets it.
        past: Option<PastFuse>,
        condition: Condition,
    },
    BlowsFuse {
        fuse: ElementId,
        condition: Condition,
    },
    /// The engine runs and nothing flows into the battery.
    DoesNotCharge {
        condition: Condition,
    },
    /// The engine runs and the battery is held above what it bears.
    Overcharges {
        volts: f64,
        condition: Condition,
    },
}

/// A fuse that does not blow.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct PastFuse {
    pub fuse: ElementId,
    pub rating: f64,
    /// It is bigger than called for, and one of the right size would have blown.
    pub right_one: Option<f64>,
}

/// Another fault that may have brought this one about.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Cause {
    /// By index into the suspects' list.
    pub suspect: usize,
    /// At its worst.
    pub strain: Strain,
    /// The scenarios of its fault that strain so: a clutch that has lost few turns burns nothing.
    pub(crate) scenarios: Vec<usize>,
}

/// What came before a fault and what may come after.
#[derive(Clone, Debug, Default)]
#[allow(missing_docs)]
pub struct Aftermath {
    pub causes: Vec<Cause>,
    pub harms: Vec<Strain>,
}

/// A contact counts as overloaded above its rating by this factor.
const OVER: f64 = 1.1;
/// A fuse that carries this share of a current is in its way.
const ALL_OF_IT: f64 = 0.98;
/// Causes named, the likeliest first.
const MOST_CAUSES: usize = 3;
/// Amperes into a battery that count as charging.
const CHARGES_AMPS: f64 = 0.2;

/// What may have caused a suspect's fault, and what it may have harmed.
///
/// # Arguments
/// `fitted` are the fuses that were read.
pub(crate) fn aftermath(model: &FaultModel, suspect: usize, fitted: &[Fitted]) -> Aftermath {
    let suspects = &*model.suspects;
    let rig = Rig::new(model, fitted);
    let scenarios = |suspect: usize| {
        let own = suspects.hypotheses.iter().filter(move |h| h.suspect == suspect);
        own.map(|h| h.scenario)
    };
    let own = &suspects.list[suspect];
    let Some(fault) = own.faults.first() else {
        return Aftermath::default();
    };
    let of_interest = matches!(
        fault.mode,
        FaultMode::FuseBlown
            | FaultMode::BatteryFlat
            | FaultMode::BatteryWeak
            | FaultMode::Open
            | FaultMode::HighResistance
            | FaultMode::StuckMade
            | FaultMode::DeadSpot
    );
    let asked: BTreeSet<usize> = match of_interest {
        true => (0..suspects.scenarios.len()).collect(),
        false => scenarios(suspect).chain([0]).collect(),
    };
    let strains = rig.strains(&asked);
    // Beyond what a sound machine bears, and at its worst size.
    let worst = |suspect: usize| {
        let mut all: Vec<Strain> = Vec::new();
        for strain in scenarios(suspect).flat_map(|c| &strains[&c]) {
            if !strains[&0].iter().any(|o| o.is_like(strain)) {
                keep_worst(&mut all, strain.clone());
            }
        }
        all
    };
    let would_cause = |strain: &Strain| match (fault.mode, strain) {
        (FaultMode::FuseBlown, Strain::BlowsFuse { fuse, .. }) => own.elements.contains(fuse),
        (FaultMode::BatteryFlat, Strain::DoesNotCharge { .. }) => true,
        (FaultMode::BatteryWeak, Strain::Overcharges { .. } | Strain::DoesNotCharge { .. }) => true,
        // What carries too much burns, pits and welds.
        (
            FaultMode::Open
            | FaultMode::HighResistance
            | FaultMode::StuckMade
            | FaultMode::DeadSpot,
            Strain::Overloads { contact, .. },
        ) => own.elements.contains(contact),
        _ => false,
    };
    let mut causes: Vec<(f64, Cause)> = Vec::new();
    if of_interest {
        for (i, other) in suspects.list.iter().enumerate().skip(1) {
            let lasts = other.faults.iter().all(|f| f.mode.lasts());
            if i == suspect || !lasts || other.unit == own.unit && own.unit != Unit::Nothing {
                continue;
            }
            let strain = worst(i).into_iter().find(would_cause);
            let Some(strain) = strain else { continue };
            let strains = |c: &usize| strains[c].iter().any(|s| s.is_like(&strain));
            let scenarios = scenarios(i).filter(strains).collect();
            causes.push((other.prior, Cause { suspect: i, strain, scenarios }));
        }
        causes.sort_by(|a, b| b.0.total_cmp(&a.0));
        // One line a unit.
        let mut seen: BTreeMap<Unit, ()> = BTreeMap::new();
        causes.retain(|(_, c)| seen.insert(suspects.list[c.suspect].unit, ()).is_none());
        causes.truncate(MOST_CAUSES);
    }
    Aftermath { causes: causes.into_iter().map(|(_, c)| c).collect(), harms: worst(suspect) }
}

impl Strain {
    /// Of one kind on one element.
    fn is_like(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Overloads { contact: a, .. }, Self::Overloads { contact: b, .. }) => a == b,
            (Self::BlowsFuse { fuse: a, .. }, Self::BlowsFuse { fuse: b, .. }) => a == b,
            (Self::DoesNotCharge { .. }, Self::DoesNotCharge { .. }) => true,
            (Self::Overcharges { .. }, Self::Overcharges { .. }) => true,
            _ => false,
        }
    }

    fn size(&self) -> f64 {
        match self {
            Self::Overloads { amps, .. } => *amps,
            Self::Overcharges { volts, .. } => *volts,
            _ => 0.0,
        }
    }
}

/// The machine in ordinary use, ready to be strained.
struct Rig<'a> {
    circuit: &'a Circuit,
    /// With the fuses that are in it.
    scenarios: Cow<'a, [Scenario]>,
    use_: Vec<Condition>,
    running: Arc<[Relays]>,
    /// Contacts that have a rating, in amperes.
    rated: Vec<(ElementId, f64)>,
    /// Fuses with the rating of each, and what they ought to have where that is less.
    fuses: Vec<PastFuse>,
    battery: Option<ElementId>,
    emf: f64,
}

impl<'a> Rig<'a> {
    fn new(model: &'a FaultModel, fitted: &[Fitted]) -> Self {
        let circuit = &*model.circuit;
        let read = |part| fitted.iter().rev().find(|f| f.part == part).map(|f| f.amps);
        let changes: Vec<_> = circuit
            .fuses()
            .filter_map(|fuse| Some(Change::Rating(fuse, read(circuit.element(fuse).part?)?)))
            .collect();
        let fuses: Vec<PastFuse> = circuit
            .fuses()
            .filter_map(|fuse| {
                let part = circuit.element(fuse).part?;
                let called_for = circuit.part(part).amps;
                let read = read(part);
                let rating = read.or(called_for)?;
                Some(PastFuse { fuse, rating, right_one: called_for.filter(|c| *c < rating) })
            })
            .collect();

        let rated = circuit.elements().filter_map(|(id, e)| {
            let ElementKind::Contact(_) = e.kind else { return None };
            Some((id, rated_amps(circuit.part(e.part?))?))
        });
        let source = |kind| matches!(kind, ElementKind::Source { .. });
        Self {
            circuit,
            scenarios: with_fuses(&model.suspects.scenarios, changes),
            use_: circuit.normal_use(),
            running: model.running(),
            rated: rated.collect(),
            fuses,
            battery: circuit.elements().find(|(_, e)| source(e.kind)).map(|(id, _)| id),
            emf: nominal_volts(circuit),
        }
    }

    /// The smallest fuse that all of a current runs through.
    fn past(&self, amps: f64, through: impl Fn(ElementId) -> f64) -> Option<PastFuse> {
        let all = self.fuses.iter().filter(|f| through(f.fuse) > ALL_OF_IT * amps);
        // One that is too big comes before the smallest.
        let order = |f: &&PastFuse| (f.right_one.is_none(), f.rating);
        let first = all.min_by(|a, b| {
            let (a, b) = (order(a), order(b));
            a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
        })?;
        let right_one = first.right_one.filter(|right| amps > FUSE_BLOWS_AT * right);
        Some(PastFuse { right_one, ..*first })
    }

    /// Everything that is strained in ordinary use, by scenario.
    fn strains(&self, scenarios: &BTreeSet<usize>) -> BTreeMap<usize, Vec<Strain>> {
        let mut all: BTreeMap<usize, Vec<Strain>> =
            scenarios.iter().map(|c| (*c, Vec::new())).collect();
        for condition in &self.use_ {
            let mut predictor = Predictor::new(self.circuit, condition, &[], self.emf);
            for (scenario, strains) in &mut all {
                for strain in self.strained(&mut predictor, condition, *scenario) {
                    keep_worst(strains, strain);
                }
            }
        }
        all
    }

    fn strained(
        &self,
        predictor: &mut Predictor<'_>,
        condition: &Condition,
        scenario: usize,
    ) -> Vec<Strain> {
        let runs = condition.engine >= Engine::Running;
        let from = if runs { self.running[scenario] } else { Relays::default() };
        predictor.suppose(&self.scenarios[scenario], from);
        let solved = predictor.solved();
        let at = || condition.clone();
        let over = self.rated.iter().filter_map(|(contact, rated)| {
            let amps = solved.amps(*contact).abs();
            let (contact, rated) = (*contact, *rated);
            (amps > OVER * rated).then(|| Strain::Overloads {
                contact,
                amps,
                rated,
                past: self.past(amps, |fuse| solved.amps(fuse).abs()),
                condition: at(),
            })
        });
        let blown = solved.blown();
        let blown = blown.into_iter().map(|fuse| Strain::BlowsFuse { fuse, condition: at() });
        let mut found: Vec<Strain> = over.chain(blown).collect();
        if let Some(battery) = self.battery.filter(|_| runs) {
            let e = self.circuit.element(battery);
            let volts = solved.between(e.b, e.a);
            if volts > BOILS_VOLTS {
                found.push(Strain::Overcharges { volts, condition: at() });
            } else if solved.amps(battery) > -CHARGES_AMPS {
                found.push(Strain::DoesNotCharge { condition: at() });
            }
        }
        found
    }
}

/// Every scenario with other fuses than drawn.
fn with_fuses(scenarios: &[Scenario], fuses: Vec<Change>) -> Cow<'_, [Scenario]> {
    if fuses.is_empty() {
        return Cow::Borrowed(scenarios);
    }
    let fitted = Scenario::found(fuses);
    scenarios.iter().map(|own| Scenario::both(own, &fitted)).collect()
}

/// Adds a strain, or puts it in the place of a lesser one of its kind.
fn keep_worst(all: &mut Vec<Strain>, strain: Strain) {
    match all.iter_mut().find(|s| s.is_like(&strain)) {
        Some(kept) if strain.size() > kept.size() => *kept = strain,
        Some(_) => {}
        None => all.push(strain),
    }
}
