//! Machines ready to be asked, kept by their revisions: what follows from a document never changes.
//! There is so much room; what was not asked for lately goes first, one machine at a time.

use crate::app::App;
use crate::http::problem::Problem;
use crate::work::desk::{Size, aside};
use kelvok_core::circuit::{Circuit, Condition};
use kelvok_core::diagnosis::{
    Belief, Evidence, History, KillSweep, Model, Proof, Suspects, Workings,
};
use kelvok_core::interlock::FaultSheet;
use kelvok_core::machine::Machine;
use kelvok_core::release::ReleasePlan;
use kelvok_store::Revision;
use lru::LruCache;
use std::collections::HashMap;
use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, Once, OnceLock, PoisonError};
use uuid::Uuid;

/// A machine ready to be diagnosed.
pub struct Compiled {
    pub model: Model,
    sheet: OnceLock<FaultSheet>,
    release: OnceLock<ReleasePlan>,
    /// Sweeps by kill circuit.
    sweeps: Mutex<HashMap<String, Option<KillSweep>>>,
    /// The logs judged last, the latest at the end.
    judged: Mutex<Vec<(Vec<Evidence>, ToBeJudged)>>,
    planned_ahead: Once,
}

/// There once whoever asked first has judged it.
type ToBeJudged = Arc<OnceLock<Arc<Judged>>>;

/// A log, with what is believed by it and what it proves.
#[derive(Debug)]
pub struct Judged {
    pub log: Vec<Evidence>,
    pub belief: Belief,
    pub proofs: Vec<Proof>,
}

/// So many jobs on machines alike are worked on at once.
const MOST_JUDGED: usize = 3;
/// Fault scenarios beyond which a machine is worked on alone.
const LARGE: usize = 3000;

impl Compiled {
    fn new(model: Model) -> Self {
        Self {
            model,
            sheet: OnceLock::new(),
            release: OnceLock::new(),
            sweeps: Mutex::default(),
            judged: Mutex::default(),
            planned_ahead: Once::new(),
        }
    }

    pub fn circuit(&self) -> &Arc<Circuit> {
        self.model.circuit()
    }

    /// What could be wrong with it.
    pub fn suspects(&self) -> &Suspects {
        self.model.suspects()
    }

    /// How much of the server a question about it takes.
    pub fn size(&self) -> Size {
        if self.suspects().scenarios.len() > LARGE { Size::Large } else { Size::Ordinary }
    }

    /// The sweeps planned so far.
    pub fn sweeps(&self) -> MutexGuard<'_, HashMap<String, Option<KillSweep>>> {
        self.sweeps.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A log judged, now or before: whoever asks second, at the same time or later, has what was
    /// worked out for the first. Call it where that holds up nobody.
    pub fn judged(&self, log: &[Evidence]) -> Arc<Judged> {
        let cell = {
            let mut judged = self.judged.lock().unwrap_or_else(PoisonError::into_inner);
            let known = judged.iter().position(|(own, _)| own == log);
            let (own, cell) = match known {
                Some(at) => judged.remove(at),
                None => (log.to_vec(), Arc::default()),
            };
            if judged.len() == MOST_JUDGED {
                judged.remove(0);
            }
            judged.push((own, Arc::clone(&cell)));
            cell
        };
        let judge = || {
            let belief = self.model.judge(log);
            let proofs = self.model.proofs(&belief, log);
            Arc::new(Judged { log: log.to_vec(), belief, proofs })
        };
        cell.get_or_init(judge).clone()
    }

    /// Works out, once and if nobody waits for anything else, what a first plan will ask for. It
    /// keeps two cores busy for seconds: for a machine on which a job is open, not for every one that
    /// is looked at.
    pub fn plan_ahead(self: &Arc<Self>, app: &App) {
        if self.size() == Size::Large {
            return;
        }
        self.planned_ahead.call_once(|| {
            let ahead = Arc::clone(self);
            app.desk.ahead(move || {
                let Self { model, .. } = &*ahead;
                let rest = Condition::at_rest(model.circuit());
                model.prepare(&model.complained_of(&[], &rest));
            });
        });
    }

    /// The fault-and-effect sheet, worked out now or before. Takes seconds: call it where that
    /// holds up nobody.
    pub fn sheet(&self) -> &FaultSheet {
        self.sheet.get_or_init(|| FaultSheet::of(self.circuit()))
    }

    /// What to try before it goes back, worked out now or before. Takes as long as the sheet.
    pub fn release_plan(&self) -> &ReleasePlan {
        self.release.get_or_init(|| ReleasePlan::of(self.circuit(), &[]))
    }
}

/// Room for all all together, in bytes, unless the server is told otherwise.
pub const ROOM: usize = 300 << 20;
/// Circuits kept without what a diagnosis asks for.
const MOST_CIRCUITS: NonZeroUsize = NonZeroUsize::new(200).unwrap();
/// Machines in the shop that are worked on, with the last logs judged on each.
const MOST_COMPILED: NonZeroUsize = NonZeroUsize::new(16).unwrap();
/// Workings kept, as far as there is room for what is in them.
const MOST_WORKINGS: NonZeroUsize = NonZeroUsize::new(100).unwrap();

pub struct Circuits {
    /// In bytes.
    room: usize,
    circuits: Mutex<LruCache<Uuid, Arc<Circuit>>>,
    /// By revision and by what the shop's closed jobs came to, which gives the suspects their weights.
    compiled: Mutex<LruCache<(Uuid, History), Arc<Compiled>>>,
    /// What each suspect would show does not depend on how likely it is.
    workings: Mutex<LruCache<Uuid, Arc<Workings>>>,
}

fn locked<T>(kept: &Mutex<T>) -> MutexGuard<'_, T> {
    kept.lock().unwrap_or_else(PoisonError::into_inner)
}

/// A stored document that this Kelvok cannot read: said, with what is wrong with it.
fn unreadable(revision: &Revision, mistakes: &[kelvok_core::machine::Problem]) -> Problem {
    let mut problem = Problem::document(mistakes);
    problem.detail =
        format!("The document of this machine, revision {}, cannot be read.", revision.revision);
    problem
}

impl Circuits {
    pub fn with_room(room: usize) -> Self {
        Self {
            room,
            circuits: Mutex::new(LruCache::new(MOST_CIRCUITS)),
            compiled: Mutex::new(LruCache::new(MOST_COMPILED)),
            workings: Mutex::new(LruCache::new(MOST_WORKINGS)),
        }
    }

    /// A revision's circuit, compiled now or before.
    pub async fn circuit(&self, app: &App, revision: Uuid) -> Result<Arc<Circuit>, Problem> {
        if let Some(kept) = locked(&self.circuits).get(&revision).cloned() {
            return Ok(kept);
        }
        let revision = app.store.revision(revision).await?;
        let id = revision.id;
        let compile = move || {
            let machine = Machine::read(&revision.document);
            let machine = machine.map_err(|mistakes| unreadable(&revision, &mistakes))?;
            Ok::<_, Problem>(Arc::new(Circuit::compile(&machine)))
        };
        let circuit = aside(compile).await??;
        // What somebody else has put there meanwhile stays.
        Ok(locked(&self.circuits).get_or_insert(id, || circuit).clone())
    }

    /// A revision's circuit and suspects, as the trade's usual figures have them.
    pub async fn compiled(&self, app: &App, revision: Uuid) -> Result<Arc<Compiled>, Problem> {
        self.with_history(app, revision, History::default()).await
    }

    /// A revision's circuit and suspects as a shop knows them: what its closed jobs came to shifts
    /// the weights.
    pub async fn in_shop(
        &self,
        app: &App,
        revision: Uuid,
        beside: Uuid,
    ) -> Result<Arc<Compiled>, Problem> {
        let mut history = History::default();
        for ((seat, mode), jobs) in app.store.outcomes(beside).await? {
            for _ in 0..jobs {
                history.count(seat, mode);
            }
        }
        self.with_history(app, revision, history).await
    }

    async fn with_history(
        &self,
        app: &App,
        revision: Uuid,
        history: History,
    ) -> Result<Arc<Compiled>, Problem> {
        let key = (revision, history);
        if let Some(kept) = locked(&self.compiled).get(&key).cloned() {
            locked(&self.workings).get(&revision);
            return Ok(kept);
        }
        let circuit = self.circuit(app, revision).await?;
        let workings = locked(&self.workings).get_or_insert(revision, Arc::default).clone();
        let history = key.1.clone();
        let compiled =
            aside(move || Arc::new(Compiled::new(Model::in_shop(circuit, &history, workings))));
        let compiled = compiled.await?;
        Ok(locked(&self.compiled).get_or_insert(key, || compiled).clone())
    }

    /// Lets go of what was not asked for lately, machine by machine, until all is within its room.
    /// The machine that is worked on stays.
    pub fn make_room(&self) {
        // The latest first.
        let all: Vec<_> = locked(&self.workings).iter().map(|(_, w)| w.clone()).collect();
        let sizes: Vec<_> = all.iter().map(|workings| workings.bytes()).collect();
        let mut taken: usize = sizes.iter().sum();
        for (workings, bytes) in all.iter().zip(sizes).skip(1).rev() {
            if taken <= self.room {
                return;
            }
            workings.forget();
            taken -= bytes;
        }
    }

    /// What all all take, in bytes.
    pub fn bytes(&self) -> usize {
        locked(&self.workings).iter().map(|(_, workings)| workings.bytes()).sum()
    }
}
