//! Whether anything at all tells two faults apart: the yardstick for groups, which does not depend
//! on what the planner looks at.
//!
//! Compared are: what is noticed in every condition and engine state; the volts at every reachable
//! point in every condition, and how a test lamp burns there; a stator's alternating volts with the
//! engine running; and, with the battery off, the ohms between points and the diode range across
//! diodes, with each connector plugged and unplugged, controls at rest and each moved, plungers
//! worked and by hand.

use crate::circuit::{
    Circuit, Condition, ElementKind, Engine, Instrument, NodeId, PlungerId, Relays,
    every_condition, one_move_away,
};
use crate::diagnosis::{
    Hazards, Predicted, Predictor, Probe, Scenario, SetUp, solid_with, told_apart,
};
use crate::interlock::Judge;
use std::collections::HashMap;
use std::sync::{Mutex, PoisonError};

pub struct Universe {
    conditions: Vec<Condition>,
    /// Condition, set-up, and the pairs that are reachable in it.
    ohms: Vec<(Condition, Vec<SetUp>, Vec<Probe>)>,
    /// With the engine standing.
    volts: Vec<Probe>,
    /// With it running.
    alternating: Vec<Probe>,
    known: Mutex<HashMap<(usize, usize), bool>>,
}

/// Every point is measured against these many others, spread over the machine, and its neighbors.
const AGAINST: usize = 3;

impl Universe {
    pub fn of(circuit: &Circuit) -> Self {
        let hazards = Hazards::of(circuit);
        let points: Vec<(NodeId, Option<usize>)> = circuit
            .document()
            .test_points
            .iter()
            .filter_map(|p| {
                let connector = p.unplugged.as_ref().and_then(|id| circuit.part_named(id));
                Some((circuit.terminal(&p.terminal).ok()?, connector))
            })
            .collect();
        let black = circuit.posts().map_or(NodeId::REFERENCE, |(negative, _)| negative);
        let conditions = every_condition(circuit);
        let stopped = Condition::at_rest(circuit);
        let plugged = points.iter().filter(|(node, plug)| plug.is_none() && *node != black);
        let fed = plugged.flat_map(|(red, _)| {
            let with = [Instrument::Voltmeter, Instrument::TestLamp];
            with.map(|instrument| Probe { instrument, red: *red, black })
        });
        let volts = fed
            .filter(|p| hazards.allows(&[], &stopped, (p.instrument, [p.red, p.black])))
            .collect();
        let across = |of: fn(ElementKind) -> bool, instrument: Instrument| -> Vec<Probe> {
            let own = circuit.elements().filter(|(_, e)| of(e.kind));
            let on = |node: NodeId| {
                let solid = solid_with(circuit, node);
                points.iter().find(|(n, _)| solid.contains(n)).map(|(n, _)| *n)
            };
            let ends = own.filter_map(|(_, e)| Some((on(e.a)?, on(e.b)?)));
            let both = ends.flat_map(|(a, b)| [(a, b), (b, a)]);
            both.map(|(red, black)| Probe { instrument, red, black }).collect()
        };
        let winding = |kind| matches!(kind, ElementKind::Winding { .. });
        let alternating = across(winding, Instrument::AcVoltmeter);
        let diode = |kind| matches!(kind, ElementKind::Diode { .. });
        let diodes = across(diode, Instrument::DiodeRange);
        let mut ohms = Vec::new();
        let mut connectors: Vec<Option<usize>> = points.iter().map(|(_, c)| *c).collect();
        connectors.sort_unstable();
        connectors.dedup();
        for connector in connectors {
            let off: Vec<_> = connector.map(SetUp::Unplugged).into_iter().collect();
            let reachable: Vec<NodeId> = points
                .iter()
                .filter(|(_, c)| c.is_none() || *c == connector)
                .map(|(node, _)| *node)
                .collect();
            let within = |p: &&Probe| reachable.contains(&p.red) && reachable.contains(&p.black);
            let reached = diodes.iter().filter(within).copied();
            let mut set_ups = vec![off.clone()];
            for (i, plunger) in circuit.plungers.iter().enumerate() {
                let part = connector.filter(|_| !circuit.part(plunger.part).contacts.is_empty());
                if part.is_some_and(|c| mates_with(circuit, c, plunger.part)) {
                    let plunger = PlungerId(i as u16);
                    for by_hand in [SetUp::PressedByHand(plunger), SetUp::FreedByHand(plunger)] {
                        set_ups.push([off.clone(), vec![by_hand]].concat());
                    }
                }
            }
            // With a module on its wire an ohmmeter gives no verdict there.
            let cuts = hazards.cuts.iter().map(|cut| cut.iter().copied().map(SetUp::Unplugged));
            let module_off = cuts.map(|cut| off.iter().copied().chain(cut).collect::<Vec<_>>());
            set_ups.extend(module_off.collect::<Vec<_>>());
            for set_up in set_ups {
                for condition in [vec![stopped.clone()], one_move_away(circuit, &stopped)].concat()
                {
                    let set_up = [set_up.clone(), vec![SetUp::BatteryOff]].concat();
                    let probes = pairs(&reachable).chain(reached.clone()).filter(|p| {
                        hazards.allows(&set_up, &condition, (p.instrument, [p.red, p.black]))
                    });
                    let probes = probes.collect();
                    ohms.push((condition, set_up, probes));
                }
            }
        }
        Self { conditions, ohms, volts, alternating, known: Mutex::default() }
    }

    /// Whether anything tells two scenarios apart; kept once worked out.
    pub fn tells_apart(
        &self,
        circuit: &Circuit,
        scenarios: &[Scenario],
        one: usize,
        other: usize,
    ) -> bool {
        let key = (one.min(other), one.max(other));
        let known = self.known.lock().unwrap_or_else(PoisonError::into_inner).get(&key).copied();
        known.unwrap_or_else(|| {
            let apart = one != other && self.compare(circuit, &scenarios[one], &scenarios[other]);
            self.known.lock().unwrap_or_else(PoisonError::into_inner).insert(key, apart);
            apart
        })
    }

    fn compare(&self, circuit: &Circuit, one: &Scenario, other: &Scenario) -> bool {
        let running = [one, other].map(|c| Judge::new(circuit, &c.changes).running_relays());
        for condition in &self.conditions {
            for engine in [Engine::Stopped, Engine::Cranking, Engine::Running] {
                let at = Condition { engine, ..condition.clone() };
                let mut predictor = Predictor::new(circuit, &at, &[], NOMINAL_VOLTS);
                let runs = engine >= Engine::Running;
                let mut noticed = |scenario: &Scenario, running: Relays| {
                    predictor.suppose(scenario, if runs { running } else { Relays::default() });
                    let shown = predictor.shown();
                    let probes = match engine {
                        Engine::Stopped => self.volts.as_slice(),
                        Engine::Cranking => &[],
                        _ => &self.alternating,
                    };
                    (shown, predictor.read(probes))
                };
                let (a, b) = (noticed(one, running[0]), noticed(other, running[1]));
                if a.0 != b.0 || differ(&a.1, &b.1) {
                    return true;
                }
            }
        }
        self.ohms.iter().any(|(condition, set_up, probes)| {
            let mut predictor = Predictor::new(circuit, condition, set_up, NOMINAL_VOLTS);
            let [one, other] = [one, other].map(|scenario| {
                predictor.suppose(scenario, Relays::default());
                predictor.read(probes)
            });
            differ(&one, &other)
        })
    }
}

const NOMINAL_VOLTS: f64 = crate::machine::BATTERY_VOLTS;

fn differ(one: &[Predicted], other: &[Predicted]) -> bool {
    one.iter().zip(other).any(|(a, b)| told_apart(*a, *b))
}

fn mates_with(circuit: &Circuit, connector: usize, part: usize) -> bool {
    let id = &circuit.part(part).id;
    circuit.part(connector).mates.values().any(|mate| mate.split('.').next() == Some(id.as_str()))
}

fn pairs(points: &[NodeId]) -> impl Iterator<Item = Probe> + '_ {
    let n = points.len();
    let against = (0..AGAINST).map(move |k| k * n / AGAINST);
    let fixed = against.flat_map(move |j| (0..n).map(move |i| (i, j)));
    let next = (1..n).map(|i| (i - 1, i));
    fixed.chain(next).filter(|(i, j)| points[*i] != points[*j]).map(|(i, j)| Probe {
        instrument: Instrument::Ohmmeter,
        red: points[i],
        black: points[j],
    })
}
