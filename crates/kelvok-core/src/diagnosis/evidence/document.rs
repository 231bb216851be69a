//! A job's story as a document: what `kelvok diagnose` reads, what a job goes out as and comes back
//! as. In JSON with a schema, and as a table of comma-separated values with one line an entry.

use super::entry::Entry;
use crate::plain_text::{delimiter, read_cell, write_cell};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeMap;

/// What the documents of this version say in `format`.
pub const STORY_FORMAT: &str = "kelvok-story-1";

/// Everything recorded in a job.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct StoryDocument {
    pub format: String,
    /// The machine's id in the library it came from, for whoever reads it elsewhere.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub machine: String,
    /// Which of the owner's machines.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub tag: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub owner: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub complaint: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub serial: String,
    /// Hours on the meter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hours: Option<f64>,
    /// In the order in which it was recorded.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub entries: Vec<StoryEntry>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "openapi", schema(required = false))]
    pub verdicts: Vec<StoryVerdict>,
}

/// One entry of the evidence log, and who made it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct StoryEntry {
    #[serde(flatten)]
    pub entry: Entry,
    #[serde(default, skip_serializing_if = "Signed::is_empty")]
    pub recorded: Signed,
    /// Taken back: by whom, when and why. It is kept and does not count.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub voided: Option<Signed>,
}

/// Who did something, when, and why where that is asked.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Signed {
    #[serde(default)]
    pub by: String,
    /// RFC 3339, UTC.
    #[serde(default)]
    pub at: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub reason: String,
}

impl Signed {
    fn is_empty(&self) -> bool {
        *self == Self::default()
    }
}

/// A verdict that was kept.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct StoryVerdict {
    /// Unit ids.
    pub units: Vec<String>,
    pub probability: f64,
    pub confirmed: bool,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    #[serde(default, skip_serializing_if = "Signed::is_empty")]
    pub recorded: Signed,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub voided: Option<Signed>,
}

/// What is wrong with a story.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum StoryError {
    #[error("{path}: {message}")]
    Shape { path: String, message: String },
    #[error("this is not a Kelvok story: `format` is \"{0}\", not \"{STORY_FORMAT}\"")]
    Format(String),
    #[error("line {line}: {message}")]
    Line { line: u64, message: String },
}

/// The JSON Schema of story documents.
pub fn story_schema() -> Value {
    let mut schema = schemars::schema_for!(StoryDocument).to_value();
    if let Some(format) = schema.pointer_mut("/properties/format") {
        *format = serde_json::json!({ "const": STORY_FORMAT });
    }
    schema
}

impl StoryDocument {
    /// Reads a JSON document.
    ///
    /// # Errors
    /// Says what is wrong, and where in the document.
    pub fn read(text: &str) -> Result<Self, StoryError> {
        let json = text.strip_prefix('\u{feff}').unwrap_or(text);
        let reader = &mut serde_json::Deserializer::from_str(json);
        let story: Self = serde_path_to_error::deserialize(reader).map_err(|e| {
            StoryError::Shape { path: e.path().to_string(), message: e.inner().to_string() }
        })?;
        match story.format == STORY_FORMAT {
            true => Ok(story),
            false => Err(StoryError::Format(story.format)),
        }
    }

    /// As comma-separated values: a line an entry, the condition as `control=position` pairs, what
    /// has parts of its own as JSON. [`StoryDocument::read_csv`] reads it back.
    pub fn to_csv(&self) -> String {
        let mut writer = csv::Writer::from_writer(Vec::new());
        let mut write = |record: &[String]| {
            writer.write_record(record.iter().map(|cell| write_cell(cell).into_owned())).is_ok()
        };
        let header: Vec<String> = COLUMNS.iter().map(|c| (*c).to_owned()).collect();
        let mut whole = write(&header);
        for line in &self.entries {
            whole &= write(&line.to_record());
        }
        debug_assert!(whole, "a vector takes every line");
        String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
    }

    /// Reads the entries of a table that [`StoryDocument::to_csv`] wrote, or a person.
    ///
    /// # Errors
    /// Names the line and what is wrong with it.
    pub fn read_csv(text: &str) -> Result<Self, StoryError> {
        let text = text.strip_prefix('\u{feff}').unwrap_or(text);
        let mut reader = csv::ReaderBuilder::new()
            .flexible(true)
            .delimiter(delimiter(text))
            .from_reader(text.as_bytes());
        let wrong = |line: u64, message: String| StoryError::Line { line, message };
        let headers = reader.headers().map_err(|e| wrong(1, e.to_string()))?.clone();
        if !headers.iter().any(|h| h.trim() == "observation") {
            return Err(wrong(1, format!("the columns are {}", COLUMNS.join(", "))));
        }
        let mut entries = Vec::new();
        for record in reader.records() {
            let record = record
                .map_err(|e| wrong(e.position().map_or(0, csv::Position::line), e.to_string()))?;
            let line = record.position().map_or(0, csv::Position::line);
            let cells: BTreeMap<&str, &str> = headers
                .iter()
                .map(str::trim)
                .zip(record.iter().map(|c| read_cell(c.trim())))
                .collect();
            if cells.values().all(|cell| cell.is_empty()) {
                continue;
            }
            entries.push(StoryEntry::of_record(&cells).map_err(|message| wrong(line, message))?);
        }
        Ok(Self { format: STORY_FORMAT.to_owned(), entries, ..Self::default() })
    }
}

const COLUMNS: [&str; 15] = [
    "condition",
    "engine",
    "set_up",
    "observation",
    "repeats",
    "source",
    "at_times",
    "times_an_hour",
    "celsius",
    "idle",
    "by",
    "at",
    "voided_by",
    "voided_at",
    "void_reason",
];

/// A value as JSON without the quotes of a plain word.
fn cell(value: &impl Serialize) -> String {
    match serde_json::to_value(value) {
        Ok(Value::String(word)) => word,
        Ok(Value::Null) | Err(_) => String::new(),
        Ok(other) => other.to_string(),
    }
}

impl StoryEntry {
    fn to_record(&self) -> Vec<String> {
        let Self { entry, recorded, voided } = self;
        let set: Vec<String> = entry.condition.iter().map(|(c, p)| format!("{c}={p}")).collect();
        let voided = voided.clone().unwrap_or_default();
        vec![
            set.join(" "),
            cell(&entry.engine),
            if entry.set_up.is_empty() { String::new() } else { cell(&entry.set_up) },
            cell(&entry.observation),
            entry.repeats.to_string(),
            cell(&entry.source),
            if entry.at_times { "yes".to_owned() } else { String::new() },
            cell(&entry.times_an_hour),
            cell(&entry.celsius),
            if entry.idle { "yes".to_owned() } else { String::new() },
            recorded.by.clone(),
            recorded.at.clone(),
            voided.by,
            voided.at,
            voided.reason,
        ]
    }

    fn of_record(cells: &BTreeMap<&str, &str>) -> Result<Self, String> {
        let text = |column: &str| cells.get(column).copied().unwrap_or_default();
        let mut condition = BTreeMap::new();
        for pair in text("condition").split_whitespace() {
            let (control, position) = pair
                .split_once('=')
                .ok_or_else(|| format!("condition: \"{pair}\" is not control=position"))?;
            condition.insert(control.to_owned(), position.to_owned());
        }
        fn word<T: for<'d> Deserialize<'d>>(column: &str, text: &str) -> Result<T, String> {
            let value = Value::String(text.to_owned());
            serde_json::from_value(value).map_err(|e| format!("{column}: {e}"))
        }
        fn json<T: for<'d> Deserialize<'d>>(column: &str, text: &str) -> Result<T, String> {
            serde_json::from_str(text).map_err(|e| format!("{column}: {e}"))
        }
        let given = |column: &str, usual: &str| match text(column) {
            "" => usual.to_owned(),
            given => given.to_owned(),
        };
        let figure = |column: &str| match text(column) {
            "" => Ok(None),
            figure => json(column, figure).map(Some),
        };
        let yes = |column: &str| matches!(text(column), "yes" | "true" | "1");
        let signed = |by: &str, at: &str, reason: &str| Signed {
            by: text(by).to_owned(),
            at: text(at).to_owned(),
            reason: text(reason).to_owned(),
        };
        let voided = signed("voided_by", "voided_at", "void_reason");
        Ok(Self {
            entry: Entry {
                condition,
                engine: word("engine", &given("engine", "stopped"))?,
                set_up: json("set_up", &given("set_up", "[]"))?,
                observation: json("observation", text("observation"))?,
                repeats: json("repeats", &given("repeats", "1"))?,
                source: word("source", &given("source", "tested"))?,
                at_times: yes("at_times"),
                times_an_hour: figure("times_an_hour")?,
                celsius: figure("celsius")?,
                idle: yes("idle"),
            },
            recorded: signed("by", "at", ""),
            voided: (!voided.is_empty()).then_some(voided),
        })
    }
}
