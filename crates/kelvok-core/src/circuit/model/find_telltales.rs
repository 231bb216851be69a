//! Finds a machine's telltales, once.

use super::circuit::Circuit;
use super::element::ElementKind;
use super::resolved::resolve;
use super::telltales::{FuelSolenoid, Telltales};
use crate::machine::{EnergizedTo, Expression, Part, PartKind, Shows};

impl Telltales {
    pub fn of(circuit: &Circuit) -> Self {
        let kind = |part: Option<usize>| part.map(|p| circuit.part(p).kind);
        let loads = |wanted: Shows| {
            circuit.elements().filter(move |(_, e)| {
                let shows = kind(e.part).and_then(PartKind::shows);
                e.kind == ElementKind::Load && shows == Some(wanted)
            })
        };
        let coil_part = |c: usize| circuit.element(circuit.coils[c].element).part;
        let coils = 0..circuit.coils.len();
        let starter = loads(Shows::Starter).next();
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
            clutch: loads(Shows::Blades).next().map(|(id, _)| id),
            fuel: fuel.map(solenoid).collect(),
            lamps: loads(Shows::Lamp).map(|(id, _)| id).collect(),
            ammeters: ammeters.map(|(_, p)| through(p)).collect(),
            runs_when: parsed(&drive.runs_when),
            blades_when: parsed(&drive.blades_when),
        }
    }
}
