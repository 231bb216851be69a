//! The real interface in a real browser, through the real server and database.
//!
//! A [`Workshop`] is the demo workshop served by the `kelvok` program on a database of its own; a
//! [`Page`] is a browser that sees and does what a user does. Both end only what they started.

mod meter;
mod page;
mod words;
mod workshop;

pub use meter::Meter;
pub use page::{Page, Theme};
pub use words::say;
pub use workshop::{Workshop, program};

use std::future::Future;
use std::sync::Arc;
use tokio::sync::Mutex;

/// Runs a test with a workshop and a page, and takes the browser down whether it passed or not.
///
/// # Panics
/// When the test does, or when something it needs cannot be started.
pub fn with_page<F, R>(test: F)
where
    F: FnOnce(Arc<Mutex<Workshop>>, Page) -> R + Send + 'static,
    R: Future<Output = anyhow::Result<()>> + Send + 'static,
{
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    runtime.block_on(async {
        let workshop = Workshop::start().expect("a workshop");
        let page = Page::open(&workshop.address()).await.expect("a browser");
        let closing = page.clone();
        // Kept here too: a test that does not name its workshop still needs it running.
        let workshop = Arc::new(Mutex::new(workshop));
        let outcome = tokio::spawn(test(workshop.clone(), page)).await;
        closing.close().await;
        drop(workshop);
        match outcome {
            Ok(Ok(())) => {}
            Ok(Err(error)) => panic!("{error:?}"),
            Err(panicked) => std::panic::resume_unwind(panicked.into_panic()),
        }
    });
}
