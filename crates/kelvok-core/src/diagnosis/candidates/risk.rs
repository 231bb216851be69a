//! What a test risks, in the minutes that a careful mechanic would rather spend: of two tests that tell
//! alike, the one that starts no engine is made.

use super::context::Context;
use super::safety::{Hazards, key_is_held, may_turn};
use crate::circuit::{Circuit, Condition, Engine, Relays, operating_point};
use crate::diagnosis::evidence::TestAction;

/// The engine runs, with belts, fan and exhaust.
const RUNS: f64 = 0.5;
/// The blades turn with it.
const BLADES: f64 = 1.0;
/// Nobody sits where the operator belongs while it runs.
const NOBODY_ON: f64 = 0.7;
/// The engine turns by its starter.
const CRANKS: f64 = 0.2;
/// The key is held to start where a good machine would not crank: one that does could move off.
const MIGHT_MOVE: f64 = 0.7;
/// The kill wire is off its module.
const UNKILLABLE: f64 = 0.3;

/// What a context risks beyond how the machine is looked at anyway.
///
/// # Arguments
/// `usual` is the condition complained of: it is brought about whatever is measured.
pub(crate) fn risk_minutes(
    circuit: &Circuit,
    hazards: &Hazards,
    context: &Context,
    usual: &Condition,
) -> f64 {
    let condition = &context.condition;
    let looks = context.actions.iter().all(|a| matches!(a, TestAction::Look(_)));
    if condition == usual || looks {
        return 0.0;
    }
    let kill = if hazards.unkillable(&context.set_up) { UNKILLABLE } else { 0.0 };
    let sound = || operating_point(circuit, condition, Relays::default(), &[], &[]).outcome;
    kill + match condition.engine {
        Engine::Stopped if key_is_held(circuit, condition) => {
            if may_turn(sound().crank) {
                CRANKS
            } else {
                MIGHT_MOVE
            }
        }
        Engine::Stopped => 0.0,
        Engine::Cranking => CRANKS,
        Engine::Running | Engine::RunningHot => {
            let blades = if circuit.blades(condition, &sound()) { BLADES } else { 0.0 };
            let empty = if is_left(circuit, condition) { NOBODY_ON } else { 0.0 };
            RUNS + blades + empty
        }
    }
}

/// Whether the operator is off: a seat that nobody sits on.
fn is_left(circuit: &Circuit, condition: &Condition) -> bool {
    circuit.controls.iter().zip(&condition.positions).any(|(control, at)| {
        let position = &control.positions[usize::from(*at)];
        control.id.contains("seat") && position.id == "empty"
    })
}
