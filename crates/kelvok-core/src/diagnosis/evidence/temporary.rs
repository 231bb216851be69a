//! Temporary changes: what was taken off for a test and was not put back.

use super::battery_event::BatteryEvent;
use super::log::Evidence;
use super::observation::Observation;
use super::set_up::SetUp;

impl SetUp {
    /// Whether it stays so until somebody puts it back; what a hand holds lets go by itself.
    pub fn stays(self) -> bool {
        matches!(
            self,
            Self::Unplugged(_)
                | Self::LampInPlace(_)
                | Self::BatteryOff
                | Self::WireOff(_)
                | Self::Jumper { .. }
        )
    }

    /// Whether both are one thing on the machine: a plug that is off is off, a lamp in its place or
    /// none, and a jumper is the same whichever end is named first.
    fn same_place(self, other: Self) -> bool {
        let plug = |s| match s {
            Self::Unplugged(part) | Self::LampInPlace(part) => Some(part),
            _ => None,
        };
        let jumper = |s| match s {
            Self::Jumper { ends: (a, b), .. } => Some((a.min(b), a.max(b))),
            _ => None,
        };
        self == other
            || (plug(self).is_some() && plug(self) == plug(other))
            || (jumper(self).is_some() && jumper(self) == jumper(other))
    }
}

/// What is still off, in the order in which it was taken off. It stays so until an entry says that it
/// was put back.
///
/// # Arguments
/// `log` has the entries that were taken back too: a mistyped reading does not plug anything in.
pub fn still_off<'a>(log: impl IntoIterator<Item = &'a Evidence>) -> Vec<SetUp> {
    off_since(log).into_iter().map(|(what, _)| what).collect()
}

/// The same, each with the entry, by sequence, that first had it so.
pub fn off_since<'a>(log: impl IntoIterator<Item = &'a Evidence>) -> Vec<(SetUp, u64)> {
    let mut off: Vec<(SetUp, u64)> = Vec::new();
    for entry in log {
        if let Observation::PutBack(back) = entry.observation {
            off.retain(|(s, _)| !s.same_place(back));
            continue;
        }
        if !entry.is_done() {
            continue;
        }
        let arranged = match entry.observation {
            Observation::Arranged(what) => Some(what),
            _ => None,
        };
        for set in entry.set_up.iter().copied().chain(arranged).filter(|s| s.stays()) {
            match off.iter_mut().find(|(s, _)| s.same_place(set)) {
                Some((same, _)) => *same = set,
                None => off.push((set, entry.sequence)),
            }
        }
    }
    off
}

/// What must be put back before something is done with a set-up.
pub fn to_put_back(off: &[SetUp], set_up: &[SetUp]) -> Vec<SetUp> {
    let wanted = |s: &SetUp| set_up.iter().any(|w| w.same_place(*s));
    off.iter().copied().filter(|s| !wanted(s)).collect()
}

/// Whether jumper cables still hang on the battery.
pub fn jumper_on<'a>(log: impl IntoIterator<Item = &'a Evidence>) -> bool {
    log.into_iter().fold(false, |on, entry| match entry.observation {
        Observation::Battery(BatteryEvent::JumperOn) => true,
        Observation::Battery(BatteryEvent::JumperOff | BatteryEvent::Swapped) => false,
        _ => on,
    })
}
