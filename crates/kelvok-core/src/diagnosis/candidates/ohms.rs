//! What is read with the power off: ohms, the buzzer and the diode range, from point to point and
//! across what a plug bares.

use super::context::Context;
use super::safety::{power_off, solid_with};
use super::survey::{Candidates, Point, measure, unplugged};
use crate::circuit::{
    Actuator, Circuit, ElementId, ElementKind, Instrument, NodeId, PlungerId, Resolved,
    one_move_away,
};
use crate::diagnosis::evidence::{SetUp, TestAction};
use crate::machine::PartKind;
use std::collections::{BTreeSet, HashMap};

impl Candidates<'_> {
    /// Ohms from each point to the next, key off: all plugged in, and the kill wires with the
    /// modules off them.
    pub(crate) fn ohms(&self) -> Vec<Context> {
        let mut all = Vec::new();
        let mut set_ups = vec![vec![]];
        set_ups.extend(self.hazards.cuts.iter().map(|cut| unplugged(cut)));
        for set_up in set_ups {
            let pairs = self.neighbors(&set_up, &self.reachable(&set_up));
            let actions = self.between(pairs, &[Instrument::Ohmmeter]);
            for battery in [vec![], vec![SetUp::BatteryOff]] {
                let set_up = [set_up.clone(), battery].concat();
                all.push(self.context(&self.dead, set_up, actions.clone()));
            }
            // A key that is off grounds the kill wire, and so joins what is to be told apart.
            if !set_up.is_empty() {
                let set_up = [set_up, vec![SetUp::BatteryOff]].concat();
                let turned = self.key_turned();
                let turned =
                    turned.iter().map(|c| self.context(c, set_up.clone(), actions.clone()));
                all.extend(turned);
            }
        }
        all
    }

    /// Pairs of points, by index, with no other point on the way between them.
    fn neighbors(&self, set_up: &[SetUp], points: &[&Point]) -> BTreeSet<(usize, usize)> {
        let circuit = self.circuit;
        let on: HashMap<NodeId, usize> = points.iter().map(|p| (p.node, p.index)).collect();
        let apart = |e: ElementId| {
            let e = circuit.element(e);
            let off = |p: usize| set_up.contains(&SetUp::Unplugged(p));
            let joint = e.kind == ElementKind::Joint && e.part.is_some_and(off);
            joint || matches!(e.kind, ElementKind::Source { .. })
        };
        let mut pairs = BTreeSet::new();
        for (start, index) in &on {
            let mut seen = BTreeSet::from([*start]);
            let mut next = vec![*start];
            while let Some(node) = next.pop() {
                for (element, other, _) in circuit.around(node) {
                    if apart(*element) || !seen.insert(*other) {
                        continue;
                    }
                    match on.get(other) {
                        Some(there) => {
                            pairs.insert((*index.min(there), *index.max(there)));
                        }
                        // The metal of the machine is next to everything.
                        None if *other == NodeId::REFERENCE => {}
                        None => next.push(*other),
                    }
                }
            }
        }
        pairs
    }

    /// Ohms across what each connector bares, as the controls stand and worked by hand.
    pub(crate) fn unplugged(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let mut all = Vec::new();
        let connectors: BTreeSet<_> = self.points.iter().filter_map(|p| p.unplugged).collect();
        for connector in connectors {
            let off = SetUp::Unplugged(connector);
            let reachable = self.reachable(&[off]);
            let bare = self.points.iter().filter(|p| p.unplugged == Some(connector));
            let bare: BTreeSet<_> = bare.map(|p| p.node).collect();
            let bared: Vec<_> = circuit
                .elements()
                .filter(|(_, e)| {
                    let used = matches!(
                        e.kind,
                        ElementKind::Contact(_)
                            | ElementKind::Coil(_)
                            | ElementKind::Load
                            | ElementKind::Winding { .. }
                    );
                    used && (bare.contains(&e.a) || bare.contains(&e.b))
                })
                .map(|(id, _)| id)
                .collect();
            let own: BTreeSet<_> = circuit
                .joints(connector)
                .flat_map(|j| [circuit.element(j).a, circuit.element(j).b])
                .collect();
            let at_plug = |index: usize| {
                self.points.iter().any(|p| p.index == index && own.contains(&p.node))
            };
            let mut pairs = self.neighbors(&[off], &reachable);
            pairs.retain(|(a, b)| at_plug(*a) || at_plug(*b));
            let actions = self.between(pairs, &[Instrument::Ohmmeter, Instrument::Buzzer]);
            if actions.is_empty() {
                continue;
            }
            let plungers: BTreeSet<PlungerId> =
                bared.iter().filter_map(|e| plunger_of(circuit, *e)).collect();
            let controls = controls_of(circuit, &bared);
            if controls.is_empty() {
                all.push(self.context(&self.dead, vec![off], actions.clone()));
            }
            for control in controls {
                // A key or hand switch is tried in every position; nothing else needs the power.
                for position in 0..circuit.controls[control].positions.len() {
                    let mut condition = self.dead.clone();
                    condition.positions[control] = position as u8;
                    if circuit.can_occur(&condition) {
                        all.push(self.context(&condition, vec![off], actions.clone()));
                    }
                }
            }
            for plunger in plungers {
                for by_hand in [SetUp::PressedByHand(plunger), SetUp::FreedByHand(plunger)] {
                    all.push(self.context(&self.dead, vec![off, by_hand], actions.clone()));
                }
                // As the machine itself works it, the other way round.
                let pressed = circuit.pressed(plunger, &self.dead);
                let other = one_move_away(circuit, &self.dead).into_iter().find(|c| {
                    circuit.pressed(plunger, c) != pressed && power_off(circuit, c) == *c
                });
                if let Some(other) = other {
                    all.push(self.context(&other, vec![off], actions.clone()));
                }
            }
        }
        all
    }

    /// Where a short is: ohms to ground behind each fuse, at the pins of a plug, and on the kill
    /// wire, with one plug after the other off, the battery off.
    pub(crate) fn shorts(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let fuses = circuit.elements().filter(|(_, e)| matches!(e.kind, ElementKind::Fuse { .. }));
        let behind: BTreeSet<NodeId> =
            fuses.flat_map(|(_, e)| [e.a, e.b]).flat_map(|n| solid_with(circuit, n)).collect();
        let plugged = || self.points.iter().filter(|p| p.unplugged.is_none());
        let negative = circuit.posts().map(|(negative, _)| negative);
        let Some(black) = plugged().find(|p| Some(p.node) == negative) else {
            return Vec::new();
        };
        let mut seen = BTreeSet::new();
        // One point a piece of metal.
        let reds: Vec<_> = plugged()
            .filter(|p| behind.contains(&p.node))
            .filter(|p| seen.insert(solid_with(circuit, p.node)))
            .map(|red| measure(Instrument::Ohmmeter, red, black))
            .collect();
        let connectors: BTreeSet<usize> = circuit
            .elements()
            .filter(|(_, e)| e.kind == ElementKind::Joint)
            .filter_map(|(_, e)| e.part)
            .collect();
        let grounded = solid_with(circuit, black.node);
        let mut moved = one_move_away(circuit, &self.dead);
        moved.retain(|c| power_off(circuit, c) == *c);
        let mut all = Vec::new();
        for plug in connectors {
            let off = vec![SetUp::Unplugged(plug), SetUp::BatteryOff];
            // And the plug's own pins, on either side of it.
            let pins: BTreeSet<NodeId> = circuit
                .joints(plug)
                .flat_map(|j| [circuit.element(j).a, circuit.element(j).b])
                .filter(|n| !grounded.contains(n))
                .collect();
            let bared = self.reachable(&off).into_iter().filter(|p| pins.contains(&p.node));
            let bared = bared.map(|red| measure(Instrument::Ohmmeter, red, black));
            let bared: Vec<_> = bared.collect();
            let actions = reds.iter().copied().chain(bared.clone()).collect();
            all.push(self.context(&self.dead, off.clone(), actions));
            // What two switches join, one plug alone does not take apart.
            let moved = moved.iter().map(|c| self.context(c, off.clone(), bared.clone()));
            all.extend(moved);
            let [cut] = self.hazards.cuts.as_slice() else { continue };
            if !self.hazards.kill_plugs.contains(&plug) || cut.contains(&plug) {
                continue;
            }
            for ladder in &self.ladders {
                let off = [unplugged(cut), vec![SetUp::Unplugged(plug)]].concat();
                let actions = self.sweep_probes(ladder, cut, &off, [Instrument::Ohmmeter]);
                let off = [off, vec![SetUp::BatteryOff]].concat();
                let turned = self.key_turned();
                let turned = turned.iter().map(|c| self.context(c, off.clone(), actions.clone()));
                all.extend(turned);
            }
        }
        all
    }

    /// Where a plug bares a kill lead that a module still hangs on: the same with the module off.
    pub(crate) fn with_modules_off(&self, bared: &[Context]) -> Vec<Context> {
        let barred = |context: &Context| -> Vec<TestAction> {
            let allowed = |action: &TestAction| match self.probes(*action) {
                Some(with) => self.hazards.allows(&context.set_up, &context.condition, with),
                None => true,
            };
            context.actions.iter().copied().filter(|d| !allowed(d)).collect()
        };
        let mut all = Vec::new();
        // Where no one plug takes the modules off there is no telling which would.
        let [cut] = self.hazards.cuts.as_slice() else {
            return all;
        };
        for context in bared {
            let actions = barred(context);
            if actions.is_empty() {
                continue;
            }
            let already = |c: &usize| context.set_up.contains(&SetUp::Unplugged(*c));
            if cut.iter().all(already) {
                continue;
            }
            let set_up = [context.set_up.clone(), unplugged(cut)].concat();
            let with_battery_off = [set_up.clone(), vec![SetUp::BatteryOff]].concat();
            // Worked by hand, a switch is told apart without the key.
            let plain = context.set_up.len() == 1 && context.condition == self.dead;
            let turned = self.key_turned().into_iter().filter(|_| plain);
            all.extend(turned.map(|condition| Context {
                condition,
                set_up: with_battery_off.clone(),
                actions: actions.clone(),
                ..context.clone()
            }));
            all.push(Context { set_up, actions, ..context.clone() });
        }
        all
    }

    /// From each point to the next by these instruments.
    fn between(
        &self,
        pairs: impl IntoIterator<Item = (usize, usize)>,
        with: &[Instrument],
    ) -> Vec<TestAction> {
        let point = |index| self.points.iter().find(|p| p.index == index);
        let apart = pairs.into_iter().filter_map(|(a, b)| Some((point(a)?, point(b)?)));
        let apart = apart.filter(|(a, b)| a.node != b.node);
        apart.flat_map(|(a, b)| with.iter().map(move |with| measure(*with, a, b))).collect()
    }

    /// The diode range across each diode, both ways, the battery off: as all is plugged in, and
    /// with the modules off their wires.
    pub(crate) fn diodes(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let kind = |part: Option<usize>| part.map(|p| circuit.part(p).kind);
        let own = circuit.elements().filter(|(_, e)| {
            matches!(e.kind, ElementKind::Diode { .. }) && kind(e.part) == Some(PartKind::Diode)
        });
        let ends: Vec<_> = own.map(|(_, e)| [e.a, e.b].map(|n| solid_with(circuit, n))).collect();
        let mut set_ups = vec![vec![]];
        set_ups.extend(self.hazards.cuts.iter().map(|cut| unplugged(cut)));
        let mut all = Vec::new();
        for set_up in set_ups {
            let set_up = [set_up, vec![SetUp::BatteryOff]].concat();
            let reachable = self.reachable(&set_up);
            let mut actions = Vec::new();
            for [anode, cathode] in &ends {
                let on = |nodes: &BTreeSet<NodeId>| {
                    reachable.iter().copied().find(|p| nodes.contains(&p.node))
                };
                let (Some(a), Some(b)) = (on(anode), on(cathode)) else { continue };
                actions
                    .extend([(a, b), (b, a)].map(|(a, b)| measure(Instrument::DiodeRange, a, b)));
            }
            all.push(self.context(&self.dead, set_up, actions));
        }
        all
    }
}

fn plunger_of(circuit: &Circuit, element: ElementId) -> Option<PlungerId> {
    match circuit.element(element).kind {
        ElementKind::Contact(c) => match circuit.contacts[c].actuator {
            Actuator::Plunger { plunger, .. } => Some(plunger),
            _ => None,
        },
        _ => None,
    }
}

/// The controls that move any of these contacts directly, by index.
fn controls_of(circuit: &Circuit, elements: &[ElementId]) -> BTreeSet<usize> {
    let mut controls = BTreeSet::new();
    for element in elements {
        if let ElementKind::Contact(c) = circuit.element(*element).kind
            && let Actuator::Control(expression) = &circuit.contacts[c].actuator
        {
            controls.extend(expression.terms().iter().filter_map(|term| match term {
                Resolved::Control { index, .. } => Some(*index),
                _ => None,
            }));
        }
    }
    controls
}
