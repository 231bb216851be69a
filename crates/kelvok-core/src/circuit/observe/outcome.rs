//! What the machine does at an operating point, as data.

use super::lamp_state::LampState;
use super::spark::{Spark, sparks};
use crate::circuit::model::{Ailment, Circuit, ElementId, FuelSolenoid, coils_make};
use crate::circuit::solve::{Setting, Solved};
use crate::machine::{
    AMMETER_MOVES_AMPS, CLUTCH_PULLS_IN_VOLTS, FUEL_SOLENOID_VOLTS, SLOW_CRANK_SHARE,
    STALLED_STARTER_AMPS, WIDE_GAP_PULLS_IN_VOLTS,
};
use serde::Serialize;

/// How a coil stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum CoilState {
    Off,
    Pulled,
    Chatter,
}

/// What the starter does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
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

/// How an electric clutch stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum ClutchState {
    Off,
    Slipping,
    Engaged,
}

/// Where an ammeter's needle stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Needle {
    Discharge,
    Zero,
    Charge,
}

/// What an operator would notice.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
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
    pub fn of(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Self {
        let spark = sparks(circuit, solved, setting);
        Self { spark, ..Self::at_a_standstill(circuit, solved, setting) }
    }

    /// The same of an engine that stands, where no spark is of interest: none is looked for.
    pub fn at_a_standstill(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Self {
        let seen = Solution { circuit, solved, setting };
        let coils = coil_states(circuit, solved);
        let telltales = &circuit.telltales;
        let clutch = telltales.clutch.map(|id| {
            let worn = setting.ails(id, Ailment::WideGap);
            let pulls_in = if worn { WIDE_GAP_PULLS_IN_VOLTS } else { CLUTCH_PULLS_IN_VOLTS };
            match seen.pull(id) {
                v if v >= pulls_in => ClutchState::Engaged,
                v if v >= pulls_in / 2.0 && !worn => ClutchState::Slipping,
                _ => ClutchState::Off,
            }
        });
        Self {
            crank: crank(&seen, &coils),
            spark: Vec::new(),
            clutch,
            fuel: fuel(&seen, &coils),
            lamps: telltales.lamps.iter().map(|id| LampState::at(seen.across(*id))).collect(),
            ammeters: telltales.ammeters.iter().map(|through| needle(&seen, *through)).collect(),
            codes: codes(circuit, &coils),
            blown: solved.blown().iter().map(|id| circuit.element(*id).id.clone()).collect(),
            coils,
        }
    }
}

impl Crank {
    /// What the starter does at a solved operating point.
    pub fn of(circuit: &Circuit, solved: &dyn Solved, setting: &Setting) -> Self {
        crank(&Solution { circuit, solved, setting }, &coil_states(circuit, solved))
    }
}

/// A solved lane and what it is the solution of.
struct Solution<'a> {
    circuit: &'a Circuit,
    solved: &'a dyn Solved,
    setting: &'a Setting,
}

impl Solution<'_> {
    /// Volts across an element that conducts; none across one that does not.
    fn across(&self, id: ElementId) -> f64 {
        if !self.solved.conducts(id) {
            return 0.0;
        }
        let e = self.circuit.element(id);
        (self.solved.volts(e.a) - self.solved.volts(e.b)).abs()
    }

    /// Volts that pull at a magnet: its current times the ohms it ought to have, so that neither
    /// heat nor shorted turns pull more.
    fn pull(&self, id: ElementId) -> f64 {
        let ohms = self.circuit.element(id).ohms;
        let healthy = (self.solved.amps(id) * ohms).abs();
        if self.solved.conducts(id) { healthy.min(self.across(id)) } else { 0.0 }
    }
}

fn coil_states(circuit: &Circuit, solved: &dyn Solved) -> Vec<CoilState> {
    let chatter = solved.chatter();
    let all = chatter.iter().fold(u64::MAX, |all, s| all & s);
    let any = chatter.iter().fold(0, |any, s| any | s);
    let state = |c: usize| match (any >> c & 1, all >> c & 1) {
        (1, 0) if !chatter.is_empty() => CoilState::Chatter,
        _ if solved.relays().pulled(c) => CoilState::Pulled,
        _ => CoilState::Off,
    };
    (0..circuit.coils.len()).map(state).collect()
}

fn crank(seen: &Solution<'_>, coils: &[CoilState]) -> Crank {
    let telltales = &seen.circuit.telltales;
    let solenoid = |state: CoilState| telltales.solenoids.iter().any(|c| coils[*c] == state);
    if solenoid(CoilState::Chatter) {
        return Crank::Chatter;
    }
    let turning = telltales.starter.and_then(|(id, nominal)| {
        let idle = [Ailment::NoDrive, Ailment::Seized].iter().any(|a| seen.setting.ails(id, *a));
        (!idle).then(|| (seen.solved.amps(id).abs(), nominal))
    });
    match turning {
        Some((amps, nominal)) if amps >= SLOW_CRANK_SHARE * nominal => Crank::Yes,
        Some((amps, _)) if amps >= STALLED_STARTER_AMPS => Crank::Slow,
        _ if solenoid(CoilState::Pulled) => Crank::Click,
        _ => Crank::No,
    }
}

/// Fuel flows where every solenoid that has a say lets it.
fn fuel(seen: &Solution<'_>, coils: &[CoilState]) -> Option<bool> {
    let solenoids = &seen.circuit.telltales.fuel;
    let lets = |solenoid: &FuelSolenoid| {
        let energized = match solenoid.holding {
            Some(coil) => coils[coil] == CoilState::Pulled,
            None => solenoid.load.is_some_and(|id| seen.pull(id) >= FUEL_SOLENOID_VOLTS),
        };
        energized == solenoid.to_run
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

fn needle(seen: &Solution<'_>, through: Option<ElementId>) -> Needle {
    match through.map_or(0.0, |id| seen.solved.amps(id)) {
        a if a >= AMMETER_MOVES_AMPS => Needle::Charge,
        a if a <= -AMMETER_MOVES_AMPS => Needle::Discharge,
        _ => Needle::Zero,
    }
}
