//! The trade's usual figures, used where a machine does not state its own.
//!
//! Every one can be overridden in the machine description.

use super::Part;

/// A fully charged 12 V flooded battery at rest, 25 °C, in volts.
pub const BATTERY_VOLTS: f64 = 12.65;
/// A 300 A (cold-cranking) battery's internal resistance, in ohms: 3 / CCA.
pub const BATTERY_OHMS: f64 = 0.010;
/// A sound switch or relay contact, in ohms.
pub const CONTACT_OHMS: f64 = 0.010;
/// A heavy solenoid contact, in ohms.
pub const SOLENOID_CONTACT_OHMS: f64 = 0.0006;
/// A sound blade-and-socket joint in a plug, in ohms.
pub const JOINT_OHMS: f64 = 0.002;
/// A sound ring terminal bolted to bare metal, in ohms.
pub const GROUND_OHMS: f64 = 0.001;
/// A blade fuse of 10 to 30 A, in ohms.
pub const FUSE_OHMS: f64 = 0.004;
/// A forward-biased silicon diode: threshold in volts and the ohms behind it.
pub const DIODE_VOLTS: f64 = 0.6;
/// A diode that conducts, in ohms.
pub const DIODE_OHMS: f64 = 0.05;
/// Copper wire by American gauge, in ohms a kilometre at 20 °C.
pub const WIRE_OHMS_PER_KM: [(u8, f64); 7] =
    [(4, 0.815), (6, 1.30), (10, 3.28), (12, 5.21), (14, 8.29), (16, 13.2), (18, 20.9)];
/// A short of a chafed wire to metal, in ohms.
pub const SHORT_OHMS: f64 = 0.05;
/// A jumper wire with its two clips.
pub const JUMPER_OHMS: f64 = 0.03;
/// A 12 V filament test lamp, in ohms; bright over 8 V, dim from 3 V, out below.
pub const TEST_LAMP_OHMS: f64 = 48.0;
/// A 12 V 21 W lamp lit, hung in place of a coil, in ohms: 144 / 21.
pub const LOAD_LAMP_OHMS: f64 = 6.86;
/// A voltmeter's input, in ohms.
pub const VOLTMETER_OHMS: f64 = 10e6;
/// Above this an ohmmeter shows over range, in ohms.
pub const OHMMETER_LIMIT_OHMS: f64 = 40e6;
/// A continuity buzzer sounds under this, in ohms.
pub const BUZZER_OHMS: f64 = 30.0;
/// A starter turns slowly under this share of its nominal cranking current.
pub const SLOW_CRANK_SHARE: f64 = 0.6;
/// Under this current a starter does not turn at all, in amperes.
pub const STALLED_STARTER_AMPS: f64 = 25.0;
/// A fuse is taken to blow above this multiple of its rating.
pub const FUSE_BLOWS_AT: f64 = 1.35;
/// Kill lead to the module's own ground, inductive module, in ohms: killed up to the first,
/// doubtful up to the second, firing above.
pub const KILLED_UP_TO_OHMS: f64 = 10.0;
/// Up to so many ohms to ground the spark of an inductive module is weak.
pub const DOUBTFUL_UP_TO_OHMS: f64 = 500.0;
/// An electric clutch pulls in near this, in volts.
pub const CLUTCH_PULLS_IN_VOLTS: f64 = 9.0;
/// Minutes a unit's replacement takes where the machine does not say.
pub const REPLACE_MINUTES: f64 = 20.0;
/// Minutes between two places where the machine does not say.
pub const TRAVEL_MINUTES: f64 = 0.5;
/// What stands in the way of current into a battery, in ohms: some 3 A at 14.2 V into a full one.
pub const BATTERY_CHARGE_OHMS: f64 = 0.4;
/// Volts a regulator holds at its output, and the ohms behind them.
pub const CHARGE_VOLTS: f64 = 14.4;
/// A regulator that gives, in ohms.
pub const REGULATOR_OHMS: f64 = 0.04;
/// A regulator's input between its stator leads, in ohms, and the volts at which it wakes.
pub const REGULATOR_INPUT_OHMS: f64 = 60.0;
/// Volts at which a regulator begins to work.
pub const REGULATOR_WAKES_VOLTS: f64 = 10.0;
/// A permanent-magnet alternator at governed speed: open-circuit volts rms, ohms of its winding.
pub const STATOR_VOLTS: f64 = 28.0;
/// The winding of a stator, in ohms.
pub const STATOR_OHMS: f64 = 0.3;
/// Starter-generator: ohms as a motor, ohms of the field, volts left in the iron.
pub const GENERATOR_MOTOR_OHMS: f64 = 0.09;
/// The field of a starter-generator, in ohms.
pub const GENERATOR_FIELD_OHMS: f64 = 5.0;
/// What a generator gives before its field is fed, in volts.
pub const RESIDUAL_VOLTS: f64 = 2.0;
/// A 12 V ignition coil made for use without ballast, in ohms.
pub const IGNITION_COIL_OHMS: f64 = 3.2;
/// A battery ignition sparks from this share of 12 V across coil, weakly from the second share.
pub const COIL_SPARK_SHARES: [f64; 2] = [0.5, 0.3];
/// Breaker points, made, in ohms.
pub const POINTS_OHMS: f64 = 0.05;
/// An ammeter in line, in ohms; its needle moves from this many amperes.
pub const AMMETER_OHMS: f64 = 0.003;
/// From so many amperes on an ammeter's needle moves.
pub const AMMETER_MOVES_AMPS: f64 = 1.0;
/// Capacitor-discharge module, kill lead to its own ground: as the two figures above.
pub const CDI_KILLED_UP_TO_OHMS: f64 = 50.0;
/// The same of a capacitor-discharge module.
pub const CDI_DOUBTFUL_UP_TO_OHMS: f64 = 20_000.0;
/// A clutch, and copper in general, hot from work: its ohms over those cold.
pub const HOT_COPPER: f64 = 1.25;
/// A clutch whose gap has worn wide pulls in near this, in volts.
pub const WIDE_GAP_PULLS_IN_VOLTS: f64 = 13.0;
/// A fuel solenoid opens from this, in volts.
pub const FUEL_SOLENOID_VOLTS: f64 = 8.0;
/// A pin in its neighbor's cavity, in ohms.
pub const SWAP_OHMS: f64 = 0.003;
/// Kill port of an ignition module, lead to body, in ohms: a winding; some hundred; a diode's way
/// back.
pub const KILL_WINDING_OHMS: f64 = 1.0;
/// What a kill lead shows to ground on a resistive module, in ohms.
pub const KILL_RESISTIVE_OHMS: f64 = 400.0;
/// What it shows the other way round through a diode, in ohms.
pub const KILL_DIODE_BACK_OHMS: f64 = 50_000.0;
/// A filament lamp of 21 W, for a load in place of a coil, in ohms.
pub const LAMP_21_W_OHMS: f64 = 7.0;
/// A clear light-emitting test lamp: its resistor in ohms, its threshold in volts, the current
/// from which it lights, in amperes.
pub const LED_LAMP_OHMS: f64 = 1000.0;
/// A light-emitting diode that conducts, in volts.
pub const LED_LAMP_VOLTS: f64 = 1.8;
/// From so many amperes on it lights.
pub const LED_LIGHTS_AMPS: f64 = 0.002;
/// The diode range of a meter: test current in amperes, volts above which it shows over range.
pub const DIODE_RANGE_AMPS: f64 = 0.001;
/// The volts above which the diode range shows over range.
pub const DIODE_RANGE_VOLTS: f64 = 2.5;
/// A pair of test leads, in ohms; shown unless zeroed.
pub const LEAD_OHMS: f64 = 0.2;

/// A battery held above this boils, in volts.
pub const BOILS_VOLTS: f64 = 15.2;

/// What a contact of a part is rated to carry, in amperes: as its document says, else as parts of
/// its kind usually are. A starter solenoid's own contact is judged by its drop, not by this.
pub fn rated_amps(part: &Part) -> Option<f64> {
    let usual = part.kind.contact_amps();
    part.amps.filter(|_| usual.is_some()).or(usual)
}
