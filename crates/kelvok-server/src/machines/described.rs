//! A machine that nobody described: questions and answers, and what comes of them.

use crate::app::App;
use crate::http::bodies::Body;
use crate::http::input;
use crate::http::problem::Problem;
use crate::work::desk::aside;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Circuit;
use kelvok_core::describe::{Answers, DescribeError, Question, Settled, describe};
use kelvok_core::interlock::{InterlockTable, Judge, sentences};
use kelvok_core::machine::Machine;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Deserialize, ToSchema)]
pub struct Looked {
    /// Answers by question; null where nobody could see it, and what is usual is taken.
    #[serde(default)]
    pub answers: BTreeMap<String, Option<String>>,
    /// What it is to be called. Asked for with the document only.
    #[serde(default)]
    pub make: Option<String>,
    #[serde(default)]
    pub model: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct DescribedView {
    /// Every question that such a machine is asked, in order.
    pub questions: Vec<QuestionView>,
    /// The first that was neither answered nor passed over.
    pub next: Option<String>,
    /// How it decides, a sentence each.
    pub decides: Vec<String>,
    /// What its kind usually guards against, and this one, as described, does not.
    pub missing: Vec<String>,
    /// What looking does not tell of its wiring, the likeliest way first.
    pub open: Vec<LeftOpenView>,
    /// The machine, as a document to keep.
    #[schema(value_type = Object)]
    pub document: Value,
}

/// What is left open of a machine.
#[derive(Serialize, ToSchema)]
pub struct LeftOpenView {
    pub about: String,
    /// How it usually is, and then how else it may be.
    pub ways: Vec<String>,
}

#[derive(Serialize, ToSchema)]
pub struct QuestionView {
    pub id: String,
    pub asks: String,
    pub choices: Vec<OfferedAnswer>,
    /// The answer that counts.
    pub answer: String,
    /// Somebody looked; otherwise the answer is what is usual.
    pub seen: bool,
}

#[derive(Serialize, ToSchema)]
pub struct OfferedAnswer {
    pub id: String,
    pub says: String,
}

impl QuestionView {
    fn of(question: &'static Question, answers: &Answers, settled: &Settled) -> Self {
        let choice = |c: &kelvok_core::describe::Choice| OfferedAnswer {
            id: c.id.clone(),
            says: c.says.clone(),
        };
        let answer = settled.get(&question.id);
        let given = answers.0.get(&question.id).and_then(Option::as_deref);
        Self {
            id: question.id.clone(),
            asks: question.asks.clone(),
            choices: settled.offered(question).into_iter().map(choice).collect(),
            answer: answer.to_owned(),
            seen: given == Some(answer),
        }
    }
}

/// What a machine of these answers usually is, and what to ask next. Nothing is kept.
#[utoipa::path(post, operation_id = "describe_machine", path = "/machines/describe",
    request_body = Looked, responses((status = 200, body = DescribedView),
    (status = 422, description = "A question or an answer that is none, by name", body = Problem)))]
pub async fn describe_machine(
    State(_): State<App>,
    Body(looked): Body<Looked>,
) -> Result<Json<DescribedView>, Problem> {
    let called = |field: &'static str, given: Option<String>, other: &str| match given {
        Some(given) => input::said(field, &given, 60, "Give it a name."),
        None => Ok(other.to_owned()),
    };
    let make = called("make", looked.make, "Unknown make")?;
    let model = called("model", looked.model, "Described machine")?;
    let answers = Answers(looked.answers);
    aside(move || view(&answers, &make, &model)).await?.map(Json)
}

fn view(answers: &Answers, make: &str, model: &str) -> Result<DescribedView, Problem> {
    let wrong = |error: DescribeError| match error {
        DescribeError::Document(problems) => Problem::document(&problems),
        DescribeError::Answer(error) => Problem::field("answers", error.to_string()),
    };
    let settled = answers.settle().map_err(|e| wrong(e.into()))?;
    let described = describe(answers, make, model).map_err(wrong)?;
    let document = serde_json::to_value(&described.document).map_err(|_| Problem::internal())?;
    let machine = Machine::read(&document.to_string()).map_err(|p| Problem::document(&p))?;
    let circuit = Circuit::compile(&machine);
    let table = InterlockTable::of(&mut Judge::new(&circuit, &[])).ok();
    let decides = table.map_or_else(Vec::new, |table| sentences(&circuit, &table));
    Ok(DescribedView {
        questions: answers
            .asked()
            .into_iter()
            .map(|q| QuestionView::of(q, answers, &settled))
            .collect(),
        next: answers.next().map(|q| q.id.clone()),
        decides: decides.into_iter().map(|s| s.says).collect(),
        open: described
            .document
            .alternatives
            .iter()
            .map(|a| LeftOpenView {
                about: a.about.clone(),
                ways: std::iter::once(&a.drawn)
                    .chain(a.choices.iter().map(|c| &c.name))
                    .cloned()
                    .collect(),
            })
            .collect(),
        missing: described.missing.into_iter().map(|d| d.name).collect(),
        document,
    })
}
