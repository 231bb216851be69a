//! How far a job's release is, as it is sent.

use super::killed::{KilledView, named_in, open_says};
use crate::app::App;
use crate::http::problem::Problem;
use crate::jobs::loaded::{Loaded, recorded};
use crate::views::names::{SetUpView, UnitView};
use chrono::{DateTime, Utc};
use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{Caution, Evidence, Unit};
use kelvok_core::release::{
    AskedAgain, Blocker, Killed, PlannedStep, ReleaseEntry, ReleasePlan, ReleaseStanding, Saw,
    StepResult, TriedStep, Unexposed,
};
use kelvok_store::{JobStatus, LogEntry, Readable};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A job and what was recorded of its release.
pub struct Releasing {
    pub loaded: Loaded,
    /// Units that verdicts which stand name.
    pub named: Vec<Unit>,
    pub entries: Readable<LogEntry<ReleaseEntry>>,
    pub revision: u32,
}

/// What to try before a machine goes back, and how far that is.
#[derive(Serialize, ToSchema)]
pub struct ReleaseView {
    /// The drawing by which it is planned.
    pub revision: u32,
    /// Nothing can be recorded in a closed job.
    pub open: bool,
    pub steps: Vec<ReleaseStepView>,
    /// The step to try next, by its place.
    pub next: Option<usize>,
    /// No plan has fewer steps; else none has fewer than `at_least`.
    pub smallest: bool,
    pub at_least: usize,
    /// Faults that the steps show, whatever their size.
    pub exposed: usize,
    /// How often the engine is started, and blades turn.
    pub starts: usize,
    pub blades: usize,
    /// Faults that no step shows.
    pub readings: Vec<ReadingNeededView>,
    pub fuses: Vec<ReleaseFuseView>,
    /// Parts that were found bad and that another fault may have killed.
    pub killed: Vec<KilledView>,
    /// What stands in the way of signing; nothing may.
    pub blockers: Vec<BlockerView>,
    /// What the machine as it came does not do, in words.
    pub broken: Vec<String>,
    /// How it ended, the last time that it did.
    pub ended: Option<EndedView>,
    /// Every entry, those taken back too.
    pub log: Vec<ReleaseEntryView>,
}

/// One step.
#[derive(Serialize, ToSchema)]
pub struct ReleaseStepView {
    /// As it is recorded.
    pub tried: TriedStep,
    /// What is done before it is tried, a sentence each.
    pub first: Vec<String>,
    /// How the controls stand, each in words.
    pub stand: Vec<ControlStandView>,
    /// What is done, what must come of it, in words.
    pub does: String,
    pub must: String,
    pub cautions: Vec<Caution>,
    pub takes_two: bool,
    pub clear_area: bool,
    /// What may be answered, the right answer first.
    pub answers: Vec<Saw>,
    /// How many different faults show there.
    pub exposes: usize,
    /// The duties that it tries, in words.
    pub duties: Vec<String>,
    pub result: StepResultView,
}

/// A control and where it stands.
#[derive(Serialize, ToSchema)]
pub struct ControlStandView {
    pub control: String,
    /// In words: "nobody in the seat".
    pub says: String,
    /// It stood otherwise after the step before.
    pub moved: bool,
}

/// What a step came to.
#[derive(Serialize, ToSchema)]
pub struct StepResultView {
    pub saw: Option<Saw>,
    pub seconds: Option<f64>,
    /// The entry that says so.
    pub entry: Option<Uuid>,
    pub stands: StepStands,
    /// Why it is asked again.
    pub why: Option<String>,
}

#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StepStands {
    Untried,
    Good,
    Bad,
    /// It was tried, and is to be tried again.
    Again,
}

/// A fault that no step shows.
#[derive(Serialize, ToSchema)]
pub struct ReadingNeededView {
    /// In the fault notation, as it is recorded.
    pub fault: String,
    pub unit: UnitView,
    /// How it fails: "stuck closed".
    pub fails: String,
    /// How it is looked for, in words.
    pub test: String,
    /// What would not be done with it, in words.
    pub breaks: Vec<String>,
    /// Whether it was there, once somebody looked.
    pub bad: Option<bool>,
}

/// A fuse of the machine.
#[derive(Serialize, ToSchema)]
pub struct ReleaseFuseView {
    pub fuse: String,
    pub name: String,
    /// What the circuit is made for, in amperes.
    pub called_for: Option<f64>,
    /// What was read on it.
    pub read: Option<f64>,
}

/// Something that stands in the way.
#[derive(Serialize, ToSchema)]
pub struct BlockerView {
    pub says: String,
    /// The step that it is about, by its place.
    pub step: Option<usize>,
}

/// How a release ended.
#[derive(Serialize, ToSchema)]
pub struct EndedView {
    /// Signed, or returned without being released.
    pub released: bool,
    pub name: String,
    pub role: String,
    pub reason: String,
    pub strokes: Vec<Vec<[f32; 2]>>,
    pub at: Option<DateTime<Utc>>,
    /// The job was opened again since.
    pub reopened: bool,
}

/// An entry of the release's log.
#[derive(Serialize, ToSchema)]
pub struct ReleaseEntryView {
    pub id: Uuid,
    pub sequence: i64,
    pub entry: ReleaseEntry,
    pub by: String,
    pub at: Option<DateTime<Utc>>,
    pub taken_back: bool,
}

impl Releasing {
    pub async fn get(app: &App, id: Uuid) -> Result<Self, Problem> {
        let loaded = Loaded::get(app, id).await?;
        let entries = app.store.release_entries(id).await?;
        let revision = app.store.revision_head(loaded.job.revision_id).await?.revision;
        let named = named_in(app, &loaded).await?;
        Ok(Self { loaded, named, entries, revision: u32::try_from(revision).unwrap_or_default() })
    }

    /// A question about this release as it is now.
    pub fn question(&self, asked: impl std::fmt::Debug) -> String {
        let state: Vec<_> = self.entries.iter().map(|e| (e.sequence, e.voided.is_some())).collect();
        self.loaded.question(("release", self.loaded.job.version, state, &self.named, asked))
    }

    pub fn plan(&self) -> &ReleasePlan {
        self.loaded.compiled.release_plan()
    }

    /// How far it is. Takes seconds where the plan is not known yet.
    pub fn view(&self) -> ReleaseView {
        let circuit: &Circuit = self.loaded.compiled.circuit();
        let plan = self.plan();
        let killed = self.killed();
        let standing = self.standing(circuit, plan, &killed);
        let duty = |index: usize| circuit.document().duties[index].name.clone();
        let unexposed = plan.unexposed(circuit);
        let mut before = Condition::at_rest(circuit);
        let steps = plan.steps.iter().zip(&standing.steps).map(|(planned, result)| {
            let view = self.step(circuit, (plan, planned), &before, result);
            before = planned.step.to.as_ref().unwrap_or(&planned.step.from).clone();
            view
        });
        let steps = steps.collect();
        let readings = unexposed.iter().zip(&standing.checks).map(|(u, bad)| ReadingNeededView {
            fault: u.fault.clone(),
            unit: UnitView::of(circuit, u.unit),
            fails: u.mode.words().to_owned(),
            test: u.test(circuit),
            breaks: u.breaks.iter().map(|d| duty(*d)).collect(),
            bad: *bad,
        });
        let fuses = standing.fuses.iter().map(|(part, read)| {
            let part = circuit.part(*part);
            let (fuse, name) = (part.id.clone(), part.name.clone());
            ReleaseFuseView { fuse, name, called_for: part.amps, read: *read }
        });
        let blockers = blockers(circuit, (&unexposed, &killed), &standing.blockers);
        ReleaseView {
            revision: self.revision,
            open: self.loaded.job.status == JobStatus::Open,
            steps,
            next: standing.next,
            smallest: plan.cover.proved,
            at_least: plan.cover.at_least,
            exposed: plan.exposed(),
            starts: plan.starts,
            blades: plan.blades,
            readings: readings.collect(),
            fuses: fuses.collect(),
            killed: KilledView::all(&self.loaded, &killed),
            blockers,
            broken: plan.broken.iter().map(|b| duty(b.duty)).collect(),
            ended: ended_of(&self.entries, self.loaded.job.status),
            log: self.entries.iter().map(entry_view).collect(),
        }
    }

    /// Parts that were found bad and that another fault may have killed.
    fn killed(&self) -> Vec<Killed> {
        let Loaded { compiled, fitted, .. } = &self.loaded;
        let recorded = recorded(&self.entries);
        Killed::all(&compiled.model, &self.loaded.log(), &self.named, fitted, &recorded)
    }

    fn standing(
        &self,
        circuit: &Circuit,
        plan: &ReleasePlan,
        killed: &[Killed],
    ) -> ReleaseStanding {
        let recorded = recorded(&self.entries);
        let all = self.loaded.evidence.iter();
        let all = all.filter_map(|e| e.body.resolve(circuit, e.sequence as u64).ok());
        let all: Vec<Evidence> = all.collect();
        let log = self.loaded.log();
        ReleaseStanding::of(circuit, plan, &recorded, (&log, &all), self.revision, killed)
    }

    fn step(
        &self,
        circuit: &Circuit,
        (plan, planned): (&ReleasePlan, &PlannedStep),
        before: &Condition,
        result: &StepResult,
    ) -> ReleaseStepView {
        let step = &planned.step;
        let stand = step.stand(circuit).into_iter().map(|(i, says)| {
            let moved = step.from.positions[i] != before.positions[i];
            ControlStandView { control: circuit.controls[i].id.clone(), says, moved }
        });
        ReleaseStepView {
            tried: TriedStep::of(circuit, step),
            first: planned.first(circuit, before),
            stand: stand.collect(),
            does: step.does(circuit),
            must: step.must(circuit),
            cautions: step.cautions(circuit),
            takes_two: step.takes_two(circuit),
            clear_area: step.clear_area(circuit),
            answers: step.answers(),
            exposes: plan.exposed_by(planned),
            duties: step
                .duties
                .iter()
                .map(|d| circuit.document().duties[*d].name.clone())
                .collect(),
            result: self.result(circuit, result),
        }
    }

    fn result(&self, circuit: &Circuit, result: &StepResult) -> StepResultView {
        let own = |e: &&LogEntry<ReleaseEntry>| result.sequence == Some(e.sequence as u64);
        let why = result.again.map(|again| match again {
            AskedAgain::Repaired(unit) => {
                format!("Try it again: {} was worked on since.", UnitView::of(circuit, unit).name)
            }
            AskedAgain::PutBack(what) => {
                format!("Try it again: {} was off since.", SetUpView::of(circuit, what).name)
            }
            AskedAgain::NotWhole => {
                "Something was off or jumped when this was tried. Try it again.".to_owned()
            }
            AskedAgain::Drawing => "Try it again: the drawing was changed since.".to_owned(),
            AskedAgain::Differed => {
                "It went wrong before, and nothing was fixed in between. Try it again: it has to go \
                 right twice in a row."
                    .to_owned()
            }
        });
        StepResultView {
            saw: result.saw,
            seconds: result.seconds,
            entry: self.entries.iter().find(own).map(|e| e.id),
            stands: match result {
                StepResult { saw: None, .. } => StepStands::Untried,
                StepResult { again: Some(_), .. } => StepStands::Again,
                StepResult { passed: true, .. } => StepStands::Good,
                _ => StepStands::Bad,
            },
            why,
        }
    }
}

/// How a release ended, the last time that somebody put a name under it.
pub(crate) fn ended_of(entries: &[LogEntry<ReleaseEntry>], status: JobStatus) -> Option<EndedView> {
    let last = entries.iter().rev().find(|e| e.voided.is_none() && e.body.ends_it())?;
    let (at, reopened) = (last.recorded_at, status == JobStatus::Open);
    Some(match last.body.clone() {
        ReleaseEntry::Signed { name, role, strokes } => {
            EndedView { released: true, name, role, reason: String::new(), strokes, at, reopened }
        }
        ReleaseEntry::Returned { name, reason } => {
            let (role, strokes) = (String::new(), Vec::new());
            EndedView { released: false, name, role, reason, strokes, at, reopened }
        }
        _ => return None,
    })
}

fn sentence_case(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|c| c.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

fn entry_view(entry: &LogEntry<ReleaseEntry>) -> ReleaseEntryView {
    ReleaseEntryView {
        id: entry.id,
        sequence: entry.sequence,
        entry: entry.body.clone(),
        by: entry.recorded_by.clone(),
        at: entry.recorded_at,
        taken_back: entry.voided.is_some(),
    }
}

/// What stands in the way, in words: steps that nobody did yet in one sentence.
fn blockers(circuit: &Circuit, at: (&[Unexposed], &[Killed]), all: &[Blocker]) -> Vec<BlockerView> {
    let untried: Vec<_> = all
        .iter()
        .filter_map(|b| match b {
            Blocker::Untried(step) => Some(*step),
            _ => None,
        })
        .collect();
    let mut views: Vec<BlockerView> = Vec::new();
    for own in all {
        match own {
            Blocker::Untried(step) if untried.len() > 1 => {
                if untried[0] == *step {
                    let says = format!("{} steps are not done yet.", untried.len());
                    views.push(BlockerView { says, step: Some(*step) });
                }
            }
            _ => views.push(blocker(circuit, at, own)),
        }
    }
    views
}

fn blocker(
    circuit: &Circuit,
    (unexposed, killed): (&[Unexposed], &[Killed]),
    blocker: &Blocker,
) -> BlockerView {
    let amps = |a: f64| format!("{a} A");
    let fault = |i: usize| {
        let own = &unexposed[i];
        format!("{} {}", UnitView::of(circuit, own.unit).name, own.mode.words())
    };
    let (says, step) = match *blocker {
        Blocker::StillOff(what) => {
            (format!("To put back: {}.", SetUpView::of(circuit, what).name), None)
        }
        Blocker::JumperCables => ("The jumper cables are still on.".to_owned(), None),
        Blocker::Broken(duty) => {
            let name = &circuit.document().duties[duty].name;
            (format!("As it came in it fails \"{name}\". Fix that first."), None)
        }
        Blocker::NoDuties => (
            "Nothing is written down that its switches must do. Add that to its drawing."
                .to_owned(),
            None,
        ),
        Blocker::Untried(step) => (format!("Step {} is not done yet.", step + 1), Some(step)),
        Blocker::Failed(step) => (format!("Step {} failed.", step + 1), Some(step)),
        Blocker::Again(step) => (format!("Step {} has to be done again.", step + 1), Some(step)),
        Blocker::Unchecked(i) => (format!("Not checked yet: {}.", fault(i)), None),
        Blocker::FoundBad(i) => (format!("Found bad: {}.", fault(i)), None),
        Blocker::FuseUnread(part) => (
            format!("{}: read what is printed on it.", sentence_case(&circuit.part(part).name)),
            None,
        ),
        Blocker::CauseUnchecked(part, _) | Blocker::CauseThere(part, _) => {
            (open_says(circuit, &killed[part]).unwrap_or_default(), None)
        }
        Blocker::FuseOver { part, amps: found, called_for } => {
            let name = sentence_case(&circuit.part(part).name);
            (format!("{name}: {} in it, {} called for.", amps(found), amps(called_for)), None)
        }
    };
    BlockerView { says, step }
}
