//! How far a soak is, by its entries and the server's clock.

use super::entry::{SoakEntry, SoakError, Told, Trigger};
use super::rate::Rate;
use serde::Serialize;
use std::collections::BTreeSet;

/// An entry, and the second at which the server took it.
#[derive(Clone, Debug, PartialEq)]
pub struct Timed {
    /// By the server's clock.
    pub at: f64,
    /// What it says.
    pub entry: SoakEntry,
}

/// A minute without all that brings it on counts for this much: where it is not known what does, for
/// nothing less.
const WITHOUT: f64 = 0.1;
/// Nobody soaks for longer at a stretch without touching the clock: a clock that was set forward, or a
/// machine forgotten. In seconds.
const LONGEST: f64 = 10.0 * 3600.0;
/// How sure one may want to be that it is gone.
const GOALS: [f64; 3] = [0.90, 0.95, 0.99];

/// How long it still has to keep quiet until this sure.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Goal {
    /// So sure that it is gone.
    pub sure: f64,
    /// Minutes of quiet in all, with what brings it on.
    pub minutes: f64,
    /// Of those still to go; none where it is reached.
    pub left: f64,
}

/// How far a soak is.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SoakStanding {
    /// The clock runs.
    pub running: bool,
    /// It is over.
    pub ended: bool,
    /// How often it happened, as told.
    pub told: Told,
    /// What brings it on, as told.
    pub needs: Vec<Trigger>,
    /// Of those, what is there now.
    pub on: Vec<Trigger>,
    /// Minutes with all that brings it on.
    pub minutes: f64,
    /// Minutes without.
    pub minutes_without: f64,
    /// Minutes that were taken off again.
    pub taken_off: f64,
    /// What all of them are worth, in minutes with what brings it on.
    pub worth: f64,
    /// How often it happened.
    pub failures: usize,
    /// Times an hour, if it is there.
    pub an_hour: f64,
    /// The chance that it is still there.
    pub still_there: f64,
    /// If it is there: the chance that it would have shown by now.
    pub would_have_shown: f64,
    /// Until how sure; none once it happened.
    pub goals: Vec<Goal>,
    /// A stretch was longer than anybody minds a machine, and was cut.
    pub cut: bool,
    /// What it comes to, in a sentence or two: as it goes on the report.
    pub says: String,
}

/// A soak as it goes through its entries.
struct Under {
    told: Told,
    needs: BTreeSet<Trigger>,
    still: f64,
    on: BTreeSet<Trigger>,
    running: bool,
    ended: bool,
    with: f64,
    without: f64,
    off: f64,
    failures: usize,
    cut: bool,
    at: f64,
}

impl Under {
    fn passes(&mut self, now: f64) {
        // A clock that was set back takes nothing away.
        let span = (now - self.at).max(0.0);
        self.at = self.at.max(now);
        if !self.running {
            return;
        }
        self.cut |= span > LONGEST;
        let span = span.min(LONGEST);
        if self.needs.is_subset(&self.on) { self.with += span } else { self.without += span }
    }

    /// In minutes with what brings it on.
    fn worth(&self) -> f64 {
        ((self.with + WITHOUT * self.without) / 60.0 - self.off).max(0.0)
    }
}

impl SoakStanding {
    /// The soak that began last; none where none did.
    pub fn of(entries: &[Timed], now: f64) -> Option<Self> {
        let under = under(entries, now)?;
        let rate = Rate::told(&under.told);
        let worth = under.worth();
        let hours = worth / 60.0;
        let quiet = rate.quiet_for(hours);
        let still_there = match under.failures {
            0 => under.still * quiet / (under.still * quiet + 1.0 - under.still),
            _ => 1.0,
        };
        let goals = match under.failures {
            0 => GOALS.iter().map(|sure| goal(&rate, under.still, *sure, worth)).collect(),
            _ => Vec::new(),
        };
        Some(Self {
            running: under.running,
            ended: under.ended,
            told: under.told,
            needs: under.needs.iter().copied().collect(),
            on: under.needs.intersection(&under.on).copied().collect(),
            minutes: under.with / 60.0,
            minutes_without: under.without / 60.0,
            taken_off: under.off,
            worth,
            failures: under.failures,
            an_hour: rate.seen(under.failures, hours).an_hour(),
            still_there,
            would_have_shown: 1.0 - quiet,
            goals,
            cut: under.cut,
            says: says(&under, quiet),
        })
    }

    /// Whether an entry fits where a soak is.
    ///
    /// # Errors
    /// Says why not.
    pub fn takes(entries: &[Timed], now: f64, entry: &SoakEntry) -> Result<(), SoakError> {
        entry.check()?;
        let under = under(entries, now).filter(|u| !u.ended);
        match (entry, under) {
            (SoakEntry::Began { .. }, Some(_)) => Err(SoakError::UnderWay),
            (SoakEntry::Began { .. }, None) => Ok(()),
            (_, None) => Err(SoakError::NotBegun),
            (SoakEntry::Paused, Some(u)) if !u.running => Err(SoakError::Paused),
            (SoakEntry::Resumed, Some(u)) if u.running => Err(SoakError::Running),
            (SoakEntry::TakenOff { minutes }, Some(u)) if *minutes > u.worth() + 0.5 => {
                Err(SoakError::Minutes)
            }
            _ => Ok(()),
        }
    }
}

/// Whether a soak began and has not ended.
pub fn is_under_way(entries: &[Timed]) -> bool {
    let last = entries.iter().rev().find_map(|e| match e.entry {
        SoakEntry::Began { .. } => Some(true),
        SoakEntry::Ended => Some(false),
        _ => None,
    });
    last == Some(true)
}

fn goal(rate: &Rate, still: f64, sure: f64, worth: f64) -> Goal {
    // So unlikely must the quiet be, were it there.
    let chance = (1.0 - sure) / sure * (1.0 - still) / still;
    let minutes = if chance >= 1.0 { 0.0 } else { rate.quiet_until(chance) * 60.0 };
    Goal { sure, minutes, left: (minutes - worth).max(0.0) }
}

fn under(entries: &[Timed], now: f64) -> Option<Under> {
    let begun = entries.iter().rposition(|e| matches!(e.entry, SoakEntry::Began { .. }))?;
    let SoakEntry::Began { told, needs, still } = &entries[begun].entry else { return None };
    let mut under = Under {
        told: *told,
        needs: needs.iter().copied().collect(),
        still: *still,
        on: BTreeSet::new(),
        running: true,
        ended: false,
        with: 0.0,
        without: 0.0,
        off: 0.0,
        failures: 0,
        cut: false,
        at: entries[begun].at,
    };
    for Timed { at, entry } in &entries[begun + 1..] {
        if under.ended {
            break;
        }
        under.passes(*at);
        match entry {
            SoakEntry::Began { .. } => {}
            SoakEntry::Trigger { trigger, on: true } => {
                under.on.insert(*trigger);
            }
            SoakEntry::Trigger { trigger, on: false } => {
                under.on.remove(trigger);
            }
            SoakEntry::Failed { .. } => under.failures += 1,
            SoakEntry::Paused => under.running = false,
            SoakEntry::Resumed => under.running = true,
            SoakEntry::TakenOff { minutes } => under.off += minutes,
            SoakEntry::Ended => (under.running, under.ended) = (false, true),
        }
    }
    if !under.ended {
        under.passes(now);
    }
    Some(under)
}

fn says(under: &Under, quiet: f64) -> String {
    let minutes = |seconds: f64| format!("{:.0} min", seconds / 60.0);
    let known = !under.needs.is_empty();
    let ran = match (known, under.without >= 30.0) {
        (true, true) => format!(
            "{} with what brings it on, {} without",
            minutes(under.with),
            minutes(under.without)
        ),
        (true, false) => format!("{} with what brings it on", minutes(under.with)),
        (false, _) => minutes(under.with),
    };
    match under.failures {
        0 => format!(
            "Not reproduced in {ran}. If it is still there, the chance to see nothing for this long is {}.",
            percent(quiet)
        ),
        1 => format!("It happened once in {ran}. It’s still there."),
        n => format!("It happened {n} times in {ran}. It’s still there."),
    }
}

/// Never certain.
fn percent(share: f64) -> String {
    match share * 100.0 {
        p if p > 99.0 => "over 99%".to_owned(),
        p if p < 1.0 => "under 1%".to_owned(),
        p => format!("{p:.0}%"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::random::Random;

    const TOLD: Told = Told { times: 4, hours: 5.0, share: 0.5 };

    fn began(needs: &[Trigger]) -> SoakEntry {
        SoakEntry::Began { told: TOLD, needs: needs.to_vec(), still: 0.5 }
    }

    fn at(minutes: f64, entry: SoakEntry) -> Timed {
        Timed { at: minutes * 60.0, entry }
    }

    fn standing(entries: &[Timed], minutes: f64) -> SoakStanding {
        SoakStanding::of(entries, minutes * 60.0).expect("it began")
    }

    #[test]
    fn minutes_without_what_brings_it_on_are_worth_little() {
        let bumps = SoakEntry::Trigger { trigger: Trigger::Bumps, on: true };
        let soak = [at(0.0, began(&[Trigger::Bumps])), at(30.0, bumps)];
        let said = standing(&soak, 90.0);
        assert_eq!((said.minutes, said.minutes_without, said.worth), (60.0, 30.0, 63.0));
        let all_on = standing(&soak[..1], 90.0);
        assert!(all_on.still_there > said.still_there, "nothing was done to bring it on");
        assert!(said.running && said.on == [Trigger::Bumps]);
    }

    #[test]
    fn a_pause_stops_the_clock_and_an_end_keeps_it() {
        let soak = [
            at(0.0, began(&[])),
            at(20.0, SoakEntry::Paused),
            at(50.0, SoakEntry::Resumed),
            at(60.0, SoakEntry::TakenOff { minutes: 5.0 }),
            at(80.0, SoakEntry::Ended),
        ];
        let said = standing(&soak, 500.0);
        assert_eq!((said.minutes, said.worth, said.ended), (50.0, 45.0, true));
        assert_eq!(standing(&soak[..2], 500.0).minutes, 20.0);
        // Another begins anew.
        let again = [&soak[..], &[at(600.0, began(&[]))]].concat();
        assert_eq!(standing(&again, 610.0).minutes, 10.0);
    }

    #[test]
    fn clocks_that_jump_do_no_harm() {
        let soak = [at(100.0, began(&[])), at(60.0, SoakEntry::Failed { note: String::new() })];
        let said = standing(&soak, 130.0);
        assert_eq!((said.minutes, said.cut), (30.0, false), "set back in between");
        let said = standing(&soak[..1], 100_000.0);
        assert!(said.cut && said.minutes == 600.0, "{said:?}");
    }

    #[test]
    fn the_goals_are_where_the_chance_says_so() {
        let soak = [at(0.0, began(&[]))];
        let goals = standing(&soak, 0.0).goals;
        assert!(goals.windows(2).all(|g| g[0].minutes < g[1].minutes));
        for goal in goals {
            let said = standing(&soak, goal.minutes);
            assert!((1.0 - said.still_there - goal.sure).abs() < 1e-6, "{said:?}");
        }
        let said = standing(&soak, 5.0);
        assert!(
            said.says.starts_with("Not reproduced in 5 min. If it is still there"),
            "{}",
            said.says
        );
    }

    #[test]
    fn once_it_happens_it_is_there() {
        let soak = [at(0.0, began(&[])), at(12.0, SoakEntry::Failed { note: String::new() })];
        let said = standing(&soak, 40.0);
        assert_eq!((said.failures, said.still_there, said.goals.len()), (1, 1.0, 0));
        assert_eq!(said.says, "It happened once in 40 min. It’s still there.");
    }

    #[test]
    fn what_does_not_fit_is_refused() {
        let soak = [at(0.0, began(&[]))];
        let takes = |entries: &[Timed], entry| SoakStanding::takes(entries, 600.0, &entry);
        assert_eq!(takes(&[], SoakEntry::Paused), Err(SoakError::NotBegun));
        assert_eq!(takes(&soak, began(&[])), Err(SoakError::UnderWay));
        assert_eq!(takes(&soak, SoakEntry::Resumed), Err(SoakError::Running));
        assert_eq!(takes(&soak, SoakEntry::TakenOff { minutes: 11.0 }), Err(SoakError::Minutes));
        assert_eq!(takes(&soak, SoakEntry::TakenOff { minutes: 10.0 }), Ok(()));
        let told = Told { hours: 0.0, ..TOLD };
        let odd = SoakEntry::Began { told, needs: Vec::new(), still: 0.5 };
        assert_eq!(takes(&[], odd), Err(SoakError::Hours));
        let over = [at(0.0, began(&[])), at(5.0, SoakEntry::Ended)];
        assert_eq!(takes(&over, SoakEntry::Paused), Err(SoakError::NotBegun));
        assert_eq!(takes(&over, began(&[])), Ok(()));
    }

    /// Of soaks that end when it is said to be gone with this certainty: in how many it is.
    fn gone(sure: f64, by: f64) -> f64 {
        let mut random = Random::new(3);
        let (mut said, mut truly) = (0, 0);
        while said < 4000 {
            // A rate of the yard, and what somebody tells of it: every second time is noticed.
            let rate = -(1.0 - random.share()).ln() * 1.5;
            let hours = random.between(2.0, 12.0);
            let times = count(rate * hours * 0.5, &mut random) * 2;
            let told = Told { times, hours, share: 1.0 };
            let there = random.happens(0.5);
            let entry = SoakEntry::Began { told, needs: Vec::new(), still: 0.5 };
            let began = [Timed { at: 0.0, entry }];
            let soak = SoakStanding::of(&began, 0.0).expect("it began");
            let quiet = soak.goals.iter().find(|g| g.sure >= sure).expect("a goal").minutes / 60.0;
            let shows = -(1.0 - random.share()).ln() / (rate * by);
            if there && shows < quiet {
                continue;
            }
            said += 1;
            truly += usize::from(!there);
        }
        truly as f64 / f64::from(said)
    }

    fn count(mean: f64, random: &mut Random) -> u32 {
        let (mut n, mut product) = (0, random.share());
        while product > (-mean).exp() {
            n += 1;
            product *= random.share();
        }
        n
    }

    #[test]
    fn what_is_said_to_be_gone_is_gone_as_often_as_that() {
        let own = gone(0.95, 1.0);
        assert!((0.925..0.975).contains(&own), "{own}");
        // It shows half as often as told, or twice: said too soon, and too late.
        let (seldom, often) = (gone(0.95, 0.5), gone(0.95, 2.0));
        assert!(seldom > 0.84 && seldom < own && often > own, "{seldom} {often}");
    }
}
