//! Contacts, and what moves them.

use super::ids::{ElementId, PlungerId};
use super::resolved::{Resolved, coils_make};
use crate::machine::{Expression, Normally, Timing};

/// What moves a contact.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub enum Actuator {
    /// A key switch: made while the expression holds.
    Control(Expression<Resolved>),
    /// Pressed or released by a plunger.
    Plunger { plunger: PlungerId, normally: Normally },
    /// Made while coils of its own part stand like this.
    Coils(Expression<Resolved>),
}

/// A contact, and what moves it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Contact {
    pub element: ElementId,
    pub actuator: Actuator,
    /// Index of the contact in its part; one inside a regulator or generator has none.
    pub index: Option<usize>,
    pub timing: Option<Timing>,
}

/// A plunger that a linkage works.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Plunger {
    pub part: usize,
    pub pressed_when: Expression<Resolved>,
}

/// A winding that moves contacts.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Coil {
    pub element: ElementId,
    /// Volts (current times actual winding ohms) at or above which it pulls in.
    pub pulls_in: f64,
    /// Volts at or under which it drops out.
    pub drops_out: f64,
    /// If it moves nothing by itself: the coil it lends its volts to, and what one of its volts
    /// counts there.
    pub assists: Option<(usize, f64)>,
}

/// A code that a module's lamp blinks while its inputs stand like this.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct ModuleCode {
    /// Index into the document's parts, and into that part's codes.
    pub part: usize,
    pub code: usize,
    pub when: Expression<Resolved>,
}

impl Contact {
    /// Whether coils that stand like this make it; bit `c` stands for coil `c`. One that breaks
    /// again by itself has done so by the time things stand still.
    pub(crate) fn made_by_coils(&self, pulled: u64) -> bool {
        let lapsed = self.timing.is_some_and(|t| t.made_for > 0.0);
        match &self.actuator {
            Actuator::Coils(expression) => !lapsed && coils_make(expression, pulled),
            _ => false,
        }
    }
}
