//! Elements: branches between two nodes.

use super::ids::NodeId;

/// What an element is to the circuit.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum ElementKind {
    Wire,
    /// Blade and socket in a connector; a resistor or an ammeter in line.
    Joint,
    /// A lug bolted to a body.
    Ground,
    Fuse {
        rating: Option<f64>,
    },
    /// Index into [`Circuit::contacts`].
    Contact(usize),
    /// Index into [`Circuit::coils`].
    Coil(usize),
    Load,
    /// The kill port of an ignition module, to its own body.
    KillPort,
    /// A battery: EMF in volts behind the element's ohms, positive at `b`. Where the machine can
    /// charge it, `charge_ohms` stand in its way when current runs into it.
    Source {
        emf: f64,
        charge_ohms: Option<f64>,
    },
    /// A stator winding: alternating volts (rms) behind the element's ohms.
    Winding {
        volts: f64,
    },
    /// Conducts from `a` to `b` above its threshold in volts. With a threshold below zero it is a
    /// source that takes no current back: a regulator's output.
    Diode {
        volts: f64,
    },
}

impl ElementKind {
    /// Volts of its own behind its ohms, diodes apart.
    pub fn emf(self) -> Option<f64> {
        match self {
            Self::Source { emf, .. } | Self::Winding { volts: emf } => Some(emf),
            _ => None,
        }
    }
}

/// Something between two nodes.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Element {
    /// Its name in the fault notation: `brake.start`, `w7`, `main-fuse`, `brake-plug.A`.
    pub id: String,
    pub a: NodeId,
    pub b: NodeId,
    /// Healthy ohms; of a contact, when made.
    pub ohms: f64,
    /// Tolerance of the ohms, as a fraction.
    pub tolerance: f64,
    pub kind: ElementKind,
    /// Index into the document's parts; wires have none.
    pub part: Option<usize>,
    /// Index into the document's wires.
    pub wire: Option<usize>,
    /// The engine states in which it is there at all, as a mask of [`Engine`](Engine).
    pub live: u32,
}

/// Every engine state.
pub(crate) const ALWAYS: u32 = u32::MAX;

impl Element {
    pub(crate) fn is_diode(&self) -> bool {
        matches!(self.kind, ElementKind::Diode { .. })
    }

    /// Whether its conductance follows controls, coils or the current itself.
    pub(crate) fn moves(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Contact(_) | Diode { .. } | Fuse { rating: Some(_) })
    }

    /// Whether it only carries current, rather than using or giving it.
    pub fn conducts(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Wire | Joint | Ground | Fuse { .. } | Contact(_) | Diode { .. })
    }
}
