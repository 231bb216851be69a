//! A measurement of the mechanic's own: what each answer would mean, what a sound machine shows,
//! what to mind, and why the plan would not ask for it.

use super::answers::{AnswerRange, ranges};
use super::information::Cells;
use super::next_test::{NextTest, Why};
use super::planning::{Planning, Rated, shaken_place};
use super::stakes::{Stake, Stakes};
use crate::circuit::{Condition, Instrument};
use crate::diagnosis::belief::Belief;
use crate::diagnosis::candidates::{
    Catalog, Context, Danger, Hazards, KnownScales, Prospect, Scale,
};
use crate::diagnosis::evidence::{Evidence, SetUp, TestAction};
use crate::diagnosis::predict::FaultModel;

/// Two points and an instrument, in a condition and set-up.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Measurement {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub instrument: Instrument,
    /// Test points, by index into the document's.
    pub red: usize,
    pub black: usize,
}

/// What a measurement would tell.
#[derive(Clone, Debug)]
pub struct Weighed {
    /// As the plan would put it. It has no answers where nothing is left to tell.
    pub test: NextTest,
    /// What a sound machine shows, the battery as last read; `None` where nothing may be put there.
    pub sound: Option<AnswerRange>,
    /// Why the plan would never ask for it.
    pub dangers: Vec<Danger>,
}

/// Weighs a measurement that the plan did not ask for.
///
/// # Arguments
/// `complained` is the condition complained of; `None` is returned where a point is none of the
/// machine's.
pub(crate) fn weigh(
    model: &FaultModel,
    scales: &KnownScales,
    (belief, log): (&Belief, &[Evidence]),
    complained: &Condition,
    own: Measurement,
) -> Option<Weighed> {
    let Measurement { condition, set_up, instrument, red, black } = own;
    let action = TestAction::Measure { instrument, red, black };
    let probe = action.probe(&model.circuit)?;
    let context = Context { condition, set_up, actions: vec![action], sweep: false };
    let hazards = Hazards::of(&model.circuit);
    let mut dangers = hazards.dangers(
        &context.set_up,
        &context.condition,
        (instrument, [probe.red, probe.black]),
    );
    let catalog = Catalog::with(model, scales, hazards, vec![context], complained);
    let prospect = catalog.prospects.first()?;
    let planning = Planning::of(model, &catalog, belief, log, complained);
    if prospect.scale.refused(planning.live()) {
        dangers.push(if instrument.feeds() { Danger::LiveCircuit } else { Danger::PullsIn });
    }
    if planning.barred(0) {
        dangers.push(Danger::CannotBeStopped);
    }
    if planning.fed_by_cables(prospect) {
        dangers.push(Danger::JumperOn);
    }
    let place = shaken_place(&catalog.contexts[0].set_up);
    let shaken = place.map(|place| planning.shaken_at(&planning.stakes, place));
    let stakes = shaken.as_ref().unwrap_or(&planning.stakes);
    let test = planning.spell_out(Rated {
        prospect: 0,
        minutes: planning.minutes(prospect),
        risk: catalog.risks[0],
        bits: Cells::new(stakes.labels).information(&prospect.scale, stakes),
        why: if planning.times_done(prospect) > 0 { Why::Again } else { Why::Splits },
    });
    Some(Weighed { test, sound: planning.sound(prospect), dangers })
}

impl Planning<'_> {
    /// What a sound machine shows, the battery as last read; `None` where nothing may be put there.
    pub fn sound(&self, prospect: &Prospect) -> Option<AnswerRange> {
        let suspects = &self.model.suspects;
        let dictionary = &self.catalog.dictionaries[prospect.context];
        let by_supply = self.belief.supply_volts / dictionary.emf(&suspects.scenarios[0]);
        sound(&prospect.scale, suspects.sound_in(self.belief.wiring()), by_supply)
    }
}

/// What a sound machine shows; volts by how full the battery is.
///
/// # Arguments
/// `scenario` is the sound machine's as it is most likely wired.
fn sound(scale: &Scale, scenario: usize, by_supply: f64) -> Option<AnswerRange> {
    if scale.refused(&[scenario]) {
        return None;
    }
    let sound = scenario;
    let alone = Stake { state: 0, suspect: 0, scenario, sound, shows: 1.0, weight: 1.0, label: 0 };
    let shown = ranges(scale, &Stakes { states: vec![alone], labels: 1 });
    shown.into_iter().next().map(|(range, _)| match range {
        AnswerRange::Volts { low, high } => {
            AnswerRange::Volts { low: low * by_supply, high: high * by_supply }
        }
        other => other,
    })
}
