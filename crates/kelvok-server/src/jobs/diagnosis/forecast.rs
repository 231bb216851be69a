//! How long each strategy would take from here, and whether to replace now.

use crate::app::App;
use crate::http::bodies::{Asked, Path, Query};
use crate::http::problem::Problem;
use crate::jobs::loaded::Loaded;
use crate::views::names::UnitView;
use crate::work::compiled::Compiled;
use crate::work::desk::{Progress, Reply};
use axum::extract::State;
use kelvok_core::circuit::Condition;
use kelvok_core::diagnosis::{Belief, Choice, Evidence, Strategy, Unit};
use kelvok_core::machine::REPLACE_MINUTES;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

#[derive(Serialize, ToSchema)]
pub struct ForecastView {
    /// By expected minutes, the quickest first.
    pub strategies: Vec<StrategyView>,
    /// Replacing the likeliest unit now, against testing first; none where nothing is suspected
    /// that is bought.
    pub choice: Option<ChoiceView>,
}

/// What a strategy would take from here to a verdict, on average over what is believed.
#[derive(Serialize, ToSchema)]
pub struct StrategyView {
    pub strategy: Strategy,
    pub minutes: f64,
    pub tests: f64,
}

/// Money in whatever the prices are in; minutes in minutes.
#[derive(Serialize, ToSchema)]
pub struct ChoiceView {
    pub unit: UnitView,
    pub chance: f64,
    pub price: f64,
    pub fit_minutes: f64,
    pub test_minutes: f64,
    /// What an hour of the shop costs.
    pub rate: f64,
    /// Part and time.
    pub fitting: f64,
    /// Time to a verdict.
    pub testing: f64,
    /// What is lost on average by replacing now: the fitting where it was not this, and then the
    /// testing after all.
    pub replace_now: f64,
    /// What is lost by testing first.
    pub test_first: f64,
    pub favors_replacing: bool,
}

/// An hour of the shop, where it is not said.
const USUAL_RATE: f64 = 70.0;
/// A part whose price is not known.
const USUAL_PRICE: f64 = 30.0;

#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Costs {
    /// Price of the part.
    price: Option<f64>,
    /// Minutes to fit it.
    fit: Option<f64>,
    /// What an hour of the shop costs.
    rate: Option<f64>,
}

impl Costs {
    fn checked(self) -> Result<Self, Problem> {
        for (field, figure) in [("price", self.price), ("fit", self.fit), ("rate", self.rate)] {
            if figure.is_some_and(|f| !f.is_finite() || !(0.0..=1e6).contains(&f)) {
                return Err(Problem::field(field, "A figure from 0 to a million."));
            }
        }
        Ok(self)
    }
}

/// What each strategy would take from here to a verdict.
#[utoipa::path(get, operation_id = "forecast", path = "/jobs/{id}/forecast", params(
    ("id" = Uuid, Path),
    ("set" = Vec<String>, Query,
     description = "`control:position`: the condition to plan for until something was heard"),
    Costs,
), responses((status = 200, body = ForecastView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 422, body = Problem)))]
pub async fn get(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    asked: Asked,
    Query(costs): Query<Costs>,
) -> Result<Reply<ForecastView>, Problem> {
    let costs = costs.checked()?;
    let loaded = Loaded::get(&app, id).await?;
    let log = loaded.log();
    let compiled = loaded.compiled.clone();
    let asked = asked.condition(compiled.circuit())?;
    let question = loaded.question(("forecast", &asked, &costs));
    let view = move || Ok(view(&compiled, &log, asked, &costs));
    app.ask(question, loaded.size(), view).await
}

fn view(compiled: &Compiled, log: &[Evidence], asked: Condition, costs: &Costs) -> ForecastView {
    let condition = compiled.model.complained_of(log, &asked);
    let belief = &compiled.judged(log).belief;
    let all = compiled.model.forecasts(belief, log, &condition);
    let best = all.iter().find(|f| f.strategy == Strategy::BestSplit).copied();
    ForecastView {
        choice: best.and_then(|best| choice(compiled, belief, best.minutes, costs)),
        strategies: all
            .into_iter()
            .map(|f| StrategyView { strategy: f.strategy, minutes: f.minutes, tests: f.tests })
            .collect(),
    }
}

fn choice(compiled: &Compiled, belief: &Belief, test: f64, costs: &Costs) -> Option<ChoiceView> {
    let units = belief.units(compiled.suspects());
    let top = units.iter().find(|u| matches!(u.unit, Unit::Part(_)))?;
    let unit = UnitView::of(compiled.circuit(), top.unit);
    let price = costs.price.or(unit.price).unwrap_or(USUAL_PRICE);
    let fit = costs.fit.or(unit.replace_minutes).unwrap_or(REPLACE_MINUTES);
    let rate = costs.rate.unwrap_or(USUAL_RATE);
    let chance = top.probability.min(1.0);
    let choice = Choice::of(chance, price, fit, test, rate);
    Some(ChoiceView {
        unit,
        chance,
        price,
        rate,
        fit_minutes: fit,
        test_minutes: test,
        fitting: choice.fitting,
        testing: choice.testing,
        replace_now: choice.replace_now,
        test_first: choice.test_first,
        favors_replacing: choice.favors_replacing(),
    })
}
