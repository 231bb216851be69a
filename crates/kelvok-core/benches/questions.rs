//! What is asked of a machine as a whole: its fault dictionary, its interlock logic, its sheet.

#[path = "../tests/library/mod.rs"]
mod library;

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use kelvok_core::circuit::{OutcomeDictionary, Relays, every_condition, single_faults};
use kelvok_core::interlock::{FaultSheet, InterlockTable, Judge, prove_duties, sentences};
use std::hint::black_box;

/// What every single fault at every size does in every condition, on one core.
fn dictionary(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("fault dictionary");
    group.sample_size(10);
    let one = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a thread");
    for name in ["pellwick-gt-46", "dunmarrow-f-60"] {
        let circuit = library::circuit(name);
        let conditions = every_condition(&circuit);
        let faults = single_faults(&circuit);
        let sets: Vec<_> =
            faults.iter().flat_map(|f| f.magnitudes().iter().map(|m| vec![f.at(*m)])).collect();
        group.throughput(Throughput::Elements((conditions.len() * sets.len()) as u64));
        let all = || OutcomeDictionary::of(&circuit, &conditions, &sets, |_, _| Relays::default());
        group.bench_function(name, |b| b.iter(|| one.install(|| black_box(all().len()))));
    }
    group.finish();
}

/// Table, sentences and duties.
fn logic(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("interlock logic");
    group.sample_size(10);
    let machines = [
        ("made up, 14 two-position controls", library::wide::wide(14)),
        ("pellwick-gt-46", library::gt46()),
        ("dunmarrow-z-60m", library::circuit("dunmarrow-z-60m")),
    ];
    for (name, circuit) in &machines {
        group.bench_function(*name, |b| {
            b.iter(|| {
                let mut judge = Judge::new(circuit, &[]);
                let table = InterlockTable::of(&mut judge).expect("few enough");
                black_box(sentences(circuit, &table));
                black_box(prove_duties(&mut judge));
            });
        });
    }
    group.finish();
}

/// The whole fault-and-effect sheet, on every core.
fn sheet(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("fault sheet");
    group.sample_size(10);
    for name in ["pellwick-gt-46", "dunmarrow-f-60"] {
        let circuit = library::circuit(name);
        group.bench_function(name, |b| b.iter(|| black_box(FaultSheet::of(&circuit).rows.len())));
    }
    group.finish();
}

criterion_group!(benches, dictionary, logic, sheet);
criterion_main!(benches);
