//! Parts that were found bad: what may have killed each, and whether anybody looked.

use super::entry::{Recorded, ReleaseEntry};
use crate::circuit::{Condition, FaultMode, fault_notation};
use crate::diagnosis::{
    Cause, CauseStanding, Checked, Evidence, Model, Observation, Unit, before_repair,
};
use crate::fuses::Fitted;

/// A part that was repaired counts as found bad where what was read before gives it so much.
const FOUND: f64 = 0.5;

/// A fault of a part may be it with so much of the likeliest one's share, and so many of them are looked at.
const LIKELY: f64 = 0.3;
const MOST_LIKELY: usize = 6;

/// A part that was found bad, and what may have killed it.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Killed {
    pub unit: Unit,
    pub mode: FaultMode,
    pub causes: Vec<KillCause>,
    /// What somebody says that it was, whatever the circuit says.
    pub said: Option<String>,
}

/// What may have killed a part.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct KillCause {
    pub standing: CauseStanding,
    pub unit: Unit,
    pub mode: FaultMode,
    /// In the fault notation, as it is recorded once somebody looked.
    pub fault: String,
}

/// Why nobody knows yet what killed a part: a cause of it, by its place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CauseOpen {
    /// Nobody looked.
    NotChecked(usize),
    /// It is there still, and will kill the next one.
    StillThere(usize),
}

impl Killed {
    /// All of a job: what a verdict named, and what was repaired and likely bad. What nothing else can have
    /// killed is left out.
    ///
    /// # Arguments
    /// `named` is what verdicts that stand name; `fitted` are the fuses that were read; `recorded` is what
    /// stands of the release.
    pub fn all(
        model: &Model,
        log: &[Evidence],
        named: &[Unit],
        fitted: &[Fitted],
        recorded: &[Recorded],
    ) -> Vec<Self> {
        let mut units: Vec<(Unit, bool)> = named.iter().map(|unit| (*unit, true)).collect();
        for entry in log {
            let Observation::Repaired(unit) = entry.observation else { continue };
            if !units.iter().any(|(own, _)| *own == unit) {
                units.push((unit, false));
            }
        }
        if units.is_empty() {
            return Vec::new();
        }
        let now = model.judge(log);
        let killed = |(unit, by_verdict): (Unit, bool)| {
            let circuit = model.circuit();
            let suspects = model.suspects();
            let before = model.judge(before_repair(log, &[unit]));
            if !by_verdict && before.of_unit(suspects, unit) < FOUND {
                return None;
            }
            let own = suspects.list.iter().enumerate().filter(|(_, s)| s.unit == unit);
            let mut own: Vec<_> = own.map(|(i, s)| (before.suspects[i], i, s)).collect();
            own.sort_by(|a, b| b.0.total_cmp(&a.0));
            let mode = own.first()?.2.faults.first()?.mode;
            let most = own.first()?.0;
            let at = model.complained_of(log, &Condition::at_rest(circuit));
            // Of a part with several contacts it may not be known which of them burnt.
            let likely = own.iter().filter(|(weight, ..)| *weight >= LIKELY * most);
            let mut causes: Vec<KillCause> = Vec::new();
            for (_, suspect, _) in likely.take(MOST_LIKELY) {
                let after = model.aftermath(*suspect, fitted);
                let known = |cause: &Cause| {
                    let unit = suspects.list[cause.suspect].unit;
                    causes.iter().any(|own| own.unit == unit)
                };
                let new: Vec<_> = after.causes.into_iter().filter(|c| !known(c)).collect();
                let new = model.causes((&now, log), &at, *suspect, new).into_iter();
                causes.extend(new.filter_map(|own| KillCause::of(model, log, own, recorded)));
            }
            let said = recorded.iter().rev().find_map(|r| match &r.entry {
                ReleaseEntry::Cause { unit: own, how } if *own == unit.id(circuit) => {
                    Some(how.clone())
                }
                _ => None,
            });
            (!causes.is_empty()).then_some(Self { unit, mode, causes, said })
        };
        units.into_iter().filter_map(killed).collect()
    }

    /// Why nobody knows yet what killed it; `None` where that was looked at. A cause that was found and put
    /// right is enough, unless another fitted what was read as well; else none of them may be open, unless
    /// somebody says what it was.
    pub fn open(&self) -> Option<CauseOpen> {
        let at = |checked: Checked| self.causes.iter().position(|c| c.standing.checked == checked);
        if let Some(bad) = at(Checked::Bad) {
            return Some(CauseOpen::StillThere(bad));
        }
        if self.said.is_some() {
            return None;
        }
        let unread = || at(Checked::NotYet).filter(|_| at(Checked::Repaired).is_none());
        at(Checked::OneOf).or_else(unread).map(CauseOpen::NotChecked)
    }
}

impl KillCause {
    /// What was looked for with the meter or on the bench, and written down, counts where nothing that was
    /// read tells.
    fn of(
        model: &Model,
        log: &[Evidence],
        mut standing: CauseStanding,
        recorded: &[Recorded],
    ) -> Option<Self> {
        let own = &model.suspects().list[standing.cause.suspect];
        let fault = own.faults.first()?;
        let notation = fault_notation(model.circuit(), fault.at(fault.magnitudes()[0]));
        let said = recorded.iter().rev().find_map(|r| match &r.entry {
            ReleaseEntry::Checked { fault, bad, .. } if *fault == notation => {
                Some((r.sequence, *bad))
            }
            _ => None,
        });
        if let Some((sequence, bad)) = said.filter(|_| standing.checked.is_open()) {
            let repaired = log
                .iter()
                .any(|e| e.sequence > sequence && e.observation == Observation::Repaired(own.unit));
            standing.checked = match (bad, repaired) {
                (true, true) => Checked::Repaired,
                (true, false) => Checked::Bad,
                (false, _) => Checked::Good,
            };
            standing.test = None;
        }
        Some(Self { standing, unit: own.unit, mode: fault.mode, fault: notation })
    }
}
