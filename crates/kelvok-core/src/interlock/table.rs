//! The interlock table: what every combination of control positions comes to.

use super::{Behavior, Judge};
use crate::circuit::{Circuit, Condition, every_condition};
use crate::machine::MOST_COMBINATIONS;

/// A machine's behavior in every combination of its controls, in odometer order: the last control
/// moves fastest. Combinations that cannot occur have none.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct InterlockTable {
    /// Positions by control.
    pub sizes: Vec<u8>,
    pub rows: Vec<Option<Behavior>>,
}

/// The controls stand in so many combinations that they cannot be tabled.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("the controls stand in {0} combinations: more than can be tabled")]
pub struct TooManyCombinations(pub u128);

impl InterlockTable {
    /// Asks about every combination. O(combinations) solves, three each.
    ///
    /// # Errors
    /// There are more combinations than can be tabled.
    pub fn of(judge: &mut Judge<'_>) -> Result<Self, TooManyCombinations> {
        let circuit = judge.circuit();
        let sizes: Vec<u8> = circuit.controls.iter().map(|c| c.positions.len() as u8).collect();
        let count: u128 = sizes.iter().map(|s| u128::from(*s)).product();
        if count > MOST_COMBINATIONS as u128 {
            return Err(TooManyCombinations(count));
        }
        let mut rows = vec![None; count as usize];
        let conditions = every_condition(circuit);
        let each = judge.behavior_in_each(&conditions);
        for (condition, behavior) in conditions.iter().zip(each) {
            rows[index(&sizes, &condition.positions)] = Some(behavior);
        }
        Ok(Self { sizes, rows })
    }

    /// The row of a condition; `None` if it cannot occur.
    pub fn row(&self, condition: &Condition) -> Option<Behavior> {
        self.rows[index(&self.sizes, &condition.positions)]
    }

    /// Conditions that can occur, with what they come to.
    pub fn conditions(&self, circuit: &Circuit) -> Vec<(Condition, Behavior)> {
        let rested = Condition::at_rest(circuit);
        let all = self.rows.iter().enumerate().filter_map(|(i, row)| {
            let positions = positions(&self.sizes, i);
            row.map(|behavior| (Condition { positions, ..rested.clone() }, behavior))
        });
        all.collect()
    }
}

/// The place of a combination in odometer order.
pub(super) fn index(sizes: &[u8], positions: &[u8]) -> usize {
    let digits = sizes.iter().zip(positions);
    digits.fold(0, |sum, (size, p)| sum * usize::from(*size) + usize::from(*p))
}

/// The combination at a place in odometer order.
pub(super) fn positions(sizes: &[u8], mut index: usize) -> Vec<u8> {
    let mut positions = vec![0; sizes.len()];
    for (p, size) in positions.iter_mut().zip(sizes).rev() {
        *p = (index % usize::from(*size)) as u8;
        index /= usize::from(*size);
    }
    positions
}
