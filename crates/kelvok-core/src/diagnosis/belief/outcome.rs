//! What a verdict counts as for the shop's next jobs.

use super::posterior::Belief;
use crate::circuit::FaultMode;
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
    let own = model.suspects.list.iter().enumerate().filter(|(_, s)| units.contains(&s.unit));
    let likeliest = own.max_by(|a, b| belief.suspects[a.0].total_cmp(&belief.suspects[b.0]));
    let fault = likeliest?.1.faults.first()?;
    Some((site_of(&model.circuit, fault), fault.mode))
}
