//! A bench multimeter that is not there: it understands what a real one does, and reads a simulated
//! machine whose faults, controls and probes it is told by commands of its own.

use super::{Range, Shown};
use crate::circuit::{
    Change, Circuit, Condition, Engine, Instrument, NodeId, Reading, parse_change, read,
};
use crate::diagnosis::SetUpEntry;
use crate::interlock::Judge;
use crate::random::Random;
use std::collections::VecDeque;

/// What comes back over the wire.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Answer {
    Line(String),
    /// A command that asks nothing.
    Nothing,
    /// The meter has gone quiet.
    Silence,
    /// The meter has hung up.
    HangUp,
}

/// How the meter is told to misbehave.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Trouble {
    None,
    Garbage,
    Silence,
    HangUp,
}

/// Figures shown while the probes travel.
const TRAVEL_FIGURES: u32 = 4;
/// What stray fields make of probes in the air, in volts.
const STRAY_VOLTS: f64 = 0.35;
/// Errors kept, as a real one keeps them.
const MOST_ERRORS: usize = 10;

/// A meter that is not there, on a machine that is not there either.
pub struct StandIn {
    circuit: Circuit,
    condition: Condition,
    faults: Vec<Change>,
    set_up: Vec<Change>,
    probes: Option<(NodeId, NodeId)>,
    /// Figures until the probes touch again.
    travelling: u32,
    noise: f64,
    random: Random,
    trouble: Trouble,
    errors: VecDeque<String>,
}

impl StandIn {
    /// A meter in the air beside a sound machine at rest; `seed` decides its noise.
    pub fn new(circuit: Circuit, seed: u64) -> Self {
        Self {
            condition: Condition::at_rest(&circuit),
            circuit,
            faults: Vec::new(),
            set_up: Vec::new(),
            probes: None,
            travelling: 0,
            noise: 0.001,
            random: Random::new(seed),
            trouble: Trouble::None,
            errors: VecDeque::new(),
        }
    }

    /// Answers one line.
    pub fn answer(&mut self, line: &str) -> Answer {
        let line = line.trim();
        let (head, rest) = line.split_once(char::is_whitespace).unwrap_or((line, ""));
        let upper = head.to_ascii_uppercase();
        if let Some(sim) = upper.strip_prefix("SIM:") {
            return match self.simulate(sim, rest.trim()) {
                Ok(()) => Answer::Nothing,
                Err(sentence) => self.error(-224, &sentence),
            };
        }
        match self.trouble {
            Trouble::HangUp => return Answer::HangUp,
            Trouble::Silence => return Answer::Silence,
            Trouble::Garbage if upper.ends_with('?') => {
                return Answer::Line("%\u{fffd}#12..4,,V".to_owned());
            }
            _ => {}
        }
        match upper.as_str() {
            "" | "*CLS" | "*RST" => {
                self.errors.clear();
                Answer::Nothing
            }
            "*IDN?" => Answer::Line("KELVOK,STAND-IN,0,1".to_owned()),
            "*OPC?" => Answer::Line("1".to_owned()),
            "SYST:ERR?" | "SYSTEM:ERROR?" => {
                Answer::Line(self.errors.pop_front().unwrap_or_else(|| "0,\"No error\"".to_owned()))
            }
            _ => match Range::asked(&upper) {
                Some(range) => Answer::Line(self.measure(range).text()),
                None => self.error(-113, "Undefined header"),
            },
        }
    }

    fn error(&mut self, code: i32, sentence: &str) -> Answer {
        if self.errors.len() == MOST_ERRORS {
            self.errors.pop_front();
        }
        self.errors.push_back(format!("{code},\"{}\"", sentence.replace('"', "'")));
        Answer::Nothing
    }

    /// A command to the simulated machine and the hands at it.
    fn simulate(&mut self, command: &str, rest: &str) -> Result<(), String> {
        let circuit = &self.circuit;
        match command {
            "FAULT" => {
                let change = parse_change(circuit, rest).map_err(|e| e.to_string())?;
                self.faults.push(change);
            }
            "FAULT:CLEAR" => self.faults.clear(),
            "SET" => {
                let mut condition =
                    Condition { engine: self.condition.engine, ..Condition::at_rest(circuit) };
                for pair in rest.split_whitespace() {
                    let (control, position) = pair
                        .split_once('=')
                        .ok_or_else(|| format!("{pair} is not control=position"))?;
                    condition.set(circuit, control, position).map_err(|e| e.to_string())?;
                }
                self.condition = condition;
            }
            "ENG" | "ENGINE" => {
                let wanted = rest.to_ascii_lowercase();
                let engine = Engine::named(&wanted);
                self.condition.engine =
                    engine.ok_or_else(|| format!("the engine is never {rest}"))?;
            }
            "SETUP" => {
                let mut changes = Vec::new();
                for word in rest.split_whitespace() {
                    let entry = set_up(word)?;
                    let set_up = entry.resolve(circuit).map_err(|e| e.to_string())?;
                    changes.extend(set_up.changes(circuit));
                }
                self.set_up = changes;
            }
            "PROB" | "PROBES" => {
                let (red, black) =
                    rest.split_once(',').ok_or("probes are two terminals: red,black")?;
                let node = |name: &str| circuit.terminal(name.trim()).map_err(|e| e.to_string());
                self.probes = Some((node(red)?, node(black)?));
                self.travelling = TRAVEL_FIGURES;
            }
            "PROB:LIFT" => {
                self.probes = None;
                self.travelling = 0;
            }
            "NOIS" | "NOISE" => {
                let noise: f64 = rest.parse().map_err(|_| format!("{rest} is no figure"))?;
                self.noise = noise.clamp(0.0, 1.0);
            }
            "TROU" | "TROUBLE" => {
                self.trouble = match rest.to_ascii_lowercase().as_str() {
                    "none" => Trouble::None,
                    "garbage" => Trouble::Garbage,
                    "silence" => Trouble::Silence,
                    "hangup" => Trouble::HangUp,
                    other => return Err(format!("there is no trouble {other}")),
                }
            }
            other => return Err(format!("there is no SIM:{other}")),
        }
        Ok(())
    }

    fn measure(&mut self, range: Range) -> Shown {
        let volts = matches!(range, Range::DcVolts | Range::AcVolts);
        let probes = self.probes.filter(|_| self.travelling == 0);
        self.travelling = self.travelling.saturating_sub(1);
        let Some(probes) = probes else {
            // In the air; the probes touch each other in passing.
            return match volts {
                true => Shown::Figure(STRAY_VOLTS * self.random.share()),
                false if self.probes.is_some() && self.travelling == 1 => Shown::Figure(0.3),
                false => Shown::OverRange,
            };
        };
        let changes: Vec<Change> = self.faults.iter().chain(&self.set_up).copied().collect();
        let judge = Judge::new(&self.circuit, &changes);
        let relays = judge.relays_in(&self.condition);
        let (circuit, at) = (&self.circuit, &self.condition);
        let see = |with: Instrument| read(circuit, at, relays, &changes, with, probes).ok();
        let figure = match range {
            Range::DcVolts => match see(Instrument::Voltmeter) {
                Some(Reading::Volts(volts)) => Some(volts),
                _ => None,
            },
            Range::AcVolts => match see(Instrument::AcVoltmeter) {
                Some(Reading::AcVolts(volts)) => Some(volts),
                _ => None,
            },
            // On a live circuit an ohmmeter shows anything, mostly over range.
            Range::Ohms | Range::Continuity => match see(Instrument::Ohmmeter) {
                Some(Reading::Ohms(ohms)) => ohms,
                _ => None,
            },
            Range::Diode => match see(Instrument::DiodeRange) {
                Some(Reading::Drop(volts)) => volts,
                _ => None,
            },
            Range::DcAmps => {
                // Around the wire that the probes are said to be at the ends of.
                match see(Instrument::Clamp) {
                    Some(Reading::Amps(amps)) => Some(amps),
                    _ => None,
                }
            }
        };
        match figure {
            None => Shown::OverRange,
            Some(figure) => {
                let scatter = self.noise * (figure.abs() + if volts { 1.0 } else { 0.1 });
                Shown::Figure(figure + scatter * (2.0 * self.random.share() - 1.0))
            }
        }
    }
}

/// A set-up by a word: `battery-off`, `unplugged=ID`, `pressed-by-hand=ID`, `freed-by-hand=ID`,
/// `lamp-in-place=ID`, `shaken=PLACE`, `wire-off=ID`, `jumper=FROM,TO`.
fn set_up(word: &str) -> Result<SetUpEntry, String> {
    let (kind, id) = word.split_once('=').unwrap_or((word, ""));
    let id = id.to_owned();
    Ok(match kind {
        "battery-off" => SetUpEntry::BatteryOff,
        "unplugged" => SetUpEntry::Unplugged { connector: id },
        "lamp-in-place" => SetUpEntry::LampInPlace { connector: id },
        "pressed-by-hand" => SetUpEntry::PressedByHand { switch: id },
        "freed-by-hand" => SetUpEntry::FreedByHand { switch: id },
        "shaken" => SetUpEntry::Shaken { place: id },
        "wire-off" => SetUpEntry::WireOff { wire: id },
        "jumper" => {
            let (from, to) = id.split_once(',').ok_or("a jumper has two ends: FROM,TO")?;
            SetUpEntry::Jumper { from: from.to_owned(), to: to.to_owned(), fuse: None }
        }
        other => return Err(format!("there is no set-up {other}")),
    })
}

/// The commands that bring a stand-in's machine and probes to where a test wants them.
pub fn bring_about(
    condition: &[(String, String)],
    engine: Engine,
    set_up: &[SetUpEntry],
    (red, black): (&str, &str),
) -> Vec<String> {
    let set: Vec<String> = condition.iter().map(|(c, p)| format!("{c}={p}")).collect();
    let set_up: Vec<String> = set_up
        .iter()
        .map(|entry| match entry {
            SetUpEntry::BatteryOff => "battery-off".to_owned(),
            SetUpEntry::Unplugged { connector } => format!("unplugged={connector}"),
            SetUpEntry::LampInPlace { connector } => format!("lamp-in-place={connector}"),
            SetUpEntry::PressedByHand { switch } => format!("pressed-by-hand={switch}"),
            SetUpEntry::FreedByHand { switch } => format!("freed-by-hand={switch}"),
            SetUpEntry::Shaken { place } => format!("shaken={place}"),
            SetUpEntry::WireOff { wire } => format!("wire-off={wire}"),
            SetUpEntry::Jumper { from, to, .. } => format!("jumper={from},{to}"),
        })
        .collect();
    vec![
        format!("SIM:SET {}", set.join(" ")),
        format!("SIM:ENG {}", engine.name()),
        format!("SIM:SETUP {}", set_up.join(" ")),
        format!("SIM:PROB {red},{black}"),
    ]
}
