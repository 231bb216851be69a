//! Elements: branches between two nodes.

use super::ids::NodeId;
use crate::machine::Engine;

/// What an element is to the circuit.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum ElementKind {
    Wire,
    /// A wire that is not drawn, and that an alternative of the document has; it conducts only there.
    Possible,
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
    /// Whether it is there, or gives volts, while the engine does this.
    pub(crate) fn is_live(&self, engine: Engine) -> bool {
        self.live >> engine as u32 & 1 != 0
    }

    /// Its conductance as drawn, in siemens; of a contact, when made.
    pub(crate) fn siemens(&self) -> f64 {
        if self.kind == ElementKind::Possible { 0.0 } else { 1.0 / self.ohms }
    }

    pub(crate) fn is_diode(&self) -> bool {
        matches!(self.kind, ElementKind::Diode { .. })
    }

    /// Whether its conductance follows controls, coils or the current itself.
    pub(crate) fn moves(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Contact(_) | Diode { .. } | Fuse { rating: Some(_) })
    }

    /// Whether it only carries current, in one wiring or another of the machine.
    pub(crate) fn may_conduct(&self) -> bool {
        self.conducts() || self.kind == ElementKind::Possible
    }

    /// Whether it only carries current, rather than using or giving it.
    pub fn conducts(&self) -> bool {
        use ElementKind::*;
        matches!(self.kind, Wire | Joint | Ground | Fuse { .. } | Contact(_) | Diode { .. })
    }
}

/// A discharged lead-acid battery's inner resistance rises by this many e-folds for each share of its
/// rest volts that it is short of: threefold half discharged (12.06 of 12.65 V), tenfold where the
/// acid is spent (11.5 V)...
const DRAINED_RISE: f64 = 24.0;
/// ... and no more than this: nearly water.
const MOST_DRAINED: f64 = 40.0;

/// The inner ohms of a battery discharged to these volts at rest, of one that has `ohms` when it is
/// full at `full` volts.
pub fn drained_ohms(full: f64, ohms: f64, volts: f64) -> f64 {
    let short = ((full - volts) / full).max(0.0);
    ohms * (DRAINED_RISE * short).exp().min(MOST_DRAINED)
}

impl Element {
    /// The same of this battery.
    pub fn drained_ohms(&self, volts: f64) -> f64 {
        drained_ohms(self.kind.emf().unwrap_or(volts), self.ohms, volts)
    }
}
