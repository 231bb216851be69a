//! What the shop's own closed jobs make of the table of priors.

use super::priors::weight;
use crate::circuit::{Circuit, Fault, FaultMode};
use crate::machine::SiteKind;
use std::collections::BTreeMap;

/// What a fault sits in.
pub(crate) fn site_of(circuit: &Circuit, fault: &Fault) -> SiteKind {
    if fault.plunger().is_some() {
        return match fault.mode {
            FaultMode::WrongSwitch => SiteKind::Switch,
            _ => SiteKind::Linkage,
        };
    }
    let part = fault.seat(circuit).part;
    part.map_or(SiteKind::Wire, |p| circuit.part(p).kind.site())
}

/// Verdicts of the shop's closed jobs, counted by what the fault sat in and how it failed.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct History {
    counts: BTreeMap<(SiteKind, FaultMode), u32>,
}

/// The table counts as much as this many closed jobs: ten of a kind shift it, one does not.
const TABLE_JOBS: f64 = 40.0;

impl History {
    /// Counts one closed job.
    pub fn count(&mut self, seat: SiteKind, mode: FaultMode) {
        *self.counts.entry((seat, mode)).or_default() += 1;
    }

    /// Weights of faults by the table, shifted by what this shop has found: the mean of a Dirichlet
    /// distribution over kinds of fault whose prior counts are the table's.
    pub(crate) fn weights(&self, circuit: &Circuit, faults: &[Fault]) -> Vec<f64> {
        let weights: Vec<_> = faults.iter().map(|f| weight(circuit, f)).collect();
        let kinds: Vec<_> = faults.iter().map(|f| (site_of(circuit, f), f.mode)).collect();
        let total: f64 = weights.iter().sum();
        let mut by_kind: BTreeMap<_, f64> = BTreeMap::new();
        for (kind, weight) in kinds.iter().zip(&weights) {
            *by_kind.entry(*kind).or_default() += weight / total;
        }
        let jobs: u32 = by_kind.keys().filter_map(|k| self.counts.get(k)).sum();
        let shifted = kinds.iter().zip(&weights).map(|(kind, weight)| {
            let (share, seen) = (by_kind[kind], self.counts.get(kind).copied().unwrap_or(0));
            let now = (TABLE_JOBS * share + f64::from(seen)) / (TABLE_JOBS + f64::from(jobs));
            weight * now / share
        });
        shifted.collect()
    }
}
