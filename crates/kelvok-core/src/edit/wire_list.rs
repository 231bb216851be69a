//! A wire list that was changed in a spreadsheet, as the steps that it comes to.

use super::step::Edit;
use crate::machine::{MachineDocument, Wire};
use crate::plain_text::{delimiter, read_cell};
use serde::Serialize;
use std::collections::BTreeSet;

/// A wire list has at most so many rows.
pub const MOST_ROWS: usize = 2000;

/// What is wrong in a row.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct RowProblem {
    /// Its line in the file; the header is line 1.
    pub line: u64,
    pub sentence: String,
}

/// The columns that are read, as [`crate::interlock::Spreadsheet::of_wires`] writes them.
const COLUMNS: [&str; 6] = ["wire", "from", "to", "color", "gauge (AWG)", "length (m)"];

/// The steps that make a document's wires those of a list. A wire of the document that is not in the list is
/// taken out; a row whose wire the document does not have is a new one. An empty cell of color is no color; an
/// empty gauge or length stays as it was.
///
/// # Errors
/// Every row that cannot be read, or a header without the columns *wire*, *from* and *to*.
pub fn wire_list_edits(
    document: &MachineDocument,
    text: &str,
) -> Result<Vec<Edit>, Vec<RowProblem>> {
    let whole = |sentence: String| vec![RowProblem { line: 1, sentence }];
    let text = text.strip_prefix('\u{feff}').unwrap_or(text);
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter(text))
        .flexible(true)
        .from_reader(text.as_bytes());
    let header = reader.headers().map_err(|e| whole(format!("This is no table: {e}.")))?.clone();
    let column =
        |name: &str| header.iter().position(|h| read_cell(h).trim().eq_ignore_ascii_case(name));
    let [wire, from, to, color, gauge, length] = COLUMNS.map(column);
    if let Some(missing) = ["wire", "from", "to"].into_iter().find(|c| column(c).is_none()) {
        return Err(whole(format!("The first line needs a column \"{missing}\".")));
    }
    let mut problems = Vec::new();
    let mut edits = Vec::new();
    let mut kept = BTreeSet::new();
    for (i, record) in reader.records().enumerate() {
        if i >= MOST_ROWS {
            return Err(whole(format!("A wire list has at most {MOST_ROWS} rows.")));
        }
        let record = match record {
            Ok(record) => record,
            Err(error) => {
                let line = error.position().map_or(0, csv::Position::line);
                let sentence = format!("This row cannot be read: {error}.");
                problems.push(RowProblem { line, sentence });
                continue;
            }
        };
        let line = record.position().map_or(0, csv::Position::line);
        let mut wrong = |sentence: String| problems.push(RowProblem { line, sentence });
        let cell = |at: Option<usize>| {
            at.and_then(|at| record.get(at)).map(read_cell).map(str::trim).unwrap_or_default()
        };
        if record.iter().all(|c| c.trim().is_empty()) {
            continue;
        }
        let (from, to) = (cell(from).to_owned(), cell(to).to_owned());
        for address in [&from, &to] {
            if !document.ends_at(address) {
                wrong(format!("There is no terminal \"{address}\"."));
            }
        }
        let mut number = |at: Option<usize>, what: &str, fits: &dyn Fn(f64) -> bool| {
            let text = cell(at);
            let read = text.parse::<f64>().ok().filter(|n| *n > 0.0 && fits(*n));
            if !text.is_empty() && read.is_none() {
                wrong(format!("\"{text}\" is no {what}."));
            }
            read
        };
        let whole_gauge = |n: f64| n <= 40.0 && n.fract() == 0.0;
        let gauge = number(gauge, "gauge", &whole_gauge).map(|n| n as u8);
        let length_m = number(length, "length in meters", &|n| n < 100.0);
        let color = color.map(|_| cell(color).to_owned());
        let own = document.wires.iter().find(|w| w.id == cell(wire));
        match own {
            Some(own) if !kept.insert(&own.id) => {
                problems.push(RowProblem {
                    line,
                    sentence: format!("Wire \"{}\" is in the list twice.", own.id),
                });
            }
            Some(own) => edits.extend(changed(own, (from, to), color, (gauge, length_m))),
            None => edits.push(Edit::AddWire {
                from,
                to,
                color: color.filter(|c| !c.is_empty()),
                gauge,
            }),
        }
    }
    let gone = document.wires.iter().filter(|w| !kept.contains(&w.id));
    edits.extend(gone.map(|w| Edit::TakeOutWire { wire: w.id.clone() }));
    if problems.is_empty() { Ok(edits) } else { Err(problems) }
}

/// What a row changes of its wire, if anything.
fn changed(
    own: &Wire,
    (from, to): (String, String),
    color: Option<String>,
    (gauge, length_m): (Option<u8>, Option<f64>),
) -> Option<Edit> {
    let color = color.filter(|c| c != own.color.as_deref().unwrap_or(""));
    let edit = Edit::ChangeWire {
        wire: own.id.clone(),
        from: (from != own.from).then_some(from),
        to: (to != own.to).then_some(to),
        color,
        gauge: gauge.filter(|g| Some(*g) != own.gauge),
        length_m: length_m.filter(|m| Some(*m) != own.length_m),
    };
    let nothing = matches!(
        &edit,
        Edit::ChangeWire { from: None, to: None, color: None, gauge: None, length_m: None, .. }
    );
    (!nothing).then_some(edit)
}
