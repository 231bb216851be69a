//! A part that burnt was found and replaced: is what killed it found before the machine goes back, and is
//! nothing blamed that is good?
//!
//! What killed it is there in some of the machines; in the others the part wore out. The world is the
//! diagnosis trial's: tolerances, sizes that no bin knows, a meter and hands that are off.

use super::machine::TrialMachine;
use super::run::spread;
use super::surroundings::Surroundings;
use super::world::{Trouble, World, relays};
use crate::circuit::{Change, Circuit, Condition, Engine, NodeId, operating_point};
use crate::diagnosis::{Cause, Evidence, NextTest, Observation, SetUp, Source, Strain, Unit};
use crate::machine::BOILS_VOLTS;
use crate::random::Random;
use crate::release::{CauseOpen, Killed};

/// How the search for what killed a part went.
#[derive(Clone, Debug)]
pub struct CauseTried {
    /// The part that burnt, and what killed it, if anything did: unit ids.
    pub burnt: String,
    /// What killed it, if anything of the machine did.
    pub killer: Option<String>,
    /// The killer was found, and put right.
    pub found: bool,
    /// Parts that were good and put right all the same.
    pub wrong: usize,
    /// Nothing held the machine up any more.
    pub goes: bool,
    /// Readings taken.
    pub readings: usize,
    /// All that was observed.
    pub log: Vec<Evidence>,
}

/// In so many machines nothing killed it.
const WORE_OUT: f64 = 0.4;
const MOST_READINGS: usize = 12;
const MOST_DRAWS: usize = 40;
const MOST_FINDING: usize = 4;
/// Less into the battery is no charging.
const CHARGES_AMPS: f64 = 0.2;

/// A part that may burn, and what may kill it.
struct Pair {
    burnt: usize,
    cause: Cause,
}

/// Pairs of a part that burns and what may kill it, drawn from all that a machine has.
pub fn try_causes(bench: &TrialMachine, runs: usize, seed: u64) -> Vec<CauseTried> {
    let list = &bench.model.suspects().list;
    let lasting = |i: &usize| {
        let own = &list[*i];
        matches!(own.unit, Unit::Part(_))
            && !own.faults.is_empty()
            && own.faults.iter().all(|f| f.mode.lasts())
    };
    let burnt: Vec<usize> = (1..list.len()).filter(lasting).collect();
    let causes = |i: usize| {
        let own = burnt[i];
        let pair = |cause| Pair { burnt: own, cause };
        bench.model.aftermath(own, &[]).causes.into_iter().map(pair).collect::<Vec<_>>()
    };
    let pairs: Vec<Pair> = spread(burnt.len(), &causes).into_iter().flatten().collect();
    if pairs.is_empty() {
        return Vec::new();
    }
    let name = bench.model.circuit().document().identity.model.clone();
    let case = |case: usize| {
        let mut random = Random::for_case(seed, &name, case as u64);
        let pair = &pairs[random.index(pairs.len())];
        Search::drawn(bench, pair, &mut random).map(|search| search.work(random))
    };
    spread(runs, &case).into_iter().flatten().collect()
}

struct Search<'b> {
    bench: &'b TrialMachine,
    world: World,
    pair: &'b Pair,
    burnt: Unit,
    killer: Option<Unit>,
    at: Condition,
    log: Vec<Evidence>,
}

impl<'b> Search<'b> {
    /// None where no size that was drawn kills it.
    fn drawn(bench: &'b TrialMachine, pair: &'b Pair, random: &mut Random) -> Option<Self> {
        let circuit = bench.model.circuit();
        let list = &bench.model.suspects().list;
        let mut world = World::new(circuit.clone(), Surroundings::Bench, random);
        let killer = &list[pair.cause.suspect];
        let kills = !random.happens(WORE_OUT);
        for _ in 0..MOST_DRAWS {
            let fault = killer.faults[random.index(killer.faults.len())];
            let drawn = World::draw(&fault, pair.cause.suspect, Surroundings::Bench, random);
            if !kills || strains(world.circuit(), &world, &drawn, &pair.cause.strain) {
                let own = &list[pair.burnt];
                let fault = own.faults[random.index(own.faults.len())];
                world.troubles = vec![World::draw(&fault, pair.burnt, Surroundings::Bench, random)];
                world.troubles.extend(kills.then_some(drawn));
                let burnt = own.unit;
                let killer = kills.then_some(killer.unit);
                let at = Condition::at_rest(circuit);
                return Some(Self { bench, world, pair, burnt, killer, at, log: Vec::new() });
            }
        }
        None
    }

    fn work(mut self, mut random: Random) -> CauseTried {
        self.finds_what_burnt(&mut random);
        self.world.troubles.remove(0);
        self.record(vec![], Observation::Repaired(self.burnt));
        let (mut found, mut wrong, mut readings) = (false, 0, 0);
        let goes = loop {
            let model = &self.bench.model;
            let killed = Killed::all(model, &self.log, &[self.burnt], &[], &[]);
            let Some((own, open)) = killed.iter().find_map(|k| Some((k, k.open()?))) else {
                break true;
            };
            match open {
                CauseOpen::StillThere(cause) => {
                    let unit = own.causes[cause].unit;
                    let is_it = self.killer == Some(unit);
                    found |= is_it;
                    wrong += usize::from(!is_it);
                    if is_it {
                        self.world.troubles.clear();
                    }
                    self.record(vec![], Observation::Repaired(unit));
                }
                CauseOpen::NotChecked(_) => {
                    let tests = own.causes.iter().filter(|c| c.standing.checked.is_open());
                    let mut tests = tests.filter_map(|c| c.standing.test.as_ref());
                    let Some((test, _)) = tests.next().filter(|_| readings < MOST_READINGS) else {
                        break false;
                    };
                    readings += 1;
                    let test = test.clone();
                    self.does(&test, &mut random);
                }
            }
        };
        let circuit = self.bench.model.circuit();
        CauseTried {
            burnt: self.burnt.id(circuit),
            killer: self.killer.map(|k| k.id(circuit)),
            found,
            wrong,
            goes,
            readings,
            log: self.log,
        }
    }

    /// Readings that tell which of its faults the burnt part has.
    fn finds_what_burnt(&mut self, random: &mut Random) {
        let (model, pair) = (&self.bench.model, self.pair);
        let own = model.suspects().hypotheses.iter().filter(|h| h.suspect == pair.burnt);
        let scenarios: Vec<usize> = own.map(|h| h.scenario).collect();
        let strain = pair.cause.strain.clone();
        for _ in 0..MOST_FINDING {
            let burnt =
                Cause { suspect: pair.burnt, strain: strain.clone(), scenarios: scenarios.clone() };
            let belief = model.judge(&self.log);
            let at = (&belief, self.log.as_slice());
            let standing = model.causes(at, &self.at, pair.cause.suspect, vec![burnt]);
            let Some((test, _)) = standing.into_iter().find_map(|s| s.test) else { return };
            self.does(&test, random);
        }
    }

    fn does(&mut self, test: &NextTest, random: &mut Random) {
        let list = &self.bench.model.suspects().list;
        let at = (&test.condition, test.set_up.as_slice());
        let seen = self.world.observe(list, test.action, at, random);
        self.at = test.condition.clone();
        self.record(test.set_up.clone(), seen);
    }

    fn record(&mut self, set_up: Vec<SetUp>, observation: Observation) {
        self.log.push(Evidence {
            sequence: self.log.len() as u64 + 1,
            condition: self.at.clone(),
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

/// Whether a fault really does to the machine what it is blamed for.
fn strains(circuit: &Circuit, world: &World, fault: &Trouble, strain: &Strain) -> bool {
    let changes: Vec<Change> = world.values().into_iter().chain([fault.change]).collect();
    let (Strain::Overloads { condition, .. }
    | Strain::BlowsFuse { condition, .. }
    | Strain::DoesNotCharge { condition }
    | Strain::Overcharges { condition, .. }) = strain;
    let from = relays(circuit, &changes, condition);
    let point = operating_point(circuit, condition, from, &changes, &[]);
    let battery = circuit.battery().filter(|_| condition.engine >= Engine::Running);
    match strain {
        Strain::Overloads { contact, rated, .. } => point.amps[contact.index()].abs() > 1.1 * rated,
        Strain::BlowsFuse { fuse, .. } => point.blown.contains(fuse),
        Strain::DoesNotCharge { .. } => {
            battery.is_some_and(|b| point.amps[b.index()] > -CHARGES_AMPS)
        }
        Strain::Overcharges { .. } => battery.is_some_and(|b| {
            let e = circuit.element(b);
            let at = |node: NodeId| point.volts[node.index()].unwrap_or(0.0);
            at(e.b) - at(e.a) > BOILS_VOLTS
        }),
    }
}
