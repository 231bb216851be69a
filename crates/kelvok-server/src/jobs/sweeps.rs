//! The sweep of each kill wire, and what was found at its stands.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::{PointView, SetUpView, condition_view, full_name};
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::Instrument;
use kelvok_core::diagnosis::{Caution, Evidence, KillSweep, Observation, Sign, Stand};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A kill circuit swept from one point.
#[derive(Serialize, ToSchema)]
pub struct SweepView {
    /// Id and name of the circuit.
    pub circuit: String,
    pub name: String,
    /// None where no plug takes the module off its wire, or nothing would tell.
    pub walk: Option<WalkView>,
}

#[derive(Serialize, ToSchema)]
pub struct WalkView {
    pub set_up: Vec<SetUpView>,
    pub instrument: Instrument,
    pub red: PointView,
    pub black: PointView,
    pub cautions: Vec<Caution>,
    /// In the order in which the fewest controls move.
    pub stands: Vec<StandView>,
    /// Contacts that no stand tells anything of.
    pub not_told: Vec<String>,
    /// Whether the plug is worth taking off for so many stands.
    pub worth_it: bool,
}

#[derive(Serialize, ToSchema)]
pub struct StandView {
    pub condition: BTreeMap<String, String>,
    /// Controls moved since the stand before.
    pub moved: usize,
    /// What a sound machine shows.
    pub shows: Sign,
    /// Contacts that are proved if it does, and suspect if it does not.
    pub tells: Vec<String>,
    pub found: Option<FoundSign>,
}

/// What was found at a stand.
#[derive(Clone, Copy, Serialize, ToSchema)]
pub struct FoundSign {
    pub sequence: u64,
    pub sign: Sign,
    /// It came and went while a control was moved.
    pub dead_spot: bool,
}

/// The sweeps of the machine's kill circuits.
#[utoipa::path(get, operation_id = "sweeps", path = "/jobs/{id}/sweeps", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<SweepView>),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem)))]
pub async fn list(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Reply<Vec<SweepView>>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let views = move || Ok(views(&compiled, &log));
    app.ask(loaded.question("sweeps"), loaded.size(), views).await
}

fn views(compiled: &Compiled, log: &[Evidence]) -> Vec<SweepView> {
    let document = compiled.circuit().document();
    let kills = document.circuits.iter().filter(|c| c.load.is_none());
    let mut views: Vec<SweepView> = Vec::new();
    for named in kills {
        let walk = compiled.sweep(&named.id).map(|sweep| walk_view(compiled, &sweep, log));
        // Two modules on one wire are swept at once.
        let alike = |v: &&mut SweepView| match (&v.walk, &walk) {
            (Some(a), Some(b)) => a.is_same_walk(b),
            _ => false,
        };
        match views.iter_mut().find(alike) {
            Some(view) => view.name = format!("{} and {}", view.name, named.name),
            None => {
                let (circuit, name) = (named.id.clone(), named.name.clone());
                views.push(SweepView { circuit, name, walk });
            }
        }
    }
    views
}

impl WalkView {
    /// Whether the other goes through the same stands with the probes in the same places.
    fn is_same_walk(&self, other: &Self) -> bool {
        let stands = |walk: &Self| -> Vec<_> {
            walk.stands.iter().map(|s| (s.condition.clone(), s.shows)).collect()
        };
        let probes = |walk: &Self| (walk.red.terminal.clone(), walk.black.terminal.clone());
        probes(self) == probes(other) && stands(self) == stands(other)
    }
}

fn walk_view(compiled: &Compiled, sweep: &KillSweep, log: &[Evidence]) -> WalkView {
    let circuit = compiled.circuit();
    let stands = sweep.stands.iter().map(|stand| StandView {
        condition: condition_view(circuit, &stand.condition),
        moved: stand.moved,
        shows: stand.shows,
        tells: stand.tells.iter().map(|e| full_name(circuit, *e)).collect(),
        found: found(compiled, sweep, stand, log),
    });
    WalkView {
        set_up: sweep.set_up.iter().map(|s| SetUpView::of(circuit, *s)).collect(),
        instrument: sweep.instrument,
        red: PointView::of(circuit, sweep.red),
        black: PointView::of(circuit, sweep.black),
        cautions: sweep.cautions.clone(),
        stands: stands.collect(),
        not_told: sweep.not_told.iter().map(|e| full_name(circuit, *e)).collect(),
        worth_it: sweep.is_worth_it(),
    }
}

/// The last reading taken at a stand.
fn found(
    compiled: &Compiled,
    sweep: &KillSweep,
    stand: &Stand,
    log: &[Evidence],
) -> Option<FoundSign> {
    let circuit = compiled.circuit();
    let node = |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).ok();
    let (wanted_red, wanted_black) = (node(sweep.red), node(sweep.black));
    log.iter().rev().find_map(|entry| {
        let Observation::Read { red, black, reading, .. } = entry.observation else {
            return None;
        };
        let here = entry.condition == stand.condition
            && entry.set_up.len() == sweep.set_up.len()
            && sweep.set_up.iter().all(|s| entry.set_up.contains(s))
            && Some(red) == wanted_red
            && Some(black) == wanted_black;
        let sign = Sign::of(reading).filter(|_| here)?;
        Some(FoundSign { sequence: entry.sequence, sign, dead_spot: entry.at_times })
    })
}

impl Compiled {
    /// The sweep of a kill circuit, planned now or before.
    fn sweep(&self, circuit: &str) -> Option<KillSweep> {
        let plan = || self.model.kill_sweep(circuit).ok().flatten();
        let mut kept = self.sweeps();
        kept.entry(circuit.to_owned()).or_insert_with(plan).clone()
    }
}
