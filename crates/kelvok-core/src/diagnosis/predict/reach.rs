//! How far what a fault changes is felt in one situation: most faults are nowhere near where a current
//! flows or a probe stands, and need not be solved.

use crate::circuit::{Change, Circuit, DiodeRange, Engine, NodeId, Settled};
use crate::diagnosis::evidence::Probe;
use crate::diagnosis::faults::Scenario;
use std::cell::RefCell;

/// The sound machine in a situation, asked what a scenario would come to in it.
pub(crate) struct Reach<'a> {
    circuit: &'a Circuit,
    engine: Engine,
    /// None where it chatters: then everything is felt.
    settled: Option<Settled<'a>>,
}

impl<'a> Reach<'a> {
    pub fn new(circuit: &'a Circuit, engine: Engine, settled: Option<Settled<'a>>) -> Self {
        Self { circuit, engine, settled }
    }

    /// Whether the sound machine settles, so that anything can be said of it.
    pub fn is_known(&self) -> bool {
        self.settled.is_some()
    }

    /// Whether a scenario changes nothing in a circuit that stands still like this.
    fn does_nothing(&self, scenario: &Scenario) -> bool {
        scenario.changes.iter().all(|change| match change {
            Change::NoDelay(_) | Change::Ails(..) => true,
            Change::GroundWhenHot(..) => self.engine != Engine::RunningHot,
            _ => false,
        })
    }

    /// Whether nothing that a scenario changes carries a current or comes to carry one: volts across
    /// everything, relays and fuses are the sound machine's. A piece that comes off, or is joined at
    /// one place, has its volts counted from elsewhere.
    pub fn is_dormant(&self, scenario: &Scenario) -> bool {
        self.does_nothing(scenario)
            || self.settled.as_ref().is_some_and(|settled| {
                let ends = scenario.only_between(self.circuit);
                ends.is_some_and(|e| settled.is_still(e) || settled.joins_harmlessly(e))
            })
    }

    /// Whether node volts are the sound machine's, too.
    pub fn is_unseen(&self, scenario: &Scenario) -> bool {
        // What conducts goes on conducting.
        let stays = |c: &Change| matches!(c, Change::Ohms(..) | Change::ShortedTurns(..));
        self.does_nothing(scenario)
            || self.settled.as_ref().is_some_and(|settled| {
                let ends = scenario.only_between(self.circuit);
                scenario.changes.iter().all(stays) && ends.is_some_and(|e| settled.is_still(e))
            })
    }

    /// What probes would feel.
    ///
    /// # Arguments
    /// `dead` is whether nothing drives a current anywhere, whatever is wrong. `ranges` are the diode
    /// ranges among the probes, as read on the sound machine.
    pub fn at(
        &self,
        probes: &[Probe],
        dead: bool,
        ranges: Vec<Option<DiodeRange<'a>>>,
    ) -> Feeling<'_> {
        let drive = |p: &Probe| self.settled.as_ref()?.drive(p.red, p.black);
        let ranges = ranges.into_iter().chain(std::iter::repeat_with(|| None));
        let each = probes.iter().zip(ranges).map(|(p, range)| match range {
            Some(range) => (*p, Means::Range(Box::new(RefCell::new(range)))),
            None => (*p, Means::Ampere(drive(p))),
        });
        Feeling { of: self, dead, probes: each.collect() }
    }
}

/// What a changed conductance would be felt by: the potentials that an ampere from probe to probe
/// makes. By reciprocity, what is changed where that ampere makes no volts changes nothing between
/// the probes.
pub(crate) struct Feeling<'a> {
    of: &'a Reach<'a>,
    dead: bool,
    probes: Vec<(Probe, Means<'a>)>,
}

/// By what a probe feels: node volts with an ampere driven through, none where its points lie apart;
/// or a diode range, which turns diodes itself.
enum Means<'a> {
    Ampere(Option<Vec<f64>>),
    Range(Box<RefCell<DiodeRange<'a>>>),
}

/// A probe with more volts than this may be on something live.
const CALM_VOLTS: f64 = 1e-6;
/// Less than this share of the probes' own volts is none.
const NO_SHARE: f64 = 1e-9;

impl Feeling<'_> {
    /// Whether a probe, by its place, may feel a dormant scenario.
    pub fn of(&self, probe: usize, scenario: &Scenario) -> bool {
        let Some(settled) = &self.of.settled else { return true };
        if self.of.does_nothing(scenario) {
            return false;
        }
        let Some((a, b)) = scenario.only_between(self.of.circuit) else { return true };
        let (Probe { red, black, .. }, means) = &self.probes[probe];
        let driven = match means {
            Means::Range(range) => return !range.borrow_mut().is_still((a, b)),
            Means::Ampere(driven) => driven,
        };
        if !settled.joined((a, b)) {
            // What is joined there may be on something live.
            return !self.dead || settled.bridges((a, b), (*red, *black));
        }
        let calm = |n: &NodeId| settled.volts(*n).abs() < CALM_VOLTS;
        // Cut off from what feeds it, a probe is no longer on anything live.
        if !calm(red) || !calm(black) {
            return true;
        }
        let Some(volts) = driven else { return false };
        let across = |a: NodeId, b: NodeId| (volts[a.index()] - volts[b.index()]).abs();
        across(a, b) > NO_SHARE * across(*red, *black)
    }
}
