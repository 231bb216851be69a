//! Explanations taken through a log, entry by entry.

use super::battery::fit_battery;
use super::charging::Charged;
use super::close_up::fit_close_up;
use super::failures::Failures;
use super::likelihood::{Fit, Place, fit_benched, fit_inspected, fit_reading, fit_sensed};
use super::pairs::Pairs;
use super::unknowns::Unknowns;
use crate::circuit::{Crank, Engine};
use crate::diagnosis::evidence::{BatteryEvent, Evidence, Observation, Probe, Sensed, SetUp, Unit};
use crate::diagnosis::faults::{Scenario, State, likelier_after};
use crate::diagnosis::predict::{
    Affairs, FaultDictionary, FaultModel, Predicted, Shown, Situation, nominal_volts,
};
use crate::errand::{carried, step};
use rayon::prelude::*;
use std::sync::Arc;

/// The chance that what is described as coming and going does not.
const SAID_AT_TIMES: f64 = 0.05;
/// What does not turn is called cranking at this chance: who clicks and clicks the key says so.
const CALLED_CRANKING: f64 = 0.1;
/// A fault is of any size: the chance that it is nearer to the next size, either way.
const BESIDE: f64 = 0.25;
/// Shaken where it sits, a fault that comes and goes shows at this chance.
pub(crate) const SHAKEN_SHOWS: f64 = 0.85;

/// So few states are taken through a log by one core.
const FEW_STATES: usize = 256;
/// The chance that what shows all the while is not noticed all the while.
const NOT_NOTICED: f64 = 0.01;

/// States, and what each entry of a log did to them.
pub(crate) struct Run {
    pub states: Vec<State>,
    pub unknowns: Vec<Unknowns>,
    entries: Vec<Fits>,
}

/// How an entry fits each state, and whether it must then have been a slip.
struct Fits {
    ln: Vec<f32>,
    slip: Vec<bool>,
}

/// What one entry did, with all the evidence in.
pub(crate) struct Step {
    /// How much of the weight needs it to have been a slip.
    pub slip: f64,
    /// How it fitted each state, the best being one.
    pub fits: Vec<f32>,
    /// Probability by state before it.
    pub before: Vec<f32>,
}

impl Run {
    /// Takes states through a log.
    pub fn through(
        model: &FaultModel,
        states: Vec<State>,
        pairs: &Pairs,
        log: &[Evidence],
    ) -> Self {
        let nominal = nominal_volts(&model.circuit);
        let suspects = &model.suspects;
        let emf = |scenario: usize| pairs.scenario(suspects, scenario).emf;
        let own = model.circuit.battery().and_then(|b| model.circuit.element(b).part);
        let is_battery = |unit: Unit| own.is_some_and(|part| unit == Unit::Part(part));
        let battery = |entry: &Evidence| match entry.observation {
            Observation::Repaired(unit) if is_battery(unit) => Some(BatteryEvent::Swapped),
            observation => observation.battery_event(),
        };
        let event_at: Vec<Option<BatteryEvent>> = log.iter().map(battery).collect();
        let events = event_at.iter().any(Option::is_some);
        let mut failures = Failures::default();
        let seen = log.iter().map(|entry| {
            failures = entry.times_an_hour.map_or(failures, Failures::said);
            Recalled::of(model, pairs, entry, failures)
        });
        let seen: Vec<Recalled<'_>> = seen.collect();
        // States know nothing of one another.
        let through = |state: &State| {
            step();
            let mut own = emf(state.before);
            let mut unknowns = Unknowns::unread(own.unwrap_or(nominal), own.is_some());
            let steady = !events && state.is_steady();
            let fits = seen.iter().zip(&event_at).map(|(seen, event)| {
                unknowns.drift();
                if !steady {
                    let now = emf(state.scenario(suspects, seen.entry.sequence));
                    if *event == Some(BatteryEvent::LeftOvernight) {
                        unknowns.step();
                    } else if event.is_some() || now != own {
                        unknowns.renew(now.unwrap_or(nominal), now.is_some(), *event);
                    }
                    own = now;
                }
                let fit = seen.fit(state, &mut unknowns);
                let (honest, slip) = fit.weigh(seen.entry.repeats, seen.entry.source);
                ((honest + slip).max(1e-30).ln() as f32, slip > honest)
            });
            let fits: Vec<_> = fits.collect();
            (unknowns, fits)
        };
        let carried = carried();
        let through = |state: &State| carried.within(|| through(state));
        let each: Vec<_> = states.par_iter().with_min_len(FEW_STATES).map(through).collect();
        let entries = (0..log.len()).map(|entry| {
            let (ln, slip) = each.iter().map(|(_, fits)| fits[entry]).unzip();
            Fits { ln, slip }
        });
        let entries = entries.collect();
        Self { states, unknowns: each.into_iter().map(|(unknowns, _)| unknowns).collect(), entries }
    }

    /// Both runs' states, of the same log.
    pub fn with(mut self, other: Self) -> Self {
        self.states.extend(other.states);
        self.unknowns.extend(other.unknowns);
        for (own, more) in self.entries.iter_mut().zip(other.entries) {
            own.ln.extend(more.ln);
            own.slip.extend(more.slip);
        }
        self
    }

    fn ln_priors(&self) -> Vec<f64> {
        self.states.iter().map(|s| s.ln_prior).collect()
    }

    /// Probability by state.
    pub fn weights(&self) -> Vec<f64> {
        shares(&self.ln_weights())
    }

    /// The weight of the best explanation, as a natural logarithm, not yet a share.
    pub fn ln_best(&self) -> f64 {
        self.ln_weights().into_iter().fold(f64::MIN, f64::max)
    }

    /// The same as natural logarithms, not yet shares.
    pub fn ln_weights(&self) -> Vec<f64> {
        let mut ln = self.ln_priors();
        for fits in &self.entries {
            add(&mut ln, &fits.ln);
        }
        ln
    }

    /// How an entry fits a state, as a natural logarithm.
    pub fn ln_fit(&self, entry: usize, state: usize) -> f64 {
        f64::from(self.entries[entry].ln[state])
    }

    /// The greatest chance of any entry that it was a slip.
    pub fn most_slip(&self) -> f64 {
        let weights = self.weights();
        self.entries.iter().map(|fits| needed(&weights, fits)).fold(0.0, f64::max)
    }

    /// What each entry did.
    pub fn steps(&self, weights: &[f64]) -> impl Iterator<Item = Step> {
        let mut ln = self.ln_priors();
        self.entries.iter().map(move |fits| {
            let before = shares(&ln).into_iter().map(|w| w as f32).collect();
            add(&mut ln, &fits.ln);
            let best = fits.ln.iter().copied().fold(f32::MIN, f32::max);
            Step {
                slip: needed(weights, fits),
                fits: fits.ln.iter().map(|f| (f - best).exp()).collect(),
                before,
            }
        })
    }
}

fn needed(weights: &[f64], fits: &Fits) -> f64 {
    weights.iter().zip(&fits.slip).filter(|(_, slip)| **slip).map(|(w, _)| w).sum()
}

fn add(ln: &mut [f64], fits: &[f32]) {
    for (ln, fit) in ln.iter_mut().zip(fits) {
        *ln += f64::from(*fit);
    }
}

/// Probabilities from natural logarithms of weights.
pub(crate) fn shares(ln: &[f64]) -> Vec<f64> {
    let most = ln.iter().copied().fold(f64::MIN, f64::max);
    let weights: Vec<f64> = ln.iter().map(|l| (l - most).exp()).collect();
    let total: f64 = weights.iter().sum();
    weights.into_iter().map(|w| w / total).collect()
}

/// Mean and standard deviation of the supply over all states.
pub(crate) fn mixture(weights: &[f64], unknowns: &[Unknowns]) -> (f64, f64) {
    let mean = weights.iter().zip(unknowns).map(|(w, s)| w * s.supply().0).sum::<f64>();
    let variance = weights
        .iter()
        .zip(unknowns)
        .map(|(w, s)| (w, s.supply()))
        .map(|(w, (own, variance))| w * (variance + (own - mean).powi(2)))
        .sum::<f64>();
    (mean, variance.sqrt())
}

/// What a probe shows, by scenario.
#[derive(Default)]
struct Sight {
    shows: Arc<[Predicted]>,
    /// Where what moves by itself can be seen there.
    affairs: Option<Arc<[Affairs]>>,
}

impl Sight {
    fn at(dictionary: &FaultDictionary, probe: Probe) -> Self {
        Self { shows: dictionary.sight(probe), affairs: dictionary.affairs(probe) }
    }

    /// Whether two scenarios are one state of affairs, as far as can be seen here.
    fn alike(&self, one: usize, other: usize) -> bool {
        self.affairs.as_ref().is_none_or(|affairs| affairs[one] == affairs[other])
    }
}

/// What is noticed, by scenario.
type Noticing = Arc<[Shown]>;

/// Whether an entry was made while the starter turned the engine, and is not about the starter.
fn turned_by_its_starter(model: &FaultModel, entry: &Evidence) -> bool {
    let heard = matches!(entry.observation, Observation::Sensed(Sensed::Starter(_)));
    let recoil = model.circuit.document().drive.recoil;
    entry.condition.engine == Engine::Cranking && !heard && !recoil
}

/// An entry of the log, and what every scenario would have shown.
struct Recalled<'a> {
    model: &'a FaultModel,
    pairs: &'a Pairs,
    entry: &'a Evidence,
    /// Dictionaries of the suspects' own scenarios and of the pairs'; none where nothing of the machine
    /// was seen to act.
    dictionaries: Option<(Arc<FaultDictionary>, Option<Arc<FaultDictionary>>)>,
    /// What a probe shows there, or what is noticed; asked for before states are taken through the
    /// log on many threads, which must not ask.
    sights: Option<(Sight, Sight)>,
    shown: Option<(Noticing, Noticing)>,
    /// It was made while the starter turned the engine, which is an observation of its own.
    cranked: bool,
    place: Place,
    /// Only the charging system's own model says something of it.
    charged: Option<Charged>,
    failures: Failures,
}

impl<'a> Recalled<'a> {
    fn of(
        model: &'a FaultModel,
        pairs: &'a Pairs,
        entry: &'a Evidence,
        failures: Failures,
    ) -> Self {
        let charged = Charged::of(model, entry);
        let acts = charged.is_none()
            && matches!(
                entry.observation,
                Observation::Sensed(_)
                    | Observation::CloseUp(_)
                    | Observation::Read { .. }
                    | Observation::Ran { .. }
            );
        let dictionaries = acts.then(|| {
            let situation = Situation::new(&entry.condition, &entry.set_up);
            (model.dictionary(&situation), pairs.dictionary(&model.circuit, &situation))
        });
        let sights = match (entry.observation, &dictionaries) {
            (Observation::Read { instrument, red, black, .. }, Some((own, both))) => {
                let probe = Probe { instrument, red, black };
                let both = both.as_ref().map(|both| Sight::at(both, probe));
                Some((Sight::at(own, probe), both.unwrap_or_default()))
            }
            _ => None,
        };
        let cranked = turned_by_its_starter(model, entry);
        let noticing = dictionaries.as_ref().filter(|_| sights.is_none() || cranked);
        let shown = noticing.map(|(own, both)| {
            let both = both.as_ref().map(|both| both.shown());
            (own.shown(), both.unwrap_or_else(|| Arc::from([])))
        });
        let place = match entry.observation {
            Observation::Read { red, black, .. }
                if model
                    .circuit
                    .posts()
                    .is_some_and(|p| [(red, black), (black, red)].contains(&p)) =>
            {
                Place::Posts
            }
            _ => Place::Elsewhere,
        };
        Self { model, pairs, entry, dictionaries, sights, shown, cranked, place, charged, failures }
    }

    /// How the entry fits a state, and what it tells of what is unknown there.
    fn fit(&self, state: &State, unknowns: &mut Unknowns) -> Fit {
        let suspects = &self.model.suspects;
        if let Observation::Inspected(inspected, bad) = self.entry.observation {
            let present = state.present(self.entry.sequence);
            let fits = present.map(|h| {
                let suspect = &suspects.list[suspects.hypotheses[h].suspect];
                fit_inspected(suspect, inspected, bad)
            });
            let sound = fit_inspected(&suspects.list[0], inspected, bad);
            // Of two faults the one that is looked at decides.
            let apart = |fit: &Fit| (fit.honest - sound.honest).abs();
            return fits.max_by(|a, b| apart(a).total_cmp(&apart(b))).unwrap_or(sound);
        }
        if let Observation::Benched(unit, bad) = self.entry.observation {
            let mut present = state.present(self.entry.sequence);
            let own = present.any(|h| suspects.unit_of(h) == unit);
            return fit_benched(own, bad);
        }
        if let Observation::WorkedOn(unit, work) = self.entry.observation {
            let present = state.present(self.entry.sequence);
            let fits = present.map(|h| {
                let suspect = &suspects.list[suspects.hypotheses[h].suspect];
                likelier_after(&self.model.circuit, suspect, unit, work)
            });
            let honest = fits.fold(1.0, f64::max);
            return Fit { honest, slip: 1.0 };
        }
        let scenario = state.scenario(suspects, self.entry.sequence);
        if let Observation::Ran { minutes } = self.entry.observation {
            return self.fit_run((scenario, suspects.sound_of(state.first)), state.shows, minutes);
        }
        let sound = suspects.sound_of(state.first);
        if state.shows >= 1.0 || scenario == sound {
            let fit = self.fit_scenario(scenario, unknowns);
            let honest = if self.entry.at_times { fit.honest * SAID_AT_TIMES } else { fit.honest };
            return Fit { honest, ..fit };
        }
        let mut showing = *unknowns;
        let bad = self.fit_scenario(scenario, &mut showing);
        let good = self.fit_scenario(sound, unknowns);
        if self.entry.at_times {
            return bad;
        }
        let shows = if self.shaken(state) { SHAKEN_SHOWS.max(state.shows) } else { state.shows };
        let shows = shows.powi(self.entry.repeats.min(100) as i32);
        if shows * bad.honest > (1.0 - shows) * good.honest {
            *unknowns = showing;
        }
        bad.either(shows, good)
    }

    /// How minutes of running without anything amiss fit what would show there.
    fn fit_run(&self, (scenario, sound): (usize, usize), shows: f64, minutes: f64) -> Fit {
        let honest = match self.goes_unnoticed(scenario, sound) {
            true => 1.0,
            false if shows >= 1.0 => NOT_NOTICED,
            false => self.failures.silent_for(minutes).max(NOT_NOTICED),
        };
        Fit { honest, slip: 1.0 }
    }

    /// Whether what a scenario does in this situation looks as the sound machine's does.
    fn goes_unnoticed(&self, scenario: usize, sound: usize) -> bool {
        let of = |scenario| self.noticing(scenario).and_then(|(shown, at)| shown.get(at));
        of(scenario).zip(of(sound)).is_none_or(|(shown, sound)| shown.looks_like(sound))
    }

    /// Whether the harness was shaken where the fault sits.
    fn shaken(&self, state: &State) -> bool {
        let suspects = &self.model.suspects;
        let suspect = &suspects.list[suspects.hypotheses[state.first].suspect];
        let here = |s: &SetUp| matches!(s, SetUp::Shaken(p) if suspect.places.contains(p));
        self.entry.set_up.iter().any(here)
    }

    fn fit_scenario(&self, scenario: usize, unknowns: &mut Unknowns) -> Fit {
        let fit = self.fit_shown(scenario, unknowns);
        let turns = !self.cranked || self.turns(scenario);
        Fit { honest: if turns { fit.honest } else { fit.honest * CALLED_CRANKING }, ..fit }
    }

    /// Whether the starter turns the engine under a scenario.
    fn turns(&self, scenario: usize) -> bool {
        let shown = self.noticing(scenario).and_then(|(all, at)| all.get(at));
        shown.is_none_or(|shown| matches!(shown.crank, Crank::Yes | Crank::Slow))
    }

    /// What is noticed of the suspects or of the pairs, whichever a scenario is among, and its place.
    fn noticing(&self, scenario: usize) -> Option<(&Noticing, usize)> {
        let (own, both) = self.shown.as_ref()?;
        Some(match scenario.checked_sub(self.model.suspects.scenarios.len()) {
            Some(pair) => (both, pair),
            None => (own, scenario),
        })
    }

    /// The same, whether it turns or not.
    fn fit_shown(&self, scenario: usize, unknowns: &mut Unknowns) -> Fit {
        let neutral = Fit { honest: 1.0, slip: 1.0 };
        let first = self.model.suspects.scenarios.len();
        if let Some(charged) = &self.charged {
            let own = &self.scenarios(scenario)[scenario.checked_sub(first).unwrap_or(scenario)];
            return charged.fit(&self.model.circuit, own);
        }
        if let Observation::BatteryTest(test) = self.entry.observation {
            let own = self.scenarios(scenario);
            let at = scenario.checked_sub(first).unwrap_or(scenario);
            let fit = fit_battery(&self.model.circuit, &own[at], &test, unknowns);
            return fit.unwrap_or(neutral);
        }
        let Some((own, both)) = &self.dictionaries else {
            return neutral;
        };
        let (dictionary, at) = match (scenario.checked_sub(first), both) {
            (Some(pair), Some(both)) => (both, pair),
            (Some(_), None) => return neutral,
            (None, _) => (own, scenario),
        };
        match self.entry.observation {
            Observation::Sensed(_) | Observation::CloseUp(_) => {
                let Some((own, both)) = &self.shown else {
                    return neutral;
                };
                let fit = |shown: &Shown| match self.entry.observation {
                    Observation::Sensed(sensed) => fit_sensed(sensed, shown),
                    Observation::CloseUp(seen) => {
                        fit_close_up(&self.model.circuit, seen, shown.details)
                    }
                    _ => neutral,
                };
                let (shown, scenarios) =
                    (if scenario < first { own } else { both }, self.scenarios(scenario));
                let own = fit(&shown[at]);
                // A fault is of any size: what the next ones would show is half as likely.
                let next = |(less, more): (usize, usize)| {
                    let [less, more] = [less, more].map(|c| fit(&shown[c]));
                    own.either(0.5, less.either(0.5, more))
                };
                scenarios[at].sizes.map_or(own, next)
            }
            Observation::Read { reading, .. } => {
                let Some((own, both)) = &self.sights else {
                    return neutral;
                };
                let sight = if scenario < first { own } else { both };
                let fit = |at: usize, scenario: &Scenario, unknowns: &mut Unknowns| {
                    let emf = dictionary.emf(scenario);
                    let shows = sight.shows[at];
                    if self.place == Place::Posts && shows.is_nearly_all_of(emf) {
                        unknowns.step();
                    }
                    fit_reading((reading, self.place), shows, emf, unknowns)
                };
                let scenarios = self.scenarios(scenario);
                let other = |c: &usize| !sight.alike(*c, at);
                let beside = scenarios[at].sizes.into_iter().flat_map(|(less, more)| [less, more]);
                let mut learned = *unknowns;
                let mut best = fit(at, &scenarios[at], &mut learned);
                let mut all = best;
                // Where the next size is another state of affairs, it is half as likely to be that.
                for c in beside.filter(other) {
                    let mut own = *unknowns;
                    let next = fit(c, &scenarios[c], &mut own);
                    all = all.either(1.0 - BESIDE, next);
                    if BESIDE * next.honest > (1.0 - BESIDE) * best.honest {
                        (best, learned) = (next, own);
                    }
                }
                *unknowns = learned;
                all
            }
            _ => neutral,
        }
    }

    /// The scenarios that one is among: the suspects' or the pairs'.
    fn scenarios(&self, scenario: usize) -> &[Scenario] {
        let own = &self.model.suspects.scenarios;
        if scenario < own.len() { own } else { self.pairs.scenarios() }
    }
}
