//! The sweep of a kill wire: plugs off, one lead on the bared wire and one on ground, controls moved.

use super::context::{Complaint, Context};
use super::kill_conditions::sweep_conditions;
use super::safety::{Hazards, solid_with};
use super::survey::{Candidates, measure, unplugged};
use crate::circuit::{Circuit, Condition, ElementId, ElementKind, Instrument, NodeId};
use crate::diagnosis::evidence::{SetUp, TestAction};
use crate::interlock::Ladder;
use std::collections::BTreeSet;

impl Candidates<'_> {
    /// Ohms from the kill wire to ground, the modules off it, controls being moved.
    pub(crate) fn sweeps(&self) -> Vec<Context> {
        let mut all = Vec::new();
        for ladder in &self.ladders {
            let conditions = sweep_conditions(self.circuit, ladder, &self.dead);
            for cut in &self.hazards.cuts {
                let off = unplugged(cut);
                let with = [Instrument::Ohmmeter, Instrument::Buzzer];
                let actions = self.sweep_probes(ladder, cut, &off, with);
                for condition in &conditions {
                    for battery in [vec![], vec![SetUp::BatteryOff]] {
                        let set_up = [off.clone(), battery].concat();
                        let context = self.context(condition, set_up, actions.clone());
                        all.push(Context { sweep: true, ..context });
                    }
                }
            }
        }
        all
    }

    /// From the harness side of the plugs that are off, to the engine's metal.
    pub(crate) fn sweep_probes<const N: usize>(
        &self,
        ladder: &Ladder,
        cut: &[usize],
        off: &[SetUp],
        with: [Instrument; N],
    ) -> Vec<TestAction> {
        let circuit = self.circuit;
        let ground = solid_with(circuit, ladder.to);
        let plugged = || self.points.iter().filter(|p| p.unplugged.is_none());
        let black = plugged().find(|p| p.node == ladder.to);
        let Some(black) = black.or_else(|| plugged().find(|p| ground.contains(&p.node))) else {
            return Vec::new();
        };
        let rest = Condition::at_rest(circuit);
        let ends = cut.iter().flat_map(|c| circuit.joints(*c)).flat_map(|j| {
            let e = circuit.element(j);
            [e.a, e.b]
        });
        let ends: BTreeSet<NodeId> = ends.filter(|n| self.hazards.kill_nodes.contains(n)).collect();
        let reds = self.reachable(off).into_iter().filter(|p| {
            let probe = (Instrument::Ohmmeter, [p.node, black.node]);
            ends.contains(&p.node) && self.hazards.allows(off, &rest, probe)
        });
        reds.flat_map(|red| with.map(|with| measure(with, red, black))).collect()
    }
}

/// The ways to set up the sweep of a kill circuit: plugs off, and the buzzer put to the bared wire
/// and to ground.
pub(crate) fn sweep_set_ups(
    circuit: &Circuit,
    hazards: &Hazards,
    ladder: &Ladder,
) -> Vec<(Vec<SetUp>, TestAction)> {
    let complaint = Complaint::of(&[], &Condition::at_rest(circuit));
    let all = Candidates::of(circuit, hazards, &complaint);
    // No buzzer sounds through a diode; the diode range shows its drop.
    let diode = |e: &ElementId| matches!(circuit.element(*e).kind, ElementKind::Diode { .. });
    let coupled = ladder.rungs.iter().any(|r| r.path.elements.iter().skip(1).any(diode));
    let with = if coupled { Instrument::DiodeRange } else { Instrument::Buzzer };
    let set_ups = hazards.cuts.iter().flat_map(|cut| {
        let off = unplugged(cut);
        let probes = all.sweep_probes(ladder, cut, &off, [with]);
        probes.into_iter().map(move |action| (off.clone(), action)).collect::<Vec<_>>()
    });
    set_ups.collect()
}
