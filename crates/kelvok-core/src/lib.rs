//! The job of Kelvok: machine descriptions, the circuit engine, interlock logic and diagnosis.
//!
//! Three layers, each usable and tested alone:
//!
//! ```text
//! machine description  ->  circuit (indexed, solvable)  ->  questions (interlock, diagnosis)
//! ```
//!
//! Nothing here reads a file, a clock or a socket, and nothing here speaks to a person in whole
//! screens: answers are data, and whoever shows them chooses the words.
//!
//! Everything that others use says what it is. Where a type's fields or variants are said by their names,
//! it says `#[allow(missing_docs)]`.

#![warn(missing_docs)]

pub mod battery;
pub mod bench;
pub mod charging;
pub mod circuit;
pub mod complaint;
pub mod describe;
pub mod diagnosis;
pub mod drops;
pub mod edit;
pub mod errand;
pub mod fuses;
pub mod interlock;
pub mod loads;
pub mod machine;
pub mod meter;
mod plain_text;
mod random;
pub mod release;
pub mod revision;
pub mod soak;
pub mod trace;
pub mod trial;
mod words;

pub use words::words;
