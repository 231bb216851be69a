//! How far what a fault changes is felt in one situation: most faults are nowhere near where a current
//! flows or a probe stands, and need not be solved.

use crate::circuit::{Change, Circuit, DiodeRange, Engine, NodeId, Settled};
use crate::diagnosis::evidence::Probe;
use crate::diagnosis::faults::Scenario;
use std::cell::RefCell;

/// The sound machine in a situation, asked what a scenario would come to in it.
pub(crate) struct Reach<'a> {
    circuit: &'a Circuit,
    engine: Engine,
    /// None where it chatters: then everything is felt.
    settled: Option<Settled<'a>>,
}

impl<'a> Reach<'a> {
    pub fn new(circuit: &'a Circuit, engine: Engine, settled: Option<Settled<'a>>) -> Self {
        Self { circuit, engine, settled }
    }

    /// Whether the sound machine settles, so that anything can be said of it.
    pub fn is_known(&self) -> bool {
        self.settled.is_some()
    }

    /// Whether a scenario changes nothing in a circuit that stands still like this.
    fn does_nothing(&self, scenario: &Scenario) -> bool {
        scenario.changes.iter().all(|change| change.does_nothing(self.engine))
    }

    /// Whether nothing that a scenario changes carries a current or comes to carry one: volts across
    /// everything, relays and fuses are the sound machine's. A piece that comes off, or is joined at
    /// one place, has its volts counted from elsewhere.
    pub fn is_dormant(&self, scenario: &Scenario) -> bool {
        self.does_nothing(scenario)
            || self.settled.as_ref().is_some_and(|settled| match scenario.changes[..] {
                [change] => settled.is_dormant(change),
                _ => false,
            })
    }

    /// Whether node volts are the sound machine's, too.
    pub fn is_unseen(&self, scenario: &Scenario) -> bool {
        // What conducts goes on conducting.
        let stays = |c: &Change| matches!(c, Change::Ohms(..) | Change::ShortedTurns(..));
        self.does_nothing(scenario)
            || self.settled.as_ref().is_some_and(|settled| {
                let ends = scenario.only_between(self.circuit);
                scenario.changes.iter().all(stays) && ends.is_some_and(|e| settled.is_still(e))
            })
    }

    /// What probes would feel.
    ///
    /// # Arguments
    /// `dead` is whether nothing drives a current anywhere, whatever is wrong. `ranges` are the diode
    /// ranges among the probes, as read on the sound machine.
    pub fn at(
        &self,
        probes: &[Probe],
        dead: bool,
        ranges: Vec<Option<DiodeRange<'a>>>,
    ) -> Feeling<'_> {
        let drive = |p: &Probe| self.settled.as_ref()?.drive(p.red, p.black);
        let ranges = ranges.into_iter().chain(std::iter::repeat_with(|| None));
        let each = probes.iter().zip(ranges).map(|(p, range)| match range {
            Some(range) => (*p, Means::Range(Box::new(RefCell::new(range)))),
            None => (*p, Means::Ampere(drive(p))),
        });
        Feeling { of: self, dead, probes: each.collect() }
    }
}

/// What a changed conductance would be felt by: the potentials that an ampere from probe to probe
/// makes. By reciprocity, what is changed where that ampere makes no volts changes nothing between
/// the probes.
pub(crate) struct Feeling<'a> {
    of: &'a Reach<'a>,
    dead: bool,
    probes: Vec<(Probe, Means<'a>)>,
}

/// By what a probe feels: node volts with an ampere driven through, none where its points lie apart;
/// or a diode range, which turns diodes itself.
enum Means<'a> {
    Ampere(Option<Vec<f64>>),
    Range(Box<RefCell<DiodeRange<'a>>>),
}

/// Less than this share of the probes' own volts is none.
const NO_SHARE: f64 = 1e-9;

impl Feeling<'_> {
    /// Whether a probe, by its place, may feel a dormant scenario.
    pub fn of(&self, probe: usize, scenario: &Scenario) -> bool {
        let Some(settled) = &self.of.settled else { return true };
        if self.of.does_nothing(scenario) {
            return false;
        }
        let Some((a, b)) = scenario.only_between(self.of.circuit) else { return true };
        let (Probe { red, black, .. }, means) = &self.probes[probe];
        let driven = match means {
            Means::Range(range) => return !range.borrow_mut().is_still((a, b)),
            Means::Ampere(driven) => driven,
        };
        if !settled.joined((a, b)) {
            // What is joined there may be on something live.
            return !self.dead || settled.bridges((a, b), (*red, *black));
        }
        // Cut off from what feeds it, a probe is no longer on anything live.
        if !settled.is_calm(*red) || !settled.is_calm(*black) {
            return true;
        }
        let Some(volts) = driven else { return false };
        let across = |a: NodeId, b: NodeId| (volts[a.index()] - volts[b.index()]).abs();
        across(a, b) > NO_SHARE * across(*red, *black)
    }
}

#[cfg(test)]
mod tests {
    use crate::circuit::{Circuit, Condition, Engine, Instrument, Relays};
    use crate::diagnosis::evidence::{Probe, SetUp};
    use crate::diagnosis::faults::Suspects;
    use crate::diagnosis::predict::{FaultModel, Predicted, Predictor, Shown, Situation};
    use crate::machine::{LIBRARY, Machine};
    use crate::random::Random;
    use std::sync::Arc;

    /// What is left out as felt nowhere must be what solving it would have come to.
    #[test]
    fn what_is_left_out_is_what_solving_it_comes_to() {
        let mut left = (0, 0);
        for shipped in LIBRARY {
            let machine = Machine::read(shipped.text).expect("a library machine");
            let circuit = Arc::new(Circuit::compile(&machine));
            let suspects = Arc::new(Suspects::of(&circuit));
            let model = FaultModel::new(circuit.clone(), suspects.clone(), Arc::default());
            let mut random = Random::for_case(7, shipped.name, 0);
            for situation in situations(&circuit, &mut random) {
                let probes = probes(&circuit, &situation, &mut random);
                compare(&model, &situation, &probes, shipped.name, &mut left);
            }
        }
        assert!(left.0 > 100_000 && left.1 > 10_000, "too little was compared: {left:?}");
    }

    fn situations(circuit: &Circuit, random: &mut Random) -> Vec<Situation> {
        let mut conditions = circuit.normal_use();
        conditions.push(Condition::at_rest(circuit));
        let off = |sets: &[SetUp]| sets.contains(&SetUp::BatteryOff);
        let all = SetUp::all(circuit);
        let mut found = Vec::new();
        for condition in conditions {
            let still = Condition { engine: Engine::Stopped, ..condition.clone() };
            let one = all[random.index(all.len())];
            for set_up in [vec![], vec![one], vec![one, SetUp::BatteryOff]] {
                let at = if off(&set_up) { &still } else { &condition };
                found.push(Situation::new(at, &set_up));
            }
        }
        found
    }

    fn probes(circuit: &Circuit, situation: &Situation, random: &mut Random) -> Vec<Probe> {
        let points = circuit.document().test_points.len();
        let feeds = [Instrument::Ohmmeter, Instrument::Buzzer, Instrument::DiodeRange];
        let shows = [Instrument::TestLamp, Instrument::LedLamp, Instrument::AcVoltmeter];
        let running = situation.condition.engine != Engine::Stopped;
        let wires: Vec<_> = circuit.elements().filter(|(_, e)| e.wire.is_some()).collect();
        let stands = situation.condition.positions.iter().map(|p| u64::from(*p)).sum::<u64>();
        let around = wires[(7 * stands as usize + situation.set_up.len()) % wires.len()].1;
        let clamp = Probe { instrument: Instrument::Clamp, red: around.a, black: around.b };
        let mut node = || circuit.test_point(random.index(points)).expect("a point");
        let with = shows.iter().chain(feeds.iter().filter(|_| !running));
        with.flat_map(|i| [*i; 2])
            .map(|instrument| Probe { instrument, red: node(), black: node() })
            .chain([clamp])
            .filter(|p| p.red != p.black)
            .collect()
    }

    /// The same for any meter; what sizes beside it make of it apart.
    fn alike(kept: Predicted, solved: Predicted) -> bool {
        let near = |a: f64, b: f64| (a - b).abs() <= 1e-6 * (1.0 + a.abs());
        let both = |a: Option<f64>, b: Option<f64>| match (a, b) {
            (Some(a), Some(b)) => near(a, b),
            (a, b) => a == b,
        };
        match (kept, solved) {
            (Predicted::Ohms { ohms: a, .. }, Predicted::Ohms { ohms: b, .. }) => both(a, b),
            (Predicted::Lamp { volts: a, .. }, Predicted::Lamp { volts: b, .. }) => near(a, b),
            (Predicted::AcVolts(a), Predicted::AcVolts(b)) => near(a, b),
            // Of the last digits of volts across a milliohm.
            (Predicted::Amps { mean: a, .. }, Predicted::Amps { mean: b, .. }) => {
                (a - b).abs() <= 1e-4 * (1.0 + a.abs())
            }
            (Predicted::Drop(a), Predicted::Drop(b)) => both(a, b),
            (a, b) => a == b,
        }
    }

    /// Looks up everything, and solves it all in the same way once more with nothing left out.
    fn compare(
        model: &FaultModel,
        situation: &Situation,
        probes: &[Probe],
        name: &str,
        compared: &mut (usize, usize),
    ) {
        let (circuit, scenarios) = (&*model.circuit, &model.suspects.scenarios);
        let dictionary = model.dictionary(situation);
        let (shown, looked) = (dictionary.shown(), dictionary.look(probes));
        let (condition, set_up) = (&situation.condition, &situation.set_up);
        let supply = dictionary.emf(&scenarios[0]);
        let mut predictor = Predictor::new(circuit, condition, set_up, supply);
        let running = situation.runs().then(|| model.running());
        for (c, scenario) in scenarios.iter().enumerate() {
            let from = running.as_ref().map_or(Relays::default(), |r| r[c]);
            predictor.suppose(scenario, from);
            let solved: Shown = predictor.shown();
            let what = || format!("{name}: {:?} in {situation:?}", scenario.changes);
            assert_eq!(shown[c], solved, "{}", what());
            compared.1 += 1;
            for (probe, read) in probes.iter().zip(predictor.read(probes)) {
                let kept = looked[probe][c];
                assert!(alike(kept, read), "{} {probe:?}: {kept:?}, {read:?}", what());
                compared.0 += 1;
            }
        }
    }
}
