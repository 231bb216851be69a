use super::app::App;
use super::bodies::{Body, Path};
use super::circuits::Compiled;
use super::drawing::CircuitName;
use super::evidence::EvidenceView;
use super::problem::Problem;
use super::verdicts::VerdictView;
use super::views::{FoundView, PointView, SetUpView};
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use kelvok_core::diagnosis::{Evidence, ObservationEntry, SetUp};
use kelvok_core::machine::Control;
use kelvok_store::{Job, JobStatus, LogEntry, NewJob, Verdict};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Status {
    Open,
    Closed,
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
    pub readings: usize,
    pub last_at: Option<DateTime<Utc>>,
    pub verdict: Option<VerdictView>,
    /// What the machine came with and its maker never built.
    pub found: Vec<FoundView>,
}

/// A job with everything recorded in it.
#[derive(Serialize, ToSchema)]
pub struct JobView {
    #[serde(flatten)]
    pub summary: JobSummary,
    pub notes: Vec<String>,
    pub controls: Vec<Control>,
    pub test_points: Vec<PointView>,
    /// What can be set up before something is measured or tried.
    pub set_ups: Vec<SetUpView>,
    pub circuits: Vec<CircuitName>,
    /// Part id -> what the trade calls it.
    pub part_names: BTreeMap<String, String>,
    pub evidence: Vec<EvidenceView>,
    pub verdicts: Vec<VerdictView>,
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
}

#[derive(Deserialize, ToSchema)]
pub struct SetStatus {
    /// The version that was read; refused with 409 if somebody changed the job meanwhile.
    pub version: i32,
    pub status: Status,
}

/// A job's row, circuit and evidence, for whoever answers a question about it.
pub(super) struct Loaded {
    pub job: Job,
    pub compiled: Arc<Compiled>,
    pub evidence: Vec<EvidenceView>,
}

impl Loaded {
    pub async fn get(app: &App, id: Uuid) -> Result<Self, Problem> {
        let job = app.store.job(id).await?;
        let revision = app.store.revision(job.revision_id).await?;
        let compiled = app.circuits.in_shop(&revision, &app.store.closed_verdicts(id).await?)?;
        let evidence = app.store.evidence(id).await?;
        Ok(Self { job, compiled, evidence: evidence.into_iter().map(Into::into).collect() })
    }

    /// What was not voided, in the circuit's terms.
    pub fn log(&self) -> Result<Vec<Evidence>, Problem> {
        let standing = self.evidence.iter().filter(|e| e.voided.is_none());
        standing.map(|e| Ok(e.entry.resolve(&self.compiled.circuit, e.sequence as u64)?)).collect()
    }

    fn summary(&self, verdicts: &[VerdictView]) -> JobSummary {
        let identity = &self.compiled.circuit.document().identity;
        let standing = || self.evidence.iter().filter(|e| e.voided.is_none());
        let reading =
            |e: &&EvidenceView| matches!(e.entry.observation, ObservationEntry::Reading { .. });
        JobSummary {
            id: self.job.id,
            number: self.job.number,
            make: identity.make.clone(),
            model: identity.model.clone(),
            family: identity.family.clone(),
            tag: self.job.tag.clone(),
            owner: self.job.owner.clone(),
            complaint: self.job.complaint.clone(),
            serial: self.job.serial.clone(),
            hours: self.job.hours,
            status: self.job.status.into(),
            version: self.job.version,
            opened_at: self.job.opened_at,
            readings: standing().filter(reading).count(),
            last_at: standing().map(|e| e.recorded_at).max(),
            verdict: verdicts.iter().rev().find(|v| v.voided.is_none()).cloned(),
            found: FoundView::all(&self.compiled.circuit),
        }
    }
}

/// The verdicts of a job, as they are stored.
pub(super) async fn verdict_log(app: &App, id: Uuid) -> Result<Vec<LogEntry<Verdict>>, Problem> {
    Ok(app.store.verdicts(id).await?)
}

async fn verdicts(app: &App, loaded: &Loaded) -> Result<Vec<VerdictView>, Problem> {
    let rows = verdict_log(app, loaded.job.id).await?;
    Ok(rows.into_iter().map(|v| VerdictView::of(&loaded.compiled.circuit, v)).collect())
}

/// Every job, open ones first.
#[utoipa::path(get, operation_id = "list_jobs", path = "/jobs", responses((status = 200, body = Vec<JobSummary>)))]
pub async fn list(State(app): State<App>) -> Result<Json<Vec<JobSummary>>, Problem> {
    let mut summaries = Vec::new();
    for job in app.store.jobs().await? {
        let loaded = Loaded::get(&app, job.id).await?;
        summaries.push(loaded.summary(&verdicts(&app, &loaded).await?));
    }
    Ok(Json(summaries))
}

/// One job.
#[utoipa::path(get, operation_id = "get_job", path = "/jobs/{id}", params(("id" = Uuid, Path)), responses(
    (status = 200, body = JobView),
    (status = 404, body = Problem),
))]
pub async fn get(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<JobView>, Problem> {
    Ok(Json(view(&app, id).await?))
}

pub(super) async fn view(app: &App, id: Uuid) -> Result<JobView, Problem> {
    let loaded = Loaded::get(app, id).await?;
    let verdicts = verdicts(app, &loaded).await?;
    if loaded.evidence.is_empty() {
        loaded.compiled.plan_ahead();
    }
    let circuit = &loaded.compiled.circuit;
    let document = circuit.document();
    Ok(JobView {
        summary: loaded.summary(&verdicts),
        notes: document.identity.notes.clone(),
        controls: document.controls.clone(),
        test_points: (0..document.test_points.len()).map(|i| PointView::of(circuit, i)).collect(),
        set_ups: SetUp::all(circuit).into_iter().map(|s| SetUpView::of(circuit, s)).collect(),
        circuits: CircuitName::all(circuit),
        part_names: document.parts.iter().map(|p| (p.id.clone(), p.name.clone())).collect(),
        verdicts,
        evidence: loaded.evidence,
    })
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
    let complaint = new.complaint.trim();
    if complaint.is_empty() {
        return Err(Problem::field("complaint", "Say what the machine does or does not do."));
    }
    for (field, text, most) in [
        ("complaint", complaint, 2000),
        ("tag", &new.tag, 80),
        ("owner", &new.owner, 120),
        ("serial", &new.serial, 80),
    ] {
        if text.chars().count() > most {
            return Err(Problem::field(field, format!("At most {most} characters, please.")));
        }
    }
    if new.hours.is_some_and(|h| !h.is_finite() || !(0.0..=1e6).contains(&h)) {
        return Err(Problem::field("hours", "Hours on the meter, from 0."));
    }
    app.store
        .open_job(NewJob {
            id: new.id,
            revision_id: new.revision_id,
            tag: new.tag.trim().to_owned(),
            owner: new.owner.trim().to_owned(),
            complaint: complaint.to_owned(),
            serial: new.serial.trim().to_owned(),
            hours: new.hours,
        })
        .await?;
    Ok(Json(view(&app, new.id).await?))
}

/// Closes a job, or opens it again.
#[utoipa::path(put, operation_id = "set_job_status", path = "/jobs/{id}/status", params(("id" = Uuid, Path)), request_body = SetStatus,
    responses((status = 200, body = JobView), (status = 409, body = Problem)))]
pub async fn set_status(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(wanted): Body<SetStatus>,
) -> Result<Json<JobView>, Problem> {
    let status = match wanted.status {
        Status::Open => JobStatus::Open,
        Status::Closed => JobStatus::Closed,
    };
    app.store.set_status(id, wanted.version, status).await?;
    Ok(Json(view(&app, id).await?))
}
