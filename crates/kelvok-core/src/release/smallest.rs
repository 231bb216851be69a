//! The smallest cover: the fewest columns that touch every row, and of those the least heavy. Branch and bound
//! after reductions by dominance (Garfinkel and Nemhauser 1969); the bound is of rows that share no column.

use std::collections::BTreeSet;

/// A cover, and how sure it is that none is smaller.
#[derive(Clone, Debug, PartialEq)]
pub struct Cover {
    /// The columns, in order.
    pub columns: Vec<usize>,
    /// No cover has fewer columns than this.
    pub at_least: usize,
    /// Whether every other was ruled out.
    pub proved: bool,
}

/// Branches looked into at most.
const MOST_BRANCHES: usize = 200_000;
/// A column weighs so much for being one at all, so that fewer always weigh less.
const EACH: f64 = 1000.0;

/// The smallest cover of some rows.
///
/// # Arguments
/// `rows` are the columns that touch each; a row that none touches is left out. `weights` are of the columns, 0 to
/// less than 1000 in all: of covers that are equally small the lightest is taken.
///
/// ```
/// use kelvok_core::release::smallest_cover;
///
/// let rows = [vec![0, 1], vec![1, 2], vec![2, 3], vec![3, 0]];
/// let cover = smallest_cover(&rows, &[5.0, 1.0, 5.0, 1.0]);
/// assert_eq!((cover.columns, cover.proved), (vec![1, 3], true));
/// ```
pub fn smallest_cover(rows: &[Vec<usize>], weights: &[f64]) -> Cover {
    let mut rows: Vec<BTreeSet<usize>> = rows
        .iter()
        .map(|r| r.iter().copied().collect())
        .filter(|r: &BTreeSet<_>| !r.is_empty())
        .collect();
    rows.sort_by_key(BTreeSet::len);
    rows.dedup();
    let mut search = Search { weights, best: None, branches: 0 };
    let taken = Vec::new();
    let at_least = {
        let (mut left, mut own) = (rows.clone(), taken.clone());
        reduce(&mut left, &mut own, weights);
        own.len() + apart(&left).len()
    };
    search.look(rows, taken);
    let proved = search.branches <= MOST_BRANCHES;
    let mut columns = search.best.map(|(_, columns)| columns).unwrap_or_default();
    columns.sort_unstable();
    let at_least = if proved { columns.len() } else { at_least };
    Cover { columns, at_least, proved }
}

struct Search<'w> {
    weights: &'w [f64],
    best: Option<(f64, Vec<usize>)>,
    branches: usize,
}

impl Search<'_> {
    fn weight(&self, column: usize) -> f64 {
        EACH + self.weights[column]
    }

    fn look(&mut self, mut rows: Vec<BTreeSet<usize>>, mut taken: Vec<usize>) {
        self.branches += 1;
        reduce(&mut rows, &mut taken, self.weights);
        let weighs: f64 = taken.iter().map(|c| self.weight(*c)).sum();
        let lightest = |row: &BTreeSet<usize>| {
            row.iter().map(|c| self.weight(*c)).fold(f64::INFINITY, f64::min)
        };
        let bound: f64 = weighs + apart(&rows).into_iter().map(|r| lightest(&rows[r])).sum::<f64>();
        if self.best.as_ref().is_some_and(|(best, _)| bound >= *best - 1e-9) {
            return;
        }
        let Some(row) = rows.iter().min_by_key(|r| r.len()).cloned() else {
            self.best = Some((weighs, taken));
            return;
        };
        // Whatever else, one of these is in it. The one that touches most first.
        let touches = |column: &usize| rows.iter().filter(|r| r.contains(column)).count();
        let mut columns: Vec<_> = row.into_iter().collect();
        columns.sort_by_key(|c| std::cmp::Reverse(touches(c)));
        for column in columns {
            if self.branches > MOST_BRANCHES && self.best.is_some() {
                return;
            }
            let left = rows.iter().filter(|r| !r.contains(&column)).cloned().collect();
            let taken = taken.iter().copied().chain([column]).collect();
            self.look(left, taken);
            // Covers with this column were all looked at.
            for row in &mut rows {
                row.remove(&column);
            }
            if rows.iter().any(BTreeSet::is_empty) {
                return;
            }
        }
    }
}

/// Takes what must be taken and leaves out what never need be, until nothing changes.
fn reduce(rows: &mut Vec<BTreeSet<usize>>, taken: &mut Vec<usize>, weights: &[f64]) {
    loop {
        let before = (rows.len(), rows.iter().map(BTreeSet::len).sum::<usize>());
        // A row whose columns all touch another's: whoever covers it covers that one.
        rows.sort_by_key(BTreeSet::len);
        let mut kept: Vec<BTreeSet<usize>> = Vec::with_capacity(rows.len());
        for row in rows.drain(..) {
            if !kept.iter().any(|k| k.is_subset(&row)) {
                kept.push(row);
            }
        }
        *rows = kept;
        while let Some(only) = rows.iter().find(|r| r.len() == 1).and_then(|r| r.first().copied()) {
            taken.push(only);
            rows.retain(|r| !r.contains(&only));
        }
        leave_out_lesser(rows, weights);
        if before == (rows.len(), rows.iter().map(BTreeSet::len).sum()) {
            return;
        }
    }
}

/// A column that touches nothing which another, no heavier, does not touch too is left out.
fn leave_out_lesser(rows: &mut [BTreeSet<usize>], weights: &[f64]) {
    let columns: BTreeSet<usize> = rows.iter().flatten().copied().collect();
    let touched = |c: usize| -> BTreeSet<usize> {
        rows.iter().enumerate().filter(|(_, r)| r.contains(&c)).map(|(i, _)| i).collect()
    };
    let all: Vec<(usize, BTreeSet<usize>)> = columns.iter().map(|c| (*c, touched(*c))).collect();
    let mut out = BTreeSet::new();
    for (a, own) in &all {
        let lesser = all.iter().any(|(b, other)| {
            a != b
                && !out.contains(b)
                && own.is_subset(other)
                && (weights[*a], *a) > (weights[*b], *b)
        });
        if lesser {
            out.insert(*a);
        }
    }
    for row in rows {
        row.retain(|c| !out.contains(c));
    }
}

/// Rows no two of which share a column: each needs a column of its own.
fn apart(rows: &[BTreeSet<usize>]) -> Vec<usize> {
    let mut used: BTreeSet<usize> = BTreeSet::new();
    let mut apart = Vec::new();
    let mut order: Vec<usize> = (0..rows.len()).collect();
    order.sort_by_key(|r| rows[*r].len());
    for r in order {
        if rows[r].is_disjoint(&used) {
            used.extend(&rows[r]);
            apart.push(r);
        }
    }
    apart
}
