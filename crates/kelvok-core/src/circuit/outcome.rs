//! What the machine does at an operating point, as data.

use super::model::coils_make;
use super::spark::sparks;
use super::{Ailment, Circuit, Element, ElementId, ElementKind, LampState, Setting, Solver};
use crate::machine::{
    AMMETER_MOVES_AMPS, CLUTCH_PULLS_IN_VOLTS, EnergizedTo, FUEL_SOLENOID_VOLTS, PartKind,
    SLOW_CRANK_SHARE, STALLED_STARTER_AMPS, WIDE_GAP_PULLS_IN_VOLTS,
};
use serde::Serialize;

#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CoilState {
    Off,
    Pulled,
    Chatter,
}

/// What the starter does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Crank {
    /// Nothing moves: silent.
    No,
    /// The solenoid pulls in, the engine does not turn: the starter stands still or spins alone.
    Click,
    /// The solenoid pulls in and lets go, again and again.
    Chatter,
    Slow,
    Yes,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ClutchState {
    Off,
    Slipping,
    Engaged,
}

/// Whether a module or an ignition coil gives a spark.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Spark {
    On,
    Weak,
    Killed,
}

/// Where an ammeter's needle stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Needle {
    Discharge,
    Zero,
    Charge,
}

/// What an operator would notice.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// What the starter does; `no` on a machine that is started by hand.
    pub crank: Crank,
    /// Coil by coil, in the circuit's order.
    pub coils: Vec<CoilState>,
    /// Module by module and coil by coil, in document order; empty on a diesel.
    pub spark: Vec<Spark>,
    pub clutch: Option<ClutchState>,
    /// Whether fuel flows, if a solenoid has a say in it.
    pub fuel: Option<bool>,
    /// Lamps and glow plugs, in document order.
    pub lamps: Vec<LampState>,
    /// Ammeters, in document order.
    pub ammeters: Vec<Needle>,
    /// Codes that lamps of modules blink, as the number of blinks.
    pub codes: Vec<u8>,
    /// Fuses and breakers that this operating point has blown.
    pub blown: Vec<String>,
}

impl Outcome {
    /// Reads the outcome off a solved lane.
    pub fn of(circuit: &Circuit, solver: &Solver<'_, f64>, setting: &Setting) -> Self {
        let seen = Seen { circuit, solver, setting };
        let coils = coil_states(circuit, solver);
        let loads = |kinds: &'static [PartKind]| {
            circuit.elements().filter(move |(_, e)| {
                let part = e.part.map(|p| circuit.part(p).kind);
                e.kind == ElementKind::Load && part.is_some_and(|k| kinds.contains(&k))
            })
        };
        let clutch = loads(&[PartKind::Clutch]).next().map(|(id, _)| {
            let worn = setting.ails(id, Ailment::WideGap);
            let pulls_in = if worn { WIDE_GAP_PULLS_IN_VOLTS } else { CLUTCH_PULLS_IN_VOLTS };
            match seen.pull(id) {
                v if v >= pulls_in => ClutchState::Engaged,
                v if v >= pulls_in / 2.0 && !worn => ClutchState::Slipping,
                _ => ClutchState::Off,
            }
        });
        let lamps = loads(&[PartKind::Lamp, PartKind::GlowPlug]);
        Self {
            crank: crank(&seen, &coils),
            spark: sparks(circuit, solver, setting),
            clutch,
            fuel: fuel(&seen, &coils),
            lamps: lamps.map(|(id, _)| LampState::at(seen.across(id))).collect(),
            ammeters: needles(&seen),
            codes: codes(circuit, &coils),
            blown: solver.blown(0).map(|id| circuit.element(id).id.clone()).collect(),
            coils,
        }
    }
}

impl Crank {
    /// What the starter does at a solved operating point.
    pub fn of(circuit: &Circuit, solver: &Solver<'_, f64>, setting: &Setting) -> Self {
        crank(&Seen { circuit, solver, setting }, &coil_states(circuit, solver))
    }
}

/// A solved lane and what it is the solution of.
struct Seen<'a> {
    circuit: &'a Circuit,
    solver: &'a Solver<'a, f64>,
    setting: &'a Setting,
}

impl Seen<'_> {
    /// Volts across an element that conducts; none across one that does not.
    fn across(&self, id: ElementId) -> f64 {
        if !self.solver.conducts(0, id) {
            return 0.0;
        }
        let e = self.circuit.element(id);
        (self.solver.volts(0, e.a) - self.solver.volts(0, e.b)).abs()
    }

    /// Volts that pull at a magnet: its current times the ohms it ought to have, so that neither
    /// heat nor shorted turns pull more.
    fn pull(&self, id: ElementId) -> f64 {
        let ohms = self.circuit.element(id).ohms;
        let healthy = (self.solver.amps(0, id) * ohms).abs();
        if self.solver.conducts(0, id) { healthy.min(self.across(id)) } else { 0.0 }
    }

    fn part_kind(&self, e: &Element) -> Option<PartKind> {
        e.part.map(|p| self.circuit.part(p).kind)
    }
}

fn coil_states(circuit: &Circuit, solver: &Solver<'_, f64>) -> Vec<CoilState> {
    let chatter = solver.chatter(0);
    let all = chatter.iter().fold(u64::MAX, |all, s| all & s);
    let any = chatter.iter().fold(0, |any, s| any | s);
    let state = |c: usize| match (any >> c & 1, all >> c & 1) {
        (1, 0) if !chatter.is_empty() => CoilState::Chatter,
        _ if solver.relays(0).pulled(c) => CoilState::Pulled,
        _ => CoilState::Off,
    };
    (0..circuit.coils.len()).map(state).collect()
}

fn crank(seen: &Seen<'_>, coils: &[CoilState]) -> Crank {
    let circuit = seen.circuit;
    // Only coils that move a solenoid's contacts crank anything.
    let cranking = |c: &usize| {
        let part = circuit.element(circuit.coils[*c].element).part;
        part.is_some_and(|p| circuit.part(p).kind == PartKind::Solenoid)
    };
    let starters = (0..coils.len()).filter(cranking);
    let states: Vec<_> = starters.map(|c| coils[c]).collect();
    if states.contains(&CoilState::Chatter) {
        return Crank::Chatter;
    }
    let motor = circuit.elements().find(|(_, e)| {
        let turns = matches!(seen.part_kind(e), Some(PartKind::Starter | PartKind::Generator));
        turns && e.kind == ElementKind::Load
    });
    let turning = motor.and_then(|(id, e)| {
        let idle = [Ailment::NoDrive, Ailment::Seized].iter().any(|a| seen.setting.ails(id, *a));
        let nominal = circuit.part(e.part?).amps.unwrap_or(100.0);
        (!idle).then(|| (seen.solver.amps(0, id).abs(), nominal))
    });
    match turning {
        Some((amps, nominal)) if amps >= SLOW_CRANK_SHARE * nominal => Crank::Yes,
        Some((amps, _)) if amps >= STALLED_STARTER_AMPS => Crank::Slow,
        _ if states.contains(&CoilState::Pulled) => Crank::Click,
        _ => Crank::No,
    }
}

/// Fuel flows where every solenoid that has a say lets it.
fn fuel(seen: &Seen<'_>, coils: &[CoilState]) -> Option<bool> {
    let circuit = seen.circuit;
    let parts = circuit.document().parts.iter().enumerate();
    let solenoids: Vec<_> = parts.filter(|(_, p)| p.kind == PartKind::FuelSolenoid).collect();
    let lets = |(i, part): &(usize, &crate::machine::Part)| {
        let own = |e: &Element| e.part == Some(*i);
        // One with coils holds by them: the coil that nothing else assists in holding.
        let held = (0..coils.len())
            .filter(|c| own(circuit.element(circuit.coils[*c].element)))
            .find(|c| circuit.coils[*c].assists.is_none())
            .map(|c| coils[c] == CoilState::Pulled);
        let energized = held.unwrap_or_else(|| {
            let load = circuit.elements().find(|(_, e)| own(e));
            load.is_some_and(|(id, _)| seen.pull(id) >= FUEL_SOLENOID_VOLTS)
        });
        energized == (part.energized_to.unwrap_or_default() == EnergizedTo::Run)
    };
    (!solenoids.is_empty()).then(|| solenoids.iter().all(lets))
}

/// The first code of each module that holds.
fn codes(circuit: &Circuit, coils: &[CoilState]) -> Vec<u8> {
    let pulled = coils.iter().enumerate().filter(|(_, s)| **s == CoilState::Pulled);
    let pulled = pulled.fold(0u64, |set, (c, _)| set | 1 << c);
    let mut shown: Vec<(usize, u8)> = Vec::new();
    for code in &circuit.codes {
        let first = shown.iter().all(|(part, _)| *part != code.part);
        if first && coils_make(&code.when, pulled) {
            shown.push((code.part, circuit.part(code.part).codes[code.code].blinks));
        }
    }
    shown.into_iter().map(|(_, blinks)| blinks).collect()
}

fn needles(seen: &Seen<'_>) -> Vec<Needle> {
    let circuit = seen.circuit;
    let parts = circuit.document().parts.iter();
    let ammeters = parts.filter(|p| p.kind == PartKind::Ammeter);
    ammeters
        .map(|part| {
            // In line: positive towards the battery. Round a wire: as the wire is written.
            let through = part.clamps.as_ref().unwrap_or(&part.id);
            let amps = circuit.element_named(through).map_or(0.0, |id| seen.solver.amps(0, id));
            match amps {
                a if a >= AMMETER_MOVES_AMPS => Needle::Charge,
                a if a <= -AMMETER_MOVES_AMPS => Needle::Discharge,
                _ => Needle::Zero,
            }
        })
        .collect()
}
