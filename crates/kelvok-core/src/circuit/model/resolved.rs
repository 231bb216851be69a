//! Expressions over controls, the engine and coils, by number.

use super::condition::Condition;
use crate::machine::{Control, Engine, Expression, Term};

/// A term with its names resolved: bit `p` of the mask stands for position `p`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Resolved {
    Control {
        index: usize,
        mask: u32,
    },
    Engine {
        mask: u32,
    },
    /// A coil, or an input of a module, pulled in or not.
    Coil {
        index: usize,
        pulled: bool,
    },
}

pub(crate) fn coils_make(expression: &Expression<Resolved>, now: u64) -> bool {
    expression.eval(&|term: &Resolved| match *term {
        Resolved::Coil { index, pulled } => (now >> index & 1 == 1) == pulled,
        _ => false,
    })
}

/// Resolves a term over controls and the engine.
pub(crate) fn resolve(controls: &[Control], term: &Term) -> Result<Resolved, String> {
    if term.control == "engine" {
        let mut mask = 0;
        for name in &term.positions {
            mask |= match name.as_str() {
                // Whoever says running means hot or not.
                "running" => Engine::mask(&[Engine::Running, Engine::RunningHot]),
                _ => {
                    let named = Engine::named(name);
                    1 << named.ok_or_else(|| format!("the engine is never \"{name}\""))? as u32
                }
            };
        }
        return Ok(Resolved::Engine { mask });
    }
    let index = controls.iter().position(|c| c.id == term.control);
    let index = index.ok_or_else(|| format!("there is no control \"{}\"", term.control))?;
    let mut mask = 0;
    for name in &term.positions {
        let position = controls[index].positions.iter().position(|p| p.id == *name);
        mask |= 1
            << position.ok_or_else(|| {
                format!("the control \"{}\" has no position \"{name}\"", term.control)
            })?;
    }
    Ok(Resolved::Control { index, mask })
}

pub(crate) fn holds(expression: &Expression<Resolved>, condition: &Condition) -> bool {
    expression.eval(&|term: &Resolved| match *term {
        Resolved::Control { index, mask } => mask >> condition.positions[index] & 1 == 1,
        Resolved::Engine { mask } => mask >> condition.engine as u32 & 1 == 1,
        Resolved::Coil { .. } => false,
    })
}
