//! Interlock table, fault sheet and wire list as rows of text, for a spreadsheet.

use super::{FaultSheet, InterlockTable};
use crate::circuit::{Circuit, fault_notation};
use crate::plain_text::write_cell;

/// A header and rows under it.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Spreadsheet {
    pub header: Vec<String>,
    pub rows: Vec<Vec<String>>,
}

impl Spreadsheet {
    /// The interlock table: a column a control, then what the machine does.
    pub fn of_table(circuit: &Circuit, table: &InterlockTable) -> Self {
        let controls = circuit.controls.iter().map(|c| c.name.clone());
        let does = ["cranks", "would start", "keeps running", "drives the blades"];
        let yes = |holds: bool| (if holds { "yes" } else { "no" }).to_owned();
        let rows = table.conditions(circuit).into_iter().map(|(condition, does)| {
            let stand = circuit.controls.iter().zip(&condition.positions);
            let stand = stand.map(|(c, p)| c.positions[usize::from(*p)].name.clone());
            let does = [does.cranks, does.starts, does.runs, does.coupled];
            stand.chain(does.map(yes)).collect()
        });
        Self { header: controls.chain(does.map(str::to_owned)).collect(), rows: rows.collect() }
    }

    /// The fault-and-effect sheet: a row for every fault at every size that differs in effect.
    pub fn of_sheet(circuit: &Circuit, sheet: &FaultSheet) -> Self {
        let header = ["fault", "mode", "found out", "shows in ordinary use", "duties broken"];
        let document = circuit.document();
        let rows = sheet.rows.iter().map(|row| {
            let sizes: Vec<_> =
                row.magnitudes.iter().map(|m| fault_notation(circuit, row.fault.at(*m))).collect();
            let shows: Vec<_> = row
                .shows
                .iter()
                .map(|(i, effects)| {
                    let effects: Vec<_> = effects.iter().map(|e| e.words()).collect();
                    format!("{}: {}", document.normal_use[*i].name, effects.join(", "))
                })
                .collect();
            let breaks: Vec<_> =
                row.breaks.iter().map(|d| document.duties[*d].name.clone()).collect();
            vec![
                sizes.join(" | "),
                row.fault.mode.words().to_owned(),
                row.verdict.words().to_owned(),
                shows.join("; "),
                breaks.join("; "),
            ]
        });
        Self { header: header.map(str::to_owned).to_vec(), rows: rows.collect() }
    }

    /// Every wire with its ends, as a mechanic would trace it.
    pub fn of_wires(circuit: &Circuit) -> Self {
        let header =
            ["wire", "color", "gauge (AWG)", "length (m)", "from", "to", "bundle", "known from"];
        let document = circuit.document();
        let rows = document.wires.iter().map(|wire| {
            let number = |n: Option<f64>| n.map(|n| n.to_string()).unwrap_or_default();
            vec![
                wire.id.clone(),
                wire.color.clone().unwrap_or_default(),
                number(wire.gauge.map(f64::from)),
                number(wire.length_m),
                wire.from.clone(),
                wire.to.clone(),
                wire.bundle.clone().unwrap_or_default(),
                wire.source.unwrap_or(document.identity.source).plain().to_owned(),
            ]
        });
        Self { header: header.map(str::to_owned).to_vec(), rows: rows.collect() }
    }

    /// As comma-separated values (RFC 4180), header first. What a spreadsheet would take for a
    /// formula has an apostrophe before it.
    pub fn csv(&self) -> String {
        let lines = std::iter::once(&self.header).chain(&self.rows);
        let mut writer =
            csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
        for line in lines {
            // Writing to memory cannot fail, and every row is as wide as the header.
            let _ = writer.write_record(line.iter().map(|cell| write_cell(cell).into_owned()));
        }
        writer.into_inner().ok().and_then(|bytes| String::from_utf8(bytes).ok()).unwrap_or_default()
    }
}
