//! How a machine decides: sentences, duties with their proof, the interlock table.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::names::condition_view;
use crate::work::desk::{Progress, Reply, Size};
use axum::extract::State;
use axum::http::StatusCode;
use kelvok_core::interlock::{
    Behavior, InterlockTable, Judge, Sentence, TooManyCombinations, prove_duties, sentences,
};
use kelvok_core::machine::Shall;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct LogicView {
    /// The machine as it stands here.
    pub found: Decides,
    /// As its maker built it, where that is not the same.
    pub built: Option<Decides>,
}

#[derive(Serialize, ToSchema)]
pub struct Decides {
    pub sentences: Vec<Sentence>,
    pub duties: Vec<DutyView>,
    pub table: Vec<TableRow>,
}

#[derive(Serialize, ToSchema)]
pub struct DutyView {
    pub name: String,
    pub shall: Shall,
    /// At the latest after this many seconds.
    pub within: Option<f64>,
    pub source: Option<String>,
    /// In how many conditions it comes up; none means that it never does.
    pub checked: usize,
    /// In how many of them it is not done.
    pub broken: usize,
    /// The first of those.
    pub broken_in: Option<BTreeMap<String, String>>,
}

#[derive(Serialize, ToSchema)]
pub struct TableRow {
    /// Position by control, as indices in the machine's order.
    pub at: Vec<u8>,
    pub does: Behavior,
}

/// How the machine decides.
#[utoipa::path(get, operation_id = "machine_logic", path = "/machines/{name}/logic", params(("name" = String, Path)),
    responses((status = 200, body = LogicView),
    (status = 202, description = "It is being worked out; ask again", body = Progress), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn logic(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Reply<LogicView>, Problem> {
    let known = Known::get(&app, &name).await?;
    app.ask(known.question("logic"), Size::Ordinary, move || view(&known)).await
}

fn view(known: &Known) -> Result<LogicView, Problem> {
    let circuit = known.circuit();
    let found = decides(&mut Judge::new(circuit, &[]))?;
    let built = (!circuit.as_found.is_empty())
        .then(|| decides(&mut Judge::as_built(circuit, &[])))
        .transpose()?;
    Ok(LogicView { found, built })
}

fn decides(judge: &mut Judge<'_>) -> Result<Decides, Problem> {
    let circuit = judge.circuit();
    let table = InterlockTable::of(judge)?;
    let duties = prove_duties(judge).into_iter().map(|proof| {
        let duty = &circuit.document().duties[proof.duty];
        DutyView {
            name: duty.name.clone(),
            shall: duty.shall,
            within: duty.within,
            source: duty.source.clone(),
            checked: proof.checked,
            broken: proof.broken.len(),
            broken_in: proof.broken.first().map(|c| condition_view(circuit, c)),
        }
    });
    let rows = table.conditions(circuit).into_iter();
    Ok(Decides {
        sentences: sentences(circuit, &table),
        duties: duties.collect(),
        table: rows.map(|(c, does)| TableRow { at: c.positions, does }).collect(),
    })
}

impl From<TooManyCombinations> for Problem {
    fn from(error: TooManyCombinations) -> Self {
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, format!("{error}."))
    }
}
