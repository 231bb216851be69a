//! What is wanted of a list: words, and a page.

use kelvok_store::Wanted;
use serde::Deserialize;
use utoipa::IntoParams;

#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Search {
    /// Words that all stand in what is known of a line: a job's number, tag, owner, serial, complaint,
    /// machine and verdict; a machine's name, make, model, family, years and notes; a switch's name.
    #[param(required = false)]
    #[serde(default)]
    q: String,
    /// From 0.
    #[param(required = false)]
    #[serde(default)]
    page: u32,
}

impl From<Search> for Wanted {
    fn from(search: Search) -> Self {
        Self { words: search.q, page: search.page.into() }
    }
}
