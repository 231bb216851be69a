//! Work that somebody waits for. It is told to stop when nobody does any more, and says how far it
//! is.
//!
//! Whoever wants an answer runs the work as an [`Errand`]; deep inside, whatever is done again and
//! again takes a [`step`], which unwinds to the errand once it is not wanted. Nothing has to be passed
//! down, and nothing half done is kept: what is worked out once and kept is put there when it is
//! whole. Threads that take part carry the errand with them.

use std::cell::RefCell;
use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

/// Something that is being worked out; cheap to clone, all clones are the same errand.
#[derive(Clone, Debug, Default)]
pub struct Errand(Arc<State>);

#[derive(Debug, Default)]
struct State {
    unwanted: AtomicBool,
    done: AtomicUsize,
    of: AtomicUsize,
}

/// The work was told to stop before it was done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stopped;

thread_local! {
    static OWN: RefCell<Option<Errand>> = const { RefCell::new(None) };
}

impl Errand {
    /// Nobody waits for it any more. It ends at its next step.
    pub fn stop(&self) {
        self.0.unwanted.store(true, Ordering::Relaxed);
    }

    /// Whether it was told to stop.
    pub fn is_stopped(&self) -> bool {
        self.0.unwanted.load(Ordering::Relaxed)
    }

    /// The share that is done, 0 to 1; none where that is not known.
    pub fn share(&self) -> Option<f64> {
        let of = self.0.of.load(Ordering::Relaxed);
        let done = self.0.done.load(Ordering::Relaxed);
        (of > 0).then(|| (done as f64 / of as f64).min(1.0))
    }

    /// Does the work, unless it is stopped before it is done.
    ///
    /// # Errors
    /// It was stopped.
    pub fn run<T>(&self, work: impl FnOnce() -> T) -> Result<T, Stopped> {
        let carried = Carried(Some(self.clone()));
        match catch_unwind(AssertUnwindSafe(|| carried.within(work))) {
            Ok(done) => Ok(done),
            Err(unwound) if unwound.is::<Stopped>() => Err(Stopped),
            Err(panicked) => resume_unwind(panicked),
        }
    }
}

/// An errand on its way to another thread.
#[derive(Clone, Debug)]
pub struct Carried(Option<Errand>);

/// What this thread works at, for threads that take part in it.
pub fn carried() -> Carried {
    Carried(OWN.with_borrow(Clone::clone))
}

impl Carried {
    /// Does a part of the work.
    pub fn within<T>(&self, work: impl FnOnce() -> T) -> T {
        /// Puts back what the thread worked at before, whatever happens.
        struct Before(Option<Errand>);
        impl Drop for Before {
            fn drop(&mut self) {
                OWN.set(self.0.take());
            }
        }
        let _before = Before(OWN.replace(self.0.clone()));
        work()
    }
}

/// Goes on only while the work is wanted.
pub(crate) fn step() {
    let unwanted = OWN.with_borrow(|own| own.as_ref().is_some_and(Errand::is_stopped));
    if unwanted {
        // No panic: nothing is printed, and only the errand catches it.
        resume_unwind(Box::new(Stopped));
    }
}

/// A stretch of the work in pieces, so that it can be said how far it is.
pub(crate) struct Pieces(Option<Errand>);

/// So many pieces are ahead. A stretch within a stretch is not counted.
pub(crate) fn pieces(of: usize) -> Pieces {
    let own = OWN.with_borrow(Clone::clone);
    Pieces(own.filter(|errand| {
        let (order, free) = (Ordering::Relaxed, 0);
        errand.0.of.compare_exchange(free, of, order, order).is_ok()
    }))
}

impl Pieces {
    /// One more is done.
    pub fn one_done(&self) {
        if let Some(errand) = &self.0 {
            errand.0.done.fetch_add(1, Ordering::Relaxed);
        }
    }
}

impl Drop for Pieces {
    fn drop(&mut self) {
        if let Some(errand) = &self.0 {
            errand.0.of.store(0, Ordering::Relaxed);
            errand.0.done.store(0, Ordering::Relaxed);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rayon::prelude::*;

    #[test]
    fn what_is_not_wanted_ends_at_its_next_step_on_every_thread() {
        let errand = Errand::default();
        let steps = AtomicUsize::new(0);
        let ended = errand.run(|| {
            let carried = carried();
            (0..1_000_000usize).into_par_iter().for_each(|_| {
                carried.within(|| {
                    step();
                    if steps.fetch_add(1, Ordering::Relaxed) == 1000 {
                        errand.stop();
                    }
                });
            });
        });
        assert_eq!(ended, Err(Stopped));
        assert!(steps.into_inner() < 500_000);
        // Others are not touched by it, nor is this thread from now on.
        assert_eq!(Errand::default().run(step), Ok(()));
        step();
    }

    #[test]
    fn it_says_how_far_it_is() {
        let errand = Errand::default();
        assert_eq!(errand.share(), None);
        let half = errand.run(|| {
            let four = pieces(4);
            let within = pieces(100);
            within.one_done();
            four.one_done();
            four.one_done();
            errand.share()
        });
        assert_eq!(half, Ok(Some(0.5)));
        assert_eq!(errand.share(), None, "the stretch is over");
    }

    #[test]
    fn a_panic_stays_a_panic() {
        let panicked = catch_unwind(|| Errand::default().run(|| panic!("a bug")));
        assert!(panicked.is_err());
    }
}
