//! Changes: everything that differs from the healthy machine as drawn, and the single faults.

use super::{Circuit, ElementId, ElementKind, NodeId, PlungerId};
use crate::machine::{PartKind, SHORT_OHMS};
use serde::Serialize;

/// One difference from the machine as drawn: a fault, a set-up, a temporary change.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Change {
    /// The element does not conduct; a contact never makes.
    Open(ElementId),
    /// The contact is made whatever moves it.
    Made(ElementId),
    /// The element has these ohms; a contact, when made.
    Ohms(ElementId, f64),
    /// The battery has these volts at rest.
    Emf(ElementId, f64),
    /// The node touches the reference body through these ohms.
    ShortToGround(NodeId, f64),
    /// Every cavity of the connector (by part index) is open: worked loose, or unplugged.
    Apart(usize),
    /// The plunger is pressed, or is not, whatever the linkage is meant to do.
    Pressed(PlungerId, bool),
}

/// How something fails, in the trade's terms.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FaultMode {
    /// Wire, joint, ground, coil or load open; a contact that never makes.
    Open,
    /// A contact that never breaks.
    StuckMade,
    /// Corrosion, burnt contact, broken strands: log-uniform 0.3 to 300 ohm.
    HighResistance,
    FuseBlown,
    /// The whole plug worked loose.
    ConnectorApart,
    /// The linkage does not reach the plunger; the switch itself is sound.
    LinkageShort,
    /// The linkage does not let the plunger go.
    LinkageHolds,
    BatteryFlat,
    /// Sulphated or low capacity: high internal resistance.
    BatteryWeak,
    ShortToGround,
}

/// One way for one thing to fail; how badly is chosen when its change is asked for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Fault {
    pub mode: FaultMode,
    change: Change,
}

/// Ohms that stand for the bins of a log-uniform 0.3 to 300 ohm.
const HIGH_OHMS: [f64; 6] = [0.53, 1.7, 5.3, 17.0, 53.0, 170.0];
/// Volts that stand for a battery from half charged to dead.
const FLAT_VOLTS: [f64; 4] = [12.0, 11.5, 10.5, 6.0];
/// Internal ohms of a failing battery, some twice to hundreds of times the sound figure.
const WEAK_OHMS: [f64; 5] = [0.03, 0.08, 0.25, 0.8, 4.0];

impl Fault {
    /// The sizes the fault comes in, equally likely; one that has no size comes in one.
    pub fn magnitudes(&self) -> &'static [f64] {
        match self.mode {
            FaultMode::HighResistance => &HIGH_OHMS,
            FaultMode::BatteryFlat => &FLAT_VOLTS,
            FaultMode::BatteryWeak => &WEAK_OHMS,
            _ => &[0.0],
        }
    }

    /// The change at one of the fault's magnitudes, in ohms or volts.
    pub fn at(&self, magnitude: f64) -> Change {
        match (self.mode, self.change) {
            (FaultMode::HighResistance | FaultMode::BatteryWeak, Change::Ohms(e, _)) => {
                Change::Ohms(e, magnitude)
            }
            (FaultMode::BatteryFlat, Change::Emf(e, _)) => Change::Emf(e, magnitude),
            (_, change) => change,
        }
    }

    /// The element it sits in, if it sits in one.
    pub fn element(&self) -> Option<ElementId> {
        match self.change {
            Change::Open(e) | Change::Made(e) | Change::Ohms(e, _) | Change::Emf(e, _) => Some(e),
            _ => None,
        }
    }

    /// The connector that is apart.
    pub fn connector(&self) -> Option<usize> {
        match self.change {
            Change::Apart(part) => Some(part),
            _ => None,
        }
    }

    /// The plunger whose linkage is at fault.
    pub fn plunger(&self) -> Option<PlungerId> {
        match self.change {
            Change::Pressed(plunger, _) => Some(plunger),
            _ => None,
        }
    }
}

/// Every single fault of the machine that the engine models, in document order.
pub fn single_faults(circuit: &Circuit) -> Vec<Fault> {
    let mut faults = Vec::new();
    let mut add = |mode, change| faults.push(Fault { mode, change });
    for (id, element) in circuit.elements() {
        let open = Change::Open(id);
        let high = Change::Ohms(id, HIGH_OHMS[0]);
        match element.kind {
            ElementKind::Wire => {
                add(FaultMode::Open, open);
                add(FaultMode::HighResistance, high);
                if element.a != NodeId::REFERENCE && element.b != NodeId::REFERENCE {
                    add(FaultMode::ShortToGround, Change::ShortToGround(element.a, SHORT_OHMS));
                }
            }
            ElementKind::Joint | ElementKind::Ground => {
                add(FaultMode::Open, open);
                add(FaultMode::HighResistance, high);
            }
            ElementKind::Fuse { .. } => {
                add(FaultMode::FuseBlown, open);
                add(FaultMode::HighResistance, high);
            }
            ElementKind::Contact(_) => {
                add(FaultMode::Open, open);
                add(FaultMode::HighResistance, high);
                add(FaultMode::StuckMade, Change::Made(id));
            }
            ElementKind::Coil(_) | ElementKind::Load => add(FaultMode::Open, open),
            ElementKind::Source { .. } => {
                add(FaultMode::BatteryFlat, Change::Emf(id, FLAT_VOLTS[0]));
                add(FaultMode::BatteryWeak, Change::Ohms(id, WEAK_OHMS[0]));
            }
            ElementKind::KillPort | ElementKind::Diode { .. } => add(FaultMode::Open, open),
        }
    }
    for (i, part) in circuit.document().parts.iter().enumerate() {
        if part.kind == PartKind::Connector && part.mates.len() > 1 {
            add(FaultMode::ConnectorApart, Change::Apart(i));
        }
    }
    for i in 0..circuit.plungers.len() {
        let plunger = PlungerId(i as u16);
        add(FaultMode::LinkageShort, Change::Pressed(plunger, false));
        add(FaultMode::LinkageHolds, Change::Pressed(plunger, true));
    }
    faults
}
