//! What every suspect would make a machine show in one condition with one set-up, wired in one way.
//!
//! Node volts are kept for every column, so that what a voltmeter shows anywhere follows by a
//! subtraction. What an ohmmeter or a lamp shows is solved when it is first asked for, and only for
//! the columns that touch the metal the probes stand on.
//!
//! Solving is spread over the pool's threads while whoever asked waits, and holds what it asked
//! for; so what runs on the pool must itself ask no page for anything, or both wait for ever.

use super::predictor::{Predicted, Predictor, Shown, nominal_volts};
use super::reach::Reach;
use super::situation::Situation;
use crate::circuit::{
    Change, Circuit, Crank, ElementKind, Engine, Instrument, NodeId, Relays, Solved,
};
use crate::diagnosis::evidence::Probe;
use crate::diagnosis::faults::Scenario;
use crate::errand::carried;
use rayon::prelude::*;
use std::collections::{BTreeSet, HashMap};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// Scenarios solved on one core before the next takes some: few enough that every core has its part,
/// many enough that what is learned of the sound machine is used again and again.
fn batch_of(scenarios: usize) -> usize {
    (scenarios / (2 * rayon::current_num_threads())).clamp(64, 1024)
}

#[derive(Debug)]
pub(crate) struct Block {
    circuit: Arc<Circuit>,
    scenarios: Arc<[Scenario]>,
    situation: Situation,
    nodes: usize,
    emf: f64,
    /// Where each scenario's relays start; all released if not given.
    running: Option<Arc<[Relays]>>,
    /// For every node of the sound machine what it hangs together with, diodes taken for metal.
    metal: Vec<u16>,
    /// What hangs together with a contact that a coil moves, or with a fuse that may blow.
    moves: BTreeSet<u16>,
    /// What is noticed.
    shown: OnceLock<Arc<[Shown]>>,
    /// How relays and fuses stand, once that was asked for.
    stand: OnceLock<Arc<[Stand]>>,
    /// Forgotten where room is short, and then worked out again when asked for.
    points: Mutex<Arc<OnceLock<Points>>>,
    sights: Mutex<HashMap<Probe, Arc<[Predicted]>>>,
}

/// Relays, and a mark of what fuses have blown.
type Stand = (Relays, u64);
/// The same with what the starter does.
pub(crate) type Affairs = (Stand, Crank);

/// The operating points of every scenario.
#[derive(Debug, Default)]
struct Points {
    /// Volts and the piece they are in, scenario by scenario, node by node.
    volts: Vec<f32>,
    pieces: Vec<u16>,
    /// Half of how far each node swings, by scenario that chatters.
    swings: HashMap<usize, Vec<f32>>,
}

impl Points {
    fn bytes(&self) -> usize {
        size_of_val(&*self.volts)
            + size_of_val(&*self.pieces)
            + self.swings.values().map(|s| size_of_val(&**s)).sum::<usize>()
    }
}

/// One scenario, solved.
#[derive(Clone)]
struct Row {
    volts: Vec<f32>,
    pieces: Vec<u16>,
    /// Where it chatters.
    swings: Option<Vec<f32>>,
    shown: Shown,
    stand: Stand,
}

impl Block {
    /// A dictionary for which nothing is solved yet. `running` are the relays to start from.
    pub fn new(
        circuit: &Arc<Circuit>,
        scenarios: &Arc<[Scenario]>,
        situation: &Situation,
        running: Option<Arc<[Relays]>>,
    ) -> Self {
        debug_assert!(scenarios[0].changes.is_empty());
        let wired = situation.wired(circuit);
        // What the changes join is eliminated in another order where jumpers are.
        let elsewhere = |_| scenarios.iter().map(Scenario::elsewhere).collect();
        let scenarios = &wired.as_ref().map_or_else(|| scenarios.clone(), elsewhere);
        let circuit = wired.as_ref().unwrap_or(circuit);
        let emf = nominal_volts(circuit);
        let from = running.as_ref().map_or(Relays::default(), |r| r[0]);
        let metal = metal(circuit, situation, from, emf);
        let moving = circuit.elements().filter(|(_, e)| match e.kind {
            ElementKind::Contact(c) => {
                matches!(circuit.contacts[c].actuator, crate::circuit::Actuator::Coils(_))
            }
            ElementKind::Fuse { rating } => rating.is_some(),
            _ => false,
        });
        let moves = moving.flat_map(|(_, e)| [metal[e.a.index()], metal[e.b.index()]]).collect();
        Self {
            circuit: circuit.clone(),
            scenarios: scenarios.clone(),
            situation: situation.clone(),
            nodes: circuit.node_count(),
            emf,
            running,
            metal,
            moves,
            shown: OnceLock::new(),
            stand: OnceLock::new(),
            points: Mutex::default(),
            sights: Mutex::default(),
        }
    }

    /// How many scenarios it has.
    pub fn len(&self) -> usize {
        self.scenarios.len()
    }

    fn from(&self, scenario: usize) -> Relays {
        self.running.as_ref().map_or(Relays::default(), |r| r[scenario])
    }

    /// The operating points, worked out now or before; whoever comes second waits for the first.
    fn points(&self) -> Arc<OnceLock<Points>> {
        let cell = self.points.lock().unwrap_or_else(PoisonError::into_inner).clone();
        cell.get_or_init(|| {
            let nodes: Vec<_> = (0..self.nodes).map(|n| NodeId(n as u16)).collect();
            let rows = self.solve(
                |reach, scenario| self.stands() && reach.is_unseen(scenario),
                |predictor| row(predictor, &nodes),
            );
            self.shown.get_or_init(|| rows.iter().map(|row| row.shown).collect());
            self.stand.get_or_init(|| rows.iter().map(|row| row.stand).collect());
            let mut all = Points::default();
            all.volts.reserve_exact(self.scenarios.len() * self.nodes);
            all.pieces.reserve_exact(self.scenarios.len() * self.nodes);
            for (scenario, row) in rows.into_iter().enumerate() {
                all.volts.extend(row.volts);
                all.pieces.extend(row.pieces);
                all.swings.extend(row.swings.map(|swings| (scenario, swings)));
            }
            all
        });
        cell
    }

    /// Whether the engine stands, so that there is no spark to be noticed.
    fn stands(&self) -> bool {
        self.situation.condition.engine == Engine::Stopped
    }

    /// How relays and fuses stand under every scenario.
    fn stand(&self) -> Arc<[Stand]> {
        let dormant = |reach: &Reach<'_>, scenario: &Scenario| reach.is_dormant(scenario);
        let stand = || self.solve(dormant, |predictor| stand_of(&*predictor.solved())).into();
        self.stand.get_or_init(stand).clone()
    }

    /// What is noticed under every scenario.
    pub fn shown(&self) -> Arc<[Shown]> {
        let dormant =
            |reach: &Reach<'_>, scenario: &Scenario| self.stands() && reach.is_dormant(scenario);
        let shown = || self.solve(dormant, |predictor| predictor.shown()).into();
        self.shown.get_or_init(shown).clone()
    }

    /// Solves every scenario, on every core there is; those that come to what the sound machine does
    /// are left out. What ails a part otherwise than by its ohms is always worked out.
    fn solve<T: Clone + Send>(
        &self,
        is_sound: impl Fn(&Reach<'_>, &Scenario) -> bool,
        of: impl Fn(&mut Predictor<'_>) -> T + Sync,
    ) -> Vec<T> {
        let mut predictor = self.predictor();
        let reach = self.reach(&mut predictor);
        let ails = |c: &Change| matches!(c, Change::Ails(..));
        let differs = |c: &usize| {
            let scenario = &self.scenarios[*c];
            *c == 0
                || self.from(*c) != self.from(0)
                || scenario.changes.iter().any(ails)
                || !is_sound(&reach, scenario)
        };
        let differing: Vec<usize> = (0..self.scenarios.len()).filter(differs).collect();
        let solved = self.each(&differing, |c| *c, |predictor, _| of(predictor));
        let mut all = vec![solved[0].clone(); self.scenarios.len()];
        for (c, solved) in differing.into_iter().zip(solved) {
            all[c] = solved;
        }
        all
    }

    /// Works through things that are each about a scenario, on every core there is.
    fn each<I: Sync, T: Send>(
        &self,
        all: &[I],
        scenario: impl Fn(&I) -> usize + Sync,
        of: impl Fn(&mut Predictor<'_>, &I) -> T + Sync,
    ) -> Vec<T> {
        let carried = carried();
        let batch = |batch: &[I]| {
            let mut predictor = self.predictor();
            let one = |i: &I| {
                let c = scenario(i);
                predictor.suppose(&self.scenarios[c], self.from(c));
                of(&mut predictor, i)
            };
            batch.iter().map(one).collect::<Vec<_>>()
        };
        all.par_chunks(batch_of(all.len()))
            .flat_map_iter(|some| carried.within(|| batch(some)))
            .collect()
    }

    /// How far changes are felt in this situation.
    fn reach<'a>(&'a self, predictor: &'a mut Predictor<'_>) -> Reach<'a> {
        let settled = predictor.settled(self.from(0));
        Reach::new(&self.circuit, self.situation.condition.engine, settled)
    }

    /// How relays, fuses and the starter stand under every scenario: two that stand otherwise are
    /// different states of affairs. None where nothing that moves by itself can be seen at a probe.
    pub fn affairs(&self, probe: Probe) -> Option<Arc<[Affairs]>> {
        let volts = matches!(probe.instrument, Instrument::Voltmeter | Instrument::Clamp);
        if volts {
            // Both are worked out with the points.
            self.points();
        }
        let matter = volts || self.moves_at(&self.metal_of(&[probe]));
        matter.then(|| {
            let (stand, shown) = (self.stand(), self.shown());
            stand.iter().zip(shown.iter()).map(|(stand, shown)| (*stand, shown.crank)).collect()
        })
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        let points = self.points.lock().unwrap_or_else(PoisonError::into_inner).clone();
        let sights = self.sights.lock().unwrap_or_else(PoisonError::into_inner);
        let of = |bytes: Option<usize>| bytes.unwrap_or(0);
        of(points.get().map(Points::bytes))
            + sights.values().map(|s| size_of_val(&**s)).sum::<usize>()
            + of(self.shown.get().map(|s| size_of_val(&**s)))
            + of(self.stand.get().map(|s| size_of_val(&**s)))
            + size_of_val(&*self.metal)
            + size_of::<Self>()
    }

    /// Lets go of all that can be worked out again, but for what is noticed.
    pub fn forget(&self) {
        *self.points.lock().unwrap_or_else(PoisonError::into_inner) = Arc::default();
        self.sights.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    /// The battery's volts at rest that a scenario was solved with.
    pub fn emf(&self, scenario: &Scenario) -> f64 {
        scenario.emf.unwrap_or(self.emf)
    }

    /// What a probe shows under every scenario; kept from then on.
    pub fn sight(&self, probe: Probe) -> Arc<[Predicted]> {
        let looked = self.look(&[probe]);
        let sight = looked.into_values().next().unwrap_or_else(|| Arc::from([]));
        let mut kept = self.sights.lock().unwrap_or_else(PoisonError::into_inner);
        kept.entry(probe).or_insert(sight).clone()
    }

    /// What probes show under every scenario; what is not kept yet is worked out together.
    pub fn look(&self, probes: &[Probe]) -> HashMap<Probe, Arc<[Predicted]>> {
        let kept = |p: &Probe| {
            let kept = self.sights.lock().unwrap_or_else(PoisonError::into_inner);
            kept.get(p).cloned()
        };
        let mut all: HashMap<Probe, Arc<[Predicted]>> =
            probes.iter().filter_map(|p| Some((*p, kept(p)?))).collect();
        let missing = probes.iter().copied().filter(|p| !all.contains_key(p));
        let (by_volts, rest): (Vec<_>, Vec<_>) =
            missing.partition(|p| p.instrument == Instrument::Voltmeter);
        let (by_amps, by_solving): (Vec<_>, Vec<_>) =
            rest.into_iter().partition(|p| p.instrument == Instrument::Clamp);
        if !by_amps.is_empty() {
            all.extend(self.amps(&by_amps));
        }
        if !by_volts.is_empty() {
            let points = self.points();
            if let Some(points) = points.get() {
                let read = |probe: Probe| -> Arc<[Predicted]> {
                    (0..self.scenarios.len()).map(|c| self.volts(points, probe, c)).collect()
                };
                all.extend(by_volts.iter().map(|probe| (*probe, read(*probe))));
            }
        }
        // The diode range stirs diodes, so that more has to be solved for it than for the rest.
        let (stirring, rest): (Vec<_>, Vec<_>) =
            by_solving.into_iter().partition(|p| p.instrument == Instrument::DiodeRange);
        all.extend(self.solve_probes(&rest));
        all.extend(self.solve_probes(&stirring));
        all
    }

    fn volts(&self, points: &Points, probe: Probe, scenario: usize) -> Predicted {
        let at = |c: usize| {
            let row = c * self.nodes;
            let (red, black) = (row + probe.red.index(), row + probe.black.index());
            let joined = points.pieces[red] == points.pieces[black];
            if joined { f64::from(points.volts[red] - points.volts[black]) } else { 0.0 }
        };
        let mean = at(scenario);
        let swing = points
            .swings
            .get(&scenario)
            .map_or(0.0, |s| f64::from(s[probe.red.index()] + s[probe.black.index()]));
        Predicted::Volts { mean, swing, slope: self.slope_by_size(scenario, at) }
    }

    /// How much more a figure is for each standard deviation of the fault's size; `at` is the figure
    /// by scenario.
    fn slope_by_size(&self, scenario: usize, at: impl Fn(usize) -> f64) -> f64 {
        let own = self.scenarios[scenario].sizes.filter(|_| self.scenarios[scenario].emf.is_none());
        own.map_or(0.0, |(less, more)| {
            // What the next size moves or blows besides is no matter of degree.
            let beside = |c: usize| c != scenario && self.alike(c, scenario);
            let (less, more) = match (beside(less), beside(more)) {
                (true, false) => (less, scenario),
                (false, true) => (scenario, more),
                _ => (less, more),
            };
            UNIFORM * (at(more) - at(less)) / (more - less) as f64
        })
    }

    /// What clamps show under every scenario: a current follows from how its own wire is, too, so that
    /// it is not in the node volts alone.
    fn amps(&self, probes: &[Probe]) -> Vec<(Probe, Arc<[Predicted]>)> {
        // How relays and fuses stand is worked out with the points.
        self.points();
        let rows = self.solve(
            |reach, scenario| self.stands() && reach.is_unseen(scenario),
            |predictor| predictor.read(probes),
        );
        let sloped = |place: usize, scenario: usize| match rows[scenario][place] {
            Predicted::Amps { mean, swing, .. } => {
                let at = |c: usize| match rows[c][place] {
                    Predicted::Amps { mean, .. } => mean,
                    _ => 0.0,
                };
                Predicted::Amps { mean, swing, slope: self.slope_by_size(scenario, at) }
            }
            other => other,
        };
        let each = probes.iter().enumerate().map(|(place, probe)| {
            (*probe, (0..rows.len()).map(|scenario| sloped(place, scenario)).collect())
        });
        each.collect()
    }

    /// Whether relays, fuses and the starter are the same under two scenarios; the points must have
    /// been asked for.
    fn alike(&self, one: usize, other: usize) -> bool {
        let (Some(stand), Some(shown)) = (self.stand.get(), self.shown.get()) else { return true };
        let [a, b] = [one, other].map(|scenario| (stand[scenario], shown[scenario].crank));
        a == b
    }

    /// Scenarios that could change what is seen at these probes, each with the probes that it could
    /// be seen at, by their places in the list. The diode range stirs diodes itself: where anything is
    /// live, only those can be told apart there that touch no metal of its probes.
    fn touching(&self, probes: &[Probe]) -> Vec<(usize, Vec<usize>)> {
        let each = |p: &Probe| self.metal_of(&[*p]);
        let metals: Vec<BTreeSet<u16>> = probes.iter().map(each).collect();
        let moves = self.moves_at(&metals.iter().flatten().copied().collect());
        let dead = self.situation.is_dead();
        let mut predictor = self.predictor();
        let range = |p: &Probe| p.instrument == Instrument::DiodeRange;
        let mut ranges = Vec::new();
        if dead && probes.iter().any(range) {
            predictor.suppose(&self.scenarios[0], self.from(0));
            let read = |p: &Probe| range(p).then(|| predictor.diode_range((p.red, p.black)));
            ranges = probes.iter().map(read).collect();
        }
        let reach = self.reach(&mut predictor);
        let known = reach.is_known() && (dead || !probes.iter().any(range));
        let stand = (moves && !known).then(|| self.stand());
        let feeling = reach.at(probes, dead, ranges);
        let seen_at = |c: usize| -> Vec<usize> {
            let scenario = &self.scenarios[c];
            let metal = self.metal_touched(c);
            let touched = |p: &usize| metals[*p].iter().any(|m| metal.contains(m));
            let everywhere = 0..probes.len();
            let dormant = known && self.from(c) == self.from(0) && reach.is_dormant(scenario);
            if dormant {
                return everywhere.filter(|p| touched(p) && feeling.of(*p, scenario)).collect();
            }
            match &stand {
                Some(stand) if stand[c] != stand[0] => everywhere.collect(),
                None if moves => everywhere.collect(),
                _ => everywhere.filter(touched).collect(),
            }
        };
        let others = (1..self.scenarios.len()).map(|c| (c, seen_at(c)));
        let others = others.filter(|(_, probes)| !probes.is_empty());
        std::iter::once((0, (0..probes.len()).collect())).chain(others).collect()
    }

    /// The metal whose surroundings a scenario alters.
    fn metal_touched(&self, scenario: usize) -> Vec<u16> {
        let changes = self.scenarios[scenario].changes.iter();
        let nodes = changes.flat_map(|change| touched(&self.circuit, change));
        nodes.map(|n| self.metal[n.index()]).collect()
    }

    /// What hangs together with the points that probes stand on.
    fn metal_of(&self, probes: &[Probe]) -> BTreeSet<u16> {
        let nodes = probes.iter().flat_map(|p| [p.red, p.black]);
        nodes.map(|n| self.metal[n.index()]).collect()
    }

    /// Whether something there moves by itself, so that what happens elsewhere can be seen there.
    fn moves_at(&self, metal: &BTreeSet<u16>) -> bool {
        !self.situation.is_dead() && metal.iter().any(|m| self.moves.contains(m))
    }

    fn predictor(&self) -> Predictor<'_> {
        let Situation { condition, set_up } = &self.situation;
        Predictor::new(&self.circuit, condition, set_up, self.emf)
    }

    fn solve_probes(&self, probes: &[Probe]) -> Vec<(Probe, Arc<[Predicted]>)> {
        if probes.is_empty() {
            return Vec::new();
        }
        let touching = self.touching(probes);
        let solved = self.each(
            &touching,
            |(c, _)| *c,
            |predictor, (_, seen_at)| {
                let own: Vec<Probe> = seen_at.iter().map(|p| probes[*p]).collect();
                predictor.read(&own)
            },
        );
        // What is not seen at a probe leaves it as the sound machine has it.
        let sound = &solved[0];
        let mut all: Vec<Vec<Predicted>> =
            sound.iter().map(|p| vec![*p; self.scenarios.len()]).collect();
        for ((c, seen_at), read) in touching.iter().zip(&solved) {
            for (p, predicted) in seen_at.iter().zip(read) {
                all[*p][*c] = *predicted;
            }
        }
        let each = probes.iter().zip(all).map(|(probe, mut all)| {
            slope(&self.scenarios, &mut all);
            (*probe, Arc::from(all))
        });
        each.collect()
    }
}

/// What was solved last, as it is kept.
fn row(predictor: &mut Predictor<'_>, nodes: &[NodeId]) -> Row {
    let shown = predictor.shown();
    let at = predictor.solved();
    let (stand, pieces) = (stand_of(&*at), at.pieces());
    if at.chatter().is_empty() {
        let volts = nodes.iter().map(|n| at.volts(*n) as f32).collect();
        return Row { volts, pieces, swings: None, shown, stand };
    }
    drop(at);
    let to_reference = |red: &NodeId| Probe {
        instrument: Instrument::Voltmeter,
        red: *red,
        black: NodeId::REFERENCE,
    };
    let probes: Vec<_> = nodes.iter().map(to_reference).collect();
    let read = predictor.read(&probes);
    let both = read.iter().map(|predicted| match *predicted {
        Predicted::Volts { mean, swing, .. } => (mean as f32, swing as f32),
        _ => (0.0, 0.0),
    });
    let (volts, swings): (Vec<f32>, Vec<f32>) = both.unzip();
    Row { volts, pieces, swings: Some(swings), shown, stand }
}

fn stand_of(at: &dyn Solved) -> Stand {
    let blown = at.blown().iter().fold(0u64, |all, e| all ^ (1 << (e.index() % 64)));
    (at.relays(), blown)
}

/// Standard deviation of what is equally likely anywhere over a width of one.
const UNIFORM: f64 = 0.29;

/// Sizes of a fault stand for all between them: how far apart their ohms, or a lamp's volts, are is
/// how unsure each is.
fn slope(scenarios: &[Scenario], all: &mut [Predicted]) {
    let figure = |p: &Predicted| match p {
        Predicted::Ohms { ohms: Some(ohms), .. } => Some((ohms + 1.0).ln()),
        Predicted::Lamp { volts, .. } => Some(volts.abs()),
        _ => None,
    };
    let slopes: Vec<_> = scenarios
        .iter()
        .map(|c| {
            let (less, more) = c.sizes?;
            let apart = figure(&all[more])? - figure(&all[less])?;
            Some(UNIFORM * apart / (more - less) as f64)
        })
        .collect();
    for (predicted, own) in all.iter_mut().zip(slopes) {
        let slope = match predicted {
            Predicted::Ohms { slope, .. } | Predicted::Lamp { slope, .. } => slope,
            _ => continue,
        };
        *slope = own.unwrap_or(*slope);
    }
}

/// The nodes that a change may alter the surroundings of.
fn touched(circuit: &Circuit, change: &Change) -> Vec<NodeId> {
    let ends = |e| {
        let e = circuit.element(e);
        [e.a, e.b]
    };
    match *change {
        Change::Open(e)
        | Change::AtTimes(e)
        | Change::Made(e)
        | Change::OtherKind(e)
        | Change::Ohms(e, _)
        | Change::Emf(e, _)
        | Change::Drained(e, _)
        | Change::ShortedTurns(e, _)
        | Change::NoDelay(e)
        | Change::Rating(e, _)
        | Change::Ails(e, _) => ends(e).to_vec(),
        Change::Swapped(one, other) => [ends(one), ends(other)].concat(),
        Change::ShortToGround(node, _) | Change::GroundWhenHot(node, _) => {
            vec![node, NodeId::REFERENCE]
        }
        Change::Join { ends: (a, b), .. } => vec![a, b],
        Change::Apart(part) => circuit.joints(part).flat_map(ends).collect(),
        Change::Pressed(plunger, _) | Change::Inverted(plunger) => {
            circuit.contacts_of(plunger).flat_map(ends).collect()
        }
    }
}

/// What hangs together in the sound machine, diodes taken for metal.
fn metal(circuit: &Circuit, situation: &Situation, from: Relays, emf: f64) -> Vec<u16> {
    let mut predictor = Predictor::new(circuit, &situation.condition, &situation.set_up, emf);
    predictor.suppose(&Scenario::default(), from);
    let solved = predictor.solved();
    let mut metal: Vec<u16> = (0..circuit.node_count() as u16).collect();
    loop {
        let before = metal.clone();
        for (id, e) in circuit.elements() {
            let diode = matches!(e.kind, ElementKind::Diode { .. });
            if diode || solved.conducts(id) {
                let least = metal[e.a.index()].min(metal[e.b.index()]);
                metal[e.a.index()] = least;
                metal[e.b.index()] = least;
            }
        }
        if metal == before {
            return metal;
        }
    }
}
