//! The next test: the most information a minute, from where the mechanic already is.

use super::candidates::{Context, PlacedProbe, candidates, power_off};
use super::likelihood::LEADS_OHMS;
use super::predict::{Predicted, Predictor};
use super::{Belief, Evidence, Observation, SetUp, Suspects, Unit};
use crate::circuit::{Circuit, Condition, Crank, ElementKind, Instrument};
use crate::machine::TRAVEL_MINUTES;
use serde::Serialize;
use std::collections::BTreeSet;

/// What to do next, and what stands.
#[derive(Clone, Debug)]
pub struct Plan {
    /// Nothing was heard yet in this condition: turn the key and listen first.
    pub listen: bool,
    /// Tests, the best first.
    pub tests: Vec<NextTest>,
    /// Units that no reachable test tells apart, each set as one; most suspected first.
    pub groups: Vec<Vec<Unit>>,
    pub conclusion: Option<Conclusion>,
}

/// One unit or group holds nearly all the weight.
#[derive(Clone, Debug)]
pub struct Conclusion {
    pub units: Vec<Unit>,
    pub probability: f64,
    /// A second, different observation points to it too.
    pub confirmed: bool,
}

#[derive(Clone, Debug)]
pub struct NextTest {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub instrument: Instrument,
    /// Test points, by index into the document's.
    pub red: usize,
    pub black: usize,
    /// Reaching the points from where the mechanic is, setting up, reading.
    pub minutes: f64,
    /// Expected information about which unit it is.
    pub bits: f64,
    pub answers: Vec<Answer>,
    pub cautions: Vec<Caution>,
}

/// What an answer would mean.
#[derive(Clone, Debug)]
pub struct Answer {
    pub range: AnswerRange,
    pub probability: f64,
    /// The units it would leave, most suspected first, with their probabilities then.
    pub units: Vec<(Unit, f64)>,
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub enum AnswerRange {
    Volts { low: f64, high: f64 },
    Ohms { low: f64, high: f64 },
    OverRange,
}

/// What to mind at this test.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Caution {
    /// The condition asks the starter to turn.
    MayCrank,
    /// Ohms: the key stays off, the blades off.
    PowerOff,
    /// Ohms across a key switch that is turned with its plug off: the battery off first.
    BatteryOff,
    /// The unplugged connector bares live pins on its harness side.
    LiveHarness,
}

/// A unit or group is named at this probability.
const NAMED_AT: f64 = 0.985;
/// Above this a unit leads.
const LEADS_AT: f64 = 0.9;
/// Hypotheses below this no longer count in planning.
const NEGLIGIBLE: f64 = 1e-5;
/// The chance that an answer falls in another class than predicted.
const CONFUSED: f64 = 0.03;
const READ_MINUTES: f64 = 0.25;
const UNPLUG_MINUTES: f64 = 0.4;
const BY_HAND_MINUTES: f64 = 0.15;
const MOVE_MINUTES: f64 = 0.1;
/// Answers that a bit each can stand for.
const MOST_CLASSES: usize = 63;
/// Tests shown beside the best.
const MOST_TESTS: usize = 5;

/// Plans from a belief.
///
/// # Arguments
/// `condition` is the one complained of. `log` tells where the mechanic stands and what is open.
pub fn plan(
    circuit: &Circuit,
    suspects: &Suspects,
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Plan {
    let listen = !log
        .iter()
        .any(|e| matches!(e.observation, Observation::Heard(_)) && e.condition == *condition);
    let contexts = candidates(circuit, suspects, condition);
    let units = Units::of(suspects, belief);
    let standing = Standing::of(circuit, log);
    let confirmed = units.top().is_some_and(|unit| belief.confirmed(suspects, &[unit]));
    let weights = tempered(&belief.hypotheses, &units, confirmed);
    let active: Vec<usize> = (0..weights.len()).filter(|h| weights[*h] > NEGLIGIBLE).collect();
    let mut tests = Vec::new();
    let mut signatures: Vec<Vec<u64>> = vec![Vec::new(); suspects.list.len()];
    for context in &contexts {
        for (probe, predictions, cranks) in predictions(circuit, suspects, belief, &active, context)
        {
            let Some(classes) = Classes::sort(&predictions) else {
                continue;
            };
            for (h, class) in active.iter().zip(&classes.of) {
                let signature = &mut signatures[suspects.hypotheses[*h].suspect];
                signature.resize(tests.len() + 1, 0);
                signature[tests.len()] |= 1 << class;
            }
            let minutes = standing.minutes(circuit, condition, context, probe);
            let bits = classes.information(&active, &weights, &units);
            let answers = classes.answers(&active, &belief.hypotheses, &units);
            tests.push(NextTest {
                condition: context.condition.clone(),
                set_up: context.set_up.clone(),
                instrument: probe.probe.instrument,
                red: probe.red,
                black: probe.black,
                minutes,
                bits,
                answers,
                cautions: cautions(circuit, context, probe, cranks),
            });
        }
    }
    let gain: Vec<_> =
        suspects.list.iter().zip(&belief.suspects).map(|(s, now)| now / s.prior).collect();
    let groups = units.groups(&signatures, &gain);
    let conclusion = groups.first().and_then(|group| {
        let probability = group.iter().map(|u| units.weight(*u)).sum::<f64>();
        (probability >= NAMED_AT).then(|| Conclusion {
            confirmed: belief.confirmed(suspects, group),
            units: group.clone(),
            probability,
        })
    });
    tests.retain(|t| t.bits > 1e-4 && !already_done(circuit, log, t));
    tests.sort_by(|a, b| (b.bits / b.minutes).total_cmp(&(a.bits / a.minutes)));
    tests.truncate(MOST_TESTS);
    Plan { listen, tests, groups, conclusion }
}

/// The belief to plan with: where one unit leads but is not confirmed, its lead is taken back a
/// little, so that the test that would confirm it is worth making.
fn tempered(weights: &[f64], units: &Units, confirmed: bool) -> Vec<f64> {
    let leads = units.list.first().is_some_and(|(_, weight, _)| *weight > LEADS_AT);
    if confirmed || !leads {
        return weights.to_vec();
    }
    let softer: Vec<_> = weights
        .iter()
        .zip(&units.of)
        .map(|(w, unit)| w * units.list[*unit].1.max(f64::MIN_POSITIVE).powf(-0.5))
        .collect();
    let total: f64 = softer.iter().sum();
    softer.iter().map(|w| w / total).collect()
}

/// For every probe of a context what each active hypothesis predicts, and whether any of weight
/// would crank.
fn predictions<'a>(
    circuit: &Circuit,
    suspects: &Suspects,
    belief: &Belief,
    active: &[usize],
    context: &'a Context,
) -> Vec<(&'a PlacedProbe, Vec<Predicted>, bool)> {
    let mut predictor =
        Predictor::new(circuit, &context.condition, &context.set_up, belief.supply_volts);
    let probes: Vec<_> = context.probes.iter().map(|p| p.probe).collect();
    let mut by_probe: Vec<Vec<Predicted>> = vec![Vec::with_capacity(active.len()); probes.len()];
    let mut cranks = false;
    for h in active {
        predictor.suppose(&suspects.hypotheses[*h]);
        cranks |= predictor.crank() != Crank::No;
        for (list, predicted) in by_probe.iter_mut().zip(predictor.read(&probes)) {
            list.push(predicted);
        }
    }
    context.probes.iter().zip(by_probe).map(|(p, list)| (p, list, cranks)).collect()
}

/// Predictions sorted into the answers a mechanic can tell apart.
struct Classes {
    ranges: Vec<AnswerRange>,
    /// The class of each active hypothesis.
    of: Vec<usize>,
}

impl Classes {
    /// `None` where any hypothesis would have ohms refused: such a test is never proposed.
    fn sort(predictions: &[Predicted]) -> Option<Self> {
        let scale = |p: &Predicted| match *p {
            Predicted::Volts { mean, .. } => Some((mean, false)),
            Predicted::Ohms(ohms) => {
                Some((ohms.map_or(f64::INFINITY, |o| (o + LEADS_OHMS).ln()), true))
            }
            _ => None,
        };
        let values: Option<Vec<_>> = predictions.iter().map(scale).collect();
        let values = values?;
        let ohms = values.first()?.1;
        let mut order: Vec<usize> = (0..values.len()).collect();
        order.sort_by(|a, b| values[*a].0.total_cmp(&values[*b].0));
        let mut of = vec![0; values.len()];
        let mut ranges: Vec<(f64, f64)> = Vec::new();
        for i in order {
            let v = values[i].0;
            // Volts apart by less than this, or ohms by less than a factor, are one answer.
            let gap = if ohms { 0.8 } else { 0.4 };
            let full = ranges.len() == MOST_CLASSES;
            match ranges.last_mut() {
                Some((_, high)) if full || v - *high <= gap || v == *high => *high = v,
                _ => ranges.push((v, v)),
            }
            of[i] = ranges.len() - 1;
        }
        let back = |v: f64| (v.exp() - LEADS_OHMS).max(0.0);
        let ranges = ranges
            .into_iter()
            .map(|(low, high)| match ohms {
                true if low.is_infinite() => AnswerRange::OverRange,
                true => AnswerRange::Ohms { low: back(low), high: back(high) },
                // No negative zero for a screen to show.
                false => AnswerRange::Volts { low: low + 0.0, high: high + 0.0 },
            })
            .collect();
        Some(Self { ranges, of })
    }

    /// Expected drop of the entropy over units, in bits, some answers being taken for others.
    fn information(&self, active: &[usize], weights: &[f64], units: &Units) -> f64 {
        let n = self.ranges.len();
        let mut table = vec![vec![0.0; n]; units.list.len()];
        for (h, class) in active.iter().zip(&self.of) {
            table[units.of[*h]][*class] += weights[*h];
        }
        let total: f64 = table.iter().flatten().sum();
        let noisy = |row: &[f64]| -> (f64, f64) {
            let sum: f64 = row.iter().sum();
            let entropy = row
                .iter()
                .map(|w| (1.0 - CONFUSED) * w / sum + CONFUSED / n as f64)
                .map(|p| -p * p.log2())
                .sum();
            (sum / total, entropy)
        };
        let all: Vec<f64> = (0..n).map(|c| table.iter().map(|row| row[c]).sum()).collect();
        let within: f64 = table
            .iter()
            .filter(|row| row.iter().sum::<f64>() > 0.0)
            .map(|row| noisy(row))
            .map(|(share, entropy)| share * entropy)
            .sum();
        (noisy(&all).1 - within).max(0.0)
    }

    fn answers(&self, active: &[usize], weights: &[f64], units: &Units) -> Vec<Answer> {
        let total: f64 = active.iter().map(|h| weights[*h]).sum();
        let mut answers: Vec<_> = self
            .ranges
            .iter()
            .enumerate()
            .map(|(c, range)| {
                let mut left = vec![0.0; units.list.len()];
                for (h, class) in active.iter().zip(&self.of) {
                    if *class == c {
                        left[units.of[*h]] += weights[*h];
                    }
                }
                let sum: f64 = left.iter().sum();
                let mut named: Vec<_> = left
                    .iter()
                    .enumerate()
                    .filter(|(_, w)| **w > 0.0)
                    .map(|(u, w)| (units.list[u].0, w / sum))
                    .collect();
                named.sort_by(|a, b| b.1.total_cmp(&a.1));
                named.truncate(4);
                Answer { range: *range, probability: sum / total, units: named }
            })
            .filter(|a| a.probability > 0.005)
            .collect();
        answers.sort_by(|a, b| b.probability.total_cmp(&a.probability));
        answers.truncate(4);
        answers
    }
}

/// Units, their weights, and which each hypothesis belongs to.
struct Units {
    /// Unit, weight, the suspect that weighs most in it.
    list: Vec<(Unit, f64, usize)>,
    of: Vec<usize>,
}

impl Units {
    fn of(suspects: &Suspects, belief: &Belief) -> Self {
        let list: Vec<_> = belief
            .units(suspects)
            .into_iter()
            .map(|u| (u.unit, u.probability, u.suspect))
            .collect();
        let index = |unit| list.iter().position(|(u, ..)| *u == unit).unwrap_or(0);
        let by_suspect: Vec<_> = suspects.list.iter().map(|s| index(s.unit)).collect();
        let of = suspects.hypotheses.iter().map(|h| by_suspect[h.suspect]).collect();
        Self { list, of }
    }

    fn top(&self) -> Option<Unit> {
        self.list.first().map(|(u, ..)| *u)
    }

    fn weight(&self, unit: Unit) -> f64 {
        self.list.iter().find(|(u, ..)| *u == unit).map_or(0.0, |(_, w, _)| *w)
    }

    /// Units whose heaviest suspects answer every test alike, and have so far.
    ///
    /// # Arguments
    /// `gain` is what the evidence has done to each suspect: probability now over prior weight.
    fn groups(&self, signatures: &[Vec<u64>], gain: &[f64]) -> Vec<Vec<Unit>> {
        let mut groups: Vec<(usize, f64, Vec<Unit>)> = Vec::new();
        for (unit, weight, suspect) in self.list.iter().filter(|(_, w, _)| *w > NEGLIGIBLE) {
            let alike = |other: &usize| {
                let so_far = gain[*other] / gain[*suspect];
                !signatures[*other].is_empty()
                    && signatures[*other] == signatures[*suspect]
                    && (1.0 / 3.0..3.0).contains(&so_far)
            };
            match groups.iter_mut().find(|(first, ..)| alike(first)) {
                Some((_, sum, units)) => {
                    *sum += weight;
                    units.push(*unit);
                }
                None => groups.push((*suspect, *weight, vec![*unit])),
            }
        }
        groups.sort_by(|a, b| b.1.total_cmp(&a.1));
        groups.into_iter().map(|(_, _, units)| units).collect()
    }
}

/// Where the mechanic stands, what is open and how the machine is set.
struct Standing {
    place: Option<usize>,
    open: BTreeSet<usize>,
    condition: Option<Condition>,
    set_up: Vec<SetUp>,
}

impl Standing {
    fn of(circuit: &Circuit, log: &[Evidence]) -> Self {
        let mut standing =
            Self { place: None, open: BTreeSet::new(), condition: None, set_up: vec![] };
        for entry in log {
            standing.condition = Some(entry.condition.clone());
            standing.set_up.clone_from(&entry.set_up);
            let Observation::Read { red, .. } = entry.observation else {
                continue;
            };
            let point = circuit
                .document()
                .test_points
                .iter()
                .find(|p| circuit.terminal(&p.terminal) == Ok(red));
            if let Some(place) = point.and_then(|p| place_of(circuit, &p.place)) {
                standing.place = Some(place);
                standing.open.insert(place);
            }
        }
        standing
    }

    fn minutes(
        &self,
        circuit: &Circuit,
        usual: &Condition,
        context: &Context,
        probe: &PlacedProbe,
    ) -> f64 {
        let document = circuit.document();
        let mut minutes = READ_MINUTES;
        let red = &document.test_points[probe.red].place;
        if let Some(place) = place_of(circuit, red)
            && self.place != Some(place)
        {
            minutes += self.place.map_or(TRAVEL_MINUTES, |from| {
                let (from, to) = (&document.places[from], &document.places[place]);
                let known = to.minutes_from.get(&from.id).or(from.minutes_from.get(&to.id));
                known.copied().unwrap_or(TRAVEL_MINUTES)
            });
            if !self.open.contains(&place) {
                minutes += document.places[place].cover_minutes;
            }
        }
        for set_up in context.set_up.iter().filter(|s| !self.set_up.contains(s)) {
            minutes += match set_up {
                SetUp::Unplugged(_) => UNPLUG_MINUTES,
                SetUp::PressedByHand(_) => BY_HAND_MINUTES,
            };
        }
        // Putting back what the test does not want costs as much.
        let undone = self.set_up.iter().filter(|s| !context.set_up.contains(s)).count();
        minutes += undone as f64 * UNPLUG_MINUTES;
        let now = self.condition.as_ref().unwrap_or(usual);
        let moved = now.positions.iter().zip(&context.condition.positions).filter(|(a, b)| a != b);
        minutes + moved.count() as f64 * MOVE_MINUTES
    }
}

fn place_of(circuit: &Circuit, id: &str) -> Option<usize> {
    circuit.document().places.iter().position(|p| p.id == id)
}

fn cautions(
    circuit: &Circuit,
    context: &Context,
    probe: &PlacedProbe,
    cranks: bool,
) -> Vec<Caution> {
    let mut all = Vec::new();
    let ohms = matches!(probe.probe.instrument, Instrument::Ohmmeter | Instrument::Buzzer);
    if cranks && !ohms {
        all.push(Caution::MayCrank);
    }
    if ohms {
        let dead = power_off(circuit, &context.condition) == context.condition;
        all.push(if dead { Caution::PowerOff } else { Caution::BatteryOff });
    }
    let bares_feed = context.set_up.iter().any(|s| match s {
        SetUp::Unplugged(part) => circuit.joints(*part).any(|j| {
            let e = circuit.element(j);
            reaches_battery(circuit, e.a)
        }),
        SetUp::PressedByHand(_) => false,
    });
    if bares_feed {
        all.push(Caution::LiveHarness);
    }
    all
}

/// Whether a node hangs on a battery's positive post through nothing that is ever switched.
fn reaches_battery(circuit: &Circuit, node: crate::circuit::NodeId) -> bool {
    let mut reached = BTreeSet::from([node]);
    loop {
        let before = reached.len();
        for (_, e) in circuit.elements() {
            let fixed =
                matches!(e.kind, ElementKind::Wire | ElementKind::Joint | ElementKind::Fuse { .. });
            if fixed && (reached.contains(&e.a) || reached.contains(&e.b)) {
                reached.insert(e.a);
                reached.insert(e.b);
            }
        }
        if reached.len() == before {
            break;
        }
    }
    circuit
        .elements()
        .any(|(_, e)| matches!(e.kind, ElementKind::Source { .. }) && reached.contains(&e.b))
}

/// Whether the log already has this very test.
fn already_done(circuit: &Circuit, log: &[Evidence], test: &NextTest) -> bool {
    let node = |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).ok();
    log.iter().any(|e| match e.observation {
        Observation::Read { instrument, red, black, .. } => {
            instrument == test.instrument
                && Some(red) == node(test.red)
                && Some(black) == node(test.black)
                && e.condition == test.condition
                && e.set_up == test.set_up
        }
        Observation::Heard(_) => false,
    })
}
