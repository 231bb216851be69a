//! A measurement that the mechanic thought of: what it would tell, and what speaks against it.

use crate::app::App;
use crate::http::bodies::{Body, Path};
use crate::http::problem::Problem;
use crate::jobs::diagnosis::test_card::{TestView, test_view};
use crate::jobs::loaded::Loaded;
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Engine, Instrument};
use kelvok_core::diagnosis::{
    AnswerRange, Danger, Evidence, Measurement, SetUp, SetUpEntry, resolve_situation,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

#[derive(Deserialize, ToSchema)]
pub struct OwnTest {
    /// Control id -> position id; a control not named stands at rest.
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    #[serde(default)]
    pub set_up: Vec<SetUpEntry>,
    pub instrument: Instrument,
    /// Terminals of test points.
    pub red: String,
    pub black: String,
}

#[derive(Serialize, ToSchema)]
pub struct OwnTestView {
    pub test: TestView,
    /// What a sound machine shows there; none where the instrument must not be put there.
    pub sound: Option<AnswerRange>,
    /// Why the plan would never ask for it. It counts all the same.
    pub dangers: Vec<Danger>,
}

/// Weighs a measurement that the plan did not ask for.
#[utoipa::path(post, operation_id = "weigh_own_test", path = "/jobs/{id}/own-test",
    params(("id" = Uuid, Path)), request_body = OwnTest, responses(
    (status = 200, body = OwnTestView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem),
    (status = 422, description = "What the machine does not have, or what covers the point, by name",
     body = Problem),
))]
pub async fn weigh_own_test(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(own): Body<OwnTest>,
) -> Result<Reply<OwnTestView>, Problem> {
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let own = measurement(compiled.circuit(), &own)?;
    let question = loaded.question(("own test", &own));
    let off = loaded.still_off();
    app.ask(question, loaded.size(), move || view(&compiled, (&log, &off), own)).await
}

fn measurement(circuit: &Circuit, own: &OwnTest) -> Result<Measurement, Problem> {
    let (condition, set_up) = resolve_situation(circuit, &own.condition, own.engine, &own.set_up)?;
    let point = |field: &str, terminal: &str| {
        let points = &circuit.document().test_points;
        let at = points.iter().position(|p| p.terminal == terminal);
        let at = at.ok_or_else(|| {
            Problem::field(field, format!("This machine has no test point \"{terminal}\"."))
        })?;
        let cover = points[at].unplugged.as_deref().and_then(|id| circuit.part_named(id));
        match cover {
            Some(plug) if !set_up.contains(&SetUp::Unplugged(plug)) => {
                let plug = &circuit.part(plug).name;
                Err(Problem::field(field, format!("It is reached with the {plug} off.")))
            }
            _ => Ok(at),
        }
    };
    let (red, black) = (point("red", &own.red)?, point("black", &own.black)?);
    if circuit.terminal(&own.red) == circuit.terminal(&own.black) {
        return Err(Problem::field("black", "Red and black are on the same piece of metal."));
    }
    Ok(Measurement { condition, set_up, instrument: own.instrument, red, black })
}

fn view(
    compiled: &Compiled,
    (log, off): (&[Evidence], &[SetUp]),
    own: Measurement,
) -> Result<OwnTestView, Problem> {
    let judged = compiled.judged(log);
    let complained = compiled.model.complained_of(log, &own.condition);
    let weighed = compiled.model.weigh(&judged.belief, log, &complained, own);
    let weighed = weighed.ok_or_else(Problem::internal)?;
    Ok(OwnTestView {
        test: test_view(compiled, &weighed.test, (log, off)),
        sound: weighed.sound,
        dangers: weighed.dangers,
    })
}
