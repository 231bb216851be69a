//! What a test tells, in bits.

use super::stakes::{Put, Stake, Stakes};
use crate::diagnosis::candidates::{CELLS, Scale, Spot};

/// Cells to work in, kept from test to test.
pub(crate) struct Cells {
    rows: Vec<[f64; CELLS]>,
    used: Vec<(usize, usize)>,
}

impl Cells {
    pub fn new(labels: usize) -> Self {
        Self { rows: vec![[0.0; CELLS]; labels], used: vec![(CELLS, 0); labels] }
    }

    /// Expected drop of the entropy over labels, in bits, were the answer what it should be.
    pub fn information(&mut self, scale: &Scale, stakes: &Stakes) -> f64 {
        self.information_by(stakes, |stake, put| put_on(scale, stake, put))
    }

    /// The same of what is said to be put for each state: spots with their weights.
    pub fn information_by(&mut self, stakes: &Stakes, of: impl Fn(&Stake, &mut Put<'_>)) -> f64 {
        self.fill(stakes, of);
        let mut all = [0.0; CELLS];
        let mut within = 0.0;
        for (row, (low, high)) in self.rows.iter().zip(&self.used) {
            if low > high {
                continue;
            }
            let cells = &row[*low..=*high];
            let sum: f64 = cells.iter().sum();
            for (slot, w) in all[*low..=*high].iter_mut().zip(cells) {
                *slot += w;
            }
            within += entropy(cells) + plogp(sum);
        }
        let total: f64 = all.iter().sum();
        // H(answer) - H(answer | label), all weights being shares of the total.
        ((entropy(&all) + plogp(total)) - within).max(0.0) / total
    }

    /// The chance of an answer that is so many times as likely under the first label as under all
    /// others, if it is the first; of what was asked last.
    pub fn points_to_first(&self, times: f64) -> f64 {
        let mut others = [0.0; CELLS];
        for row in &self.rows[1..] {
            for (slot, w) in others.iter_mut().zip(row) {
                *slot += w;
            }
        }
        let own: f64 = self.rows[0].iter().sum();
        let all: f64 = others.iter().sum();
        let points = |(w, other): &(&f64, &f64)| **w * all > times * **other * own;
        self.rows[0].iter().zip(&others).filter(points).map(|(w, _)| w).sum::<f64>() / own
    }

    fn fill(&mut self, stakes: &Stakes, of: impl Fn(&Stake, &mut Put<'_>)) {
        for (row, used) in self.rows.iter_mut().zip(&mut self.used) {
            if used.0 <= used.1 {
                row[used.0..=used.1].fill(0.0);
            }
            *used = (CELLS, 0);
        }
        for stake in &stakes.states {
            let row = &mut self.rows[stake.label];
            let used = &mut self.used[stake.label];
            of(stake, &mut |spot, weight| {
                let (low, high) = (spot.at - spot.half, spot.at + spot.half);
                used.0 = used.0.min(low.max(0.0) as usize);
                used.1 = used.1.max((high as usize).min(CELLS - 1));
                spot.spread(weight, row);
            });
        }
    }
}

fn plogp(p: f64) -> f64 {
    if p > 0.0 { p * p.log2() } else { 0.0 }
}

/// Minus the sum of p log p.
fn entropy(cells: &[f64]) -> f64 {
    -cells.iter().map(|p| plogp(*p)).sum::<f64>()
}

/// Where a state's weight lies on a scale.
fn put_on(scale: &Scale, stake: &Stake, put: &mut Put<'_>) {
    match scale {
        Scale::Looks(bad) => {
            let bad = f64::from(bad[stake.suspect]);
            put(Spot::exactly(1), bad * stake.weight);
            put(Spot::exactly(0), (1.0 - bad) * stake.weight);
        }
        Scale::Spots { spots, .. } => {
            stake.put(spots.at(stake.scenario), spots.at(stake.sound), put)
        }
    }
}
