//! The fault-and-effect sheet: what every single fault does, and what nobody would notice.

use super::{Judge, prove_duties};
use crate::circuit::{
    Change, Circuit, ClutchState, Condition, Crank, Engine, Fault, Outcome, OutcomeDictionary,
    Relays, Spark, every_condition, single_faults,
};
use crate::errand::{carried, pieces};
use rayon::prelude::*;
use serde::Serialize;

/// How a fault is found out.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Noticeable {
    /// Nothing differs in ordinary use, and yet a duty is broken.
    Silent,
    /// Something differs in ordinary use.
    Shows,
    /// Nothing differs, and every duty is done.
    Harmless,
}

/// What differs, in ordinary use, from a sound machine.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum FaultEffect {
    DoesNotCrank,
    CranksSlowly,
    ClicksOnly,
    Chatters,
    CranksUnasked,
    NoSpark,
    WeakSpark,
    OneCylinder,
    SparkStays,
    NoFuel,
    FuelStays,
    BladesOff,
    BladesSlip,
    BladesOn,
    LightsOut,
    LightsDim,
    LightsOn,
    Needle,
    /// A module blinks another code, or one where it blinked none.
    Blinks,
    FuseBlows,
}

impl Noticeable {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Silent => "hidden",
            Self::Shows => "you’d notice",
            Self::Harmless => "no effect",
        }
    }
}

impl FaultEffect {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// In words, of a machine: "does not crank".
    pub fn words(self) -> &'static str {
        use FaultEffect::*;
        match self {
            DoesNotCrank => "does not crank",
            CranksSlowly => "cranks slowly",
            ClicksOnly => "clicks only",
            Chatters => "chatters",
            CranksUnasked => "cranks by itself",
            NoSpark => "no spark",
            WeakSpark => "weak spark",
            OneCylinder => "one cylinder only",
            SparkStays => "spark stays on",
            NoFuel => "no fuel",
            FuelStays => "fuel stays on",
            BladesOff => "blades do not engage",
            BladesSlip => "blades slip",
            BladesOn => "blades turn by themselves",
            LightsOut => "a light out",
            LightsDim => "lights dim",
            LightsOn => "a light on by itself",
            Needle => "ammeter reads otherwise",
            Blinks => "module blinks otherwise",
            FuseBlows => "blows a fuse",
        }
    }
}

/// One fault at some of its sizes, and what comes of it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct FaultRow {
    pub fault: Fault,
    /// The sizes at which it does just this, in ohms, volts or a share; one zero if it has none.
    pub magnitudes: Vec<f64>,
    pub verdict: Noticeable,
    /// Index into the document's normal use, and what differs there.
    pub shows: Vec<(usize, Vec<FaultEffect>)>,
    /// Duties that are done without the fault and not with it.
    pub breaks: Vec<usize>,
}

/// What comes of some changes, whatever they stand for.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct ChangeEffects {
    pub verdict: Noticeable,
    /// Index into the document's normal use, and what differs there.
    pub shows: Vec<(usize, Vec<FaultEffect>)>,
    /// Duties that are done without the changes and not with them.
    pub breaks: Vec<usize>,
}

/// Every single fault of a machine, and what comes of it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct FaultSheet {
    pub rows: Vec<FaultRow>,
}

impl FaultSheet {
    /// Works through every single fault that lasts.
    pub fn of(circuit: &Circuit) -> Self {
        let faults: Vec<_> =
            single_faults(circuit).into_iter().filter(|f| f.mode.lasts()).collect();
        Self::of_faults(circuit, &faults)
    }

    /// What each of these sets of changes does to the machine.
    pub fn of_changes(circuit: &Circuit, sets: &[Vec<Change>]) -> Vec<ChangeEffects> {
        if sets.is_empty() {
            return Vec::new();
        }
        let base = Base::of(circuit);
        let parts = pieces(sets.len());
        let carried = carried();
        let together = |sets: &[Vec<Change>]| {
            let running =
                |set: &Vec<Change>| carried.within(|| Judge::new(circuit, set).running_relays());
            let running: Vec<_> = sets.par_iter().map(running).collect();
            let from = |condition: &Condition, set: usize| match condition.engine {
                Engine::Stopped => Relays::default(),
                _ => running[set],
            };
            let dictionary = OutcomeDictionary::of(circuit, &base.asked, sets, from);
            let effects = |(s, set): (usize, &Vec<Change>)| {
                carried.within(|| {
                    let effects = base.effects(Judge::new(circuit, set).knowing(&dictionary, s));
                    parts.one_done();
                    effects
                })
            };
            sets.par_iter().enumerate().map(effects).collect::<Vec<_>>()
        };
        let at_once = (ROOM / base.asked.len().max(1)).max(1);
        sets.chunks(at_once).flat_map(together).collect()
    }

    /// Works through these faults.
    pub fn of_faults(circuit: &Circuit, faults: &[Fault]) -> Self {
        let sizes: Vec<_> =
            faults.iter().flat_map(|f| f.magnitudes().iter().map(move |m| (*f, *m))).collect();
        let sets: Vec<_> = sizes.iter().map(|(fault, size)| vec![fault.at(*size)]).collect();
        let each = Self::of_changes(circuit, &sets);
        let mut rows: Vec<FaultRow> = Vec::new();
        for ((fault, size), effects) in sizes.into_iter().zip(each) {
            let ChangeEffects { verdict, shows, breaks } = effects;
            let mut row = FaultRow { fault, magnitudes: vec![size], verdict, shows, breaks };
            match rows.last_mut() {
                Some(last) if last.same_effect(&row) => last.magnitudes.append(&mut row.magnitudes),
                _ => rows.push(row),
            }
        }
        Self { rows }
    }
}

/// Answers that a dictionary may hold at once.
const ROOM: usize = 8 << 20;

/// The machine without the fault.
struct Base<'a> {
    circuit: &'a Circuit,
    use_: Vec<Condition>,
    /// What is noticed in each.
    sound: Vec<Outcome>,
    /// The duties that it does.
    kept: Vec<bool>,
    /// Every condition, with the engine standing and running: what duties are about.
    asked: Vec<Condition>,
}

impl<'a> Base<'a> {
    fn of(circuit: &'a Circuit) -> Self {
        let use_ = circuit.normal_use();
        let mut healthy = Judge::new(circuit, &[]);
        let sound = noticed(&mut healthy, &use_);
        let kept = prove_duties(&mut healthy).iter().map(|p| p.broken.is_empty()).collect();
        let asked = every_condition(circuit).into_iter().flat_map(|c| {
            [Engine::Stopped, Engine::Running].map(|engine| Condition { engine, ..c.clone() })
        });
        Self { circuit, use_, sound, kept, asked: asked.collect() }
    }

    fn effects(&self, mut judge: Judge<'_>) -> ChangeEffects {
        let faulty = noticed(&mut judge, &self.use_);
        let pairs = self.sound.iter().zip(&faulty).zip(&self.use_).enumerate();
        let shows: Vec<_> = pairs
            .map(|(i, ((was, is), condition))| (i, differences(condition, was, is)))
            .filter(|(_, effects)| !effects.is_empty())
            .collect();
        let proofs = prove_duties(&mut judge);
        let broken =
            proofs.iter().zip(&self.kept).filter(|(p, kept)| **kept && !p.broken.is_empty());
        let breaks: Vec<_> = broken.map(|(p, _)| p.duty).collect();
        // What keeps the machine from working is noticed by whoever wants to work with it.
        let noticed = breaks.iter().any(|d| !self.circuit.document().duties[*d].shall.protects());
        let verdict = match (shows.is_empty() && !noticed, breaks.is_empty()) {
            (false, _) => Noticeable::Shows,
            (true, false) => Noticeable::Silent,
            (true, true) => Noticeable::Harmless,
        };
        ChangeEffects { verdict, shows, breaks }
    }
}

impl FaultRow {
    fn same_effect(&self, other: &Self) -> bool {
        self.fault == other.fault && self.shows == other.shows && self.breaks == other.breaks
    }
}

fn differences(condition: &Condition, was: &Outcome, is: &Outcome) -> Vec<FaultEffect> {
    use FaultEffect::*;
    let mut effects = Vec::new();
    if was.crank != is.crank {
        effects.push(match is.crank {
            _ if was.crank == Crank::No => CranksUnasked,
            Crank::Slow => CranksSlowly,
            Crank::Click => ClicksOnly,
            Crank::Chatter => Chatters,
            _ => DoesNotCrank,
        });
    }
    // Spark and fuel are noticed by whoever turns the engine over.
    if condition.engine != Engine::Stopped && was.spark != is.spark {
        let all = |o: &Outcome, s: Spark| o.spark.iter().all(|x| *x == s);
        effects.push(match () {
            () if all(was, Spark::Killed) => SparkStays,
            () if all(is, Spark::Killed) => NoSpark,
            () if is.spark.contains(&Spark::Killed) => OneCylinder,
            () => WeakSpark,
        });
    }
    if condition.engine != Engine::Stopped && was.fuel != is.fuel {
        effects.push(if is.fuel == Some(true) { FuelStays } else { NoFuel });
    }
    if was.clutch != is.clutch {
        effects.push(match is.clutch {
            Some(ClutchState::Engaged) => BladesOn,
            Some(ClutchState::Slipping) => BladesSlip,
            _ => BladesOff,
        });
    }
    for (was, is) in was.lamps.iter().zip(&is.lamps) {
        use crate::circuit::LampState::{Bright, Dim, Out};
        let effect = match (was, is) {
            (a, b) if a == b => continue,
            (Out, _) => LightsOn,
            (_, Out) => LightsOut,
            (_, Dim) => LightsDim,
            (_, Bright) => continue,
        };
        if !effects.contains(&effect) {
            effects.push(effect);
        }
    }
    if was.ammeters != is.ammeters {
        effects.push(Needle);
    }
    if was.codes != is.codes {
        effects.push(Blinks);
    }
    if is.blown.iter().any(|fuse| !was.blown.contains(fuse)) {
        effects.push(FuseBlows);
    }
    effects
}

fn noticed(judge: &mut Judge<'_>, use_: &[Condition]) -> Vec<Outcome> {
    judge.session(use_).into_iter().map(|(outcome, _)| outcome.noticed()).collect()
}
