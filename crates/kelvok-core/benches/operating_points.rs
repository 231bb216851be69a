//! Complete operating points (relays iterated, all node volts) over all conditions x faults.
//!
//! The same work done four ways in one run: ours one at a time, ours eight at a time, a dense LU
//! of a general linear-algebra crate on a matrix of fixed size (nothing allocated), and a sparse
//! Cholesky in our elimination order, its symbolic part done once and its numbers refilled.
//!
//! Criterion's `elem/s` is operating points a second.

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use kelvok_core::circuit::{
    Change, Circuit, ElementKind, Lanes, NodeId, Relays, Setting, Solver, every_condition,
    single_faults,
};
use kelvok_core::machine::{LIBRARY, Machine};
use nalgebra::{Const, DimMin, SMatrix, SVector};
use nalgebra_sparse::factorization::{CscCholesky, CscSymbolicCholesky};
use nalgebra_sparse::{CooMatrix, CscMatrix, pattern::SparsityPattern};
use std::hint::black_box;

/// What a case starts from: a condition's setting, and one fault.
struct Work {
    circuit: Circuit,
    conditions: Vec<Setting>,
    faults: Vec<Change>,
    /// Pairs of indices into the two lists, thinned to keep a run short.
    cases: Vec<(usize, usize)>,
}

fn work(name: &str) -> Work {
    let shipped = LIBRARY.iter().find(|m| m.name == name).expect("shipped");
    let machine = Machine::read(shipped.text).expect("sound");
    let circuit = Circuit::compile(&machine);
    let conditions: Vec<_> =
        every_condition(&circuit).iter().map(|c| Setting::new(&circuit, c)).collect();
    // What joins nodes needs a matrix of another shape, ours and the rivals' alike.
    let faults: Vec<_> = single_faults(&circuit)
        .iter()
        .map(|f| f.at(f.magnitudes()[0]))
        .filter(|change| change.joins(&circuit).is_empty())
        .collect();
    let cases =
        (0..faults.len()).flat_map(|f| (0..conditions.len()).map(move |c| (c, f))).collect();
    Work { circuit, conditions, faults, cases }
}

/// A nodal matrix solved by somebody else's factorization, relays iterated as ours are.
///
/// Diodes stay off and fuses whole: both machines' faults leave them so but for a handful.
trait Baseline {
    fn solve(&mut self, conductance: &[f64], injection: &[(usize, f64)]) -> &[f64];
}

struct Rival<'c, B> {
    circuit: &'c Circuit,
    base: Vec<f64>,
    baseline: B,
}

impl<B: Baseline> Rival<'_, B> {
    fn operating_point(&mut self, setting: &Setting) -> f64 {
        let circuit = self.circuit;
        let mut relays = 0u64;
        for _ in 0..8 {
            for (id, e) in circuit.elements() {
                self.base[id.index()] = match e.kind {
                    ElementKind::Diode { .. } => 0.0,
                    _ => setting.siemens_with(circuit, id, Relays(relays)),
                };
            }
            let mut injection = [(0, 0.0); 4];
            let mut n = 0;
            for (id, e) in circuit.elements() {
                if let ElementKind::Source { .. } = e.kind {
                    let amps = self.base[id.index()] * setting.volts(id);
                    injection[n] = (e.b.index(), amps);
                    injection[n + 1] = (e.a.index(), -amps);
                    n += 2;
                }
            }
            let volts = self.baseline.solve(&self.base, &injection[..n]);
            let mut after = 0;
            for (c, coil) in circuit.coils.iter().enumerate() {
                let e = circuit.element(coil.element);
                let across = if self.base[coil.element.index()] > 0.0 {
                    (volts[e.a.index()] - volts[e.b.index()]).abs()
                } else {
                    0.0
                };
                let pulled = match relays >> c & 1 {
                    1 => across > coil.drops_out,
                    _ => across >= coil.pulls_in,
                };
                after |= u64::from(pulled) << c;
            }
            if after == relays {
                break;
            }
            relays = after;
        }
        self.baseline.solve(&self.base, &[])[1]
    }
}

/// A conductance so small that an open part still leaves the matrix regular, in siemens.
const LEAK: f64 = 1e-12;

struct Dense<'c, const N: usize> {
    circuit: &'c Circuit,
    volts: Vec<f64>,
}

impl<const N: usize> Baseline for Dense<'_, N>
where
    Const<N>: DimMin<Const<N>, Output = Const<N>>,
{
    fn solve(&mut self, conductance: &[f64], injection: &[(usize, f64)]) -> &[f64] {
        if injection.is_empty() {
            return &self.volts;
        }
        let mut matrix = SMatrix::<f64, N, N>::zeros();
        let mut right = SVector::<f64, N>::zeros();
        for n in 0..N {
            matrix[(n, n)] = LEAK;
        }
        for (id, e) in self.circuit.elements() {
            let g = conductance[id.index()];
            let (a, b) = (e.a.index(), e.b.index());
            for (n, m) in [(a, b), (b, a)] {
                if n > 0 {
                    matrix[(n - 1, n - 1)] += g;
                    if m > 0 {
                        matrix[(n - 1, m - 1)] -= g;
                    }
                }
            }
        }
        for (node, amps) in injection.iter().filter(|(n, _)| *n > 0) {
            right[node - 1] += amps;
        }
        let solved = matrix.lu().solve_mut(&mut right);
        assert!(solved);
        let nodes = self.volts.len() - 1;
        self.volts[1..].copy_from_slice(&right.as_slice()[..nodes]);
        &self.volts
    }
}

struct Sparse<'c> {
    circuit: &'c Circuit,
    factor: CscCholesky<f64>,
    /// For every element, the places of its four entries among the values; lower triangle unused.
    places: Vec<[Option<usize>; 4]>,
    diagonal: Vec<usize>,
    values: Vec<f64>,
    /// Node -> row.
    row: Vec<usize>,
    right: nalgebra::DMatrix<f64>,
    volts: Vec<f64>,
}

impl<'c> Sparse<'c> {
    fn new(circuit: &'c Circuit) -> Self {
        let n = circuit.node_count() - 1;
        let mut row = vec![usize::MAX; n + 1];
        for (position, node) in circuit.program().order().iter().enumerate() {
            row[usize::from(*node)] = position;
        }
        let mut coo = CooMatrix::new(n, n);
        for r in 0..n {
            coo.push(r, r, 1.0);
        }
        for e in &circuit.elements {
            if e.a != e.b && e.a != NodeId::REFERENCE && e.b != NodeId::REFERENCE {
                let (a, b) = (row[e.a.index()], row[e.b.index()]);
                coo.push(a, b, -1e-3);
                coo.push(b, a, -1e-3);
                coo.push(a, a, 1e-3);
                coo.push(b, b, 1e-3);
            }
        }
        let csc = CscMatrix::from(&coo);
        let pattern: SparsityPattern = csc.pattern().clone();
        let place = |r: usize, c: usize| {
            let start = pattern.major_offsets()[c];
            start + pattern.lane(c).iter().position(|i| *i == r).expect("in the pattern")
        };
        let places = circuit
            .elements
            .iter()
            .map(|e| {
                let at = |n: NodeId, m: NodeId| {
                    let inside = n != NodeId::REFERENCE && m != NodeId::REFERENCE && e.a != e.b;
                    inside.then(|| place(row[n.index()], row[m.index()]))
                };
                [at(e.a, e.a), at(e.b, e.b), at(e.a, e.b), at(e.b, e.a)]
            })
            .collect();
        let values = csc.values().to_vec();
        Self {
            circuit,
            factor: CscCholesky::factor_numerical(
                CscSymbolicCholesky::factor(pattern.clone()),
                &values,
            )
            .expect("positive definite"),
            places,
            diagonal: (0..n).map(|r| place(r, r)).collect(),
            values,
            row,
            right: nalgebra::DMatrix::zeros(n, 1),
            volts: vec![0.0; n + 1],
        }
    }
}

impl Baseline for Sparse<'_> {
    fn solve(&mut self, conductance: &[f64], injection: &[(usize, f64)]) -> &[f64] {
        if injection.is_empty() {
            return &self.volts;
        }
        self.values.fill(0.0);
        for d in &self.diagonal {
            self.values[*d] = LEAK;
        }
        for (id, _) in self.circuit.elements() {
            let g = conductance[id.index()];
            let [aa, bb, ab, ba] = self.places[id.index()];
            for (place, g) in [(aa, g), (bb, g), (ab, -g), (ba, -g)] {
                if let Some(place) = place {
                    self.values[place] += g;
                }
            }
        }
        self.factor.refactor(&self.values).expect("positive definite");
        self.right.fill(0.0);
        for (node, amps) in injection.iter().filter(|(n, _)| *n > 0) {
            self.right[self.row[*node]] += amps;
        }
        self.factor.solve_mut(&mut self.right);
        for node in 1..self.volts.len() {
            self.volts[node] = self.right[self.row[node]];
        }
        &self.volts
    }
}

/// Cases that the rivals are given: they are slow, and slower still in a smoke run.
fn few() -> usize {
    if std::env::args().any(|a| a == "--test") { 40 } else { 5_000 }
}

/// `NODES` is room for the machine's nodes in the dense baseline; what it has not stays alone.
fn machine<const NODES: usize>(criterion: &mut Criterion, work: &Work, name: &str)
where
    Const<NODES>: DimMin<Const<NODES>, Output = Const<NODES>>,
{
    let circuit = &work.circuit;
    let mut group = criterion.benchmark_group(name);
    group.sample_size(10);
    let mut setting = work.conditions[0].clone();
    // One case in a fixed stride: a spread over everything, long enough to time.
    let thin = |most: usize| -> Vec<_> {
        let step = work.cases.len().div_ceil(most);
        work.cases.iter().copied().step_by(step).collect()
    };
    let prepare = |setting: &mut Setting, (condition, fault): (usize, usize)| {
        setting.copy_from(&work.conditions[condition]);
        setting.apply(circuit, work.faults[fault]);
    };

    group.throughput(Throughput::Elements(work.cases.len() as u64));
    let mut solver: Solver<'_> = Solver::new(circuit);
    group.bench_function("ours, one at a time", |b| {
        b.iter(|| {
            for case in &work.cases {
                prepare(&mut setting, *case);
                solver.solve(&[&setting], &[Relays::default()]);
                black_box(solver.volts(0, NodeId(1)));
            }
        });
    });
    let mut eight: Vec<_> = (0..8).map(|_| work.conditions[0].clone()).collect();
    let mut lanes: Solver<'_, Lanes> = Solver::new(circuit);
    group.bench_function("ours, eight at a time", |b| {
        b.iter(|| {
            for cases in work.cases.chunks(8) {
                for (setting, case) in eight.iter_mut().zip(cases) {
                    prepare(setting, *case);
                }
                let [a, b, c, d, e, f, g, h] = &eight[..] else { unreachable!() };
                lanes.solve(&[a, b, c, d, e, f, g, h][..cases.len()], &[]);
                black_box(lanes.volts(0, NodeId(1)));
            }
        });
    });

    let few = thin(few());
    group.throughput(Throughput::Elements(few.len() as u64));
    let base = vec![0.0; circuit.elements.len()];
    let mut dense = Rival {
        circuit,
        base: base.clone(),
        baseline: Dense::<NODES> { circuit, volts: vec![0.0; circuit.node_count()] },
    };
    group.bench_function("dense LU", |b| {
        b.iter(|| {
            for case in &few {
                prepare(&mut setting, *case);
                black_box(dense.operating_point(&setting));
            }
        });
    });
    let mut sparse = Rival { circuit, base, baseline: Sparse::new(circuit) };
    group.bench_function("sparse Cholesky", |b| {
        b.iter(|| {
            for case in &few {
                prepare(&mut setting, *case);
                black_box(sparse.operating_point(&setting));
            }
        });
    });
    group.finish();
}

/// Every machine of the library.
fn operating_points(criterion: &mut Criterion) {
    for shipped in LIBRARY {
        let (work, name) = (work(shipped.name), shipped.name);
        match work.circuit.node_count() - 1 {
            0..=32 => machine::<32>(criterion, &work, name),
            33..=64 => machine::<64>(criterion, &work, name),
            65..=80 => machine::<80>(criterion, &work, name),
            81..=96 => machine::<96>(criterion, &work, name),
            97..=112 => machine::<112>(criterion, &work, name),
            113..=127 => machine::<127>(criterion, &work, name),
            nodes => panic!("{name} has {nodes} nodes: give the dense baseline room for them"),
        }
    }
}

criterion_group!(benches, operating_points);
criterion_main!(benches);
