//! What a mechanic waits for: suspects after a reading, the next test, and a first plan.

#[path = "../tests/library/mod.rs"]
mod library;

use criterion::{Criterion, criterion_group, criterion_main};
use kelvok_core::circuit::{Circuit, Condition, Instrument, Reading, Relays, parse_change, read};
use kelvok_core::diagnosis::{Belief, Evidence, Heard, Model, Observation, Sensed, Source};
use std::hint::black_box;
use std::sync::Arc;

/// The tractor with two cylinders, and the machine with most columns.
const MACHINES: [&str; 2] = ["pellwick-gt-46", "dunmarrow-z-52"];

struct Job {
    model: Model,
    circuit: Arc<Circuit>,
    condition: Condition,
    log: Vec<Evidence>,
}

impl Job {
    /// Silent at the key, its start pole open, and volts at so many points one after the other.
    fn of(name: &str, readings: usize) -> Self {
        let circuit = Arc::new(library::circuit(name));
        let model = Model::new(circuit.clone());
        let rest = Condition::at_rest(&circuit);
        let mut job = Self { model, condition: rest, circuit, log: vec![] };
        job.condition.set(&job.circuit, "key", "start").expect("a key");
        job.add(Observation::Sensed(Sensed::Starter(Heard::Silent)));
        let points = &job.circuit.document().test_points;
        let terminal = |i: usize| job.circuit.terminal(&points[i].terminal).expect("a point");
        let black = job.circuit.terminal("battery.-").expect("a battery");
        let plugged: Vec<_> = (0..points.len())
            .filter(|i| points[*i].unplugged.is_none() && terminal(*i) != black)
            .map(terminal)
            .collect();
        let wrong = [parse_change(&job.circuit, "key.start=open").expect("a key switch")];
        let meter = Instrument::Voltmeter;
        for i in 0..readings {
            let red = plugged[i % plugged.len()];
            let at = (&job.circuit, &job.condition);
            let shown = read(at.0, at.1, Relays::default(), &wrong, meter, (red, black));
            let Ok(Reading::Volts(volts)) = shown else { continue };
            // The last digit is the meter's.
            let reading = Reading::Volts(volts + 0.01 * (i % 3) as f64);
            job.add(Observation::Read { instrument: meter, red, black, reading });
        }
        job
    }

    fn add(&mut self, observation: Observation) {
        self.log.push(Evidence {
            sequence: self.log.len() as u64 + 1,
            condition: self.condition.clone(),
            set_up: vec![],
            observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        });
    }

    fn judge(&self) -> Belief {
        self.model.judge(&self.log)
    }
}

/// Suspects after a reading, all pages known; with a few readings and with five hundred.
fn suspects(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("suspects after a reading");
    group.sample_size(20);
    for name in MACHINES {
        for readings in [1, 500] {
            let job = Job::of(name, readings);
            job.judge();
            group.bench_function(format!("{name}, {readings}"), |b| {
                b.iter(|| black_box(job.judge()))
            });
        }
    }
    group.finish();
}

/// The next test from a belief, the catalog known.
fn next_test(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("next test");
    group.sample_size(20);
    for name in MACHINES {
        let job = Job::of(name, 1);
        let belief = job.judge();
        let next = || job.model.plan(&belief, &job.log, &job.condition);
        next();
        group.bench_function(name, |b| b.iter(|| black_box(next())));
    }
    group.finish();
}

/// The first plan of a machine never asked about, and the sweep of its kill wire.
fn first(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("first asked");
    group.sample_size(10);
    for name in MACHINES {
        let job = Job::of(name, 0);
        group.bench_function(format!("{name}, plan"), |b| {
            b.iter(|| {
                let model = Model::new(job.circuit.clone());
                model.prepare(&job.condition);
                black_box(model);
            });
        });
    }
    let job = Job::of(MACHINES[0], 0);
    group.bench_function("pellwick-gt-46, sweep", |b| {
        b.iter(|| black_box(Model::new(job.circuit.clone()).kill_sweep("kill")));
    });
    group.finish();
}

/// What five hundred readings prove.
fn proved(criterion: &mut Criterion) {
    let job = Job::of(MACHINES[0], 500);
    let belief = job.judge();
    criterion.bench_function("proofs of 500 readings", |b| {
        b.iter(|| black_box(job.model.proofs(&belief, &job.log)));
    });
}

criterion_group!(benches, suspects, next_test, first, proved);
criterion_main!(benches);
