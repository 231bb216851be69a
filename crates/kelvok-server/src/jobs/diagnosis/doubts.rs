//! What cannot be it, what does not fit, and what cannot both hold.

use crate::views::names::{PointView, UnitView, condition_view};
use crate::work::compiled::Compiled;
use kelvok_core::circuit::Instrument;
use kelvok_core::diagnosis::{Because, Belief, Evidence, Mistake, ObservationEntry};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// A switch that what was said and tried rules out.
#[derive(Serialize, ToSchema)]
pub struct ExcludedView {
    pub unit: UnitView,
    /// What together rules out every way in which it may fail, what rules out most first.
    pub reasons: Vec<ExclusionView>,
}

#[derive(Serialize, ToSchema)]
pub struct ExclusionView {
    /// The entry that rules it out.
    pub sequence: u64,
    /// What that entry would have been, were it bad. If not given it is not read there: whatever
    /// were wrong with it, the machine would do what a sound one does.
    pub would_show: Option<ObservationEntry>,
}

/// An entry that fits nothing that is believed.
#[derive(Serialize, ToSchema)]
pub struct MisfitView {
    pub sequence: u64,
    /// Chance that it was a slip.
    pub slip: f64,
    /// What may have happened, the likeliest first.
    pub explanations: Vec<ExplanationView>,
}

#[derive(Serialize, ToSchema)]
pub struct ExplanationView {
    #[serde(flatten)]
    pub mistake: MistakeView,
    /// Its share among the explanations.
    pub share: f64,
}

#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum MistakeView {
    /// The probes were elsewhere.
    WrongPoint { red: Box<PointView>, black: Box<PointView> },
    /// The meter was on another range.
    WrongSetting { instrument: Instrument },
    /// The machine stood otherwise.
    OtherCondition { condition: BTreeMap<String, String> },
}

/// Two entries that cannot both hold, unless it comes and goes.
#[derive(Serialize, ToSchema)]
pub struct ContradictionView {
    pub one: u64,
    pub other: u64,
}

pub fn excluded_views(compiled: &Compiled, belief: &Belief, log: &[Evidence]) -> Vec<ExcludedView> {
    let circuit = compiled.circuit();
    let reason = |because: &Because| match *because {
        Because::NotRead { sequence } => ExclusionView { sequence, would_show: None },
        Because::WouldShow { sequence, sensed } => {
            let would_show = Some(ObservationEntry::of_sensed(circuit, sensed));
            ExclusionView { sequence, would_show }
        }
    };
    let all = compiled.model.excluded(belief, log).into_iter();
    all.map(|e| ExcludedView {
        unit: UnitView::of(circuit, e.unit),
        reasons: e.because.iter().map(reason).collect(),
    })
    .collect()
}

pub fn misfit_view(compiled: &Compiled, belief: &Belief, log: &[Evidence]) -> Option<MisfitView> {
    let circuit = compiled.circuit();
    let found = compiled.model.misfit(belief, log)?;
    let explanations = found.explanations.into_iter().map(|e| ExplanationView {
        share: e.share,
        mistake: match e.mistake {
            Mistake::WrongPoint { red, black } => MistakeView::WrongPoint {
                red: Box::new(PointView::of(circuit, red)),
                black: Box::new(PointView::of(circuit, black)),
            },
            Mistake::WrongSetting(instrument) => MistakeView::WrongSetting { instrument },
            Mistake::OtherCondition(condition) => {
                MistakeView::OtherCondition { condition: condition_view(circuit, &condition) }
            }
        },
    });
    Some(MisfitView {
        sequence: found.sequence,
        slip: found.slip,
        explanations: explanations.collect(),
    })
}
