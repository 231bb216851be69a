//! How much is drawn while the drops are read: by a clamp, by what a load or a fuse of known ohms drops, or as
//! the circuit has it.

use super::path::LoadPath;
use super::potentials::Potentials;
use crate::circuit::{Circuit, ElementKind};
use serde::Serialize;

/// How the current is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum AmpsBy {
    /// A clamp around it.
    Clamp,
    /// The volts across the load, and its ohms.
    Load,
    /// The volts across a wire or fuse of known ohms.
    KnownOhms,
    /// What the drawing's figures come to.
    Figures,
}

impl AmpsBy {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Clamp => "by clamp",
            Self::Load => "by the volts it gets",
            Self::KnownOhms => "by the drop over a good wire",
            Self::Figures => "by the drawing, nobody measured it",
        }
    }
}

/// Amperes drawn; nine times in ten between the two.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct AmpsDrawn {
    pub likely: f64,
    pub low: f64,
    pub high: f64,
    pub by: AmpsBy,
}

/// A clamp is off by this share, and this many amperes.
const CLAMP_SHARE: f64 = 0.03;
const CLAMP_AMPS: f64 = 0.4;
/// What the drawing's figures come to is known to this share.
const FIGURES_SHARE: f64 = 0.2;
/// Standard deviations either side that nine in ten lie within.
const NINE_IN_TEN: f64 = 1.645;
/// Less than this much of a wire's drop is the meter's last digit.
const LEAST_VOLTS: f64 = 0.02;

impl AmpsDrawn {
    fn about(likely: f64, spread: f64, by: AmpsBy) -> Self {
        let either = NINE_IN_TEN * spread;
        Self { likely, low: (likely - either).max(0.0), high: likely + either, by }
    }

    /// How unsure, as a share.
    fn share(&self) -> f64 {
        (self.high - self.likely) / self.likely.max(1e-9)
    }

    /// By clamp, else by the load's volts, else by the drawing.
    ///
    /// # Arguments
    /// `clamped` are amperes by a clamp, each with the share of the load's current that runs there.
    pub(super) fn of(
        circuit: &Circuit,
        path: &LoadPath,
        clamped: &[(f64, f64)],
        potentials: &Potentials,
    ) -> Self {
        if let Some((amps, share)) = clamped.last() {
            let likely = (amps / share).abs();
            return Self::about(likely, CLAMP_SHARE * likely + CLAMP_AMPS, AmpsBy::Clamp);
        }
        let figures = Self::about(path.amps, FIGURES_SHARE * path.amps, AmpsBy::Figures);
        let sound = path.lost[path.at_load].volts;
        let across = potentials.between(path.at_load, path.at_load + 1);
        let load = circuit.element(path.load);
        let by_load =
            across.filter(|_| matches!(load.kind, ElementKind::Load | ElementKind::Coil(_)));
        by_load.map_or(figures, |(volts, spread)| {
            let likely = (path.amps * volts / sound).abs();
            let off = load.tolerance.hypot(spread / volts.abs().max(0.1));
            Self::about(likely, off * likely, AmpsBy::Load)
        })
    }

    /// The same, where a wire or fuse that loses no more than it may says it better.
    ///
    /// # Arguments
    /// `good` are stretches that were read by themselves and are in their allowance, with their volts.
    pub(super) fn or_by_known_ohms(
        self,
        circuit: &Circuit,
        path: &LoadPath,
        good: &[(usize, f64, f64)],
    ) -> Self {
        let known = |stretch: usize| {
            let mut own = path.stretches[stretch].iter().map(|id| circuit.element(*id).kind);
            path.lost[stretch].own
                && own.all(|kind| matches!(kind, ElementKind::Wire | ElementKind::Fuse { .. }))
        };
        let good =
            good.iter().filter(|(stretch, volts, _)| known(*stretch) && *volts > LEAST_VOLTS);
        let each = good.map(|(stretch, volts, spread)| {
            let sound = path.lost[*stretch];
            let likely = path.amps * volts / sound.volts;
            let off = (sound.unsure / sound.volts).hypot(spread / volts);
            Self::about(likely, likely * off, AmpsBy::KnownOhms)
        });
        let best = each.min_by(|a, b| a.share().total_cmp(&b.share()));
        best.filter(|b| self.by != AmpsBy::Clamp && b.share() < self.share()).unwrap_or(self)
    }
}
