//! Conditions of a machine: at rest, one move away, all of them.

use super::circuit::Circuit;
use super::condition::{Condition, ConditionError};
use crate::machine::Engine;

impl Condition {
    /// The machine parked: every control at rest, engine stopped.
    pub fn at_rest(circuit: &Circuit) -> Self {
        let rest = |c: &crate::machine::Control| {
            c.positions.iter().position(|p| p.id == c.rest).unwrap_or(0) as u8
        };
        Self { positions: circuit.controls.iter().map(rest).collect(), engine: Engine::Stopped }
    }

    /// At rest, but with these controls at these positions.
    ///
    /// # Errors
    /// Names the control or the position that the machine does not have.
    pub fn with<'a>(
        circuit: &Circuit,
        positions: impl IntoIterator<Item = (&'a str, &'a str)>,
    ) -> Result<Self, ConditionError> {
        let mut condition = Self::at_rest(circuit);
        for (control, position) in positions {
            condition.set(circuit, control, position)?;
        }
        Ok(condition)
    }

    /// Moves one control.
    ///
    /// # Errors
    /// Names the control or the position that the machine does not have.
    pub fn set(
        &mut self,
        circuit: &Circuit,
        control: &str,
        position: &str,
    ) -> Result<(), ConditionError> {
        let (index, found) = circuit
            .controls
            .iter()
            .enumerate()
            .find(|(_, c)| c.id == control)
            .ok_or_else(|| ConditionError::Control(control.to_owned()))?;
        let at = found.positions.iter().position(|p| p.id == position).ok_or_else(|| {
            let known: Vec<_> = found.positions.iter().map(|p| p.id.as_str()).collect();
            ConditionError::Position {
                control: control.to_owned(),
                position: position.to_owned(),
                known: known.join(", "),
            }
        })?;
        self.positions[index] = at as u8;
        Ok(())
    }

    /// Control and position ids, in the machine's order.
    pub fn named<'a>(&'a self, circuit: &'a Circuit) -> impl Iterator<Item = (&'a str, &'a str)> {
        circuit
            .controls
            .iter()
            .zip(&self.positions)
            .map(|(c, p)| (c.id.as_str(), c.positions[usize::from(*p)].id.as_str()))
    }
}

/// Every condition that one move of a control makes of this one and that can occur, controls in
/// the machine's order.
pub fn one_move_away(circuit: &Circuit, from: &Condition) -> Vec<Condition> {
    let mut all = Vec::new();
    for (control, c) in circuit.controls.iter().enumerate() {
        for position in 0..c.positions.len() as u8 {
            let mut moved = from.clone();
            moved.positions[control] = position;
            if moved != *from && circuit.can_occur(&moved) {
                all.push(moved);
            }
        }
    }
    all
}

/// Every combination of control positions that can occur, engine stopped, in odometer order.
pub fn every_condition(circuit: &Circuit) -> Vec<Condition> {
    let sizes: Vec<u8> = circuit.controls.iter().map(|c| c.positions.len() as u8).collect();
    let mut all = Vec::new();
    let mut now = vec![0u8; sizes.len()];
    loop {
        let condition = Condition { positions: now.clone(), engine: Engine::Stopped };
        if circuit.can_occur(&condition) {
            all.push(condition);
        }
        let Some(digit) = (0..sizes.len()).rev().find(|d| now[*d] + 1 < sizes[*d]) else {
            return all;
        };
        now[digit] += 1;
        now[digit + 1..].fill(0);
    }
}

/// Every condition with the engine standing, in order of how many controls differ from this one.
pub fn by_moves(circuit: &Circuit, from: &Condition) -> Vec<Condition> {
    let mut all = every_condition(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&from.positions).filter(|(a, b)| a != b).count();
    all.sort_by_key(moved);
    all
}
