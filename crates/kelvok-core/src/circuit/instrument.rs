//! Instruments, and what each would show. They disagree, because each is part of the circuit.

use super::{Change, Circuit, Condition, ElementId, ElementKind, NodeId, Relays, Setting, Solver};
use crate::machine::{BUZZER_OHMS, OHMMETER_LIMIT_OHMS, TEST_LAMP_OHMS, VOLTMETER_OHMS};
use serde::{Deserialize, Serialize};

/// What is put to the circuit, with red and black probes; the clamp goes round an element.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Instrument {
    /// 10 megohm.
    Voltmeter,
    /// Leads zeroed; over range above 40 megohm.
    Ohmmeter,
    /// Sounds under 30 ohm.
    Buzzer,
    /// A 48 ohm filament lamp: a real load.
    TestLamp,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case", tag = "kind", content = "value")]
pub enum Reading {
    Volts(f64),
    /// `None` is over range.
    Ohms(Option<f64>),
    Buzz(bool),
    Lamp(LampState),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum LampState {
    Out,
    Dim,
    Bright,
}

impl LampState {
    /// By the volts across a 12 V filament lamp: bright over 8, dim from 3, out below.
    pub fn at(volts: f64) -> Self {
        match volts.abs() {
            v if v > 8.0 => Self::Bright,
            v if v >= 3.0 => Self::Dim,
            _ => Self::Out,
        }
    }
}

/// Why an instrument must not be put there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, thiserror::Error)]
#[serde(rename_all = "kebab-case", tag = "reason")]
pub enum Refusal {
    #[error(
        "the circuit is live here: {volts:.2} V. Ohms there mean nothing and can harm the meter"
    )]
    Live { volts: f64 },
}

/// Volts at a probe above which ohms are refused.
const LIVE_VOLTS: f64 = 0.05;

/// What an instrument shows between `red` and `black`.
///
/// # Errors
/// An ohmmeter or buzzer on a live circuit is refused.
pub fn read(
    circuit: &Circuit,
    condition: &Condition,
    relays: Relays,
    changes: &[Change],
    instrument: Instrument,
    (red, black): (NodeId, NodeId),
) -> Result<Reading, Refusal> {
    let setting = Setting::new(circuit, condition).with(circuit, changes);
    match instrument {
        Instrument::Voltmeter => {
            let volts = volts_through(circuit, &setting, relays, red, black, VOLTMETER_OHMS);
            Ok(Reading::Volts(volts))
        }
        Instrument::TestLamp => {
            let volts = volts_through(circuit, &setting, relays, red, black, TEST_LAMP_OHMS);
            Ok(Reading::Lamp(LampState::at(volts)))
        }
        Instrument::Ohmmeter | Instrument::Buzzer => {
            let mut solver: Solver<'_> = Solver::new(circuit);
            solver.solve(&[&setting], &[relays]);
            let ohms = ohms(&solver, circuit, 0, red, black)?;
            let ohms = ohms.filter(|o| *o <= OHMMETER_LIMIT_OHMS);
            Ok(match instrument {
                Instrument::Buzzer => Reading::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
                _ => Reading::Ohms(ohms),
            })
        }
    }
}

/// Volts between two nodes with a resistance hung between them.
fn volts_through(
    circuit: &Circuit,
    setting: &Setting,
    relays: Relays,
    red: NodeId,
    black: NodeId,
    ohms: f64,
) -> f64 {
    let mut setting = setting.clone();
    setting.attach(ohms);
    let mut solver: Solver<'_> = Solver::with_extra(circuit, &[(red, black)]);
    solver.solve(&[&setting], &[relays]);
    solver.volts(0, red) - solver.volts(0, black)
}

/// Ohms between two nodes of a solved lane; `None` where nothing joins them.
///
/// # Errors
/// Refused where either probe, or the piece it stands on, is live.
pub fn ohms(
    solver: &Solver<'_>,
    circuit: &Circuit,
    lane: usize,
    red: NodeId,
    black: NodeId,
) -> Result<Option<f64>, Refusal> {
    let pieces = solver.pieces(lane);
    for probe in [red, black] {
        let volts = solver.volts(lane, probe);
        // On a floating piece a battery of its own would still drive the meter.
        let powered = circuit.elements().any(|(id, e)| {
            matches!(e.kind, ElementKind::Source { .. })
                && solver.conducts(lane, id)
                && pieces[e.a.index()] == pieces[probe.index()]
        });
        if powered && volts.abs() > LIVE_VOLTS {
            return Err(Refusal::Live { volts });
        }
    }
    Ok(solver.resistance(lane, red, black))
}

/// Current through an element, as a clamp round it shows; nothing is loaded by it.
pub fn clamp(solver: &Solver<'_>, lane: usize, element: ElementId) -> f64 {
    solver.amps(lane, element)
}
