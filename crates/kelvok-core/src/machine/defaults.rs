//! The trade's usual figures, used where a machine does not state its own.
//!
//! Every one can be overridden in the machine description.

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
pub const DIODE_OHMS: f64 = 0.05;
/// Copper wire by American gauge, in ohms a kilometre at 20 °C.
pub const WIRE_OHMS_PER_KM: [(u8, f64); 7] =
    [(4, 0.815), (6, 1.30), (10, 3.28), (12, 5.21), (14, 8.29), (16, 13.2), (18, 20.9)];
/// A short of a chafed wire to metal, in ohms.
pub const SHORT_OHMS: f64 = 0.05;
/// A 12 V filament test lamp, in ohms; bright over 8 V, dim from 3 V, out below.
pub const TEST_LAMP_OHMS: f64 = 48.0;
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
pub const DOUBTFUL_UP_TO_OHMS: f64 = 500.0;
/// An electric clutch pulls in near this, in volts.
pub const CLUTCH_PULLS_IN_VOLTS: f64 = 9.0;
/// Minutes a unit's replacement takes where the machine does not say.
pub const REPLACE_MINUTES: f64 = 20.0;
/// Minutes between two places where the machine does not say.
pub const TRAVEL_MINUTES: f64 = 0.5;
