//! A machine to be diagnosed: whatever is asked of it is asked here.

use super::belief::{Belief, FaultSize, drawing_error, outcome, size_of};
use super::candidates::{Catalogs, Caution, Complaint, Hazards, complained_of, still_works};
use super::evidence::{Evidence, Heard, Observation, Sense, Sensed, SetUp, TestAction, Unit};
use super::explain::{
    Aftermath, Cause, CauseStanding, ChargingRead, Checked, DropsRead, Excluded, Expected,
    LoadRead, Misfit, Proof, aftermath, checked, excluded, expected, misfit, on_live, proofs,
    seen_of_the_battery,
};
use super::faults::{History, Suspects};
use super::plan::{
    Ahead, Forecast, Forewarned, KillSweep, Measurement, NextTest, Parting, Plan, Planning,
    Strategy, Weighed, forewarn, kill_sweep, minded_at, weigh,
};
use super::predict::{Dictionaries, FaultModel};
use crate::battery::{BatteryStanding, OwnLoad, Seen, battery_standing, own_load};
use crate::charging::{ChargeStanding, ChargingSystem, charge_standing};
use crate::circuit::{Circuit, Condition, ElementId, Engine, FaultMode, NodeId};
use crate::drops::{DropReading, DropWalk, LoadPath, drop_walk, load_paths};
use crate::fuses::{Fitted, FuseSheet, FuseWorkings};
use crate::interlock::{EngineDoes, LayOutError, Track};
use crate::loads::{Load, LoadStanding, load_standing, loads};
use crate::machine::SiteKind;
use std::sync::{Arc, OnceLock};

/// From this share on the battery is worth a test by itself: minutes, and no part to take off.
const BATTERY_IN_QUESTION: f64 = 0.15;
/// The same of a joint somewhere along one circuit, which a walk from point to point finds, and of what charges it.
const DROPS_IN_QUESTION: f64 = 0.25;

/// Within this share of one another two circuits are as likely.
const ALIKE: f64 = 0.9;

/// What is worked out of a machine when first asked for, and kept. It does not depend on how likely
/// anything is, so that models of one machine with different priors share it.
#[derive(Debug, Default)]
pub struct Workings {
    dictionaries: Arc<Dictionaries>,
    own_load: OnceLock<Option<OwnLoad>>,
    load_paths: OnceLock<Vec<LoadPath>>,
    loads: OnceLock<Vec<Load>>,
    fuses: OnceLock<FuseWorkings>,
    catalogs: Catalogs,
}

impl Workings {
    /// What is kept, in bytes.
    pub fn bytes(&self) -> usize {
        self.dictionaries.bytes() + self.catalogs.bytes()
    }

    /// Lets go of everything; it is worked out again when asked for.
    pub fn forget(&self) {
        self.catalogs.forget();
        self.dictionaries.forget();
    }
}

/// A machine's circuit, what may be wrong with it, and what each of that would show.
///
/// Nothing is worked out before it is asked for; what was is kept in the [`Workings`]. It may be
/// asked by many threads at once, but not from inside a rayon job: it spreads its own work over that
/// pool.
///
/// ```
/// use kelvok_core::circuit::{Circuit, Condition};
/// use kelvok_core::diagnosis::Model;
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let machine = Machine::read(LIBRARY[0].text).expect("a library machine");
/// let circuit = Circuit::compile(&machine);
/// let at_rest = Condition::at_rest(&circuit);
/// let model = Model::new(circuit);
/// let belief = model.judge(&[]);
/// let plan = model.plan(&belief, &[], &at_rest);
/// assert!(plan.reproduce.is_some() && !plan.tests.is_empty());
/// ```
#[derive(Clone, Debug)]
pub struct Model {
    faults: FaultModel,
    start: Option<Arc<Track>>,
    workings: Arc<Workings>,
}

impl Model {
    /// A machine as the trade's usual figures have it.
    pub fn new(circuit: impl Into<Arc<Circuit>>) -> Self {
        Self::in_shop(circuit, &History::default(), Arc::default())
    }

    /// A machine as a shop knows it: what its closed jobs came to shifts the priors.
    ///
    /// # Arguments
    /// `workings` are of the same circuit.
    pub fn in_shop(
        circuit: impl Into<Arc<Circuit>>,
        history: &History,
        workings: Arc<Workings>,
    ) -> Self {
        let circuit = circuit.into();
        let suspects = Suspects::in_shop(&circuit, history);
        Self::with(circuit, suspects, workings)
    }

    /// A machine with these suspects only, and workings of its own.
    pub(crate) fn with_suspects(circuit: Arc<Circuit>, suspects: Suspects) -> Self {
        Self::with(circuit, suspects, Arc::default())
    }

    fn with(circuit: Arc<Circuit>, suspects: Suspects, workings: Arc<Workings>) -> Self {
        let start = Track::lay_out(&circuit, "start").ok().map(Arc::new);
        let faults =
            FaultModel::new(circuit, Arc::new(suspects), Arc::clone(&workings.dictionaries));
        Self { faults, start, workings }
    }

    /// Its circuit.
    pub fn circuit(&self) -> &Arc<Circuit> {
        &self.faults.circuit
    }

    /// What may be wrong with it.
    pub fn suspects(&self) -> &Suspects {
        &self.faults.suspects
    }

    /// Its start circuit; an engine that is turned by a rope has none.
    pub fn start(&self) -> Option<&Track> {
        self.start.as_deref()
    }

    /// What can be switched on to load the battery with the engine standing.
    pub fn own_load(&self) -> Option<&OwnLoad> {
        self.workings.own_load.get_or_init(|| own_load(&self.faults.circuit)).as_ref()
    }

    /// What the battery comes to by all that the log says of it; `None` where there is none.
    pub fn battery(&self, log: &[Evidence]) -> Option<BatteryStanding> {
        let seen: Vec<_> =
            self.seen_of_the_battery(log).into_iter().map(|(_, seen)| seen).collect();
        let own = self.own_load().map_or(0.0, |own| own.amps);
        battery_standing(&self.faults.circuit, &seen, own)
    }

    /// How likely it is the battery, where that is worth testing it by itself before anything else: it
    /// is likely enough, and a reading of it would tell what it is.
    pub fn battery_in_question(&self, belief: &Belief, log: &[Evidence]) -> Option<f64> {
        let battery = self.faults.circuit.element(self.faults.circuit.battery()?).part?;
        let share = belief.of_unit(&self.faults.suspects, Unit::Part(battery));
        let worth = share >= BATTERY_IN_QUESTION && !self.battery(log)?.next.is_empty();
        worth.then_some(share)
    }

    /// What the log says of the battery that is in the machine now, each by its entry.
    pub fn seen_of_the_battery(&self, log: &[Evidence]) -> Vec<(u64, Seen)> {
        seen_of_the_battery(&self.faults.circuit, log)
    }

    /// The circuits that carry a current worth measuring the drops of.
    pub fn load_paths(&self) -> &[LoadPath] {
        let circuit = &self.faults.circuit;
        self.workings.load_paths.get_or_init(|| {
            let hazards = Hazards::of(circuit);
            load_paths(circuit, &|node| !hazards.kill_nodes.contains(&node))
        })
    }

    /// How the machine stands while the drops of a path are read: a starter that was heard to turn the
    /// engine does so.
    pub fn loaded_in(&self, path: &LoadPath, log: &[Evidence]) -> Condition {
        let same = |c: &Condition| c.positions == path.condition.positions;
        let mut heard = log.iter().rev().filter(|e| same(&e.condition)).filter_map(Evidence::heard);
        let turns = matches!(heard.next(), Some(Heard::Cranks | Heard::CranksSlowly));
        let engine = if path.cranks && turns { Engine::Cranking } else { path.condition.engine };
        Condition { engine, ..path.condition.clone() }
    }

    /// What the log says of the drops along a path.
    pub fn drops_read(&self, path: &LoadPath, log: &[Evidence]) -> DropsRead {
        DropsRead::of(&self.faults.circuit, path, log)
    }

    /// What drops that were read come to, and what to read next by what is believed.
    pub fn drop_walk(
        &self,
        belief: &Belief,
        path: &LoadPath,
        read: &[(u64, DropReading)],
    ) -> DropWalk {
        let readings: Vec<_> = read.iter().map(|(_, reading)| *reading).collect();
        let (circuit, suspects) = (&self.faults.circuit, &self.faults.suspects);
        let lean = |id: ElementId| {
            Unit::of_element(circuit.element(id)).map_or(0.0, |unit| belief.of_unit(suspects, unit))
        };
        drop_walk(circuit, path, &readings, &lean)
    }

    /// What the machine feeds, and where each is read.
    pub fn loads(&self) -> &[Load] {
        self.workings.loads.get_or_init(|| loads(&self.faults.circuit))
    }

    /// What the log says of a load, and what that comes to.
    pub fn load(&self, load: &Load, log: &[Evidence]) -> (LoadRead, LoadStanding) {
        let read = LoadRead::of(&self.faults.circuit, load, log);
        let standing = load_standing(load, &read.readings());
        (read, standing)
    }

    /// What charges the machine's battery, and where that is read.
    pub fn charging(&self) -> Option<Arc<ChargingSystem>> {
        self.faults.charging()
    }

    /// What the log says of a charging system, and what that comes to.
    pub fn charge(
        &self,
        system: &ChargingSystem,
        log: &[Evidence],
    ) -> (ChargingRead, ChargeStanding) {
        let read = ChargingRead::of(&self.faults.circuit, system, log);
        let standing = charge_standing(system, &read.readings());
        (read, standing)
    }

    /// How likely it is what charges the battery, or a wire of that alone, where reading it through is worth it: likely
    /// enough, and not all of it read.
    pub fn charging_in_question(&self, belief: &Belief, log: &[Evidence]) -> Option<f64> {
        let system = self.charging()?;
        let circuit = &self.faults.circuit;
        let own = system.leads.iter().chain(&system.feed[..system.alone]).copied();
        let own = own.chain(system.winding).chain([system.source]);
        let mut units: Vec<Unit> =
            own.filter_map(|id| Unit::of_element(circuit.element(id))).collect();
        units.sort_unstable();
        units.dedup();
        let share: f64 =
            units.into_iter().map(|unit| belief.of_unit(&self.faults.suspects, unit)).sum();
        let worth = share >= DROPS_IN_QUESTION && self.charge(&system, log).1.next.is_some();
        worth.then_some(share)
    }

    /// The circuit along which a bad joint is likeliest, and how likely, where walking it with a voltmeter
    /// is worth it: likely enough, and not all of it read.
    pub fn drops_in_question(&self, belief: &Belief, log: &[Evidence]) -> Option<(&str, f64)> {
        let suspects = self.faults.suspects.list.iter().zip(&belief.suspects);
        let joints: Vec<_> = suspects
            .filter(|(s, p)| {
                **p > 0.0 && s.faults.iter().any(|f| f.mode == FaultMode::HighResistance)
            })
            .collect();
        let along = |path: &LoadPath| -> f64 {
            let lies = |id: &ElementId| path.elements().any(|own| own == *id);
            joints.iter().filter(|(s, _)| s.elements.iter().any(lies)).map(|(_, p)| **p).sum()
        };
        let each: Vec<_> = self.load_paths().iter().map(|path| (path, along(path))).collect();
        let most = each.iter().map(|(_, share)| *share).fold(DROPS_IN_QUESTION, f64::max);
        // Of circuits that share the way, the one that draws most loses most.
        let enough = |share: f64| share >= DROPS_IN_QUESTION && share >= ALIKE * most;
        let likely = each.into_iter().filter(|(_, share)| enough(*share));
        let (path, share) = likely.max_by(|a, b| a.0.amps.total_cmp(&b.0.amps))?;
        let walk = self.drop_walk(belief, path, &self.drops_read(path, log).now);
        walk.next.map(|_| (path.id.as_str(), share))
    }

    /// The condition that is complained of: the last in which something was noticed; until then the
    /// nearest to `asked` in which a sound machine would crank.
    pub fn complained_of(&self, log: &[Evidence], asked: &Condition) -> Condition {
        complained_of(&self.faults.circuit, self.start(), log, asked)
    }

    /// Whether it is what the customer says still works, and no complaint.
    pub fn still_works(&self, entry: &Evidence) -> bool {
        still_works(&self.faults.circuit, entry)
    }

    /// The circuit that the last thing noticed is about, by its id: the start circuit of a starter that
    /// does nothing, the kill circuit of an engine that dies.
    pub fn circuit_about(&self, log: &[Evidence]) -> Option<&str> {
        let mut complaints = log.iter().rev().filter(|e| !self.still_works(e));
        let noticed = complaints.find_map(|e| match e.observation {
            Observation::Sensed(sensed) => Some(sensed.sense()),
            _ => None,
        });
        let wanted: &[&str] = match noticed? {
            Sense::Starter => &["start"],
            Sense::Engine => &["kill", "ignition", "fire", "hold", "fuel"],
            Sense::Blades => &["pto"],
            Sense::Lamp(_) => &["lights"],
        };
        let own = &self.faults.circuit.document().circuits;
        wanted.iter().find_map(|id| own.iter().find(|c| c.id == *id)).map(|c| c.id.as_str())
    }

    /// From where a test with the engine running is come to: where it last ran, if the test is one
    /// control away from there.
    pub fn comes_from<'l>(&self, log: &'l [Evidence], test: &NextTest) -> Option<&'l Condition> {
        let apart = |c: &Condition| {
            c.positions.iter().zip(&test.condition.positions).filter(|(a, b)| a != b).count()
        };
        let ran = Observation::Sensed(Sensed::Engine(EngineDoes::Runs));
        let running = |c: &Condition| c.engine >= Engine::Running;
        let from = log.iter().rev().filter(|e| e.observation == ran && running(&e.condition));
        let found = from.map(|e| &e.condition).find(|c| apart(c) == 1);
        found.filter(|_| running(&test.condition))
    }

    /// Judges a log, in order, from the priors. Two faults at once are considered where one does
    /// not explain it, and after a repair.
    pub fn judge(&self, log: &[Evidence]) -> Belief {
        Belief::judge(&self.faults, log)
    }

    /// Plans from a belief: the most information a minute.
    ///
    /// # Arguments
    /// `condition` is the one complained of. `log` tells where the mechanic stands and what is open.
    pub fn plan(&self, belief: &Belief, log: &[Evidence], condition: &Condition) -> Plan {
        self.plan_by(Strategy::BestSplit, belief, log, condition)
    }

    /// Plans by one of the strategies.
    pub fn plan_by(
        &self,
        strategy: Strategy,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Plan {
        self.planning(belief, log, condition, |planning| planning.plan(strategy))
    }

    /// The walk-round: everything worth a look now, no meter in the hand; what tells most a minute
    /// first.
    pub fn walk_round(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Vec<NextTest> {
        self.planning(belief, log, condition, |planning| planning.walk_round())
    }

    /// Every test that may be made now, in a strategy's order.
    pub fn every_test(
        &self,
        strategy: Strategy,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Vec<NextTest> {
        self.planning(belief, log, condition, |planning| planning.every_test(strategy))
    }

    /// The test that tells most a minute of how the machine is wired; `None` where that is known, or
    /// nothing at hand tells it.
    pub fn tells_wirings_apart(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Option<NextTest> {
        self.planning(belief, log, condition, |planning| planning.tells_wirings_apart())
    }

    /// How each of the tests that may be made now, and that have one sure answer, parts the
    /// suspects.
    pub(crate) fn partings(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Vec<Parting> {
        self.planning(belief, log, condition, |planning| planning.partings())
    }

    fn planning<T>(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
        ask: impl FnOnce(Planning<'_>) -> T,
    ) -> T {
        let complaint = Complaint::of(log, condition);
        let catalog = self.workings.catalogs.about(&self.faults, &complaint);
        ask(Planning::of(&self.faults, &catalog, belief, log, condition))
    }

    /// Works out what a first plan for a condition will ask for, so that it is then there.
    pub fn prepare(&self, condition: &Condition) {
        self.workings.catalogs.about(&self.faults, &Complaint::of(&[], condition));
    }

    /// Weighs a measurement that the plan did not ask for; `None` where a point is none of the
    /// machine's.
    ///
    /// # Arguments
    /// `condition` is the one complained of, `own` says where the measurement is made.
    pub fn weigh(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
        own: Measurement,
    ) -> Option<Weighed> {
        let scales = &self.workings.catalogs.scales;
        weigh(&self.faults, scales, (belief, log), condition, own)
    }

    /// What to mind at something done in a condition with a set-up, whoever thought of it.
    pub fn cautions(
        &self,
        evidence: (&Belief, &[Evidence]),
        at: (&Condition, &[SetUp]),
        action: TestAction,
    ) -> Vec<Caution> {
        minded_at(&self.faults, evidence, at, action)
    }

    /// What one more thing off, or a jumper, would do with the controls as they stand, `off` being off
    /// already.
    pub fn forewarn(
        &self,
        evidence: (&Belief, &[Evidence]),
        condition: &Condition,
        (off, more): (&[SetUp], SetUp),
    ) -> Forewarned {
        forewarn(&self.faults, evidence, condition, (off, more))
    }

    /// What every strategy would cost from here, the quickest first.
    pub fn forecasts(
        &self,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Vec<Forecast> {
        self.ahead(belief, log, condition).forecasts()
    }

    /// What one strategy would cost from here.
    pub fn forecast(
        &self,
        strategy: Strategy,
        belief: &Belief,
        log: &[Evidence],
        condition: &Condition,
    ) -> Forecast {
        self.ahead(belief, log, condition).forecast(strategy)
    }

    fn ahead<'a>(
        &'a self,
        belief: &'a Belief,
        log: &'a [Evidence],
        condition: &'a Condition,
    ) -> Ahead<'a> {
        let (model, catalogs) = (&self.faults, &self.workings.catalogs);
        Ahead { model, catalogs, belief, log, condition }
    }

    /// Plans the sweep of a kill circuit; `None` where no plug takes the module off its wire.
    ///
    /// # Errors
    /// The machine has no such kill circuit.
    pub fn kill_sweep(&self, name: &str) -> Result<Option<KillSweep>, LayOutError> {
        kill_sweep(&self.faults, name)
    }

    /// How great a suspect's fault is, by its index in the suspects' list; `None` where it has no size,
    /// where the evidence leaves it open, or where it is likely not that alone.
    pub fn size(&self, belief: &Belief, log: &[Evidence], suspect: usize) -> Option<FaultSize> {
        size_of(&self.faults, belief, log, suspect)
    }

    /// What each entry of the log proves of the machine's elements.
    pub fn proofs(&self, belief: &Belief, log: &[Evidence]) -> Vec<Proof> {
        proofs(&self.faults, belief, log)
    }

    /// The switches that what was said and tried rules out, each with the reasons.
    pub fn excluded(&self, belief: &Belief, log: &[Evidence]) -> Vec<Excluded> {
        excluded(&self.faults, belief, log)
    }

    /// The latest entry that nothing believed explains, if there is one.
    pub fn misfit(&self, belief: &Belief, log: &[Evidence]) -> Option<Misfit> {
        misfit(&self.faults, belief, log)
    }

    /// Entries, by sequence, for which a current was put into a circuit that was live, by most of
    /// what is believed: they say nothing, and may have harmed the meter.
    pub fn on_live(&self, belief: &Belief, log: &[Evidence]) -> Vec<u64> {
        on_live(&self.faults, belief, log)
    }

    /// What a voltmeter to `black` should read at each of `points`, in volts, in a condition with a
    /// set-up.
    ///
    /// # Arguments
    /// `belief` is what the whole log leaves: of it the battery is taken, and how the machine is wired.
    pub fn expected(
        &self,
        (log, belief): (&[Evidence], &Belief),
        at: (&Condition, &[SetUp]),
        track: &Track,
        (points, black): (&[NodeId], NodeId),
    ) -> Vec<Expected> {
        expected(&self.faults, (log, belief), at, track, (points, black))
    }

    /// What may have caused a suspect's fault, and what it may have harmed; by index into the
    /// suspects' list.
    ///
    /// # Arguments
    /// `fitted` are the fuses that were read.
    pub fn aftermath(&self, suspect: usize, fitted: &[Fitted]) -> Aftermath {
        aftermath(&self.faults, suspect, fitted)
    }

    /// How far each of these causes of a suspect's fault was looked at, and what would tell of those that
    /// were not.
    ///
    /// # Arguments
    /// `condition` is the one complained of.
    pub fn causes(
        &self,
        (belief, log): (&Belief, &[Evidence]),
        condition: &Condition,
        suspect: usize,
        causes: Vec<Cause>,
    ) -> Vec<CauseStanding> {
        let said = checked(&self.faults, (belief, log), suspect, &causes);
        let unit = self.faults.suspects.list[suspect].unit;
        let repaired = log.iter().any(|e| e.observation == Observation::Repaired(unit));
        let known = (!repaired).then_some(suspect);
        let tell = |own: usize| {
            let cause = &causes[own];
            let unit = self.faults.suspects.list[cause.suspect].unit;
            let beside = causes.iter().zip(&said).enumerate();
            let beside = beside.filter(|(other, (_, (says, _)))| {
                *other != own && !matches!(says, Checked::Good | Checked::Repaired)
            });
            let beside: Vec<_> =
                beside.map(|(_, (c, (_, odds)))| (c.scenarios.as_slice(), *odds)).collect();
            let looked_for = (unit, cause.scenarios.as_slice(), said[own].1);
            self.planning(belief, log, condition, |planning| {
                planning.tells_beside(known, looked_for, &beside)
            })
        };
        let tests: Vec<_> = said
            .iter()
            .enumerate()
            .map(|(i, (says, _))| says.is_open().then(|| tell(i)).flatten())
            .collect();
        let standing = |((cause, (checked, _)), test)| CauseStanding { cause, checked, test };
        causes.into_iter().zip(said).zip(tests).map(standing).collect()
    }

    /// Every fuse and wire beside what it carries.
    ///
    /// # Arguments
    /// `fitted` are the fuses that were read.
    pub fn fuse_sheet(&self, fitted: &[Fitted]) -> FuseSheet {
        let circuit = &self.faults.circuit;
        let workings = self.workings.fuses.get_or_init(|| FuseWorkings::new(circuit));
        workings.sheet(circuit, fitted)
    }

    /// The change, in the fault notation, that the likeliest fault of these units is, where a wrong drawing
    /// would look the same; `None` where it is another fault.
    pub fn drawing_error(&self, belief: &Belief, units: &[Unit]) -> Option<String> {
        drawing_error(&self.faults, belief, units)
    }

    /// What a verdict of these units counts as for the shop's next jobs: what the likeliest fault
    /// sits in, and how it fails.
    pub fn outcome(&self, belief: &Belief, units: &[Unit]) -> Option<(SiteKind, FaultMode)> {
        outcome(&self.faults, belief, units)
    }
}
