//! What is written down at the bench.

use crate::app::App;
use crate::bench::loaded::Loaded;
use crate::bench::switches::view_of;
use crate::bench::view::BenchView;
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use crate::jobs::evidence::VoidRequest;
use axum::Json;
use axum::extract::State;
use kelvok_core::bench::{BenchEntry, Leads, Way, WorkedBy};
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Something seen at the bench, to be recorded.
#[derive(Deserialize, ToSchema)]
pub struct RecordAtBench {
    /// Made by the client (UUIDv7), so that a retry records it once.
    pub id: Uuid,
    pub by: String,
    pub seen: SeenAtBench,
}

#[derive(Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum SeenAtBench {
    /// What the display shows with the probes touching, and apart.
    Leads {
        touching: String,
        apart: String,
    },
    Probe {
        position: String,
        from: String,
        to: String,
        /// As typed: `buzz`, `silent`, `0.4`, `OL`, or whatever this meter shows over range.
        typed: String,
        /// The position that it has just sprung back from.
        #[serde(default)]
        sprung_from: Option<String>,
        #[serde(default)]
        worked_by: WorkedBy,
    },
    /// A point of a slow stroke, in percent of the travel.
    Stroke {
        from: String,
        to: String,
        way: Way,
        travel: f64,
        made: bool,
    },
    WireMoved {
        wire: String,
        to: Option<String>,
    },
    WireChecked {
        position: String,
        from: String,
        to: String,
        made: bool,
    },
}

/// Records something at the bench, and says what follows.
#[utoipa::path(post, operation_id = "record_at_bench", path = "/bench/{id}/entries",
    params(("id" = Uuid, Path)), request_body = RecordAtBench, responses(
    (status = 200, body = BenchView),
    (status = 409, description = "The switch is closed, or the id was used", body = Problem),
    (status = 422, description = "A name or a reading is wrong", body = Problem),
))]
pub async fn record(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(record): Body<RecordAtBench>,
) -> Result<Json<BenchView>, Problem> {
    let by = input::person(&record.by)?;
    let loaded = Loaded::get(&app, id).await?;
    let entry = checked(&loaded, record.seen)?;
    app.store.append_bench_entry(id, record.id, &by, &entry).await?;
    view_of(&app, id).await
}

fn checked(loaded: &Loaded, seen: SeenAtBench) -> Result<BenchEntry, Problem> {
    let subject = &loaded.bench.subject;
    let terminal = |field: &str, name: &str| match subject.terminals.iter().any(|t| t == name) {
        true => Ok(()),
        false => Err(Problem::field(field, format!("This switch has no terminal \"{name}\"."))),
    };
    let pair = |from: &str, to: &str| {
        terminal("from", from)?;
        terminal("to", to)?;
        match from == to {
            true => Err(Problem::field("to", "From a terminal to itself tells nothing.")),
            false => Ok(()),
        }
    };
    let position = |name: &str| match subject.positions.iter().any(|p| p.id == name) {
        true => Ok(()),
        false => {
            Err(Problem::field("position", format!("This switch has no position \"{name}\".")))
        }
    };
    let wire = |field: &str, name: &str| {
        let known = loaded.switch.head.replaces.as_ref();
        match known.is_some_and(|p| p.terminals.iter().any(|t| t.id == name)) {
            true => Ok(()),
            false => Err(Problem::field(field, format!("The machine has no wire \"{name}\"."))),
        }
    };
    Ok(match seen {
        SeenAtBench::Leads { touching, apart } => {
            Leads::of(&touching, &apart)?;
            let touching = input::line("touching", &touching, 40)?;
            let apart = input::line("apart", &apart, 40)?;
            BenchEntry::Leads { touching, apart }
        }
        SeenAtBench::Probe { position: at, from, to, typed, sprung_from, worked_by } => {
            position(&at)?;
            sprung_from.as_deref().map_or(Ok(()), position)?;
            pair(&from, &to)?;
            BenchEntry::Probe {
                reading: Leads::read(loaded.bench.leads.as_ref(), &typed)?,
                typed: input::line("typed", &typed, 40)?,
                position: at,
                from,
                to,
                sprung_from,
                worked_by,
            }
        }
        SeenAtBench::Stroke { from, to, way, travel, made } => {
            pair(&from, &to)?;
            if !(0.0..=100.0).contains(&travel) {
                return Err(Problem::field("travel", "Travel is 0 to 100 percent."));
            }
            BenchEntry::Stroke { from, to, way, travel, made }
        }
        SeenAtBench::WireMoved { wire: moved, to } => {
            wire("wire", &moved)?;
            to.as_deref().map_or(Ok(()), |to| terminal("to", to))?;
            BenchEntry::WireMoved { wire: moved, to }
        }
        SeenAtBench::WireChecked { position: at, from, to, made } => {
            position(&at)?;
            wire("from", &from)?;
            wire("to", &to)?;
            BenchEntry::WireChecked { position: at, from, to, made }
        }
    })
}

/// Takes an entry back; it stays in the log, struck through.
#[utoipa::path(post, operation_id = "void_at_bench", path = "/bench/{id}/entries/{entry}/void",
    params(("id" = Uuid, Path), ("entry" = Uuid, Path)), request_body = VoidRequest,
    responses((status = 200, body = BenchView), (status = 409, body = Problem)))]
pub async fn void(
    State(app): State<App>,
    Path((id, entry)): Path<(Uuid, Uuid)>,
    Body(void): Body<VoidRequest>,
) -> Result<Json<BenchView>, Problem> {
    app.store.void_bench_entry(id, entry, &void.checked()?).await?;
    view_of(&app, id).await
}
