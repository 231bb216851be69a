//! What was found: the units, what that rests on, what may have caused it and what it may have
//! harmed.

use crate::jobs::diagnosis::how;
use crate::jobs::diagnosis::test_card::{TestView, test_view};
use crate::views::names::{UnitView, condition_view, element_name, full_name};
use crate::work::compiled::Compiled;
use kelvok_core::circuit::{Circuit, Condition, FaultMode};
use kelvok_core::diagnosis::{
    AnswerRange, Belief, CauseStanding, Checked, Evidence, FaultSize, Plan, SetUp, Strain,
};
use kelvok_core::fuses::Fitted;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct ConclusionView {
    pub units: Vec<UnitView>,
    pub mode: Option<FaultMode>,
    pub element: Option<String>,
    /// Where a wrong drawing would look the same: what would have to change in it, in the fault notation.
    pub drawing: Option<String>,
    /// How great its fault is, once the evidence says so: the median, and 90 % bounds.
    pub size: Option<FaultSize>,
    pub probability: f64,
    pub confirmed: bool,
    /// The entries, by sequence, that point to it.
    pub rests_on: Vec<u64>,
    /// Other faults that may have brought it about, the likeliest first: look for them before a new
    /// part is fitted.
    pub causes: Vec<CauseView>,
    /// What it does beyond what was complained of.
    pub harms: Vec<StrainView>,
}

#[derive(Serialize, ToSchema)]
pub struct CauseView {
    pub unit: UnitView,
    pub mode: Option<FaultMode>,
    pub element: Option<String>,
    pub by: StrainView,
    pub checked: Checked,
    /// What would tell, where nothing did yet, and what it shows where the cause is good.
    pub test: Option<TestView>,
    pub good: Option<AnswerRange>,
}

impl CauseView {
    pub fn of(
        compiled: &Compiled,
        standing: &CauseStanding,
        (log, off): (&[Evidence], &[SetUp]),
    ) -> Self {
        let circuit = compiled.circuit();
        let suspect = &compiled.suspects().list[standing.cause.suspect];
        let fault = suspect.faults.first();
        Self {
            unit: UnitView::of(circuit, suspect.unit),
            mode: fault.map(|f| f.mode),
            element: fault.and_then(|f| f.element()).and_then(|e| element_name(circuit, e)),
            by: StrainView::of(compiled, &standing.cause.strain),
            checked: standing.checked,
            good: standing.test.as_ref().and_then(|(_, good)| *good),
            test: standing.test.as_ref().map(|(test, _)| test_view(compiled, test, (log, off))),
        }
    }
}

/// Something overtaxed, in the condition in which it is.
#[derive(Serialize, ToSchema)]
pub struct StrainView {
    #[serde(flatten)]
    pub what: StrainKind,
    pub condition: BTreeMap<String, String>,
}

#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum StrainKind {
    /// A contact carries more than it is rated for, in amperes.
    Overloads {
        contact: String,
        amps: f64,
        rated: f64,
        /// The fuse that lets it.
        past: Option<PastFuseView>,
    },
    BlowsFuse {
        fuse: String,
    },
    DoesNotCharge,
    Overcharges {
        volts: f64,
    },
}

/// A fuse that does not blow.
#[derive(Serialize, ToSchema)]
pub struct PastFuseView {
    pub fuse: String,
    pub rating: f64,
    /// One of the size called for would have blown.
    pub right_one: Option<f64>,
}

impl StrainView {
    fn of(compiled: &Compiled, strain: &Strain) -> Self {
        let circuit = compiled.circuit();
        let (what, condition) = match strain {
            Strain::Overloads { contact, amps, rated, past, condition } => {
                let contact = full_name(circuit, *contact);
                let past = past.map(|p| PastFuseView {
                    fuse: full_name(circuit, p.fuse),
                    rating: p.rating,
                    right_one: p.right_one,
                });
                (StrainKind::Overloads { contact, amps: *amps, rated: *rated, past }, condition)
            }
            Strain::BlowsFuse { fuse, condition } => {
                (StrainKind::BlowsFuse { fuse: full_name(circuit, *fuse) }, condition)
            }
            Strain::DoesNotCharge { condition } => (StrainKind::DoesNotCharge, condition),
            Strain::Overcharges { volts, condition } => {
                (StrainKind::Overcharges { volts: *volts }, condition)
            }
        };
        Self { what, condition: condition_view(circuit, condition) }
    }
}

impl ConclusionView {
    pub fn of(
        compiled: &Compiled,
        complained: &Condition,
        (belief, log): (&Belief, &[Evidence]),
        (plan, size): (&Plan, Option<FaultSize>),
        (off, fitted): (&[SetUp], &[Fitted]),
    ) -> Option<Self> {
        let (circuit, suspects) = (compiled.circuit(), compiled.suspects());
        let circuit: &Circuit = circuit;
        let conclusion = plan.conclusion.as_ref()?;
        let first = *conclusion.units.first()?;
        let (suspect, mode, element) = how(compiled, belief, first);
        let model = &compiled.model;
        let after = suspect.map(|s| model.aftermath(s, fitted)).unwrap_or_default();
        let causes = suspect.map(|s| model.causes((belief, log), complained, s, after.causes));
        let causes = causes.into_iter().flatten();
        let causes = causes.map(|standing| CauseView::of(compiled, &standing, (log, off)));
        Some(Self {
            units: conclusion.units.iter().map(|u| UnitView::after(circuit, *u, log)).collect(),
            mode,
            element,
            drawing: compiled.model.drawing_error(belief, &conclusion.units),
            size,
            probability: conclusion.probability,
            confirmed: conclusion.confirmed,
            rests_on: belief.pointing(suspects, &conclusion.units),
            causes: causes.collect(),
            harms: after.harms.iter().map(|s| StrainView::of(compiled, s)).collect(),
        })
    }
}
