//! Errors as RFC 9457 problems: what went wrong, in which field, in a sentence for a person.

use axum::Json;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use kelvok_core::battery::BatteryTestError;
use kelvok_core::circuit::{ConditionError, UnknownName};
use kelvok_core::diagnosis::{EntryError, ReadingError};
use kelvok_core::interlock::LayOutError;
use kelvok_core::machine::Problem as DocumentProblem;
use kelvok_store::StoreError;
use serde::Serialize;
use utoipa::ToSchema;

/// An error response, sent as `application/problem+json`.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Problem {
    pub status: u16,
    /// What kind of problem it is.
    pub title: String,
    /// What happened, for a person.
    pub detail: String,
    /// What is wrong with single fields of the request.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub errors: Vec<FieldProblem>,
}

#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FieldProblem {
    /// The field, or a JSON pointer into a document.
    pub field: String,
    pub sentence: String,
}

impl FieldProblem {
    /// A mistake in a document, or something in it worth a second look.
    pub fn of(problem: &DocumentProblem) -> Self {
        Self { field: problem.path.clone(), sentence: problem.sentence.clone() }
    }
}

impl Problem {
    pub fn new(status: StatusCode, detail: impl Into<String>) -> Self {
        Self {
            status: status.as_u16(),
            title: status.canonical_reason().unwrap_or("Error").to_owned(),
            detail: detail.into(),
            errors: Vec::new(),
        }
    }

    /// A request whose one field is wrong: 422.
    pub fn field(field: &str, sentence: impl Into<String>) -> Self {
        let sentence = sentence.into();
        let mut problem = Self::new(StatusCode::UNPROCESSABLE_ENTITY, sentence.clone());
        problem.errors.push(FieldProblem { field: field.to_owned(), sentence });
        problem
    }

    /// A machine document with mistakes: 422, a sentence each.
    pub fn document(problems: &[DocumentProblem]) -> Self {
        let wrong: Vec<_> = problems.iter().filter(|p| !p.warning).map(FieldProblem::of).collect();
        let mut problem = Self::new(
            StatusCode::UNPROCESSABLE_ENTITY,
            match wrong.len() {
                1 => "The machine document has a mistake.".to_owned(),
                many => format!("The machine document has {many} mistakes."),
            },
        );
        problem.errors = wrong;
        problem
    }

    /// A thing described in a request, with mistakes: 422, a sentence each.
    pub fn fields(detail: &str, problems: &[DocumentProblem]) -> Self {
        let mut problem = Self::new(StatusCode::UNPROCESSABLE_ENTITY, detail);
        problem.errors = problems.iter().map(FieldProblem::of).collect();
        if let [only] = problem.errors.as_slice() {
            problem.detail = only.sentence.clone();
        }
        problem
    }

    /// An error as a sentence of its own.
    pub fn sentence(error: &impl std::error::Error) -> String {
        let said = error.to_string();
        let (first, rest) = said.split_at(said.chars().next().map_or(0, char::len_utf8));
        format!("{}{rest}.", first.to_uppercase()).replace("?.", "?")
    }

    /// Too many heavy questions at once: 503.
    pub fn busy() -> Self {
        Self::new(
            StatusCode::SERVICE_UNAVAILABLE,
            "The server has more to work out than it can just now. It will be tried again.",
        )
    }

    pub fn internal() -> Self {
        Self::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "Something went wrong on our side. What was recorded before is kept.",
        )
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let mut response = (status, Json(self)).into_response();
        let kind = HeaderValue::from_static("application/problem+json");
        response.headers_mut().insert(header::CONTENT_TYPE, kind);
        if status == StatusCode::SERVICE_UNAVAILABLE {
            response.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from_static("1"));
        }
        response
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        let detail = sentence(&error.to_string());
        match error {
            StoreError::Unavailable(source) | StoreError::Busy(source) => {
                tracing::warn!(%source, "database unavailable");
                Self::new(
                    StatusCode::SERVICE_UNAVAILABLE,
                    format!("{detail} Nothing was lost; it will be tried again."),
                )
            }
            StoreError::Rejected { column, source } => {
                tracing::warn!(%source, "refused by the database");
                Self::field(&column, "This is too long, or has letters that cannot be kept.")
            }
            StoreError::NoTime(_) => Self::field("text", detail),
            StoreError::NotFound { .. } => Self::new(StatusCode::NOT_FOUND, detail),
            StoreError::IdTaken(_)
            | StoreError::Stale { .. }
            | StoreError::SwitchStale { .. }
            | StoreError::SwitchClosed
            | StoreError::TraceEnded
            | StoreError::NameTaken(_)
            | StoreError::AlreadyVoided
            | StoreError::Held { .. }
            | StoreError::NotEmpty(_)
            | StoreError::Closed(_) => Self::new(StatusCode::CONFLICT, detail),
            StoreError::NewerRow { what, .. } => {
                let sentence = format!(
                    "This {what} was recorded by a newer Kelvok. Start that one to read it."
                );
                Self::new(StatusCode::CONFLICT, sentence)
            }
            StoreError::Corrupt { what, source } => {
                tracing::error!(%what, %source, "a stored row cannot be read");
                let sentence = format!(
                    "This {what} lies damaged in the database and cannot be read. The rest is kept."
                );
                Self::new(StatusCode::CONFLICT, sentence)
            }
            StoreError::NewerSchema(_)
            | StoreError::Backup(_)
            | StoreError::File(_)
            | StoreError::Database(_) => {
                tracing::error!(%detail, "store");
                Self::internal()
            }
        }
    }
}

/// An error's words as a sentence.
fn sentence(words: &str) -> String {
    let mut letters = words.chars();
    let first = letters.next().map(|c| c.to_ascii_uppercase());
    first.into_iter().chain(letters).chain(['.']).collect()
}

impl From<EntryError> for Problem {
    fn from(error: EntryError) -> Self {
        match error {
            EntryError::Condition(e) => e.into(),
            EntryError::Name(e) => e.into(),
            EntryError::CannotOccur(_) => Self::field("condition", error.to_string()),
            EntryError::SamePoint(_) => Self::field("black", error.to_string()),
            EntryError::NoWireThere(_) => {
                Self::field("black", sentence(&format!("{error}: name both ends of one wire")))
            }
            EntryError::Idle => Self::field("idle", sentence(&error.to_string())),
            EntryError::Celsius => Self::field("celsius", sentence(&error.to_string())),
            EntryError::Amps => Self::field("reading", sentence(&error.to_string())),
            EntryError::Minutes => Self::field("minutes", "Say for how many minutes it ran."),
            EntryError::DidNotRun => {
                Self::field("engine", "Minutes of running are said of a running engine.")
            }
            EntryError::NoBattery => Self::field("event", "This machine has no battery."),
            EntryError::Battery(e) => e.into(),
            EntryError::EmptyNote => Self::field("text", "Say what was noticed."),
            EntryError::EngineStands => Self::field(
                "engine",
                "Spark and a sniff of fuel are tried while the engine turns: set it to cranking.",
            ),
            EntryError::NoFuelSolenoid => Self::field("what", "This machine has no fuel solenoid."),
            EntryError::LetsGo => Self::field(
                "what",
                "What a hand holds lets go again: say it with the test it is held for.",
            ),
            EntryError::JumpsNothing(_) => {
                Self::field("to", "Both ends of the jumper are on the same piece of metal.")
            }
            EntryError::FuseOfNothing => Self::field("fuse", "A fuse of 0 A carries nothing."),
        }
    }
}

impl From<BatteryTestError> for Problem {
    fn from(error: BatteryTestError) -> Self {
        use BatteryTestError as No;
        let field = match error {
            No::NoBattery | No::Label => "cold_amps",
            No::Volts(..) => "volts",
            No::Celsius(_) => "celsius",
            No::Amps => "amps",
            No::Hours => "hours",
            No::Seconds | No::TooLong => "seconds",
            No::Gravity(_) => "cells",
            No::Milliamps => "milliamps",
        };
        Self::field(field, Self::sentence(&error))
    }
}

impl From<ConditionError> for Problem {
    fn from(error: ConditionError) -> Self {
        Self::field("condition", format!("{error}."))
    }
}

impl From<UnknownName> for Problem {
    fn from(error: UnknownName) -> Self {
        Self::field(error.what, format!("{error}."))
    }
}

impl From<ReadingError> for Problem {
    fn from(error: ReadingError) -> Self {
        Self::field("typed", error.to_string())
    }
}

impl From<LayOutError> for Problem {
    fn from(error: LayOutError) -> Self {
        Self::field("circuit", format!("{error}."))
    }
}
