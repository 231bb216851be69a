//! Answers that a mechanic can tell apart.
//!
//! What a suspect predicts is spread over the cells near it, by how unsure it is, so that two
//! suspects are told apart as far as a meter and a hand would tell them apart.

use super::spot::Spot;
use super::spots::Spots;
use crate::circuit::Instrument;
use crate::diagnosis::belief::looks_bad;
use crate::diagnosis::evidence::{Inspected, Sense};
use crate::diagnosis::faults::Suspects;
use crate::diagnosis::predict::{FaultDictionary, Predicted};

/// What a test shows under every scenario; of a look, the chance that it looks bad, by suspect.
#[derive(Clone, Debug)]
pub(crate) enum Scale {
    Spots { kind: Kind, spots: Spots },
    Looks(Vec<f32>),
}

/// What a scale is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Kind {
    Volts,
    Ohms,
    Buzz,
    Lamp,
    /// Of an LED lamp.
    Lit,
    AcVolts,
    /// Of the diode range.
    Drop,
    Amps,
    Sense(Sense),
}

impl Scale {
    /// What an instrument shows under every scenario.
    pub fn of_sight(instrument: Instrument, sight: &[Predicted]) -> Self {
        let kind = match instrument {
            Instrument::Voltmeter => Kind::Volts,
            Instrument::Ohmmeter => Kind::Ohms,
            Instrument::Buzzer => Kind::Buzz,
            Instrument::TestLamp => Kind::Lamp,
            Instrument::AcVoltmeter => Kind::AcVolts,
            Instrument::DiodeRange => Kind::Drop,
            Instrument::Clamp => Kind::Amps,
            Instrument::LedLamp => Kind::Lit,
        };
        Self::Spots { kind, spots: Spots::of(sight.iter().map(|p| Spot::of(*p))) }
    }

    /// What is noticed under every scenario.
    pub fn of_sense(dictionary: &FaultDictionary, sense: Sense) -> Self {
        let shown = dictionary.shown();
        let spots = Spots::of(shown.iter().map(|s| Spot::sensed(sense, s)));
        Self::Spots { kind: Kind::Sense(sense), spots }
    }

    /// What a look finds, by suspect.
    pub fn of_look(suspects: &Suspects, looked: Inspected) -> Self {
        Self::Looks(suspects.list.iter().map(|s| looks_bad(s, looked) as f32).collect())
    }

    /// Whether two hypotheses can be told apart by it.
    pub fn splits(&self, suspects: &Suspects, one: usize, other: usize) -> bool {
        let (one, other) = (&suspects.hypotheses[one], &suspects.hypotheses[other]);
        match self {
            Self::Spots { spots, .. } => {
                spots.at(one.scenario).apart_from(spots.at(other.scenario))
            }
            // A look proves nothing by itself.
            Self::Looks(_) => false,
        }
    }

    /// A number by scenario, the same for scenarios that answer alike; `None` where answers are no
    /// matter of course.
    pub fn classes(&self) -> Option<Vec<u8>> {
        let Self::Spots { spots, .. } = self else { return None };
        let spots: Vec<Spot> = spots.iter().collect();
        if spots.iter().any(|s| s.at.is_nan()) {
            return None;
        }
        let mut order: Vec<usize> = (0..spots.len()).collect();
        order.sort_by(|a, b| spots[*a].at.total_cmp(&spots[*b].at));
        let mut classes = vec![0; spots.len()];
        for pair in order.windows(2) {
            let apart = spots[pair[0]].apart_from(spots[pair[1]]);
            classes[pair[1]] = classes[pair[0]] + u8::from(apart);
        }
        Some(classes)
    }

    /// The scenarios that answer otherwise than the sound machine that is wired the same.
    pub fn exposed(&self, suspects: &Suspects) -> impl Iterator<Item = usize> + '_ {
        let spots = match self {
            Self::Spots { spots, .. } => Some(spots),
            Self::Looks(_) => None,
        };
        let apart = |spots: &'_ Spots| {
            let sound = suspects.scenarios.iter().map(|scenario| spots.at(scenario.sound));
            spots.iter().zip(sound).map(|(own, sound)| own.apart_from(sound)).collect()
        };
        let apart: Vec<bool> = spots.map(apart).unwrap_or_default();
        apart.into_iter().enumerate().filter(|(_, apart)| *apart).map(|(scenario, _)| scenario)
    }

    /// Whether all of these scenarios give one answer.
    pub fn is_settled(&self, scenarios: &[usize]) -> bool {
        match self {
            Self::Spots { spots, .. } => {
                let first = scenarios.first().map(|c| spots.at(*c).at);
                scenarios.iter().all(|c| first.is_some_and(|f| (spots.at(*c).at - f).abs() < 0.05))
            }
            Self::Looks(_) => false,
        }
    }

    /// What it takes, in bytes.
    pub fn bytes(&self) -> usize {
        size_of::<Self>()
            + match self {
                Self::Spots { spots, .. } => spots.bytes(),
                Self::Looks(bad) => size_of_val(&**bad),
            }
    }

    /// Whether any of these scenarios would have the instrument refused.
    pub fn refused(&self, scenarios: &[usize]) -> bool {
        match self {
            Self::Spots { spots, .. } => scenarios.iter().any(|c| spots.at(*c).at.is_nan()),
            Self::Looks(_) => false,
        }
    }
}
