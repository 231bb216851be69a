//! What a machine *is*: its controls, parts, wires and test points, as a document that people write.

mod defaults;
mod document;
mod expression;
mod library;
mod parse;
mod validate;

pub use defaults::*;
pub use document::*;
pub use expression::{Expression, ExpressionError, Term};
pub use library::{LIBRARY, Shipped};
pub use parse::{Machine, Problem, json_schema};
