//! What is never proposed, and what to mind at what is.

use crate::circuit::{
    Circuit, Condition, Crank, Element, ElementId, ElementKind, Engine, Instrument, NodeId,
};
use crate::diagnosis::evidence::{Sense, SetUp, TestAction};
use crate::interlock::{Ladder, Track};
use crate::machine::{Expression, PartKind};
use serde::Serialize;
use std::collections::BTreeSet;

/// What to mind at a test.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Caution {
    /// The condition asks the starter to turn.
    MayCrank,
    /// It should not crank here and could move off if it does: spark leads off and grounded,
    /// wheels chocked, area clear.
    MightMove,
    /// Ohms with the battery still on: key off, blades off, and volts read first, for two things bad at
    /// once can keep live what neither would alone.
    PowerOff,
    /// Ohms with the battery's negative lead off: off first, on last.
    BatteryOff,
    /// Ohms on a machine that has no battery: nobody turns the engine meanwhile.
    EngineStopped,
    /// The unplugged connector bares live pins on its harness side.
    LiveHarness,
    /// The engine runs: keep clear of belts and blades, out of doors.
    EngineRuns,
    /// The blades may turn.
    BladesTurn,
    /// The kill lead is off: nothing can stop the engine. It must not be cranked, nor pulled.
    KillLeadOff,
    /// A jumper is on.
    JumperWire,
    /// The wheels are driven with the engine running.
    Drives,
    /// The operator leaves the seat of a machine that runs.
    OffTheSeat,
    /// The chute is lifted with the blades turning.
    LiftsChute,
}

impl Caution {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// What is said of it on the card.
    pub fn words(self) -> &'static str {
        match self {
            Self::MayCrank => {
                "It may crank. Blades off, neutral and brake set, wheels chocked; stay clear \
                 of belts and fan. Crank 5 s at most, then rest 60 s."
            }
            Self::MightMove => {
                "It should not crank here, and could move off if it does. Spark leads off and \
                 grounded, wheels chocked, area clear."
            }
            Self::PowerOff => {
                "Blades off, wheels chocked, key out of the switch. Volts first, same two \
                 points: must read 0. Never ohms on a live circuit."
            }
            Self::BatteryOff => {
                "Battery negative clamp off first, on last. With it off nothing can crank."
            }
            Self::EngineStopped => {
                "Engine stopped, blades off. Nobody pulls the rope while the meter is on."
            }
            Self::LiveHarness => {
                "The plug stays live on the harness side: keep the loose end off metal."
            }
            Self::EngineRuns => {
                "The engine runs: keep clear of belts, fan and exhaust, and stay out of \
                 doors."
            }
            Self::BladesTurn => "The blades may turn: nobody near the deck, chute down.",
            Self::KillLeadOff => {
                "The kill wire is off its module: nothing can stop the engine. It must not be \
                 started."
            }
            Self::JumperWire => {
                "A fused jumper, 15 A. Blades off, neutral and brake set, wheels chocked. Last clip \
                 on where you stand clear; take it off before anything else."
            }
            Self::Drives => "It drives here: drive wheels up on stands, nobody in front or behind.",
            Self::OffTheSeat => {
                "Only lift yourself off the seat: feet stay on, one hand on the key. Don’t step down \
                 while anything turns."
            }
            Self::LiftsChute => {
                "The blades turn with the chute up: nobody on that side. Lift it from behind with a \
                 stick, never with a hand or foot."
            }
        }
    }
}

/// Why a measurement is never proposed. Who takes it all the same is told.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Danger {
    /// A lamp on a kill wire takes it to ground, or to the battery.
    LampOnKillWire,
    /// The module is still on the kill wire: it reads for the wire, and pulses to hundreds of volts
    /// if the engine turns.
    ModuleOnKillWire,
    /// A current is put in with the engine turning.
    EngineTurns,
    /// A current is put into what is live, or would be under a suspect that counts.
    LiveCircuit,
    /// The lamp's current would pull in a coil: a relay, a clutch, the starter.
    PullsIn,
    /// The kill wire is off its module, and the starter would turn the engine.
    CannotBeStopped,
    /// Jumper cables feed the machine, whatever its own battery's clamp does.
    JumperOn,
    /// A jumper lies across the battery, or nearly.
    ShortsBattery,
    /// A jumper's own fuse would blow on a good machine.
    BlowsJumperFuse,
    /// A jumper feeds a kill wire from the battery.
    BatteryOnKillWire,
    /// With it the machine no longer does all its duties: in some condition it cranks, or runs on, where a
    /// good one would not.
    BypassesInterlock,
}

impl Danger {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// What is said of it on the card.
    pub fn words(self) -> &'static str {
        match self {
            Self::LampOnKillWire => {
                "Never a lamp on a kill wire: from the battery it can destroy the ignition \
                 module. Take the meter."
            }
            Self::ModuleOnKillWire => {
                "The ignition module is still on this wire: you read the module with it, and \
                 it pulses to hundreds of volts if the engine turns. Take its plug off first."
            }
            Self::EngineTurns => {
                "No ohms, continuity or diode range while the engine turns: it can ruin the \
                 meter."
            }
            Self::LiveCircuit => {
                "This is live, or is if one of the suspects is bad: ohms read nonsense there \
                 and can ruin the meter. Key off, or the battery negative clamp off, first."
            }
            Self::PullsIn => {
                "The lamp’s current can pull in a relay or solenoid here, and crank. Take the \
                 voltmeter."
            }
            Self::CannotBeStopped => {
                "The kill wire is off and the starter could turn the engine: nothing would \
                 stop it. Battery negative clamp off, or spark leads off and grounded, first."
            }
            Self::JumperOn => {
                "The jumper cables still feed this machine, even with its battery clamp off. Take \
                 the cables off first."
            }
            Self::ShortsBattery => {
                "This puts the battery straight to ground: the wire burns and the battery can \
                 burst. Don’t."
            }
            Self::BlowsJumperFuse => {
                "A good machine draws more here than this fuse carries: it would blow and tell you \
                 nothing."
            }
            Self::BatteryOnKillWire => {
                "This puts battery volts on the kill wire: it destroys the ignition module. Don’t."
            }
            Self::BypassesInterlock => {
                "Like this a safety switch no longer works. Only for this one test, nobody near belts \
                 and blades. Put it right before anything else."
            }
        }
    }
}

/// What matters for safety of a machine, worked out once.
#[derive(Clone, Debug)]
pub(crate) struct Hazards {
    /// Kill leads: with the engine turning they pulse to hundreds of volts.
    pub kill_nodes: BTreeSet<NodeId>,
    /// Connectors, by part, that a kill wire runs through.
    pub kill_plugs: BTreeSet<usize>,
    /// Its wires, by index.
    kill_wires: BTreeSet<usize>,
    /// Sets of them that take the modules off their wires: off all ways to ground at once where
    /// plugs do that, else each off some.
    pub cuts: Vec<Vec<usize>>,
    /// Connectors, by part, without which no key cranks it: the start circuit runs through them.
    start_plugs: BTreeSet<usize>,
    /// The nodes at which kill leads begin, and what hangs on them.
    leads: BTreeSet<NodeId>,
    ways: Vec<KillWay>,
}

/// An element between two nodes of a kill wire, and the connector it is a pin of.
#[derive(Clone, Copy, Debug)]
struct KillWay {
    ends: [NodeId; 2],
    connector: Option<usize>,
    wire: Option<usize>,
}

impl Hazards {
    pub fn of(circuit: &Circuit) -> Self {
        let mut hazards = Self {
            kill_nodes: BTreeSet::new(),
            kill_plugs: BTreeSet::new(),
            kill_wires: BTreeSet::new(),
            cuts: Vec::new(),
            start_plugs: start_plugs(circuit),
            leads: BTreeSet::new(),
            ways: Vec::new(),
        };
        let named = circuit.document().circuits.iter().filter(|c| c.load.is_none());
        let mut parting = Vec::new();
        for ladder in named.filter_map(|c| Ladder::lay_out(circuit, &c.id).ok()) {
            hazards.leads.insert(ladder.from);
            hazards.kill_nodes.extend(hangs_on(circuit, &ladder));
            parting.push(parting_plug(circuit, &ladder));
        }
        let kill = &hazards.kill_nodes;
        let ways = circuit
            .elements()
            .filter(|(_, e)| e.may_conduct() && kill.contains(&e.a) && kill.contains(&e.b));
        let ways = ways.map(|(_, e)| KillWay {
            ends: [e.a, e.b],
            connector: e.part.filter(|_| e.kind == ElementKind::Joint),
            wire: e.wire,
        });
        hazards.ways = ways.collect();
        hazards.kill_plugs = hazards.ways.iter().filter_map(|w| w.connector).collect();
        hazards.kill_wires = hazards.ways.iter().filter_map(|w| w.wire).collect();
        let all: Option<BTreeSet<usize>> = parting.into_iter().collect();
        hazards.cuts = match all {
            Some(plugs) if !plugs.is_empty() => vec![plugs.into_iter().collect()],
            _ => hazards.kill_plugs.iter().map(|p| vec![*p]).collect(),
        };
        hazards
    }

    /// Whether probes may be put there at all, whatever is wrong with the machine.
    pub fn allows(
        &self,
        set_up: &[SetUp],
        condition: &Condition,
        probe: (Instrument, [NodeId; 2]),
    ) -> bool {
        self.dangers(set_up, condition, probe).is_empty()
    }

    /// Why probes may not be put there, whatever is wrong with the machine.
    ///
    /// Nothing on a kill lead unless the module is off it, and no lamp there ever; no probe while
    /// the engine turns, but volts away from the kill lead.
    pub fn dangers(
        &self,
        set_up: &[SetUp],
        condition: &Condition,
        (instrument, nodes): (Instrument, [NodeId; 2]),
    ) -> Vec<Danger> {
        let mut all = Vec::new();
        // Not even with the module off it: a habit is quicker than a plug.
        let lamp = matches!(instrument, Instrument::TestLamp | Instrument::LedLamp);
        if lamp && nodes.iter().any(|n| self.kill_nodes.contains(n)) {
            all.push(Danger::LampOnKillWire);
        } else if nodes.iter().any(|n| self.on_kill(set_up, *n)) {
            all.push(Danger::ModuleOnKillWire);
        }
        if condition.engine != Engine::Stopped && instrument.feeds() {
            all.push(Danger::EngineTurns);
        }
        all
    }

    /// Whether a node hangs on a kill lead with these connectors off.
    fn on_kill(&self, set_up: &[SetUp], node: NodeId) -> bool {
        if !self.kill_nodes.contains(&node) {
            return false;
        }
        let off = |e: &KillWay| {
            e.connector.is_some_and(|c| set_up.contains(&SetUp::Unplugged(c)))
                || e.wire.is_some_and(|w| set_up.contains(&SetUp::WireOff(w)))
        };
        let mut reached = self.leads.clone();
        loop {
            let before = reached.len();
            for way in self.ways.iter().filter(|w| !off(w)) {
                if reached.contains(&way.ends[0]) || reached.contains(&way.ends[1]) {
                    reached.extend(way.ends);
                }
            }
            if reached.contains(&node) {
                return true;
            }
            if reached.len() == before {
                return false;
            }
        }
    }

    /// Whether a key is held to start with the start circuit whole but for its interlocks.
    pub fn key_may_crank(
        &self,
        circuit: &Circuit,
        (condition, set_up): (&Condition, &[SetUp]),
    ) -> bool {
        let cut = set_up.iter().any(|s| match s {
            SetUp::BatteryOff => true,
            SetUp::Unplugged(plug) => self.start_plugs.contains(plug),
            _ => false,
        });
        !cut && condition.engine == Engine::Stopped && key_is_held(circuit, condition)
    }

    /// Whether this part of the set-up leaves the engine without its kill lead.
    pub fn unkillable(&self, set_up: &[SetUp]) -> bool {
        set_up.iter().any(|s| match s {
            SetUp::Unplugged(plug) => self.kill_plugs.contains(plug),
            SetUp::WireOff(wire) => self.kill_wires.contains(wire),
            _ => false,
        })
    }
}

/// Whether the battery could drive a current between two nodes with this set-up, whatever is wrong:
/// each hangs on it by a way that does not lead through the other, whatever stands in that way taken
/// to conduct. Two faults at once keep live what neither would alone.
pub(crate) fn may_be_live(circuit: &Circuit, set_up: &[SetUp], [one, other]: [NodeId; 2]) -> bool {
    !set_up.contains(&SetUp::BatteryOff)
        && hangs_on_battery(circuit, set_up, one, other)
        && hangs_on_battery(circuit, set_up, other, one)
}

/// Whether a node hangs on the battery by a way that does not lead through another.
fn hangs_on_battery(circuit: &Circuit, set_up: &[SetUp], node: NodeId, without: NodeId) -> bool {
    let source = |e: &Element| matches!(e.kind, ElementKind::Source { .. });
    let off = |e: &Element| {
        e.kind == ElementKind::Joint
            && e.part.is_some_and(|p| set_up.contains(&SetUp::Unplugged(p)))
    };
    let mut next: Vec<_> =
        circuit.elements().filter(|(_, e)| source(e)).flat_map(|(_, e)| [e.a, e.b]).collect();
    next.retain(|post| *post != without);
    let mut reached: BTreeSet<_> = next.iter().copied().collect();
    while let Some(here) = next.pop() {
        if here == node {
            return true;
        }
        for (id, other, _) in circuit.around(here) {
            let e = circuit.element(*id);
            if *other != without && !source(e) && !off(e) && reached.insert(*other) {
                next.push(*other);
            }
        }
    }
    false
}

/// The connectors, by part, that the start circuit cannot do without.
fn start_plugs(circuit: &Circuit) -> BTreeSet<usize> {
    let Ok(track) = Track::lay_out(circuit, "start") else { return BTreeSet::new() };
    let part_of = |e: ElementId| {
        let element = circuit.element(e);
        element.part.filter(|_| element.kind == ElementKind::Joint)
    };
    let plugs: BTreeSet<usize> = track.elements().into_iter().filter_map(part_of).collect();
    plugs.into_iter().filter(|plug| !track.complete(&|e| part_of(e) != Some(*plug))).collect()
}

/// All that a kill lead could reach through wires, plugs and contacts however they stand, short of
/// the ground it is grounded to and of the battery.
fn hangs_on(circuit: &Circuit, ladder: &Ladder) -> BTreeSet<NodeId> {
    let mut barred = solid_with(circuit, ladder.to);
    for (_, e) in circuit.elements() {
        if matches!(e.kind, ElementKind::Source { .. }) {
            barred.extend(solid_with(circuit, e.a));
            barred.extend(solid_with(circuit, e.b));
        }
    }
    let mut reached = BTreeSet::from([ladder.from]);
    let mut next = vec![ladder.from];
    while let Some(node) = next.pop() {
        for (id, other, _) in circuit.around(node) {
            let on = circuit.element(*id).may_conduct() && !barred.contains(other);
            if on && reached.insert(*other) {
                next.push(*other);
            }
        }
    }
    reached
}

/// The plug, by part, that takes a ladder's module off all its rungs at once, as near to the module
/// as there is one.
fn parting_plug(circuit: &Circuit, ladder: &Ladder) -> Option<usize> {
    let first = ladder.rungs.first()?;
    let shared = |e: &&ElementId| ladder.rungs.iter().all(|r| r.path.elements.contains(e));
    first.path.elements.iter().filter(shared).find_map(|e| {
        let e = circuit.element(*e);
        let plug = |p: &usize| circuit.part(*p).kind == PartKind::Connector;
        e.part.filter(|p| e.kind == ElementKind::Joint && plug(p))
    })
}

/// What the starter would do at worst under the suspects that count.
pub(crate) fn may_turn(crank: Crank) -> bool {
    matches!(crank, Crank::Slow | Crank::Yes | Crank::Chatter | Crank::Click)
}

/// What to mind.
///
/// # Arguments
/// `cranks` is whether it may crank while this is done, `should` whether a sound machine would.
pub(crate) fn cautions(
    circuit: &Circuit,
    hazards: &Hazards,
    (condition, set_up): (&Condition, &[SetUp]),
    action: TestAction,
    (cranks, should): (bool, bool),
) -> Vec<Caution> {
    let mut all = Vec::new();
    let battery_off = set_up.contains(&SetUp::BatteryOff);
    if cranks {
        all.push(Caution::MayCrank);
    }
    if action == TestAction::Try(Sense::Starter) && !should {
        all.push(Caution::MightMove);
    }
    if action.is_ohms() {
        let dead = power_off(circuit, condition) == *condition;
        all.push(match has_battery(circuit) {
            false => Caution::EngineStopped,
            true if dead && !battery_off => Caution::PowerOff,
            true => Caution::BatteryOff,
        });
    }
    if hazards.unkillable(set_up) {
        all.push(Caution::KillLeadOff);
    }
    if condition.engine >= Engine::Running {
        all.push(Caution::EngineRuns);
        if matches!(action, TestAction::Try(_)) {
            all.push(Caution::BladesTurn);
        }
    }
    let bares_feed = set_up.iter().any(|s| match s {
        SetUp::Unplugged(part) | SetUp::LampInPlace(part) => circuit.joints(*part).any(|j| {
            let e = circuit.element(j);
            reaches_battery(circuit, e.a)
        }),
        SetUp::WireOff(wire) => {
            circuit.elements().any(|(_, e)| e.wire == Some(*wire) && reaches_battery(circuit, e.a))
        }
        _ => false,
    });
    if bares_feed && !battery_off {
        all.push(Caution::LiveHarness);
    }
    if set_up.iter().any(|s| matches!(s, SetUp::Jumper { .. })) {
        all.push(Caution::JumperWire);
    }
    all
}

pub(super) fn has_battery(circuit: &Circuit) -> bool {
    circuit.battery().is_some()
}

/// The same condition with the key switch at rest and the engine standing.
pub(crate) fn power_off(circuit: &Circuit, condition: &Condition) -> Condition {
    let rest = Condition::at_rest(circuit);
    let mut dead = Condition { engine: Engine::Stopped, ..condition.clone() };
    for key in key_controls(circuit) {
        dead.positions[key] = rest.positions[key];
    }
    dead
}

/// The controls that work a key switch, by index.
pub(crate) fn key_controls(circuit: &Circuit) -> BTreeSet<usize> {
    let mut keys = BTreeSet::new();
    for part in circuit.document().parts.iter().filter(|p| p.kind == PartKind::KeySwitch) {
        for text in part.contacts.iter().filter_map(|c| c.made_when.as_deref()) {
            let Ok(expression) = Expression::parse(text) else {
                continue;
            };
            for term in expression.terms() {
                keys.extend(circuit.controls.iter().position(|c| c.id == term.control));
            }
        }
    }
    keys
}

/// Whether a key is held against its spring, as it is to start. With the engine standing, only the
/// interlocks keep it from cranking then, and two of them may be bad at once.
pub(crate) fn key_is_held(circuit: &Circuit, condition: &Condition) -> bool {
    let held = |key: &usize| {
        let position = usize::from(condition.positions[*key]);
        circuit.controls[*key].positions[position].returns_to.is_some()
    };
    key_controls(circuit).iter().any(held)
}

/// The nodes that nothing switched parts from this one.
pub(crate) fn solid_with(circuit: &Circuit, node: NodeId) -> BTreeSet<NodeId> {
    let mut reached = BTreeSet::from([node]);
    let mut next = vec![node];
    while let Some(node) = next.pop() {
        for (id, other, _) in circuit.around(node) {
            let kind = circuit.element(*id).kind;
            let solid =
                matches!(kind, ElementKind::Wire | ElementKind::Joint | ElementKind::Ground);
            if solid && reached.insert(*other) {
                next.push(*other);
            }
        }
    }
    reached
}

/// Whether a node hangs on a battery's positive post through nothing that is ever switched.
fn reaches_battery(circuit: &Circuit, node: NodeId) -> bool {
    let mut reached = BTreeSet::from([node]);
    let mut next = vec![node];
    while let Some(node) = next.pop() {
        for (id, other, _) in circuit.around(node) {
            let kind = circuit.element(*id).kind;
            use ElementKind::{Fuse, Joint, Possible, Wire};
            let fixed = matches!(kind, Wire | Possible | Joint | Fuse { .. });
            if fixed && reached.insert(*other) {
                next.push(*other);
            }
        }
    }
    circuit
        .elements()
        .any(|(_, e)| matches!(e.kind, ElementKind::Source { .. }) && reached.contains(&e.b))
}
