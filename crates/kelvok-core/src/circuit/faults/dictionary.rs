//! The fault dictionary: what every single fault does to every point in every condition, worked out
//! ahead, eight operating points at a time.
//!
//! Kept are node volts and relays, so that the volts between any two points follow by a subtraction
//! and what any other instrument shows by one more solve with the relays held.

use crate::circuit::model::{Change, Circuit, Condition, Lane, Lanes, NodeId};
use crate::circuit::solve::{FLOATS, Relays, STEP, Setting, Solver};

/// Operating points of one circuit: every change alone, in every condition.
pub struct FaultDictionary {
    conditions: usize,
    nodes: usize,
    /// Volts to the reference in steps of [`STEP`], change by change, condition by condition, node
    /// by node; [`FLOATS`] where the node floats.
    volts: Vec<i16>,
    relays: Vec<Relays>,
}

impl FaultDictionary {
    /// Solves every change in every condition, relays from rest. O(changes x conditions) solves;
    /// two bytes a node each.
    pub fn of(circuit: &Circuit, conditions: &[Condition], changes: &[Change]) -> Self {
        let nodes = circuit.node_count();
        let points = changes.len() * conditions.len();
        let mut dictionary = Self {
            conditions: conditions.len(),
            nodes,
            volts: Vec::with_capacity(points * nodes),
            relays: Vec::with_capacity(points),
        };
        let sound: Vec<_> = conditions.iter().map(|c| Setting::new(circuit, c)).collect();
        let mut lanes: Vec<_> = sound.iter().take(Lanes::WIDTH).cloned().collect();
        let mut common: Solver<'_, Lanes> = Solver::new(circuit);
        let mut tied = vec![0; nodes];
        for change in changes {
            // What joins nodes needs an elimination of its own.
            let mut own = (!change.joins(circuit).is_empty())
                .then(|| Solver::<Lanes>::for_changes(circuit, &[*change]));
            let solver = own.as_mut().unwrap_or(&mut common);
            for batch in sound.chunks(Lanes::WIDTH) {
                for (lane, setting) in lanes.iter_mut().zip(batch) {
                    lane.copy_from(setting);
                    lane.apply(circuit, *change);
                }
                let settings: Vec<_> = lanes.iter().take(batch.len()).collect();
                solver.solve(&settings, &[]);
                dictionary.relays.extend((0..batch.len()).map(|lane| solver.relays(lane)));
                solver.append_volts(batch.len(), &mut tied, &mut dictionary.volts);
            }
        }
        dictionary
    }

    /// What a meter that draws nothing shows between two points with a change in a condition, by
    /// their indices, in volts; `None` where one of them floats.
    pub fn volts(
        &self,
        change: usize,
        condition: usize,
        red: NodeId,
        black: NodeId,
    ) -> Option<f64> {
        let at = (change * self.conditions + condition) * self.nodes;
        let (red, black) = (self.volts[at + red.index()], self.volts[at + black.index()]);
        (red != FLOATS && black != FLOATS).then(|| (f64::from(red) - f64::from(black)) * STEP)
    }

    /// The relays with a change in a condition.
    pub fn relays(&self, change: usize, condition: usize) -> Relays {
        self.relays[change * self.conditions + condition]
    }

    /// How many operating points it holds.
    pub fn len(&self) -> usize {
        self.relays.len()
    }

    pub fn is_empty(&self) -> bool {
        self.relays.is_empty()
    }
}
