//! Answers as a card shows them.

use super::stakes::Stakes;
use crate::circuit::LampState;
use crate::diagnosis::belief::LEADS_OHMS;
use crate::diagnosis::candidates::{
    AC_VOLTS, BELOW, DROP, Kind, LN_OHMS, OVER, Scale, VOLTS, amps_at,
};
use crate::diagnosis::evidence::{Heard, Sense};
use crate::interlock::EngineDoes;
use serde::Serialize;

/// What one answer, or a range of them, is.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum AnswerRange {
    Volts {
        low: f64,
        high: f64,
    },
    Ohms {
        low: f64,
        high: f64,
    },
    OverRange,
    AcVolts {
        low: f64,
        high: f64,
    },
    /// Volts across a diode.
    Drop {
        low: f64,
        high: f64,
    },
    /// By a clamp.
    Amps {
        low: f64,
        high: f64,
    },
    Buzz {
        on: bool,
    },
    Lit {
        on: bool,
    },
    Heard {
        heard: Heard,
    },
    Engine {
        does: EngineDoes,
    },
    Blades {
        turn: bool,
    },
    Lamp {
        burns: LampState,
    },
    Looks {
        bad: bool,
    },
}

/// States that give an answer, by index, each with the share of its weight that does.
type Givers = Vec<(usize, f64)>;

/// Answers as a card shows them: ranges with a gap between them, each with the states that give it
/// and the share of each state's weight that does.
pub(crate) fn ranges(scale: &Scale, stakes: &Stakes) -> Vec<(AnswerRange, Givers)> {
    let (kind, spots) = match scale {
        Scale::Looks(bad) => {
            let share = |i: usize, of: fn(f64) -> f64| {
                let stake = &stakes.states[i];
                (i, stake.weight * of(f64::from(bad[stake.suspect])))
            };
            let each =
                |of: fn(f64) -> f64| (0..stakes.states.len()).map(|i| share(i, of)).collect();
            return vec![
                (AnswerRange::Looks { bad: true }, each(|b| b)),
                (AnswerRange::Looks { bad: false }, each(|b| 1.0 - b)),
            ];
        }
        Scale::Spots { kind, spots } => (*kind, spots),
    };
    let mut all: Vec<(f32, usize, f64)> = Vec::new();
    let lamp = matches!(kind, Kind::Lamp | Kind::Sense(Sense::Lamp(_)));
    for (i, stake) in stakes.states.iter().enumerate() {
        stake.put(spots.at(stake.scenario), spots.at(stake.sound), &mut |spot, weight| match lamp
            && spot.half > 0.0
        {
            // Nothing is put there.
            _ if spot.at.is_nan() => {}
            // Between two states it is called either.
            true => all.extend([-0.5, 0.5].map(|by| (spot.at + by, i, weight / 2.0))),
            false => all.push((spot.at, i, weight)),
        });
    }
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    // Cells apart by less than this are one answer on the card.
    let figure = matches!(kind, Kind::Volts | Kind::Ohms | Kind::AcVolts | Kind::Drop | Kind::Amps);
    let gap = if figure { 1.1 } else { 0.1 };
    let over = matches!(kind, Kind::Ohms | Kind::Drop);
    let mut grouped: Vec<(f32, f32, Givers)> = Vec::new();
    for (at, state, weight) in all {
        match grouped.last_mut() {
            Some((_, high, states))
                if at - *high <= gap && (at < 40.0 || *high >= 40.0 || !over) =>
            {
                *high = at;
                states.push((state, weight));
            }
            _ => grouped.push((at, at, vec![(state, weight)])),
        }
    }
    grouped.into_iter().map(|(low, high, states)| (kind.range(low, high), states)).collect()
}

impl Kind {
    fn range(self, low: f32, high: f32) -> AnswerRange {
        let (low, high) = (f64::from(low), f64::from(high));
        let cell = low as usize;
        match self {
            // No negative zero for a screen to show.
            Self::Volts => {
                let volts = |at: f64| (at - BELOW) * VOLTS + 0.0;
                AnswerRange::Volts { low: volts(low), high: volts(high) }
            }
            Self::Ohms | Self::Drop if low >= f64::from(OVER) => AnswerRange::OverRange,
            Self::AcVolts => AnswerRange::AcVolts { low: low * AC_VOLTS, high: high * AC_VOLTS },
            Self::Amps => AnswerRange::Amps { low: amps_at(low), high: amps_at(high) },
            Self::Drop => AnswerRange::Drop { low: low * DROP, high: high * DROP },
            Self::Ohms => {
                let ohms = |at: f64| (((at - 3.0) * LN_OHMS).exp() - LEADS_OHMS).max(0.0);
                AnswerRange::Ohms { low: ohms(low), high: ohms(high) }
            }
            Self::Buzz => AnswerRange::Buzz { on: cell == 1 },
            Self::Lit => AnswerRange::Lit { on: cell == 1 },
            Self::Sense(Sense::Starter) => AnswerRange::Heard {
                heard: match cell {
                    0 => Heard::Silent,
                    1 => Heard::Click,
                    2 => Heard::Chatter,
                    3 => Heard::CranksSlowly,
                    _ => Heard::Cranks,
                },
            },
            Self::Sense(Sense::Engine) => AnswerRange::Engine {
                does: match cell {
                    0 => EngineDoes::Stops,
                    1 => EngineDoes::RunsRough,
                    _ => EngineDoes::Runs,
                },
            },
            Self::Sense(Sense::Blades) => AnswerRange::Blades { turn: cell == 1 },
            Self::Lamp | Self::Sense(Sense::Lamp(_)) => AnswerRange::Lamp {
                burns: match cell {
                    0 => LampState::Out,
                    1 => LampState::Dim,
                    _ => LampState::Bright,
                },
            },
        }
    }
}
