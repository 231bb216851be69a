//! What is wrong with a document, and where.

use serde::{Deserialize, Serialize};

/// One thing wrong with a document, where it is, and how bad.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Problem {
    /// A JSON pointer into the document: `/parts/3/contacts/0/between`.
    pub path: String,
    /// What is wrong, for a person.
    pub sentence: String,
    /// A warning does not stop the machine from being used.
    pub warning: bool,
}

impl Problem {
    /// Something that must be put right.
    pub fn error(path: impl Into<String>, sentence: impl Into<String>) -> Self {
        Self { path: path.into(), sentence: sentence.into(), warning: false }
    }

    /// Something that ought to be looked at.
    pub fn warning(path: impl Into<String>, sentence: impl Into<String>) -> Self {
        Self { path: path.into(), sentence: sentence.into(), warning: true }
    }
}
