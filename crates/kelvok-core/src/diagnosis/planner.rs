//! The next test: the most information a minute, from where the mechanic already is.

use super::answers::{AnswerRange, Room, Stake, Stakes, ranges};
use super::book::Book;
use super::candidates::{Complaint, Context};
use super::catalog::{Catalog, Prospect};
use super::groups::groups;
use super::minutes::Standing;
use super::run::SHAKEN_SHOWS;
use super::safety::{Caution, cautions, may_turn};
use super::{Belief, Doing, Evidence, Hypothesis, School, SetUp, Suspects, Unit};
use crate::circuit::{Circuit, Condition};
use serde::Serialize;
use std::cmp::Ordering;
use std::collections::{BTreeSet, HashMap};

/// What to do next, and what stands.
#[derive(Clone, Debug)]
pub struct Plan {
    /// Nothing was noticed yet in this condition: turn the key and listen first.
    pub listen: bool,
    /// Tests, the best first.
    pub tests: Vec<NextTest>,
    /// Units that no reachable test tells apart, each set as one; most suspected first.
    pub groups: Vec<Vec<Unit>>,
    pub conclusion: Option<Conclusion>,
}

/// One unit or group holds nearly all the weight.
#[derive(Clone, Debug)]
pub struct Conclusion {
    pub units: Vec<Unit>,
    pub probability: f64,
    /// A second, different observation points to it too.
    pub confirmed: bool,
}

#[derive(Clone, Debug)]
pub struct NextTest {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub doing: Doing,
    /// Reaching the points from where the mechanic is, setting up, reading.
    pub minutes: f64,
    /// Expected information about which unit it is.
    pub bits: f64,
    pub why: Why,
    pub answers: Vec<Answer>,
    pub cautions: Vec<Caution>,
}

/// What a test is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Why {
    /// It splits the suspects.
    Splits,
    /// It was done before, and much hangs on it: done again, a slip shows.
    Again,
    /// One unit holds nearly all the weight: this would point to it apart from what already does.
    Confirms,
    /// After a repair: whether the rest works too.
    Recheck,
}

/// What an answer would mean.
#[derive(Clone, Debug)]
pub struct Answer {
    pub range: AnswerRange,
    pub probability: f64,
    /// How many units that count it would leave.
    pub left: usize,
    /// The units it would leave, most suspected first, with their probabilities then.
    pub units: Vec<(Unit, f64)>,
}

/// A unit or group is named at this probability.
pub(super) const NAMED_AT: f64 = 0.985;
/// Above this a unit leads.
const LEADS_AT: f64 = 0.9;
/// States below this no longer count in planning.
pub(super) const NEGLIGIBLE: f64 = 1e-4;
/// Of more states than this only the heaviest count.
const MOST_STATES: usize = 200;
/// What is dangerous under a suspect above this is not proposed, though planning no longer counts
/// it.
const LIVE: f64 = 1e-5;
/// Tests shown beside the best.
const MOST_TESTS: usize = 5;
/// Looks that make a walk-round.
const MOST_LOOKS: usize = 9;
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
pub(super) const WORTH_BITS: f64 = 0.004;

/// What planning starts from.
pub(super) struct Planning<'a> {
    pub circuit: &'a Circuit,
    pub suspects: &'a Suspects,

    pub log: &'a [Evidence],
    pub catalog: &'a Catalog,
    pub standing: Standing,
    usual: &'a Condition,
    units: Vec<Unit>,
    pub stakes: Stakes,
    /// One unit holds nearly all the weight.
    sure: bool,
    /// What is complained of comes and goes.
    hides: bool,
    /// The columns that count in planning.
    columns: Vec<usize>,
    /// The columns that count for safety.
    live: Vec<usize>,
}

/// Plans from a belief, by best split.
///
/// # Arguments
/// `condition` is the one complained of. `log` tells where the mechanic stands and what is open.
pub fn plan(
    circuit: &Circuit,
    suspects: &Suspects,
    book: &Book,
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Plan {
    plan_by(School::BestSplit, (circuit, suspects, book), belief, log, condition)
}

/// Plans by one of the schools.
pub fn plan_by(
    school: School,
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Plan {
    let heard = |e: &Evidence| e.is_behavior() && e.is_done() && e.condition == *condition;
    let listen = !log.iter().any(heard);
    let catalog = book.catalog(circuit, suspects, &Complaint::of(log, condition));
    let planning = Planning::of(circuit, suspects, belief, log, &catalog, condition);
    let groups = groups(suspects, belief, &catalog);
    let conclusion = groups.first().and_then(|group| {
        let probability = group.iter().map(|u| belief.of_unit(suspects, *u)).sum::<f64>().min(1.0);
        (probability >= NAMED_AT).then(|| Conclusion {
            confirmed: belief.confirmed(suspects, group),
            units: group.clone(),
            probability,
        })
    });
    let recheck = planning.recheck(conclusion.as_ref().map(|c| c.units.as_slice()));
    if !recheck.is_empty() {
        let tests = recheck.into_iter().take(MOST_TESTS).map(|r| planning.spell_out(r)).collect();
        return Plan { listen: false, tests, groups, conclusion: None };
    }
    let unsure = conclusion.as_ref().filter(|c| school == School::BestSplit && !c.confirmed);
    let mut best = unsure.map_or_else(Vec::new, |c| planning.confirming(belief, &c.units));
    let further = planning.sharpened(belief, school, MOST_TESTS);
    let new = |r: &Rated| best.iter().all(|other| other.prospect != r.prospect);
    let further: Vec<_> = further.into_iter().filter(new).collect();
    best.extend(further);
    best.truncate(MOST_TESTS);
    let tests = best.into_iter().map(|r| planning.spell_out(r)).collect();
    Plan { listen, tests, groups, conclusion }
}

/// The walk-round: everything worth a look now, no meter in the hand; what tells most a minute
/// first.
pub fn walk_round(
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Vec<NextTest> {
    let catalog = book.catalog(circuit, suspects, &Complaint::of(log, condition));
    let planning = Planning::of(circuit, suspects, belief, log, &catalog, condition);
    let looks = |r: &Rated| matches!(catalog.prospects[r.prospect].doing, Doing::Look(_));
    let ordered = planning.order(School::BestSplit).into_iter().filter(looks);
    ordered.take(MOST_LOOKS).map(|rated| planning.spell_out(rated)).collect()
}

/// Every test that may be made now, in a school's order.
pub fn every_test(
    school: School,
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Vec<NextTest> {
    let catalog = book.catalog(circuit, suspects, &Complaint::of(log, condition));
    let planning = Planning::of(circuit, suspects, belief, log, &catalog, condition);
    planning.tests(school, usize::MAX)
}

/// How a test parts the suspects.
#[derive(Clone, Debug)]
pub(crate) struct Parting {
    pub condition: Condition,
    pub set_up: Vec<SetUp>,
    pub doing: Doing,
    /// A number by column, the same for those that answer alike.
    pub classes: Vec<u8>,
}

/// How each of the tests that may be made now, and that have one sure answer, parts the suspects.
pub(crate) fn partings(
    (circuit, suspects, book): (&Circuit, &Suspects, &Book),
    belief: &Belief,
    log: &[Evidence],
    condition: &Condition,
) -> Vec<Parting> {
    let catalog = book.catalog(circuit, suspects, &Complaint::of(log, condition));
    let planning = Planning::of(circuit, suspects, belief, log, &catalog, condition);
    let parting = |prospect: &Prospect| {
        let Context { condition, set_up, .. } = catalog.contexts[prospect.context].clone();
        let classes = prospect.scale.classes()?;
        Some(Parting { condition, set_up, doing: prospect.doing, classes })
    };
    let safe = catalog.prospects.iter().filter(|p| !planning.forbidden(p));
    safe.filter_map(parting).collect()
}

/// A prospect with what it costs and tells.
#[derive(Clone, Copy, Debug)]
pub(super) struct Rated {
    pub prospect: usize,
    pub minutes: f64,
    pub bits: f64,
    pub why: Why,
}

impl Rated {
    /// By information a minute, the greater the better.
    pub fn rank(&self, other: &Self) -> Ordering {
        let rate = |r: &Self| r.bits / (r.minutes + EACH_MINUTES);
        rate(self).total_cmp(&rate(other)).then(other.prospect.cmp(&self.prospect))
    }
}

impl<'a> Planning<'a> {
    pub fn of(
        circuit: &'a Circuit,
        suspects: &'a Suspects,
        belief: &'a Belief,
        log: &'a [Evidence],
        catalog: &'a Catalog,
        usual: &'a Condition,
    ) -> Self {
        let (units, stakes) = stakes(suspects, belief);
        let columns: BTreeSet<_> = stakes.states.iter().map(|s| s.column).collect();
        let live = (0..belief.weights.len()).filter(|s| belief.weights[*s] > LIVE);
        // Of a pair, whatever either of its two would do.
        let live: BTreeSet<_> = live
            .flat_map(|s| belief.present(s).map(|h| suspects.hypotheses[h].column).chain([0]))
            .collect();
        Self {
            standing: Standing::of(circuit, log),
            circuit,
            suspects,
            log,
            catalog,
            usual,
            sure: belief.units(suspects).first().is_some_and(|u| u.probability >= NAMED_AT),
            hides: log.iter().any(|e| e.at_times),
            units,
            stakes,
            columns: columns.into_iter().collect(),
            live: live.into_iter().collect(),
        }
    }

    /// How the machine stands before anything is done to it: as complained of.
    pub fn usual(&self) -> &Condition {
        self.usual
    }

    fn tests(&self, school: School, most: usize) -> Vec<NextTest> {
        self.order(school).into_iter().take(most).map(|rated| self.spell_out(rated)).collect()
    }

    /// Every prospect that is safe now and not done yet, with what it costs and tells.
    pub fn rate(&self) -> Vec<Rated> {
        let mut room = Room::new(self.stakes.labels);
        let mut barred: HashMap<usize, bool> = HashMap::new();
        let mut shaken: HashMap<usize, Stakes> = HashMap::new();
        let mut rated = Vec::new();
        for (p, prospect) in self.catalog.prospects.iter().enumerate() {
            let context = &self.catalog.contexts[prospect.context];
            if prospect.scale.is_settled(&self.columns) {
                continue;
            }
            let place = shaken_place(&context.set_up);
            let stakes = match place {
                Some(place) => shaken.entry(place).or_insert_with(|| self.shaken_at(place)),
                None => &self.stakes,
            };
            let bits = room.information(&prospect.scale, stakes);
            if bits < WORTH_BITS || prospect.scale.refused(&self.live) {
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
            let a_look = matches!(prospect.doing, Doing::Look(_));
            if barred || again && (a_look || !may_be) {
                continue;
            }
            let minutes = self.minutes(prospect);
            let bits = if again && !self.hides { AGAIN * bits } else { bits };
            let why = if again { Why::Again } else { Why::Splits };
            rated.push(Rated { prospect: p, minutes, bits, why });
        }
        rated
    }

    /// What is at stake while the harness is shaken at a place.
    pub fn shaken_at(&self, place: usize) -> Stakes {
        let mut stakes = self.stakes.clone();
        for stake in &mut stakes.states {
            let here = self.suspects.list[stake.suspect].places.contains(&place);
            if here && stake.shows < 1.0 {
                stake.shows = stake.shows.max(SHAKEN_SHOWS);
            }
        }
        stakes
    }

    /// Whether a context must not be brought about now: it takes the kill lead off, and a suspect
    /// that counts would turn the engine.
    pub fn barred(&self, context: usize) -> bool {
        let set_up = &self.catalog.contexts[context].set_up;
        self.catalog.hazards.unkillable(set_up)
            && !set_up.contains(&SetUp::BatteryOff)
            && self.cranks(context)
    }

    fn cranks(&self, context: usize) -> bool {
        let shown = self.catalog.pages[context].shown(self.circuit, &self.suspects.columns);
        self.live.iter().any(|c| may_turn(shown[*c].crank))
    }

    /// What it costs from where the mechanic stands.
    pub fn minutes(&self, prospect: &Prospect) -> f64 {
        let context = &self.catalog.contexts[prospect.context];
        self.standing.minutes(self.circuit, self.usual, context, prospect.doing)
    }

    /// The columns that count for safety.
    pub fn live(&self) -> &[usize] {
        &self.live
    }

    /// Whether any suspect that counts for safety forbids it now.
    pub fn forbidden(&self, prospect: &Prospect) -> bool {
        prospect.scale.refused(&self.live) || self.barred(prospect.context)
    }

    pub fn times_done(&self, prospect: &Prospect) -> usize {
        let context = &self.catalog.contexts[prospect.context];
        let at = (&context.condition, context.set_up.as_slice());
        let since = self.since_repair();
        self.log[since..].iter().filter(|e| prospect.doing.is(self.circuit, at, e)).count()
    }

    /// Where in the log the machine became what it is now.
    fn since_repair(&self) -> usize {
        let repaired = |e: &Evidence| matches!(e.observation, super::Observation::Repaired(_));
        self.log.iter().rposition(repaired).map_or(0, |at| at + 1)
    }

    /// A rated prospect as a test for a person.
    pub fn spell_out(&self, rated: Rated) -> NextTest {
        let prospect = &self.catalog.prospects[rated.prospect];
        let context = &self.catalog.contexts[prospect.context];
        let acts = !matches!(prospect.doing, Doing::Look(_)) && !prospect.doing.is_ohms();
        let cranks = acts && self.cranks(prospect.context);
        let should = acts && {
            let page = &self.catalog.pages[prospect.context];
            may_turn(page.shown(self.circuit, &self.suspects.columns)[0].crank)
        };
        NextTest {
            condition: context.condition.clone(),
            set_up: context.set_up.clone(),
            doing: prospect.doing,
            minutes: rated.minutes,
            bits: rated.bits,
            why: rated.why,
            answers: self.answers(prospect),
            cautions: cautions(
                self.circuit,
                &self.catalog.hazards,
                (&context.condition, &context.set_up),
                prospect.doing,
                (cranks, should),
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
pub(super) fn shaken_place(set_up: &[SetUp]) -> Option<usize> {
    set_up.iter().find_map(|s| match s {
        SetUp::Shaken(place) => Some(*place),
        _ => None,
    })
}

/// The weight above which states count.
fn least_counted(weights: &[f64]) -> f64 {
    let mut heavy: Vec<f64> = weights.iter().copied().filter(|w| *w > NEGLIGIBLE).collect();
    if heavy.len() <= MOST_STATES {
        return NEGLIGIBLE;
    }
    *heavy.select_nth_unstable_by(MOST_STATES, |a, b| b.total_cmp(a)).1
}

/// The states that count, labeled by the unit each would lead to.
///
/// Where one unit leads but is not confirmed, its lead is taken back a little, so that the test
/// that would confirm it is worth making.
fn stakes(suspects: &Suspects, belief: &Belief) -> (Vec<Unit>, Stakes) {
    let mut units: Vec<Unit> = Vec::new();
    let mut of: HashMap<Unit, usize> = HashMap::new();
    let mut states = Vec::new();
    let least = least_counted(&belief.weights);
    for state in (0..belief.weights.len()).filter(|s| belief.weights[*s] > least) {
        let first = found_first(suspects, belief, state);
        let unit = suspects.unit_of(first);
        let next = units.len();
        let label = *of.entry(unit).or_insert(next);
        if label == next {
            units.push(unit);
        }
        states.push(Stake { label, ..stake(suspects, belief, state, first) });
    }
    let mut by_label = vec![0.0; units.len()];
    for stake in &states {
        by_label[stake.label] += stake.weight;
    }
    let leading = (0..units.len()).max_by(|a, b| by_label[*a].total_cmp(&by_label[*b]));
    if let Some(leading) = leading.filter(|l| by_label[*l] > LEADS_AT)
        && !belief.confirmed(suspects, &[units[leading]])
    {
        for stake in &mut states {
            stake.weight *= by_label[stake.label].max(f64::MIN_POSITIVE).powf(-0.5);
        }
    }
    let labels = units.len();
    (units, Stakes { states, labels })
}

/// Of two faults the likelier by itself is found first.
fn found_first(suspects: &Suspects, belief: &Belief, state: usize) -> usize {
    let prior = |h: &usize| belief.suspects[suspects.hypotheses[*h].suspect];
    belief.present(state).max_by(|a, b| prior(a).total_cmp(&prior(b))).unwrap_or(0)
}

/// A state as planning counts it, where this is the hypothesis that is found first.
pub(super) fn stake(
    suspects: &Suspects,
    belief: &Belief,
    state: usize,
    hypothesis: usize,
) -> Stake {
    let Hypothesis { suspect, column, shows, .. } = suspects.hypotheses[hypothesis];
    // A pair that is still one is planned for by the fault that is found first.
    let now = belief.column_now(suspects, state);
    let column = if now < suspects.columns.len() { now } else { column };
    let shows = if column == 0 { 1.0 } else { shows };
    Stake { state, suspect, column, shows, weight: belief.weights[state], label: 0 }
}
