//! A starter's volts and amps while it cranks, in one plane: what it draws for what it gets says whether it is
//! the starter, or what feeds it.

use super::amps::{AmpsBy, AmpsDrawn};
use super::path::LoadPath;
use serde::Serialize;

/// What a starter's volts and amps come to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum StarterWord {
    /// It draws what it should for the volts it gets, and gets enough.
    Sound,
    /// It draws too much for them: it drags, its armature is shorted, or the engine is tight.
    DrawsTooMuch,
    /// It draws too little for them: brushes, commutator, a bad joint inside.
    DrawsTooLittle,
    /// It draws what it should, and the battery holds too few volts.
    WeakBattery,
    /// It draws what it should, and the volts are lost on the way to it or back.
    LostOnTheWay,
    /// It draws what it should and gets too few volts; nobody read the posts.
    Starved,
}

impl StarterWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Sound => "Starter is fine: it draws what it should and gets enough volts",
            Self::DrawsTooMuch => {
                "Draws too much: starter drags or is shorted, or the engine is tight. Spark plugs out, \
                 does it turn by hand?"
            }
            Self::DrawsTooLittle => {
                "Draws too little for its volts: worn brushes, dirty commutator, or a bad joint inside"
            }
            Self::WeakBattery => "Starter is fine, the battery is not: it sags at the posts",
            Self::LostOnTheWay => {
                "Starter is fine, volts get lost on the way: walk the drops on both sides"
            }
            Self::Starved => {
                "Starter is fine but gets too few volts: now read post to post while it cranks"
            }
        }
    }
}

/// A starter in the plane of volts and amps.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct StarterPlane {
    /// Across the starter, in V, and what it draws, in A.
    pub volts: f64,
    pub amps: f64,
    /// At the battery's posts, if they were read.
    pub posts: Option<f64>,
    /// Between these ohms it is sound.
    pub least_ohms: f64,
    pub most_ohms: f64,
    /// What a good one gets, in V, and draws, in A.
    pub sound_volts: f64,
    pub sound_amps: f64,
    /// Under so many volts it is starved.
    pub least_volts: f64,
    pub word: StarterWord,
}

/// A sound starter's ohms are within these shares of the drawing's: cold oil and a tight new engine
/// included.
const LEAST_SHARE: f64 = 0.72;
const MOST_SHARE: f64 = 1.35;
/// Under this share of a good one's volts it cranks slowly, whatever it draws.
const STARVED_SHARE: f64 = 0.86;

impl StarterPlane {
    /// None where its amps or volts were not read.
    ///
    /// # Arguments
    /// `across` and `posts` are the volts of starter and battery; `allowed` is what the ways to it and back
    /// may lose together.
    pub(super) fn of(
        path: &LoadPath,
        drawn: AmpsDrawn,
        across: Option<f64>,
        posts: Option<f64>,
        allowed: f64,
    ) -> Option<Self> {
        let volts = across?.abs();
        if !path.cranks || drawn.by != AmpsBy::Clamp || drawn.likely <= 0.0 {
            return None;
        }
        let sound_volts = path.lost[path.at_load].volts;
        let sound_ohms = sound_volts / path.amps;
        let (least_ohms, most_ohms) = (LEAST_SHARE * sound_ohms, MOST_SHARE * sound_ohms);
        let least_volts = STARVED_SHARE * sound_volts;
        let ohms = volts / drawn.likely;
        let posts = posts.map(f64::abs);
        let word = if ohms < least_ohms {
            StarterWord::DrawsTooMuch
        } else if ohms > most_ohms {
            StarterWord::DrawsTooLittle
        } else if volts >= least_volts {
            StarterWord::Sound
        } else {
            match posts {
                Some(posts) if posts - volts > allowed => StarterWord::LostOnTheWay,
                Some(_) => StarterWord::WeakBattery,
                None => StarterWord::Starved,
            }
        };
        Some(Self {
            volts,
            amps: drawn.likely,
            posts,
            least_ohms,
            most_ohms,
            sound_volts,
            sound_amps: path.amps,
            least_volts,
            word,
        })
    }
}
