//! The virtual mechanic: one machine, one strategy, from the complaint to the verdict.

use super::case::{Case, Faults};
use super::machine::TrialMachine;
use super::surroundings::Surroundings;
use super::universe::Universe;
use super::world::{Trouble, noticed};
use super::yard::{Habit, OWN_ENTRIES};
use crate::circuit::{Condition, Engine, fault_notation};
use crate::diagnosis::{
    Belief, Evidence, Heard, Observation, Plan, Sensed, SetUp, Source, Strategy, TestAction, Unit,
    Why,
};

/// How one case went.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Outcome {
    pub strategy: Strategy,
    /// The machine's fault, in the fault notation.
    pub fault: String,
    /// The unit, or one that nothing tells apart from it, was named; of two faults both were.
    pub right: bool,
    /// The unit itself was the one most suspected.
    pub unit_right: bool,
    pub group: usize,
    /// What the verdict gave itself.
    pub probability: f64,
    /// Whether it was named, rather than the best that was left when nothing more told anything.
    pub named: bool,
    pub tests: usize,
    pub minutes: f64,
    pub wrong_parts: usize,
    /// A verdict said what the drawing has wrong, and it was put right.
    pub drawing_put_right: bool,
    /// Entries that were true and were called slips with more than 90 %.
    pub called_slips: usize,
    /// Bits of doubt over units before the first test and after the last.
    pub bits: (f64, f64),
    /// What was named, by unit id.
    pub verdict: Vec<String>,
    /// All that was told and observed.
    pub log: Vec<Evidence>,
    /// By entry, how well the fault itself explained it, and how well what was named did: shares of
    /// the best explanation.
    pub fits: Vec<(f32, f32)>,
}

/// An error of the drawing, and the machine drawn right.
pub(super) struct DrawnWrong {
    /// In the fault notation: what puts it right is the same.
    pub change: String,
    pub right: TrialMachine,
}

impl DrawnWrong {
    /// Whether this is the error: of two swapped pins either may be named first.
    pub fn is(&self, change: &str) -> bool {
        let turned = |(one, other): (&str, &str)| format!("{other}=swapped:{one}") == self.change;
        change == self.change || change.split_once("=swapped:").is_some_and(turned)
    }
}

/// No mechanic goes on for longer.
const MOST_TESTS: usize = 60;
/// Verdicts, and the repairs that follow them, in one case of two faults.
const MOST_ROUNDS: usize = 4;

/// What a test takes of a person's time besides what it is reckoned to.
const YARD_MINUTES: f64 = 0.75;
/// Fitting a part for nothing, and finding that out.
const WRONG_PART_MINUTES: f64 = 15.0;
/// A slip with more than this chance is called one.
const CALLED_SLIP: f64 = 0.9;

/// Turning the key and listening.
const TRY_MINUTES: f64 = 0.3;

#[derive(Default)]
struct Spent {
    tests: usize,
    minutes: f64,
    rounds: usize,
    wrong_parts: usize,
}

impl Spent {
    fn add(&mut self, minutes: f64) {
        self.tests += 1;
        self.minutes += minutes;
    }
}

impl Case {
    /// Finds the trouble by a strategy.
    pub fn find(self, bench: &TrialMachine, universe: &Universe, strategy: Strategy) -> Outcome {
        self.find_with(bench, universe, strategy, None)
    }

    /// The same with a drawing that may be wrong; it is put right by the verdict that says so.
    pub fn find_with(
        mut self,
        bench: &TrialMachine,
        universe: &Universe,
        strategy: Strategy,
        drawn_wrong: Option<&DrawnWrong>,
    ) -> Outcome {
        let mut bench = bench;
        let mut drawing_put_right = false;
        let circuit = bench.model.circuit();
        let changes: Vec<_> = self.world.troubles.iter().map(|t| t.change).collect();
        let fault: Vec<_> = changes.iter().map(|c| fault_notation(circuit, *c)).collect();
        let truth =
            self.world.troubles.first().map(|t| bench.model.suspects().list[t.suspect].unit);
        let mut log = self.told.clone();
        let mut so_far = Spent::default();
        let mut start_bits = None;
        // First of all the complaint itself is tried.
        self.try_complaint(bench, &mut log, &mut so_far);
        loop {
            let belief = bench.model.judge(&log);
            let bits = doubt(bench, &belief);
            let start = *start_bits.get_or_insert(bits);
            let plan = bench.model.plan_by(strategy, &belief, &log, &self.complaint);
            let named = plan.conclusion.as_ref().is_some_and(|c| c.confirmed);
            self.live_a_day(&mut log, so_far.tests);
            if !named && self.by_habit(bench, &belief, &mut log, &mut so_far) {
                continue;
            }
            if let Some(test) = plan.tests.first()
                && !named
                && so_far.tests < MOST_TESTS * (so_far.rounds + 1)
            {
                so_far.add(test.minutes + self.each_minutes());
                self.world.pass(test.minutes);
                let why = test.why;
                let test = (test.action, test.condition.clone(), test.set_up.clone());
                self.observe(bench, &mut log, test);
                if why == Why::Recheck
                    && let Some(last) = log.last()
                    && !as_sound(bench, last)
                {
                    self.complaint = last.condition.clone();
                }
                continue;
            }
            let verdict = Named::of(bench, &belief, &plan);
            if let Some(drawn) = drawn_wrong.filter(|_| !drawing_put_right)
                && let Some(change) = bench.model.drawing_error(&belief, &verdict.units)
                && drawn.is(&change)
            {
                drawing_put_right = true;
                self.world.troubles = drawn.right.troubles(&self.world.troubles, bench);
                bench = &drawn.right;
                continue;
            }
            let unit_right = self.is_truth(bench, verdict.units[0]);
            let found = self.judge(bench, universe, &verdict);
            so_far.rounds += 1;
            // What was named is repaired: of a group, what opening it up shows to be bad, else what
            // stands first in it.
            let first = || {
                let bad = |t: &Trouble| self.names(bench, t.suspect, &verdict.units[..1]);
                self.world.troubles.iter().position(bad)
            };
            let given_back = verdict.units[0] == Unit::Nothing;
            let repaired = match found.or_else(first) {
                Some(trouble) => {
                    let trouble = self.world.troubles.remove(trouble);
                    bench.model.suspects().list[trouble.suspect].unit
                }
                None => {
                    so_far.wrong_parts += usize::from(!given_back);
                    if !given_back && self.surroundings == Surroundings::Yard {
                        so_far.minutes += WRONG_PART_MINUTES;
                    }
                    verdict.units[0]
                }
            };
            let healed = self.world.troubles.is_empty();
            let double = self.faults == Faults::Double;
            if healed || given_back || !double || so_far.rounds == MOST_ROUNDS {
                return Outcome {
                    strategy,
                    fault: fault.join(" "),
                    // A fault that stands in a group by luck is not found.
                    right: healed && (double || found.is_some()),
                    unit_right,
                    group: verdict.units.len(),
                    probability: verdict.probability,
                    named,
                    tests: so_far.tests,
                    minutes: so_far.minutes,
                    wrong_parts: so_far.wrong_parts,
                    drawing_put_right,
                    called_slips: self.called_slips(&belief, &log),
                    bits: (start, bits),
                    verdict: verdict.units.iter().map(|u| u.id(circuit)).collect(),
                    fits: {
                        let own =
                            belief.fits(bench.model.suspects(), truth.unwrap_or(Unit::Nothing));
                        let named = belief.fits(bench.model.suspects(), verdict.units[0]);
                        own.into_iter().zip(named).collect()
                    },
                    log,
                };
            }
            self.record(&mut log, self.complaint.clone(), vec![], Observation::Repaired(repaired));
            self.try_complaint(bench, &mut log, &mut so_far);
        }
    }

    /// The trouble that a verdict names, by index: its unit, or one of a group that nothing tells
    /// apart from it.
    fn judge(&self, bench: &TrialMachine, universe: &Universe, verdict: &Named) -> Option<usize> {
        self.world.troubles.iter().position(|trouble| {
            let unit = bench.model.suspects().list[trouble.suspect].unit;
            if !self.names(bench, trouble.suspect, &verdict.units) {
                return false;
            }
            let truth = bench.scenario_of(trouble);
            verdict.units.iter().filter(|u| **u != unit).all(|other| {
                bench.scenarios_of(*other).iter().any(|scenario| {
                    !universe.tells_apart(
                        bench.circuit(),
                        &bench.model.suspects().scenarios,
                        truth,
                        *scenario,
                    )
                })
            })
        })
    }

    /// Whether one of these units is where a suspect's fault sits. Of two wires that touch, either.
    fn names(&self, bench: &TrialMachine, suspect: usize, units: &[Unit]) -> bool {
        let suspect = &bench.model.suspects().list[suspect];
        units.contains(&suspect.unit)
            || suspect.wires.iter().any(|w| units.contains(&Unit::Wire(*w)))
    }

    fn is_truth(&self, bench: &TrialMachine, unit: Unit) -> bool {
        self.world.troubles.iter().any(|t| self.names(bench, t.suspect, &[unit]))
    }

    /// Tries what was complained of.
    fn try_complaint(&mut self, bench: &TrialMachine, log: &mut Vec<Evidence>, so_far: &mut Spent) {
        let Some(told) = self.told.first() else { return };
        let Observation::Sensed(sensed) = told.observation else { return };
        let test = (TestAction::Try(sensed.sense()), told.condition.clone(), vec![]);
        self.observe(bench, log, test);
        so_far.add(TRY_MINUTES);
    }

    fn observe(
        &mut self,
        bench: &TrialMachine,
        log: &mut Vec<Evidence>,
        (action, condition, set_up): (TestAction, Condition, Vec<SetUp>),
    ) {
        let at = (&condition, set_up.as_slice());
        let seen = self.world.observe(&bench.model.suspects().list, action, at, &mut self.random);
        self.record(log, condition, set_up, seen);
        if self.world.slipped() {
            self.slips.push(log.len() as u64);
        }
    }

    /// What a test costs a person besides.
    fn each_minutes(&self) -> f64 {
        if self.surroundings == Surroundings::Yard { YARD_MINUTES } else { 0.0 }
    }

    /// The battery is charged, swapped or left between two tests.
    fn live_a_day(&mut self, log: &mut Vec<Evidence>, tests: usize) {
        let Some(day) = self.battery_day.filter(|day| tests >= day.at_test) else { return };
        self.battery_day = None;
        self.world.set_battery(day.volts);
        self.record(log, self.complaint.clone(), vec![], Observation::Battery(day.event));
    }

    /// In the yard a mechanic begins in an order of their own; whether something was done.
    fn by_habit(
        &mut self,
        bench: &TrialMachine,
        belief: &Belief,
        log: &mut Vec<Evidence>,
        so_far: &mut Spent,
    ) -> bool {
        if self.surroundings != Surroundings::Yard || so_far.tests >= OWN_ENTRIES {
            return false;
        }
        let suspects = &bench.model.suspects().list;
        let at = self.complaint.clone();
        let tests = bench.model.every_test(Strategy::BestSplit, belief, log, &at);
        let habit = Habit::draw(bench.model.circuit(), &tests, &mut self.random);
        match habit {
            Some(Habit::Test(n)) => {
                let test = &tests[n];
                so_far.add(test.minutes + YARD_MINUTES);
                self.world.pass(test.minutes + YARD_MINUTES);
                let test = (test.action, test.condition.clone(), test.set_up.clone());
                self.observe(bench, log, test);
            }
            Some(Habit::Again) => {
                let read = |e: &&Evidence| matches!(e.observation, Observation::Read { .. });
                let Some(last) = log.iter().rev().find(read).cloned() else { return false };
                let Observation::Read { instrument, red, black, .. } = last.observation else {
                    return false;
                };
                let points = bench.model.circuit().document().test_points.len();
                let point =
                    |node| (0..points).find(|i| bench.model.circuit().test_point(*i) == Some(node));
                let (Some(red), Some(black)) = (point(red), point(black)) else { return false };
                so_far.add(YARD_MINUTES);
                let action = TestAction::Measure { instrument, red, black };
                self.observe(bench, log, (action, last.condition, last.set_up));
            }
            Some(Habit::Jumper(jumper)) if at.engine == Engine::Stopped => {
                so_far.add(YARD_MINUTES);
                let seen = self.world.jumped(suspects, &at, jumper, &mut self.random);
                self.record(log, at, vec![jumper], seen);
            }
            Some(Habit::Feel(coil)) => {
                so_far.add(YARD_MINUTES);
                let (seen, misnamed) = self.world.felt(suspects, &at, coil, &mut self.random);
                let at = Condition { engine: Engine::Stopped, ..at };
                self.record(log, at, vec![], seen);
                if misnamed {
                    self.slips.push(log.len() as u64);
                }
            }
            _ => return false,
        }
        true
    }

    /// Entries that were true and count as slips.
    fn called_slips(&self, belief: &Belief, log: &[Evidence]) -> usize {
        let tested = |n: u64| log.iter().any(|e| e.sequence == n && e.source == Source::Tested);
        let called = belief.judgements.iter().filter(|j| j.slip > CALLED_SLIP);
        called.filter(|j| tested(j.sequence) && !self.slips.contains(&j.sequence)).count()
    }

    fn record(
        &self,
        log: &mut Vec<Evidence>,
        condition: Condition,
        set_up: Vec<SetUp>,
        observation: Observation,
    ) {
        log.push(Evidence {
            sequence: log.len() as u64 + 1,
            condition,
            set_up,
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        });
    }
}

/// Whether what was noticed is what a sound machine shows there.
fn as_sound(bench: &TrialMachine, entry: &Evidence) -> bool {
    let sound = noticed(bench.circuit(), &[], &entry.condition);
    match entry.observation {
        Observation::Sensed(Sensed::Starter(heard)) => heard == Heard::of(sound.crank),
        Observation::Sensed(Sensed::Engine(does)) => does == sound.engine,
        Observation::Sensed(Sensed::Blades(turn)) => turn == sound.blades,
        Observation::Sensed(Sensed::Lamp(lamp, burns)) => sound.lamps.get(lamp) == Some(&burns),
        _ => true,
    }
}

/// What is named in the end.
struct Named {
    units: Vec<Unit>,
    probability: f64,
}

impl Named {
    /// The conclusion, or the group most suspected.
    fn of(bench: &TrialMachine, belief: &Belief, plan: &Plan) -> Self {
        let units = match (&plan.conclusion, plan.groups.first()) {
            (Some(conclusion), _) => conclusion.units.clone(),
            (None, Some(group)) => group.clone(),
            (None, None) => vec![Unit::Nothing],
        };
        let probability: f64 =
            units.iter().map(|u| belief.of_unit(bench.model.suspects(), *u)).sum();
        Self { units, probability: probability.min(1.0) }
    }
}

/// Entropy over units, in bits.
fn doubt(bench: &TrialMachine, belief: &Belief) -> f64 {
    let units = belief.units(bench.model.suspects());
    let total: f64 = units.iter().map(|u| u.probability).sum();
    let shares = units.iter().map(|u| u.probability / total).filter(|p| *p > 0.0);
    -shares.map(|p| p * p.log2()).sum::<f64>()
}
