//! The circuit in one condition with some changes: every element's conductance.

use super::{Actuator, Change, Circuit, Condition, ElementId, ElementKind, PlungerId};
use crate::machine::Normally;

/// Conductances and sources, ready to solve. Build one a condition, copy it, apply changes.
#[derive(Clone, Debug)]
pub struct Setting {
    /// Conductance by element, in siemens; relay contacts as with every coil released.
    pub(super) conductance: Vec<f64>,
    /// Volts by element: a battery's EMF, a diode's threshold, else zero.
    pub(super) volts: Vec<f64>,
    /// Added conductances from a node to the reference.
    pub(super) to_ground: Vec<(u16, f64)>,
    /// Added conductances between two nodes, in the order the solver was told of them.
    pub(super) extra: Vec<f64>,
    contacts: Vec<ContactSetting>,
    pressed: Vec<bool>,
    /// Stands for everything here that is no contact, diode or fuse: equal where those are.
    pub(super) still: u64,
}

#[derive(Clone, Copy, Debug)]
struct ContactSetting {
    /// What its actuator says.
    made: bool,
    /// What a fault says, whatever the actuator says.
    stuck: Option<bool>,
    /// Its conductance when made.
    siemens: f64,
}

impl Setting {
    /// The machine as drawn, in a condition.
    pub fn new(circuit: &Circuit, condition: &Condition) -> Self {
        let volts = |kind| match kind {
            ElementKind::Source { emf } => emf,
            ElementKind::Diode { volts } => volts,
            _ => 0.0,
        };
        let mut setting = Self {
            conductance: circuit.elements.iter().map(|e| 1.0 / e.ohms).collect(),
            volts: circuit.elements.iter().map(|e| volts(e.kind)).collect(),
            to_ground: Vec::with_capacity(4),
            extra: Vec::with_capacity(4),
            contacts: circuit
                .contacts
                .iter()
                .map(|c| ContactSetting {
                    made: circuit.made(c, condition),
                    stuck: None,
                    siemens: 1.0 / circuit.element(c.element).ohms,
                })
                .collect(),
            pressed: (0..circuit.plungers.len())
                .map(|i| circuit.pressed(PlungerId(i as u16), condition))
                .collect(),
            still: 0,
        };
        for contact in 0..setting.contacts.len() {
            setting.refresh(circuit, contact);
        }
        setting
    }

    /// The same with changes, applied in order: a set-up after the faults it is set up on.
    pub fn with(mut self, circuit: &Circuit, changes: &[Change]) -> Self {
        for change in changes {
            self.apply(circuit, *change);
        }
        self
    }

    /// Takes over another setting of the same circuit without allocating.
    pub fn copy_from(&mut self, other: &Self) {
        self.conductance.copy_from_slice(&other.conductance);
        self.volts.copy_from_slice(&other.volts);
        self.to_ground.clear();
        self.to_ground.extend_from_slice(&other.to_ground);
        self.extra.clear();
        self.extra.extend_from_slice(&other.extra);
        self.contacts.copy_from_slice(&other.contacts);
        self.pressed.copy_from_slice(&other.pressed);
        self.still = other.still;
    }

    /// Applies one change.
    pub fn apply(&mut self, circuit: &Circuit, change: Change) {
        match change {
            Change::Open(element) => match circuit.element(element).kind {
                ElementKind::Contact(c) => {
                    self.contacts[c].stuck = Some(false);
                    self.refresh(circuit, c);
                }
                _ => self.set(circuit, element, 0.0),
            },
            Change::Made(element) => {
                if let ElementKind::Contact(c) = circuit.element(element).kind {
                    self.contacts[c].stuck = Some(true);
                    self.refresh(circuit, c);
                }
            }
            Change::Ohms(element, ohms) => match circuit.element(element).kind {
                ElementKind::Contact(c) => {
                    self.contacts[c].siemens = 1.0 / ohms;
                    self.refresh(circuit, c);
                }
                _ => self.set(circuit, element, 1.0 / ohms),
            },
            Change::Emf(element, volts) => {
                self.volts[element.index()] = volts;
                self.stir(1, element.index(), volts);
            }
            Change::ShortToGround(node, ohms) => {
                self.to_ground.push((node.0, 1.0 / ohms));
                self.stir(2, node.index(), ohms);
            }
            Change::Apart(part) => {
                for joint in circuit.joints(part) {
                    self.set(circuit, joint, 0.0);
                }
            }
            Change::Pressed(plunger, pressed) => {
                self.pressed[plunger.index()] = pressed;
                for (c, contact) in circuit.contacts.iter().enumerate() {
                    if let Actuator::Plunger { plunger: p, normally } = contact.actuator
                        && p == plunger
                    {
                        self.contacts[c].made = pressed == (normally == Normally::Open);
                        self.refresh(circuit, c);
                    }
                }
            }
        }
    }

    /// Hangs a resistance between two nodes that the solver was built to have joined.
    pub fn attach(&mut self, ohms: f64) {
        self.extra.push(1.0 / ohms);
        self.stir(3, self.extra.len(), ohms);
    }

    fn set(&mut self, circuit: &Circuit, element: ElementId, siemens: f64) {
        self.conductance[element.index()] = siemens;
        if !circuit.element(element).moves() {
            self.stir(0, element.index(), siemens);
        }
    }

    /// Works a change into `still` (the mixing of splitmix64).
    fn stir(&mut self, kind: u64, index: usize, value: f64) {
        for word in [kind << 32 | index as u64, value.to_bits()] {
            let mut z = (self.still ^ word).wrapping_add(0x9e37_79b9_7f4a_7c15);
            z = (z ^ z >> 30).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            z = (z ^ z >> 27).wrapping_mul(0x94d0_49bb_1331_11eb);
            self.still = z ^ z >> 31;
        }
    }

    /// An element's conductance in siemens; of a relay contact, with its coil released.
    pub fn siemens(&self, element: ElementId) -> f64 {
        self.conductance[element.index()]
    }

    /// A battery's volts at rest or a diode's threshold.
    pub fn volts(&self, element: ElementId) -> f64 {
        self.volts[element.index()]
    }

    fn refresh(&mut self, circuit: &Circuit, contact: usize) {
        let c = self.contacts[contact];
        let made = c.stuck.unwrap_or(c.made);
        self.conductance[circuit.contacts[contact].element.index()] =
            if made { c.siemens } else { 0.0 };
    }

    /// A relay contact's conductance with its coil pulled or not.
    pub(super) fn relay_contact(&self, contact: usize, normally: Normally, pulled: bool) -> f64 {
        let c = self.contacts[contact];
        let made = c.stuck.unwrap_or(pulled == (normally == Normally::Open));
        if made { c.siemens } else { 0.0 }
    }
}
