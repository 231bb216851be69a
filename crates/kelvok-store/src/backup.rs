//! A whole database as one file, and back. Every row of every table, just as it lies there, a line of
//! JSON each, between a head that says what schema it is of and a tail with a checksum. It holds data
//! and no statements: reading one back can do nothing but insert rows.

use super::migrations::{applied, migrate, names};
use super::store::options;
use super::{Store, StoreError};
use sea_orm::{
    ConnectionTrait, Database, DatabaseTransaction, DbBackend, IsolationLevel, QueryResult,
    Statement, TransactionTrait, Value,
};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::fs::File;
use std::io::{BufRead, BufReader, BufWriter, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;

pub const BACKUP_FORMAT: &str = "kelvok-backup-1";
/// Rows fetched and written at a time.
const BATCH: usize = 200;

/// What a backup holds.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Kept {
    /// Rows by table.
    pub rows: BTreeMap<String, u64>,
}

#[derive(Serialize, Deserialize)]
struct Head {
    format: String,
    made_at: String,
    /// The migrations that the database has, oldest first.
    schema: Vec<String>,
    tables: BTreeMap<String, Table>,
}

#[derive(Clone, Serialize, Deserialize)]
struct Table {
    columns: Vec<String>,
    /// Those whose bytes are written as hexadecimal digits; all else is text.
    hex: Vec<String>,
    rows: u64,
}

#[derive(Serialize, Deserialize)]
struct Tail {
    rows: u64,
    sha256: String,
}

#[derive(Serialize, Deserialize)]
struct Row(String, Vec<Option<String>>);

fn sql(text: impl Into<String>) -> Statement {
    Statement::from_string(DbBackend::MySql, text.into())
}

fn broken(sentence: impl Into<String>) -> StoreError {
    StoreError::Backup(sentence.into())
}

/// Text that goes into a file and into its checksum.
struct Summed<W> {
    file: W,
    sum: Sha256,
}

impl<W: Write> Summed<W> {
    fn line(&mut self, of: &impl Serialize) -> Result<(), StoreError> {
        let mut line = serde_json::to_vec(of).map_err(|e| broken(e.to_string()))?;
        line.push(b'\n');
        self.sum.update(&line);
        Ok(self.file.write_all(&line)?)
    }
}

fn digits(sum: Sha256) -> String {
    sum.finalize().iter().map(|byte| format!("{byte:02x}")).collect()
}

/// Writes everything in a database into a file, as it is at one moment, whoever else writes
/// meanwhile. The file has its name once it is whole and on the disk.
///
/// # Errors
/// The database does not answer, has no schema of Kelvok's, or the file cannot be written.
pub async fn backup(url: &str, path: &Path) -> Result<Kept, StoreError> {
    let connection = Database::connect(options(url, 1)).await?;
    let read = IsolationLevel::RepeatableRead;
    let tx = connection.begin_with_config(Some(read), None).await?;
    // The first read of a repeatable read is the moment that all others see.
    let schema = applied(&tx).await?;
    if schema.is_empty() {
        return Err(broken("this database holds nothing of Kelvok's"));
    }
    let tables = tables(&tx).await?;
    let making = path.with_extension("making");
    let file = File::options().write(true).create(true).truncate(true).mode(0o600).open(&making)?;
    let mut out = Summed { file: BufWriter::new(file), sum: Sha256::new() };
    let head = Head {
        format: BACKUP_FORMAT.to_owned(),
        made_at: super::moment::now().and_utc().to_rfc3339(),
        schema,
        tables: tables.clone(),
    };
    out.line(&head)?;
    let mut all = 0;
    for (name, table) in &tables {
        let rows = write_rows(&tx, name, table, &mut out).await?;
        if rows != table.rows {
            return Err(broken(format!("table {name} changed while it was read; try again")));
        }
        all += rows;
    }
    let tail = Tail { rows: all, sha256: digits(out.sum.clone()) };
    out.line(&tail)?;
    let file = out.file.into_inner().map_err(std::io::IntoInnerError::into_error)?;
    file.sync_all()?;
    std::fs::rename(&making, path)?;
    Ok(Kept { rows: tables.into_iter().map(|(name, table)| (name, table.rows)).collect() })
}

async fn write_rows<W: Write>(
    tx: &DatabaseTransaction,
    name: &str,
    table: &Table,
    out: &mut Summed<W>,
) -> Result<u64, StoreError> {
    let columns = table.columns.iter().map(|column| match table.hex.contains(column) {
        true => format!("HEX(`{column}`) AS `{column}`"),
        false => format!("CAST(`{column}` AS CHAR) AS `{column}`"),
    });
    let columns = columns.collect::<Vec<_>>().join(", ");
    let key = &table.columns[0];
    let mut rows = 0u64;
    loop {
        let some = format!(
            "SELECT {columns} FROM `{name}` ORDER BY `{name}`.`{key}` LIMIT {BATCH} OFFSET {rows}"
        );
        let found = tx.query_all_raw(sql(some)).await?;
        for row in &found {
            out.line(&Row(name.to_owned(), cells(row, &table.columns)?))?;
        }
        rows += found.len() as u64;
        if found.len() < BATCH {
            return Ok(rows);
        }
    }
}

fn cells(row: &QueryResult, columns: &[String]) -> Result<Vec<Option<String>>, StoreError> {
    columns.iter().map(|column| Ok(row.try_get("", column)?)).collect()
}

/// Every table of the schema but the one that says what schema it is; its key is its first column.
async fn tables<C: ConnectionTrait>(connection: &C) -> Result<BTreeMap<String, Table>, StoreError> {
    let all = "SELECT c.table_name AS t, c.column_name AS c, c.data_type AS d \
               FROM information_schema.columns c JOIN information_schema.tables t \
               ON t.table_schema = c.table_schema AND t.table_name = c.table_name \
               WHERE c.table_schema = DATABASE() AND t.table_type = 'BASE TABLE' \
               AND c.table_name <> 'seaql_migrations' ORDER BY c.table_name, c.ordinal_position";
    let mut tables: BTreeMap<String, Table> = BTreeMap::new();
    for row in connection.query_all_raw(sql(all)).await? {
        let name: String = row.try_get("", "t")?;
        let column: String = row.try_get("", "c")?;
        let kind: String = row.try_get("", "d")?;
        let table =
            tables.entry(name).or_insert(Table { columns: Vec::new(), hex: Vec::new(), rows: 0 });
        if kind.contains("binary") || kind.contains("blob") {
            table.hex.push(column.clone());
        }
        table.columns.push(column);
    }
    for (name, table) in &mut tables {
        let count = format!("SELECT COUNT(*) AS n FROM `{name}`");
        let row = connection.query_one_raw(sql(count)).await?;
        let rows = row.map_or(Ok(0), |row| row.try_get::<i64>("", "n"))?;
        table.rows = u64::try_from(rows).unwrap_or(0);
    }
    Ok(tables)
}

/// Reads a backup through to its end: its head, if its checksum is right and it lacks nothing.
fn checked(path: &Path) -> Result<Head, StoreError> {
    let mut lines = BufReader::new(File::open(path)?).split(b'\n');
    let mut sum = Sha256::new();
    let first = lines.next().transpose()?.unwrap_or_default();
    let head: Head = serde_json::from_slice(&first)
        .map_err(|_| broken("this is no backup of Kelvok's: its first line says nothing of one"))?;
    if head.format != BACKUP_FORMAT {
        let sentence = format!("a backup of the form \"{}\": a newer Kelvok reads it", head.format);
        return Err(broken(sentence));
    }
    let mut before = first;
    let mut rows = 0u64;
    for line in lines {
        let line = line?;
        sum.update(&before);
        sum.update(b"\n");
        rows += 1;
        before = line;
    }
    let short = || broken("this backup has no end: it was cut off");
    let tail: Tail = serde_json::from_slice(&before).map_err(|_| short())?;
    let wanted: u64 = head.tables.values().map(|t| t.rows).sum();
    if rows.saturating_sub(1) != tail.rows || wanted != tail.rows {
        return Err(broken("this backup lacks rows, or has too many"));
    }
    if digits(sum) != tail.sha256 {
        return Err(broken("this backup was changed since it was made: its checksum is wrong"));
    }
    Ok(head)
}

/// Puts a backup into an empty database, whole or not at all, and brings it up to date.
///
/// # Errors
/// The file is damaged or of a newer Kelvok, the database is not empty or does not answer.
pub async fn restore(url: &str, path: &Path) -> Result<Kept, StoreError> {
    let head = checked(path)?;
    let known = names();
    if let Some(newer) = head.schema.iter().find(|name| !known.contains(name)) {
        return Err(StoreError::NewerSchema(newer.clone()));
    }
    let connection = Database::connect(options(url, 1)).await?;
    let there = tables(&connection).await?;
    if let Some((name, table)) = there.iter().find(|(_, table)| table.rows > 0) {
        let sentence = format!(
            "this database is not empty ({} rows in table {name}): restore into a new one",
            table.rows
        );
        return Err(broken(sentence));
    }
    // Empty tables, of whatever schema, make room for those of the backup's.
    let mut clear = vec!["SET SESSION foreign_key_checks = 0".to_owned()];
    clear.extend(there.keys().map(|name| format!("DROP TABLE IF EXISTS `{name}`")));
    clear.push("DROP TABLE IF EXISTS seaql_migrations".to_owned());
    for statement in clear {
        connection.execute_unprepared(&statement).await?;
    }
    connection.close().await?;
    migrate(url, Some(u32::try_from(head.schema.len()).unwrap_or(u32::MAX))).await?;

    let connection = Database::connect(options(url, 1)).await?;
    for statement in ["SET SESSION foreign_key_checks = 0", "SET SESSION sql_mode = ''"] {
        connection.execute_unprepared(statement).await?;
    }
    let now = tables(&connection).await?;
    let same = now.len() == head.tables.len()
        && now
            .iter()
            .all(|(name, t)| head.tables.get(name).is_some_and(|h| h.columns == t.columns));
    if !same {
        return Err(broken("the tables of this backup are not those of its schema"));
    }
    let tx = connection.begin().await?;
    insert(&tx, path, &head).await?;
    let kept = tables(&tx).await?;
    let rows = |tables: &BTreeMap<String, Table>| -> BTreeMap<String, u64> {
        tables.iter().map(|(name, table)| (name.clone(), table.rows)).collect()
    };
    if rows(&kept) != rows(&head.tables) {
        return Err(broken("not every row arrived; nothing was kept"));
    }
    tx.commit().await?;
    connection.close().await?;
    Store::open(url).await?;
    Ok(Kept { rows: rows(&head.tables) })
}

async fn insert(tx: &DatabaseTransaction, path: &Path, head: &Head) -> Result<(), StoreError> {
    let mut lines = BufReader::new(File::open(path)?).lines();
    lines.next();
    let mut waiting: Vec<Row> = Vec::new();
    for line in lines {
        let line = line?;
        // The tail is the one line that is no row.
        let Ok(row) = serde_json::from_str::<Row>(&line) else { break };
        if waiting.len() == BATCH || waiting.first().is_some_and(|w| w.0 != row.0) {
            put(tx, head, std::mem::take(&mut waiting)).await?;
        }
        waiting.push(row);
    }
    put(tx, head, waiting).await
}

/// Inserts rows of one table.
async fn put(tx: &DatabaseTransaction, head: &Head, rows: Vec<Row>) -> Result<(), StoreError> {
    let Some(name) = rows.first().map(|row| row.0.clone()) else { return Ok(()) };
    let table = head.tables.get(&name).ok_or_else(|| broken(format!("no table is {name}")))?;
    let columns: Vec<_> = table.columns.iter().map(|c| format!("`{c}`")).collect();
    let places = table.columns.iter().map(|c| match table.hex.contains(c) {
        true => "UNHEX(?)",
        false => "?",
    });
    let places = format!("({})", places.collect::<Vec<_>>().join(", "));
    let statement = format!(
        "INSERT INTO `{name}` ({}) VALUES {}",
        columns.join(", "),
        vec![places; rows.len()].join(", ")
    );
    let mut values = Vec::with_capacity(rows.len() * columns.len());
    for Row(_, cells) in rows {
        if cells.len() != columns.len() {
            return Err(broken(format!("a row of table {name} has {} cells", cells.len())));
        }
        values.extend(cells.into_iter().map(Value::String));
    }
    tx.execute_raw(Statement::from_sql_and_values(DbBackend::MySql, statement, values)).await?;
    Ok(())
}
