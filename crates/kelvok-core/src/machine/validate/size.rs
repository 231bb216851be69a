//! How large a document may be. What is beyond these is refused before anything else is looked at:
//! every rule after that may take its time.

use crate::machine::{MachineDocument, Part, PartKind, Problem};

/// More combinations of control positions than this are not tabled.
pub const MOST_COMBINATIONS: usize = 1 << 15;
/// Every duty is tried in every condition.
const MOST_TRIALS: u128 = 1 << 20;
/// Coils, diodes and fuses each stand in a machine word.
const MOST_OF_A_KIND: usize = 60;

pub(super) fn too_large(d: &MachineDocument) -> Vec<Problem> {
    let terminals = |p: &Part| p.terminals.len() + p.mates.len();
    let parts = || d.parts.iter();
    let of = |kinds: &[PartKind]| parts().filter(|p| kinds.contains(&p.kind)).count();
    let of_their_own = of(&[PartKind::Regulator, PartKind::Generator]);
    let counts = [
        ("/controls", "controls", d.controls.len(), 40),
        ("/parts", "parts", d.parts.len(), 500),
        ("/parts", "terminals", parts().map(terminals).sum(), 3000),
        ("/parts", "contacts", parts().map(|p| p.contacts.len()).sum(), 600),
        (
            "/parts",
            "coils",
            parts().map(|p| p.coils.len()).sum::<usize>() + 3 * of_their_own,
            MOST_OF_A_KIND,
        ),
        ("/parts", "diodes", of(&[PartKind::Diode]) + 3 * of_their_own, MOST_OF_A_KIND),
        ("/parts", "fuses", of(&[PartKind::Fuse, PartKind::Breaker]), MOST_OF_A_KIND),
        ("/parts", "batteries", of(&[PartKind::Battery]), 8),
        ("/wires", "wires", d.wires.len(), 1000),
        ("/splices", "splices", d.splices.len(), 500),
        ("/places", "places", d.places.len(), 200),
        ("/test_points", "test points", d.test_points.len(), 2000),
        ("/circuits", "circuits", d.circuits.len(), 60),
        ("/normal_use", "conditions of ordinary use", d.normal_use.len(), 60),
        ("/duties", "duties", d.duties.len(), 100),
        ("/as_found", "changes it came with", d.as_found.len(), 20),
        ("/alternatives", "alternatives", d.alternatives.len(), 12),
        (
            "/alternatives",
            "choices of alternatives",
            d.alternatives.iter().map(|a| a.choices.len()).sum(),
            40,
        ),
        (
            "/alternatives",
            "changes of alternatives",
            d.alternatives.iter().flat_map(|a| &a.choices).map(|c| c.changes.len()).sum(),
            400,
        ),
        ("/impossible", "impossible combinations", d.impossible.len(), 100),
    ];
    let many = counts.into_iter().filter(|(.., n, most)| n > most).map(|(path, what, n, most)| {
        Problem::error(path, format!("{n} {what} are too many: at most {most}."))
    });
    let mut problems: Vec<_> = many.collect();
    let combinations = d
        .controls
        .iter()
        .fold(1u128, |product, c| product.saturating_mul(c.positions.len().max(1) as u128));
    if combinations > MOST_COMBINATIONS as u128 {
        let sentence = format!(
            "The controls stand in {combinations} combinations: at most {MOST_COMBINATIONS}."
        );
        problems.push(Problem::error("/controls", sentence));
    } else if combinations * d.duties.len() as u128 > MOST_TRIALS {
        let sentence = format!(
            "{} duties in {combinations} combinations of the controls are too many to prove.",
            d.duties.len()
        );
        problems.push(Problem::error("/duties", sentence));
    }
    problems
}
