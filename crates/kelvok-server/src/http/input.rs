//! What people type, checked before anything is done with it. Each says in its field what is wrong.

use crate::http::problem::Problem;

/// A line end or another control character would be a command in some file it goes out in.
fn plain(field: &str, text: &str, allowed: &[char]) -> Result<(), Problem> {
    match text.chars().any(|c| c.is_control() && !allowed.contains(&c)) {
        true => Err(Problem::field(field, "Plain text, please: no control characters.")),
        false => Ok(()),
    }
}

fn short(field: &str, text: &str, most: usize) -> Result<(), Problem> {
    match text.chars().count() > most {
        true => Err(Problem::field(field, format!("At most {most} characters, please."))),
        false => Ok(()),
    }
}

/// One line of plain text, which may be empty.
pub fn line(field: &str, text: &str, most: usize) -> Result<String, Problem> {
    let text = text.trim();
    short(field, text, most)?;
    plain(field, text, &[])?;
    Ok(text.to_owned())
}

/// One line of plain text that says something.
pub fn said(field: &str, text: &str, most: usize, missing: &str) -> Result<String, Problem> {
    match line(field, text, most)? {
        text if text.is_empty() => Err(Problem::field(field, missing)),
        text => Ok(text),
    }
}

/// Text of some lines, which may be empty.
pub fn words(field: &str, text: &str, most: usize) -> Result<String, Problem> {
    let text = text.trim();
    short(field, text, most)?;
    plain(field, text, &['\n', '\r', '\t'])?;
    Ok(text.to_owned())
}

/// A name that may record.
pub fn person(by: &str) -> Result<String, Problem> {
    said("by", by, 80, "Say who you are: pick a name.")
}

/// Why an entry is taken back.
pub fn reason(reason: &str) -> Result<String, Problem> {
    match words("reason", reason, 400)? {
        text if text.is_empty() => Err(Problem::field("reason", "Say why it is taken back.")),
        text => Ok(text),
    }
}

/// Text from a file, made to fit where a person would be told: what does not go into a line is left
/// out.
pub fn fitted(text: &str, most: usize) -> String {
    text.trim().chars().filter(|c| !c.is_control()).take(most).collect()
}

/// The same of text of some lines.
pub fn fitted_words(text: &str, most: usize) -> String {
    let keeps = |c: &char| !c.is_control() || matches!(c, '\n' | '\t');
    text.trim().chars().filter(keeps).take(most).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_would_be_a_command_elsewhere_is_refused_and_every_letter_is_taken() {
        assert_eq!(line("tag", " Rødgård 𝄞 3 ", 80).ok().as_deref(), Some("Rødgård 𝄞 3"));
        for bad in ["two\nlines", "a\u{0}b", "bell\u{7}", "a\u{85}next", "tab\tbed"] {
            let refused = line("tag", bad, 80).unwrap_err();
            assert_eq!((refused.status, refused.errors[0].field.as_str()), (422, "tag"), "{bad:?}");
        }
        assert!(line("tag", &"x".repeat(81), 80).is_err());
        assert!(words("note", "two\nlines", 80).is_ok() && words("note", "a\u{0}b", 80).is_err());
        assert!(person("  ").is_err());
        assert_eq!(fitted("a\nb\u{0}c", 2), "ab");
    }
}
