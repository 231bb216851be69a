//! How a battery that is at fault changes in the course of a job: charged, helped by another, falling
//! as it is tried.

use super::suspects::Suspects;
use crate::circuit::FaultMode;
use crate::diagnosis::evidence::{BatteryEvent, Evidence, Heard, Observation, Sensed};

/// The chance that a battery which was only flat is good once charged, and that one which is weak is.
const CHARGE_CURES: f64 = 0.75;
const CHARGE_CURES_WEAK: f64 = 0.1;
/// The chance that another battery is as bad.
const SWAP_CURES: f64 = 0.97;
/// The chance that a flat battery falls to another size where the starter does worse than before.
const FALLS: f64 = 0.4;

/// What is wrong with the battery by a hypothesis.
fn mode(suspects: &Suspects, hypothesis: usize) -> Option<FaultMode> {
    let faults = &suspects.list[suspects.hypotheses[hypothesis].suspect].faults;
    let own = |m: &FaultMode| matches!(m, FaultMode::BatteryFlat | FaultMode::BatteryWeak);
    faults.iter().map(|f| f.mode).find(own)
}

/// The chance that what became of the battery cures a hypothesis about it; `None` where it is no
/// matter to it.
pub(crate) fn cures(suspects: &Suspects, hypothesis: usize, entry: &Evidence) -> Option<f64> {
    match (entry.observation.battery_event()?, mode(suspects, hypothesis)?) {
        (BatteryEvent::Swapped, _) => Some(SWAP_CURES),
        (BatteryEvent::Charged, FaultMode::BatteryFlat) => Some(CHARGE_CURES),
        (BatteryEvent::Charged, _) => Some(CHARGE_CURES_WEAK),
        _ => None,
    }
}

/// The stretch of a log in which a hypothesis is no matter, by sequence.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Away {
    from: u64,
    /// The first entry for which it matters again; none where it never does.
    to: Option<u64>,
    /// It was put right, not only helped.
    cured: bool,
}

impl Away {
    pub fn cured(from: u64) -> Self {
        Self { from, to: None, cured: true }
    }

    pub fn is_cure(self) -> bool {
        self.cured
    }

    /// Whether it holds at an entry; from its first on.
    pub fn covers(self, entry: u64) -> bool {
        entry >= self.from && self.to.is_none_or(|to| entry < to)
    }
}

/// Where jumper cables make a battery hypothesis no matter.
pub(crate) fn helped(suspects: &Suspects, hypothesis: usize, log: &[Evidence]) -> Vec<Away> {
    if mode(suspects, hypothesis).is_none() {
        return Vec::new();
    }
    let mut spans: Vec<Away> = Vec::new();
    for entry in log {
        let hanging = spans.last_mut().filter(|s| s.to.is_none());
        match (entry.observation, hanging) {
            (Observation::Battery(BatteryEvent::JumperOn), None) => {
                spans.push(Away { from: entry.sequence, to: None, cured: false });
            }
            (Observation::Battery(BatteryEvent::JumperOff | BatteryEvent::Swapped), Some(span)) => {
                span.to = Some(entry.sequence)
            }
            _ => {}
        }
    }
    spans
}

/// After which entries a flat battery was flatter, and what it came to then, by scenario.
pub(crate) type Falls = [Option<(u64, usize)>; 2];

/// The entries after which the starter did worse than before, nothing else having been done, and nights
/// that passed; the last two of them.
fn worsens(log: &[Evidence]) -> Vec<u64> {
    let overnight = Observation::Battery(BatteryEvent::LeftOvernight);
    let nights = log.iter().filter(|e| e.observation == overnight);
    let mut at: Vec<u64> = nights.map(|e| e.sequence).collect();
    let tries: Vec<_> = log
        .iter()
        .filter_map(|e| match e.observation {
            Observation::Sensed(sensed @ Sensed::Starter(_)) => Some((e, sensed)),
            _ => None,
        })
        .collect();
    for pair in tries.windows(2) {
        let ((one, before), (other, after)) = (pair[0], pair[1]);
        // With a jumper on, or a wire off, the machine was another.
        let alike = one.condition == other.condition && one.set_up == other.set_up;
        if alike && falls_to(before, after) {
            at.push(one.sequence);
        }
    }
    at.sort_unstable();
    at.dedup();
    at.split_off(at.len().saturating_sub(2))
}

/// Whether a starter does what it does on a battery that fell since. From cranking to nothing at all is
/// a control let go, or an open contact.
pub(crate) fn falls_to(before: Sensed, after: Sensed) -> bool {
    let strength = |sensed| match sensed {
        Sensed::Starter(Heard::Cranks) => Some(4),
        Sensed::Starter(Heard::CranksSlowly) => Some(3),
        Sensed::Starter(Heard::Chatter) => Some(2),
        Sensed::Starter(Heard::Click) => Some(1),
        Sensed::Starter(Heard::Silent) => Some(0),
        _ => None,
    };
    let lost = strength(before).zip(strength(after)).map_or(0, |(before, after)| before - after);
    (1..=3).contains(&lost)
}

/// The ways in which a flat battery may have fallen, each with its chance; that it did not comes first.
pub(crate) fn falls(suspects: &Suspects, hypothesis: usize, log: &[Evidence]) -> Vec<(Falls, f64)> {
    let mut ways: Vec<Falls> = Vec::new();
    if mode(suspects, hypothesis) == Some(FaultMode::BatteryFlat) {
        let below = |s: usize| {
            let (_, more) = suspects.scenarios[s].sizes?;
            (more != s).then_some(more)
        };
        let lower = |s: usize| std::iter::successors(below(s), move |s| below(*s));
        let own = suspects.hypotheses[hypothesis].scenario;
        let after = worsens(log);
        for at in &after {
            ways.extend(lower(own).map(|to| [Some((*at, to)), None]));
        }
        if let [first, second] = after[..] {
            for to in lower(own) {
                ways.extend(lower(to).map(|then| [Some((first, to)), Some((second, then))]));
            }
        }
    }
    if ways.is_empty() {
        return vec![(Falls::default(), 1.0)];
    }
    let each = FALLS / ways.len() as f64;
    let falls = ways.into_iter().map(|way| (way, each));
    std::iter::once((Falls::default(), 1.0 - FALLS)).chain(falls).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::circuit::{Circuit, Condition};
    use crate::diagnosis::evidence::{SetUp, Source};
    use crate::machine::{LIBRARY, Machine};

    fn log(circuit: &Circuit, observed: &[Observation]) -> Vec<Evidence> {
        let at = |(i, observation): (usize, &Observation)| Evidence {
            sequence: i as u64 + 1,
            condition: Condition::at_rest(circuit),
            set_up: Vec::new(),
            observation: *observation,
            repeats: 1,
            source: Source::Tested,
            at_times: false,
            times_an_hour: None,
            celsius: None,
            idle: false,
        };
        observed.iter().enumerate().map(at).collect()
    }

    fn heard(heard: Heard) -> Observation {
        Observation::Sensed(Sensed::Starter(heard))
    }

    /// The suspects of a machine, and its first hypothesis of a kind.
    fn of(mode: FaultMode) -> (Circuit, Suspects, usize) {
        let text = LIBRARY.iter().find(|m| m.name == "pellwick-gt-46").expect("shipped").text;
        let circuit = Circuit::compile(&Machine::read(text).expect("sound"));
        let suspects = Suspects::of(&circuit);
        let own = |h: &usize| {
            let suspect = suspects.hypotheses[*h].suspect;
            suspects.list[suspect].faults.iter().any(|f| f.mode == mode)
        };
        let first = (0..suspects.hypotheses.len()).find(own).expect("a hypothesis");
        (circuit, suspects, first)
    }

    #[test]
    fn a_battery_falls_only_where_the_starter_did_worse() {
        let (circuit, suspects, flat) = of(FaultMode::BatteryFlat);
        let ways = |observed: &[Observation]| falls(&suspects, flat, &log(&circuit, observed));
        let steady = ways(&[heard(Heard::Chatter), heard(Heard::Chatter), heard(Heard::Cranks)]);
        assert_eq!(steady.len(), 1);
        let once = ways(&[heard(Heard::CranksSlowly), heard(Heard::Click)]);
        assert!(once.iter().skip(1).all(|(fell, _)| matches!(fell, [Some((1, _)), None])));
        let twice = ways(&[heard(Heard::CranksSlowly), heard(Heard::Click), heard(Heard::Silent)]);
        assert!(twice.len() > once.len());
        for all in [&steady, &once, &twice] {
            let sum: f64 = all.iter().map(|(_, share)| share).sum();
            assert!((sum - 1.0).abs() < 1e-9, "{sum}");
        }
        // With something unplugged it is not the same machine that did worse.
        let mut worse = log(&circuit, &[heard(Heard::CranksSlowly), heard(Heard::Click)]);
        worse[0].set_up = vec![SetUp::Unplugged(0)];
        assert_eq!(falls(&suspects, flat, &worse).len(), 1);
        // From cranking to nothing at all, something let go.
        assert_eq!(ways(&[heard(Heard::Cranks), heard(Heard::Silent)]).len(), 1);
        let (_, suspects, contact) = of(FaultMode::Open);
        let worse = log(&circuit, &[heard(Heard::CranksSlowly), heard(Heard::Click)]);
        assert_eq!(falls(&suspects, contact, &worse).len(), 1, "of a battery only");
    }

    #[test]
    fn jumper_cables_help_from_on_to_off_and_nothing_else() {
        let (circuit, suspects, flat) = of(FaultMode::BatteryFlat);
        let [on, off] = [BatteryEvent::JumperOn, BatteryEvent::JumperOff].map(Observation::Battery);
        let note = Observation::Noted;
        let away =
            helped(&suspects, flat, &log(&circuit, &[off, note, on, on, note, off, note, on]));
        let covered: Vec<u64> =
            (1..=9).filter(|entry| away.iter().any(|a| a.covers(*entry))).collect();
        assert_eq!(covered, [3, 4, 5, 8, 9]);
        let (_, suspects, contact) = of(FaultMode::Open);
        assert!(helped(&suspects, contact, &log(&circuit, &[on])).is_empty());
    }

    #[test]
    fn a_charge_helps_a_flat_battery_more_than_a_weak_one() {
        let (circuit, suspects, flat) = of(FaultMode::BatteryFlat);
        let (_, _, weak) = of(FaultMode::BatteryWeak);
        let entries = log(
            &circuit,
            &[BatteryEvent::Charged, BatteryEvent::Swapped].map(Observation::Battery),
        );
        let chance = |hypothesis, entry: usize| cures(&suspects, hypothesis, &entries[entry]);
        assert!(chance(flat, 0) > chance(weak, 0) && chance(weak, 0).is_some());
        assert_eq!(chance(flat, 1), chance(weak, 1));
    }
}
