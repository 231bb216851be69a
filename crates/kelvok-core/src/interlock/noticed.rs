//! What an operator notices in a condition, without an instrument.

use crate::circuit::{Circuit, ClutchState, Condition, Crank, Engine, LampState, Outcome, Spark};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What the engine does: fires up while it is cranked, goes on while it runs.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum EngineDoes {
    Stops,
    /// On fewer cylinders than it has, or with a weak spark.
    RunsRough,
    Runs,
}

/// What there is to hear and see.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Noticed {
    pub crank: Crank,
    pub engine: EngineDoes,
    /// The clutch has snapped in; with the engine running, the blades turn.
    pub blades: bool,
    /// Lamps and glow plugs, in document order.
    pub lamps: Vec<LampState>,
}

impl Circuit {
    /// Whether the engine turns: by its starter, its rope or itself.
    pub(crate) fn turns(&self, condition: &Condition, outcome: &Outcome) -> bool {
        match condition.engine {
            Engine::Stopped => false,
            Engine::Cranking => self.document().drive.recoil || outcome.crank == Crank::Yes,
            Engine::Running | Engine::RunningHot => true,
        }
    }

    /// What is noticed of an outcome in a condition, by its engine state.
    pub fn noticed(&self, condition: &Condition, outcome: &Outcome) -> Noticed {
        let engine = match self.turns(condition, outcome) && self.runs(condition, outcome) {
            true if outcome.spark.iter().any(|s| *s != Spark::On) => EngineDoes::RunsRough,
            true => EngineDoes::Runs,
            false => EngineDoes::Stops,
        };
        let blades = match condition.engine {
            // What a lever couples stands still with the engine; a clutch snaps in.
            Engine::Stopped | Engine::Cranking => {
                outcome.clutch.is_some_and(|c| c != ClutchState::Off)
            }
            _ => engine != EngineDoes::Stops && self.blades(condition, outcome),
        };
        Noticed { crank: outcome.crank, engine, blades, lamps: outcome.lamps.clone() }
    }
}
