//! What is wrong with an edited document, each thing beside what it is about.

use crate::circuit::Circuit;
use crate::interlock::check;
use crate::machine::{Machine, MachineDocument, Problem, lower};
use crate::revision::DrawnThing;
use serde::Serialize;

/// A problem, and the thing of the document that it is about.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct PlacedProblem {
    /// None where it is about the document as a whole.
    pub thing: Option<DrawnThing>,
    /// Its id; empty where it has none.
    pub id: String,
    /// What it is called on the machine.
    pub name: String,
    /// A JSON pointer into the document.
    pub path: String,
    pub sentence: String,
    /// It does not keep the document from being used.
    pub warning: bool,
}

/// An edited document, looked through.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Review {
    /// Errors first.
    pub problems: Vec<PlacedProblem>,
    /// The machine, where nothing is wrong with it but warnings.
    pub circuit: Option<Circuit>,
}

impl Review {
    /// Looks a document through, as one that is taken in is.
    pub fn of(document: &MachineDocument) -> Self {
        let text = serde_json::to_string(document).unwrap_or_default();
        let (problems, circuit) = match Machine::read(&text) {
            Err(problems) => (problems, None),
            Ok(machine) => {
                let circuit = Circuit::compile(&machine);
                let problems = check(&circuit);
                let wrong = problems.iter().any(|p| !p.warning);
                (problems, (!wrong).then_some(circuit))
            }
        };
        let mut problems: Vec<_> = problems.iter().map(|p| placed(document, p)).collect();
        problems.sort_by_key(|p| p.warning);
        Self { problems, circuit }
    }
}

fn placed(document: &MachineDocument, problem: &Problem) -> PlacedProblem {
    let mut steps = problem.path.split('/').skip(1);
    let (list, index) = (steps.next().unwrap_or(""), steps.next());
    let index = index.and_then(|i| i.parse::<usize>().ok());
    let (thing, found) = match list {
        "wires" => {
            let wire = index.and_then(|i| document.wires.get(i));
            let name = wire.map(|w| (w.id.clone(), document.wire_name(w).to_string()));
            (Some(DrawnThing::Wire), name)
        }
        "parts" => {
            let part = index.and_then(|i| document.parts.get(i));
            (Some(DrawnThing::Part), part.map(|p| (p.id.clone(), lower(&p.name))))
        }
        "controls" => {
            let control = index.and_then(|i| document.controls.get(i));
            (Some(DrawnThing::Control), control.map(|c| (c.id.clone(), lower(&c.name))))
        }
        "circuits" => {
            let circuit = index.and_then(|i| document.circuits.get(i));
            (Some(DrawnThing::Circuit), circuit.map(|c| (c.id.clone(), lower(&c.name))))
        }
        "duties" => (Some(DrawnThing::Duty), None),
        "normal_use" => (Some(DrawnThing::Use), None),
        "test_points" => {
            let point = index.and_then(|i| document.test_points.get(i));
            (Some(DrawnThing::TestPoint), point.map(|p| (p.terminal.clone(), lower(&p.name))))
        }
        _ => (None, None),
    };
    let (id, name) = found.unwrap_or_default();
    let Problem { path, sentence, warning } = problem.clone();
    PlacedProblem { thing, id, name, path, sentence, warning }
}
