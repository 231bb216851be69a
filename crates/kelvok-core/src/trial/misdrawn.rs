//! Machines with a fault whose drawing is wrong besides, in one of the ways that a verdict can name.

use super::case::Faults;
use super::machine::TrialMachine;
use super::mechanic::{DrawnWrong, Outcome};
use super::surroundings::Surroundings;
use super::tracing::{Miswired, compiled, miswiring};
use super::universe::Universe;
use crate::circuit::Circuit;
use crate::diagnosis::{Belief, Model, Strategy};
use crate::interlock::check;
use crate::machine::{MachineDocument, PartKind, Provenance};
use crate::random::Random;

/// How a fault was found by a drawing that is wrong.
#[derive(Clone, Debug)]
pub struct Misdrawn {
    /// What is wrong in the drawing, in the fault notation: what puts it right is the same.
    pub error: String,
    /// A verdict on the way, or what else is sure at the end, says that the drawing is wrong there.
    pub named: bool,
    /// Something was observed that the fault does not explain as the machine is drawn.
    pub in_the_way: bool,
    /// How the fault itself was found.
    pub outcome: Outcome,
}

/// A unit is sure from here on.
const SURE: f64 = 0.9;
/// What an observation's share of its best explanation is below if the fault does not explain it.
const UNEXPLAINED: f32 = 0.02;
/// Pins are drawn at most so often until they are a plug's.
const MOST_DRAWS: u64 = 50;

/// One fault a case, found with a drawing in which two pins of a plug are the other way round or a contact is
/// of the other kind, by turns. The machine itself is as `document` has it. Cases in which the drawn machine
/// cannot be made up, or nothing drawn makes anyone complain, are left out.
pub fn try_misdrawn(document: &MachineDocument, runs: usize, seed: u64) -> Vec<Misdrawn> {
    let most = MOST_DRAWS * runs as u64;
    (0..most).filter_map(|case| try_one(document, seed, case)).take(runs).collect()
}

fn try_one(document: &MachineDocument, seed: u64, case: u64) -> Option<Misdrawn> {
    let error = match case % 2 {
        0 => swapped_pins(document, seed, case)?,
        _ => other_kind(document, seed, case)?,
    };
    let mut drawn = document.corrected(std::slice::from_ref(&error), "", Provenance::Drawing);
    // Nobody traced this one: no mark gives the error away.
    drawn.wires.iter_mut().for_each(|wire| wire.source = Some(Provenance::Drawing));
    drawn.parts.iter_mut().for_each(|part| part.source = Some(Provenance::Drawing));
    let (drawn, truth) = (compiled(&drawn)?, compiled(document)?);
    // A drawing by which the machine would not work is refused when it is taken in.
    let refused = check(&drawn).iter().any(|p| !p.warning);
    if refused || !same_metal(&drawn, &truth) {
        return None;
    }
    let right = TrialMachine::of(compiled(document)?);
    let bench = TrialMachine::standing(&Model::new(drawn), truth);
    let universe = Universe::of(bench.circuit());
    let model = &document.identity.model;
    let mut random = Random::for_case(seed, model, case);
    let mut run = Random::for_case(seed, model, u64::MAX);
    let case = bench.case(Faults::Single, Surroundings::Bench, (&mut random, &mut run))?;
    let drawn_wrong = DrawnWrong { change: error.clone(), right };
    let suspect = case.world.troubles.first()?.suspect;
    let outcome = case.find_with(&bench, &universe, Strategy::BestSplit, Some(&drawn_wrong));
    let belief = bench.model.judge(&outcome.log);
    let named = outcome.drawing_put_right || names(&bench.model, &belief, &drawn_wrong);
    let as_drawn = belief.fits_alone(bench.model.suspects(), suspect);
    let in_the_way = as_drawn.iter().any(|own| *own < UNEXPLAINED);
    Some(Misdrawn { error, named, in_the_way, outcome })
}

/// Two pins of a plug, drawn the other way round: those of a fuse make no difference.
fn swapped_pins(document: &MachineDocument, seed: u64, case: u64) -> Option<String> {
    let of_a_plug = |change: &String| {
        let id = change.split('.').next();
        document.parts.iter().any(|p| Some(p.id.as_str()) == id && p.kind == PartKind::Connector)
    };
    let draws = (0..MOST_DRAWS).map(|draw| case + draw * 1_000_000);
    let mut all =
        draws.filter_map(|case| miswiring(document, Miswired::Swapped, seed, case)?.pop());
    all.find(of_a_plug)
}

/// A contact of a switch, drawn as the other kind; a switch of one contact is drawn so as a whole.
fn other_kind(document: &MachineDocument, seed: u64, case: u64) -> Option<String> {
    let switches = document.parts.iter().filter(|p| p.kind == PartKind::InterlockSwitch);
    let errors = switches.flat_map(|p| match &p.contacts[..] {
        [_] => vec![format!("{}=inverted", p.id)],
        all => all.iter().map(|c| format!("{}.{}=other-kind", p.id, c.id)).collect(),
    });
    let errors: Vec<String> = errors.collect();
    let mut random = Random::for_case(seed ^ 0x07e2, &document.identity.model, case);
    errors.get(random.index(errors.len().max(1))).cloned()
}

/// Whether two circuits speak of the same elements, and of the same metal at every test point.
fn same_metal(one: &Circuit, other: &Circuit) -> bool {
    let kinds = |c: &Circuit| c.elements().map(|(_, e)| (e.part, e.wire)).collect::<Vec<_>>();
    let points = 0..one.document().test_points.len();
    kinds(one) == kinds(other)
        && points.into_iter().all(|i| one.test_point(i) == other.test_point(i))
}

fn names(model: &Model, belief: &Belief, error: &DrawnWrong) -> bool {
    let sure = belief.units(model.suspects()).into_iter().filter(|u| u.probability >= SURE);
    let mut said = sure.filter_map(|u| model.drawing_error(belief, &[u.unit]));
    said.any(|change| error.is(&change))
}
