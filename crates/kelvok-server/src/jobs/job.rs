use super::loaded::Loaded;
use crate::app::App;
use crate::http::bodies::{Body, Path, Query};
use crate::http::input;
use crate::http::lists::Search;
use crate::http::problem::Problem;
use crate::jobs::complaint::{Complained, Taken};
use crate::jobs::evidence::EvidenceView;
use crate::jobs::mark::mark_of;
use crate::jobs::off::StillOffView;
use crate::jobs::release::{EndedView, causes_left, ended_of};
use crate::jobs::soak::soak_says;
use crate::jobs::verdicts::VerdictView;
use crate::views::drawing::CircuitName;
use crate::views::names::{CloseUpView, FoundView, NameView, PointView, SetUpView, UnitView};
use crate::views::unreadable::UnreadableView;
use crate::work::compiled::Compiled;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use kelvok_core::circuit::Circuit;
use kelvok_core::diagnosis::{Entry, ObservationEntry, Repair, SetUp};
use kelvok_core::machine::Control;
use kelvok_core::soak::is_under_way;
use kelvok_store::{JobChange, JobDigest, JobStatus, JobsOf, LogEntry, NewJob};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Status {
    Open,
    Closed,
}

impl From<Status> for JobStatus {
    fn from(status: Status) -> Self {
        match status {
            Status::Open => Self::Open,
            Status::Closed => Self::Closed,
        }
    }
}

impl From<JobStatus> for Status {
    fn from(status: JobStatus) -> Self {
        match status {
            JobStatus::Open => Self::Open,
            JobStatus::Closed => Self::Closed,
        }
    }
}

/// A line of the jobs list.
#[derive(Serialize, ToSchema)]
pub struct JobSummary {
    pub id: Uuid,
    pub number: i64,
    pub make: String,
    pub model: String,
    pub family: String,
    /// Which of the owner's machines.
    pub tag: String,
    pub owner: String,
    pub complaint: String,
    pub serial: String,
    /// Hours on the meter.
    pub hours: Option<f64>,
    pub status: Status,
    pub version: i32,
    pub opened_at: DateTime<Utc>,
    /// Readings taken, voided ones left out.
    pub readings: i32,
    pub last_at: Option<DateTime<Utc>>,
    pub verdict: Option<VerdictView>,
    /// How the machine went back, if somebody put a name under that.
    pub went_back: Option<WentBack>,
    /// A soak is under way, its clock running or not.
    pub soaking: bool,
    /// What was taken off or hung on for a test and is not put back; the job cannot be closed before it is. Of a
    /// closed job in a list nothing is said.
    pub still_off: Vec<StillOffView>,
    /// What the machine came with and its maker never built.
    pub found: Vec<FoundView>,
    /// The machine was described by its looks, nobody has traced it.
    pub usual: bool,
}

/// How a machine went back.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum WentBack {
    Released,
    /// Without a release.
    Returned,
}

impl From<bool> for WentBack {
    fn from(released: bool) -> Self {
        if released { Self::Released } else { Self::Returned }
    }
}

/// A page of jobs.
#[derive(Serialize, ToSchema)]
pub struct JobsPage {
    pub jobs: Vec<JobSummary>,
    /// Jobs on all pages.
    pub total: u64,
    /// Jobs on a page.
    pub size: u64,
    /// Open jobs, whatever was looked for.
    pub open: u64,
    /// Jobs of this page that lie damaged in the database.
    pub unreadable: Vec<UnreadableView>,
}

#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Which {
    /// Open or closed ones; all if not given.
    #[param(required = false, inline)]
    status: Option<Status>,
    /// Those of one machine, by its name in addresses, whatever its revision then.
    #[param(required = false)]
    machine: Option<String>,
}

/// A job with everything recorded in it.
#[derive(Serialize, ToSchema)]
pub struct JobView {
    #[serde(flatten)]
    pub summary: JobSummary,
    /// As `/jobs/{id}/mark` has it.
    pub mark: String,
    /// What running and watching it came to so far, as it goes on a report; none where nobody did.
    pub soak: Option<String>,
    /// The machine's name in addresses.
    pub machine: String,
    /// The revision of its machine's document that it is on, ...
    pub revision: i32,
    /// ... and the newest, where that is another.
    pub newer: Option<NewerRevision>,
    pub notes: Vec<String>,
    /// Turned over by hand.
    pub recoil: bool,
    pub controls: Vec<Control>,
    pub test_points: Vec<PointView>,
    /// Terminal of the point that black is on where volts are read and nothing else is said.
    pub black: Option<String>,
    /// What can be set up before something is measured or tried.
    pub set_ups: Vec<SetUpView>,
    /// How it was released, or handed back without that, the last time.
    pub released: Option<EndedView>,
    /// Wires that may be taken off one at a time.
    pub wires: Vec<NameView>,
    /// Lamps and glow plugs.
    pub lamps: Vec<NameView>,
    /// What shows only to who puts a finger, a tester or a squirt of fuel to it.
    pub close_ups: Vec<CloseUpView>,
    /// It has a battery.
    pub battery: bool,
    /// Jumper cables hang on the battery; the job cannot be closed before they are off.
    pub jumper_on: bool,
    /// What can be repaired or replaced, and how.
    pub repairs: Vec<RepairableView>,
    pub circuits: Vec<CircuitName>,
    /// Part id -> what the trade calls it.
    pub part_names: BTreeMap<String, String>,
    pub evidence: Vec<EvidenceView>,
    pub verdicts: Vec<VerdictView>,
    /// Entries that lie damaged in the database. They are kept as they are, and count for nothing.
    pub unreadable: Vec<UnreadableView>,
}

/// The newest revision of a machine that a job is not on.
#[derive(Serialize, ToSchema)]
pub struct NewerRevision {
    pub revision_id: Uuid,
    pub revision: i32,
}

/// A unit, and what can be done to it.
#[derive(Serialize, ToSchema)]
pub struct RepairableView {
    pub unit: UnitView,
    /// The usual first.
    pub ways: &'static [Repair],
}

impl RepairableView {
    fn all(compiled: &Compiled) -> Vec<Self> {
        let circuit = compiled.circuit();
        let units: BTreeSet<_> = compiled.suspects().list.iter().map(|s| s.unit).collect();
        let all = units.into_iter().map(|unit| Self {
            unit: UnitView::of(circuit, unit),
            ways: Repair::fitting(circuit, unit),
        });
        all.filter(|r| !r.ways.is_empty()).collect()
    }
}

#[derive(Deserialize, ToSchema)]
pub struct OpenJob {
    /// Made by the client (UUIDv7), so that a retry opens the job once.
    pub id: Uuid,
    pub revision_id: Uuid,
    #[serde(default)]
    pub tag: String,
    #[serde(default)]
    pub owner: String,
    pub complaint: String,
    #[serde(default)]
    pub serial: String,
    /// Hours on the meter.
    #[serde(default)]
    pub hours: Option<f64>,
    /// What is complained of, by its symptom.
    #[serde(default)]
    pub complained: Option<Complained>,
}

/// What a job says of its machine and owner.
#[derive(Deserialize, ToSchema)]
pub struct ChangeJob {
    /// The version that was read; refused with 409 if somebody changed the job meanwhile.
    pub version: i32,
    /// Another machine, if nothing was recorded yet.
    #[serde(default)]
    pub revision_id: Option<Uuid>,
    #[serde(default)]
    pub tag: String,
    #[serde(default)]
    pub owner: String,
    pub complaint: String,
    #[serde(default)]
    pub serial: String,
    /// Hours on the meter.
    #[serde(default)]
    pub hours: Option<f64>,
}

#[derive(Deserialize, ToSchema)]
pub struct SetStatus {
    /// The version that was read; refused with 409 if somebody changed the job meanwhile.
    pub version: i32,
    pub status: Status,
    /// It is closed although nobody looked at what killed a part.
    #[serde(default)]
    pub anyway: bool,
}

fn summary(
    circuit: &Circuit,
    digest: JobDigest,
    went_back: Option<WentBack>,
    (soaking, still_off): (bool, Vec<StillOffView>),
) -> JobSummary {
    let JobDigest { job, readings, last_at, verdict } = digest;
    let identity = &circuit.document().identity;
    JobSummary {
        id: job.id,
        number: job.number,
        make: identity.make.clone(),
        model: identity.model.clone(),
        family: identity.family.clone(),
        tag: job.tag,
        owner: job.owner,
        complaint: job.complaint,
        serial: job.serial,
        hours: job.hours,
        status: job.status.into(),
        version: job.version,
        opened_at: job.opened_at,
        readings,
        last_at,
        verdict: verdict.map(|v| VerdictView::of(circuit, v)),
        went_back,
        soaking,
        still_off,
        found: FoundView::all(circuit),
        usual: circuit.document().identity.source.is_usual(),
    }
}

/// Jobs that are wanted, a page of them, open ones first and of each the newest. One that cannot be
/// read is told beside the others.
#[utoipa::path(get, operation_id = "list_jobs", path = "/jobs", params(Which, Search),
    responses((status = 200, body = JobsPage)))]
pub async fn list(
    State(app): State<App>,
    Query(which): Query<Which>,
    Query(search): Query<Search>,
) -> Result<Json<JobsPage>, Problem> {
    let which = JobsOf { status: which.status.map(JobStatus::from), machine: which.machine };
    let listed = app.store.jobs(&which, &search.into()).await?;
    let mut page = JobsPage {
        jobs: Vec::new(),
        total: listed.total,
        size: kelvok_store::PAGE,
        open: app.store.open_jobs().await?,
        unreadable: listed.found.unreadable.iter().map(UnreadableView::of).collect(),
    };
    let ids: Vec<_> = listed.found.iter().map(|d| d.job.id).collect();
    let ends = app.store.release_ends(&ids).await?;
    let soaks = app.store.soaks_of(&ids).await?;
    let open = listed.found.iter().filter(|d| d.job.status == JobStatus::Open);
    let open: Vec<_> = open.map(|d| d.job.id).collect();
    let mut changed = app.store.changed_in(&open).await?;
    for digest in listed.found {
        let number = digest.job.number;
        let went_back = ends.get(&digest.job.id).copied().map(WentBack::from);
        let soaking = soaks.get(&digest.job.id).is_some_and(|soak| is_under_way(soak));
        let changed = changed.remove(&digest.job.id).unwrap_or_default();
        match app.circuits.circuit(&app, digest.job.revision_id).await {
            Ok(circuit) => {
                let left = StillOffView::all(&circuit, &changed);
                page.jobs.push(summary(&circuit, digest, went_back, (soaking, left)));
            }
            Err(problem) if problem.status == 503 => return Err(problem),
            Err(problem) => {
                page.unreadable.push(UnreadableView { place: Some(number), why: problem.detail })
            }
        }
    }
    Ok(Json(page))
}

/// One job.
#[utoipa::path(get, operation_id = "get_job", path = "/jobs/{id}", params(("id" = Uuid, Path)), responses(
    (status = 200, body = JobView),
    (status = 404, body = Problem),
))]
pub async fn get(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<JobView>, Problem> {
    Ok(Json(view(&app, id).await?))
}

pub(crate) async fn view(app: &App, id: Uuid) -> Result<JobView, Problem> {
    view_of(app, &Loaded::get(app, id).await?).await
}

/// A job that was loaded already, with its verdicts.
pub(crate) async fn view_of(app: &App, loaded: &Loaded) -> Result<JobView, Problem> {
    let verdicts = app.store.verdicts(loaded.job.id).await?;
    let releases = app.store.release_entries(loaded.job.id).await?;
    if loaded.evidence.is_empty() {
        loaded.compiled.plan_ahead(app);
    }
    let is_reading =
        |e: &&LogEntry<Entry>| matches!(e.body.observation, ObservationEntry::Reading { .. });
    let digest = JobDigest {
        job: loaded.job.clone(),
        readings: i32::try_from(loaded.standing().filter(is_reading).count()).unwrap_or(i32::MAX),
        last_at: loaded.standing().filter_map(|e| e.recorded_at).max(),
        verdict: verdicts.iter().rev().find(|v| v.voided.is_none()).cloned(),
    };
    let mut unreadable = loaded.unreadable();
    unreadable.extend(verdicts.unreadable.iter().map(UnreadableView::of));
    let own = app.store.revision_head(loaded.job.revision_id).await?;
    let (machine, newest) = app.store.newest_of(own.machine_id).await?;
    let newer = (newest.id != own.id)
        .then_some(NewerRevision { revision_id: newest.id, revision: newest.revision });
    let circuit = loaded.compiled.circuit();
    let document = circuit.document();
    let released = ended_of(&releases, loaded.job.status);
    let went_back = released.as_ref().map(|r| WentBack::from(r.released));
    let soaks = app.store.soaks_of(&[loaded.job.id]).await?;
    let soak = soaks.get(&loaded.job.id).map_or(&[][..], Vec::as_slice);
    let still_off = StillOffView::all(circuit, &loaded.evidence);
    Ok(JobView {
        soak: soak_says(soak),
        machine,
        revision: own.revision,
        newer,
        mark: mark_of(&loaded.job, &loaded.evidence, &verdicts),
        summary: summary(circuit, digest, went_back, (is_under_way(soak), still_off)),
        notes: document.identity.notes.clone(),
        recoil: document.drive.recoil,
        controls: document.controls.clone(),
        test_points: (0..document.test_points.len()).map(|i| PointView::of(circuit, i)).collect(),
        black: circuit.usual_black().map(|i| document.test_points[i].terminal.clone()),
        set_ups: SetUpView::all(circuit, &SetUp::all(circuit)),
        released,
        wires: NameView::wires(circuit),
        lamps: NameView::lamps(circuit),
        close_ups: CloseUpView::all(circuit),
        battery: circuit.posts().is_some(),
        jumper_on: loaded.jumper_on(),
        repairs: RepairableView::all(&loaded.compiled),
        circuits: CircuitName::all(circuit),
        part_names: document.parts.iter().map(|p| (p.id.clone(), p.name.clone())).collect(),
        verdicts: verdicts.into_iter().map(|v| VerdictView::of(circuit, v)).collect(),
        unreadable,
        evidence: loaded.evidence.iter().cloned().map(Into::into).collect(),
    })
}

fn complaint_of(text: &str) -> Result<String, Problem> {
    let complaint = input::words("complaint", text, 5000)?;
    match complaint.is_empty() {
        true => Err(Problem::field("complaint", "Say what the machine does or does not do.")),
        false => Ok(complaint),
    }
}

fn hours_of(hours: Option<f64>) -> Result<Option<f64>, Problem> {
    match hours.is_some_and(|h| !h.is_finite() || !(0.0..=1e6).contains(&h)) {
        true => Err(Problem::field("hours", "Hours on the meter, from 0.")),
        false => Ok(hours),
    }
}

/// Changes what a job says of its machine and owner; its machine only while nothing was recorded.
#[utoipa::path(put, operation_id = "change_job", path = "/jobs/{id}", params(("id" = Uuid, Path)),
    request_body = ChangeJob, responses((status = 200, body = JobView), (status = 404, body = Problem),
    (status = 409, description = "Somebody changed it meanwhile, it is closed, or it has entries",
     body = Problem), (status = 422, body = Problem)))]
pub async fn change(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(wanted): Body<ChangeJob>,
) -> Result<Json<JobView>, Problem> {
    let job = app.store.job(id).await?;
    let change = JobChange {
        revision_id: wanted.revision_id.unwrap_or(job.revision_id),
        tag: input::line("tag", &wanted.tag, 80)?,
        owner: input::line("owner", &wanted.owner, 120)?,
        complaint: complaint_of(&wanted.complaint)?,
        serial: input::line("serial", &wanted.serial, 80)?,
        hours: hours_of(wanted.hours)?,
    };
    app.store.change_job(id, wanted.version, &change).await?;
    Ok(Json(view(&app, id).await?))
}

/// Takes a job away in which nothing was recorded.
#[utoipa::path(delete, operation_id = "delete_job", path = "/jobs/{id}", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 409, description = "It has entries", body = Problem)))]
pub async fn delete(State(app): State<App>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    app.store.delete_job(id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Opens a job.
#[utoipa::path(post, operation_id = "open_job", path = "/jobs", request_body = OpenJob, responses(
    (status = 200, body = JobView),
    (status = 422, body = Problem),
))]
pub async fn open(
    State(app): State<App>,
    Body(new): Body<OpenJob>,
) -> Result<Json<JobView>, Problem> {
    let complaint = complaint_of(&new.complaint)?;
    let hours = hours_of(new.hours)?;
    let taken = match new.complained {
        Some(said) => {
            let circuit = app.circuits.circuit(&app, new.revision_id).await?;
            Some(Taken::check(circuit, said).await?)
        }
        None => None,
    };
    app.store
        .open_job(NewJob {
            id: new.id,
            revision_id: new.revision_id,
            tag: input::line("tag", &new.tag, 80)?,
            owner: input::line("owner", &new.owner, 120)?,
            complaint,
            serial: input::line("serial", &new.serial, 80)?,
            hours,
        })
        .await?;
    if let Some(taken) = taken {
        taken.record(&app, new.id).await?;
    }
    Ok(Json(view(&app, new.id).await?))
}

/// Closes a job, or opens it again. It is not closed while anything that was taken off for a test is off, nor, unless
/// that is said, while nobody looked at what killed a part.
#[utoipa::path(put, operation_id = "set_job_status", path = "/jobs/{id}/status", params(("id" = Uuid, Path)), request_body = SetStatus,
    responses((status = 200, body = JobView), (status = 409, body = Problem),
        (status = 422, description = "Something is still off", body = Problem)))]
pub async fn set_status(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(wanted): Body<SetStatus>,
) -> Result<Json<JobView>, Problem> {
    if let Status::Closed = wanted.status {
        let loaded = Loaded::get(&app, id).await?;
        let off = SetUpView::all(loaded.compiled.circuit(), &loaded.still_off());
        if !off.is_empty() {
            let names: Vec<_> = off.iter().map(|s| s.name.as_str()).collect();
            let sentence = format!("To put back: {}. Do that before you close.", names.join(", "));
            return Err(Problem::field("status", sentence));
        }
        if loaded.jumper_on() {
            let sentence = "The jumper cables are still on. Take them off before you close.";
            return Err(Problem::field("status", sentence));
        }
        if !wanted.anyway {
            let left = causes_left(&app, loaded).await?;
            if !left.is_empty() {
                return Err(Problem::field("anyway", left.join(" ")));
            }
        }
    }
    app.store.set_status(id, wanted.version, wanted.status.into()).await?;
    Ok(Json(view(&app, id).await?))
}
