//! From text to a [`Machine`], reporting every problem at once.

use super::problem::Problem;
use super::validate::validate;
use super::{FORMAT, MachineDocument};
use crate::plain_text::control_characters;
use serde::de::DeserializeOwned;
use serde_json::Value;
use serde_path_to_error::{Path, Segment};
use std::collections::BTreeSet;

/// A document that has been read and found sound, as a document.
///
/// What only the circuit can show (a shorted battery, a load that nothing can feed) is found by
/// [`crate::circuit::check`].
#[derive(Clone, Debug)]
pub struct Machine {
    document: MachineDocument,
}

impl Machine {
    /// Reads and validates a document.
    ///
    /// # Errors
    /// Every problem found, structural and semantic, in document order; at least one is not a
    /// warning. Warnings alone do not refuse a document: see [`Machine::warnings`].
    ///
    /// ```
    /// use kelvok_core::machine::{LIBRARY, Machine};
    ///
    /// let machine = Machine::read(LIBRARY[0].text).expect("a library machine");
    /// assert!(!machine.document().parts.is_empty());
    /// let problems = Machine::read("{}").expect_err("this describes nothing");
    /// assert!(problems.iter().any(|problem| !problem.warning));
    /// ```
    pub fn read(text: &str) -> Result<Self, Vec<Problem>> {
        let value: Value = serde_json::from_str(text)
            .map_err(|e| vec![Problem::error("", format!("This is not JSON: {e}."))])?;
        let odd: Vec<_> =
            control_characters(&value).into_iter().take(MOST_ODD).map(no_controls).collect();
        if !odd.is_empty() {
            return Err(odd);
        }
        let mut reader = Reader::default();
        let document = reader.document(value);
        let mut problems = reader.problems;
        problems.extend(validate(&document, &reader.unreadable));
        if problems.iter().any(|p| !p.warning) {
            return Err(problems);
        }
        Ok(Self { document })
    }

    /// The validated document.
    pub fn document(&self) -> &MachineDocument {
        &self.document
    }

    /// What is odd about the document without being wrong.
    pub fn warnings(&self) -> Vec<Problem> {
        validate(&self.document, &BTreeSet::new())
    }
}

/// More places with control characters than this are not named.
const MOST_ODD: usize = 50;

fn no_controls(path: String) -> Problem {
    Problem::error(path, "Plain text, please: no line ends and no control characters.")
}

/// The JSON Schema of a machine document.
pub fn json_schema() -> Value {
    let mut schema = schemars::schema_for!(MachineDocument).to_value();
    if let Some(format) = schema.pointer_mut("/properties/format") {
        format["const"] = Value::from(FORMAT);
    }
    schema
}

#[derive(Default)]
struct Reader {
    problems: Vec<Problem>,
    /// Ids of items that could not be read: what refers to them is not reported again.
    unreadable: BTreeSet<String>,
}

impl Reader {
    fn document(&mut self, mut value: Value) -> MachineDocument {
        let mut take = |section: &str| {
            value
                .get_mut(section)
                .filter(|v| v.is_array())
                .map(|v| std::mem::replace(v, Value::Array(Vec::new())))
        };
        let controls = take("controls");
        let parts = take("parts");
        let wires = take("wires");
        let splices = take("splices");
        let places = take("places");
        let test_points = take("test_points");
        let circuits = take("circuits");
        let normal_use = take("normal_use");
        let duties = take("duties");
        let as_found = take("as_found");
        let alternatives = take("alternatives");
        let said = |field: &str| value.get(field).and_then(Value::as_str).map(str::to_owned);
        let (format, reference) = (said("format"), said("reference"));
        let mut document: MachineDocument = self.item(value, "").unwrap_or_else(|| {
            // What of the head could be read still counts; the rest was reported.
            self.unreadable.insert("/identity".to_owned());
            MachineDocument {
                format: format.unwrap_or_default(),
                reference: reference.unwrap_or_default(),
                ..MachineDocument::default()
            }
        });
        document.controls = self.list(controls, "controls");
        document.parts = self.list(parts, "parts");
        document.wires = self.list(wires, "wires");
        document.splices = self.list(splices, "splices");
        document.places = self.list(places, "places");
        document.test_points = self.list(test_points, "test_points");
        document.circuits = self.list(circuits, "circuits");
        document.normal_use = self.list(normal_use, "normal_use");
        document.duties = self.list(duties, "duties");
        document.as_found = self.list(as_found, "as_found");
        document.alternatives = self.list(alternatives, "alternatives");
        document
    }

    fn list<T: DeserializeOwned + Default>(
        &mut self,
        section: Option<Value>,
        name: &str,
    ) -> Vec<T> {
        let Some(Value::Array(items)) = section else {
            return Vec::new();
        };
        // An unreadable item keeps its place, so that the paths of the others stay right.
        items
            .into_iter()
            .enumerate()
            .map(|(i, item)| {
                let id = item.get("id").and_then(Value::as_str).map(str::to_owned);
                self.item(item, &format!("/{name}/{i}")).unwrap_or_else(|| {
                    self.unreadable.insert(format!("/{name}/{i}"));
                    self.unreadable.extend(id);
                    T::default()
                })
            })
            .collect()
    }

    /// Reads one value; at a mistake, notes it, drops the offending member and tries again, so
    /// that one item with three mistakes gives three sentences.
    fn item<T: DeserializeOwned>(&mut self, mut value: Value, at: &str) -> Option<T> {
        loop {
            match serde_path_to_error::deserialize::<_, T>(&value) {
                Ok(item) => return Some(item),
                Err(error) => {
                    let pointer = pointer(error.path());
                    let sentence = plain(&error.inner().to_string());
                    self.problems.push(Problem::error(format!("{at}{pointer}"), sentence));
                    if !remove(&mut value, &pointer) {
                        return None;
                    }
                }
            }
        }
    }
}

fn pointer(path: &Path) -> String {
    path.iter()
        .map(|segment| match segment {
            Segment::Seq { index } => format!("/{index}"),
            Segment::Map { key } => format!("/{}", key.replace('~', "~0").replace('/', "~1")),
            Segment::Enum { variant } => format!("/{variant}"),
            Segment::Unknown => String::new(),
        })
        .collect()
}

/// Removes what the pointer names; false if it names nothing that can be taken out.
fn remove(value: &mut Value, pointer: &str) -> bool {
    let Some((parent, last)) = pointer.rsplit_once('/') else {
        return false;
    };
    let last = last.replace("~1", "/").replace("~0", "~");
    match value.pointer_mut(parent) {
        Some(Value::Object(map)) => map.remove(&last).is_some(),
        Some(Value::Array(list)) => match last.parse::<usize>() {
            Ok(i) if i < list.len() => {
                list.remove(i);
                true
            }
            _ => false,
        },
        _ => false,
    }
}

/// Turns a deserializer's message into a sentence.
fn plain(message: &str) -> String {
    let message = message
        .replace("expected f64", "expected a number")
        .replace("expected u8", "expected a whole number")
        .replace("invalid type:", "wrong type:")
        .replace("floating point", "number");
    let mut chars = message.chars();
    let first = chars.next().map(|c| c.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}.", chars.as_str())
}
