//! A found table as comma-separated values: `position,from,to,reading`, a line each time a pair was
//! tried. A reading is `buzz`, `silent`, or ohms.

use super::found::{Cell, FoundTable, Grade, MOST_POSITIONS, MOST_TERMINALS, Seen};
use crate::circuit::{Instrument, Reading};
use crate::diagnosis::parse_reading;

/// A line that was left out, and why; every other line counts.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("line {line}: {sentence}")]
pub struct TableError {
    pub line: u64,
    pub sentence: String,
}

/// The columns, in this order where there is no heading.
const COLUMNS: [&str; 4] = ["position", "from", "to", "reading"];
/// Lines read at most; nobody buzzes out more.
const MOST_LINES: usize = 100_000;

impl FoundTable {
    /// Reads a table. Commas, semicolons or tabs part the columns; blank lines and a byte-order mark
    /// do no harm.
    ///
    /// Lines that cannot be read are left out and named; the rest counts.
    pub fn read_csv(text: &str) -> (Self, Vec<TableError>) {
        let text = text.trim_start_matches('\u{feff}');
        let mut table = Self::default();
        let mut errors = Vec::new();
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(delimiter(text))
            .has_headers(false)
            .flexible(true)
            .trim(csv::Trim::All)
            .from_reader(text.as_bytes());
        let mut columns = [0, 1, 2, 3];
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
            let field = |c: usize| record.get(columns[c]).unwrap_or("");
            let fields = [field(0), field(1), field(2), field(3)];
            if let Err(sentence) = table.take(fields) {
                errors.push(TableError { line, sentence });
            }
        }
        (table, errors)
    }

    fn take(&mut self, [position, from, to, reading]: [&str; 4]) -> Result<(), String> {
        for (column, field) in COLUMNS.iter().zip([position, from, to, reading]) {
            if field.is_empty() {
                return Err(format!("no {column}"));
            }
        }
        if from == to {
            return Err(format!("from {from} to itself tells nothing"));
        }
        let seen = seen(reading)?;
        // Nothing is added by a line that does not fit in.
        let room = |names: &[String], most: usize, new: &[&str]| {
            let new = new.iter().filter(|n| !names.iter().any(|own| own == *n)).count();
            names.len() + new <= most
        };
        if !room(self.terminals(), MOST_TERMINALS, &[from, to]) {
            return Err(format!("more than {MOST_TERMINALS} terminals"));
        }
        if !room(self.positions(), MOST_POSITIONS, &[position]) {
            return Err(format!("more than {MOST_POSITIONS} positions"));
        }
        let cell = (self.position(position), self.terminal(from), self.terminal(to));
        if let (Some(position), Some(one), Some(other)) = cell {
            self.add(Cell::new(position, one, other), seen);
        }
        Ok(())
    }

    /// The table as [`FoundTable::read_csv`] reads it back.
    pub fn to_csv(&self) -> String {
        let mut writer = csv::Writer::from_writer(Vec::new());
        let mut lines = vec![COLUMNS.map(str::to_owned)];
        for (cell, seen) in self.cells() {
            let [position, from, to] = [
                &self.positions()[cell.position],
                &self.terminals()[cell.one],
                &self.terminals()[cell.other],
            ];
            lines.extend(seen.iter().map(|seen| {
                let reading = match seen {
                    Seen::Made => "buzz".to_owned(),
                    Seen::Open => "silent".to_owned(),
                    Seen::Resistive { ohms } | Seen::Through { ohms } => ohms.to_string(),
                };
                [position.clone(), from.clone(), to.clone(), reading]
            }));
        }
        for line in lines {
            // Into memory nothing fails.
            let _ = writer.write_record(line);
        }
        String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
    }
}

impl Grade {
    /// In a word or two: "made", "open", "made 4 of 5", "12 ohm".
    pub fn words(self) -> String {
        match self {
            Self::Made => "made".to_owned(),
            Self::Open => "open".to_owned(),
            Self::Resistive { ohms } => format!("made through {ohms:.1} ohm"),
            Self::Through { ohms } => format!("{ohms:.0} ohm"),
            Self::AtTimes { made, of } => format!("made {made} of {of}"),
        }
    }
}

fn seen(reading: &str) -> Result<Seen, String> {
    match reading.to_lowercase().as_str() {
        "made" | "closed" | "joined" => return Ok(Seen::Made),
        "apart" => return Ok(Seen::Open),
        _ => {}
    }
    if let Ok(Reading::Buzz(on)) = parse_reading(Instrument::Buzzer, reading) {
        return Ok(if on { Seen::Made } else { Seen::Open });
    }
    match parse_reading(Instrument::Ohmmeter, reading) {
        Ok(Reading::Ohms(ohms)) => Ok(Seen::of_ohms(ohms)),
        _ => Err(format!("\"{reading}\" is not buzz, silent or ohms")),
    }
}

/// Where the columns are, if the first line names them.
fn heading(record: &csv::StringRecord) -> Option<[usize; 4]> {
    let at = |name: &str| record.iter().position(|field| field.eq_ignore_ascii_case(name));
    let [position, from, to, reading] = COLUMNS.map(at);
    Some([position?, from?, to?, reading?])
}

/// What parts the columns: whichever the first line that says something has most of.
fn delimiter(text: &str) -> u8 {
    let line = text.lines().find(|l| !l.trim().is_empty()).unwrap_or("");
    let count = |c: u8| line.bytes().filter(|b| *b == c).count();
    [b',', b';', b'\t'].into_iter().max_by_key(|c| (count(*c), *c == b',')).unwrap_or(b',')
}
