//! Which switch it is, and which pair in which position tells most about that.

use super::assignments::{Assignments, assignments};
use crate::bench::found::{Cell, FoundTable};
use crate::bench::profile::Profile;

/// A profile that the switch may be of.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Identity {
    /// By index into the profiles.
    pub profile: usize,
    /// Its share of all that fits: every profile alike likely at first, and every order of its
    /// terminals.
    pub share: f64,
    pub fits: Assignments,
}

/// The pair and position that part what still fits best for what it costs.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct NextProbe {
    pub cell: Cell,
    /// The chance that it buzzes.
    pub made: f64,
    /// What it tells, in bits.
    pub bits: f64,
    /// Controls moved to get there.
    pub moves: usize,
}

/// What moving the key costs, in probes.
pub const MOVE_PROBES: f64 = 3.0;
/// Assignments that count in choosing a probe: all of seven terminals.
const MOST_WEIGHED: usize = 5040;

/// The profiles that fit what was found, the likeliest first.
///
/// # Arguments
/// `keep` is how many assignments of each are listed.
pub fn identify(profiles: &[Profile], table: &FoundTable, keep: usize) -> Vec<Identity> {
    let orders: f64 = (1..=table.terminals().len()).map(|n| n as f64).product();
    let fits = profiles.iter().enumerate().filter_map(|(profile, own)| {
        let fits = assignments(own, table, keep);
        let share = fits.count as f64 / orders;
        (fits.count > 0).then_some(Identity { profile, share, fits })
    });
    let mut all: Vec<Identity> = fits.collect();
    let whole: f64 = all.iter().map(|i| i.share).sum();
    for identity in &mut all {
        identity.share /= whole;
    }
    all.sort_by(|a, b| b.share.total_cmp(&a.share).then(a.profile.cmp(&b.profile)));
    all
}

/// The probe that tells most for what it costs; none where everything that fits would answer every
/// probe alike.
///
/// # Arguments
/// `at` is the position in which the switch stands; `move_probes` what a move costs, in probes
/// ([`MOVE_PROBES`] usually).
pub fn next_probe(
    profiles: &[Profile],
    table: &FoundTable,
    at: usize,
    move_probes: f64,
) -> Option<NextProbe> {
    let identities = identify(profiles, table, MOST_WEIGHED);
    let terminals = table.terminals().len();
    let mut best: Option<(f64, NextProbe)> = None;
    for position in 0..table.positions().len() {
        let mut made = vec![0.0; terminals * terminals];
        for identity in &identities {
            let profile = &profiles[identity.profile];
            let Some(own) = profile.position(&table.positions()[position]) else { continue };
            let weight = identity.share / identity.fits.first.len() as f64;
            for fit in &identity.fits.first {
                for one in 0..terminals {
                    let joined = profile.joined(own)[usize::from(fit[one])];
                    for other in one + 1..terminals {
                        let joined = joined >> fit[other] & 1 == 1;
                        made[one * terminals + other] += if joined { weight } else { 0.0 };
                    }
                }
            }
        }
        let moves = position.abs_diff(at);
        for one in 0..terminals {
            for other in one + 1..terminals {
                let cell = Cell::new(position, one, other);
                let made: f64 = made[one * terminals + other];
                let bits = entropy(made);
                if bits < 1e-9 || table.grade(cell).is_some() {
                    continue;
                }
                let rate = bits / (1.0 + move_probes * moves as f64);
                let probe = NextProbe { cell, made, bits, moves };
                if best.is_none_or(|(other, _)| rate > other + 1e-12) {
                    best = Some((rate, probe));
                }
            }
        }
    }
    best.map(|(_, probe)| probe)
}

/// Of a question that is answered yes at this chance, in bits.
fn entropy(yes: f64) -> f64 {
    let part = |p: f64| if p > 0.0 { -p * p.log2() } else { 0.0 };
    part(yes.clamp(0.0, 1.0)) + part((1.0 - yes).clamp(0.0, 1.0))
}
