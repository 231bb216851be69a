//! What of a machine an operator hears, sees and feels: where to look at an operating point.

use super::ids::ElementId;
use super::resolved::Resolved;
use crate::machine::Expression;

/// Elements and coils that an outcome is read off, in document order.
#[derive(Clone, Debug, Default)]
pub(crate) struct Telltales {
    /// Coils of solenoids: only those crank anything.
    pub solenoids: Vec<usize>,
    /// The starter, and the amperes it draws turning a sound engine.
    pub starter: Option<(ElementId, f64)>,
    /// Kill ports of modules, and ignition coils.
    pub ignition: Vec<ElementId>,
    pub clutch: Option<ElementId>,
    pub fuel: Vec<FuelSolenoid>,
    /// Lamps and glow plugs.
    pub lamps: Vec<ElementId>,
    /// What each ammeter's needle goes by.
    pub ammeters: Vec<Option<ElementId>>,
    pub runs_when: Option<Expression<Resolved>>,
    pub blades_when: Option<Expression<Resolved>>,
}

/// A solenoid that has a say in whether fuel flows.
#[derive(Clone, Copy, Debug)]
pub(crate) struct FuelSolenoid {
    /// The coil that holds it: the one that nothing else assists in holding.
    pub holding: Option<usize>,
    pub load: Option<ElementId>,
    pub to_run: bool,
}
