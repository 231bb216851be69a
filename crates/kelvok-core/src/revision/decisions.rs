//! What a machine decides otherwise: its sentences, its duties, and the conditions in which it does something else.

use crate::circuit::{Circuit, Condition};
use crate::interlock::{
    DutyProof, Effect, InterlockTable, Judge, TooManyCombinations, phrase, prove_duties, sentences,
};
use serde::Serialize;

/// What became of a duty.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum DutyState {
    Proved,
    Broken,
    NeverComesUp,
}

impl DutyState {
    /// In words.
    pub fn plain(self) -> &'static str {
        match self {
            Self::Proved => "proved",
            Self::Broken => "broken",
            Self::NeverComesUp => "never comes up",
        }
    }
}

/// One sentence of how it decides, before and after; none where it says nothing of that.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct SentenceChange {
    pub effect: Effect,
    pub before: Option<String>,
    pub after: Option<String>,
}

/// A duty that is new, gone, or does not come out as it did.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct DutyChange {
    pub name: String,
    pub before: Option<DutyState>,
    pub after: Option<DutyState>,
}

impl DutyChange {
    /// In words.
    pub fn says(&self) -> String {
        match (self.before, self.after) {
            (None, Some(now)) => format!("new, {}", now.plain()),
            (Some(was), Some(now)) => format!("{} now, {} before", now.plain(), was.plain()),
            _ => "gone".to_owned(),
        }
    }
}

/// Conditions in which it now does something that it did not, or no longer does it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ConditionChange {
    /// What it does: stopping is what a running engine does.
    pub effect: Effect,
    /// It does it now, and did not before.
    pub now: bool,
    /// In how many conditions.
    pub count: usize,
    /// The first of them.
    pub first: Condition,
}

/// How a machine decides otherwise than before.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct DecisionChanges {
    /// Only those that changed.
    pub sentences: Vec<SentenceChange>,
    /// Likewise.
    pub duties: Vec<DutyChange>,
    /// None where the controls themselves are others: then no condition can be held against another.
    pub conditions: Option<Vec<ConditionChange>>,
}

impl ConditionChange {
    /// It cranks, starts or drives where it did not, or no longer stops.
    pub fn is_less_safe(&self) -> bool {
        self.now != (self.effect == Effect::Stops)
    }

    /// In words, without the condition.
    pub fn says(&self, circuit: &Circuit) -> String {
        let driven = circuit.document().drive.driven();
        let is = if driven.ends_with('s') { "are" } else { "is" };
        let what = match (self.effect, self.now) {
            (Effect::Cranks, true) => "Now cranks".to_owned(),
            (Effect::Cranks, false) => "No longer cranks".to_owned(),
            (Effect::Starts, true) => "Would now start".to_owned(),
            (Effect::Starts, false) => "Would no longer start".to_owned(),
            (Effect::Stops, true) => "A running engine now stops".to_owned(),
            (Effect::Stops, false) => "A running engine no longer stops".to_owned(),
            (Effect::Blades, true) => format!("The {driven} {is} now driven"),
            (Effect::Blades, false) => format!("The {driven} {is} no longer driven"),
        };
        match self.count {
            1 => format!("{what} in 1 combination of the controls"),
            count => format!("{what} in {count} combinations of the controls"),
        }
    }

    /// The first of the conditions, in words.
    pub fn first_says(&self, circuit: &Circuit) -> String {
        let at = circuit.controls.iter().zip(&self.first.positions);
        let said: Vec<_> = at.map(|(c, p)| phrase(c, &[usize::from(*p)])).collect();
        said.join(", ")
    }
}

impl DecisionChanges {
    /// Works both machines in every condition, as they stand here.
    ///
    /// # Errors
    /// The controls of either stand in more combinations than can be tabled.
    pub fn between(before: &Circuit, after: &Circuit) -> Result<Self, TooManyCombinations> {
        let (old, new) = (Decided::by(before)?, Decided::by(after)?);
        Ok(Self {
            sentences: sentence_changes(&old, &new),
            duties: duty_changes(&old, &new),
            conditions: same_controls(before, after).then(|| condition_changes(before, &old, &new)),
        })
    }

    /// Whether it does somewhere what it should not, and did not before: a duty is broken, or something is
    /// less safe in some combination of the controls.
    pub fn is_less_safe(&self) -> bool {
        self.duties.iter().any(|d| d.after == Some(DutyState::Broken))
            || self.conditions.iter().flatten().any(ConditionChange::is_less_safe)
    }

    /// Whether it decides as it did.
    pub fn is_empty(&self) -> bool {
        let none = self.conditions.as_ref().is_some_and(Vec::is_empty);
        self.sentences.is_empty() && self.duties.is_empty() && none
    }
}

struct Decided<'c> {
    circuit: &'c Circuit,
    table: InterlockTable,
    duties: Vec<DutyProof>,
}

impl<'c> Decided<'c> {
    fn by(circuit: &'c Circuit) -> Result<Self, TooManyCombinations> {
        let mut judge = Judge::new(circuit, &[]);
        let table = InterlockTable::of(&mut judge)?;
        Ok(Self { circuit, table, duties: prove_duties(&mut judge) })
    }

    fn says(&self) -> Vec<(Effect, String)> {
        let all = sentences(self.circuit, &self.table);
        all.into_iter().map(|s| (s.effect, s.says)).collect()
    }

    fn duty(&self, name: &str) -> Option<DutyState> {
        let own = &self.circuit.document().duties;
        let proof = self.duties.iter().find(|p| own[p.duty].name == name)?;
        Some(match proof {
            p if p.checked == 0 => DutyState::NeverComesUp,
            p if p.proved() => DutyState::Proved,
            _ => DutyState::Broken,
        })
    }
}

fn sentence_changes(old: &Decided<'_>, new: &Decided<'_>) -> Vec<SentenceChange> {
    let (before, after) = (old.says(), new.says());
    let of = |all: &[(Effect, String)], effect| {
        all.iter().find(|(e, _)| *e == effect).map(|(_, says)| says.clone())
    };
    let changes = Effect::ALL.map(|effect| SentenceChange {
        effect,
        before: of(&before, effect),
        after: of(&after, effect),
    });
    changes.into_iter().filter(|c| c.before != c.after).collect()
}

fn duty_changes(old: &Decided<'_>, new: &Decided<'_>) -> Vec<DutyChange> {
    let names = |of: &Decided<'_>| -> Vec<String> {
        of.circuit.document().duties.iter().map(|d| d.name.clone()).collect()
    };
    let mut all = names(new);
    all.extend(names(old).into_iter().filter(|n| !names(new).contains(n)));
    let change =
        |name: String| DutyChange { before: old.duty(&name), after: new.duty(&name), name };
    all.into_iter().map(change).filter(|c| c.before != c.after).collect()
}

fn same_controls(before: &Circuit, after: &Circuit) -> bool {
    let positions = |circuit: &Circuit| -> Vec<(String, Vec<String>)> {
        let ids = |c: &crate::machine::Control| c.positions.iter().map(|p| p.id.clone()).collect();
        circuit.controls.iter().map(|c| (c.id.clone(), ids(c))).collect()
    };
    positions(before) == positions(after)
}

fn condition_changes(
    circuit: &Circuit,
    old: &Decided<'_>,
    new: &Decided<'_>,
) -> Vec<ConditionChange> {
    let both: Vec<_> = old
        .table
        .conditions(circuit)
        .into_iter()
        .filter_map(|(condition, was)| Some((was, new.table.row(&condition)?, condition)))
        .collect();
    let mut changes: Vec<ConditionChange> = Vec::new();
    let mut cranked = Vec::new();
    for effect in Effect::ALL {
        for now in [true, false] {
            let changed: Vec<&Condition> = both
                .iter()
                .filter(|(was, is, _)| effect.holds(is) == now && effect.holds(was) != now)
                .map(|(_, _, condition)| condition)
                .collect();
            let Some(first) = changed.first().copied().cloned() else { continue };
            // What cranks and starts alike is said once.
            if effect == Effect::Starts && cranked.contains(&(now, changed.clone())) {
                continue;
            }
            changes.push(ConditionChange { effect, now, count: changed.len(), first });
            if effect == Effect::Cranks {
                cranked.push((now, changed));
            }
        }
    }
    changes
}
