//! The next test, as it is shown on its card.

use crate::views::names::{NameView, PointView, SetUpView, UnitView, condition_view};
use crate::work::compiled::Compiled;
use kelvok_core::circuit::{Circuit, Engine, Instrument};
use kelvok_core::diagnosis::{
    AnswerRange, Caution, Evidence, Inspected, LookEntry, NextTest, Sense, SetUp, TestAction, Unit,
    Why, lamp_part, to_put_back,
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct TestView {
    pub condition: BTreeMap<String, String>,
    pub engine: Engine,
    /// With the engine running: where it last ran, if the test is one control away from there.
    pub comes_from: Option<BTreeMap<String, String>>,
    pub set_up: Vec<SetUpView>,
    /// What is still off from before and must be put back first.
    pub put_back: Vec<SetUpView>,
    pub action: ActionView,
    pub minutes: f64,
    pub bits: f64,
    pub why: Why,
    pub answers: Vec<AnswerView>,
    pub cautions: Vec<Caution>,
}

/// What is done in a test.
#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ActionView {
    Measure {
        instrument: Instrument,
        red: Box<PointView>,
        black: Box<PointView>,
    },
    /// The machine is worked, and one thing attended to.
    Try {
        attend: Attend,
        /// The lamp's part id and name, where it is a lamp.
        lamp: Option<NameView>,
    },
    /// Something is looked at and felt.
    Look {
        at: LookEntry,
        name: String,
        place: Option<String>,
    },
}

/// What to attend to.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Attend {
    Starter,
    Engine,
    Blades,
    Lamp,
}

#[derive(Serialize, ToSchema)]
pub struct AnswerView {
    pub range: AnswerRange,
    pub probability: f64,
    /// How many units of some weight it would leave.
    pub left: usize,
    pub leaves: Vec<LeftView>,
}

#[derive(Serialize, ToSchema)]
pub struct LeftView {
    pub unit: UnitView,
    pub probability: f64,
}

/// A test as it is shown.
///
/// # Arguments
/// `log` is what is known, `off` what is still off from the tests before.
pub fn test_view(
    compiled: &Compiled,
    test: &NextTest,
    (log, off): (&[Evidence], &[SetUp]),
) -> TestView {
    let circuit = compiled.circuit();
    let answers = test.answers.iter().map(|a| AnswerView {
        range: a.range,
        probability: a.probability,
        left: a.left,
        leaves: a
            .units
            .iter()
            .map(|(unit, probability)| LeftView {
                unit: UnitView::of(circuit, *unit),
                probability: *probability,
            })
            .collect(),
    });
    TestView {
        condition: condition_view(circuit, &test.condition),
        engine: test.condition.engine,
        comes_from: compiled.model.comes_from(log, test).map(|c| condition_view(circuit, c)),
        set_up: SetUpView::all(circuit, &test.set_up),
        put_back: SetUpView::all(circuit, &to_put_back(off, &test.set_up)),
        action: action_view(circuit, test.action),
        minutes: test.minutes,
        bits: test.bits,
        why: test.why,
        answers: answers.collect(),
        cautions: test.cautions.clone(),
    }
}

fn action_view(circuit: &Circuit, action: TestAction) -> ActionView {
    match action {
        TestAction::Measure { instrument, red, black } => ActionView::Measure {
            instrument,
            red: Box::new(PointView::of(circuit, red)),
            black: Box::new(PointView::of(circuit, black)),
        },
        TestAction::Try(sense) => {
            let (attend, lamp) = match sense {
                Sense::Starter => (Attend::Starter, None),
                Sense::Engine => (Attend::Engine, None),
                Sense::Blades => (Attend::Blades, None),
                Sense::Lamp(lamp) => (Attend::Lamp, lamp_part(circuit, lamp)),
            };
            let lamp = lamp.map(|part| circuit.part(part));
            let lamp = lamp.map(|p| NameView { id: p.id.clone(), name: p.name.clone() });
            ActionView::Try { attend, lamp }
        }
        TestAction::Look(at) => {
            let (name, place) = look_name(circuit, at);
            ActionView::Look { at: LookEntry::of(circuit, at), name, place }
        }
    }
}

/// What is looked at, and where.
fn look_name(circuit: &Circuit, at: Inspected) -> (String, Option<String>) {
    let part = match at {
        Inspected::Plug(part) => Some(part),
        Inspected::Fuse(element) | Inspected::Lug(element) => circuit.element(element).part,
        Inspected::Linkage(plunger) => Some(circuit.plungers[plunger.index()].part),
        Inspected::Wire(_) => None,
    };
    let unit = match (at, part) {
        (Inspected::Wire(wire), _) => Unit::Wire(wire),
        (Inspected::Linkage(plunger), _) => Unit::Linkage(plunger),
        (_, Some(part)) => Unit::Part(part),
        _ => Unit::Nothing,
    };
    let unit = UnitView::of(circuit, unit);
    let name = match unit.detail {
        Some(detail) => format!("{} ({detail})", unit.name),
        None => unit.name,
    };
    let places = &circuit.document().places;
    let place = part.and_then(|p| circuit.part(p).place.as_ref());
    (name, place.and_then(|id| places.iter().find(|p| p.id == *id)).map(|p| p.name.clone()))
}
