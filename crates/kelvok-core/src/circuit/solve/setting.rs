//! The circuit in one condition with some changes: every element's conductance.

use super::relays::Relays;
use crate::circuit::model::{
    Actuator, Ailment, Change, Circuit, Condition, Contact, Element, ElementId, ElementKind,
    NodeId, PlungerId, coils_make,
};
use crate::machine::{Engine, HOT_COPPER, Normally, PartKind, SWAP_OHMS};

/// Conductances and sources, ready to solve. Build one a condition, copy it, apply changes.
#[derive(Clone, Debug)]
pub struct Setting {
    /// Conductance by element, in siemens; relay contacts as with every coil released.
    pub(crate) conductance: Vec<f64>,
    /// Volts by element: a battery's EMF, a diode's threshold, else zero.
    pub(crate) volts: Vec<f64>,
    /// Added conductances from a node to the reference.
    pub(crate) to_ground: Vec<(u16, f64)>,
    /// Added conductances between two nodes, in the order the solver was told of them.
    pub(crate) extra: Vec<f64>,
    pub(crate) contacts: Vec<ContactSetting>,
    pressed: Vec<bool>,
    /// Where `extra` runs, as far as changes put it there; instruments follow.
    pub(crate) joined: Vec<(NodeId, NodeId)>,
    /// Of those, the crossed wires of a plug: its part, and where in `extra`.
    crossed: Vec<(usize, usize)>,
    /// What is wrong with a part that its ohms do not show.
    ailments: Vec<(ElementId, Ailment)>,
    /// Fuses of another rating than drawn.
    pub(crate) ratings: Vec<(ElementId, f64)>,
    /// Coils whose shorted turns pull only this share.
    pub(crate) pull: Vec<(usize, f64)>,
    /// A current that a meter drives out of its red probe, back in at its black one.
    pub(crate) driven: Option<(NodeId, NodeId, f64)>,
    condition: Condition,
    /// Stands for everything here that is no contact, diode or fuse: equal where those are.
    pub(crate) still: u64,
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct ContactSetting {
    /// What its actuator says.
    made: bool,
    /// It is of the other kind than drawn.
    other_kind: bool,
    /// What a fault says, whatever the actuator says.
    stuck: Option<bool>,
    /// Where its delay has it, in a sequence.
    lagging: Option<bool>,
    /// Its conductance when made.
    siemens: f64,
}

impl Setting {
    /// The machine as it was found, in a condition.
    pub fn new(circuit: &Circuit, condition: &Condition) -> Self {
        Self::drawn(circuit, condition).with(circuit, &circuit.as_found)
    }

    /// The machine as its maker built it: without the changes it came with.
    pub fn as_built(circuit: &Circuit, condition: &Condition) -> Self {
        let mut setting = Self::drawn(circuit, condition);
        // The solver has room for what the found changes join.
        let pairs: Vec<_> = circuit.as_found.iter().flat_map(|c| c.joins(circuit)).collect();
        for pair in pairs {
            setting.join(pair, 0.0);
        }
        setting
    }

    fn drawn(circuit: &Circuit, condition: &Condition) -> Self {
        let volts = |kind| match kind {
            ElementKind::Diode { volts } => volts,
            other => other.emf().unwrap_or(0.0),
        };
        let mut setting = Self {
            conductance: circuit.elements.iter().map(Element::siemens).collect(),
            volts: circuit.elements.iter().map(|e| volts(e.kind)).collect(),
            to_ground: Vec::with_capacity(4),
            extra: Vec::with_capacity(4),
            contacts: circuit
                .contacts
                .iter()
                .map(|c| ContactSetting {
                    made: circuit.made(c, condition),
                    other_kind: false,
                    stuck: None,
                    lagging: None,
                    siemens: 1.0 / circuit.element(c.element).ohms,
                })
                .collect(),
            pressed: (0..circuit.plungers.len())
                .map(|i| circuit.pressed(PlungerId(i as u16), condition))
                .collect(),
            joined: Vec::new(),
            crossed: Vec::new(),
            ailments: Vec::new(),
            ratings: Vec::new(),
            pull: Vec::new(),
            driven: None,
            condition: condition.clone(),
            still: 0,
        };
        for contact in 0..setting.contacts.len() {
            setting.refresh(circuit, contact);
        }
        for (id, element) in circuit.elements() {
            if !element.is_live(condition.engine) {
                // A stator's winding is there at a standstill, too, and gives nothing.
                match element.kind {
                    ElementKind::Winding { .. } => setting.volts[id.index()] = 0.0,
                    _ => setting.set(circuit, id, 0.0),
                }
            } else if condition.engine == Engine::RunningHot
                && element.part.is_some_and(|p| circuit.part(p).kind == PartKind::Clutch)
            {
                setting.set(circuit, id, 1.0 / (element.ohms * HOT_COPPER));
            }
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
        // Every field by its name: a new one that is not taken over here does not compile.
        let Self {
            conductance,
            volts,
            to_ground,
            extra,
            contacts,
            pressed,
            joined,
            crossed,
            ailments,
            ratings,
            pull,
            driven,
            condition,
            still,
        } = other;
        self.conductance.copy_from_slice(conductance);
        self.volts.copy_from_slice(volts);
        self.to_ground.clone_from(to_ground);
        self.extra.clone_from(extra);
        self.contacts.copy_from_slice(contacts);
        self.pressed.copy_from_slice(pressed);
        self.joined.clone_from(joined);
        self.crossed.clone_from(crossed);
        self.ailments.clone_from(ailments);
        self.ratings.clone_from(ratings);
        self.pull.clone_from(pull);
        self.driven = *driven;
        self.condition.clone_from(condition);
        self.still = *still;
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
                let gives = circuit.element(element).is_live(self.condition.engine);
                let volts = if gives { volts } else { 0.0 };
                self.volts[element.index()] = volts;
                self.stir(1, element.index(), volts);
            }
            Change::Drained(element, volts) => {
                self.apply(circuit, Change::Emf(element, volts));
                self.set(circuit, element, 1.0 / circuit.element(element).drained_ohms(volts));
            }
            Change::ShortToGround(node, ohms) => {
                self.to_ground.push((node.0, 1.0 / ohms));
                self.stir(2, node.index(), ohms);
            }
            Change::Apart(part) => {
                for joint in circuit.joints(part) {
                    self.set(circuit, joint, 0.0);
                }
                // Its crossed wires come off with it.
                let crossed = self.crossed.iter().filter(|(plug, _)| *plug == part);
                for at in crossed.map(|(_, at)| *at).collect::<Vec<_>>() {
                    self.extra[at] = 0.0;
                    self.stir(3, at, 0.0);
                }
            }
            Change::Pressed(plunger, pressed) => {
                self.pressed[plunger.index()] = pressed;
                for (c, contact) in circuit.contacts.iter().enumerate() {
                    if let Actuator::Plunger { plunger: p, normally } = contact.actuator
                        && p == plunger
                    {
                        let open = (normally == Normally::Open) != self.contacts[c].other_kind;
                        self.contacts[c].made = pressed == open;
                        self.refresh(circuit, c);
                    }
                }
            }
            Change::OtherKind(element) => {
                if let ElementKind::Contact(c) = circuit.element(element).kind {
                    self.contacts[c].made ^= true;
                    self.contacts[c].other_kind ^= true;
                    self.refresh(circuit, c);
                }
            }
            Change::AtTimes(element) => self.apply(circuit, Change::Open(element)),
            Change::Inverted(plunger) => {
                let pressed = self.pressed[plunger.index()];
                self.apply(circuit, Change::Pressed(plunger, !pressed));
                self.pressed[plunger.index()] = pressed;
            }
            Change::Join { ends, ohms, when } => {
                let joined = when.is_none_or(|(control, mask)| {
                    mask >> self.condition.positions[control] & 1 == 1
                });
                self.join(ends, if joined { 1.0 / ohms } else { 0.0 });
            }
            Change::Swapped(one, other) => {
                self.set(circuit, one, 0.0);
                self.set(circuit, other, 0.0);
                for pair in change.joins(circuit) {
                    let plug = circuit.element(one).part;
                    self.crossed.extend(plug.map(|plug| (plug, self.extra.len())));
                    self.join(pair, 1.0 / SWAP_OHMS);
                }
            }
            Change::GroundWhenHot(node, ohms) => {
                if self.condition.engine == Engine::RunningHot {
                    self.apply(circuit, Change::ShortToGround(node, ohms));
                }
            }
            Change::ShortedTurns(element, share) => {
                let left = 1.0 - share;
                self.set(circuit, element, 1.0 / (circuit.element(element).ohms * left));
                if let ElementKind::Coil(coil) = circuit.element(element).kind {
                    self.pull.push((coil, left));
                }
            }
            Change::Rating(element, amps) => self.ratings.push((element, amps)),
            Change::Ails(element, ailment) => self.ailments.push((element, ailment)),
            // Steady states have no delays to lose.
            Change::NoDelay(_) => {}
        }
    }

    /// Drives a current from `black` to `red` through the meter: a diode range, an ohmmeter.
    pub(crate) fn drive(&mut self, red: NodeId, black: NodeId, amps: f64) {
        self.driven = Some((red, black, amps));
        self.stir(5, red.index(), amps);
    }

    /// Takes the volts out of every source.
    pub(crate) fn silence(&mut self, circuit: &Circuit) {
        for (id, e) in circuit.elements() {
            let source = match e.kind {
                ElementKind::Diode { volts } => volts < 0.0,
                other => other.emf().is_some(),
            };
            if source {
                self.volts[id.index()] = 0.0;
                self.stir(1, id.index(), 0.0);
            }
        }
    }

    /// Runs a conductance between two nodes that the solver was built to have joined.
    fn join(&mut self, pair: (NodeId, NodeId), siemens: f64) {
        self.joined.push(pair);
        self.extra.push(siemens);
        self.stir(3, self.extra.len(), siemens);
    }

    /// Puts a contact where its delay has it; `None` lets its actuator decide again.
    pub(crate) fn lag(&mut self, circuit: &Circuit, contact: usize, made: Option<bool>) {
        self.contacts[contact].lagging = made;
        self.refresh(circuit, contact);
    }

    /// What ails an element.
    pub(crate) fn ails(&self, element: ElementId, ailment: Ailment) -> bool {
        self.ailments.contains(&(element, ailment))
    }

    /// The current that blows a fuse, where it is not of the rating drawn.
    pub(crate) fn rating(&self, element: ElementId) -> Option<f64> {
        self.ratings.iter().find(|(e, _)| *e == element).map(|(_, amps)| *amps)
    }

    /// The share of its pull that a coil's shorted turns leave it.
    pub(crate) fn pull(&self, coil: usize) -> f64 {
        self.pull.iter().find(|(c, _)| *c == coil).map_or(1.0, |(_, share)| *share)
    }

    /// How many pairs of nodes changes have run something between; a solver has room for as many.
    pub(crate) fn pairs_joined(&self) -> usize {
        self.extra.len()
    }

    /// Ways that changes added: to the reference, and between two nodes; in siemens.
    pub fn added(&self) -> impl Iterator<Item = (NodeId, NodeId, f64)> {
        let grounded = self.to_ground.iter().map(|(n, g)| (NodeId(*n), NodeId::REFERENCE, *g));
        let joined = self.joined.iter().zip(&self.extra).map(|((a, b), g)| (*a, *b, *g));
        grounded.chain(joined)
    }

    /// The condition it is a setting of.
    pub fn condition(&self) -> &Condition {
        &self.condition
    }

    /// What its actuator says of a contact, delays and faults apart; of one that coils move, with
    /// these pulled.
    pub(crate) fn actuated(&self, contact: usize, of: &Contact, pulled: u64) -> bool {
        match &of.actuator {
            Actuator::Coils(expression) => coils_make(expression, pulled),
            Actuator::Plunger { plunger, normally } => {
                let open = (*normally == Normally::Open) != self.contacts[contact].other_kind;
                self.pressed[plunger.index()] == open
            }
            Actuator::Control(_) => self.contacts[contact].made,
        }
    }

    /// Hangs a resistance between two nodes that the solver was built to have joined.
    pub fn attach(&mut self, ohms: f64) {
        self.extra.push(1.0 / ohms);
        self.stir(4, self.extra.len(), ohms);
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

    /// The same with these relays pulled.
    pub fn siemens_with(&self, circuit: &Circuit, element: ElementId, relays: Relays) -> f64 {
        match circuit.element(element).kind {
            ElementKind::Contact(c) => match &circuit.contacts[c] {
                of if matches!(of.actuator, Actuator::Coils(_)) => {
                    self.relay_contact(c, of, relays.0)
                }
                _ => self.siemens(element),
            },
            _ => self.siemens(element),
        }
    }

    /// A battery's volts at rest or a diode's threshold.
    pub fn volts(&self, element: ElementId) -> f64 {
        self.volts[element.index()]
    }

    fn refresh(&mut self, circuit: &Circuit, contact: usize) {
        let c = self.contacts[contact];
        let made = c.stuck.or(c.lagging).unwrap_or(c.made);
        self.conductance[circuit.contacts[contact].element.index()] =
            if made { c.siemens } else { 0.0 };
    }

    /// A relay contact's conductance with these coils pulled.
    pub(crate) fn relay_contact(&self, contact: usize, of: &Contact, pulled: u64) -> f64 {
        let c = self.contacts[contact];
        let made = c.stuck.or(c.lagging).unwrap_or_else(|| of.made_by_coils(pulled));
        if made { c.siemens } else { 0.0 }
    }
}
