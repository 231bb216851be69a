//! Operating points: node volts with relays, diodes and fuses settled.
//!
//! Relays are iterated from the state they were in: solve, move every contact by the volts across
//! its winding (current times the winding's actual ohms, so an open winding pulls nothing), solve
//! again until nothing moves. A state that comes back is *chatter*, and every state of the cycle
//! is kept. Diodes are settled inside each relay state. A fuse over 1.35 times its rating blows
//! and stays blown.
//!
//! The same code works on one operating point (`Solver<f64>`) or on eight side by side
//! (`Solver<Lanes>`), which the compiler turns into vector instructions.

use super::relays::Relays;
use super::setting::Setting;
use super::solved::Solved;
use crate::circuit::model::{
    Actuator, Change, Circuit, ElementId, ElementKind, Lane, NodeId, Program, Workspace,
};
use crate::errand::step;
use crate::machine::{Engine, FUSE_BLOWS_AT};
use std::sync::Arc;

/// More relay states than this in a row are taken for chatter that we have not seen repeat.
const LONGEST_WALK: usize = 24;

/// How one lane's relays, diodes and fuses stand.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Settling {
    /// Relay states visited, the last one solved last.
    walk: [u64; LONGEST_WALK],
    steps: usize,
    /// Where in the walk the cycle begins, if the relays chatter.
    cycle: Option<usize>,
    diodes: u64,
    diode_turns: u32,
    blown: u64,
    /// Batteries that current runs into, bit by bit in the order of `batteries`.
    charging: u64,
    charge_turns: u32,
    settled: bool,
}

/// What moves by itself at an operating point that has not settled.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Moved {
    Nothing,
    /// Diodes that turn on or off, bit by bit.
    Diodes(u64),
    /// Batteries that turn from charging to discharging, or back.
    Batteries(u64),
    /// The relays as they stand next.
    Relays(u64),
    /// The relays go round from this place of their walk.
    Chatters(usize),
    /// Fuses that blow.
    Fuses(u64),
}

impl Settling {
    const fn new() -> Self {
        Self {
            walk: [0; LONGEST_WALK],
            steps: 0,
            cycle: None,
            diodes: 0,
            diode_turns: 0,
            blown: 0,
            charging: 0,
            charge_turns: 0,
            settled: false,
        }
    }

    pub(crate) fn relays(&self) -> u64 {
        self.walk[self.steps]
    }
}

/// The part of a solve that is done anew each time, compiled for the vector unit at hand. (A struct
/// and not a closure: only so is it inlined into the function that has the unit switched on.)
struct Moving<'a, L> {
    program: &'a Program,
    work: &'a mut Workspace<L>,
}

impl<L: Lane> pulp::NullaryFnOnce for Moving<'_, L> {
    type Output = ();

    #[inline(always)]
    fn call(self) {
        self.program.solve_moving(self.work);
    }
}

fn inject<L: Lane>(work: &mut Workspace<L>, node: NodeId, lane: usize, amps: f64) {
    let slot = &mut work.injection[node.index()];
    slot.set(lane, slot.get(lane) + amps);
}

/// Solves settings of one circuit, again and again, without allocating.
pub struct Solver<'c, L: Lane = f64> {
    pub(crate) circuit: &'c Circuit,
    pub(crate) program: Arc<Program>,
    pub(crate) work: Workspace<L>,
    pub(crate) conductance: Vec<L>,
    /// Volts by source, in the order of `sources`.
    emf: Vec<L>,
    pub(crate) standing: Vec<Settling>,
    /// Contacts that coils move: contact and element.
    relay_contacts: Vec<(usize, usize)>,
    sources: Vec<usize>,
    /// Batteries that can be charged: element and the siemens that stand in the way.
    batteries: Vec<(usize, f64)>,
    /// For every coil that lends its volts to another: itself and that other.
    assists: Vec<(usize, (usize, f64))>,
    pub(crate) diodes: Vec<usize>,
    /// Volts by diode, in the order of `diodes`.
    thresholds: Vec<L>,
    /// Rated fuses: element and the current that blows it.
    fuses: Vec<(usize, f64)>,
    /// What the still part of each lane was last loaded with, and whether it has been solved.
    still: Vec<Option<u64>>,
    fresh: bool,
    /// Where moving elements wait while the still ones are solved.
    held: Vec<L>,
    arch: pulp::Arch,
}

impl<'c, L: Lane> Solver<'c, L> {
    /// A solver for the circuit as it is.
    pub fn new(circuit: &'c Circuit) -> Self {
        Self::build(circuit, circuit.program.clone(), 0)
    }

    /// A solver for settings with these changes: with room for what they join.
    pub fn for_changes(circuit: &'c Circuit, changes: &[Change]) -> Self {
        Self::for_changes_with(circuit, changes, &[])
    }

    /// The same with something hung between these pairs of nodes besides.
    pub fn for_changes_with(
        circuit: &'c Circuit,
        changes: &[Change],
        pairs: &[(NodeId, NodeId)],
    ) -> Self {
        let joins = changes.iter().flat_map(|c| c.joins(circuit));
        let all: Vec<_> = joins.chain(pairs.iter().copied()).collect();
        if all.is_empty() { Self::new(circuit) } else { Self::with_extra(circuit, &all) }
    }

    /// A solver for the circuit with something hung between these pairs of nodes.
    pub fn with_extra(circuit: &'c Circuit, pairs: &[(NodeId, NodeId)]) -> Self {
        Self::build(circuit, Arc::new(circuit.program_with(pairs)), pairs.len())
    }

    /// A solver for changes that join this many pairs of nodes, on the order that
    /// [`Circuit::program_for`] gave for them.
    pub fn on(circuit: &'c Circuit, program: Arc<Program>, pairs: usize) -> Self {
        Self::build(circuit, program, pairs)
    }

    fn build(circuit: &'c Circuit, program: Arc<Program>, extra: usize) -> Self {
        let of_kind = |wanted: fn(ElementKind) -> bool| {
            let found = circuit.elements().filter(move |(_, e)| wanted(e.kind));
            found.map(|(id, _)| id.index()).collect::<Vec<_>>()
        };
        let relay_contacts =
            circuit.contacts.iter().enumerate().filter_map(|(i, c)| match c.actuator {
                Actuator::Coils(_) => Some((i, c.element.index())),
                _ => None,
            });
        let batteries = circuit.elements().filter_map(|(id, e)| match e.kind {
            ElementKind::Source { charge_ohms: Some(ohms), .. } => Some((id.index(), 1.0 / ohms)),
            _ => None,
        });
        let assists =
            circuit.coils.iter().enumerate().filter_map(|(c, coil)| Some((c, coil.assists?)));
        let extra = extra + circuit.found_pairs().len();
        let diodes = of_kind(|k| matches!(k, ElementKind::Diode { .. }));
        let fuses = circuit.elements().filter_map(|(id, e)| match e.kind {
            ElementKind::Fuse { rating: Some(amps) } => Some((id.index(), amps * FUSE_BLOWS_AT)),
            _ => None,
        });
        let sources = of_kind(|k| k.emf().is_some());
        Self {
            work: program.workspace(),
            program,
            emf: vec![L::ZERO; sources.len()],
            conductance: vec![L::ZERO; circuit.elements.len() + extra],
            standing: vec![Settling::new(); L::WIDTH],
            relay_contacts: relay_contacts.collect(),
            sources,
            batteries: batteries.collect(),
            assists: assists.collect(),
            thresholds: vec![L::ZERO; diodes.len()],
            diodes,
            fuses: fuses.collect(),
            still: vec![None; L::WIDTH],
            fresh: false,
            held: vec![L::ZERO; circuit.elements.len() + extra],
            arch: pulp::Arch::new(),
            circuit,
        }
    }

    /// Solves up to [`Lane::WIDTH`] settings, each from its relays as they were.
    ///
    /// Results are then read lane by lane. Lanes beyond the settings given hold nothing.
    pub fn solve(&mut self, settings: &[&Setting], relays: &[Relays]) {
        step();
        for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
            self.begin(lane, setting, relays.get(lane).copied().unwrap_or_default());
        }
        loop {
            self.factor(settings);
            let mut settled = true;
            for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
                settled &= self.step(lane, setting);
            }
            if settled {
                return;
            }
        }
    }

    /// Solves one setting with the relays held where they are put, chatter or not.
    pub fn solve_held(&mut self, setting: &Setting, relays: Relays) {
        self.begin(0, setting, relays);
        loop {
            self.factor(&[setting]);
            match self.decide(&self.standing[0], setting, &self.lane(0)) {
                moved @ (Moved::Diodes(_) | Moved::Batteries(_)) => self.make(0, setting, moved),
                _ => return,
            }
        }
    }

    /// Begins a lane anew, from relays as they were.
    pub(crate) fn begin(&mut self, lane: usize, setting: &Setting, relays: Relays) {
        let mut standing = Settling::new();
        standing.walk[0] = relays.0;
        self.standing[lane] = standing;
        self.load(lane, setting);
    }

    /// Puts a setting's conductances into a lane, relays and diodes as the lane has them.
    fn load(&mut self, lane: usize, setting: &Setting) {
        // A setting whose changes join nodes needs a solver that has room for that.
        debug_assert_eq!(self.conductance.len(), setting.conductance.len() + setting.extra.len());
        if !self.batteries.is_empty() && setting.condition().engine >= Engine::Running {
            // The likelier way round is tried first.
            self.standing[lane].charging = u64::MAX;
        }
        let still = setting.still ^ self.standing[lane].charging.wrapping_mul(0x9e37_79b9);
        if self.still[lane] == Some(still) {
            for element in &self.program.moving {
                self.conductance[*element].set(lane, setting.conductance[*element]);
            }
        } else {
            self.still[lane] = Some(still);
            self.fresh = false;
            let all = setting.conductance.iter().chain(&setting.extra);
            for (slot, g) in self.conductance.iter_mut().zip(all) {
                slot.set(lane, *g);
            }
            self.set_batteries(lane, setting);
            for (emf, element) in self.emf.iter_mut().zip(&self.sources) {
                emf.set(lane, setting.volts[*element]);
            }
        }
        for (element, threshold) in self.diodes.iter().zip(&mut self.thresholds) {
            self.conductance[*element].set(lane, 0.0);
            threshold.set(lane, setting.volts[*element]);
        }
        self.set_relays(lane, setting);
    }

    fn set_relays(&mut self, lane: usize, setting: &Setting) {
        let relays = self.standing[lane].relays();
        for (contact, element) in &self.relay_contacts {
            let g = setting.relay_contact(*contact, &self.circuit.contacts[*contact], relays);
            self.conductance[*element].set(lane, g);
        }
    }

    fn set_batteries(&mut self, lane: usize, setting: &Setting) {
        for (i, (element, charge)) in self.batteries.iter().enumerate() {
            let discharge = setting.conductance[*element];
            let charging = self.standing[lane].charging >> i & 1 == 1;
            let g = if charging { discharge.min(*charge) } else { discharge };
            self.conductance[*element].set(lane, g);
        }
    }

    pub(crate) fn factor(&mut self, settings: &[&Setting]) {
        if !self.fresh {
            self.factor_still(settings);
            self.fresh = true;
        }
        self.program.stamp_moving(&mut self.work, &self.conductance);
        for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
            let standing = &self.standing[lane];
            for (d, element) in self.diodes.iter().enumerate() {
                let e = &self.circuit.elements[*element];
                if standing.diodes >> d & 1 == 1 {
                    // The threshold holds back what comes in at the anode.
                    let volts = setting.volts[*element];
                    let amps = self.conductance[*element].get(lane) * volts;
                    inject(&mut self.work, e.a, lane, amps);
                    inject(&mut self.work, e.b, lane, -amps);
                }
            }
        }
        self.arch.dispatch(Moving { program: &self.program, work: &mut self.work });
    }

    /// The part of the work that only wires, loads and sources decide.
    fn factor_still(&mut self, settings: &[&Setting]) {
        for element in &self.program.moving {
            self.held[*element] = self.conductance[*element];
            self.conductance[*element] = L::ZERO;
        }
        self.program.stamp_still(&mut self.work, &self.conductance);
        for element in &self.program.moving {
            self.conductance[*element] = self.held[*element];
        }
        for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
            for (node, siemens) in &setting.to_ground {
                self.program.stamp_ground(&mut self.work, usize::from(*node), lane, *siemens);
            }
            for (element, emf) in self.sources.iter().zip(&self.emf) {
                let e = &self.circuit.elements[*element];
                let amps = self.conductance[*element].get(lane) * emf.get(lane);
                inject(&mut self.work, e.b, lane, amps);
                inject(&mut self.work, e.a, lane, -amps);
            }
        }
        for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
            if let Some((red, black, amps)) = setting.driven {
                inject(&mut self.work, red, lane, amps);
                inject(&mut self.work, black, lane, -amps);
            }
        }
        self.program.solve_still(&mut self.work);
    }

    /// Moves one lane's diodes, relays and fuses once; true if nothing moved.
    fn step(&mut self, lane: usize, setting: &Setting) -> bool {
        if self.standing[lane].settled {
            return true;
        }
        let moved = self.decide(&self.standing[lane], setting, &self.lane(lane));
        self.make(lane, setting, moved);
        moved == Moved::Nothing
    }

    /// What moves next at an operating point, by what stands there.
    pub(crate) fn decide(
        &self,
        standing: &Settling,
        setting: &Setting,
        seen: &impl Solved,
    ) -> Moved {
        let diodes = self.diodes_to_turn(standing, setting, seen);
        if diodes != 0 {
            return Moved::Diodes(diodes);
        }
        let batteries = self.batteries_to_turn(standing, seen);
        if batteries != 0 {
            return Moved::Batteries(batteries);
        }
        if standing.cycle.is_none() {
            let before = standing.relays();
            let after = self.relays_after(before, setting, seen);
            let walk = &standing.walk[..=standing.steps];
            let visited = walk.iter().position(|s| *s == after);
            match visited {
                _ if after == before => {}
                Some(first) => return Moved::Chatters(first),
                None if standing.steps + 1 == LONGEST_WALK => return Moved::Chatters(0),
                None => return Moved::Relays(after),
            }
        }
        match self.fuses_to_blow(setting, seen) {
            0 => Moved::Nothing,
            fuses => Moved::Fuses(fuses),
        }
    }

    /// Makes what was decided so in a lane.
    pub(crate) fn make(&mut self, lane: usize, setting: &Setting, moved: Moved) {
        let standing = &mut self.standing[lane];
        match moved {
            Moved::Nothing => standing.settled = true,
            Moved::Diodes(turned) => {
                standing.diodes ^= turned;
                standing.diode_turns += 1;
                let on = standing.diodes;
                for (d, element) in self.diodes.iter().enumerate() {
                    let g = if on >> d & 1 == 1 { setting.conductance[*element] } else { 0.0 };
                    self.conductance[*element].set(lane, g);
                }
            }
            Moved::Batteries(turned) => {
                standing.charging ^= turned;
                standing.charge_turns += 1;
                self.set_batteries(lane, setting);
                // The wires are as they were, but not the battery behind them.
                self.still[lane] = None;
                self.fresh = false;
            }
            Moved::Relays(after) => {
                standing.steps += 1;
                standing.walk[standing.steps] = after;
                standing.diode_turns = 0;
                self.set_relays(lane, setting);
            }
            Moved::Chatters(first) => standing.cycle = Some(first),
            Moved::Fuses(blown) => {
                standing.blown |= blown;
                // What the relays did with the fuse whole no longer counts.
                standing.walk[0] = standing.relays();
                standing.steps = 0;
                standing.cycle = None;
                for (f, (element, _)) in self.fuses.iter().enumerate() {
                    if blown >> f & 1 == 1 {
                        self.conductance[*element].set(lane, 0.0);
                    }
                }
            }
        }
    }

    /// Diodes to turn on or off by what stands across them.
    fn diodes_to_turn(&self, standing: &Settling, setting: &Setting, seen: &impl Solved) -> u64 {
        if standing.diode_turns > 40 {
            return 0;
        }
        let mut turned = 0;
        for (d, element) in self.diodes.iter().enumerate() {
            let e = &self.circuit.elements[*element];
            let volts = setting.volts[*element];
            let across = seen.between(e.a, e.b);
            let on = standing.diodes >> d & 1 == 1;
            // A diode with nothing behind it sits at its threshold without a current: leave it.
            let turns = if on { across < volts - 1e-9 } else { across > volts + 1e-9 };
            if turns {
                turned |= 1 << d;
                // After many turns only one diode may move a step: that cannot cycle for long.
                if standing.diode_turns > 10 {
                    break;
                }
            }
        }
        turned
    }

    /// Batteries that current runs into, or out of again.
    fn batteries_to_turn(&self, standing: &Settling, seen: &impl Solved) -> u64 {
        if standing.charge_turns > 4 {
            return 0;
        }
        let turns = |i: usize, element: usize| {
            let into = -seen.amps(ElementId(element as u16));
            let charging = standing.charging >> i & 1 == 1;
            (charging && into < -1e-9) || (!charging && into > 1e-9)
        };
        let each = self.batteries.iter().enumerate();
        each.fold(0, |all, (i, (element, _))| all | u64::from(turns(i, *element)) << i)
    }

    /// The relays as the volts across their coils move them.
    fn relays_after(&self, before: u64, setting: &Setting, seen: &impl Solved) -> u64 {
        // None if it is open, a share of those across it if turns are shorted.
        let pulling = |coil: usize| {
            let element = self.circuit.coils[coil].element;
            let e = self.circuit.element(element);
            match seen.conducts(element) {
                true => seen.between(e.a, e.b) * setting.pull(coil),
                false => 0.0,
            }
        };
        let mut after = 0;
        for (c, coil) in self.circuit.coils.iter().enumerate() {
            if coil.assists.is_some() {
                continue;
            }
            let lent = self.assists.iter().filter(|(_, (other, _))| *other == c);
            let lent: f64 = lent.map(|(own, (_, counts))| pulling(*own) * counts).sum();
            let volts = (pulling(c) + lent).abs();
            let pulled = match before >> c & 1 {
                1 => volts > coil.drops_out,
                _ => volts >= coil.pulls_in,
            };
            after |= u64::from(pulled) << c;
        }
        after
    }

    /// Fuses that carry more than they stand.
    fn fuses_to_blow(&self, setting: &Setting, seen: &impl Solved) -> u64 {
        let mut blown = 0;
        for (f, (element, amps)) in self.fuses.iter().enumerate() {
            let id = ElementId(*element as u16);
            let amps = setting.rating(id).map_or(*amps, |rating| rating * FUSE_BLOWS_AT);
            if seen.amps(id).abs() > amps {
                blown |= 1 << f;
            }
        }
        blown
    }

    /// What stands in one of the lanes.
    pub fn lane(&self, lane: usize) -> OfLane<'_, 'c, L> {
        OfLane { solver: self, lane }
    }

    /// Node volts above the reference; of a floating piece, above one of its own nodes.
    pub fn volts(&self, lane: usize, node: NodeId) -> f64 {
        self.lane(lane).volts(node)
    }

    /// Current through an element from `a` to `b`, in amperes.
    pub fn amps(&self, lane: usize, element: ElementId) -> f64 {
        self.lane(lane).amps(element)
    }

    /// Whether an element conducts at all.
    pub fn conducts(&self, lane: usize, element: ElementId) -> bool {
        self.lane(lane).conducts(element)
    }

    /// The relays as they stand now: of chatter, at the last state solved.
    pub fn relays(&self, lane: usize) -> Relays {
        Relays(self.standing[lane].relays())
    }

    /// The states a chattering circuit goes round; empty when it settles.
    pub fn chatter(&self, lane: usize) -> &[u64] {
        let standing = &self.standing[lane];
        standing.cycle.map_or(&[], |first| &standing.walk[first..=standing.steps])
    }

    /// For every node a number that nodes of one connected piece share; 0 is the reference's.
    pub fn pieces(&self, lane: usize) -> Vec<u16> {
        self.program.pieces(&self.work, lane)
    }

    /// What the circuit shows between two nodes with its sources off, in ohms; relays and diodes
    /// as they stand. `None` if the nodes lie in separate pieces.
    pub fn resistance(&self, lane: usize, a: NodeId, b: NodeId) -> Option<f64> {
        let pieces = self.pieces(lane);
        (pieces[a.index()] == pieces[b.index()]).then(|| self.lane(lane).resistance(a, b))
    }
}

/// One lane of a solver.
pub struct OfLane<'a, 'c, L: Lane = f64> {
    solver: &'a Solver<'c, L>,
    lane: usize,
}

impl<L: Lane> Solved for OfLane<'_, '_, L> {
    fn circuit(&self) -> &Circuit {
        self.solver.circuit
    }

    fn volts(&self, node: NodeId) -> f64 {
        self.solver.work.volts[node.index()].get(self.lane)
    }

    fn siemens(&self, element: ElementId) -> f64 {
        self.solver.conductance[element.index()].get(self.lane)
    }

    fn emf(&self, element: ElementId) -> f64 {
        let Solver { sources, diodes, emf, thresholds, .. } = self.solver;
        let all = sources.iter().zip(emf).chain(diodes.iter().zip(thresholds));
        let mut own = all.filter(|(e, _)| **e == element.index());
        own.next().map_or(0.0, |(_, volts)| volts.get(self.lane))
    }

    fn relays(&self) -> Relays {
        self.solver.relays(self.lane)
    }

    fn chatter(&self) -> &[u64] {
        self.solver.chatter(self.lane)
    }

    fn blown(&self) -> Vec<ElementId> {
        let blown = self.solver.standing[self.lane].blown;
        let fuses = self.solver.fuses.iter().enumerate();
        let own = fuses.filter(|(f, _)| blown >> f & 1 == 1);
        own.map(|(_, (e, _))| ElementId(*e as u16)).collect()
    }

    fn pieces(&self) -> Vec<u16> {
        self.solver.pieces(self.lane)
    }

    fn resistance(&self, a: NodeId, b: NodeId) -> f64 {
        self.solver.program.resistance(&self.solver.work, a, b, self.lane)
    }
}
