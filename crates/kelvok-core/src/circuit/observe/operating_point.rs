//! One question, one complete answer.

use super::outcome::Outcome;
use crate::circuit::model::{Change, Circuit, Condition, ElementId, NodeId};
use crate::circuit::solve::{Relays, Setting, Solved, Solver};

/// A complete operating point.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct OperatingPoint {
    /// Volts above the reference by node; `None` where the node floats.
    pub volts: Vec<Option<f64>>,
    /// Amperes by element, from `a` to `b`.
    pub amps: Vec<f64>,
    /// The relays afterwards; start the next solve from these.
    pub relays: Relays,
    /// The states of a chattering circuit, in turn; empty when it settles.
    pub chatter: Vec<Relays>,
    pub blown: Vec<ElementId>,
    pub outcome: Outcome,
}

/// Solves the circuit in a condition, from its relays as they were, with changes and with
/// resistances (an instrument's) hung between pairs of nodes, in ohms.
///
/// ```
/// use kelvok_core::circuit::{Circuit, Condition, Crank, Relays, operating_point, parse_change};
/// use kelvok_core::machine::{LIBRARY, Machine};
///
/// let machine = Machine::read(LIBRARY[0].text).expect("a library machine");
/// let circuit = Circuit::compile(&machine);
/// let start = Condition::with(&circuit, [("key", "start"), ("pedal", "down")]).expect("its controls");
/// let sound = operating_point(&circuit, &start, Relays::default(), &[], &[]);
/// assert_eq!(sound.outcome.crank, Crank::Yes);
/// let open = parse_change(&circuit, "brake.start=open").expect("its fault notation");
/// let found = operating_point(&circuit, &start, Relays::default(), &[open], &[]);
/// assert_eq!(found.outcome.crank, Crank::No);
/// ```
pub fn operating_point(
    circuit: &Circuit,
    condition: &Condition,
    relays: Relays,
    changes: &[Change],
    instruments: &[(NodeId, NodeId, f64)],
) -> OperatingPoint {
    let mut setting = Setting::new(circuit, condition).with(circuit, changes);
    let pairs: Vec<_> = instruments.iter().map(|(a, b, _)| (*a, *b)).collect();
    for (_, _, ohms) in instruments {
        setting.attach(*ohms);
    }
    let mut solver: Solver<'_> = Solver::for_changes_with(circuit, changes, &pairs);
    solver.solve(&[&setting], &[relays]);
    OperatingPoint::of(circuit, &solver, &setting)
}

impl OperatingPoint {
    /// Reads the first lane of a solver.
    pub fn of(circuit: &Circuit, solver: &Solver<'_>, setting: &Setting) -> Self {
        let pieces = solver.pieces(0);
        let volts = (0..circuit.node_count())
            .map(|n| (pieces[n] == 0).then(|| solver.volts(0, NodeId(n as u16))))
            .collect();
        Self {
            volts,
            amps: circuit.elements().map(|(id, _)| solver.amps(0, id)).collect(),
            relays: solver.relays(0),
            chatter: solver.chatter(0).iter().map(|s| Relays(*s)).collect(),
            blown: solver.lane(0).blown(),
            outcome: Outcome::of(circuit, &solver.lane(0), setting),
        }
    }
}
