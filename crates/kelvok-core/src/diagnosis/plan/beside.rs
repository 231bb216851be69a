//! Whether a second fault is there beside one that is known: the test that tells.

use super::answers::AnswerRange;
use super::information::Cells;
use super::next_test::NextTest;
use super::planning::{Planning, Rated};
use super::stakes::{Stake, Stakes};
use crate::diagnosis::evidence::{TestAction, Unit};
use crate::diagnosis::faults::{Hypothesis, Suspects};
use std::sync::Arc;

/// A test that tells less than this share of the doubt is none.
const TELLS: f64 = 0.3;
/// A test that the known fault moves by more than this, in bits, is one of that fault.
const MOVES: f64 = 0.05;

impl Planning<'_> {
    /// The test that tells most a minute whether a suspect's fault is there, whatever becomes of one that is
    /// known, and what it shows where it is not; `None` where none tells.
    ///
    /// # Arguments
    /// `known` is a suspect, by index into the list, unless it was put right; the other is a unit with the scenarios of its fault and
    /// how many times as likely the log is with it; `beside` are others that might be there instead.
    pub fn tells_beside(
        self,
        known: Option<usize>,
        (unit, scenarios, odds): (Unit, &[usize], f64),
        beside: &[(&[usize], f64)],
    ) -> Option<(NextTest, Option<AnswerRange>)> {
        let suspects = Arc::clone(&self.model.suspects);
        let there = known.is_some();
        let sound = suspects.sound_in(self.belief.wiring());
        let of = |own: &dyn Fn(&Hypothesis) -> bool, weight: f64, label: usize| {
            sizes(&suspects, own, sound, weight, label)
        };
        let good = |weight: f64| Stake {
            state: 0,
            suspect: 0,
            scenario: sound,
            sound,
            shows: 1.0,
            weight,
            label: 0,
        };
        let all: f64 = 1.0 + odds + beside.iter().map(|(_, odds)| odds).sum::<f64>();
        let mut parted = vec![good(1.0 / all)];
        parted.extend(of(&|h| scenarios.contains(&h.scenario), odds / all, 1));
        for (other, odds) in beside {
            parted.extend(of(&|h| other.contains(&h.scenario), odds / all, 0));
        }
        let parted = Stakes { states: parted, labels: 2 };
        let known = of(&|h| Some(h.suspect) == known, 0.5, 1);
        let moved = Stakes { states: [&[good(0.5)], known.as_slice()].concat(), labels: 2 };
        // Of what doubt there is.
        let share = odds / all;
        let doubt = -(share * share.log2() + (1.0 - share) * (1.0 - share).log2());
        let about = self.about(vec![Unit::Nothing, unit], parted);
        let mut cells = Cells::new(2);
        let mut own = |rated: &Rated| {
            let prospect = &about.catalog.prospects[rated.prospect];
            let stays = cells.information(&prospect.scale, &moved) < MOVES;
            rated.bits > TELLS * doubt && stays
        };
        // What is read with the power off does not hang on what the known fault lets through; once that is
        // put right, what tells most a minute comes first.
        let still = |r: &Rated| {
            let action = about.catalog.prospects[r.prospect].action;
            there && (action.is_ohms() || matches!(action, TestAction::Look(_)))
        };
        let tells: Vec<_> = about.rate().into_iter().filter(|r| own(r)).collect();
        let best = tells.iter().max_by(|a, b| still(a).cmp(&still(b)).then(a.rank(b)))?;
        let good = about.sound(&about.catalog.prospects[best.prospect]);
        Some((about.spell_out(*best), good))
    }
}

/// Hypotheses of the machine that is wired so, with so much weight between them.
fn sizes(
    suspects: &Suspects,
    own: &dyn Fn(&Hypothesis) -> bool,
    sound: usize,
    weight: f64,
    label: usize,
) -> Vec<Stake> {
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
        weight: weight * h.prior / all,
        label,
    };
    own.iter().map(|(_, h)| stake(h)).collect()
}
