//! Whether a second fault is there beside one that is known: the test that tells.

use super::answers::AnswerRange;
use super::information::Cells;
use super::next_test::NextTest;
use super::planning::{Planning, Rated};
use super::stakes::{Stake, Stakes};
use crate::diagnosis::evidence::{TestAction, Unit};
use crate::diagnosis::faults::{Hypothesis, Suspects};
use std::sync::Arc;

/// A test that tells less than this of the one bit there is, is none.
const TELLS: f64 = 0.3;
/// A test that the known fault moves by more than this, in bits, is one of that fault.
const MOVES: f64 = 0.05;

impl Planning<'_> {
    /// The test that tells most a minute whether a suspect's fault is there, whatever became of one that is
    /// known, and what it shows where it is not; `None` where none tells.
    ///
    /// # Arguments
    /// `known` is a suspect, by index into the list; the other is a unit with the scenarios of its fault.
    pub fn tells_beside(
        self,
        known: usize,
        (unit, scenarios): (Unit, &[usize]),
    ) -> Option<(NextTest, Option<AnswerRange>)> {
        let suspects = Arc::clone(&self.model.suspects);
        let sound = suspects.sound_in(self.belief.wiring());
        let good = Stake {
            state: 0,
            suspect: 0,
            scenario: sound,
            sound,
            shows: 1.0,
            weight: 0.5,
            label: 0,
        };
        let against = |own: &dyn Fn(&Hypothesis) -> bool| Stakes {
            states: [&[good], &*sizes(&suspects, own, sound)].concat(),
            labels: 2,
        };
        let parted = against(&|h| scenarios.contains(&h.scenario));
        let moved = against(&|h| h.suspect == known);
        let about = self.about(vec![Unit::Nothing, unit], parted);
        let mut cells = Cells::new(2);
        let mut own = |rated: &Rated| {
            let prospect = &about.catalog.prospects[rated.prospect];
            let stays = cells.information(&prospect.scale, &moved) < MOVES;
            rated.bits > TELLS && stays
        };
        // What is read with the power off does not hang on what the known fault lets through.
        let still = |r: &Rated| {
            let action = about.catalog.prospects[r.prospect].action;
            action.is_ohms() || matches!(action, TestAction::Look(_))
        };
        let tells: Vec<_> = about.rate().into_iter().filter(|r| own(r)).collect();
        let best = tells.iter().max_by(|a, b| still(a).cmp(&still(b)).then(a.rank(b)))?;
        let good = about.sound(&about.catalog.prospects[best.prospect]);
        Some((about.spell_out(*best), good))
    }
}

/// Hypotheses of the machine that is wired so, half of all the weight.
fn sizes(suspects: &Suspects, own: &dyn Fn(&Hypothesis) -> bool, sound: usize) -> Vec<Stake> {
    let own: Vec<_> = suspects
        .hypotheses
        .iter()
        .enumerate()
        .filter(|(i, h)| own(h) && suspects.sound_of(*i) == sound)
        .collect();
    let all: f64 = own.iter().map(|(_, h)| h.prior).sum();
    let stake = |h: &Hypothesis| Stake {
        state: 0,
        suspect: h.suspect,
        scenario: h.scenario,
        sound,
        shows: h.shows,
        weight: 0.5 * h.prior / all,
        label: 1,
    };
    own.iter().map(|(_, h)| stake(h)).collect()
}
