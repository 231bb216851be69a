//! What was found, as comma-separated values, in and out; and as a profile.

use crate::app::App;
use crate::bench::loaded::Loaded;
use crate::bench::switches::view_of;
use crate::bench::view::BenchView;
use crate::http::attachment::{CSV, attachment};
use crate::http::bodies::{Body, Path};
use crate::http::input;
use crate::http::problem::Problem;
use axum::Json;
use axum::extract::State;
use axum::response::Response;
use kelvok_core::bench::{
    BenchEntry, Function, ProfileDocument, SWITCH_FORMAT, Terminal, by_logic,
};
use kelvok_core::bench::{Position, Profile, TableRow};
use kelvok_store::{BenchHead, StoreError};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Deserialize, ToSchema)]
pub struct BringTable {
    /// Made by the client (UUIDv7), so that a retry brings it in once.
    pub id: Uuid,
    pub by: String,
    /// `position,from,to,reading`, and perhaps `after,by`.
    pub text: String,
}

#[derive(Serialize, ToSchema)]
pub struct BroughtTable {
    /// Lines that were taken.
    pub taken: usize,
    /// Lines that were left out, and why.
    pub left_out: Vec<String>,
    /// What was added to the switch so that nothing is lost: terminals and positions that it was
    /// not known to have.
    pub added: Vec<String>,
    pub view: BenchView,
}

/// Brings a table in. Terminals and positions that the switch was not known to have are added to it
/// and named; lines that cannot be read are named and left out.
#[utoipa::path(post, operation_id = "bring_table", path = "/bench/{id}/table",
    params(("id" = Uuid, Path)), request_body = BringTable, responses(
    (status = 200, body = BroughtTable), (status = 409, body = Problem),
    (status = 422, body = Problem)))]
pub async fn bring_in(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(bring): Body<BringTable>,
) -> Result<Json<BroughtTable>, Problem> {
    let by = input::person(&bring.by)?;
    let (rows, errors) = TableRow::read_csv(&bring.text);
    if rows.is_empty() {
        let why = errors.first().map(|e| format!(" {e}.")).unwrap_or_default();
        return Err(Problem::field("text", format!("No line of this can be read.{why}")));
    }
    // Whoever sends it twice at once, or changes the switch meanwhile, takes nothing from it.
    let mut tries = 0;
    let found = loop {
        let switch = app.store.bench_switch(id).await?;
        let found = Found::new(&switch.head, &rows, bring.id);
        if found.added.is_empty() {
            break found;
        }
        match app.store.change_switch(id, switch.version, &switch.name, &found.head).await {
            Err(StoreError::SwitchStale { .. }) if tries < TRIES => tries += 1,
            other => {
                other?;
                break found;
            }
        }
    };
    app.store.append_bench_entries(id, &by, &found.entries).await?;
    let Json(view) = view_of(&app, id).await?;
    let Found { added, entries, left_out, .. } = found;
    let left_out = errors.iter().map(ToString::to_string).chain(left_out).collect();
    Ok(Json(BroughtTable { taken: entries.len(), left_out, added, view }))
}

/// So often is a table put to a switch that others change meanwhile.
const TRIES: u32 = 5;

/// What the lines of a table come to for a switch.
struct Found {
    /// Wide enough for what stands in the lines.
    head: BenchHead,
    added: Vec<String>,
    entries: Vec<(Uuid, BenchEntry)>,
    left_out: Vec<String>,
}

impl Found {
    /// The same table sent again has the same ids.
    fn new(head: &BenchHead, rows: &[TableRow], table: Uuid) -> Self {
        let mut found = Self {
            head: head.clone(),
            added: Vec::new(),
            entries: Vec::new(),
            left_out: Vec::new(),
        };
        for (place, row) in rows.iter().enumerate() {
            let mut wider = found.head.subject.clone();
            let mut new = Vec::new();
            for terminal in [&row.from, &row.to] {
                if !wider.terminals.contains(terminal) {
                    wider.terminals.push(terminal.clone());
                    new.push(format!("terminal {terminal}"));
                }
            }
            for position in std::iter::once(&row.position).chain(&row.sprung_from) {
                if !wider.positions.iter().any(|p| p.id == *position) {
                    let (id, name) = (position.clone(), position.clone());
                    wider.positions.push(Position { id, name, returns_to: None });
                    new.push(format!("position {position}"));
                }
            }
            if !new.is_empty() {
                if let Some(problem) = wider.problems().first() {
                    found.left_out.push(format!("line {}: {}", row.line, problem.sentence));
                    continue;
                }
                found.head.subject = wider;
                found.added.extend(new);
            }
            let id = Uuid::from_u128(table.as_u128().wrapping_add(place as u128));
            let row = row.clone();
            let entry = BenchEntry::Probe {
                position: row.position,
                from: row.from,
                to: row.to,
                reading: row.reading,
                typed: row.typed,
                sprung_from: row.sprung_from,
                worked_by: row.worked_by,
            };
            found.entries.push((id, entry));
        }
        found
    }
}

/// What was read of a switch, a line each time.
#[utoipa::path(get, operation_id = "bench_table", path = "/bench/{id}/table.csv",
    params(("id" = Uuid, Path)), responses((status = 200, content_type = "text/csv", body = String),
    (status = 404, body = Problem)))]
pub async fn csv(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let name: String = loaded.switch.name.replace(|c: char| !c.is_ascii_alphanumeric(), "-");
    Ok(attachment(&format!("{name}.csv"), CSV, TableRow::to_csv(loaded.standing())))
}

/// What was found, as a profile: functions as far as a known one fits or the logic of the positions
/// tells them; a draft, to be looked over and kept.
#[utoipa::path(get, operation_id = "found_profile", path = "/bench/{id}/profile",
    params(("id" = Uuid, Path)), responses((status = 200, body = ProfileDocument),
    (status = 422, description = "The table is not complete", body = Problem)))]
pub async fn found_profile(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Json<ProfileDocument>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let bench = &loaded.bench;
    if !bench.is_complete() {
        let sentence = "Not every pair is known yet: finish the table first.";
        return Err(Problem::field("table", sentence));
    }
    let subject = &bench.subject;
    let fits = bench.identities(&loaded.kinds).into_iter().next();
    let known = fits.and_then(|identity| {
        let profile: &Profile = &loaded.kinds[identity.profile];
        let first = identity.fits.first.first()?;
        Some(first.iter().map(|t| profile.terminals()[usize::from(*t)].clone()).collect::<Vec<_>>())
    });
    let logic = by_logic(&bench.found);
    let across = 10.0 / (subject.terminals.len() as f64 + 1.0);
    let terminals = subject.terminals.iter().enumerate().map(|(i, id)| Terminal {
        id: id.clone(),
        function: match &known {
            Some(known) => known[i].function,
            None => logic[i].first().copied().unwrap_or(Function::Contact),
        },
        at: match &known {
            Some(known) => known[i].at,
            None => [across * (i as f64 + 1.0), 5.0],
        },
    });
    let made: BTreeMap<String, Vec<Vec<String>>> = subject
        .positions
        .iter()
        .enumerate()
        .map(|(p, position)| {
            let classes = bench.found.joined(p).0.classes().into_iter().filter(|c| c.len() > 1);
            let named = |class: Vec<usize>| {
                class.into_iter().map(|t| subject.terminals[t].clone()).collect::<Vec<_>>()
            };
            (position.id.clone(), classes.map(named).collect::<Vec<_>>())
        })
        .filter(|(_, groups)| !groups.is_empty())
        .collect();
    let taken: BTreeSet<&str> = loaded.kinds.iter().map(|p| p.document().id.as_str()).collect();
    let plain: String = loaded.switch.name.to_lowercase();
    let plain = plain.replace(|c: char| !c.is_ascii_alphanumeric(), "-");
    let mut id: String = plain.split('-').filter(|w| !w.is_empty()).collect::<Vec<_>>().join("-");
    while taken.contains(id.as_str()) || id.is_empty() {
        id += "-own";
    }
    Ok(Json(ProfileDocument {
        format: SWITCH_FORMAT.to_owned(),
        id,
        name: loaded.switch.name.clone(),
        kind: subject.kind,
        actuator: subject.profile.as_ref().and_then(|p| p.actuator),
        ignition: subject.profile.as_ref().and_then(|p| p.ignition),
        terminals: terminals.collect(),
        positions: subject.positions.clone(),
        made,
        amps: None,
        notes: String::new(),
    }))
}
