//! Switches on the bench: laid there, described, put away.

use crate::app::App;
use crate::bench::loaded::Loaded;
use crate::bench::profiles::of_id;
use crate::bench::view::{BenchView, view};
use crate::http::bodies::{Body, Path, Query};
use crate::http::input;
use crate::http::lists::Search;
use crate::http::problem::Problem;
use crate::jobs::job::Status;
use crate::machines::Known;
use crate::views::unreadable::UnreadableView;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use kelvok_core::bench::{
    Bench, Position, ProfileDocument, Subject, SwitchKind, SwitchVerdict, profile_of_part, wires_at,
};
use kelvok_store::{BenchHead, BenchSwitch, MachinePart};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// A line of the bench's list.
#[derive(Serialize, ToSchema)]
pub struct SwitchSummary {
    pub id: Uuid,
    pub name: String,
    pub kind: SwitchKind,
    /// The kind it should be; none where it is not known.
    pub profile: Option<String>,
    pub status: Status,
    pub new_part: bool,
    pub verdict: SwitchVerdict,
    /// How many things are wrong.
    pub findings: usize,
    pub probes: usize,
    pub opened_by: String,
    pub changed_at: DateTime<Utc>,
    pub job_id: Option<Uuid>,
}

/// A switch to be laid on the bench.
#[derive(Deserialize, ToSchema)]
pub struct LaySwitch {
    /// Made by the client (UUIDv7), so that a retry lays it there once.
    pub id: Uuid,
    pub by: String,
    pub name: String,
    /// What it is.
    pub is: SwitchIs,
    /// What is printed beside its terminals, where that is not the profile's; or the numbers that
    /// they are given.
    #[serde(default)]
    pub terminals: Vec<String>,
    /// Bought, and not fitted yet.
    #[serde(default)]
    pub new_part: bool,
}

#[derive(Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SwitchIs {
    /// Of a profile, by id.
    OfProfile { profile: String },
    /// Of a machine, by its name, and the part's id.
    OfMachine { machine: String, part: String },
    /// Nobody knows.
    Unknown { switch: SwitchKind, positions: Vec<Position> },
}

/// What is known of a switch, said anew.
#[derive(Deserialize, ToSchema)]
pub struct ChangeSwitch {
    /// The version that was read; refused with 409 if somebody changed the switch meanwhile.
    pub version: i32,
    pub name: String,
    pub subject: Subject,
    #[serde(default)]
    pub new_part: bool,
    /// Terminal -> the machine's terminal whose wire sits there when the plug is pushed on.
    #[serde(default)]
    pub plug: BTreeMap<String, String>,
    /// The machine that it is to go into, by name, and the part's id; where that is new.
    #[serde(default)]
    pub machine: Option<IntoMachine>,
}

#[derive(Deserialize, ToSchema)]
pub struct IntoMachine {
    pub machine: String,
    pub part: String,
}

#[derive(Deserialize, ToSchema)]
pub struct SetSwitchStatus {
    pub version: i32,
    pub status: Status,
}

const LONGEST_NAME: usize = 120;

fn checked_name(name: &str) -> Result<String, Problem> {
    input::said("name", name, LONGEST_NAME, "Say which switch it is.")
}

fn checked(subject: Subject) -> Result<Subject, Problem> {
    for (i, terminal) in subject.terminals.iter().enumerate() {
        input::line(&format!("subject/terminals/{i}"), terminal, 40)?;
    }
    for (i, position) in subject.positions.iter().enumerate() {
        input::line(&format!("subject/positions/{i}/id"), &position.id, 40)?;
        input::line(&format!("subject/positions/{i}/name"), &position.name, 80)?;
    }
    match subject.problems().as_slice() {
        [] => Ok(subject),
        problems => Err(Problem::fields("This switch cannot be so.", problems)),
    }
}

/// A page of the switches on the bench.
#[derive(Serialize, ToSchema)]
pub struct BenchPage {
    pub switches: Vec<SwitchSummary>,
    /// Switches on all pages.
    pub total: u64,
    /// Switches on a page.
    pub size: u64,
    /// Switches of this page that lie damaged in the database.
    pub unreadable: Vec<UnreadableView>,
}

/// Switches on the bench that are wanted, a page of them, those last touched first.
#[utoipa::path(get, operation_id = "bench_switches", path = "/bench", params(Search),
    responses((status = 200, body = BenchPage)))]
pub async fn list(
    State(app): State<App>,
    Query(search): Query<Search>,
) -> Result<Json<BenchPage>, Problem> {
    let listed = app.store.bench_switches(&search.into()).await?;
    let total = listed.total;
    let mut unreadable: Vec<_> = listed.found.unreadable.iter().map(UnreadableView::of).collect();
    let mut logs = app.store.bench_logs(listed.found.iter().map(|s| s.id).collect()).await?;
    let all = listed.found.rows;
    aside(move || {
        let mut switches = Vec::new();
        for switch in all {
            let log = logs.remove(&switch.id).unwrap_or_default();
            let standing = log.iter().filter(|e| e.voided.is_none()).map(|e| &e.body);
            match Bench::of(switch.head.subject.clone(), standing) {
                Some(bench) => switches.push(summary((switch, bench))),
                None => {
                    let why = format!("{}: what is kept of it cannot be.", switch.name);
                    unreadable.push(UnreadableView { place: None, why });
                }
            }
        }
        Json(BenchPage { switches, total, size: kelvok_store::PAGE, unreadable })
    })
    .await
}

fn summary((switch, bench): (BenchSwitch, Bench)) -> SwitchSummary {
    let subject = &switch.head.subject;
    SwitchSummary {
        id: switch.id,
        kind: subject.kind,
        profile: subject.profile.as_ref().map(|p| p.name.clone()),
        status: switch.status.into(),
        new_part: switch.head.new_part,
        verdict: bench.verdict(),
        findings: bench.findings().len(),
        probes: bench.probes,
        opened_by: switch.opened_by,
        changed_at: switch.changed_at,
        job_id: switch.job_id,
        name: switch.name,
    }
}

/// Lays a switch on the bench.
#[utoipa::path(post, operation_id = "lay_switch", path = "/bench", request_body = LaySwitch,
    responses((status = 200, body = BenchView), (status = 404, body = Problem),
        (status = 422, body = Problem)))]
pub async fn open(
    State(app): State<App>,
    Body(new): Body<LaySwitch>,
) -> Result<Json<BenchView>, Problem> {
    let (by, name) = (input::person(&new.by)?, checked_name(&new.name)?);
    let mut machine = None;
    let mut replaces = None;
    let mut wires = Vec::new();
    let mut subject = match new.is {
        SwitchIs::OfProfile { profile } => Subject::of_profile(&of_id(&app, &profile).await?),
        SwitchIs::OfMachine { machine: name, part } => {
            let into = Place::get(&app, &name, &part).await?;
            (machine, wires) = (Some(into.machine), into.wires);
            replaces = Some(into.profile.clone());
            Subject::of_profile(&into.profile)
        }
        SwitchIs::Unknown { switch, positions } => Subject {
            kind: switch,
            positions,
            terminals: new.terminals.clone(),
            profile: None,
            ..Subject::of_profile(&blank())
        },
    };
    if !new.terminals.is_empty() {
        subject.terminals = new.terminals;
    }
    let plug = match &replaces {
        None => BTreeMap::new(),
        Some(_) => subject.terminals.iter().map(|t| (t.clone(), t.clone())).collect(),
    };
    let subject = checked(subject)?;
    let new_part = new.new_part;
    let head = BenchHead { subject, new_part, machine, replaces, plug, wires };
    app.store.open_switch(new.id, &by, &name, &head).await?;
    view_of(&app, new.id).await
}

fn blank() -> ProfileDocument {
    ProfileDocument {
        format: kelvok_core::bench::SWITCH_FORMAT.to_owned(),
        id: String::new(),
        name: String::new(),
        kind: SwitchKind::KeySwitch,
        actuator: None,
        ignition: None,
        terminals: Vec::new(),
        positions: Vec::new(),
        made: BTreeMap::new(),
        amps: None,
        notes: String::new(),
    }
}

/// A machine's place for a switch.
struct Place {
    machine: MachinePart,
    profile: ProfileDocument,
    wires: Vec<kelvok_core::bench::PlugWire>,
}

impl Place {
    async fn get(app: &App, name: &str, part: &str) -> Result<Self, Problem> {
        let known = Known::get(app, name).await?;
        let circuit = known.circuit();
        let profile = profile_of_part(circuit, part).ok_or_else(|| {
            Problem::field("part", format!("This machine has no switch or relay \"{part}\"."))
        })?;
        let machine = MachinePart { revision_id: known.revision.id, part: part.to_owned() };
        Ok(Self { machine, profile, wires: wires_at(circuit, part) })
    }
}

/// A switch on the bench, and all that follows from what was read.
#[utoipa::path(get, operation_id = "bench_switch", path = "/bench/{id}", params(("id" = Uuid, Path)),
    responses((status = 200, body = BenchView), (status = 404, body = Problem)))]
pub async fn get(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<BenchView>, Problem> {
    view_of(&app, id).await
}

pub(crate) async fn view_of(app: &App, id: Uuid) -> Result<Json<BenchView>, Problem> {
    let loaded = Loaded::get(app, id).await?;
    Ok(Json(aside(move || view(&loaded)).await?))
}

/// Says anew what is known of a switch. What was read of it stays; what no longer names one of its
/// terminals or positions is kept in the log and counts for nothing.
#[utoipa::path(put, operation_id = "change_switch", path = "/bench/{id}", params(("id" = Uuid, Path)),
    request_body = ChangeSwitch, responses((status = 200, body = BenchView),
    (status = 409, description = "Changed meanwhile, or closed", body = Problem),
    (status = 422, body = Problem)))]
pub async fn change(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(new): Body<ChangeSwitch>,
) -> Result<Json<BenchView>, Problem> {
    let name = checked_name(&new.name)?;
    let subject = checked(new.subject)?;
    let mut head = app.store.bench_switch(id).await?.head;
    if let Some(IntoMachine { machine, part }) = new.machine {
        let into = Place::get(&app, &machine, &part).await?;
        head.machine = Some(into.machine);
        head.replaces = Some(into.profile);
        head.wires = into.wires;
    }
    let wants = head.replaces.as_ref().map(|p| p.terminals.as_slice()).unwrap_or_default();
    for (terminal, wire) in &new.plug {
        if !subject.terminals.contains(terminal) {
            return Err(Problem::field("plug", format!("There is no terminal \"{terminal}\".")));
        }
        if !wants.iter().any(|t| t.id == *wire) {
            return Err(Problem::field("plug", format!("The machine has no wire \"{wire}\".")));
        }
        if new.plug.values().filter(|w| *w == wire).count() > 1 {
            return Err(Problem::field("plug", format!("\"{wire}\" is in two places.")));
        }
    }
    head.subject = subject;
    head.new_part = new.new_part;
    head.plug = new.plug;
    app.store.change_switch(id, new.version, &name, &head).await?;
    view_of(&app, id).await
}

/// Closes a switch test, or opens it again.
#[utoipa::path(put, operation_id = "set_switch_status", path = "/bench/{id}/status",
    params(("id" = Uuid, Path)), request_body = SetSwitchStatus,
    responses((status = 200, body = BenchView), (status = 409, body = Problem)))]
pub async fn set_status(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(set): Body<SetSwitchStatus>,
) -> Result<Json<BenchView>, Problem> {
    app.store.set_switch_status(id, set.version, set.status.into()).await?;
    view_of(&app, id).await
}
