//! How many meters are listened to at once: a stream takes a connection, and a lease in the database
//! every few seconds.

use crate::http::problem::Problem;
use axum::http::StatusCode;
use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Arc, Mutex, PoisonError};

const MOST: usize = 48;
const MOST_OF_A_CLIENT: usize = 6;

#[derive(Debug, Default)]
pub struct Streams(Mutex<HashMap<IpAddr, usize>>);

/// A place for one stream, given back when it is dropped.
#[derive(Debug)]
pub struct Place {
    streams: Arc<Streams>,
    client: IpAddr,
}

impl Streams {
    /// A place for one more stream of a client.
    ///
    /// # Errors
    /// It listens to so many already, or all do.
    pub fn place(self: &Arc<Self>, client: IpAddr) -> Result<Place, Problem> {
        let mut open = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let own = open.get(&client).copied().unwrap_or(0);
        if own >= MOST_OF_A_CLIENT || open.values().sum::<usize>() >= MOST {
            let sentence = "Too many meters are listened to from here: close a page that does.";
            return Err(Problem::new(StatusCode::TOO_MANY_REQUESTS, sentence));
        }
        open.insert(client, own + 1);
        Ok(Place { streams: self.clone(), client })
    }
}

impl Drop for Place {
    fn drop(&mut self) {
        let mut open = self.streams.0.lock().unwrap_or_else(PoisonError::into_inner);
        match open.get_mut(&self.client) {
            Some(own) if *own > 1 => *own -= 1,
            _ => _ = open.remove(&self.client),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_client_takes_no_more_than_its_share_and_gives_it_back() {
        let streams = Arc::new(Streams::default());
        let [one, other] = [IpAddr::from([127, 0, 0, 1]), IpAddr::from([127, 0, 0, 2])];
        let mut places: Vec<_> =
            (0..MOST_OF_A_CLIENT).map(|_| streams.place(one).expect("a place")).collect();
        assert_eq!(streams.place(one).unwrap_err().status, 429);
        streams.place(other).expect("another client has its own");
        places.pop();
        streams.place(one).expect("given back");
    }
}
