//! What may keep a machine from charging.

use super::system::ChargingSystem;
use crate::circuit::{Change, Circuit, ElementId, ElementKind};
use crate::machine::PartKind;
use serde::Serialize;

/// What is wrong with a charging system; one thing at a time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ChargeState {
    /// Nothing.
    Good,
    /// No current gets through the winding.
    StatorOpen,
    /// The winding touches the engine.
    StatorGrounded,
    /// Turns shorted, or magnets that are weak or loose.
    StatorWeak,
    /// It gives nothing: the regulator, the charge diode, or a generator.
    RegulatorDead,
    /// One of its diodes is open: half the amperes, and ripple.
    RegulatorHalf,
    /// It does not stop at its volts.
    RegulatorOver,
    /// It stops too soon.
    RegulatorLow,
    /// Fuse blown, wire or plug open between it and the battery.
    FeedOpen,
    /// A bad joint there.
    FeedHigh,
    /// Its case, or the engine, is not grounded.
    GroundOpen,
    /// A bad joint there.
    GroundHigh,
    /// A cell is shorted: it takes all there is and stays low.
    BatteryShorted,
}

impl ChargeState {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Good => "Charging system good",
            Self::StatorOpen => "Stator: open winding",
            Self::StatorGrounded => "Stator: winding touches the engine",
            Self::StatorWeak => "Stator: weak, shorted turns or magnets",
            Self::RegulatorDead => "Regulator: puts out nothing",
            Self::RegulatorHalf => "Regulator: one diode open, half the amps",
            Self::RegulatorOver => "Regulator: overcharges",
            Self::RegulatorLow => "Regulator: stops too low",
            Self::FeedOpen => "Charge fuse, wire or plug open",
            Self::FeedHigh => "Bad joint between regulator and battery +",
            Self::GroundOpen => "Regulator or engine not grounded",
            Self::GroundHigh => "Bad ground between regulator and battery −",
            Self::BatteryShorted => "Battery: shorted cell",
        }
    }

    /// Where it sits: what is looked at, or replaced, for it.
    pub fn place(self) -> ChargePlace {
        match self {
            Self::Good => ChargePlace::Nowhere,
            Self::StatorOpen | Self::StatorGrounded | Self::StatorWeak => ChargePlace::Stator,
            Self::RegulatorDead | Self::RegulatorHalf => ChargePlace::Regulator,
            Self::RegulatorOver | Self::RegulatorLow => ChargePlace::Regulator,
            Self::FeedOpen | Self::FeedHigh => ChargePlace::Feed,
            Self::GroundOpen | Self::GroundHigh => ChargePlace::Ground,
            Self::BatteryShorted => ChargePlace::Battery,
        }
    }

    /// How usual it is where somebody asks whether a machine charges; not scaled.
    pub(super) fn usual(self) -> f64 {
        match self {
            Self::Good => 0.45,
            Self::RegulatorDead => 0.11,
            Self::FeedOpen => 0.09,
            Self::BatteryShorted => 0.06,
            Self::StatorWeak => 0.07,
            Self::StatorOpen | Self::StatorGrounded | Self::FeedHigh => 0.05,
            Self::RegulatorHalf | Self::RegulatorOver | Self::GroundHigh => 0.03,
            Self::RegulatorLow | Self::GroundOpen => 0.02,
        }
    }

    /// Whether a system may have it.
    pub fn is_of(self, system: &ChargingSystem) -> bool {
        match self {
            Self::StatorOpen | Self::StatorWeak => system.winding.is_some(),
            Self::StatorGrounded => system.winding.is_some() && !system.one_lead,
            Self::RegulatorHalf => system.winding.is_some() && system.regulated,
            Self::RegulatorOver | Self::RegulatorLow => system.regulated,
            _ => true,
        }
    }
}

/// A place in a charging system.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ChargePlace {
    /// Nothing is wrong.
    Nowhere,
    /// The winding and magnets in the engine.
    Stator,
    /// Regulator, charge diode or generator.
    Regulator,
    /// Fuse, wires and plugs to battery +.
    Feed,
    /// The way from battery − back to its case.
    Ground,
    /// The battery itself.
    Battery,
}

impl ChargePlace {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// What it is called.
    pub fn words(self) -> &'static str {
        match self {
            Self::Nowhere => "All good",
            Self::Stator => "Stator",
            Self::Regulator => "Regulator",
            Self::Feed => "Fuse and wires to battery +",
            Self::Ground => "Ground side",
            Self::Battery => "Battery",
        }
    }
}

/// What changes of a circuit, as a fault of the diagnosis has them, are of its charging.
pub fn charge_state(circuit: &Circuit, system: &ChargingSystem, changes: &[Change]) -> ChargeState {
    let of = |change: &Change| match *change {
        Change::Open(e) | Change::AtTimes(e) if Some(e) == system.winding => {
            Some(ChargeState::StatorOpen)
        }
        Change::Emf(e, _) if Some(e) == system.winding => Some(ChargeState::StatorGrounded),
        Change::Open(e) if e == system.source || own_contact(circuit, system, e) => {
            Some(ChargeState::RegulatorDead)
        }
        Change::Emf(e, volts) if e == system.source => {
            let over = volts.abs() > system.volts;
            Some(if over { ChargeState::RegulatorOver } else { ChargeState::RegulatorLow })
        }
        Change::Open(e) | Change::AtTimes(e) if system.feed.contains(&e) => {
            Some(ChargeState::FeedOpen)
        }
        Change::Ohms(e, _) if system.feed.contains(&e) => Some(ChargeState::FeedHigh),
        Change::Apart(part) => {
            let own = |e: &ElementId| circuit.element(*e).part == Some(part);
            let joint = |e: &ElementId| circuit.element(*e).kind == ElementKind::Joint;
            let feeds = system.feed.iter().any(|e| own(e) && joint(e));
            let leads = system.leads.iter().any(|e| own(e) && joint(e));
            match (feeds, leads) {
                (true, _) => Some(ChargeState::FeedOpen),
                (_, true) => Some(ChargeState::StatorOpen),
                _ => None,
            }
        }
        Change::Open(e) | Change::AtTimes(e) if system.leads.contains(&e) => {
            Some(ChargeState::StatorOpen)
        }
        Change::Open(e) | Change::AtTimes(e) if system.back.contains(&e) => {
            Some(ChargeState::GroundOpen)
        }
        Change::Ohms(e, _) if system.back.contains(&e) => Some(ChargeState::GroundHigh),
        _ => None,
    };
    changes.iter().find_map(of).unwrap_or(ChargeState::Good)
}

/// The contact inside a regulator or generator through which it gives.
fn own_contact(circuit: &Circuit, system: &ChargingSystem, element: ElementId) -> bool {
    let own = circuit.element(element);
    let inner = matches!(own.kind, ElementKind::Contact(_) | ElementKind::Coil(_));
    let kind = circuit.part(system.regulator).kind;
    let gives = matches!(kind, PartKind::Regulator | PartKind::Generator);
    inner && gives && own.part == Some(system.regulator)
}
