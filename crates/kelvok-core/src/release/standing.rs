//! How far a release is: what every step came to, what has to be tried again and why, and what blocks.

use super::entry::{Recorded, ReleaseEntry, TriedStep};
use super::killed::{CauseOpen, Killed};
use super::plan::{PlannedStep, ReleasePlan, Unexposed};
use super::step::Saw;
use crate::circuit::{Circuit, PlungerId};
use crate::diagnosis::{Evidence, Observation, SetUp, Unit, jumper_on, still_off};
use crate::machine::{Part, PartKind};
use std::collections::BTreeSet;

/// Why a step that was tried is asked again.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum AskedAgain {
    /// A unit was put right since, and a fault of it would show here.
    Repaired(Unit),
    /// A plug or a wire was off since, and a fault of it would show here.
    PutBack(SetUp),
    /// Something was unplugged, jumped or taken off while it was tried: it was another machine.
    NotWhole,
    /// The drawing was changed since.
    Drawing,
    /// It was seen one way and the other, with nothing put right in between: twice in a row it must go well.
    Differed,
}

/// What a step came to.
#[derive(Clone, Debug, Default, PartialEq)]
#[allow(missing_docs)]
pub struct StepResult {
    /// What was seen last, and where that is recorded.
    pub saw: Option<Saw>,
    pub seconds: Option<f64>,
    pub sequence: Option<u64>,
    /// It was as it should be, in time.
    pub passed: bool,
    pub again: Option<AskedAgain>,
}

impl StepResult {
    /// Whether nothing has to be done about it.
    pub fn is_done(&self) -> bool {
        self.passed && self.again.is_none()
    }

    /// Whether it was tried, and was not as it should be.
    pub fn failed(&self) -> bool {
        self.saw.is_some() && !self.passed && self.again.is_none()
    }
}

/// What stands in the way of a release.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Blocker {
    /// Something that was changed for a test is still so.
    StillOff(SetUp),
    /// Jumper cables hang on the battery.
    JumperCables,
    /// A duty that the machine as it came does not do, by index.
    Broken(usize),
    /// Nothing is known that the interlocks must do: there is nothing to try.
    NoDuties,
    /// Steps, by their places.
    Untried(usize),
    Failed(usize),
    Again(usize),
    /// A fault that no step shows and that nobody looked for, or that is there: by its place among those.
    Unchecked(usize),
    FoundBad(usize),
    /// A fuse, by part, that nobody read.
    FuseUnread(usize),
    /// A fuse of more amperes than the circuit is made for.
    FuseOver {
        part: usize,
        amps: f64,
        called_for: f64,
    },
    /// Nobody looked at what killed a part: by the part's place, and the cause's.
    CauseUnchecked(usize, usize),
    /// What killed a part is there still.
    CauseThere(usize, usize),
}

/// How far a release is.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct ReleaseStanding {
    /// Of every step of the plan.
    pub steps: Vec<StepResult>,
    pub blockers: Vec<Blocker>,
    /// Of every fault that no step shows, whether it was there, once somebody looked.
    pub checks: Vec<Option<bool>>,
    /// The fuses of the machine, by part, with what was read on each last.
    pub fuses: Vec<(usize, Option<f64>)>,
    /// The step to try next.
    pub next: Option<usize>,
}

impl ReleaseStanding {
    /// Judges what was recorded.
    ///
    /// # Arguments
    /// `recorded` has the entries that stand, in order; `log` is the job's evidence that stands, `all` that which was
    /// taken back, too; `revision` is the drawing's, `killed` the parts that were found bad.
    pub fn of(
        circuit: &Circuit,
        plan: &ReleasePlan,
        recorded: &[Recorded],
        (log, all): (&[Evidence], &[Evidence]),
        revision: u32,
        killed: &[Killed],
    ) -> Self {
        let steps: Vec<_> = plan
            .steps
            .iter()
            .map(|planned| result(circuit, planned, recorded, (log, all), revision))
            .collect();
        let fuses = fuses_read(circuit, recorded);
        let mut blockers: Vec<_> = still_off(all).into_iter().map(Blocker::StillOff).collect();
        if jumper_on(log) {
            blockers.push(Blocker::JumperCables);
        }
        blockers.extend(plan.broken.iter().map(|b| Blocker::Broken(b.duty)));
        if plan.steps.is_empty() {
            blockers.push(Blocker::NoDuties);
        }
        blockers.extend(steps.iter().enumerate().filter_map(|(i, result)| match result {
            result if result.is_done() => None,
            StepResult { saw: None, .. } => Some(Blocker::Untried(i)),
            StepResult { again: Some(_), .. } => Some(Blocker::Again(i)),
            _ => Some(Blocker::Failed(i)),
        }));
        let checks: Vec<_> = plan.unexposed(circuit).iter().map(|f| checked(recorded, f)).collect();
        blockers.extend(checks.iter().enumerate().filter_map(|(i, bad)| match bad {
            None => Some(Blocker::Unchecked(i)),
            Some(true) => Some(Blocker::FoundBad(i)),
            Some(false) => None,
        }));
        blockers.extend(fuses.iter().filter_map(|(part, read)| {
            let called_for = circuit.part(*part).amps?;
            match read {
                None => Some(Blocker::FuseUnread(*part)),
                Some(amps) if *amps > called_for => {
                    Some(Blocker::FuseOver { part: *part, amps: *amps, called_for })
                }
                Some(_) => None,
            }
        }));
        blockers.extend(killed.iter().enumerate().filter_map(|(part, own)| {
            Some(match own.open()? {
                CauseOpen::NotChecked(cause) => Blocker::CauseUnchecked(part, cause),
                CauseOpen::StillThere(cause) => Blocker::CauseThere(part, cause),
            })
        }));
        // What failed waits for its repair; what was never tried or is asked again comes first.
        let open = |r: &StepResult| !r.is_done() && !r.failed();
        let next = steps.iter().position(open).or_else(|| steps.iter().position(|r| !r.is_done()));
        Self { steps, blockers, checks, fuses, next }
    }
}

fn result(
    circuit: &Circuit,
    planned: &PlannedStep,
    recorded: &[Recorded],
    (log, all): (&[Evidence], &[Evidence]),
    revision: u32,
) -> StepResult {
    let own = TriedStep::of(circuit, &planned.step);
    let mut result = StepResult::default();
    let mut by = 0;
    // Since the last repair that it may have been changed by, or the last other drawing.
    let (mut good_in_a_row, mut bad) = (0, 0);
    let handled_at = log.iter().filter_map(|e| {
        let (unit, again) = match e.observation {
            Observation::Repaired(unit) => (unit, AskedAgain::Repaired(unit)),
            Observation::PutBack(what) => (was_off(what)?, AskedAgain::PutBack(what)),
            _ => return None,
        };
        let shows = !planned.concerns.is_disjoint(&handled(circuit, unit));
        shows.then_some((e.sequence, again))
    });
    let repairs: Vec<(u64, AskedAgain)> = handled_at.collect();
    let whole = |sequence: u64| {
        let before = |e: &&Evidence| e.sequence < sequence;
        still_off(all.iter().filter(before)).is_empty() && !jumper_on(log.iter().filter(before))
    };
    let mut last = 0;
    for Recorded { sequence, entry } in recorded {
        let ReleaseEntry::Step { tried, saw, seconds, revision: drawn } = entry else { continue };
        if *tried != own {
            continue;
        }
        let repaired = repairs.iter().any(|(at, _)| (last..*sequence).contains(at));
        if repaired || *drawn != by {
            (good_in_a_row, bad) = (0, 0);
        }
        (by, last) = (*drawn, *sequence);
        let late = seconds.zip(own.within).is_some_and(|(took, within)| took > within);
        let passed = *saw == own.expected && !late;
        if passed {
            good_in_a_row += 1;
        } else {
            good_in_a_row = 0;
            bad += 1;
        }
        result = StepResult {
            saw: Some(*saw),
            seconds: *seconds,
            sequence: Some(*sequence),
            passed,
            again: (passed && bad > 0 && good_in_a_row < 2).then_some(AskedAgain::Differed),
        };
    }
    let since = repairs.iter().rev().find(|(at, _)| result.sequence.is_some_and(|s| *at > s));
    if let Some((_, again)) = since {
        result.again = Some(*again);
    } else if result.sequence.is_some_and(|s| !whole(s)) {
        result.again = Some(AskedAgain::NotWhole);
    } else if result.saw.is_some() && by != revision {
        result.again = Some(AskedAgain::Drawing);
    }
    result
}

/// The unit that was off by itself; what a jumper bridged was not.
fn was_off(what: SetUp) -> Option<Unit> {
    match what {
        SetUp::Unplugged(part) | SetUp::LampInPlace(part) => Some(Unit::Part(part)),
        SetUp::WireOff(wire) => Some(Unit::Wire(wire)),
        _ => None,
    }
}

/// What is handled with a unit: who fits a switch handles its linkage and its plug, who bends a linkage its switch.
fn handled(circuit: &Circuit, unit: Unit) -> BTreeSet<Unit> {
    let mut all = BTreeSet::from([unit]);
    let plungers = circuit.plungers.iter().enumerate();
    match unit {
        Unit::Part(part) => {
            let own = plungers.filter(|(_, p)| p.part == part);
            all.extend(own.map(|(i, _)| Unit::Linkage(PlungerId(i as u16))));
            let id = &circuit.part(part).id;
            let plugs = circuit.document().parts.iter().enumerate();
            let on_it = |mate: &String| mate.split_once('.').is_some_and(|(p, _)| p == id);
            let plugs = plugs.filter(|(_, p)| p.mates.values().any(on_it));
            all.extend(plugs.map(|(i, _)| Unit::Part(i)));
        }
        Unit::Linkage(plunger) => {
            all.insert(Unit::Part(circuit.plungers[plunger.index()].part));
        }
        Unit::Wire(_) | Unit::Nothing => {}
    }
    all
}

fn checked(recorded: &[Recorded], unexposed: &Unexposed) -> Option<bool> {
    recorded.iter().rev().find_map(|r| match &r.entry {
        ReleaseEntry::Checked { fault, bad, .. } if *fault == unexposed.fault => Some(*bad),
        _ => None,
    })
}

/// The fuses of the machine, by part, with what was read on each last.
pub fn fuses_read(circuit: &Circuit, recorded: &[Recorded]) -> Vec<(usize, Option<f64>)> {
    let parts =
        circuit.document().parts.iter().enumerate().filter(|(_, p)| p.kind == PartKind::Fuse);
    let read = |part: &Part| {
        recorded.iter().rev().find_map(|r| match &r.entry {
            ReleaseEntry::Fuse { fuse, amps } if *fuse == part.id => Some(*amps),
            _ => None,
        })
    };
    parts.map(|(i, part)| (i, read(part))).collect()
}
