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

use super::lane::Lane;
use super::program::Workspace;
use super::{Actuator, Circuit, ElementId, ElementKind, NodeId, Program, Setting};
use crate::machine::{FUSE_BLOWS_AT, Normally};

/// Which coils have pulled in: bit `c` stands for coil `c`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Relays(pub u64);

impl Relays {
    pub fn pulled(self, coil: usize) -> bool {
        self.0 >> coil & 1 == 1
    }
}

/// More relay states than this in a row are taken for chatter that we have not seen repeat.
const LONGEST_WALK: usize = 24;

/// How one lane's relays, diodes and fuses stand.
#[derive(Clone, Copy, Debug)]
struct Standing {
    /// Relay states visited, the last one solved last.
    walk: [u64; LONGEST_WALK],
    steps: usize,
    /// Where in the walk the cycle begins, if the relays chatter.
    cycle: Option<usize>,
    diodes: u64,
    diode_turns: u32,
    blown: u64,
    settled: bool,
}

impl Standing {
    const fn new() -> Self {
        Self {
            walk: [0; LONGEST_WALK],
            steps: 0,
            cycle: None,
            diodes: 0,
            diode_turns: 0,
            blown: 0,
            settled: false,
        }
    }

    fn relays(&self) -> u64 {
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
    circuit: &'c Circuit,
    program: std::borrow::Cow<'c, Program>,
    work: Workspace<L>,
    conductance: Vec<L>,
    /// Volts by source, in the order of `sources`.
    emf: Vec<L>,
    standing: Vec<Standing>,
    /// Contacts that coils move: contact, element, coil, sense.
    relay_contacts: Vec<(usize, usize, usize, Normally)>,
    sources: Vec<usize>,
    diodes: Vec<usize>,
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
        Self::build(circuit, std::borrow::Cow::Borrowed(circuit.program()), 0)
    }

    /// A solver for the circuit with something hung between these pairs of nodes.
    pub fn with_extra(circuit: &'c Circuit, pairs: &[(NodeId, NodeId)]) -> Self {
        let own = circuit.elements.iter().map(|e| (e.a, e.b));
        let all: Vec<_> = own.chain(pairs.iter().copied()).collect();
        let moves: Vec<_> = circuit.elements.iter().map(|e| e.moves()).collect();
        let moves: Vec<_> = moves.into_iter().chain(pairs.iter().map(|_| false)).collect();
        let program = Program::build(circuit.node_count(), &all, &moves);
        Self::build(circuit, std::borrow::Cow::Owned(program), pairs.len())
    }

    fn build(circuit: &'c Circuit, program: std::borrow::Cow<'c, Program>, extra: usize) -> Self {
        let of_kind = |wanted: fn(ElementKind) -> bool| {
            let found = circuit.elements().filter(move |(_, e)| wanted(e.kind));
            found.map(|(id, _)| id.index()).collect::<Vec<_>>()
        };
        let relay_contacts =
            circuit.contacts.iter().enumerate().filter_map(|(i, c)| match c.actuator {
                Actuator::Coil { coil, normally } => Some((i, c.element.index(), coil, normally)),
                _ => None,
            });
        let fuses = circuit.elements().filter_map(|(id, e)| match e.kind {
            ElementKind::Fuse { rating: Some(amps) } => Some((id.index(), amps * FUSE_BLOWS_AT)),
            _ => None,
        });
        let sources = of_kind(|k| matches!(k, ElementKind::Source { .. }));
        Self {
            work: program.workspace(),
            program,
            emf: vec![L::ZERO; sources.len()],
            conductance: vec![L::ZERO; circuit.elements.len() + extra],
            standing: vec![Standing::new(); L::WIDTH],
            relay_contacts: relay_contacts.collect(),
            sources,
            diodes: of_kind(|k| matches!(k, ElementKind::Diode { .. })),
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
        for (lane, setting) in settings.iter().enumerate().take(L::WIDTH) {
            let mut standing = Standing::new();
            standing.walk[0] = relays.get(lane).copied().unwrap_or_default().0;
            self.standing[lane] = standing;
            self.load(lane, setting);
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
        let mut standing = Standing::new();
        standing.walk[0] = relays.0;
        self.standing[0] = standing;
        self.load(0, setting);
        loop {
            self.factor(&[setting]);
            if !self.step_diodes(0, setting) {
                return;
            }
        }
    }

    /// Puts a setting's conductances into a lane, relays and diodes as the lane has them.
    fn load(&mut self, lane: usize, setting: &Setting) {
        if self.still[lane] == Some(setting.still) {
            for element in &self.program.moving {
                self.conductance[*element].set(lane, setting.conductance[*element]);
            }
        } else {
            self.still[lane] = Some(setting.still);
            self.fresh = false;
            let all = setting.conductance.iter().chain(&setting.extra);
            for (slot, g) in self.conductance.iter_mut().zip(all) {
                slot.set(lane, *g);
            }
            for (emf, element) in self.emf.iter_mut().zip(&self.sources) {
                emf.set(lane, setting.volts[*element]);
            }
        }
        for element in &self.diodes {
            self.conductance[*element].set(lane, 0.0);
        }
        self.set_relays(lane, setting);
    }

    fn set_relays(&mut self, lane: usize, setting: &Setting) {
        let relays = Relays(self.standing[lane].relays());
        for (contact, element, coil, normally) in &self.relay_contacts {
            let g = setting.relay_contact(*contact, *normally, relays.pulled(*coil));
            self.conductance[*element].set(lane, g);
        }
    }

    fn factor(&mut self, settings: &[&Setting]) {
        if !self.fresh {
            self.factor_still(settings);
            self.fresh = true;
        }
        self.program.stamp_moving(&mut self.work, &self.conductance);
        for lane in 0..settings.len().min(L::WIDTH) {
            let standing = &self.standing[lane];
            for (d, element) in self.diodes.iter().enumerate() {
                let e = &self.circuit.elements[*element];
                if let ElementKind::Diode { volts } = e.kind
                    && standing.diodes >> d & 1 == 1
                {
                    // The threshold holds back what comes in at the anode.
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
        self.program.solve_still(&mut self.work);
    }

    /// Moves one lane's diodes, relays and fuses once; true if nothing moved.
    fn step(&mut self, lane: usize, setting: &Setting) -> bool {
        if self.standing[lane].settled {
            return true;
        }
        if self.step_diodes(lane, setting)
            || self.step_relays(lane, setting)
            || self.blow_fuses(lane)
        {
            return false;
        }
        self.standing[lane].settled = true;
        true
    }

    /// Turns diodes on or off by what stands across them; true if any turned.
    fn step_diodes(&mut self, lane: usize, setting: &Setting) -> bool {
        if self.diodes.is_empty() || self.standing[lane].diode_turns > 40 {
            return false;
        }
        let mut turned = false;
        for (d, element) in self.diodes.iter().enumerate() {
            let e = &self.circuit.elements[*element];
            let ElementKind::Diode { volts } = e.kind else {
                continue;
            };
            let across = self.volts_between(lane, e.a, e.b);
            let on = self.standing[lane].diodes >> d & 1 == 1;
            // A diode with nothing behind it sits at its threshold without a current: leave it.
            let turns = if on { across < volts - 1e-9 } else { across > volts + 1e-9 };
            if turns {
                // After many turns only one diode may move a step: that cannot cycle for long.
                if turned && self.standing[lane].diode_turns > 10 {
                    break;
                }
                turned = true;
                self.standing[lane].diodes ^= 1 << d;
                let g = if on { 0.0 } else { setting.conductance[*element] };
                self.conductance[*element].set(lane, g);
            }
        }
        self.standing[lane].diode_turns += u32::from(turned);
        turned
    }

    fn step_relays(&mut self, lane: usize, setting: &Setting) -> bool {
        if self.standing[lane].cycle.is_some() {
            return false;
        }
        let before = self.standing[lane].relays();
        let mut after = 0;
        for (c, coil) in self.circuit.coils.iter().enumerate() {
            let e = self.circuit.element(coil.element);
            let open = self.conductance[coil.element.index()].get(lane) == 0.0;
            let volts = if open { 0.0 } else { self.volts_between(lane, e.a, e.b).abs() };
            let pulled = match before >> c & 1 {
                1 => volts > coil.drops_out,
                _ => volts >= coil.pulls_in,
            };
            after |= u64::from(pulled) << c;
        }
        if after == before {
            return false;
        }
        let standing = &mut self.standing[lane];
        let walk = &standing.walk[..=standing.steps];
        if let Some(first) = walk.iter().position(|s| *s == after) {
            standing.cycle = Some(first);
            return false;
        }
        if standing.steps + 1 == LONGEST_WALK {
            standing.cycle = Some(0);
            return false;
        }
        standing.steps += 1;
        standing.walk[standing.steps] = after;
        standing.diode_turns = 0;
        self.set_relays(lane, setting);
        true
    }

    fn blow_fuses(&mut self, lane: usize) -> bool {
        let mut any = false;
        for (f, (element, amps)) in self.fuses.iter().enumerate() {
            if self.amps(lane, ElementId(*element as u16)).abs() > *amps {
                self.standing[lane].blown |= 1 << f;
                self.conductance[*element].set(lane, 0.0);
                any = true;
            }
        }
        if any {
            // What the relays did with the fuse whole no longer counts.
            let standing = &mut self.standing[lane];
            standing.walk[0] = standing.relays();
            standing.steps = 0;
            standing.cycle = None;
        }
        any
    }

    fn volts_between(&self, lane: usize, a: NodeId, b: NodeId) -> f64 {
        self.work.volts[a.index()].get(lane) - self.work.volts[b.index()].get(lane)
    }

    /// Node volts above the reference; of a floating piece, above one of its own nodes.
    pub fn volts(&self, lane: usize, node: NodeId) -> f64 {
        self.work.volts[node.index()].get(lane)
    }

    /// Current through an element from `a` to `b`, in amperes.
    pub fn amps(&self, lane: usize, element: ElementId) -> f64 {
        let e = self.circuit.element(element);
        let g = self.conductance[element.index()].get(lane);
        let across = self.volts_between(lane, e.a, e.b);
        match e.kind {
            ElementKind::Source { .. } => g * (across + self.emf_of(lane, element.index())),
            ElementKind::Diode { volts } if g > 0.0 => g * (across - volts),
            _ => g * across,
        }
    }

    fn emf_of(&self, lane: usize, element: usize) -> f64 {
        let source = self.sources.iter().position(|e| *e == element);
        source.map_or(0.0, |s| self.emf[s].get(lane))
    }

    /// Whether an element conducts at all.
    pub fn conducts(&self, lane: usize, element: ElementId) -> bool {
        self.conductance[element.index()].get(lane) > 0.0
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

    /// Fuses that this operating point has blown.
    pub fn blown(&self, lane: usize) -> impl Iterator<Item = ElementId> {
        let blown = self.standing[lane].blown;
        let fuses = self.fuses.iter().enumerate();
        fuses.filter(move |(f, _)| blown >> f & 1 == 1).map(|(_, (e, _))| ElementId(*e as u16))
    }

    /// For every node a number that nodes of one connected piece share; 0 is the reference's.
    pub fn pieces(&self, lane: usize) -> Vec<u16> {
        self.program.pieces(&self.work, lane)
    }

    /// What the circuit shows between two nodes with its sources off, in ohms; relays and diodes
    /// as they stand. `None` if the nodes lie in separate pieces.
    pub fn resistance(&self, lane: usize, a: NodeId, b: NodeId) -> Option<f64> {
        let pieces = self.pieces(lane);
        (pieces[a.index()] == pieces[b.index()])
            .then(|| self.program.resistance(&self.work, a, b, lane))
    }
}
