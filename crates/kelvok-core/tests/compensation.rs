//! What compensation gives is what a solve in full gives: every fault, alone and in twos, of every
//! machine.

mod library;

use kelvok_core::circuit::{
    Change, Circuit, Compensation, Condition, Engine, NodeId, Outcome, Relays, Setting, Solved,
    Solver, every_condition, single_faults,
};
use kelvok_core::machine::LIBRARY;
use std::thread;

/// Every so many conditions of a machine are tried.
const EVERY: usize = 131;

#[derive(Default)]
struct Count {
    solved: usize,
    all: usize,
}

/// Each fault alone, in each of its sizes, and each with the next but six.
fn changes(circuit: &Circuit) -> Vec<Vec<Change>> {
    let faults = single_faults(circuit);
    let sizes = faults.iter().flat_map(|f| match f.magnitudes() {
        [] => vec![f.at(0.0)],
        sizes => sizes.iter().map(|size| f.at(*size)).collect(),
    });
    let all: Vec<_> = sizes.collect();
    let pairs = all.iter().zip(all.iter().skip(7)).map(|(a, b)| vec![*a, *b]);
    all.iter().map(|c| vec![*c]).chain(pairs).collect()
}

fn try_condition<'a>(
    circuit: &Circuit,
    condition: &Condition,
    all: impl Iterator<Item = &'a Vec<Change>>,
) -> Count {
    let mut count = Count::default();
    let base = Setting::new(circuit, condition);
    let mut compensation = Compensation::new(circuit, base.clone());
    for changes in all {
        let setting = base.clone().with(circuit, changes);
        count.all += 1;
        if !compensation.solve(&setting, Relays::default()) {
            continue;
        }
        count.solved += 1;
        let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let (full, little) = (solver.lane(0), compensation.solved().unwrap());
        let why =
            || format!("{changes:?} in {condition:?} of {}", circuit.document().identity.model);
        assert_eq!(full.relays(), little.relays(), "{}", why());
        assert!(full.chatter().is_empty(), "{}", why());
        let outcome = |solved: &dyn Solved| Outcome::of(circuit, solved, &setting);
        assert_eq!(outcome(&full), outcome(&little), "{}", why());
        for (id, _) in circuit.elements() {
            let off = (full.siemens(id) - little.siemens(id)).abs();
            assert!(off <= 1e-9 * full.siemens(id), "{id:?} {}", why());
            let off = (full.amps(id) - little.amps(id)).abs();
            assert!(off < 1e-6, "{id:?} off by {off} A: {}", why());
        }
        let (pieces, own) = (full.pieces(), little.pieces());
        let nodes: Vec<_> = (0..circuit.node_count()).map(|n| NodeId(n as u16)).collect();
        for (i, a) in nodes.iter().enumerate() {
            // Neighbors, and others here and there.
            for b in nodes[i..].iter().step_by(11).skip(1).chain(nodes.get(i + 1)) {
                let joined = pieces[a.index()] == pieces[b.index()];
                assert_eq!(joined, own[a.index()] == own[b.index()], "{a:?} {b:?} {}", why());
                if !joined {
                    continue;
                }
                let off = (full.between(*a, *b) - little.between(*a, *b)).abs();
                assert!(off < 1e-6, "{a:?} {b:?} off by {off} V: {}", why());
                let (ohms, got) = (full.resistance(*a, *b), little.resistance(*a, *b));
                assert!((ohms - got).abs() < 1e-6 + 1e-6 * ohms, "{ohms} {got} {}", why());
            }
        }
    }
    count
}

#[test]
fn compensation_gives_what_a_solve_in_full_gives() {
    let counts = thread::scope(|scope| {
        let each = LIBRARY.iter().map(|shipped| {
            scope.spawn(move || {
                let circuit = library::circuit(shipped.name);
                let all = changes(&circuit);
                let mut count = Count::default();
                let standing = every_condition(&circuit).into_iter().step_by(EVERY);
                let running = |c: Condition| Condition { engine: Engine::Running, ..c };
                let both = standing.flat_map(|c| [c.clone(), running(c)]);
                // A third of the changes in each, other thirds in the next.
                for (i, at) in both.chain(circuit.normal_use()).enumerate() {
                    let own = try_condition(&circuit, &at, all.iter().skip(i % 3).step_by(3));
                    count.solved += own.solved;
                    count.all += own.all;
                }
                count
            })
        });
        let handles: Vec<_> = each.collect();
        handles.into_iter().map(|h| h.join().unwrap()).collect::<Vec<_>>()
    });
    for (shipped, count) in LIBRARY.iter().zip(counts) {
        println!("{}: {} of {}", shipped.name, count.solved, count.all);
        assert!(count.solved * 10 > count.all * 6, "{}: too few", shipped.name);
    }
}
