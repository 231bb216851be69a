//! What each kind of part contributes to the circuit: its elements, coils and contacts.

use super::compile::Compiler;
use super::contact::{Actuator, Coil, Contact, ModuleCode, Plunger};
use super::element::{ALWAYS, Element, ElementKind};
use super::ids::{ElementId, NodeId, PlungerId};
use super::resolved::Resolved;
use crate::machine;
use crate::machine::{Engine, Expression, KillPort, Normally, Part, PartKind};

const TURNING: u32 = Engine::mask(&[Engine::Running, Engine::RunningHot]);
const NOT_TURNING: u32 = Engine::mask(&[Engine::Stopped, Engine::Cranking]);

/// The part being put in, and where.
struct Site<'p> {
    index: usize,
    part: &'p Part,
}

impl Site<'_> {
    fn at(&self, terminal: &str) -> String {
        format!("{}.{terminal}", self.part.id)
    }

    fn element(
        &self,
        id: String,
        (a, b): (NodeId, NodeId),
        ohms: f64,
        tolerance: f64,
        kind: ElementKind,
    ) -> Element {
        Element {
            id,
            a,
            b,
            ohms,
            tolerance: self.part.tolerance.unwrap_or(tolerance),
            kind,
            part: Some(self.index),
            wire: None,
            live: ALWAYS,
        }
    }
}

impl Compiler<'_> {
    pub(crate) fn part(&mut self, index: usize, part: &Part) {
        use PartKind::*;
        let site = Site { index, part };
        match part.kind {
            // A battery's terminals are written positive first.
            Battery => {
                let emf = part.volts.unwrap_or(machine::BATTERY_VOLTS);
                let charge_ohms = self.charges.then_some(machine::BATTERY_CHARGE_OHMS);
                let (positive, negative) = self.ends(&site);
                let ohms = part.ohms.unwrap_or(machine::BATTERY_OHMS);
                let kind = ElementKind::Source { emf, charge_ohms };
                self.push(site.element(part.id.clone(), (negative, positive), ohms, 0.3, kind));
            }
            Fuse | Breaker => {
                let kind = ElementKind::Fuse { rating: part.amps };
                self.two_terminals(&site, machine::FUSE_OHMS, 0.3, kind);
            }
            Diode => {
                let volts = part.volts.unwrap_or(machine::DIODE_VOLTS);
                self.two_terminals(&site, machine::DIODE_OHMS, 0.3, ElementKind::Diode { volts });
            }
            FuelSolenoid if !part.coils.is_empty() => {}
            Starter | Clutch | FuelSolenoid | Lamp | HourMeter | GlowPlug => {
                self.two_terminals(&site, 1.0, 0.1, ElementKind::Load);
            }
            IgnitionCoil => {
                self.two_terminals(&site, machine::IGNITION_COIL_OHMS, 0.1, ElementKind::Load);
            }
            // In line with something else: a ballast, an indicator coil.
            Resistance => {
                self.two_terminals(&site, 1.0, 0.1, ElementKind::Joint);
            }
            Ammeter if part.terminals.len() == 2 => {
                self.two_terminals(&site, machine::AMMETER_OHMS, 0.3, ElementKind::Joint);
            }
            Ammeter => {}
            IgnitionModule => self.ignition_module(&site),
            Ground => {
                self.bolted(&site, machine::GROUND_OHMS, 0.5, ElementKind::Ground);
            }
            BreakerPoints => {
                self.bolted(&site, machine::POINTS_OHMS, 0.5, ElementKind::Ground);
            }
            Connector => {
                for (cavity, mate) in &part.mates {
                    let pair = (self.node(&site.at(cavity)), self.node(mate));
                    let ohms = part.ohms.unwrap_or(machine::JOINT_OHMS);
                    self.push(site.element(site.at(cavity), pair, ohms, 0.5, ElementKind::Joint));
                }
            }
            Stator => {
                let volts = part.volts.unwrap_or(machine::STATOR_VOLTS);
                let winding = ElementKind::Winding { volts };
                let id = self.two_terminals(&site, machine::STATOR_OHMS, 0.2, winding);
                self.elements[id.index()].live = TURNING;
            }
            Regulator => self.regulator(&site),
            Generator => self.generator(&site),
            KeySwitch | HandSwitch | InterlockSwitch | Solenoid | Relay | PresenceModule | Body
            | Socket => {}
        }
        self.moving(&site);
    }

    fn ends(&self, site: &Site<'_>) -> (NodeId, NodeId) {
        let node = |i: usize| self.node(&site.at(&site.part.terminals[i]));
        (node(0), node(1))
    }

    fn two_terminals(
        &mut self,
        site: &Site<'_>,
        ohms: f64,
        tolerance: f64,
        kind: ElementKind,
    ) -> ElementId {
        let ohms = site.part.ohms.unwrap_or(ohms);
        self.push(site.element(site.part.id.clone(), self.ends(site), ohms, tolerance, kind))
    }

    fn bolted(&mut self, site: &Site<'_>, ohms: f64, tolerance: f64, kind: ElementKind) {
        let part = site.part;
        let pair = (self.node(&site.at(&part.terminals[0])), self.body(part.body.as_ref()));
        let ohms = part.ohms.unwrap_or(ohms);
        self.push(site.element(part.id.clone(), pair, ohms, tolerance, kind));
    }

    /// What an ohmmeter would find between kill lead and body: a winding, some hundred ohms, or a
    /// diode that a positive lead drives through.
    fn ignition_module(&mut self, site: &Site<'_>) {
        let usual = match site.part.kill_port.unwrap_or_default() {
            KillPort::Winding | KillPort::Unknown => machine::KILL_WINDING_OHMS,
            KillPort::Resistive => machine::KILL_RESISTIVE_OHMS,
            KillPort::Diode => machine::KILL_DIODE_BACK_OHMS,
        };
        self.bolted(site, usual, 0.3, ElementKind::KillPort);
        if site.part.kill_port == Some(KillPort::Diode) {
            let part = site.part;
            let pair = (self.node(&site.at(&part.terminals[0])), self.body(part.body.as_ref()));
            let kind = ElementKind::Diode { volts: machine::DIODE_VOLTS };
            self.push(site.element(site.at("diode"), pair, machine::DIODE_OHMS, 0.3, kind));
        }
    }

    /// Its case feeds the output while its input sees the stator: a source that takes nothing
    /// back, behind a contact that the input makes.
    fn regulator(&mut self, site: &Site<'_>) {
        let (part, id) = (site.part, &site.part.id);
        let node = |this: &Self, i: usize| this.node(&site.at(&part.terminals[i]));
        let input = (node(self, 0), node(self, 1));
        let out = node(self, 2);
        let case = match part.terminals.get(3) {
            Some(_) => node(self, 3),
            None => self.body(part.body.as_ref()),
        };
        let sense = self.coil(
            site.element(
                site.at("input"),
                input,
                machine::REGULATOR_INPUT_OHMS,
                0.5,
                ElementKind::Load,
            ),
            (machine::REGULATOR_WAKES_VOLTS, machine::REGULATOR_WAKES_VOLTS / 2.0),
        );
        let core = self.inside(id);
        let volts = -part.volts.unwrap_or(machine::CHARGE_VOLTS);
        let ohms = part.ohms.unwrap_or(machine::REGULATOR_OHMS);
        self.push(site.element(id.clone(), (case, core), ohms, 0.3, ElementKind::Diode { volts }));
        self.inner_contact(site, "output", (core, out), sense);
    }

    /// Armature and field; a motor until the engine turns it, then a source as soon as the field
    /// has built up from what magnetism is left in the iron.
    fn generator(&mut self, site: &Site<'_>) {
        let (part, id) = (site.part, &site.part.id);
        let (armature, field) = self.ends(site);
        let body = self.body(part.body.as_ref());
        let motor = part.ohms.unwrap_or(machine::GENERATOR_MOTOR_OHMS);
        let motor = site.element(id.clone(), (armature, body), motor, 0.1, ElementKind::Load);
        let motor = self.push(motor);
        self.elements[motor.index()].live = NOT_TURNING;
        let winding = site.element(
            site.at("field"),
            (armature, field),
            machine::GENERATOR_FIELD_OHMS,
            0.1,
            ElementKind::Load,
        );
        let excited = self.coil(winding, (machine::RESIDUAL_VOLTS / 2.0, 0.3));
        let residual = ElementKind::Diode { volts: -machine::RESIDUAL_VOLTS };
        let residual = site.element(site.at("residual"), (body, armature), 1.0, 0.3, residual);
        let residual = self.push(residual);
        let core = self.inside(id);
        let volts = -part.volts.unwrap_or(machine::CHARGE_VOLTS);
        let output = ElementKind::Diode { volts };
        let output =
            site.element(site.at("source"), (body, core), machine::REGULATOR_OHMS, 0.3, output);
        let output = self.push(output);
        for element in [residual, output] {
            self.elements[element.index()].live = TURNING;
        }
        self.inner_contact(site, "output", (core, armature), excited);
    }

    fn coil(&mut self, mut element: Element, (pulls_in, drops_out): (f64, f64)) -> usize {
        let coil = self.coils.len();
        element.kind = ElementKind::Coil(coil);
        let element = self.push(element);
        self.coils.push(Coil { element, pulls_in, drops_out, assists: None });
        coil
    }

    fn inner_contact(&mut self, site: &Site<'_>, id: &str, pair: (NodeId, NodeId), coil: usize) {
        let kind = ElementKind::Contact(self.contacts.len());
        let ohms = machine::CONTACT_OHMS;
        let element = self.push(site.element(site.at(id), pair, ohms, 1.0, kind));
        let actuator =
            Actuator::Coils(Expression::Term(Resolved::Coil { index: coil, pulled: true }));
        self.contacts.push(Contact { element, actuator, index: None, timing: None });
    }

    /// Coils, plunger and contacts.
    fn moving(&mut self, site: &Site<'_>) {
        let part = site.part;
        let first_coil = self.coils.len();
        let between = |this: &Self, pair: &[String; 2]| {
            (this.node(&site.at(&pair[0])), this.node(&site.at(&pair[1])))
        };
        let named = |id: &String| part.coils.iter().position(|c| c.id == *id);
        for coil in &part.coils {
            let pair = between(self, &coil.between);
            let element = site.element(site.at(&coil.id), pair, coil.ohms, 0.1, ElementKind::Load);
            let index = self.coil(element, (coil.pulls_in, coil.drops_out));
            self.coils[index].assists = coil.assists.as_ref().and_then(named).map(|c| {
                let counts = coil.turns.map(|turns| turns * part.coils[c].ohms / coil.ohms);
                (first_coil + c, counts.unwrap_or(1.0))
            });
        }
        for (code, entry) in part.codes.iter().enumerate() {
            let when = over_coils(&entry.when, part, first_coil);
            self.codes.push(ModuleCode { part: site.index, code, when });
        }
        let plunger = part.plunger.as_ref().map(|p| {
            let pressed_when = self.expression(&p.pressed_when);
            self.plungers.push(Plunger { part: site.index, pressed_when });
            PlungerId((self.plungers.len() - 1) as u16)
        });
        for (i, contact) in part.contacts.iter().enumerate() {
            let normally = contact.normally.unwrap_or(Normally::Open);
            let by_coils = !part.coils.is_empty();
            let actuator = match (&contact.made_when, plunger) {
                (Some(text), _) if by_coils => Actuator::Coils(over_coils(text, part, first_coil)),
                (Some(text), _) => Actuator::Control(self.expression(text)),
                (None, Some(plunger)) => Actuator::Plunger { plunger, normally },
                (None, None) => {
                    let own = contact.coil.as_ref().and_then(named).unwrap_or(0);
                    let pulled = normally == Normally::Open;
                    let term = Resolved::Coil { index: first_coil + own, pulled };
                    Actuator::Coils(Expression::Term(term))
                }
            };
            let pair = between(self, &contact.between);
            let heavy = by_coils && part.kind == PartKind::Solenoid;
            let usual = if heavy { machine::SOLENOID_CONTACT_OHMS } else { machine::CONTACT_OHMS };
            let ohms = contact.ohms.unwrap_or(usual);
            let kind = ElementKind::Contact(self.contacts.len());
            let element = self.push(site.element(site.at(&contact.id), pair, ohms, 1.0, kind));
            let timing = contact.timing;
            self.contacts.push(Contact { element, actuator, index: Some(i), timing });
        }
    }
}

/// An expression over a part's own coils: `seat=on & blades=off`.
fn over_coils(text: &str, part: &Part, first_coil: usize) -> Expression<Resolved> {
    let never = Expression::Or(Vec::new());
    let Ok(parsed) = Expression::parse(text) else {
        return never;
    };
    let resolve = |term: &machine::Term| -> Result<Resolved, ()> {
        let coil = part.coils.iter().position(|c| c.id == term.control).ok_or(())?;
        Ok(Resolved::Coil { index: first_coil + coil, pulled: term.positions == ["on"] })
    };
    parsed.resolve(&resolve).unwrap_or(never)
}
