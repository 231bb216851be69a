//! Parts that were found bad: what may have killed each, as it is sent.

use crate::app::App;
use crate::http::problem::Problem;
use crate::jobs::diagnosis::CauseView;
use crate::jobs::loaded::{Loaded, recorded};
use crate::views::names::UnitView;
use crate::work::desk::aside;
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::Unit;
use kelvok_core::release::{CauseOpen, Killed};
use serde::Serialize;
use utoipa::ToSchema;

/// A part that was found bad, and what may have killed it.
#[derive(Serialize, ToSchema)]
pub struct KilledView {
    pub unit: UnitView,
    /// How it failed: "stuck open".
    pub fails: String,
    pub causes: Vec<KillCauseView>,
    /// What somebody says that it was.
    pub said: Option<String>,
    /// Why that is not settled, in words; none where it is.
    pub open: Option<String>,
}

/// What may have killed a part.
#[derive(Serialize, ToSchema)]
pub struct KillCauseView {
    pub cause: CauseView,
    /// In the fault notation, as it is recorded once somebody looked.
    pub fault: String,
}

impl KilledView {
    pub(super) fn all(loaded: &Loaded, killed: &[Killed]) -> Vec<Self> {
        let compiled = &loaded.compiled;
        let (log, off) = (loaded.log(), loaded.still_off());
        let view = |own: &Killed| Self {
            unit: UnitView::of(compiled.circuit(), own.unit),
            fails: own.mode.words().to_owned(),
            causes: own
                .causes
                .iter()
                .map(|cause| KillCauseView {
                    cause: CauseView::of(compiled, &cause.standing, (&log, &off)),
                    fault: cause.fault.clone(),
                })
                .collect(),
            said: own.said.clone(),
            open: open_says(compiled.circuit(), own),
        };
        killed.iter().map(view).collect()
    }
}

/// The units that verdicts which stand name.
pub(super) async fn named_in(app: &App, loaded: &Loaded) -> Result<Vec<Unit>, Problem> {
    let circuit = loaded.compiled.circuit();
    let verdicts = app.store.verdicts(loaded.job.id).await?;
    let standing = verdicts.iter().filter(|v| v.voided.is_none());
    let mut units: Vec<Unit> = Vec::new();
    for unit in standing.flat_map(|v| &v.body.units).filter_map(|u| Unit::named(circuit, u).ok()) {
        if unit != Unit::Nothing && !units.contains(&unit) {
            units.push(unit);
        }
    }
    Ok(units)
}

/// What is left to do about what killed parts of a job, in words.
pub(crate) async fn causes_left(app: &App, loaded: Loaded) -> Result<Vec<String>, Problem> {
    let named = named_in(app, &loaded).await?;
    let entries = app.store.release_entries(loaded.job.id).await?;
    aside(move || {
        let circuit = loaded.compiled.circuit();
        let (model, log) = (&loaded.compiled.model, loaded.log());
        let killed = Killed::all(model, &log, &named, &loaded.fitted, &recorded(&entries));
        killed.iter().filter_map(|own| open_says(circuit, own)).collect()
    })
    .await
}

/// Why it is not settled what killed a part.
pub(super) fn open_says(circuit: &Circuit, killed: &Killed) -> Option<String> {
    let part = UnitView::of(circuit, killed.unit).name;
    let cause = |at: usize| {
        let own = &killed.causes[at];
        format!("{} {}", UnitView::of(circuit, own.unit).name, own.mode.words())
    };
    Some(match killed.open()? {
        CauseOpen::NotChecked(at) => {
            format!("What killed the {part}? Not checked yet: {}.", cause(at))
        }
        CauseOpen::StillThere(at) => {
            format!("The next {part} will go the same way: {}. Fix that first.", cause(at))
        }
    })
}
