//! Rows read one by one, so that one which cannot be read takes nothing else down.

use super::StoreError;
use super::store::again;
use sea_orm::{
    ActiveModelTrait, ConnectionTrait, DatabaseConnection, EntityTrait, FromQueryResult,
    QueryResult, QueryTrait, Select,
};
use std::ops::Deref;

/// A row that lies in its table and cannot be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unreadable {
    /// Its place in its log, or its number, where that can still be read.
    pub place: Option<i64>,
    /// What is the matter, for whoever looks after the database.
    pub why: String,
}

/// What could be read, in order, and what could not.
#[derive(Clone, Debug, PartialEq)]
pub struct Readable<T> {
    pub rows: Vec<T>,
    pub unreadable: Vec<Unreadable>,
}

impl<T> Readable<T> {
    /// Turns each row into what it stands for; those that do not read join the unreadable.
    pub(crate) fn of<E: EntityTrait>(
        results: &[QueryResult],
        place: &str,
        read: impl Fn(E::Model) -> Result<T, StoreError>,
    ) -> Self {
        let mut all = Self { rows: Vec::new(), unreadable: Vec::new() };
        for result in results {
            let row = E::Model::from_query_result(result, "").map_err(StoreError::from);
            match row.and_then(&read) {
                Ok(row) => all.rows.push(row),
                Err(error) => {
                    let why = match &error {
                        StoreError::Corrupt { source, .. } => format!("{error}: {source}"),
                        other => other.to_string(),
                    };
                    all.unreadable.push(Unreadable { place: result.try_get("", place).ok(), why });
                }
            }
        }
        all
    }
}

impl<T> Deref for Readable<T> {
    type Target = [T];
    fn deref(&self) -> &[T] {
        &self.rows
    }
}

impl<T> IntoIterator for Readable<T> {
    type Item = T;
    type IntoIter = std::vec::IntoIter<T>;
    fn into_iter(self) -> Self::IntoIter {
        self.rows.into_iter()
    }
}

/// Reads what a selection finds, row by row. `place` is the column by which an unreadable row is
/// told.
pub(crate) async fn read<E: EntityTrait, T, C: ConnectionTrait>(
    connection: &C,
    selection: Select<E>,
    place: &str,
    each: impl Fn(E::Model) -> Result<T, StoreError>,
) -> Result<Readable<T>, StoreError> {
    let results = connection.query_all(&selection.into_query()).await?;
    Ok(Readable::of::<E>(&results, place, each))
}

/// Puts a row in. Says whether it is new: false where its key was there already.
pub(crate) async fn put_in<A: ActiveModelTrait>(
    connection: &DatabaseConnection,
    row: A,
) -> Result<bool, StoreError> {
    again!(async {
        let put = A::Entity::insert(row.clone()).exec_without_returning(connection).await;
        match put {
            Err(e) if StoreError::is_duplicate(&e) => Ok(false),
            put => Ok(put.map(|_| true)?),
        }
    })
}
