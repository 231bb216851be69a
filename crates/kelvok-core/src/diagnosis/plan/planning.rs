//! What can be done now, with what it costs and tells: the most information a minute, from where the
//! mechanic already is.

use super::answers::ranges;
use super::information::Cells;
use super::minded::{Live, minded};
use super::next_test::{Answer, NextTest, Why};
use super::stakes::{Stakes, stakes};
use crate::circuit::Condition;
use crate::diagnosis::belief::{Belief, SHAKEN_SHOWS};
use crate::diagnosis::candidates::{Catalog, Context, MechanicAt, Prospect};
use crate::diagnosis::evidence::{Evidence, SetUp, TestAction, Unit, jumper_on};
use crate::diagnosis::predict::FaultModel;
use std::cmp::Ordering;
use std::collections::{BTreeSet, HashMap};

/// A unit or group is named at this probability.
pub(crate) const NAMED_AT: f64 = 0.985;

/// What was done before tells this share of what it would tell if it were new; below so many bits,
/// or done so often, it is not done again.
const AGAIN: f64 = 0.5;
const WORTH_AGAIN: f64 = 0.03;
const MOST_TIMES: usize = 3;
/// What comes and goes hides: the same is tried so often until it shows.
const MOST_TRIES: usize = 12;
/// What every test costs besides, in minutes: finding the point, entering what it showed, and one
/// more chance of a slip. Without it many little tests look cheaper than they are.
const EACH_MINUTES: f64 = 0.75;
/// A test that tells less than this, in bits, is not worth the walk.
pub(crate) const WORTH_BITS: f64 = 0.004;

/// What planning starts from.
pub(crate) struct Planning<'a> {
    pub model: &'a FaultModel,
    pub belief: &'a Belief,

    pub log: &'a [Evidence],
    pub catalog: &'a Catalog,
    pub standing: MechanicAt,
    usual: &'a Condition,
    units: Vec<Unit>,
    pub stakes: Stakes,
    /// One unit holds nearly all the weight.
    sure: bool,
    /// What is complained of comes and goes.
    hides: bool,
    /// Jumper cables feed it, its own battery on or off.
    cables: bool,
    /// The scenarios that count in planning.
    scenarios: Vec<usize>,
    live: Live<'a>,
}

/// A prospect with what it costs and tells.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Rated {
    pub prospect: usize,
    pub minutes: f64,
    /// What it risks, in minutes that nobody spends.
    pub risk: f64,
    pub bits: f64,
    pub why: Why,
}

impl Rated {
    /// By information a minute, the greater the better; what it risks counts as time.
    pub fn rank(&self, other: &Self) -> Ordering {
        let rate = |r: &Self| r.bits / (r.minutes + r.risk + EACH_MINUTES);
        rate(self).total_cmp(&rate(other)).then(other.prospect.cmp(&self.prospect))
    }
}

impl<'a> Planning<'a> {
    pub fn of(
        model: &'a FaultModel,
        catalog: &'a Catalog,
        belief: &'a Belief,
        log: &'a [Evidence],
        usual: &'a Condition,
    ) -> Self {
        let suspects = &model.suspects;
        let (units, stakes) = stakes(suspects, belief);
        let scenarios: BTreeSet<_> = stakes.states.iter().map(|s| s.scenario).collect();
        Self {
            standing: MechanicAt::of(&model.circuit, log),
            model,
            belief,
            log,
            catalog,
            usual,
            sure: belief.units(suspects).first().is_some_and(|u| u.probability >= NAMED_AT),
            hides: log.iter().any(|e| e.at_times),
            cables: jumper_on(log),
            units,
            stakes,
            scenarios: scenarios.into_iter().collect(),
            live: Live::of(model, belief, log),
        }
    }

    /// The same with something else at stake.
    ///
    /// # Arguments
    /// `units` are what the labels lead to.
    pub fn about(self, units: Vec<Unit>, stakes: Stakes) -> Self {
        let scenarios: BTreeSet<_> = stakes.states.iter().map(|s| s.scenario).collect();
        Self { units, stakes, scenarios: scenarios.into_iter().collect(), sure: false, ..self }
    }

    /// How the machine stands before anything is done to it: as complained of.
    pub fn usual(&self) -> &Condition {
        self.usual
    }

    /// Every prospect that is safe now and not done yet, with what it costs and tells.
    pub fn rate(&self) -> Vec<Rated> {
        self.rate_by(&self.stakes)
    }

    /// The same by what is at stake.
    pub fn rate_by(&self, all: &Stakes) -> Vec<Rated> {
        let mut room = Cells::new(all.labels);
        let mut barred: HashMap<usize, bool> = HashMap::new();
        let mut shaken: HashMap<usize, Stakes> = HashMap::new();
        let mut rated = Vec::new();
        for (p, prospect) in self.catalog.prospects.iter().enumerate() {
            let context = &self.catalog.contexts[prospect.context];
            if prospect.scale.is_settled(&self.scenarios) {
                continue;
            }
            let place = shaken_place(&context.set_up);
            let stakes = match place {
                Some(place) => shaken.entry(place).or_insert_with(|| self.shaken_at(all, place)),
                None => all,
            };
            let bits = room.information(&prospect.scale, stakes);
            let fed = self.fed_by_cables(prospect);
            if bits < WORTH_BITS || fed || prospect.scale.refused(&self.live.scenarios) {
                continue;
            }
            let barred =
                *barred.entry(prospect.context).or_insert_with(|| self.barred(prospect.context));
            let done = self.times_done(prospect);
            let again = done > 0;
            let may_be = match self.hides {
                true => done < MOST_TRIES,
                false => done < MOST_TIMES && bits > WORTH_AGAIN && !self.sure,
            };
            let a_look = matches!(prospect.action, TestAction::Look(_));
            if barred || again && (a_look || !may_be) {
                continue;
            }
            let minutes = self.minutes(prospect);
            let bits = if again && !self.hides { AGAIN * bits } else { bits };
            let why = if again { Why::Again } else { Why::Splits };
            let risk = self.catalog.risks[prospect.context];
            rated.push(Rated { prospect: p, minutes, risk, bits, why });
        }
        rated
    }

    /// What is at stake while the harness is shaken at a place.
    pub fn shaken_at(&self, all: &Stakes, place: usize) -> Stakes {
        let mut stakes = all.clone();
        for stake in &mut stakes.states {
            let here = self.model.suspects.list[stake.suspect].places.contains(&place);
            if here && stake.shows < 1.0 {
                stake.shows = stake.shows.max(SHAKEN_SHOWS);
            }
        }
        stakes
    }

    /// Whether a context must not be brought about now: it takes the kill lead off, and the key is held
    /// to start, or a suspect that counts would turn the engine.
    pub fn barred(&self, context: usize) -> bool {
        let Context { condition, set_up, .. } = &self.catalog.contexts[context];
        let hazards = &self.catalog.hazards;
        hazards.unkillable(set_up)
            && !set_up.contains(&SetUp::BatteryOff)
            && (hazards.key_may_crank(&self.model.circuit, (condition, set_up))
                || self.live.may_crank(&self.catalog.dictionaries[context], (condition, set_up)))
    }

    /// What it costs from where the mechanic stands.
    pub fn minutes(&self, prospect: &Prospect) -> f64 {
        let context = &self.catalog.contexts[prospect.context];
        self.standing.minutes(&self.model.circuit, self.usual, context, prospect.action)
    }

    /// The scenarios that count for safety.
    pub fn live(&self) -> &[usize] {
        &self.live.scenarios
    }

    /// Whether any suspect that counts for safety forbids it now.
    pub fn forbidden(&self, prospect: &Prospect) -> bool {
        prospect.scale.refused(&self.live.scenarios)
            || self.barred(prospect.context)
            || self.fed_by_cables(prospect)
    }

    /// Whether it wants a machine without power, and jumper cables feed it: its own battery's clamp
    /// takes nothing off then.
    pub fn fed_by_cables(&self, prospect: &Prospect) -> bool {
        let set_up = &self.catalog.contexts[prospect.context].set_up;
        self.cables && (prospect.action.is_ohms() || set_up.contains(&SetUp::BatteryOff))
    }

    pub fn times_done(&self, prospect: &Prospect) -> usize {
        let context = &self.catalog.contexts[prospect.context];
        let at = (&context.condition, context.set_up.as_slice());
        let since = self.since_repair();
        self.log[since..].iter().filter(|e| prospect.action.is(&self.model.circuit, at, e)).count()
    }

    /// Where in the log the machine became what it is now.
    fn since_repair(&self) -> usize {
        self.log.iter().rposition(Evidence::renews).map_or(0, |at| at + 1)
    }

    /// A rated prospect as a test for a person.
    pub fn spell_out(&self, rated: Rated) -> NextTest {
        let prospect = &self.catalog.prospects[rated.prospect];
        let context = &self.catalog.contexts[prospect.context];
        NextTest {
            condition: context.condition.clone(),
            set_up: context.set_up.clone(),
            action: prospect.action,
            minutes: rated.minutes,
            bits: rated.bits,
            why: rated.why,
            answers: self.answers(prospect),
            cautions: minded(
                &self.live,
                &self.catalog.hazards,
                &self.catalog.dictionaries[prospect.context],
                (&context.condition, &context.set_up),
                prospect.action,
            ),
        }
    }

    fn answers(&self, prospect: &Prospect) -> Vec<Answer> {
        let total: f64 = self.stakes.states.iter().map(|s| s.weight).sum();
        let mut answers: Vec<Answer> = ranges(&prospect.scale, &self.stakes)
            .into_iter()
            .map(|(range, states)| {
                let mut left = vec![0.0; self.units.len()];
                for (state, weight) in states {
                    left[self.stakes.states[state].label] += weight;
                }
                let sum: f64 = left.iter().sum();
                let mut named: Vec<_> = left
                    .iter()
                    .zip(&self.units)
                    .filter(|(w, _)| **w > 0.0)
                    .map(|(w, unit)| (*unit, w / sum))
                    .collect();
                named.sort_by(|a, b| b.1.total_cmp(&a.1));
                let counting = named.iter().filter(|(_, w)| *w > 0.005).count();
                named.truncate(4);
                Answer { range, probability: sum / total, left: counting, units: named }
            })
            .filter(|a| a.probability > 0.005)
            .collect();
        answers.sort_by(|a, b| b.probability.total_cmp(&a.probability));
        answers.truncate(4);
        answers
    }
}

/// Where the harness is shaken in a set-up.
pub(crate) fn shaken_place(set_up: &[SetUp]) -> Option<usize> {
    set_up.iter().find_map(|s| match s {
        SetUp::Shaken(place) => Some(*place),
        _ => None,
    })
}
