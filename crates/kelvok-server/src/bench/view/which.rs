//! Which switch it is, and which terminal is which.

use crate::app::App;
use crate::bench::loaded::Loaded;
use crate::bench::view::table::Names;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::bench::{
    Bench, Function, Identity, Ignition, LayoutVerdict, NearMiss, Profile, layout_verdict,
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A kind that it can be.
#[derive(Serialize, ToSchema)]
pub struct IdentityView {
    pub profile: String,
    pub name: String,
    pub ignition: Option<Ignition>,
    pub share: f64,
    /// How many orders of its terminals fit.
    pub count: u64,
    /// Terminal -> those of the profile that it can be.
    pub candidates: BTreeMap<String, Vec<Candidate>>,
}

#[derive(Clone, Serialize, ToSchema)]
pub struct Candidate {
    pub terminal: String,
    pub function: Function,
}

#[derive(Serialize, ToSchema)]
pub struct NearMissView {
    pub profile: String,
    pub name: String,
    pub position: String,
    pub one: String,
    pub other: String,
    pub count: u64,
}

#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LayoutStand {
    Open,
    Confirmed,
    Contradicted,
}

/// What the readings make of a drawing's layout.
#[derive(Serialize, ToSchema)]
pub struct LayoutView {
    pub stand: LayoutStand,
    /// How many orders of its terminals fit what was read.
    pub fit: Option<u64>,
    /// Readings that say otherwise.
    pub against: Vec<PairAt>,
}

/// A pair of terminals in a position.
#[derive(Serialize, ToSchema)]
pub struct PairAt {
    pub position: String,
    pub one: String,
    pub other: String,
}

pub(crate) fn identity_view(bench: &Bench, among: &[Profile], identity: &Identity) -> IdentityView {
    let profile = &among[identity.profile];
    let document = profile.document();
    let of = |mask: u16| {
        let own = profile.terminals().iter().enumerate();
        own.filter(|(t, _)| mask >> t & 1 == 1)
            .map(|(_, t)| Candidate { terminal: t.id.clone(), function: t.function })
            .collect::<Vec<_>>()
    };
    let found = bench.found.terminals().iter().cloned();
    let candidates = found.zip(identity.fits.candidates.iter().map(|mask| of(*mask)));
    IdentityView {
        profile: document.id.clone(),
        name: document.name.clone(),
        ignition: document.ignition,
        share: identity.share,
        count: identity.fits.count,
        candidates: candidates.collect(),
    }
}

/// Kinds that would fit but for one cell.
pub(crate) fn near_miss_views(
    names: &Names<'_>,
    among: &[Profile],
    near: &[NearMiss],
) -> Vec<NearMissView> {
    let views = near.iter().map(|miss| {
        let document = among[miss.profile].document();
        let [position, one, other] = names.cell(miss.cell);
        let (profile, name) = (document.id.clone(), document.name.clone());
        NearMissView { profile, name, position, one, other, count: miss.count }
    });
    views.collect()
}

pub(crate) fn layout_view(bench: &Bench, names: &Names<'_>) -> Option<LayoutView> {
    let profile = bench.profile.as_ref()?;
    let said = bench.subject.said()?;
    if bench.subject.layout.is_empty() {
        return None;
    }
    let (stand, fit, against) = match layout_verdict(profile, &said, &bench.found) {
        LayoutVerdict::Open { fit } => (LayoutStand::Open, Some(fit), Vec::new()),
        LayoutVerdict::Confirmed => (LayoutStand::Confirmed, None, Vec::new()),
        LayoutVerdict::Contradicted { cells, fit } => {
            let named = |cell| {
                let [position, one, other] = names.cell(cell);
                PairAt { position, one, other }
            };
            let cells = cells.into_iter().map(named).collect();
            (LayoutStand::Contradicted, Some(fit), cells)
        }
    };
    Some(LayoutView { stand, fit, against })
}

/// Every order that still fits, of each kind: the first thousand of them.
#[derive(Serialize, ToSchema)]
pub struct AssignmentsView {
    pub profile: String,
    pub name: String,
    pub count: u64,
    /// The switch's own terminals, in the order of each line below.
    pub terminals: Vec<String>,
    /// Which of the profile's each is.
    pub first: Vec<Vec<String>>,
}

/// All the ways in which the terminals can be those of a kind that fits.
#[utoipa::path(get, operation_id = "bench_assignments", path = "/bench/{id}/assignments",
    params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<AssignmentsView>), (status = 404, body = Problem)))]
pub async fn assignments(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Json<Vec<AssignmentsView>>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let views = aside(move || {
        let bench = &loaded.bench;
        let among = match &bench.profile {
            Some(profile) => vec![profile.clone()],
            None => loaded.kinds,
        };
        let views = bench.identities(&among).into_iter().map(|identity| {
            let profile = &among[identity.profile];
            let id = |t: &u8| profile.terminals()[usize::from(*t)].id.clone();
            AssignmentsView {
                profile: profile.document().id.clone(),
                name: profile.document().name.clone(),
                count: identity.fits.count,
                terminals: bench.found.terminals().to_vec(),
                first: identity.fits.first.iter().map(|f| f.iter().map(id).collect()).collect(),
            }
        });
        views.collect()
    });
    Ok(Json(views.await?))
}
