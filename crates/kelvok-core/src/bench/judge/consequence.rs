//! What a machine does because of a pair of terminals, by what they are for.

use crate::bench::identify::Role;
use crate::bench::profile::Function;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What whoever drives the machine would notice, or would find broken.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Consequence {
    /// The kill terminal is not grounded with the key off.
    NeverStops,
    SilentAtStart,
    /// The starter runs on, or cranks unasked.
    CranksUnasked,
    /// The kill terminal is grounded where it should be open.
    NoSpark,
    /// Battery volts reach the kill wire: the ignition module is destroyed.
    BatteryOnKillWire,
    BatteryShorted,
    /// The ignition or fuel is fed with the key off.
    RunsOn,
    /// The ignition or fuel is not fed in run.
    DiesInRun,
    /// The ignition or fuel is not fed while it cranks.
    NoFireInStart,
    NoCharge,
    AccessoriesDead,
    LightsDead,
    LightsStayOn,
    GlowPlugsCold,
    GlowPlugsStayOn,
    /// A load that should be dropped in start is not.
    StarterStarved,
    DrainsBattery,
    /// Mowing in reverse does not stop it where it should.
    ReverseNotWatched,
    NeverMakes,
    NeverBreaks,
    /// Volts are lost there under load, and it gets hot.
    DropsUnderLoad,
}

/// What comes of two terminals that are apart in a position and should be joined.
pub(super) fn of_missing(role: Role, one: Function, other: Function) -> Option<Consequence> {
    use Consequence::*;
    use Function::*;
    let is = |a: Function, b: Function| (one, other) == (a, b) || (one, other) == (b, a);
    let has = |f: Function| one == f || other == f;
    Some(match role {
        Role::Stop if is(Kill, Ground) => NeverStops,
        _ if is(Kill, Ground) => ReverseNotWatched,
        Role::Start if is(Supply, Starter) => SilentAtStart,
        Role::Start if is(Supply, Ignition) => NoFireInStart,
        _ if is(Supply, Ignition) => DiesInRun,
        _ if is(Supply, Heat) => GlowPlugsCold,
        _ if is(Supply, Regulator) => NoCharge,
        _ if has(Lights) && !has(Starter) => LightsDead,
        _ if is(Supply, Accessory) => AccessoriesDead,
        _ if plain(one) && plain(other) => NeverMakes,
        _ => return None,
    })
}

/// What comes of two terminals that are joined in a position and should be apart.
pub(super) fn of_extra(role: Role, one: Function, other: Function) -> Option<Consequence> {
    use Consequence::*;
    use Function::*;
    let is = |a: Function, b: Function| (one, other) == (a, b) || (one, other) == (b, a);
    let fed = |f: Function| is(Supply, f);
    Some(match role {
        _ if fed(Kill) => BatteryOnKillWire,
        _ if fed(Ground) => BatteryShorted,
        _ if is(Kill, Ground) => NoSpark,
        Role::Start if fed(Heat) || fed(Lights) => StarterStarved,
        _ if fed(Starter) => CranksUnasked,
        _ if fed(Heat) => GlowPlugsStayOn,
        Role::Stop if fed(Ignition) => RunsOn,
        Role::Stop if fed(Accessory) || fed(Lights) || fed(Regulator) => DrainsBattery,
        _ if fed(Lights) => LightsStayOn,
        _ if plain(one) && plain(other) => NeverBreaks,
        _ => return None,
    })
}

/// Terminals of a switch that is not a key's: all they do is make and break.
fn plain(function: Function) -> bool {
    use Function::*;
    matches!(function, Common | NormallyOpen | NormallyClosed | Contact)
}
