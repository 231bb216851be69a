//! Names that are text and nothing else, wherever they go.
//!
//! A name ends up in tables, netlists, addresses and papers; whatever reads those takes some letters
//! for commands. So documents hold no control characters, and each writer makes harmless what its own
//! format would take for more than text.

use serde_json::Value;
use std::borrow::Cow;

/// Where in a JSON value a string or a key has control characters, as a JSON pointer.
pub(crate) fn control_characters(value: &Value) -> Vec<String> {
    let mut found = Vec::new();
    search(value, &mut String::new(), &mut found);
    found
}

fn search(value: &Value, at: &mut String, found: &mut Vec<String>) {
    let length = at.len();
    match value {
        Value::String(text) if !is_plain(text) => found.push(at.clone()),
        Value::Array(items) => {
            for (i, item) in items.iter().enumerate() {
                at.push_str(&format!("/{i}"));
                search(item, at, found);
                at.truncate(length);
            }
        }
        Value::Object(fields) => {
            for (key, item) in fields {
                at.push('/');
                at.extend(key.chars().filter(|c| !c.is_control()));
                if !is_plain(key) {
                    found.push(at.clone());
                }
                search(item, at, found);
                at.truncate(length);
            }
        }
        _ => {}
    }
}

/// Whether a text holds no control characters.
pub(crate) fn is_plain(text: &str) -> bool {
    !text.chars().any(ends_a_line)
}

/// Control characters, and what some programs take for the end of a line.
fn ends_a_line(c: char) -> bool {
    c.is_control() || matches!(c, '\u{2028}' | '\u{2029}')
}

/// One line of text, whatever is in it.
pub(crate) fn one_line(text: &str) -> String {
    text.chars().map(|c| if ends_a_line(c) { ' ' } else { c }).collect()
}

/// What a spreadsheet takes for the beginning of a formula, in either width; and the apostrophe by
/// which it is told that it is none.
fn begins_a_formula(c: char) -> bool {
    matches!(c, '=' | '+' | '-' | '@' | '\t' | '\r' | '\n' | '＝' | '＋' | '－' | '＠' | '\'')
}

/// A cell of a table as it is written: what a spreadsheet would take for a formula has an apostrophe
/// before it. A plain number stays one. [`read_cell`] takes the apostrophe off again.
pub(crate) fn write_cell(text: &str) -> Cow<'_, str> {
    let number =
        || text.bytes().all(|b| b"+-.eE0123456789".contains(&b)) && text.parse::<f64>().is_ok();
    match text.starts_with(begins_a_formula) && !number() {
        true => Cow::Owned(format!("'{text}")),
        false => Cow::Borrowed(text),
    }
}

/// A cell of a table as it was meant.
pub(crate) fn read_cell(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(meant) if meant.starts_with(begins_a_formula) => meant,
        _ => cell,
    }
}

/// What parts the columns of a table: whichever the first line that says something has most of.
pub(crate) fn delimiter(text: &str) -> u8 {
    let line = text.lines().find(|l| !l.trim().is_empty()).unwrap_or("");
    let count = |c: u8| line.bytes().filter(|b| *b == c).count();
    [b',', b';', b'\t'].into_iter().max_by_key(|c| (count(*c), *c == b',')).unwrap_or(b',')
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use serde_json::json;

    #[test]
    fn a_formula_is_no_formula_any_more_and_a_number_stays_a_number() {
        for (text, cell) in [
            ("=1+1", "'=1+1"),
            ("-0.5", "-0.5"),
            ("+5e3", "+5e3"),
            ("-", "'-"),
            ("+", "'+"),
            ("-inf", "'-inf"),
            ("@x", "'@x"),
            ("'=1", "''=1"),
            ("'tis", "''tis"),
            ("plain", "plain"),
        ] {
            assert_eq!(write_cell(text), cell);
            assert_eq!(read_cell(cell), text);
        }
        assert_eq!(read_cell("'n Roll"), "'n Roll", "as a person types it");
    }

    #[test]
    fn control_characters_are_found_where_they_are() {
        let value = json!({"a": ["x", "y\n"], "b\u{0}": {"c": "\u{2028}"}, "d": "Rødgård"});
        assert_eq!(control_characters(&value), ["/a/1", "/b", "/b/c"]);
    }

    proptest! {
        #[test]
        fn every_cell_comes_back_as_it_was(text in any::<String>()) {
            let cell = write_cell(&text);
            prop_assert_eq!(read_cell(&cell), &text);
            let number = cell.parse::<f64>().is_ok();
            prop_assert!(number || !cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\n']));
        }

        #[test]
        fn one_line_is_one_line(text in any::<String>()) {
            prop_assert!(is_plain(&one_line(&text)));
            prop_assert_eq!(one_line(&text).lines().count() <= 1, true);
        }
    }
}
