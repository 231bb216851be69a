//! A job as it is now, all of it in one answer: what is recorded, its circuit, what follows.

use crate::app::App;
use crate::http::bodies::{Asked, Path, Query};
use crate::http::problem::Problem;
use crate::jobs::diagnosis::{DiagnosisView, diagnosis_view};
use crate::jobs::job::{JobView, view_of};
use crate::jobs::loaded::Loaded;
use crate::jobs::trace::circuit_view;
use crate::views::drawing::CircuitView;
use crate::views::names::condition_view;
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply};
use axum::Json;
use axum::extract::State;
use axum::response::{IntoResponse, Response};
use kelvok_core::circuit::{Condition, Engine};
use kelvok_core::diagnosis::{Evidence, SetUp, Strategy};
use kelvok_core::fuses::Fitted;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
use std::time::Duration;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A job with everything recorded in it, and what follows from that.
#[derive(Serialize, ToSchema)]
pub struct JobState {
    pub job: JobView,
    #[schema(value_type = Follows)]
    pub follows: Arc<Follows>,
}

/// What follows from a job's log, and its circuit in a condition.
#[derive(Serialize, ToSchema)]
pub struct Follows {
    /// The condition it is drawn in: as asked for, else that of the last entry that is no word of what still
    /// works, else at rest.
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    pub drawn: CircuitView,
    pub diagnosis: DiagnosisView,
}

/// What of a job is shown.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Shown {
    /// A circuit by its id; the start circuit if not given, or the first.
    circuit: Option<String>,
    /// By which strategy to go on; best split if not given.
    #[param(required = false)]
    #[serde(default)]
    strategy: Strategy,
}

/// What whoever records something wants in answer.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Wanted {
    /// Whether to answer with the job's state, if that can be had soon.
    #[param(required = false)]
    #[serde(default)]
    state: bool,
    /// As of the job's state.
    circuit: Option<String>,
    /// As of the job's state.
    #[param(required = false)]
    #[serde(default)]
    strategy: Strategy,
}

/// Whoever records something waits no longer than this for what follows, and asks for it then.
const SOON: Duration = Duration::from_millis(2500);

/// The job, its circuit and what follows from its log, in one answer.
#[utoipa::path(get, operation_id = "job_state", path = "/jobs/{id}/state", params(
    ("id" = Uuid, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control; if nothing is \
                                                set, as in the last entry"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
    Shown,
), responses(
    (status = 200, body = JobState),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem),
    (status = 422, description = "Unknown circuit, control or position, by name", body = Problem),
))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    asked: Asked,
    Query(shown): Query<Shown>,
) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let question = Question::new(&loaded, &asked, shown)?;
    let reply = app.ask(question.key(&loaded), loaded.size(), question.work()).await?;
    match reply {
        Reply::Done(follows) => {
            let job = view_of(&app, &loaded).await?;
            Ok(Json(JobState { job, follows }).into_response())
        }
        working @ Reply::Working(_) => Ok(working.into_response()),
    }
}

/// A job's state, if it is wanted and can be had soon: something was just recorded, and whatever is wrong with what
/// follows from it does not make that undone.
pub(crate) async fn state_soon(
    app: &App,
    id: Uuid,
    asked: Asked,
    wanted: Wanted,
) -> Option<JobState> {
    if !wanted.state {
        return None;
    }
    let shown = Shown { circuit: wanted.circuit, strategy: wanted.strategy };
    let state = async {
        let loaded = Loaded::get(app, id).await?;
        let question = Question::new(&loaded, &asked, shown)?;
        let (key, size) = (question.key(&loaded), loaded.size());
        match app.ask_within(SOON, key, size, question.work()).await? {
            Reply::Done(follows) => {
                Ok(Some(JobState { job: view_of(app, &loaded).await?, follows }))
            }
            Reply::Working(_) => Ok(None),
        }
    };
    let state: Result<_, Problem> = state.await;
    // Whoever asks for the state is told what stands in its way.
    state.ok().flatten()
}

struct Question {
    compiled: Arc<Compiled>,
    log: Vec<Evidence>,
    off: Vec<SetUp>,
    fitted: Vec<Fitted>,
    circuit: String,
    condition: Condition,
    strategy: Strategy,
}

impl Question {
    fn new(loaded: &Loaded, asked: &Asked, shown: Shown) -> Result<Self, Problem> {
        let compiled = loaded.compiled.clone();
        let log = loaded.log();
        let circuit = compiled.circuit();
        let mut back = log.iter().rev();
        let last = || back.find(|e| !compiled.model.still_works(e)).map(|e| e.condition.clone());
        let condition = asked.given(circuit)?.or_else(last);
        let condition = condition.unwrap_or_else(|| Condition::at_rest(circuit));
        let about = compiled.model.circuit_about(&log).map(str::to_owned);
        let named = &circuit.document().circuits;
        let start = named.iter().find(|c| c.id == "start").or(named.first());
        let shown_circuit = shown.circuit.or(about).or_else(|| start.map(|c| c.id.clone()));
        let shown_circuit = shown_circuit.unwrap_or_default();
        Ok(Self {
            circuit: shown_circuit,
            condition,
            strategy: shown.strategy,
            compiled,
            log,
            off: loaded.still_off(),
            fitted: loaded.fitted.clone(),
        })
    }

    fn key(&self, loaded: &Loaded) -> String {
        loaded.question(("state", &self.circuit, &self.condition, self.strategy))
    }

    fn work(self) -> impl FnOnce() -> Result<Follows, Problem> + Send + 'static {
        move || {
            let Self { compiled, log, off, fitted, circuit, condition, strategy } = self;
            let judged = compiled.judged(&log);
            Ok(Follows {
                condition: condition_view(compiled.circuit(), &condition),
                engine: condition.engine,
                drawn: circuit_view(&compiled, &circuit, &condition, &judged)?,
                diagnosis: diagnosis_view(
                    &compiled,
                    &condition,
                    (&judged, &off, &fitted),
                    strategy,
                ),
            })
        }
    }
}
