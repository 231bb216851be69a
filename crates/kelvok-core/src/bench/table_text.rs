//! What was found as comma-separated values: `position,from,to,reading`, a line each time a pair was
//! tried. A reading is `buzz`, `silent`, or ohms.
//!
//! Two more columns may follow: `after`, the position that the switch had just sprung back from, and
//! `by`, `hand` or `machine`, what worked it.

use super::found::{Cell, FoundTable, Grade, MOST_POSITIONS, MOST_TERMINALS, Seen};
use super::judge::{BenchEntry, WorkedBy};
use crate::circuit::{Instrument, Reading};
use crate::diagnosis::{one_is_an_ohm, parse_reading};
use crate::plain_text::{delimiter, is_plain, read_cell, write_cell};

/// A line that was left out, and why; every other line counts.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("line {line}: {sentence}")]
#[allow(missing_docs)]
pub struct TableError {
    pub line: u64,
    pub sentence: String,
}

/// The columns, in this order where there is no heading; the last two may be missing.
const COLUMNS: [&str; 6] = ["position", "from", "to", "reading", "after", "by"];
/// Those that every line has.
const NEEDED: usize = 4;
/// Lines read at most; nobody buzzes out more.
const MOST_LINES: usize = 100_000;

/// A line: a pair that was tried.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct TableRow {
    pub line: u64,
    pub position: String,
    pub from: String,
    pub to: String,
    pub reading: Reading,
    pub typed: String,
    /// The position that it had just sprung back from.
    pub sprung_from: Option<String>,
    pub worked_by: WorkedBy,
}

impl TableRow {
    /// The lines of a table. Commas, semicolons or tabs part the columns; blank lines and a
    /// byte-order mark do no harm.
    ///
    /// Lines that cannot be read are left out and named; the rest counts.
    pub fn read_csv(text: &str) -> (Vec<Self>, Vec<TableError>) {
        let text = text.trim_start_matches('\u{feff}');
        let mut rows = Vec::new();
        let mut errors = Vec::new();
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(delimiter(text))
            .has_headers(false)
            .flexible(true)
            .trim(csv::Trim::All)
            .from_reader(text.as_bytes());
        let mut columns = [Some(0), Some(1), Some(2), Some(3), Some(4), Some(5)];
        for (row, record) in reader.records().enumerate() {
            let Ok(record) = record else {
                let line = row as u64 + 1;
                errors.push(TableError { line, sentence: "this is not text".to_owned() });
                continue;
            };
            let line = record.position().map_or(0, csv::Position::line);
            if row >= MOST_LINES {
                let sentence = format!("more than {MOST_LINES} lines; the rest is left out");
                errors.push(TableError { line, sentence });
                break;
            }
            if row == 0
                && let Some(headed) = heading(&record)
            {
                columns = headed;
                continue;
            }
            if record.iter().all(str::is_empty) {
                continue;
            }
            let field = |c: Option<usize>| c.and_then(|c| record.get(c)).map_or("", read_cell);
            match Self::of(line, columns.map(field)) {
                Ok(row) => rows.push(row),
                Err(sentence) => errors.push(TableError { line, sentence }),
            }
        }
        (rows, errors)
    }

    fn of(line: u64, fields: [&str; 6]) -> Result<Self, String> {
        for (column, field) in COLUMNS.iter().zip(fields).take(NEEDED) {
            if field.is_empty() {
                return Err(format!("no {column}"));
            }
        }
        if let Some(odd) = fields.iter().find(|field| !is_plain(field)) {
            return Err(format!("{:?} is not one line of plain text", odd));
        }
        let [position, from, to, typed, after, by] = fields.map(str::to_owned);
        if from == to {
            return Err(format!("from {from} to itself tells nothing"));
        }
        let worked_by = match by.to_lowercase().as_str() {
            "" | "hand" => WorkedBy::Hand,
            "machine" => WorkedBy::Machine,
            _ => return Err(format!("it was worked by hand or machine, not by \"{by}\"")),
        };
        let reading = reading(&typed)?;
        let sprung_from = (!after.is_empty()).then_some(after);
        Ok(Self { line, position, from, to, reading, typed, sprung_from, worked_by })
    }

    /// The lines of a log, as [`TableRow::read_csv`] reads them back.
    pub fn to_csv<'a>(entries: impl IntoIterator<Item = &'a BenchEntry>) -> String {
        let rows = entries.into_iter().filter_map(|entry| match entry {
            BenchEntry::Probe { position, from, to, reading, typed, sprung_from, worked_by } => {
                let said = match reading {
                    Reading::Buzz(true) => "buzz".to_owned(),
                    Reading::Buzz(false) => "silent".to_owned(),
                    Reading::Ohms(None) => "OL".to_owned(),
                    Reading::Ohms(Some(ohms)) => ohms.to_string(),
                    _ => typed.clone(),
                };
                let by = match worked_by {
                    WorkedBy::Hand => "hand",
                    WorkedBy::Machine => "machine",
                };
                let after = sprung_from.clone().unwrap_or_default();
                Some([position.clone(), from.clone(), to.clone(), said, after, by.to_owned()])
            }
            _ => None,
        });
        write_csv(rows)
    }
}

impl FoundTable {
    /// Reads a table of what was worked by hand, as [`TableRow::read_csv`] does.
    pub fn read_csv(text: &str) -> (Self, Vec<TableError>) {
        let (rows, mut errors) = TableRow::read_csv(text);
        let mut table = Self::default();
        for row in rows.into_iter().filter(|row| row.worked_by == WorkedBy::Hand) {
            let line = row.line;
            if let Err(sentence) = table.take(&row) {
                errors.push(TableError { line, sentence });
            }
        }
        errors.sort_by_key(|e| e.line);
        (table, errors)
    }

    fn take(&mut self, row: &TableRow) -> Result<(), String> {
        let Some(seen) = Seen::of(row.reading) else { return Ok(()) };
        // Nothing is added by a line that does not fit in.
        let room = |names: &[String], most: usize, new: &[&String]| {
            let new = new.iter().filter(|n| !names.iter().any(|own| own == **n)).count();
            names.len() + new <= most
        };
        if !room(self.terminals(), MOST_TERMINALS, &[&row.from, &row.to]) {
            return Err(format!("more than {MOST_TERMINALS} terminals"));
        }
        if !room(self.positions(), MOST_POSITIONS, &[&row.position]) {
            return Err(format!("more than {MOST_POSITIONS} positions"));
        }
        let cell = (self.position(&row.position), self.terminal(&row.from), self.terminal(&row.to));
        if let (Some(position), Some(one), Some(other)) = cell {
            let cell = Cell::new(position, one, other);
            let from = row.sprung_from.as_ref();
            match from.and_then(|from| self.positions().iter().position(|p| p == from)) {
                Some(from) => self.add_sprung(from, cell, seen),
                None => self.add(cell, seen),
            }
        }
        Ok(())
    }

    /// The table as [`FoundTable::read_csv`] reads it back.
    pub fn to_csv(&self) -> String {
        let rows = self.cells().flat_map(|(cell, seen)| {
            let [position, from, to] = [
                &self.positions()[cell.position],
                &self.terminals()[cell.one],
                &self.terminals()[cell.other],
            ]
            .map(String::clone);
            seen.iter().map(move |seen| {
                let reading = match seen {
                    Seen::Made => "buzz".to_owned(),
                    Seen::Open => "silent".to_owned(),
                    Seen::Resistive { ohms } | Seen::Through { ohms } => ohms.to_string(),
                };
                [position.clone(), from.clone(), to.clone(), reading]
            })
        });
        write_csv(rows)
    }
}

/// Lines below as many of the columns as they have.
fn write_csv<const N: usize>(rows: impl Iterator<Item = [String; N]>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Into memory nothing fails.
    let _ = writer.write_record(&COLUMNS[..N]);
    for row in rows {
        let _ = writer.write_record(row.map(|cell| write_cell(&cell).into_owned()));
    }
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}

impl Grade {
    /// In a word or two: "closed", "open", "closed 4 of 5", "12 ohm".
    pub fn words(self) -> String {
        match self {
            Self::Made => "closed".to_owned(),
            Self::Open => "open".to_owned(),
            Self::Resistive { ohms } => format!("closed through {ohms:.1} ohm"),
            Self::Through { ohms } => format!("{ohms:.0} ohm"),
            Self::AtTimes { made, of } => format!("closed {made} of {of}"),
        }
    }
}

fn reading(typed: &str) -> Result<Reading, String> {
    match typed.to_lowercase().as_str() {
        "made" | "closed" | "joined" => return Ok(Reading::Buzz(true)),
        "apart" => return Ok(Reading::Buzz(false)),
        _ => {}
    }
    parse_reading(Instrument::Buzzer, typed)
        .or_else(|_| parse_reading(Instrument::Ohmmeter, one_is_an_ohm(typed)))
        .map_err(|_| format!("\"{typed}\" is not beep, no beep or ohms"))
}

/// Where the columns are, if the first line names them.
fn heading(record: &csv::StringRecord) -> Option<[Option<usize>; 6]> {
    let at = |name: &str| record.iter().position(|field| field.eq_ignore_ascii_case(name));
    let columns = COLUMNS.map(at);
    columns[..NEEDED].iter().all(Option::is_some).then_some(columns)
}
