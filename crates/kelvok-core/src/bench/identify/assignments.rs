//! Every way in which the terminals in the hand can be those of a profile.
//!
//! A backtracking search over terminals that bear on one another, the most constrained first, each
//! with the set of profile terminals that it can still be. What is left then bears on nothing but
//! that no two are the same, and is counted as perfect matchings by dynamic programming over sets
//! (a permanent), so that even a table with next to nothing in it is counted exactly.

use crate::bench::found::FoundTable;
use crate::bench::profile::Profile;

/// By found terminal the profile terminal that it is.
pub type Assignment = Vec<u8>;

/// What fits.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Assignments {
    /// How many fit, exactly.
    pub count: u64,
    /// By found terminal, the profile terminals that it is in any of them, as a mask.
    pub candidates: Vec<u16>,
    /// The first of them, as many as were asked for.
    pub first: Vec<Assignment>,
}

/// Everything that fits: every assignment that is consistent with every cell that was the same each
/// time it was tried and holds together with the others, and none other.
///
/// None fits where the numbers of terminals differ, or the profile lacks a position by id.
///
/// # Arguments
/// `keep` is how many are listed.
pub fn assignments(profile: &Profile, table: &FoundTable, keep: usize) -> Assignments {
    let terminals = table.terminals().len();
    let mut found = Assignments { count: 0, candidates: vec![0; terminals], first: Vec::new() };
    let positions: Option<Vec<usize>> =
        table.positions().iter().map(|id| profile.position(id)).collect();
    let Some(positions) = positions.filter(|_| profile.terminals().len() == terminals) else {
        return found;
    };
    let mut bears: Vec<Vec<Bearing>> = vec![Vec::new(); terminals];
    for (cell, made) in table.holding() {
        let joined = positions[cell.position];
        bears[cell.one].push(Bearing { on: cell.other, joined, made });
        bears[cell.other].push(Bearing { on: cell.one, joined, made });
    }
    let all = ((1u32 << terminals) - 1) as u16;
    let mut search = Search { profile, bears, keep, found: &mut found, chosen: vec![0; terminals] };
    search.place(&vec![all; terminals], all);
    found
}

/// What a cell says of one of its terminals, once the other is known.
#[derive(Clone, Copy, Debug)]
struct Bearing {
    on: usize,
    /// The profile's position.
    joined: usize,
    made: bool,
}

struct Search<'a> {
    profile: &'a Profile,
    bears: Vec<Vec<Bearing>>,
    keep: usize,
    found: &'a mut Assignments,
    chosen: Assignment,
}

impl Search<'_> {
    /// Places the terminals that are left.
    ///
    /// # Arguments
    /// `can` is what each can still be, `left` the terminals not placed yet.
    fn place(&mut self, can: &[u16], left: u16) {
        let open = |t: usize| left >> t & 1 == 1;
        let bound = |t: &usize| self.bears[*t].iter().any(|b| open(b.on));
        let next = bits(left).filter(bound).min_by_key(|t| can[*t].count_ones());
        let Some(terminal) = next else {
            self.count_free(can, left);
            return;
        };
        for be in bits(can[terminal]) {
            self.chosen[terminal] = be as u8;
            let left = left & !(1 << terminal);
            if let Some(can) = self.narrowed(can, left, terminal, be) {
                self.place(&can, left);
            }
        }
    }

    /// What the others can still be, one being placed; `None` where one of them can be nothing.
    fn narrowed(&self, can: &[u16], left: u16, terminal: usize, be: usize) -> Option<Vec<u16>> {
        let mut can = can.to_vec();
        for other in bits(left) {
            can[other] &= !(1 << be);
        }
        for bearing in self.bears[terminal].iter().filter(|b| left >> b.on & 1 == 1) {
            let joined = self.profile.joined(bearing.joined)[be];
            can[bearing.on] &= if bearing.made { joined } else { !joined };
        }
        bits(left).all(|t| can[t] != 0).then_some(can)
    }

    /// Counts what is left where nothing bears on anything but that no two are the same.
    fn count_free(&mut self, can: &[u16], left: u16) {
        let free: Vec<usize> = bits(left).collect();
        let ways = Matchings::of(&free, can);
        let count = ways.total();
        if count == 0 {
            return;
        }
        self.found.count += count;
        for (terminal, mask) in self.found.candidates.iter_mut().enumerate() {
            match free.iter().position(|t| *t == terminal) {
                Some(at) => *mask |= ways.can_be(at),
                None => *mask |= 1 << self.chosen[terminal],
            }
        }
        self.list(can, &free, 0);
    }

    /// Lists what is left, up to as many as are kept.
    fn list(&mut self, can: &[u16], free: &[usize], taken: u16) {
        if self.found.first.len() >= self.keep {
            return;
        }
        let Some((terminal, rest)) = free.split_first() else {
            self.found.first.push(self.chosen.clone());
            return;
        };
        for be in bits(can[*terminal] & !taken) {
            self.chosen[*terminal] = be as u8;
            self.list(can, rest, taken | 1 << be);
        }
    }
}

/// Perfect matchings of some terminals with what each can be.
struct Matchings {
    can: Vec<u16>,
    /// What any of them can be, in order: a set of these is a number.
    values: Vec<usize>,
    /// By how many terminals are placed and by what set is taken, in how many ways.
    before: Vec<Vec<u64>>,
    /// In how many ways those from there on can be placed, that set being taken.
    after: Vec<Vec<u64>>,
}

impl Matchings {
    fn of(terminals: &[usize], can: &[u16]) -> Self {
        let any = terminals.iter().fold(0, |any, t| any | can[*t]);
        let values: Vec<usize> = bits(any).collect();
        let squeezed = |mask: u16| {
            values.iter().enumerate().fold(0u16, |own, (i, v)| own | (mask >> v & 1) << i)
        };
        let can: Vec<u16> = terminals.iter().map(|t| squeezed(can[*t])).collect();
        let sets = 1usize << values.len();
        let mut before = vec![vec![0u64; sets]; can.len() + 1];
        before[0][0] = 1;
        for (placed, can) in can.iter().enumerate() {
            for taken in 0..sets {
                let ways = before[placed][taken];
                for be in bits(*can & !(taken as u16)).filter(|_| ways > 0) {
                    before[placed + 1][taken | 1 << be] += ways;
                }
            }
        }
        let mut after = vec![vec![0u64; sets]; can.len() + 1];
        after[can.len()].fill(1);
        for (placed, can) in can.iter().enumerate().rev() {
            for taken in 0..sets {
                let be = bits(*can & !(taken as u16));
                after[placed][taken] = be.map(|be| after[placed + 1][taken | 1 << be]).sum();
            }
        }
        Self { can, values, before, after }
    }

    fn total(&self) -> u64 {
        self.after[0][0]
    }

    /// What a terminal is in any of them.
    fn can_be(&self, at: usize) -> u16 {
        let held = |be: &usize| {
            (0..self.before[at].len()).any(|taken| {
                taken >> be & 1 == 0
                    && self.before[at][taken] > 0
                    && self.after[at + 1][taken | 1 << be] > 0
            })
        };
        bits(self.can[at]).filter(held).fold(0, |mask, be| mask | 1 << self.values[be])
    }
}

/// The members of a set.
pub(super) fn bits(mask: u16) -> impl Iterator<Item = usize> {
    (0..16).filter(move |i| mask >> i & 1 == 1)
}
