//! Figures of charging, each with where it comes from.

/// Where the volts of a regulated system are from.
pub const CHARGING_SOURCE: &str = "Makers’ service manuals of small engines: 13.8 to 14.7 V at the posts at full \
    speed, battery charged, nothing on; over 15 V is overcharging. A charge diode without a regulator is judged by amps";

/// Volts at the posts at full speed of a regulated system, its battery charged.
pub const GOOD_VOLTS: (f64, f64) = (13.8, 14.7);
/// Over so many volts it overcharges.
pub const OVER_VOLTS: f64 = 15.0;
/// From so many volts over the battery's own on it charges.
pub const CHARGES_OVER_REST: f64 = 0.25;
/// More alternating volts at the posts come of a diode that is gone, or of a battery that does not hold: shop practice.
pub const RIPPLE_VOLTS: f64 = 0.5;

/// A rectifier's two diodes take so many volts.
pub(super) const DIODES: f64 = 1.4;
/// A stator's alternating volts (rms), rectified and not loaded, come to so many times as many direct ones: the
/// peak is 1.41 times, less what it sags between.
pub(super) const RECTIFIED: f64 = 1.35;
/// At idle an engine turns at this share of its governed speed: 1,200 to 1,900 of 3,600 a minute.
pub(super) const IDLE: (f64, f64) = (0.33, 0.53);
/// Full speed, as people hold it.
pub(super) const FULL: (f64, f64) = (0.85, 1.03);
/// Amperes of a regulated system whose maker's figure is not known: small engines have 9 to 20.
pub(super) const RATED: (f64, f64) = (9.0, 20.0);
/// Ohms behind which a battery takes charge, once its volts have stopped rising: least when it is low.
pub(super) const TAKES: (f64, f64) = (0.04, 1.2);
/// Ohms behind which it gives.
pub(super) const GIVES: (f64, f64) = (0.01, 0.05);
