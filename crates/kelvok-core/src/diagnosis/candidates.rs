//! Everything that could be done next: points x instruments x conditions x set-ups, things tried on
//! the machine, and looks.

use super::safety::{Hazards, key_controls, power_off, solid_with};
use super::sweep::sweep_conditions;
use super::{Doing, Evidence, Inspected, Observation, Sense, SetUp, Suspects};
use crate::circuit::{
    Actuator, Circuit, Condition, ElementId, ElementKind, Engine, Instrument, NodeId, PlungerId,
    every_condition, one_move_away,
};
use crate::interlock::{Ladder, Track, nearest_complete};
use crate::machine::PartKind;
use std::collections::{BTreeSet, HashMap};

/// Things that can be done in one condition and set-up.
#[derive(Clone, Debug)]
pub(super) struct Context {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub doings: Vec<Doing>,
    /// Part of the sweep of a kill wire.
    pub sweep: bool,
}

/// A test point that lies on a node.
#[derive(Clone, Copy, Debug)]
struct Point {
    index: usize,
    node: NodeId,
    /// The connector, by part index, that must be unplugged to reach it.
    unplugged: Option<usize>,
}

/// What the log says of where to look.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(super) struct Complaint {
    /// The condition that is complained of.
    pub condition: Condition,
    /// The engine is known to run, at least for a while.
    pub ran: bool,
    /// The engine is known to crank.
    pub cranked: bool,
    /// It comes and goes.
    pub at_times: bool,
}

impl Complaint {
    /// What a log complains of; `condition` where it says nothing.
    pub fn of(log: &[Evidence], condition: &Condition) -> Self {
        let condition = condition.clone();
        // What was repaired is expected to run.
        let repaired = |e: &Evidence| matches!(e.observation, Observation::Repaired(_));
        let running = |e: &Evidence| e.condition.engine >= Engine::Running;
        let ran = log.iter().any(|e| running(e) || repaired(e));
        let cranked = ran || log.iter().any(|e| e.condition.engine == Engine::Cranking);
        Self { condition, ran, cranked, at_times: log.iter().any(|e| e.at_times) }
    }
}

/// All there is to do about a complaint.
pub(super) fn contexts(
    circuit: &Circuit,
    suspects: &Suspects,
    hazards: &Hazards,
    complaint: &Complaint,
) -> Vec<Context> {
    let all = Candidates::of(circuit, hazards, complaint);
    let mut contexts = all.volts();
    contexts.extend(all.ohms());
    contexts.extend(all.shorts());
    let bared = all.unplugged();
    contexts.extend(all.with_modules_off(&bared));
    contexts.extend(bared);
    contexts.extend(all.sweeps());
    contexts.extend(all.tries());
    contexts.push(all.looks(suspects));
    for context in &mut contexts {
        let (condition, set_up) = (&context.condition, &context.set_up);
        context.doings.retain(|doing| match doing {
            Doing::Measure { instrument, red, black } => {
                let node = |i: &usize| all.points.iter().find(|p| p.index == *i).map(|p| p.node);
                let (Some(red), Some(black)) = (node(red), node(black)) else {
                    return false;
                };
                hazards.allows(set_up, condition, (*instrument, [red, black]))
            }
            _ => true,
        });
    }
    // One context a condition and set-up.
    let mut merged: Vec<Context> = Vec::with_capacity(contexts.len());
    let mut at = HashMap::new();
    for context in contexts.into_iter().filter(|c| !c.doings.is_empty()) {
        let next = merged.len();
        let key = (context.condition.clone(), context.set_up.clone());
        let place = *at.entry(key).or_insert(next);
        if place == next {
            merged.push(context);
            continue;
        }
        let own = &mut merged[place];
        own.sweep |= context.sweep;
        let new = context.doings.into_iter().filter(|d| !own.doings.contains(d));
        let new: Vec<_> = new.collect();
        own.doings.extend(new);
    }
    merged
}

/// The ways to set up the sweep of a kill circuit: plugs off, and the buzzer put to the bared wire
/// and to ground.
pub(super) fn sweep_set_ups(
    circuit: &Circuit,
    hazards: &Hazards,
    ladder: &Ladder,
) -> Vec<(Vec<SetUp>, Doing)> {
    let complaint = Complaint::of(&[], &Condition::at_rest(circuit));
    let all = Candidates::of(circuit, hazards, &complaint);
    // No buzzer sounds through a diode; the diode range shows its drop.
    let diode = |e: &ElementId| matches!(circuit.element(*e).kind, ElementKind::Diode { .. });
    let coupled = ladder.rungs.iter().any(|r| r.path.elements.iter().skip(1).any(diode));
    let with = if coupled { Instrument::DiodeRange } else { Instrument::Buzzer };
    let set_ups = hazards.cuts.iter().flat_map(|cut| {
        let off = unplugged(cut);
        let probes = all.sweep_probes(ladder, cut, &off, [with]);
        probes.into_iter().map(move |doing| (off.clone(), doing)).collect::<Vec<_>>()
    });
    set_ups.collect()
}

struct Candidates<'a> {
    circuit: &'a Circuit,
    hazards: &'a Hazards,
    complaint: &'a Complaint,
    points: Vec<Point>,
    tracks: Vec<Track>,
    ladders: Vec<Ladder>,
    /// As complained of, engine standing.
    standing: Condition,
    /// The same with the key off.
    dead: Condition,
}

impl<'a> Candidates<'a> {
    fn of(circuit: &'a Circuit, hazards: &'a Hazards, complaint: &'a Complaint) -> Self {
        let named = &circuit.document().circuits;
        let tracks = named.iter().filter_map(|c| Track::lay_out(circuit, &c.id).ok());
        let ladders = named.iter().filter(|c| c.load.is_none());
        let ladders = ladders.filter_map(|c| Ladder::lay_out(circuit, &c.id).ok());
        let standing = Condition { engine: Engine::Stopped, ..complaint.condition.clone() };
        Self {
            circuit,
            hazards,
            complaint,
            points: points(circuit),
            tracks: tracks.collect(),
            ladders: ladders.collect(),
            dead: power_off(circuit, &standing),
            standing,
        }
    }

    fn plugged(&self) -> Vec<&Point> {
        self.points.iter().filter(|p| p.unplugged.is_none()).collect()
    }

    /// The test point on the battery's negative post, or failing that on the reference.
    fn negative(&self) -> Option<&Point> {
        let source = self.circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.a),
            _ => None,
        });
        let at =
            |node: NodeId| self.points.iter().find(|p| p.node == node && p.unplugged.is_none());
        source.and_then(at).or_else(|| at(NodeId::REFERENCE))
    }

    fn context(&self, condition: &Condition, set_up: Vec<SetUp>, doings: Vec<Doing>) -> Context {
        Context { condition: condition.clone(), set_up, doings, sweep: false }
    }

    /// Volts to the battery's negative post: as complained of, where each circuit ought to be
    /// complete, and at the charging circuit with the engine running.
    fn volts(&self) -> Vec<Context> {
        let Some(black) = self.negative() else {
            return Vec::new();
        };
        let plugged = self.plugged();
        let at = |nodes: &BTreeSet<NodeId>| -> Vec<Doing> {
            let on = plugged.iter().filter(|p| nodes.contains(&p.node) && p.node != black.node);
            on.map(|red| measure(Instrument::Voltmeter, red, black)).collect()
        };
        let everywhere: BTreeSet<_> = plugged.iter().map(|p| p.node).collect();
        let mut all = vec![self.context(&self.standing, vec![], at(&everywhere))];
        let mut shaken: BTreeSet<Condition> = BTreeSet::new();
        for track in &self.tracks {
            let Some(fed) = self.fed(track) else { continue };
            if fed != self.standing && !all.iter().any(|c| c.condition == fed) {
                all.push(self.context(&fed, vec![], at(&everywhere)));
            }
            shaken.insert(fed);
        }
        if self.complaint.at_times {
            for condition in shaken {
                for place in 0..self.circuit.document().places.len() {
                    let set_up = vec![SetUp::Shaken(place)];
                    all.push(self.context(&condition, set_up, at(&everywhere)));
                }
            }
        }
        if self.complaint.ran
            && let Some(running) = self.running()
        {
            let mut charging: BTreeSet<NodeId> = self
                .tracks
                .iter()
                .filter(|t| self.fed(t).is_none())
                .flat_map(Track::nodes)
                .collect();
            charging.extend(self.source_positive());
            all.push(self.context(&running, vec![], at(&charging)));
        }
        all
    }

    fn source_positive(&self) -> Option<NodeId> {
        self.circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.b),
            _ => None,
        })
    }

    /// The condition nearest to the complaint in which a sound machine feeds the track's load from
    /// its battery, engine standing.
    fn fed(&self, track: &Track) -> Option<Condition> {
        let positive = self.source_positive()?;
        let from_battery = solid_with(self.circuit, positive).contains(&track.from);
        from_battery.then(|| nearest_complete(self.circuit, track, &self.standing)).flatten()
    }

    /// The first condition of ordinary use with the engine running.
    fn running(&self) -> Option<Condition> {
        self.circuit.normal_use().into_iter().find(|c| c.engine >= Engine::Running)
    }

    /// Ohms from each point to the next, key off: all plugged in, and the kill wires with the
    /// modules off them.
    fn ohms(&self) -> Vec<Context> {
        let mut all = Vec::new();
        let mut set_ups = vec![vec![]];
        set_ups.extend(self.hazards.cuts.iter().map(|cut| unplugged(cut)));
        for set_up in set_ups {
            let pairs = self.neighbors(&set_up, &self.reachable(&set_up));
            let doings = self.ohms_between(pairs);
            for battery in [vec![], vec![SetUp::BatteryOff]] {
                let set_up = [set_up.clone(), battery].concat();
                all.push(self.context(&self.dead, set_up, doings.clone()));
            }
            // A key that is off grounds the kill wire, and so joins what is to be told apart.
            if !set_up.is_empty() {
                let set_up = [set_up, vec![SetUp::BatteryOff]].concat();
                let turned = self.key_turned();
                let turned = turned.iter().map(|c| self.context(c, set_up.clone(), doings.clone()));
                all.extend(turned);
            }
        }
        all
    }

    /// The machine as it stands, engine off, with the key in each position it stays in.
    fn key_turned(&self) -> Vec<Condition> {
        let circuit = self.circuit;
        let mut all = Vec::new();
        for key in key_controls(circuit) {
            for (position, known) in circuit.controls[key].positions.iter().enumerate() {
                let mut condition = self.dead.clone();
                condition.positions[key] = position as u8;
                let stays = known.returns_to.is_none() && condition != self.dead;
                if stays && circuit.can_occur(&condition) {
                    all.push(condition);
                }
            }
        }
        all
    }

    /// The points that can be reached with these connectors off.
    fn reachable(&self, set_up: &[SetUp]) -> Vec<&Point> {
        let off = |c: usize| set_up.contains(&SetUp::Unplugged(c));
        self.points.iter().filter(|p| p.unplugged.is_none_or(off)).collect()
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
    fn unplugged(&self) -> Vec<Context> {
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
            let doings = self.ohms_between(pairs);
            if doings.is_empty() {
                continue;
            }
            let plungers: BTreeSet<PlungerId> =
                bared.iter().filter_map(|e| plunger_of(circuit, *e)).collect();
            let controls = controls_of(circuit, &bared);
            if controls.is_empty() {
                all.push(self.context(&self.dead, vec![off], doings.clone()));
            }
            for control in controls {
                // A key or hand switch is tried in every position; nothing else needs the power.
                for position in 0..circuit.controls[control].positions.len() {
                    let mut condition = self.dead.clone();
                    condition.positions[control] = position as u8;
                    if circuit.can_occur(&condition) {
                        all.push(self.context(&condition, vec![off], doings.clone()));
                    }
                }
            }
            for plunger in plungers {
                for by_hand in [SetUp::PressedByHand(plunger), SetUp::FreedByHand(plunger)] {
                    all.push(self.context(&self.dead, vec![off, by_hand], doings.clone()));
                }
                // As the machine itself works it, the other way round.
                let pressed = circuit.pressed(plunger, &self.dead);
                let other = one_move_away(circuit, &self.dead).into_iter().find(|c| {
                    circuit.pressed(plunger, c) != pressed && power_off(circuit, c) == *c
                });
                if let Some(other) = other {
                    all.push(self.context(&other, vec![off], doings.clone()));
                }
            }
        }
        all
    }

    /// Where a short is: ohms to ground behind each fuse, at the pins of a plug, and on the kill
    /// wire, with one plug after the other off, the battery off.
    fn shorts(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let fuses = circuit.elements().filter(|(_, e)| matches!(e.kind, ElementKind::Fuse { .. }));
        let behind: BTreeSet<NodeId> =
            fuses.flat_map(|(_, e)| [e.a, e.b]).flat_map(|n| solid_with(circuit, n)).collect();
        let plugged = || self.points.iter().filter(|p| p.unplugged.is_none());
        let negative = circuit.elements().find_map(|(_, e)| match e.kind {
            ElementKind::Source { .. } => Some(e.a),
            _ => None,
        });
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
            let doings = reds.iter().copied().chain(bared.clone()).collect();
            all.push(self.context(&self.dead, off.clone(), doings));
            // What two switches join, one plug alone does not take apart.
            let moved = moved.iter().map(|c| self.context(c, off.clone(), bared.clone()));
            all.extend(moved);
            let [cut] = self.hazards.cuts.as_slice() else { continue };
            if !self.hazards.kill_plugs.contains(&plug) || cut.contains(&plug) {
                continue;
            }
            for ladder in &self.ladders {
                let off = [unplugged(cut), vec![SetUp::Unplugged(plug)]].concat();
                let doings = self.sweep_probes(ladder, cut, &off, [Instrument::Ohmmeter]);
                let off = [off, vec![SetUp::BatteryOff]].concat();
                let turned = self.key_turned();
                let turned = turned.iter().map(|c| self.context(c, off.clone(), doings.clone()));
                all.extend(turned);
            }
        }
        all
    }

    /// Where a plug bares a kill lead that a module still hangs on: the same with the module off.
    fn with_modules_off(&self, bared: &[Context]) -> Vec<Context> {
        let node = |i: usize| self.points.iter().find(|p| p.index == i).map(|p| p.node);
        let barred = |context: &Context| -> Vec<Doing> {
            let allowed = |doing: &Doing| match doing {
                Doing::Measure { instrument, red, black } => {
                    let ends = [node(*red), node(*black)].map(|n| n.unwrap_or(NodeId::REFERENCE));
                    let (at, with) = (&context.condition, (*instrument, ends));
                    self.hazards.allows(&context.set_up, at, with)
                }
                _ => true,
            };
            context.doings.iter().copied().filter(|d| !allowed(d)).collect()
        };
        let mut all = Vec::new();
        // Where no one plug takes the modules off there is no telling which would.
        let [cut] = self.hazards.cuts.as_slice() else {
            return all;
        };
        for context in bared {
            let doings = barred(context);
            if doings.is_empty() {
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
                doings: doings.clone(),
                ..context.clone()
            }));
            all.push(Context { set_up, doings, ..context.clone() });
        }
        all
    }

    /// Ohms from the kill wire to ground, the modules off it, controls being moved.
    fn sweeps(&self) -> Vec<Context> {
        let mut all = Vec::new();
        for ladder in &self.ladders {
            let conditions = sweep_conditions(self.circuit, ladder, &self.dead);
            for cut in &self.hazards.cuts {
                let off = unplugged(cut);
                let with = [Instrument::Ohmmeter, Instrument::Buzzer];
                let doings = self.sweep_probes(ladder, cut, &off, with);
                for condition in &conditions {
                    for battery in [vec![], vec![SetUp::BatteryOff]] {
                        let set_up = [off.clone(), battery].concat();
                        let context = self.context(condition, set_up, doings.clone());
                        all.push(Context { sweep: true, ..context });
                    }
                }
            }
        }
        all
    }

    /// From the harness side of the plugs that are off, to the engine's metal.
    fn sweep_probes<const N: usize>(
        &self,
        ladder: &Ladder,
        cut: &[usize],
        off: &[SetUp],
        with: [Instrument; N],
    ) -> Vec<Doing> {
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

    /// What can be tried on the machine, near the complaint and in ordinary use.
    fn tries(&self) -> Vec<Context> {
        let circuit = self.circuit;
        let mut conditions = vec![self.complaint.condition.clone()];
        conditions.extend(circuit.normal_use());
        conditions.extend(self.tracks.iter().filter_map(|t| self.fed(t)));
        if self.complaint.ran {
            // What kills it, one way at a time.
            let running = self.running().unwrap_or_else(|| self.standing.clone());
            for ladder in &self.ladders {
                let each = sweep_conditions(circuit, ladder, &running);
                let running = each.into_iter().map(|c| Condition { engine: Engine::Running, ..c });
                conditions.extend(running);
            }
        }
        let near: Vec<_> = [&self.complaint.condition]
            .into_iter()
            .chain(&conditions)
            .flat_map(|c| one_move_away(circuit, c))
            .collect();
        conditions.extend(near);
        let mut seen = BTreeSet::new();
        conditions.retain(|c| seen.insert(c.clone()));
        let lamps = super::entry::lamps(circuit).count();
        let starts = !circuit.document().drive.recoil;
        let clutch = circuit.document().parts.iter().any(|p| p.kind == PartKind::Clutch);
        let coupled = clutch || circuit.document().drive.blades_when.is_some();
        let mut all = Vec::new();
        for condition in conditions {
            let mut doings = Vec::new();
            match condition.engine {
                Engine::Stopped => {
                    doings.extend(starts.then_some(Sense::Starter));
                    doings.extend(clutch.then_some(Sense::Blades));
                    doings.extend((0..lamps).map(Sense::Lamp));
                }
                Engine::Cranking if self.complaint.cranked => doings.push(Sense::Engine),
                Engine::Running if self.complaint.ran => {
                    doings.push(Sense::Engine);
                    doings.extend(coupled.then_some(Sense::Blades));
                }
                _ => continue,
            }
            let doings = doings.into_iter().map(Doing::Try).collect();
            all.push(self.context(&condition, vec![], doings));
        }
        all
    }

    /// The walk-round: what can be seen and felt with everything off.
    fn looks(&self, suspects: &Suspects) -> Context {
        let circuit = self.circuit;
        let mut looks = BTreeSet::new();
        for suspect in suspects.list.iter().skip(1) {
            for (fault, element) in suspect.faults.iter().zip(&suspect.elements) {
                if let Some(plunger) = fault.plunger() {
                    looks.insert(Inspected::Linkage(plunger));
                    continue;
                }
                let e = circuit.element(*element);
                looks.extend(match (e.kind, e.part, e.wire) {
                    (ElementKind::Fuse { .. }, ..) => Some(Inspected::Fuse(*element)),
                    (ElementKind::Ground, ..) => Some(Inspected::Lug(*element)),
                    (ElementKind::Wire, None, Some(wire)) => Some(Inspected::Wire(wire)),
                    (ElementKind::Joint, Some(part), _)
                        if circuit.part(part).kind == PartKind::Connector =>
                    {
                        Some(Inspected::Plug(part))
                    }
                    _ => None,
                });
            }
        }
        self.context(&self.dead, vec![], looks.into_iter().map(Doing::Look).collect())
    }

    fn ohms_between(&self, pairs: impl IntoIterator<Item = (usize, usize)>) -> Vec<Doing> {
        let point = |index| self.points.iter().find(|p| p.index == index);
        let apart = pairs.into_iter().filter_map(|(a, b)| {
            let (a, b) = (point(a)?, point(b)?);
            (a.node != b.node).then(|| measure(Instrument::Ohmmeter, a, b))
        });
        apart.collect()
    }
}

fn unplugged(connectors: &[usize]) -> Vec<SetUp> {
    connectors.iter().map(|c| SetUp::Unplugged(*c)).collect()
}

fn measure(instrument: Instrument, red: &Point, black: &Point) -> Doing {
    Doing::Measure { instrument, red: red.index, black: black.index }
}

fn points(circuit: &Circuit) -> Vec<Point> {
    let all = circuit.document().test_points.iter().enumerate();
    all.filter_map(|(index, point)| {
        Some(Point {
            index,
            node: circuit.terminal(&point.terminal).ok()?,
            unplugged: match &point.unplugged {
                Some(id) => Some(circuit.part_named(id)?),
                None => None,
            },
        })
    })
    .collect()
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
                crate::circuit::Resolved::Control { index, .. } => Some(*index),
                _ => None,
            }));
        }
    }
    controls
}

/// Conditions with the engine standing, in order of how many controls differ from this one.
pub(super) fn by_moves(circuit: &Circuit, from: &Condition) -> Vec<Condition> {
    let mut all = every_condition(circuit);
    let moved =
        |c: &Condition| c.positions.iter().zip(&from.positions).filter(|(a, b)| a != b).count();
    all.sort_by_key(moved);
    all
}
