//! Heavy questions, answered a few at a time.
//!
//! The same question asked twice is worked out once. One that nobody waits for any more is stopped.
//! One that takes longer than a request may wait is answered with how far it is, and goes on; whoever
//! asked asks again. Recording and health never come by here.

use crate::http::problem::Problem;
use axum::Json;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use kelvok_core::errand::Errand;
use serde::Serialize;
use std::any::Any;
use std::collections::HashMap;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};
use tokio::sync::{Semaphore, watch};
use utoipa::ToSchema;

/// Questions worked on and waiting together; one more is refused for now.
const MOST_OPEN: usize = 64;
/// A request waits so long, and is then told how far the work is.
const SOON: Duration = Duration::from_secs(4);
/// Whoever was told to ask again has so long to do it before the work is stopped.
const COMES_BACK: Duration = Duration::from_secs(10);

/// An answer that is not there yet: ask again just as before.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct Progress {
    /// The share that is done, 0 to 1; none where that is not known.
    #[schema(required = true)]
    pub share: Option<f64>,
}

/// An answer, or how far it is.
pub enum Reply<T> {
    Done(Arc<T>),
    Working(Progress),
}

impl<T> Reply<T> {
    /// As a response of whatever kind; while it is worked on, 202.
    pub fn into_response_with(self, done: impl FnOnce(&T) -> Response) -> Response {
        match self {
            Self::Done(answer) => done(&answer),
            Self::Working(progress) => {
                let mut response = (StatusCode::ACCEPTED, Json(progress)).into_response();
                let again = HeaderValue::from_static("1");
                response.headers_mut().insert(header::RETRY_AFTER, again);
                response
            }
        }
    }
}

impl<T: Serialize> IntoResponse for Reply<T> {
    fn into_response(self) -> Response {
        self.into_response_with(|answer| Json(answer).into_response())
    }
}

type Answer = Result<Arc<dyn Any + Send + Sync>, Problem>;

struct Question {
    errand: Errand,
    waiting: AtomicUsize,
    /// Until when whoever was told to ask again may do so.
    kept_until: Mutex<Option<Instant>>,
    answer: watch::Sender<Option<Answer>>,
}

/// Where heavy questions are worked on.
pub struct Desk {
    hands: Arc<Semaphore>,
    all_hands: u32,
    open: Mutex<HashMap<String, Arc<Question>>>,
}

impl Default for Desk {
    fn default() -> Self {
        Self::with_hands(std::thread::available_parallelism().map_or(2, |n| n.get().min(8)) as u32)
    }
}

impl Desk {
    fn with_hands(hands: u32) -> Self {
        let semaphore = Arc::new(Semaphore::new(hands as usize));
        Self { hands: semaphore, all_hands: hands, open: Mutex::default() }
    }

    fn open(&self) -> MutexGuard<'_, HashMap<String, Arc<Question>>> {
        self.open.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Asks a question. The key says all that the answer depends on.
    ///
    /// # Errors
    /// Too many questions are open, or the work says what is wrong with this one.
    pub async fn ask<T: Send + Sync + 'static>(
        self: &Arc<Self>,
        key: String,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<Reply<T>, Problem> {
        self.ask_within(SOON, key, size, work).await
    }

    /// Asks a question, and waits no longer than `patience` for its answer.
    ///
    /// # Errors
    /// As of [`Desk::ask`].
    pub async fn ask_within<T: Send + Sync + 'static>(
        self: &Arc<Self>,
        patience: Duration,
        key: String,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<Reply<T>, Problem> {
        let mut waiter = self.join(key, size, work)?;
        let mut answered = waiter.question.answer.subscribe();
        let answer = tokio::time::timeout(patience, answered.wait_for(Option::is_some)).await;
        match answer {
            Ok(Ok(answer)) => {
                let answer = answer.clone().unwrap_or_else(|| Err(Problem::internal()))?;
                let answer = answer.downcast::<T>().map_err(|_| Problem::internal())?;
                Ok(Reply::Done(answer))
            }
            Ok(Err(_)) => Err(Problem::internal()),
            Err(_) => {
                waiter.comes_back = true;
                Ok(Reply::Working(Progress { share: waiter.question.errand.share() }))
            }
        }
    }

    /// The question of this key that is open already, or a new one.
    fn join<T: Send + Sync + 'static>(
        self: &Arc<Self>,
        key: String,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) -> Result<Waiter, Problem> {
        let mut open = self.open();
        let known = open.get(&key).filter(|question| !question.errand.is_stopped()).cloned();
        let question = match known {
            Some(question) => question,
            None if open.len() >= MOST_OPEN => return Err(Problem::busy()),
            None => {
                let question = Arc::new(Question {
                    errand: Errand::default(),
                    waiting: AtomicUsize::new(0),
                    kept_until: Mutex::default(),
                    answer: watch::Sender::new(None),
                });
                open.insert(key.clone(), question.clone());
                tokio::spawn(self.clone().work(key.clone(), question.clone(), size, work));
                question
            }
        };
        question.waiting.fetch_add(1, Ordering::AcqRel);
        Ok(Waiter { desk: self.clone(), key, question, comes_back: false })
    }

    async fn work<T: Send + Sync + 'static>(
        self: Arc<Self>,
        key: String,
        question: Arc<Question>,
        size: Size,
        work: impl FnOnce() -> Result<T, Problem> + Send + 'static,
    ) {
        let hands = match size {
            Size::Ordinary => 1,
            Size::Large => self.all_hands,
        };
        let Ok(hand) = self.hands.clone().acquire_many_owned(hands).await else { return };
        let errand = question.errand.clone();
        if errand.is_stopped() {
            return;
        }
        let done = tokio::task::spawn_blocking(move || {
            let _hand = hand;
            errand.run(work)
        });
        let answer: Answer = match done.await {
            Ok(Ok(Ok(answer))) => Ok(Arc::new(answer)),
            Ok(Ok(Err(problem))) => Err(problem),
            // Nobody waits for it.
            Ok(Err(_stopped)) => return,
            Err(error) => {
                tracing::error!(%error, "computation failed");
                Err(Problem::internal())
            }
        };
        question.answer.send_replace(Some(answer));
        self.close_unless_awaited(&key, &question);
    }

    /// Puts a question away that nobody waits for, and nobody was told to come back for.
    fn close_unless_awaited(&self, key: &str, question: &Arc<Question>) {
        let mut open = self.open();
        let until = *question.kept_until.lock().unwrap_or_else(PoisonError::into_inner);
        let awaited = question.waiting.load(Ordering::Acquire) > 0
            || until.is_some_and(|until| until > Instant::now());
        if !awaited {
            question.errand.stop();
            if open.get(key).is_some_and(|known| Arc::ptr_eq(known, question)) {
                open.remove(key);
            }
        }
    }

    /// Does something that nobody waits for yet, if a hand is free.
    pub fn ahead(&self, work: impl FnOnce() + Send + 'static) {
        if let Ok(hand) = self.hands.clone().try_acquire_owned() {
            tokio::task::spawn_blocking(move || {
                let _hand = hand;
                // What goes wrong here goes wrong again when it is asked for, and is said then.
                let _ = Errand::default().run(work);
            });
        }
    }

    /// Stops everything: the server ends.
    pub fn stop(&self) {
        for question in self.open().values() {
            question.errand.stop();
        }
    }

    /// How many questions are open.
    pub fn questions(&self) -> usize {
        self.open().len()
    }
}

/// Does something short where it holds up no other request, and waits behind none. It is stopped when
/// whoever asked leaves.
///
/// # Errors
/// It has a bug.
pub async fn aside<T: Send + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    struct Left(Errand);
    impl Drop for Left {
        fn drop(&mut self) {
            self.0.stop();
        }
    }
    let left = Left(Errand::default());
    let errand = left.0.clone();
    let done = tokio::task::spawn_blocking(move || errand.run(work)).await;
    done.ok().and_then(Result::ok).ok_or_else(|| {
        tracing::error!("computation failed");
        Problem::internal()
    })
}

/// How much of the machine a question takes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Size {
    Ordinary,
    /// It is worked on alone.
    Large,
}

/// One request that waits for a question's answer.
struct Waiter {
    desk: Arc<Desk>,
    key: String,
    question: Arc<Question>,
    comes_back: bool,
}

impl Drop for Waiter {
    fn drop(&mut self) {
        if self.comes_back {
            let until = Instant::now() + COMES_BACK;
            let kept = &self.question.kept_until;
            *kept.lock().unwrap_or_else(PoisonError::into_inner) = Some(until);
            let (desk, key) = (self.desk.clone(), self.key.clone());
            let question = self.question.clone();
            tokio::spawn(async move {
                tokio::time::sleep(COMES_BACK + Duration::from_millis(50)).await;
                desk.close_unless_awaited(&key, &question);
            });
        }
        self.question.waiting.fetch_sub(1, Ordering::AcqRel);
        self.desk.close_unless_awaited(&self.key, &self.question);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kelvok_core::circuit::Circuit;
    use kelvok_core::interlock::FaultSheet;
    use kelvok_core::machine::{LIBRARY, Machine};
    use std::sync::atomic::AtomicBool;

    fn done<T>(reply: Reply<T>) -> Arc<T> {
        match reply {
            Reply::Done(answer) => answer,
            Reply::Working(_) => panic!("it takes long"),
        }
    }

    /// Work that goes on until it is stopped.
    fn endless(ended: &Arc<AtomicBool>) -> impl FnOnce() -> Result<usize, Problem> + Send + use<> {
        struct Ended(Arc<AtomicBool>);
        impl Drop for Ended {
            fn drop(&mut self) {
                self.0.store(true, Ordering::Release);
            }
        }
        let ended = Ended(ended.clone());
        move || {
            let _ended = ended;
            let text = LIBRARY[0].text;
            let circuit = Circuit::compile(&Machine::read(text).expect("a library machine"));
            loop {
                FaultSheet::of(&circuit);
            }
        }
    }

    async fn within(what: &str, holds: impl Fn() -> bool) {
        for _ in 0..200 {
            if holds() {
                return;
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        panic!("{what}");
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn the_same_question_is_worked_out_once() {
        let (desk, times) = (Arc::new(Desk::with_hands(2)), Arc::new(AtomicUsize::new(0)));
        let asks: Vec<_> = (0..20)
            .map(|_| {
                let (desk, times) = (desk.clone(), times.clone());
                tokio::spawn(async move {
                    let work = move || {
                        std::thread::sleep(Duration::from_millis(200));
                        Ok(times.fetch_add(1, Ordering::Relaxed))
                    };
                    desk.ask("one".to_owned(), Size::Ordinary, work).await
                })
            })
            .collect();
        for ask in asks {
            assert_eq!(*done(ask.await.expect("asked").expect("an answer")), 0);
        }
        assert_eq!(desk.questions(), 0, "nothing is left of it");
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn what_nobody_waits_for_is_stopped_and_more_than_fit_are_refused() {
        let desk = Arc::new(Desk::with_hands(1));
        let ended: Vec<Arc<AtomicBool>> = (0..MOST_OPEN).map(|_| Arc::default()).collect();
        let asks: Vec<_> = ended
            .iter()
            .enumerate()
            .map(|(i, ended)| {
                let (desk, work) = (desk.clone(), endless(ended));
                tokio::spawn(async move { desk.ask(i.to_string(), Size::Ordinary, work).await })
            })
            .collect();
        within("they are not all there", || desk.questions() == MOST_OPEN).await;
        let one_more = desk.ask("more".to_owned(), Size::Ordinary, || Ok(1)).await;
        assert_eq!(one_more.err().map(|p| p.status), Some(503));
        // Their askers leave.
        for ask in asks {
            ask.abort();
        }
        within("they go on", || ended.iter().all(|e| e.load(Ordering::Acquire))).await;
        within("they are still open", || desk.questions() == 0).await;
        let next = desk.ask("next".to_owned(), Size::Large, || Ok(7)).await;
        assert_eq!(*done(next.expect("a hand is free")), 7);
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn what_takes_long_says_how_far_it_is_and_is_stopped_when_nobody_comes_back() {
        let (desk, ended) = (Arc::new(Desk::with_hands(1)), Arc::default());
        let asked = desk.ask("long".to_owned(), Size::Ordinary, endless(&ended)).await;
        let Ok(Reply::Working(progress)) = asked else { panic!("it cannot be done") };
        assert!(progress.share.is_some_and(|share| (0.0..=1.0).contains(&share)), "{progress:?}");
        assert!(!ended.load(Ordering::Acquire), "it goes on meanwhile");
        within("it goes on for ever", || ended.load(Ordering::Acquire)).await;
    }
}
