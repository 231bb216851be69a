//! What the machine does at an operating point, as data.

use super::{Circuit, ElementId, ElementKind, NodeId, Solver};
use crate::machine::{
    CLUTCH_PULLS_IN_VOLTS, DOUBTFUL_UP_TO_OHMS, KILLED_UP_TO_OHMS, PartKind, SLOW_CRANK_SHARE,
    STALLED_STARTER_AMPS,
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
    /// The solenoid pulls in, the starter does not turn.
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

/// Whether a module may fire, by the ohms from its kill lead to its own ground.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Spark {
    On,
    Weak,
    Killed,
}

/// What an operator would notice.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Outcome {
    pub crank: Crank,
    /// Coil by coil, in the circuit's order.
    pub coils: Vec<CoilState>,
    /// Module by module, in document order.
    pub spark: Vec<Spark>,
    pub clutch: Option<ClutchState>,
    /// Fuel solenoid on, if the machine has one.
    pub fuel: Option<bool>,
}

impl Outcome {
    /// Reads the outcome off a solved lane.
    pub(crate) fn of(circuit: &Circuit, solver: &Solver<'_, f64>) -> Self {
        let lane = 0;
        let coils = coil_states(circuit, solver);
        let loads = |kind: PartKind| {
            circuit.elements().filter(move |(_, e)| {
                e.kind == ElementKind::Load && e.part.is_some_and(|p| circuit.part(p).kind == kind)
            })
        };
        let across = |id: ElementId| {
            if !solver.conducts(lane, id) {
                return 0.0;
            }
            let e = circuit.element(id);
            (solver.amps(lane, id) * e.ohms).abs()
        };
        let clutch = loads(PartKind::Clutch).next().map(|(id, _)| match across(id) {
            v if v >= CLUTCH_PULLS_IN_VOLTS => ClutchState::Engaged,
            v if v >= CLUTCH_PULLS_IN_VOLTS / 2.0 => ClutchState::Slipping,
            _ => ClutchState::Off,
        });
        let fuel = loads(PartKind::FuelSolenoid).next().map(|(id, _)| across(id) >= 8.0);
        Self {
            crank: crank(circuit, solver, &coils),
            spark: sparks(circuit, solver),
            coils,
            clutch,
            fuel,
        }
    }
}

impl Crank {
    /// What the starter does at a solved operating point.
    pub fn of(circuit: &Circuit, solver: &Solver<'_, f64>) -> Self {
        crank(circuit, solver, &coil_states(circuit, solver))
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

fn crank(circuit: &Circuit, solver: &Solver<'_, f64>, coils: &[CoilState]) -> Crank {
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
    let starter = circuit.elements().find_map(|(id, e)| {
        let part = circuit.part(e.part?);
        (e.kind == ElementKind::Load && part.kind == PartKind::Starter)
            .then(|| (solver.amps(0, id).abs(), part.amps.unwrap_or(100.0)))
    });
    match starter {
        Some((amps, nominal)) if amps >= SLOW_CRANK_SHARE * nominal => Crank::Yes,
        Some((amps, _)) if amps >= STALLED_STARTER_AMPS => Crank::Slow,
        _ if states.contains(&CoilState::Pulled) => Crank::Click,
        _ => Crank::No,
    }
}

/// Every module judged by the ohms of the best way from its kill lead to its own body, modules
/// themselves taken out. A diode counts in its own direction, as the magneto's pulse finds it.
fn sparks(circuit: &Circuit, solver: &Solver<'_, f64>) -> Vec<Spark> {
    let ports = circuit.elements().filter(|(_, e)| e.kind == ElementKind::KillPort);
    ports
        .map(|(_, e)| match best_way(circuit, solver, e.a, e.b) {
            ohms if ohms <= KILLED_UP_TO_OHMS => Spark::Killed,
            ohms if ohms <= DOUBTFUL_UP_TO_OHMS => Spark::Weak,
            _ => Spark::On,
        })
        .collect()
}

/// Least ohms in series from one node to another (Bellman-Ford; infinite where nothing leads).
fn best_way(circuit: &Circuit, solver: &Solver<'_, f64>, from: NodeId, to: NodeId) -> f64 {
    let mut ohms = vec![f64::INFINITY; circuit.node_count()];
    ohms[from.index()] = 0.0;
    for _ in 0..circuit.node_count() {
        let mut nearer = false;
        for (id, e) in circuit.elements() {
            let diode = matches!(e.kind, ElementKind::Diode { .. });
            let step = match e.kind {
                ElementKind::KillPort => continue,
                ElementKind::Diode { .. } => e.ohms,
                _ if solver.conducts(0, id) => e.ohms,
                _ => continue,
            };
            let mut relax = |a: NodeId, b: NodeId| {
                if ohms[a.index()] + step < ohms[b.index()] {
                    ohms[b.index()] = ohms[a.index()] + step;
                    nearer = true;
                }
            };
            relax(e.a, e.b);
            if !diode {
                relax(e.b, e.a);
            }
        }
        if !nearer {
            break;
        }
    }
    ohms[to.index()]
}
