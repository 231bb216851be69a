//! A machine that nobody described: a few questions that can be answered beside it, and the circuit
//! that such a machine usually has.
//!
//! Nothing of it is traced; its document says so. Which contacts stand in which circuit is decided by
//! [`scheme`], from the number of pins of each switch; parts and wires come from that by [`harness`].

mod alternatives;
mod answers;
mod devices;
mod draft;
mod harness;
mod intent;
mod questions;
mod scheme;

pub use answers::{AnswerError, Answers, Settled, looks};
pub use questions::{Choice, Question, Questions, When};

use crate::circuit::Circuit;
use crate::interlock::{Judge, prove_duties};
use crate::machine::{Duty, Identity, Machine, MachineDocument, Problem, Provenance};

/// A machine as described.
#[derive(Clone, Debug)]
pub struct Described {
    /// Its document, with the duties that it does.
    pub document: MachineDocument,
    /// What a machine of its kind usually owes its operator and this one, as described, does not: a
    /// switch was overlooked, it is wired another way, or it never had one.
    pub missing: Vec<Duty>,
}

/// What a machine of these answers usually is.
///
/// # Errors
/// An answer that is none; or the document's problems, which a test holds to be none whatever the
/// answers.
pub fn describe(answers: &Answers, make: &str, model: &str) -> Result<Described, DescribeError> {
    let settled = answers.settle()?;
    let scheme = scheme::scheme(&settled);
    let mut document = harness::wired(&settled, &scheme);
    let kind = Questions::shipped().named("kind").and_then(|q| q.choice(settled.get("kind")));
    document.identity = Identity {
        make: make.to_owned(),
        model: model.to_owned(),
        family: kind.map_or_else(String::new, |k| crate::machine::lower(&k.says)),
        years: None,
        notes: vec![
            "Described by looking at it, not traced: wires and contacts are as usual for its kind."
                .to_owned(),
        ],
        source: Provenance::Usual,
    };
    intent::intend(&mut document, &settled, &scheme);
    let machine = read(&document)?;
    let circuit = Circuit::compile(&machine);
    let proofs = prove_duties(&mut Judge::new(&circuit, &[]));
    let done: Vec<bool> = proofs.iter().map(|p| p.checked > 0 && p.broken.is_empty()).collect();
    let (mut kept, mut missing) = (Vec::new(), Vec::new());
    for (duty, done) in std::mem::take(&mut document.duties).into_iter().zip(done) {
        if done { kept.push(duty) } else { missing.push(duty) }
    }
    document.duties = kept;
    document.alternatives = alternatives::alternatives(&settled, &scheme, &document);
    Ok(Described { document, missing })
}

fn read(document: &MachineDocument) -> Result<Machine, DescribeError> {
    let text = serde_json::to_string(document).map_err(|_| DescribeError::Document(Vec::new()))?;
    Machine::read(&text).map_err(DescribeError::Document)
}

/// Why answers describe nothing.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[allow(missing_docs)]
pub enum DescribeError {
    #[error(transparent)]
    Answer(#[from] AnswerError),
    #[error("What comes of these answers is no machine.")]
    Document(Vec<Problem>),
}
