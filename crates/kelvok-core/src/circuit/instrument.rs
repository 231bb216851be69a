//! Instruments, and what each would show. They disagree, because each is part of the circuit.

use super::{
    Change, Circuit, CoilState, Condition, Crank, Element, ElementId, ElementKind, NodeId,
    OperatingPoint, Outcome, Relays, Setting, Solved, Solver, Spark,
};
use crate::machine::{
    BUZZER_OHMS, DIODE_RANGE_AMPS, DIODE_RANGE_VOLTS, LED_LAMP_OHMS, LED_LAMP_VOLTS,
    LED_LIGHTS_AMPS, OHMMETER_LIMIT_OHMS, TEST_LAMP_OHMS, VOLTMETER_OHMS,
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What is put to the circuit, with red and black probes; the clamp goes round an element.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Instrument {
    /// Direct volts, 10 megohm.
    Voltmeter,
    /// Leads zeroed; over range above 40 megohm.
    Ohmmeter,
    /// Sounds under 30 ohm.
    Buzzer,
    /// A 48 ohm filament lamp: a real load. Its clip goes to ground or to battery positive.
    TestLamp,
    /// A light-emitting diode behind a kilohm.
    LedLamp,
    /// Alternating volts, rms.
    AcVoltmeter,
    /// One milliampere, red to black, and the volts it takes.
    DiodeRange,
}

impl Instrument {
    pub const ALL: [Self; 7] = [
        Self::Voltmeter,
        Self::Ohmmeter,
        Self::Buzzer,
        Self::TestLamp,
        Self::LedLamp,
        Self::AcVoltmeter,
        Self::DiodeRange,
    ];

    /// Whether it puts a current of its own into the circuit, which must then be dead.
    pub fn feeds(self) -> bool {
        matches!(self, Self::Ohmmeter | Self::Buzzer | Self::DiodeRange)
    }

    /// Whether both measure the same: a buzzer is an ohmmeter that only says yes or no.
    pub fn measures_as(self, other: Self) -> bool {
        let ohms = |instrument| matches!(instrument, Self::Ohmmeter | Self::Buzzer);
        self == other || ohms(self) && ohms(other)
    }

    /// What it does not see, for whoever is about to trust it.
    pub fn cannot_see(self) -> &'static str {
        match self {
            Self::Voltmeter => {
                "It takes no current, so a joint of 200 ohm reads as a sound one until a load \
                 draws through it."
            }
            Self::Ohmmeter => {
                "It pushes a milliampere: a contact that passes this may fail under load. On a \
                 live circuit it means nothing. Across a module's winding it always finds a way."
            }
            Self::Buzzer => {
                "It sounds for anything under 30 ohm: 20 ohm stop a solenoid and still buzz."
            }
            Self::TestLamp => {
                "It draws a quarter of an ampere: it shows a corroded joint that a meter misses, \
                 and not one that fails only at 100 A. Never on a kill wire with the engine turning."
            }
            Self::LedLamp => "It lights through 200 ohm and more: lit does not mean sound.",
            Self::AcVoltmeter => {
                "It sees a stator's volts and not whether the regulator makes anything of them."
            }
            Self::DiodeRange => {
                "It tells which way a diode conducts at a milliampere, not whether it blocks at \
                 full volts."
            }
        }
    }
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case", tag = "kind", content = "value")]
pub enum Reading {
    Volts(f64),
    /// `None` is over range.
    Ohms(Option<f64>),
    Buzz(bool),
    Lamp(LampState),
    /// Whether a light-emitting lamp is lit.
    Lit(bool),
    AcVolts(f64),
    /// Volts in the diode range; `None` is over range.
    Drop(Option<f64>),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
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

/// A current that draws a coil's ends apart by less than this moves nothing, in volts.
const LEAST_DRAWN_VOLTS: f64 = 0.5;
/// At this share of its pull-in volts a coil is taken to pull in.
const MAY_PULL_IN_SHARE: f64 = 0.8;

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
    let bench = Bench { circuit, changes, setting, relays, red, black };
    match instrument {
        Instrument::Voltmeter => Ok(Reading::Volts(bench.loaded(VOLTMETER_OHMS, false).0)),
        Instrument::AcVoltmeter => Ok(Reading::AcVolts(bench.loaded(VOLTMETER_OHMS, true).0.abs())),
        Instrument::TestLamp => {
            Ok(Reading::Lamp(LampState::at(bench.loaded(TEST_LAMP_OHMS, false).0)))
        }
        Instrument::LedLamp => {
            // Its threshold is taken off the volts that its resistor alone would see.
            let (volts, behind) = bench.loaded(VOLTMETER_OHMS, false);
            let amps = (volts.abs() - LED_LAMP_VOLTS) / (LED_LAMP_OHMS + behind);
            Ok(Reading::Lit(amps >= LED_LIGHTS_AMPS))
        }
        Instrument::Ohmmeter | Instrument::Buzzer => {
            let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
            solver.solve(&[&bench.setting], &[relays]);
            let ohms = Leads::new(&solver.lane(0)).ohms(red, black)?;
            let ohms = ohms.filter(|o| *o <= OHMMETER_LIMIT_OHMS);
            Ok(match instrument {
                Instrument::Buzzer => Reading::Buzz(ohms.is_some_and(|o| o < BUZZER_OHMS)),
                _ => Reading::Ohms(ohms),
            })
        }
        Instrument::DiodeRange => bench.diode_range().map(Reading::Drop),
    }
}

/// Two probes on a circuit in one setting.
struct Bench<'a> {
    circuit: &'a Circuit,
    changes: &'a [Change],
    setting: Setting,
    relays: Relays,
    red: NodeId,
    black: NodeId,
}

impl Bench<'_> {
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
        let pieces = Vec::new();
        let mut range = DiodeRange { circuit: self.circuit, red, black, solver, pieces };
        Ok(range.read(self.setting.clone(), self.relays))
    }
}

/// Volts on the diode range that drive no current worth the name.
const STILL_VOLTS: f64 = 1e-9;

/// The diode range of a meter between two probes, in one setting after another: a milliampere is
/// driven through, so that diodes do what they do.
pub struct DiodeRange<'c> {
    circuit: &'c Circuit,
    red: NodeId,
    black: NodeId,
    solver: Solver<'c>,
    /// Of what was read last.
    pieces: Vec<u16>,
}

impl<'c> DiodeRange<'c> {
    /// For settings whose changes join no nodes.
    pub fn new(circuit: &'c Circuit, (red, black): (NodeId, NodeId)) -> Self {
        let solver = Solver::with_extra(circuit, &[(red, black)]);
        Self { circuit, red, black, solver, pieces: Vec::new() }
    }

    /// Whether what was read last would be the same whatever conducts between two nodes: no volts
    /// stand there, or they lie apart and no diode hangs between their pieces and others.
    pub fn is_still(&mut self, (a, b): (NodeId, NodeId)) -> bool {
        if self.pieces.is_empty() {
            self.pieces = self.solver.pieces(0);
        }
        let [of_a, of_b] = [a, b].map(|n| self.pieces[n.index()]);
        if of_a == of_b {
            return (self.solver.volts(0, a) - self.solver.volts(0, b)).abs() < STILL_VOLTS;
        }
        let diodes = self.circuit.elements().filter(|(_, e)| e.is_diode());
        let lone = |e: &Element| {
            let ends = [e.a, e.b].map(|n| self.pieces[n.index()]);
            ends[0] != ends[1] && [of_a, of_b].iter().any(|p| *p != 0 && ends.contains(p))
        };
        !diodes.into_iter().any(|(_, e)| lone(e))
    }

    /// Volts between the probes; `None` is over range. Nothing may be live there.
    pub fn read(&mut self, mut setting: Setting, relays: Relays) -> Option<f64> {
        let Self { red, black, .. } = *self;
        setting.silence(self.circuit);
        setting.drive(red, black, DIODE_RANGE_AMPS);
        // The meter's own limit, so that an open circuit has somewhere to settle.
        setting.attach(DIODE_RANGE_VOLTS * 1.2 / DIODE_RANGE_AMPS);
        self.solver.solve(&[&setting], &[relays]);
        self.pieces.clear();
        let volts = self.solver.volts(0, red) - self.solver.volts(0, black);
        (volts <= DIODE_RANGE_VOLTS).then_some(volts)
    }
}

/// A solved operating point with the probes of an ohmmeter about to be put to it, again and again.
pub struct Leads<'a> {
    solved: &'a dyn Solved,
    /// For every node the connected piece it is in.
    pub pieces: Vec<u16>,
    /// The pieces that something drives, each with the volts that its own are counted from: the
    /// body's, or of a floating one those of its battery's negative post.
    powered: Vec<(u16, f64)>,
}

impl<'a> Leads<'a> {
    pub fn new(solved: &'a dyn Solved) -> Self {
        let pieces = solved.pieces();
        let drives = |kind: ElementKind| {
            kind.emf().is_some() || matches!(kind, ElementKind::Diode { volts } if volts < 0.0)
        };
        let elements = solved.circuit().elements();
        let powered = elements.filter(|(id, e)| drives(e.kind) && solved.conducts(*id));
        let counted = |e: &Element| match pieces[e.a.index()] {
            0 => (0, 0.0),
            piece => (piece, solved.volts(e.a)),
        };
        let powered = powered.map(|(_, e)| counted(e)).collect();
        Self { solved, pieces, powered }
    }

    /// Ohms between two nodes; `None` where nothing joins them.
    ///
    /// # Errors
    /// Refused where either probe, or the piece it stands on, is live.
    pub fn ohms(&self, red: NodeId, black: NodeId) -> Result<Option<f64>, Refusal> {
        self.live(red, black)?;
        Ok(self.resistance(red, black))
    }

    /// What the circuit shows between two nodes with its sources off, in ohms.
    pub fn resistance(&self, red: NodeId, black: NodeId) -> Option<f64> {
        let joined = self.pieces[red.index()] == self.pieces[black.index()];
        joined.then(|| self.solved.resistance(red, black))
    }

    /// Whether a current drawn from one node to another, in amperes, might pull in a coil that is
    /// not: the coil lies on the way to what draws it.
    pub fn pulls_in(&self, red: NodeId, black: NodeId, amps: f64) -> bool {
        let ohms = |a, b| self.resistance(a, b).unwrap_or(0.0);
        // No two nodes are drawn apart further than those it is drawn between.
        if (amps * ohms(red, black)).abs() < LEAST_DRAWN_VOLTS {
            return false;
        }
        let solved = self.solved;
        let circuit = solved.circuit();
        circuit.coils.iter().enumerate().any(|(c, coil)| {
            let e = circuit.element(coil.element);
            let there = self.pieces[e.a.index()] == self.pieces[red.index()];
            if !there || !solved.conducts(coil.element) || solved.relays().pulled(c) {
                return false;
            }
            // Reciprocity: ohms between the four ends give what the current makes across the coil.
            let across =
                (ohms(e.a, black) + ohms(e.b, red) - ohms(e.a, red) - ohms(e.b, black)) / 2.0;
            let now = solved.between(e.a, e.b);
            let then = (now - amps * across).abs();
            then > now.abs() + LEAST_DRAWN_VOLTS && then > MAY_PULL_IN_SHARE * coil.pulls_in
        })
    }

    /// Refuses probes that stand on, or on the piece of, something live.
    ///
    /// # Errors
    /// Either is.
    pub fn live(&self, red: NodeId, black: NodeId) -> Result<(), Refusal> {
        for probe in [red, black] {
            let own = |(piece, _): &&(u16, f64)| *piece == self.pieces[probe.index()];
            let Some((_, from)) = self.powered.iter().find(own) else { continue };
            let volts = self.solved.volts(probe) - from;
            if volts.abs() > LIVE_VOLTS {
                return Err(Refusal::Live { volts });
            }
        }
        Ok(())
    }
}

/// Current through an element, as a clamp round it shows; nothing is loaded by it.
pub fn clamp(solver: &Solver<'_>, lane: usize, element: ElementId) -> f64 {
    solver.amps(lane, element)
}

/// The least and the greatest of what is shown while things move; `None` before the first.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct MinMax(Option<(f64, f64)>);

impl MinMax {
    pub fn take(&mut self, value: f64) {
        self.0 = Some(self.0.map_or((value, value), |(min, max)| (min.min(value), max.max(value))));
    }

    pub fn shown(self) -> Option<(f64, f64)> {
        self.0
    }
}

/// What eyes and ears tell from one moment to the next, without an instrument.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Senses {
    /// Solenoids and relays that pulled in or let go, by coil.
    pub clicks: Vec<String>,
    pub clutch_snaps: bool,
    pub cranks: Option<Crank>,
    /// Lamps that went dimmer.
    pub lights_dim: bool,
    /// A spark tester's flash, module by module; only with the engine turning.
    pub sparks: Vec<bool>,
}

impl Senses {
    /// What is noticed on going from one operating point to another.
    pub fn between(circuit: &Circuit, before: &OperatingPoint, after: &OperatingPoint) -> Self {
        let (was, is): (&Outcome, &Outcome) = (&before.outcome, &after.outcome);
        let clicks = was.coils.iter().zip(&is.coils).enumerate().filter_map(|(c, (was, is))| {
            let clicks = was != is || *is == CoilState::Chatter;
            clicks.then(|| circuit.element(circuit.coils[c].element).id.clone())
        });
        let dimmer = |(was, is): (&LampState, &LampState)| *was == LampState::Bright && was != is;
        Self {
            clicks: clicks.collect(),
            clutch_snaps: was.clutch != is.clutch,
            cranks: (is.crank != Crank::No).then_some(is.crank),
            lights_dim: was.lamps.iter().zip(&is.lamps).any(dimmer),
            sparks: is.spark.iter().map(|s| *s == Spark::On).collect(),
        }
    }
}
