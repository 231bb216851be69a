//! The volts of points along a walk, by what was read between any two of them.
//!
//! A Kalman filter of one number a point: a reading from point to point tells their difference, and
//! readings that share a point tell more together than each by itself.

/// As far apart as nothing is known.
const UNKNOWN: f64 = 1e3;
/// A difference that is known to so many volts is known.
const KNOWN: f64 = 2.0;

pub(super) struct Potentials {
    mean: Vec<f64>,
    covariance: Vec<Vec<f64>>,
}

impl Potentials {
    pub fn unread(points: usize) -> Self {
        let row = |i: usize| (0..points).map(move |j| if i == j { UNKNOWN * UNKNOWN } else { 0.0 });
        Self {
            mean: vec![0.0; points],
            covariance: (0..points).map(|i| row(i).collect()).collect(),
        }
    }

    /// Volts from one point to another, give or take.
    pub fn read(&mut self, (red, black): (usize, usize), volts: f64, spread: f64) {
        let column: Vec<f64> = self.covariance.iter().map(|row| row[red] - row[black]).collect();
        let variance = column[red] - column[black] + spread * spread;
        let off = volts - (self.mean[red] - self.mean[black]);
        for (i, own) in column.iter().enumerate() {
            self.mean[i] += own / variance * off;
            for (slot, other) in self.covariance[i].iter_mut().zip(&column) {
                *slot -= own * other / variance;
            }
        }
    }

    /// Volts of a sum of points, each counted so many times, and how unsure they are.
    pub fn sum(&self, of: &[f64]) -> (f64, f64) {
        let dot = |row: &[f64]| row.iter().zip(of).map(|(a, b)| a * b).sum::<f64>();
        let moved: Vec<f64> = self.covariance.iter().map(|row| dot(row)).collect();
        (dot(&self.mean), dot(&moved).max(0.0).sqrt())
    }

    /// Volts from one point to another, and how unsure they are; none where no reading tells.
    pub fn between(&self, from: usize, to: usize) -> Option<(f64, f64)> {
        let mut of = vec![0.0; self.mean.len()];
        of[from] += 1.0;
        of[to] -= 1.0;
        let (volts, spread) = self.sum(&of);
        (spread < KNOWN).then_some((volts, spread))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn readings_that_share_a_point_tell_what_lies_between() {
        let mut volts = Potentials::unread(4);
        assert_eq!(volts.between(0, 1), None);
        volts.read((0, 2), 1.0, 0.01);
        volts.read((1, 2), 0.3, 0.01);
        let (between, spread) = volts.between(0, 1).expect("by subtraction");
        assert!((between - 0.7).abs() < 1e-6 && (spread - 0.01414).abs() < 1e-3, "{spread}");
        assert_eq!(volts.between(2, 3), None);
        // Read directly as well, it is known better.
        volts.read((0, 1), 0.72, 0.01);
        let (between, spread) = volts.between(0, 1).expect("read");
        assert!(between > 0.7 && between < 0.72 && spread < 0.01, "{between} {spread}");
    }
}
