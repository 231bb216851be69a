//! What a machine *is*: its controls, parts, wires and test points, as a document that people write.

mod alternative;
mod corrected;
mod defaults;
mod document;
mod duty;
mod expression;
mod library;
mod parse;
mod part;
mod part_kind;
mod problem;
mod validate;
mod wire_name;

pub use alternative::{Alternative, WiringChoice};
pub use corrected::CorrectionError;
pub(crate) use corrected::wire_put;
pub use defaults::*;
pub use document::*;
pub use duty::*;
pub use expression::{Expression, ExpressionError, Term};
pub use library::{LIBRARY, Shipped};
pub use parse::{Machine, json_schema};
pub use part::*;
pub use part_kind::{MovedBy, PartKind, Shows, SiteKind};
pub use problem::Problem;
pub use validate::MOST_COMBINATIONS;
pub use wire_name::{Landing, WireName, lower};
