//! Times as the tables keep them.

use super::StoreError;
use chrono::{DateTime, Datelike, NaiveDateTime, SubsecRound, Timelike, Utc};

/// The moment, in UTC, as finely as the tables keep it.
pub(crate) fn now() -> NaiveDateTime {
    Utc::now().naive_utc().trunc_subsecs(6)
}

/// A time as the tables keep it: to the microsecond, a leap second as the last moment before it.
///
/// # Errors
/// A year outside 1000 to 9999, which no table holds.
pub fn recordable(at: DateTime<Utc>) -> Result<DateTime<Utc>, StoreError> {
    let in_leap = at.nanosecond() >= 1_000_000_000;
    let at = if in_leap { at.with_nanosecond(999_999_000).unwrap_or(at) } else { at };
    match at.year() {
        1000..=9999 => Ok(at.trunc_subsecs(6)),
        _ => Err(StoreError::NoTime(at.to_rfc3339())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn odd_times_are_kept_as_the_nearest_or_refused() {
        let kept = |text: &str| {
            let at: DateTime<Utc> = text.parse().expect("a time");
            recordable(at).ok().map(|at| at.to_rfc3339())
        };
        let leap = Some("2016-12-31T23:59:59.999999+00:00".to_owned());
        assert_eq!(kept("2016-12-31T23:59:60Z"), leap);
        assert_eq!(kept("2016-12-31T23:59:60.5Z"), leap);
        assert_eq!(kept("2024-02-29T12:00:00.1234567+02:00").unwrap().len(), 32);
        assert_eq!(kept("9999-12-31T23:59:59-23:00"), None);
        assert_eq!(kept("0000-01-01T00:00:00Z"), None);
        assert_eq!(kept("+12026-01-01T00:00:00Z"), None);
        assert_eq!(kept("-0001-01-01T00:00:00Z"), None);
    }
}
