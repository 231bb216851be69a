//! Connections: how many, from whom, and how long each may say nothing.
//!
//! A client that opens more than its share has its longest-silent connection closed, so that whoever
//! asks something always gets in. One that does not send its request's head in time is closed too.

use axum::Router;
use axum::body::{Body, Bytes, HttpBody};
use axum::extract::Request;
use axum::response::Response;
use http_body::{Frame, SizeHint};
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper_util::rt::{TokioIo, TokioTimer};
use std::convert::Infallible;
use std::future::Future;
use std::net::{IpAddr, SocketAddr};
use std::pin::Pin;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::task::{Context, Poll};
use std::time::{Duration, Instant};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::watch;
use tokio::task::AbortHandle;
use tower::ServiceExt;

/// How many connections there may be, and how long they may be silent.
#[derive(Clone, Copy, Debug)]
pub struct Limits {
    pub of_all: usize,
    pub of_a_client: usize,
    /// The first request's head is sent within this.
    pub head: Duration,
    /// The next one's, on the same connection; browsers keep one open for a while.
    pub idle: Duration,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            of_all: 1024,
            of_a_client: 160,
            head: Duration::from_secs(6),
            idle: Duration::from_secs(75),
        }
    }
}

/// Whose request it is.
#[derive(Clone, Copy, Debug)]
pub struct Client(pub IpAddr);

/// Requests that run when the server is stopped have this long to finish.
const FAREWELL: Duration = Duration::from_secs(3);

/// One connection, and what it is about.
struct Line {
    client: IpAddr,
    /// Requests that are not answered to their end.
    busy: AtomicUsize,
    /// It has asked something.
    known: AtomicBool,
    silent_since: Mutex<Instant>,
    ends: Mutex<Option<AbortHandle>>,
}

impl Line {
    fn silent_since(&self) -> Option<Instant> {
        let since = *self.silent_since.lock().unwrap_or_else(PoisonError::into_inner);
        (self.busy.load(Ordering::Acquire) == 0).then_some(since)
    }

    fn end(&self) {
        if let Some(ends) = &*self.ends.lock().unwrap_or_else(PoisonError::into_inner) {
            ends.abort();
        }
    }
}

/// A request on a line, until its answer has gone out whole.
struct Busy(Arc<Line>);

impl Busy {
    fn on(line: &Arc<Line>) -> Self {
        line.busy.fetch_add(1, Ordering::AcqRel);
        line.known.store(true, Ordering::Release);
        Self(line.clone())
    }
}

impl Drop for Busy {
    fn drop(&mut self) {
        let since = &self.0.silent_since;
        *since.lock().unwrap_or_else(PoisonError::into_inner) = Instant::now();
        self.0.busy.fetch_sub(1, Ordering::AcqRel);
    }
}

/// A body that keeps its line busy.
struct Sending {
    body: Body,
    _busy: Busy,
}

impl HttpBody for Sending {
    type Data = Bytes;
    type Error = axum::Error;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Bytes>, axum::Error>>> {
        Pin::new(&mut self.body).poll_frame(context)
    }

    fn is_end_stream(&self) -> bool {
        self.body.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.body.size_hint()
    }
}

/// The lines there are.
#[derive(Default)]
struct Lines(Mutex<Vec<Arc<Line>>>);

impl Lines {
    /// Takes a new line in. Where there are too many, the one that was silent the longest goes; where
    /// none is silent, this one does.
    fn take_in(&self, line: &Arc<Line>, limits: &Limits) -> bool {
        let mut lines = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let of_client = |l: &&Arc<Line>| l.client == line.client;
        let own = lines.iter().filter(of_client).count() >= limits.of_a_client;
        if own || lines.len() >= limits.of_all {
            let candidates = lines.iter().enumerate().filter(|(_, l)| !own || of_client(l));
            let silent = candidates.filter_map(|(at, l)| Some((l.silent_since()?, at)));
            let Some((_, at)) = silent.min() else { return false };
            lines.remove(at).end();
        }
        lines.push(line.clone());
        true
    }

    fn let_go(&self, line: &Arc<Line>) {
        let mut lines = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        lines.retain(|l| !Arc::ptr_eq(l, line));
    }

    fn is_empty(&self) -> bool {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).is_empty()
    }
}

/// Serves until `stop` resolves, then lets running requests finish for some seconds.
///
/// # Errors
/// The listener fails.
pub async fn listen(
    router: Router,
    listener: TcpListener,
    limits: Limits,
    stop: impl Future<Output = ()>,
) -> std::io::Result<()> {
    let (stopping, stopped) = watch::channel(false);
    let lines = Arc::new(Lines::default());
    tokio::pin!(stop);
    loop {
        let accepted = tokio::select! {
            accepted = listener.accept() => accepted,
            () = &mut stop => break,
        };
        match accepted {
            Ok((stream, from)) => take(stream, from, &router, (&limits, &lines), &stopped),
            // Out of file handles, or the client has gone again already.
            Err(error) => {
                tracing::warn!(%error, "accept");
                tokio::time::sleep(Duration::from_millis(50)).await;
            }
        }
    }
    drop(listener);
    let _ = stopping.send(true);
    let began = Instant::now();
    while !lines.is_empty() && began.elapsed() < FAREWELL {
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    Ok(())
}

fn take(
    stream: TcpStream,
    from: SocketAddr,
    router: &Router,
    (limits, lines): (&Limits, &Arc<Lines>),
    stopped: &watch::Receiver<bool>,
) {
    let line = Arc::new(Line {
        client: from.ip(),
        busy: AtomicUsize::new(0),
        known: AtomicBool::new(false),
        silent_since: Mutex::new(Instant::now()),
        ends: Mutex::default(),
    });
    if !lines.take_in(&line, limits) {
        return;
    }
    let (own, lines) = (line.clone(), lines.clone());
    let (router, mut stopped, limits) = (router.clone(), stopped.clone(), *limits);
    let task = tokio::spawn(async move {
        /// However the line ends, it is let go.
        struct Held(Arc<Line>, Arc<Lines>);
        impl Drop for Held {
            fn drop(&mut self) {
                self.1.let_go(&self.0);
            }
        }
        let held = Held(own, lines);
        // Answers are small and many.
        let _ = stream.set_nodelay(true);
        let answer = |request: hyper::Request<Incoming>| {
            let (busy, router) = (Busy::on(&held.0), router.clone());
            let client = Client(held.0.client);
            async move {
                let mut request: Request = request.map(Body::new);
                request.extensions_mut().insert(client);
                let response = router.oneshot(request).await;
                response.map(|r: Response| r.map(|body| Body::new(Sending { body, _busy: busy })))
                    as Result<Response, Infallible>
            }
        };
        let connection = http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(limits.idle)
            .serve_connection(TokioIo::new(stream), service_fn(answer));
        let asker = held.0.clone();
        let says_nothing = async move {
            tokio::time::sleep(limits.head).await;
            if asker.known.load(Ordering::Acquire) {
                std::future::pending::<()>().await;
            }
        };
        let stop = async move {
            let _ = stopped.wait_for(|stopped| *stopped).await;
        };
        tokio::pin!(connection);
        tokio::select! {
            _ = connection.as_mut() => {}
            () = says_nothing => {}
            () = stop => {
                connection.as_mut().graceful_shutdown();
                let _ = connection.await;
            }
        }
    });
    *line.ends.lock().unwrap_or_else(PoisonError::into_inner) = Some(task.abort_handle());
}
