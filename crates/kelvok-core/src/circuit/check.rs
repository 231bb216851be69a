//! What only the circuit can show to be wrong with a machine.

use super::{Circuit, Condition, ElementKind, Relays, Setting, Solver, every_condition};
use crate::interlock::Track;
use crate::machine::Problem;

/// More than this out of the battery with no starter turning is a short, in amperes.
const SHORT_AMPS: f64 = 150.0;
/// Beyond this many conditions a check looks at a spread of them.
const MOST_CONDITIONS: usize = 1 << 14;

/// Looks at the machine in every condition: a battery shorted, a circuit that nothing completes.
pub fn check(circuit: &Circuit) -> Vec<Problem> {
    let mut problems = Vec::new();
    let conditions = every_condition(circuit);
    if conditions.is_empty() {
        problems.push(Problem::error("/impossible", "Every combination of controls is ruled out."));
        return problems;
    }
    let step = conditions.len().div_ceil(MOST_CONDITIONS);
    let spread: Vec<_> = conditions.iter().step_by(step).collect();
    shorted(circuit, &spread, &mut problems);
    for (i, named) in circuit.document().circuits.iter().enumerate() {
        let Ok(track) = Track::lay_out(circuit, &named.id) else {
            let sentence = format!("No way leads from {} to {}.", named.from, named.load);
            problems.push(Problem::error(format!("/circuits/{i}"), sentence));
            continue;
        };
        let mut solver: Solver<'_> = Solver::new(circuit);
        let whole = spread.iter().any(|condition| {
            solver.solve(&[&Setting::new(circuit, condition)], &[Relays::default()]);
            track.complete(&|element| solver.conducts(0, element))
        });
        if !whole {
            let sentence = format!("No condition completes the {} circuit.", named.name);
            problems.push(Problem::error(format!("/circuits/{i}"), sentence));
        }
    }
    problems
}

fn shorted(circuit: &Circuit, conditions: &[&Condition], problems: &mut Vec<Problem>) {
    let mut solver: Solver<'_> = Solver::new(circuit);
    for (id, element) in circuit.elements() {
        if !matches!(element.kind, ElementKind::Source { .. }) {
            continue;
        }
        for condition in conditions {
            let setting = Setting::new(circuit, condition);
            solver.solve_held(&setting, Relays::default());
            if solver.amps(0, id).abs() > SHORT_AMPS {
                let stand: Vec<_> =
                    condition.named(circuit).map(|(c, p)| format!("{c}={p}")).collect();
                let part = element.part.unwrap_or(0);
                let sentence = format!(
                    "{} is shorted: {:.0} A with {}.",
                    circuit.part(part).name,
                    solver.amps(0, id).abs(),
                    stand.join(", ")
                );
                problems.push(Problem::error(format!("/parts/{part}"), sentence));
                break;
            }
        }
    }
}
