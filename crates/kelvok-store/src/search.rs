//! Lists in pages, and the words by which something is found in them.

use super::{Readable, StoreError};
use sea_orm::sea_query::{Expr, ExprTrait, Func, LikeExpr, SimpleExpr};
use sea_orm::{
    ColumnTrait, Condition, ConnectionTrait, EntityTrait, PaginatorTrait, QuerySelect, Select,
};

/// Rows of a page.
pub const PAGE: u64 = 50;
/// Rows before a page; nothing is beyond.
const FARTHEST: u64 = 1 << 40;
/// More words than this are not looked for.
const MOST_WORDS: usize = 12;

/// What is wanted of a list.
#[derive(Clone, Debug, Default)]
pub struct Wanted {
    /// Each of these words, in whatever order, with whatever around them.
    pub words: String,
    /// From 0.
    pub page: u64,
}

impl Wanted {
    /// Rows in whose column every word stands.
    pub(crate) fn condition(&self, column: impl ColumnTrait) -> Condition {
        let words = self.words.split_whitespace().take(MOST_WORDS);
        words.fold(Condition::all(), |all, word| {
            let lower: SimpleExpr = Func::lower(Expr::col(column.as_column_ref())).into();
            all.add(lower.like(LikeExpr::new(like(word)).escape('|')))
        })
    }
}

/// A word as a pattern that finds it anywhere.
fn like(word: &str) -> String {
    let mut pattern = String::from("%");
    for c in word.to_lowercase().chars() {
        if matches!(c, '%' | '_' | '|') {
            pattern.push('|');
        }
        pattern.push(c);
    }
    pattern + "%"
}

/// One page of a list.
#[derive(Clone, Debug)]
pub struct Listed<T> {
    pub found: Readable<T>,
    /// Rows on all pages.
    pub total: u64,
}

/// Takes a page out of a selection.
pub(crate) async fn page<E: EntityTrait, T, C: ConnectionTrait>(
    connection: &C,
    selection: Select<E>,
    wanted: &Wanted,
    place: &str,
    each: impl Fn(E::Model) -> Result<T, StoreError>,
) -> Result<Listed<T>, StoreError>
where
    E::Model: Sync,
    Select<E>: for<'a> PaginatorTrait<'a, C>,
{
    let total = PaginatorTrait::count(selection.clone(), connection).await?;
    let before = Ord::min(wanted.page.saturating_mul(PAGE), FARTHEST);
    let here = selection.limit(PAGE).offset(before);
    Ok(Listed { found: super::rows::read(connection, here, place, each).await?, total })
}
