//! What of a machine an operator hears, sees and feels: where to look at an operating point, found
//! once.

use super::model::resolve;
use super::{Circuit, ElementId, ElementKind, Resolved};
use crate::machine::{EnergizedTo, Expression, Part, PartKind};

/// Elements and coils that an outcome is read off, in document order.
#[derive(Clone, Debug, Default)]
pub(super) struct Telltales {
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
pub(super) struct FuelSolenoid {
    /// The coil that holds it: the one that nothing else assists in holding.
    pub holding: Option<usize>,
    pub load: Option<ElementId>,
    pub to_run: bool,
}

impl Telltales {
    pub fn of(circuit: &Circuit) -> Self {
        let kind = |part: Option<usize>| part.map(|p| circuit.part(p).kind);
        let loads = |wanted: &'static [PartKind]| {
            circuit.elements().filter(move |(_, e)| {
                e.kind == ElementKind::Load && kind(e.part).is_some_and(|k| wanted.contains(&k))
            })
        };
        let coil_part = |c: usize| circuit.element(circuit.coils[c].element).part;
        let coils = 0..circuit.coils.len();
        let starter = loads(&[PartKind::Starter, PartKind::Generator]).next();
        let nominal = |part: Option<usize>| part.and_then(|p| circuit.part(p).amps);
        let ignition = circuit.elements().filter(|(_, e)| match (e.kind, kind(e.part)) {
            (ElementKind::KillPort, Some(_)) => true,
            (ElementKind::Load, Some(kind)) => kind == PartKind::IgnitionCoil,
            _ => false,
        });
        let parts = || circuit.document().parts.iter().enumerate();
        let fuel = parts().filter(|(_, p)| p.kind == PartKind::FuelSolenoid);
        let solenoid = |(i, part): (usize, &Part)| FuelSolenoid {
            holding: coils
                .clone()
                .filter(|c| coil_part(*c) == Some(i))
                .find(|c| circuit.coils[*c].assists.is_none()),
            load: circuit.elements().find(|(_, e)| e.part == Some(i)).map(|(id, _)| id),
            to_run: part.energized_to.unwrap_or_default() == EnergizedTo::Run,
        };
        let ammeters = parts().filter(|(_, p)| p.kind == PartKind::Ammeter);
        // In line: positive towards the battery. Round a wire: as the wire is written.
        let through =
            |part: &Part| circuit.element_named(part.clamps.as_ref().unwrap_or(&part.id)).ok();
        let drive = &circuit.document().drive;
        let parsed = |text: &Option<String>| {
            let parsed = Expression::parse(text.as_ref()?).ok()?;
            parsed.resolve(&|term| resolve(&circuit.controls, term)).ok()
        };
        Self {
            solenoids: coils
                .clone()
                .filter(|c| kind(coil_part(*c)) == Some(PartKind::Solenoid))
                .collect(),
            starter: starter.map(|(id, e)| (id, nominal(e.part).unwrap_or(100.0))),
            ignition: ignition.map(|(id, _)| id).collect(),
            clutch: loads(&[PartKind::Clutch]).next().map(|(id, _)| id),
            fuel: fuel.map(solenoid).collect(),
            lamps: loads(&[PartKind::Lamp, PartKind::GlowPlug]).map(|(id, _)| id).collect(),
            ammeters: ammeters.map(|(_, p)| through(p)).collect(),
            runs_when: parsed(&drive.runs_when),
            blades_when: parsed(&drive.blades_when),
        }
    }
}
