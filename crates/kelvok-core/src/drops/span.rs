//! What was lost between two points, and what is thought of it.

use serde::Serialize;

/// What a span comes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SpanWord {
    /// It loses no more than a good one.
    Fine,
    /// It loses more.
    TooMuch,
    /// It was read too roughly, or too near the limit, to say.
    Unclear,
    /// It is the load itself: what it gets.
    Load,
}

impl SpanWord {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As it is said across a bench.
    pub fn words(self) -> &'static str {
        match self {
            Self::Fine => "good",
            Self::TooMuch => "too much",
            Self::Unclear => "too close to call",
            Self::Load => "what it gets",
        }
    }
}

/// What was lost over some stretches together: between two points, or what is left of it where a part of
/// that is known by itself.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Span {
    /// By their places; what lies between the walk's point of that place and the next.
    pub stretches: Vec<usize>,
    pub volts: f64,
    /// Nine times in ten it is between these.
    pub low: f64,
    pub high: f64,
    /// What good parts lose at this current, and the most that they may.
    pub expected: f64,
    pub limit: f64,
    /// What the trade allows.
    pub trade: f64,
    pub watts: f64,
    pub word: SpanWord,
}
