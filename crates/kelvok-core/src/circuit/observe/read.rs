//! What an instrument shows.

use super::diode_range::DiodeRange;
use super::instrument::{Instrument, Reading, Refusal};
use super::lamp_state::LampState;
use super::leads::Leads;
use crate::circuit::model::{Change, Circuit, Condition, ElementId, ElementKind, NodeId};
use crate::circuit::solve::{Relays, Setting, Solved, Solver};
use crate::machine::{
    BUZZER_OHMS, LED_LAMP_OHMS, LED_LAMP_VOLTS, LED_LIGHTS_AMPS, OHMMETER_LIMIT_OHMS,
    TEST_LAMP_OHMS, VOLTMETER_OHMS,
};

/// What an instrument shows between `red` and `black`.
///
/// # Errors
/// An ohmmeter or buzzer on a live circuit is refused.
///
/// ```
/// use kelvok_core::circuit::{Circuit, Condition, Instrument, Reading, Relays, read};
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let machine = Machine::read(LIBRARY[0].text).expect("a library machine");
/// let circuit = Circuit::compile(&machine);
/// let at_rest = Condition::at_rest(&circuit);
/// let posts = ["battery.+", "battery.-"].map(|post| circuit.terminal(post).expect("a battery"));
/// let (red, black) = (posts[0], posts[1]);
/// let meter = Instrument::Voltmeter;
/// let shown = read(&circuit, &at_rest, Relays::default(), &[], meter, (red, black));
/// assert!(matches!(shown, Ok(Reading::Volts(volts)) if (12.0..13.0).contains(&volts)));
/// ```
pub fn read(
    circuit: &Circuit,
    condition: &Condition,
    relays: Relays,
    changes: &[Change],
    instrument: Instrument,
    (red, black): (NodeId, NodeId),
) -> Result<Reading, Refusal> {
    let setting = Setting::new(circuit, condition).with(circuit, changes);
    let probing = Probing { circuit, changes, setting, relays, red, black };
    match instrument {
        Instrument::Voltmeter => Ok(Reading::Volts(probing.loaded(VOLTMETER_OHMS, false).0)),
        Instrument::AcVoltmeter => {
            Ok(Reading::AcVolts(probing.loaded(VOLTMETER_OHMS, true).0.abs()))
        }
        Instrument::TestLamp => {
            Ok(Reading::Lamp(LampState::at(probing.loaded(TEST_LAMP_OHMS, false).0)))
        }
        Instrument::LedLamp => {
            // Its threshold is taken off the volts that its resistor alone would see.
            let (volts, behind) = probing.loaded(VOLTMETER_OHMS, false);
            let amps = (volts.abs() - LED_LAMP_VOLTS) / (LED_LAMP_OHMS + behind);
            Ok(Reading::Lit(amps >= LED_LIGHTS_AMPS))
        }
        Instrument::Ohmmeter | Instrument::Buzzer => {
            let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
            solver.solve(&[&probing.setting], &[relays]);
            let ohms = Leads::new(&solver.lane(0)).ohms(red, black)?;
            let ohms = ohms.filter(|o| *o <= OHMMETER_LIMIT_OHMS);
            Ok(match instrument {
                Instrument::Buzzer => Reading::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
                _ => Reading::Ohms(ohms),
            })
        }
        Instrument::DiodeRange => probing.diode_range().map(Reading::Drop),
        Instrument::Clamp => {
            let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
            solver.solve(&[&probing.setting], &[relays]);
            Ok(Reading::Amps(clamped(circuit, &solver.lane(0), (red, black))))
        }
    }
}

/// Two probes on a circuit in one setting.
struct Probing<'a> {
    circuit: &'a Circuit,
    changes: &'a [Change],
    setting: Setting,
    relays: Relays,
    red: NodeId,
    black: NodeId,
}

impl Probing<'_> {
    /// Volts between the probes with a resistance hung there, and the ohms behind them; of
    /// alternating or of direct sources, whichever are asked for.
    fn loaded(&self, ohms: f64, alternating: bool) -> (f64, f64) {
        let (red, black) = (self.red, self.black);
        let mut setting = self.setting.clone();
        setting.attach(ohms);
        let mut solver: Solver<'_> =
            Solver::for_changes_with(self.circuit, self.changes, &[(red, black)]);
        solver.solve(&[&setting], &[self.relays]);
        let pieces = solver.pieces(0);
        // What a stator feeds alternates; nothing but its own leads and the regulator's inside.
        let stator = self.circuit.elements().any(|(id, e)| {
            matches!(e.kind, ElementKind::Winding { .. })
                && solver.conducts(0, id)
                && pieces[e.a.index()] == pieces[red.index()]
                && pieces[red.index()] != 0
        });
        let volts = solver.volts(0, red) - solver.volts(0, black);
        let behind = solver.resistance(0, red, black).unwrap_or(0.0);
        (if stator == alternating { volts } else { 0.0 }, behind)
    }

    fn diode_range(&self) -> Result<Option<f64>, Refusal> {
        let (red, black) = (self.red, self.black);
        let mut solver: Solver<'_> = Solver::for_changes(self.circuit, self.changes);
        solver.solve(&[&self.setting], &[self.relays]);
        Leads::new(&solver.lane(0)).live(red, black)?;
        let solver = Solver::for_changes_with(self.circuit, self.changes, &[(red, black)]);
        let mut range = DiodeRange::with(self.circuit, (red, black), solver);
        Ok(range.read(self.setting.clone(), self.relays))
    }
}

/// The wires that run from one terminal to another, each with whether it is drawn that way round: what
/// a clamp can be put around.
pub fn wires_between(
    circuit: &Circuit,
    (red, black): (NodeId, NodeId),
) -> impl Iterator<Item = (ElementId, bool)> + '_ {
    let wire = |id| matches!(circuit.element(id).kind, ElementKind::Wire | ElementKind::Possible);
    let along = circuit.around(red).iter().filter(move |(_, to, _)| *to == black);
    along.map(|(id, _, forth)| (*id, *forth)).filter(move |(id, _)| wire(*id))
}

/// What a clamp around all that runs from red to black shows; nothing is loaded by it.
pub fn clamped(circuit: &Circuit, solved: &dyn Solved, ends: (NodeId, NodeId)) -> f64 {
    let amps = |(id, forth)| if forth { solved.amps(id) } else { -solved.amps(id) };
    wires_between(circuit, ends).map(amps).sum()
}
