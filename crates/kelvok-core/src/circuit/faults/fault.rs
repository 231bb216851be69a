//! Faults: the ways in which things fail, and every single one of a machine.

use super::working::{SERIES_OHMS, first_felt};
use crate::circuit::model::{
    Actuator, Ailment, Change, Circuit, Condition, Contact, Element, ElementId, ElementKind,
    NodeId, PlungerId, Resolved,
};
use crate::machine::{MovedBy, PartKind, SHORT_OHMS};
use serde::{Deserialize, Serialize};

/// How something fails, in the trade's terms.
#[derive(
    Clone,
    Copy,
    Debug,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum FaultMode {
    /// Wire, joint, ground, coil or load open; a contact that never makes; a pin pushed back.
    Open,
    /// Open now and then: shaken, warm, wet.
    Intermittent,
    /// A contact that misses in part of its travel.
    DeadSpot,
    /// A contact that never breaks; welded.
    StuckMade,
    /// Corrosion, burnt contact, broken strands: log-uniform from where it is felt to 300 ohm.
    HighResistance,
    FuseBlown,
    /// A fuse of more amperes than the circuit is made for.
    WrongFuse,
    /// The whole plug worked loose.
    ConnectorApart,
    /// Two cavities of a plug pinned the wrong way round.
    Swapped,
    /// Water between two cavities of a plug.
    Water,
    /// The linkage does not reach the plunger; the switch itself is sound.
    LinkageShort,
    /// The linkage does not let the plunger go.
    LinkageHolds,
    /// A switch of the wrong kind fitted: normally open for normally closed.
    WrongSwitch,
    BatteryFlat,
    /// Sulphated or low capacity: high internal resistance.
    BatteryWeak,
    BatteryReversed,
    ShortToGround,
    /// A wire that touches metal only once it is hot.
    GroundWhenHot,
    /// Two wires of a bundle chafed into each other.
    ShortToNeighbor,
    /// Two terminals of a switch joined in a position in which they should not be.
    CrossFeed,
    /// A coil with some of its turns shorted.
    ShortedTurns,
    /// Diode: conducts both ways. Load: shorted through.
    Shorted,
    /// An ignition module or coil that gives no spark.
    Dead,
    /// A module whose kill lead is grounded inside.
    GroundedInside,
    RegulatorDead,
    Overcharge,
    StatorGrounded,
    /// A delay that no longer delays.
    NoDelay,
    /// A clutch that does not pull in for its gap.
    WideGap,
    /// A starter that spins alone.
    NoDrive,
    /// An engine that cannot be turned.
    Seized,
}

impl FaultMode {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// What a mechanic says of the part that fails so: "open", "with two pins swapped".
    pub fn words(self) -> &'static str {
        use FaultMode::*;
        match self {
            Open => "open",
            Intermittent => "opens off and on",
            DeadSpot => "with a dead spot in its travel",
            StuckMade => "stuck closed",
            HighResistance => "high resistance",
            FuseBlown => "blown",
            WrongFuse => "wrong size",
            ConnectorApart => "apart",
            Swapped => "with two pins swapped",
            Water => "with water in it",
            LinkageShort => "does not reach it",
            LinkageHolds => "does not let it go",
            WrongSwitch => "of the wrong kind, NO for NC",
            BatteryFlat => "flat",
            BatteryWeak => "weak under load",
            BatteryReversed => "the wrong way round",
            ShortToGround => "shorted to ground",
            GroundWhenHot => "shorted to ground when hot",
            ShortToNeighbor => "shorted to the wire next to it",
            CrossFeed => "cross-feeding",
            ShortedTurns => "with shorted turns",
            Shorted => "shorted",
            Dead => "without spark",
            GroundedInside => "grounded inside",
            RegulatorDead => "dead",
            Overcharge => "overcharging",
            StatorGrounded => "with a leg grounded",
            NoDelay => "without its delay",
            WideGap => "with its gap worn wide",
            NoDrive => "spins, won’t engage",
            Seized => "engine seized",
        }
    }

    /// The parts it happens to.
    pub fn applies_to(self) -> &'static str {
        use FaultMode::*;
        match self {
            Open => "wires, joints, grounds, contacts, coils, loads, diodes",
            Intermittent => "wires, joints, grounds",
            DeadSpot | NoDelay => "contacts",
            StuckMade => "contacts, relay and solenoid contacts",
            HighResistance => "wires, joints, grounds, fuses, contacts",
            FuseBlown | WrongFuse => "fuses, breakers",
            ConnectorApart | Swapped | Water => "plugs of two cavities or more",
            LinkageShort | LinkageHolds | WrongSwitch => "interlock switches",
            BatteryFlat | BatteryWeak | BatteryReversed => "batteries",
            ShortToGround | GroundWhenHot => "wires",
            ShortToNeighbor => "wires of one bundle",
            CrossFeed => "key and hand switches",
            ShortedTurns => "coils, clutches, fuel solenoids",
            Shorted => "diodes",
            Dead => "ignition modules and coils",
            GroundedInside => "ignition modules",
            RegulatorDead | Overcharge => "regulators",
            StatorGrounded => "stators",
            WideGap => "electric clutches",
            NoDrive | Seized => "starters",
        }
    }

    /// Whether it lasts: an intermittent fault does, while it shows, what the lasting one does.
    pub fn lasts(self) -> bool {
        !matches!(self, Self::Intermittent | Self::DeadSpot)
    }
}

/// One way for one thing to fail; how badly is chosen when its change is asked for.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Fault {
    pub mode: FaultMode,
    change: Change,
    at: At,
    /// Of resistance in series, the first size that is felt there.
    felt: usize,
}

/// What a fault was listed for.
#[derive(Clone, Copy, Debug, PartialEq)]
enum At {
    Element(ElementId),
    /// Two wires of a bundle.
    Wires(ElementId, ElementId),
    Part(usize),
    Plunger(PlungerId),
}

/// Where a fault sits.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct FaultSeat {
    /// The part, by index into the document's; of two wires there is none.
    pub part: Option<usize>,
    /// Wires, by index into the document's.
    pub wires: Vec<usize>,
    pub elements: Vec<ElementId>,
}

/// Volts that stand for a battery from half charged to dead.
const FLAT_VOLTS: [f64; 9] = [12.0, 11.5, 11.0, 10.4, 9.7, 8.8, 7.6, 6.2, 4.8];
/// Internal ohms of a failing battery, some twice to hundreds of times the sound figure.
const WEAK_OHMS: [f64; 9] = [0.03, 0.045, 0.07, 0.12, 0.2, 0.4, 0.8, 1.6, 4.0];
/// Shares of a coil's turns that are shorted.
const LOST_TURNS: [f64; 3] = [0.15, 0.4, 0.75];
/// Water between two pins, in ohms.
const WATER_OHMS: [f64; 2] = [300.0, 5000.0];
/// What a regulator that does not regulate puts out, in volts.
const OVERCHARGE_VOLTS: f64 = 16.5;
/// What a stator with a leg grounded leaves its regulator, in volts.
const GROUNDED_STATOR_VOLTS: f64 = 4.0;
/// A fuse too big for its circuit, as a multiple of the rating drawn.
const TOO_BIG: f64 = 2.0;

impl Fault {
    /// The sizes the fault comes in, equally likely; one that has no size comes in one.
    pub fn magnitudes(&self) -> &'static [f64] {
        match self.mode {
            FaultMode::HighResistance => &SERIES_OHMS[self.felt..],
            FaultMode::BatteryFlat => &FLAT_VOLTS,
            FaultMode::BatteryWeak => &WEAK_OHMS,
            FaultMode::ShortedTurns => &LOST_TURNS,
            FaultMode::Water => &WATER_OHMS,
            _ => &[0.0],
        }
    }

    /// The change at one of the fault's magnitudes: ohms, volts or a share.
    pub fn at(&self, magnitude: f64) -> Change {
        match (self.mode, self.change) {
            (FaultMode::HighResistance | FaultMode::BatteryWeak, Change::Ohms(e, _)) => {
                Change::Ohms(e, magnitude)
            }
            (FaultMode::BatteryFlat, Change::Drained(e, _)) => Change::Drained(e, magnitude),
            (FaultMode::ShortedTurns, Change::ShortedTurns(e, _)) => {
                Change::ShortedTurns(e, magnitude)
            }
            (FaultMode::Water, Change::Join { ends, when, .. }) => {
                Change::Join { ends, ohms: magnitude, when }
            }
            (_, change) => change,
        }
    }

    /// The element it sits in, if it sits in one.
    pub fn element(&self) -> Option<ElementId> {
        match self.change {
            Change::Open(e)
            | Change::AtTimes(e)
            | Change::Made(e)
            | Change::Ohms(e, _)
            | Change::Emf(e, _)
            | Change::Drained(e, _)
            | Change::Swapped(e, _)
            | Change::ShortedTurns(e, _)
            | Change::NoDelay(e)
            | Change::Rating(e, _)
            | Change::Ails(e, _) => Some(e),
            _ => None,
        }
    }

    /// Where it sits.
    pub fn seat(&self, circuit: &Circuit) -> FaultSeat {
        let of = |elements: Vec<ElementId>| FaultSeat {
            part: elements.iter().find_map(|e| circuit.element(*e).part),
            wires: elements.iter().filter_map(|e| circuit.element(*e).wire).collect(),
            elements,
        };
        match self.at {
            At::Element(element) => of(vec![element]),
            At::Wires(one, other) => of(vec![one, other]),
            At::Part(part) => {
                let own = circuit.elements().filter(|(_, e)| e.part == Some(part));
                FaultSeat { part: Some(part), ..of(own.map(|(id, _)| id).collect()) }
            }
            At::Plunger(plunger) => {
                let part = circuit.plungers[plunger.index()].part;
                FaultSeat { part: Some(part), ..of(circuit.contacts_of(plunger).collect()) }
            }
        }
    }

    /// The plunger whose linkage, or whose switch, is at fault.
    pub fn plunger(&self) -> Option<PlungerId> {
        match self.change {
            Change::Pressed(plunger, _) | Change::Inverted(plunger) => Some(plunger),
            _ => None,
        }
    }
}

/// Every single fault of the machine that the engine models, in document order.
pub fn single_faults(circuit: &Circuit) -> Vec<Fault> {
    let mut faults = Vec::new();
    let felt = first_felt(circuit);
    let mut add = |mode, change, at| {
        let felt = match (mode, at) {
            (FaultMode::HighResistance, At::Element(element)) => felt[element.index()],
            _ => 0,
        };
        faults.push(Fault { mode, change, at, felt });
    };
    for (id, element) in circuit.elements() {
        of_element(circuit, id, element, &mut add);
    }
    for (i, part) in circuit.document().parts.iter().enumerate() {
        if part.kind == PartKind::Connector && part.mates.len() > 1 {
            of_connector(circuit, i, &mut add);
        }
        if part.kind.moved_by() == Some(MovedBy::Hand) {
            cross_feeds(circuit, i, &mut add);
        }
    }
    neighbors(circuit, &mut add);
    for i in 0..circuit.plungers.len() {
        let plunger = PlungerId(i as u16);
        let at = At::Plunger(plunger);
        add(FaultMode::LinkageShort, Change::Pressed(plunger, false), at);
        add(FaultMode::LinkageHolds, Change::Pressed(plunger, true), at);
        add(FaultMode::WrongSwitch, Change::Inverted(plunger), at);
    }
    faults
}

fn of_element(
    circuit: &Circuit,
    id: ElementId,
    element: &Element,
    add: &mut impl FnMut(FaultMode, Change, At),
) {
    use FaultMode::*;
    let mut add = |mode, change| add(mode, change, At::Element(id));
    let open = Change::Open(id);
    let high = Change::Ohms(id, SERIES_OHMS[0]);
    let part = element.part.map(|p| circuit.part(p).kind);
    let across = |ohms| Change::Join { ends: (element.a, element.b), ohms, when: None };
    match element.kind {
        ElementKind::Wire => {
            add(Open, open);
            add(Intermittent, Change::AtTimes(id));
            add(HighResistance, high);
            if element.a != NodeId::REFERENCE && element.b != NodeId::REFERENCE {
                add(ShortToGround, Change::ShortToGround(element.a, SHORT_OHMS));
                add(GroundWhenHot, Change::GroundWhenHot(element.a, SHORT_OHMS));
            }
        }
        // It is no part of the machine until it is known to be one.
        ElementKind::Possible => {}
        ElementKind::Joint | ElementKind::Ground => {
            add(Open, open);
            add(Intermittent, Change::AtTimes(id));
            add(HighResistance, high);
        }
        ElementKind::Fuse { rating } => {
            add(FuseBlown, open);
            add(HighResistance, high);
            if let Some(amps) = rating {
                add(WrongFuse, Change::Rating(id, amps * TOO_BIG));
            }
        }
        ElementKind::Contact(c) => {
            add(Open, open);
            add(DeadSpot, Change::AtTimes(id));
            add(HighResistance, high);
            add(StuckMade, Change::Made(id));
            if circuit.contacts[c].timing.is_some() {
                add(NoDelay, Change::NoDelay(id));
            }
        }
        ElementKind::Coil(_) | ElementKind::Load => {
            add(Open, open);
            let wound = matches!(part, Some(PartKind::Clutch | PartKind::FuelSolenoid));
            if wound || matches!(element.kind, ElementKind::Coil(_)) {
                add(ShortedTurns, Change::ShortedTurns(id, LOST_TURNS[0]));
            }
            match part {
                Some(PartKind::Clutch) => add(WideGap, Change::Ails(id, Ailment::WideGap)),
                Some(PartKind::Starter) => {
                    add(NoDrive, Change::Ails(id, Ailment::NoDrive));
                    add(Seized, Change::Ails(id, Ailment::Seized));
                }
                Some(PartKind::IgnitionCoil) => add(Dead, Change::Ails(id, Ailment::Dead)),
                _ => {}
            }
        }
        ElementKind::Source { emf, .. } => {
            add(BatteryFlat, Change::Drained(id, FLAT_VOLTS[0]));
            add(BatteryWeak, Change::Ohms(id, WEAK_OHMS[0]));
            add(BatteryReversed, Change::Emf(id, -emf));
        }
        ElementKind::Winding { .. } => {
            add(Open, open);
            add(StatorGrounded, Change::Emf(id, GROUNDED_STATOR_VOLTS));
        }
        ElementKind::KillPort => {
            add(Dead, Change::Ails(id, Ailment::Dead));
            add(GroundedInside, across(SHORT_OHMS));
        }
        ElementKind::Diode { .. } => match part {
            Some(PartKind::Regulator) => {
                add(RegulatorDead, open);
                add(Overcharge, Change::Emf(id, -OVERCHARGE_VOLTS));
            }
            // A module's own is part of the module; a generator is more than its diodes.
            Some(PartKind::Generator | PartKind::IgnitionModule) => {}
            _ => {
                add(Open, open);
                add(Shorted, across(SHORT_OHMS));
            }
        },
    }
}

fn of_connector(circuit: &Circuit, part: usize, add: &mut impl FnMut(FaultMode, Change, At)) {
    let mut add = |mode, change| add(mode, change, At::Part(part));
    add(FaultMode::ConnectorApart, Change::Apart(part));
    let joints: Vec<_> = circuit.joints(part).collect();
    for pair in joints.windows(2) {
        let ends = (circuit.element(pair[0]).a, circuit.element(pair[1]).a);
        if ends.0 != ends.1 {
            add(FaultMode::Swapped, Change::Swapped(pair[0], pair[1]));
            let ohms = WATER_OHMS[0];
            add(FaultMode::Water, Change::Join { ends, ohms, when: None });
        }
    }
}

/// Terminals of a key or hand switch that could touch in a position in which no contact of it
/// joins them.
fn cross_feeds(circuit: &Circuit, part: usize, add: &mut impl FnMut(FaultMode, Change, At)) {
    let switch = circuit.part(part);
    let node = |t: &String| circuit.terminal(&format!("{}.{t}", switch.id));
    let own: Vec<_> =
        circuit.contacts.iter().filter(|c| circuit.element(c.element).part == Some(part)).collect();
    let Some(control) = control_of(circuit, &own) else {
        return;
    };
    for (i, one) in switch.terminals.iter().enumerate() {
        for other in &switch.terminals[i + 1..] {
            let (Ok(a), Ok(b)) = (node(one), node(other)) else {
                continue;
            };
            if a == b {
                continue;
            }
            for position in 0..circuit.controls[control].positions.len() {
                if !joined(circuit, &own, control, position, (a, b)) {
                    let (ends, when) = ((a, b), Some((control, 1 << position)));
                    let ohms = SHORT_OHMS;
                    add(FaultMode::CrossFeed, Change::Join { ends, ohms, when }, At::Part(part));
                }
            }
        }
    }
}

/// The one control that works a switch.
fn control_of(circuit: &Circuit, contacts: &[&Contact]) -> Option<usize> {
    contacts
        .iter()
        .find_map(|c| match &c.actuator {
            Actuator::Control(expression) => {
                expression.terms().iter().find_map(|term| match term {
                    Resolved::Control { index, .. } => Some(*index),
                    _ => None,
                })
            }
            _ => None,
        })
        .filter(|control| *control < circuit.controls.len())
}

/// Whether contacts of the switch join two nodes in a position, directly or through a third.
fn joined(
    circuit: &Circuit,
    contacts: &[&Contact],
    control: usize,
    position: usize,
    (from, to): (NodeId, NodeId),
) -> bool {
    let mut condition = Condition::at_rest(circuit);
    condition.positions[control] = position as u8;
    let made: Vec<_> = contacts
        .iter()
        .filter(|c| circuit.made(c, &condition))
        .map(|c| (circuit.element(c.element).a, circuit.element(c.element).b))
        .collect();
    let mut reached = vec![from];
    let mut next = 0;
    while next < reached.len() {
        let here = reached[next];
        next += 1;
        for (a, b) in &made {
            for (one, other) in [(*a, *b), (*b, *a)] {
                if one == here && !reached.contains(&other) {
                    reached.push(other);
                }
            }
        }
    }
    reached.contains(&to)
}

/// Wires that lie next to each other in a bundle: as the document lists them.
fn neighbors(circuit: &Circuit, add: &mut impl FnMut(FaultMode, Change, At)) {
    let wires: Vec<_> = circuit
        .elements()
        .filter_map(|(id, e)| {
            let bundle = circuit.document().wires[e.wire?].bundle.as_ref()?;
            Some((bundle, e.a, id))
        })
        .collect();
    for (i, (bundle, a, one)) in wires.iter().enumerate() {
        let next = wires[i + 1..].iter().find(|(other, ..)| other == bundle);
        if let Some((_, b, other)) = next
            && a != b
        {
            let join = Change::Join { ends: (*a, *b), ohms: SHORT_OHMS, when: None };
            add(FaultMode::ShortToNeighbor, join, At::Wires(*one, *other));
        }
    }
}
