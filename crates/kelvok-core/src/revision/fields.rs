//! Field by field what two values of a document have otherwise, in words.

use crate::machine::Provenance;
use serde_json::{Map, Value};
use std::collections::BTreeMap;

/// What stands for a name in lists, the first that an item has.
const NAMED_BY: [&str; 4] = ["id", "terminal", "change", "name"];

/// What an item of a list is known by.
pub(super) fn key(item: &Value) -> Option<&str> {
    NAMED_BY.iter().find_map(|field| item.get(field)?.as_str())
}

/// A thing's name as people read it, its key else.
pub(super) fn name(item: &Value) -> String {
    let field = |of: &str| item.get(of).and_then(Value::as_str);
    field("name").or(field("about")).or(field("note")).or(key(item)).unwrap_or_default().to_owned()
}

/// What differs between two objects, a phrase each.
pub(super) fn phrases(before: &Value, after: &Value) -> Vec<String> {
    let nothing = Map::new();
    let (old, new) =
        (before.as_object().unwrap_or(&nothing), after.as_object().unwrap_or(&nothing));
    let mut said = Vec::new();
    for field in old.keys().chain(new.keys().filter(|f| !old.contains_key(*f))) {
        said.extend(phrase(field, old.get(field), new.get(field)));
    }
    said
}

fn phrase(field: &str, before: Option<&Value>, after: Option<&Value>) -> Vec<String> {
    if before == after {
        return Vec::new();
    }
    if field == "source" {
        let source = |v: Option<&Value>| v.and_then(|v| serde_json::from_value(v.clone()).ok());
        return vec![known(source(before), source(after))];
    }
    let what = words(field);
    let pins = |v: Option<&Value>| v.is_none_or(Value::is_object) && field == "mates";
    match (before, after) {
        _ if pins(before) && pins(after) => {
            let none = Value::Null;
            let inner = phrases(before.unwrap_or(&none), after.unwrap_or(&none));
            inner.into_iter().map(|p| format!("pin {p}")).collect()
        }
        (Some(old @ Value::Object(_)), Some(new @ Value::Object(_))) => {
            let inner = phrases(old, new);
            inner.into_iter().map(|p| format!("{what}: {p}")).collect()
        }
        (Some(Value::Array(old)), Some(Value::Array(new))) if named(old) && named(new) => {
            items(old, new)
        }
        (Some(old), Some(new)) => vec![format!("{what} {}, not {}", text(new), text(old))],
        (None, Some(new)) => vec![format!("{what} {}, which was not given", text(new))],
        (Some(old), None) => vec![format!("{what} no longer given, it was {}", text(old))],
        (None, None) => Vec::new(),
    }
}

fn named(list: &[Value]) -> bool {
    !list.is_empty() && list.iter().all(|item| item.is_object() && key(item).is_some())
}

/// Parts of a thing: its contacts, its coils, a control's positions.
fn items(before: &[Value], after: &[Value]) -> Vec<String> {
    let by_key = |list: &[Value]| -> BTreeMap<String, Value> {
        list.iter().filter_map(|i| Some((key(i)?.to_owned(), i.clone()))).collect()
    };
    let (old, new) = (by_key(before), by_key(after));
    let mut said = Vec::new();
    for (id, item) in &old {
        match new.get(id) {
            None => said.push(format!("{} is gone", name(item))),
            Some(now) => {
                said.extend(phrases(item, now).into_iter().map(|p| format!("{}: {p}", name(item))));
            }
        }
    }
    let added = new.iter().filter(|(id, _)| !old.contains_key(*id));
    said.extend(added.map(|(_, item)| format!("{} is new", name(item))));
    let order = |list: &[Value], other: &BTreeMap<String, Value>| -> Vec<String> {
        let keys = list.iter().filter_map(|i| key(i).map(str::to_owned));
        keys.filter(|k| other.contains_key(k)).collect()
    };
    if order(before, &new) != order(after, &old) {
        said.push("the same in another order".to_owned());
    }
    said
}

/// A field as a mechanic calls it.
fn words(field: &str) -> String {
    let said = match field {
        "made_when" => "closed when",
        "pressed_when" => "pressed when",
        "replace_minutes" => "minutes to replace",
        "length_m" => "meters long:",
        "between" => "between",
        "gauge" => "gauge",
        "returns_to" => "springs back to",
        "rest" => "at rest",
        other => return other.replace('_', " "),
    };
    said.to_owned()
}

/// Where something is known from now, and was before.
pub(super) fn known(before: Option<Provenance>, after: Option<Provenance>) -> String {
    let plain = |source: Option<Provenance>| match source {
        Some(Provenance::Usual) => "only usual",
        Some(Provenance::Drawing) => "from the drawing",
        Some(Provenance::Manual) => "from the manual",
        Some(Provenance::Traced) => "traced",
        Some(Provenance::Measured) => "measured",
        Some(Provenance::Proved) => "proved by readings",
        None => "known like the rest of it",
    };
    format!("{} now, {} before", plain(after), plain(before))
}

/// A value without any word of where it is known from.
pub(super) fn sourceless(value: &Value) -> Value {
    match value {
        Value::Object(fields) => {
            let kept = fields.iter().filter(|(f, _)| *f != "source");
            Value::Object(kept.map(|(f, v)| (f.clone(), sourceless(v))).collect())
        }
        Value::Array(list) => Value::Array(list.iter().map(sourceless).collect()),
        other => other.clone(),
    }
}

/// A value as it is read out.
fn text(value: &Value) -> String {
    match value {
        Value::String(text) => text.clone(),
        Value::Bool(true) => "yes".to_owned(),
        Value::Bool(false) => "no".to_owned(),
        Value::Null => "none".to_owned(),
        Value::Array(list) if list.is_empty() => "none".to_owned(),
        Value::Array(list) if list.iter().all(|v| !v.is_object() && !v.is_array()) => {
            list.iter().map(text).collect::<Vec<_>>().join(", ")
        }
        other => other.to_string(),
    }
}
