//! What is open of the machine's wiring, and what tells it.

use super::test_card::{TestView, test_view};
use crate::work::compiled::{Compiled, Judged};
use kelvok_core::circuit::Condition;
use kelvok_core::diagnosis::{SetUp, WIRING_KNOWN_AT};
use serde::Serialize;
use utoipa::ToSchema;

/// What the machine's document leaves open of its wiring, as the job's readings have it.
#[derive(Serialize, ToSchema)]
pub struct WiringView {
    pub open: Vec<OpenWiringView>,
    /// The test that tells most a minute of how it is wired; none where nothing at hand does.
    pub test: Option<TestView>,
}

#[derive(Serialize, ToSchema)]
pub struct OpenWiringView {
    /// The alternative, by its id in the document.
    pub id: String,
    /// What is open.
    pub about: String,
    /// What is drawn, and then what else it may be.
    pub ways: Vec<WayView>,
    /// The way, by its place, that the readings have shown it to be.
    pub shown: Option<usize>,
}

#[derive(Serialize, ToSchema)]
pub struct WayView {
    /// The choice, by its id; none of what is drawn.
    pub choice: Option<String>,
    pub says: String,
    pub probability: f64,
}

impl WiringView {
    /// None of a machine whose wiring is known.
    pub fn of(
        compiled: &Compiled,
        judged: &Judged,
        (off, condition): (&[SetUp], &Condition),
    ) -> Option<Self> {
        let circuit = compiled.circuit();
        let alternatives = &circuit.document().alternatives;
        if alternatives.is_empty() {
            return None;
        }
        let Judged { log, belief, .. } = judged;
        let open = alternatives.iter().zip(belief.alternatives(circuit)).map(|(own, shares)| {
            let choices = own.choices.iter().map(|c| (Some(c.id.clone()), c.name.clone()));
            let all = std::iter::once((None, own.drawn.clone())).chain(choices);
            let shown = shares.iter().position(|share| *share >= WIRING_KNOWN_AT);
            OpenWiringView {
                id: own.id.clone(),
                about: own.about.clone(),
                ways: all
                    .zip(shares)
                    .map(|((choice, says), probability)| WayView { choice, says, probability })
                    .collect(),
                shown,
            }
        });
        let test = compiled.model.tells_wirings_apart(belief, log, condition);
        let test = test.as_ref().map(|test| test_view(compiled, test, (log, off)));
        Some(Self { open: open.collect(), test })
    }
}
