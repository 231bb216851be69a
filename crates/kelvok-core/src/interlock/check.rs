//! What only the circuit can show to be wrong with a machine.

use super::{InterlockTable, Judge, Track, paths, phrase, prove_duties};
use crate::circuit::{
    Circuit, Condition, ElementKind, Engine, Relays, Setting, Solver, every_condition, parse_change,
};
use crate::machine::{NamedCircuit, Problem};

/// More than this out of the battery with no starter turning is a short, in amperes.
const SHORT_AMPS: f64 = 150.0;
/// Beyond this many conditions a check looks at a spread of them.
const MOST_CONDITIONS: usize = 1 << 14;

/// Looks at the machine in every condition: a battery shorted, a circuit that nothing completes, a
/// duty that the machine breaks even as its maker built it.
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
    for (i, found) in circuit.document().as_found.iter().enumerate() {
        problems.push(match parse_change(circuit, &found.change) {
            Err(e) => Problem::error(format!("/as_found/{i}/change"), format!("{e}.")),
            Ok(_) => Problem::warning(
                format!("/as_found/{i}"),
                format!("Not as its maker built it: {}", found.note),
            ),
        });
    }
    for (i, alternative) in circuit.document().alternatives.iter().enumerate() {
        for (c, choice) in alternative.choices.iter().enumerate() {
            for (n, change) in choice.changes.iter().enumerate() {
                if let Err(e) = circuit.wiring_change(change) {
                    let path = format!("/alternatives/{i}/choices/{c}/changes/{n}");
                    problems.push(Problem::error(path, format!("{e}.")));
                }
            }
        }
    }
    for (i, named) in circuit.document().circuits.iter().enumerate() {
        let path = format!("/circuits/{i}");
        match named.load {
            Some(_) => feeds(circuit, &named.id, &spread, &path, &mut problems),
            None => kills(circuit, named, &path, &mut problems),
        }
    }
    duties(circuit, &mut problems);
    idle_positions(circuit, &mut problems);
    problems
}

fn duties(circuit: &Circuit, problems: &mut Vec<Problem>) {
    for proof in prove_duties(&mut Judge::as_built(circuit, &[])) {
        let duty = &circuit.document().duties[proof.duty];
        let path = format!("/duties/{}", proof.duty);
        if let Some(condition) = proof.broken.first() {
            let sentence = format!(
                "Fails the safety check \"{}\", for example with {}.",
                duty.name,
                stand(circuit, condition)
            );
            problems.push(Problem::error(path, sentence));
        } else if proof.checked == 0 {
            let sentence = format!("This duty never comes up: \"{}\".", duty.name);
            problems.push(Problem::warning(path, sentence));
        }
    }
}

/// Positions that make no difference to what the machine does beside another of their control.
fn idle_positions(circuit: &Circuit, problems: &mut Vec<Problem>) {
    let Ok(table) = InterlockTable::of(&mut Judge::as_built(circuit, &[])) else {
        return;
    };
    for (i, control) in circuit.controls.iter().enumerate() {
        // A control that only lights lamps shows on no table; one contact that reads it is enough.
        let read = circuit.contacts.iter().any(|contact| {
            (0..control.positions.len()).any(|p| {
                let mut condition = Condition::at_rest(circuit);
                let before = circuit.made(contact, &condition);
                condition.positions[i] = p as u8;
                circuit.made(contact, &condition) != before
            })
        });
        let decides = table.conditions(circuit).iter().any(|(condition, behavior)| {
            (0..control.positions.len()).any(|p| {
                let mut moved = condition.clone();
                moved.positions[i] = p as u8;
                table.row(&moved).is_some_and(|other| other != *behavior)
            })
        });
        if !read && !decides {
            let sentence = format!("Nothing reads the control \"{}\".", control.name);
            problems.push(Problem::warning(format!("/controls/{i}"), sentence));
        }
    }
}

fn stand(circuit: &Circuit, condition: &Condition) -> String {
    let at = circuit.controls.iter().zip(&condition.positions);
    let said: Vec<_> = at.map(|(c, p)| phrase(c, &[usize::from(*p)])).collect();
    said.join(", ")
}

fn feeds(
    circuit: &Circuit,
    id: &str,
    conditions: &[&Condition],
    path: &str,
    problems: &mut Vec<Problem>,
) {
    let track = match Track::lay_out(circuit, id) {
        Ok(track) => track,
        Err(e) => return problems.push(Problem::error(path, format!("{e}."))),
    };
    let mut solver: Solver<'_> = Solver::new(circuit);
    // Some circuits are complete only while the engine turns, or is turned, or once a relay has
    // sealed itself in.
    let sealed = Judge::new(circuit, &[]).running_relays();
    let whole = Engine::ALL.iter().any(|engine| {
        conditions.iter().any(|condition| {
            let condition = Condition { engine: *engine, ..(*condition).clone() };
            let setting = Setting::new(circuit, &condition);
            [Relays::default(), sealed].iter().any(|relays| {
                solver.solve(&[&setting], &[*relays]);
                track.complete(&|element| solver.conducts(0, element))
            })
        })
    });
    if !whole {
        problems.push(Problem::error(path, "No condition completes this circuit."));
    }
}

fn kills(circuit: &Circuit, named: &NamedCircuit, path: &str, problems: &mut Vec<Problem>) {
    let ends = (circuit.terminal(&named.from), circuit.terminal(&named.to));
    let led = matches!(ends, (Ok(from), Ok(to)) if !paths(circuit, from, to, &[], 1).is_empty());
    if !led {
        let sentence = format!("No way leads from {} to {}.", named.from, named.to);
        problems.push(Problem::error(path, sentence));
    }
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
                let part = element.part.unwrap_or(0);
                let sentence = format!(
                    "{} is shorted: {:.0} A with {}.",
                    circuit.part(part).name,
                    solver.amps(0, id).abs(),
                    stand(circuit, condition)
                );
                problems.push(Problem::error(format!("/parts/{part}"), sentence));
                break;
            }
        }
    }
}
