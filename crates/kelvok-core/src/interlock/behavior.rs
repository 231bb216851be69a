//! What a condition comes to: cranks, would start, keeps running, drives the blades.

use crate::circuit::{
    Change, Circuit, ClutchState, Condition, Crank, Engine, Lane, Lanes, Outcome,
    OutcomeDictionary, Relays, Sequence, Setting, Solved, Solver, Spark, Step,
};
use serde::Serialize;

/// What the machine does in one position of its controls.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Behavior {
    /// The starter turns the engine over; on a machine with a rope, whoever pulls it does.
    pub cranks: bool,
    /// It would fire up while it is turned over.
    pub starts: bool,
    /// A running engine keeps running.
    pub runs: bool,
    /// Something couples the blades to the engine, whether that runs or not.
    pub coupled: bool,
    /// With the engine running the blades turn, slipping or not.
    pub blades: bool,
}

/// Asks one machine, with some changes, what it does in one condition after another.
pub struct Judge<'c> {
    circuit: &'c Circuit,
    changes: Vec<Change>,
    as_built: bool,
    solver: Solver<'c>,
    /// Relays as ordinary starting leaves them: what has sealed itself in by then.
    running: Relays,
    /// Whether a contact breaks again by itself: then what happens after a control moved depends
    /// on its having moved.
    lapses: bool,
    /// What its changes do, by their place in a dictionary, as far as that was worked out ahead.
    known: Option<(&'c OutcomeDictionary, usize)>,
}

/// Seconds after which everything that lapses has lapsed.
const SETTLED: f64 = 60.0;

impl<'c> Judge<'c> {
    /// The machine as it was found, with changes besides.
    pub fn new(circuit: &'c Circuit, changes: &[Change]) -> Self {
        Self::of(circuit, changes, false)
    }

    /// The machine as its maker built it, with changes besides.
    pub fn as_built(circuit: &'c Circuit, changes: &[Change]) -> Self {
        Self::of(circuit, changes, true)
    }

    fn of(circuit: &'c Circuit, changes: &[Change], as_built: bool) -> Self {
        let mut judge = Self {
            circuit,
            changes: changes.to_vec(),
            as_built,
            solver: Solver::for_changes(circuit, changes),
            running: Relays::default(),
            lapses: circuit.contacts.iter().any(|c| c.timing.is_some_and(|t| t.made_for > 0.0)),
            known: None,
        };
        let mut until_running = circuit.normal_use();
        if let Some(first) = until_running.iter().position(|c| c.engine >= Engine::Running) {
            until_running.truncate(first + 1);
        }
        judge.running = judge.session(&until_running).last().map_or(Relays::default(), |s| s.1);
        judge
    }

    /// Looks up what was worked out ahead, from the relays of [`Judge::relays_in`].
    ///
    /// # Arguments
    /// `set` is where these changes stand in the dictionary.
    pub fn knowing(mut self, dictionary: &'c OutcomeDictionary, set: usize) -> Self {
        self.known = (!self.as_built).then_some((dictionary, set));
        self
    }

    /// What was worked out ahead of a condition, from these relays.
    fn known(&self, condition: &Condition, relays: Relays) -> Option<&'c (Outcome, Relays)> {
        let (dictionary, set) = self.known?;
        let same = relays == self.relays_in(condition);
        dictionary.outcome(condition, set).filter(|_| same)
    }

    /// The same with all that is noticed: of an engine that stands, sparks were left out.
    fn known_whole(&self, condition: &Condition, relays: Relays) -> Option<&'c (Outcome, Relays)> {
        self.known(condition, relays).filter(|_| condition.engine != Engine::Stopped)
    }

    /// One condition after the other, each from the relays as the one before left them; what is
    /// noticed once each has stood for a while, and the relays then.
    pub fn session(&mut self, conditions: &[Condition]) -> Vec<(Outcome, Relays)> {
        if !self.lapses {
            let mut relays = Relays::default();
            let each = conditions.iter().map(|condition| {
                let settled = self.outcome(condition, relays);
                relays = settled.1;
                settled
            });
            return each.collect();
        }
        let rest = Condition::at_rest(self.circuit);
        let mut sequence = self.begin(&rest, Relays::default());
        let steps = conditions.iter().map(|condition| {
            let step = Step {
                moves: condition.positions.iter().copied().enumerate().collect(),
                engine: Some(condition.engine),
                hold: SETTLED,
            };
            let last = sequence.step(0, &step).pop();
            let outcome = last.map(|moment| moment.point.outcome);
            outcome.map(|outcome| (outcome, sequence.relays()))
        });
        steps.flatten().collect()
    }

    /// A sequence that begins in a condition that has stood for long.
    pub fn begin(&self, condition: &Condition, relays: Relays) -> Sequence<'c> {
        let begin = match self.as_built {
            true => Sequence::begin_as_built,
            false => Sequence::begin,
        };
        begin(self.circuit, condition, relays, &self.changes)
    }

    /// The circuit of the machine it judges.
    pub fn circuit(&self) -> &'c Circuit {
        self.circuit
    }

    /// The changes the machine is judged with.
    pub fn changes(&self) -> &[Change] {
        &self.changes
    }

    /// Whether the changes that it came with are left out.
    pub fn is_as_built(&self) -> bool {
        self.as_built
    }

    /// The relays as ordinary starting leaves them.
    pub fn running_relays(&self) -> Relays {
        self.running
    }

    /// The relays from which a condition settles: while the engine runs, as ordinary starting
    /// leaves them; else from rest.
    pub fn relays_in(&self, condition: &Condition) -> Relays {
        if condition.engine >= Engine::Running { self.running } else { Relays::default() }
    }

    /// The setting of a condition, as judged here.
    pub fn setting(&self, condition: &Condition) -> Setting {
        let base = match self.as_built {
            true => Setting::as_built(self.circuit, condition),
            false => Setting::new(self.circuit, condition),
        };
        base.with(self.circuit, &self.changes)
    }

    fn solve(&mut self, condition: &Condition, relays: Relays) -> Setting {
        let setting = self.setting(condition);
        self.solver.solve(&[&setting], &[relays]);
        setting
    }

    /// What an operator would notice in a condition, from relays as they were; and the relays
    /// afterwards.
    pub fn outcome(&mut self, condition: &Condition, relays: Relays) -> (Outcome, Relays) {
        if let Some(known) = self.known_whole(condition, relays) {
            return known.clone();
        }
        let setting = self.solve(condition, relays);
        (Outcome::of(self.circuit, &self.solver.lane(0), &setting), self.solver.relays(0))
    }

    /// Whether the starter turns the engine over; on a machine with a rope, whoever pulls it does.
    pub fn cranks(&mut self, condition: &Condition) -> bool {
        self.crank_in_each(std::slice::from_ref(condition))[0]
    }

    fn crank_in_each(&mut self, conditions: &[Condition]) -> Vec<bool> {
        let recoil = self.circuit.document().drive.recoil;
        let at = with_engine(conditions, Engine::Stopped);
        let known = |c| self.known(c, Relays::default()).map(|(outcome, _)| outcome.crank);
        let cranks = at.iter().map(known).collect::<Option<Vec<_>>>().unwrap_or_else(|| {
            self.solve_each(&at, Relays::default(), |solved, setting| {
                Crank::of(solved.circuit(), solved, setting)
            })
        });
        cranks.into_iter().map(|crank| recoil || crank == Crank::Yes).collect()
    }

    /// What the controls at these positions come to, whatever the engine state written in.
    pub fn behavior(&mut self, condition: &Condition) -> Behavior {
        self.behavior_in_each(std::slice::from_ref(condition))[0]
    }

    /// The same of many conditions, eight at a time.
    pub fn behavior_in_each(&mut self, conditions: &[Condition]) -> Vec<Behavior> {
        let circuit = self.circuit;
        let recoil = circuit.document().drive.recoil;
        let cranks = self.crank_in_each(conditions);
        let turned: Vec<_> =
            conditions.iter().zip(&cranks).filter(|(_, cranks)| **cranks).map(|(c, _)| c).collect();
        let turned = with_engine(turned, Engine::Cranking);
        // With the starter drawing, the coil may see too little, or a relay let go.
        let fires: Vec<_> = turned
            .iter()
            .zip(self.settled_from_rest(&turned))
            .map(|(at, o)| (recoil || o.crank == Crank::Yes) && circuit.runs(at, &o))
            .collect();
        let running = with_engine(conditions, Engine::Running);
        let goes = self.outcome_in_each(&running, self.running);
        let mut fires = fires.into_iter();
        let each = cranks.iter().zip(running.iter().zip(&goes));
        each.map(|(cranks, (at, outcome))| {
            let runs = circuit.runs(at, outcome);
            let coupled = circuit.blades(at, outcome);
            let starts = *cranks && fires.next().unwrap_or(false);
            Behavior { cranks: *cranks, starts, runs, coupled, blades: runs && coupled }
        })
        .collect()
    }

    /// What is noticed in conditions that were each gone to from rest.
    fn settled_from_rest(&mut self, conditions: &[Condition]) -> Vec<Outcome> {
        if !self.lapses {
            return self.outcome_in_each(conditions, Relays::default());
        }
        let each = conditions.iter().map(|condition| {
            let session = self.session(std::slice::from_ref(condition));
            match session.into_iter().next() {
                Some((outcome, _)) => outcome,
                None => self.outcome(condition, Relays::default()).0,
            }
        });
        each.collect()
    }

    fn outcome_in_each(&mut self, conditions: &[Condition], relays: Relays) -> Vec<Outcome> {
        let known = |c| self.known_whole(c, relays).map(|(outcome, _)| outcome.clone());
        let known: Option<Vec<_>> = conditions.iter().map(known).collect();
        known.unwrap_or_else(|| {
            self.solve_each(conditions, relays, |solved, setting| {
                Outcome::of(solved.circuit(), solved, setting)
            })
        })
    }

    /// Solves conditions, each from the same relays: many eight at a time.
    fn solve_each<T>(
        &mut self,
        conditions: &[Condition],
        relays: Relays,
        of: impl Fn(&dyn Solved, &Setting) -> T,
    ) -> Vec<T> {
        if let [condition] = conditions {
            let setting = self.solve(condition, relays);
            return vec![of(&self.solver.lane(0), &setting)];
        }
        let mut solver: Solver<'_, Lanes> = Solver::for_changes(self.circuit, &self.changes);
        let mut all = Vec::with_capacity(conditions.len());
        for some in conditions.chunks(Lanes::WIDTH) {
            let settings: Vec<_> = some.iter().map(|c| self.setting(c)).collect();
            let each: Vec<_> = settings.iter().collect();
            solver.solve(&each, &[relays; Lanes::WIDTH]);
            all.extend(settings.iter().enumerate().map(|(i, s)| of(&solver.lane(i), s)));
        }
        all
    }
}

/// The same controls with the engine so.
fn with_engine<'a>(
    conditions: impl IntoIterator<Item = &'a Condition>,
    engine: Engine,
) -> Vec<Condition> {
    conditions.into_iter().map(|c| Condition { engine, ..c.clone() }).collect()
}

impl Outcome {
    /// The same without what nobody notices: which coils have pulled.
    pub fn noticed(mut self) -> Self {
        self.coils.clear();
        self
    }
}

impl Circuit {
    /// Whether an engine that turns goes on by itself: at least one spark, however weak, or no
    /// need of any; fuel; and nothing mechanical against it.
    pub fn runs(&self, condition: &Condition, outcome: &Outcome) -> bool {
        outcome.fuel != Some(false) && self.fires(condition, outcome)
    }

    /// The same, were there fuel.
    pub(crate) fn fires(&self, condition: &Condition, outcome: &Outcome) -> bool {
        let spark = outcome.spark.is_empty() || outcome.spark.iter().any(|s| *s != Spark::Killed);
        spark && self.runs_when().is_none_or(|e| self.holds(e, condition))
    }

    /// Whether a running engine drives the blades, slipping or not.
    pub fn blades(&self, condition: &Condition, outcome: &Outcome) -> bool {
        let coupled = self.blades_when().is_some_and(|e| self.holds(e, condition));
        coupled || outcome.clutch.is_some_and(|c| c != ClutchState::Off)
    }

    /// The conditions of the machine's ordinary use, in order.
    pub fn normal_use(&self) -> Vec<Condition> {
        let named = self.document().normal_use.iter().map(|entry| {
            let set = entry.set.iter().map(|(c, p)| (c.as_str(), p.as_str()));
            let condition = Condition::with(self, set).ok()?;
            Some(Condition { engine: entry.engine, ..condition })
        });
        named.flatten().collect()
    }
}
