//! What a verdict counts as for the shop's next jobs.

use super::posterior::Belief;
use crate::circuit::{Fault, FaultMode, fault_notation};
use crate::diagnosis::evidence::Unit;
use crate::diagnosis::faults::site_of;
use crate::diagnosis::predict::FaultModel;
use crate::machine::SiteKind;

/// What the likeliest fault of these units sits in, and how it fails; none where no fault is.
pub(crate) fn outcome(
    model: &FaultModel,
    belief: &Belief,
    units: &[Unit],
) -> Option<(SiteKind, FaultMode)> {
    let fault = likeliest(model, belief, units)?;
    Some((site_of(&model.circuit, fault), fault.mode))
}

/// A drawing is changed by units that hold at least so much.
const SURE: f64 = 0.9;

/// The change, in the fault notation, that the likeliest fault of these units is, where a wrong drawing
/// would look the same: two pins the other way round, a switch of the other kind. None where it is another,
/// where that is not sure, and where the machine is likely not wired as drawn: that is settled first.
pub(crate) fn drawing_error(model: &FaultModel, belief: &Belief, units: &[Unit]) -> Option<String> {
    let share: f64 = units.iter().map(|u| belief.of_unit(&model.suspects, *u)).sum();
    if share < SURE || belief.wiring() != 0 {
        return None;
    }
    let fault = likeliest(model, belief, units)?;
    let alike = matches!(fault.mode, FaultMode::Swapped | FaultMode::WrongSwitch);
    alike.then(|| fault_notation(&model.circuit, fault.at(0.0)))
}

fn likeliest<'m>(model: &'m FaultModel, belief: &Belief, units: &[Unit]) -> Option<&'m Fault> {
    let own = model.suspects.list.iter().enumerate().filter(|(_, s)| units.contains(&s.unit));
    let likeliest = own.max_by(|a, b| belief.suspects[a.0].total_cmp(&belief.suspects[b.0]));
    likeliest?.1.faults.first()
}
