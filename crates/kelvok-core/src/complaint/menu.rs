//! Which symptoms a machine can have, and what each comes to in its log.

use super::symptom::{At, Symptom, When};
use crate::circuit::{Circuit, Condition, Engine, one_move_away};
use crate::diagnosis::{Entry, Heard, LookEntry, ObservationEntry};
use crate::interlock::{Behavior, EngineDoes, Judge, Track, nearest_complete};
use crate::machine::PartKind;
use std::collections::{BTreeSet, VecDeque};

/// A symptom that the machine can have, and when.
#[derive(Clone, Debug, PartialEq)]
pub struct Offer {
    /// What is complained of.
    pub symptom: Symptom,
    /// When it does that, the likeliest first; at least one.
    pub tellings: Vec<Telling>,
}

/// A symptom in full: what goes into the log.
#[derive(Clone, Debug, PartialEq)]
pub struct Telling {
    /// When it does that.
    pub when: When,
    /// What it says, as told by the customer: what still works first, what is wrong last.
    pub entries: Vec<Entry>,
}

/// Every symptom that a machine can have. A machine that nothing cranks is not asked whether it
/// cranks, one without a fuse not which fuse blows.
pub fn menu(circuit: &Circuit) -> Vec<Offer> {
    Menu::of(circuit).offers()
}

/// What the machine does as its maker built it, nothing being wrong with it.
pub(super) struct Menu<'c> {
    circuit: &'c Circuit,
    judge: Judge<'c>,
    /// Where it cranks, as near to rest as there is; none on a machine with a rope.
    start: Option<Condition>,
    /// In ordinary use, the engine running.
    running: Option<Condition>,
}

/// A control moved, from one condition to another.
struct Move {
    from: Condition,
    to: Condition,
}

impl<'c> Menu<'c> {
    pub fn of(circuit: &'c Circuit) -> Self {
        let rest = Condition::at_rest(circuit);
        let track = Track::lay_out(circuit, "start").ok();
        let start = track.and_then(|track| nearest_complete(circuit, &track, &rest));
        let mut menu = Self { circuit, judge: Judge::as_built(circuit, &[]), start, running: None };
        let used = circuit.normal_use().into_iter().filter(|c| c.engine >= Engine::Running);
        let used = used.map(|c| Condition { engine: Engine::Running, ..c });
        let going: Vec<_> = used.filter(|c| menu.runs(c)).collect();
        // With the blades standing, if they ever do.
        let idle = going.iter().find(|c| !menu.drives(c)).cloned();
        menu.running = idle.or_else(|| going.into_iter().next());
        menu
    }

    /// Every symptom that the machine can have.
    pub fn offers(&mut self) -> Vec<Offer> {
        let offers = Symptom::ALL
            .iter()
            .map(|symptom| Offer { symptom: *symptom, tellings: self.tellings(*symptom) });
        offers.filter(|offer| !offer.tellings.is_empty()).collect()
    }

    pub fn circuit(&self) -> &'c Circuit {
        self.circuit
    }

    /// What a good machine does there.
    pub fn behavior(&mut self, at: &Condition) -> Behavior {
        self.judge.behavior(at)
    }

    /// A telling with some controls standing elsewhere; `None` where a good machine does that too, or
    /// the machine cannot stand like that. What still works is left out where it would not.
    pub fn moved_to(&mut self, telling: &Telling, stands: &[&At]) -> Option<Telling> {
        let mut moved = telling.clone();
        for entry in &mut moved.entries {
            for at in stands {
                entry.condition.insert(at.control.clone(), at.position.clone());
            }
        }
        let bad = moved.entries.pop()?;
        bad.resolve(self.circuit, 0).ok()?;
        if !stands.is_empty() && self.is_ordinary(&bad) {
            return None;
        }
        moved.entries.retain(|good| stands.is_empty() || self.is_ordinary(good));
        moved.entries.push(bad);
        Some(moved)
    }

    /// It runs with a control elsewhere, and dies when that comes back to where it is in ordinary use;
    /// `None` where a good machine does not run with it elsewhere, or that is not where it is.
    pub fn dies_back_at(&mut self, at: &At) -> Option<Telling> {
        let running = self.running.clone()?;
        let when = When::Control { control: at.control.clone(), position: at.position.clone() };
        if !is_at(self.circuit, &running, &when) {
            return None;
        }
        let control = self.circuit.controls.iter().position(|c| c.id == at.control)?;
        let elsewhere = one_move_away(self.circuit, &running).into_iter().find_map(|c| {
            let c = Condition { engine: Engine::Running, ..c };
            (c.positions[control] != running.positions[control] && self.runs(&c)).then_some(c)
        })?;
        let engine = |does| ObservationEntry::Engine { does };
        let entries = vec![
            Entry::told(self.circuit, &elsewhere, engine(EngineDoes::Runs)),
            Entry::told(self.circuit, &running, engine(EngineDoes::Stops)),
        ];
        Some(Telling { when, entries })
    }

    /// Whether an entry says what a good machine does there, or nothing of that.
    fn is_ordinary(&mut self, entry: &Entry) -> bool {
        let Ok(said) = entry.resolve(self.circuit, 0) else { return false };
        let good = self.behavior(&said.condition);
        match entry.observation {
            ObservationEntry::Heard { heard } => good.cranks == (heard == Heard::Cranks),
            ObservationEntry::Engine { does } if said.condition.engine == Engine::Cranking => {
                good.starts == (does == EngineDoes::Runs)
            }
            ObservationEntry::Engine { does } => good.runs == (does == EngineDoes::Runs),
            ObservationEntry::Blades { turn } => good.blades == turn,
            _ => false,
        }
    }

    fn runs(&mut self, at: &Condition) -> bool {
        self.judge.behavior(at).runs
    }

    /// Whether the blades are driven there.
    fn drives(&mut self, at: &Condition) -> bool {
        self.judge.behavior(at).blades
    }

    fn tellings(&mut self, symptom: Symptom) -> Vec<Telling> {
        let circuit = self.circuit;
        let starter = |heard| ObservationEntry::Heard { heard };
        let engine = |does| ObservationEntry::Engine { does };
        let blades = |turn| ObservationEntry::Blades { turn };
        let told = |at: &Condition, observation| Entry::told(circuit, at, observation);
        let (runs, stops) = (engine(EngineDoes::Runs), engine(EngineDoes::Stops));
        let always = |entries| vec![Telling { when: When::Always, entries }];
        let start = self.start.clone();
        let at_start = |heard| {
            start.as_ref().map_or_else(Vec::new, |at| always(vec![told(at, starter(heard))]))
        };
        match symptom {
            Symptom::Dead => at_start(Heard::Silent),
            Symptom::OneClick => at_start(Heard::Click),
            Symptom::Chatters => at_start(Heard::Chatter),
            Symptom::CranksSlowly => at_start(Heard::CranksSlowly),
            Symptom::CranksNoFire => start.as_ref().map_or_else(Vec::new, |at| {
                let turned = Condition { engine: Engine::Cranking, ..at.clone() };
                always(vec![told(at, starter(Heard::Cranks)), told(&turned, stops)])
            }),
            Symptom::Dies => {
                let Some(running) = self.running.clone() else { return Vec::new() };
                let mut all: Vec<_> = self
                    .moves(|menu, to| menu.runs(to))
                    .into_iter()
                    .map(|(when, step)| Telling {
                        when,
                        entries: vec![
                            told(&step.from, runs.clone()),
                            told(&step.to, stops.clone()),
                        ],
                    })
                    .collect();
                let hot = Condition { engine: Engine::RunningHot, ..running.clone() };
                all.push(Telling {
                    when: When::Hot,
                    entries: vec![told(&running, runs), told(&hot, stops.clone())],
                });
                let bumps = Entry { at_times: true, ..told(&running, stops.clone()) };
                all.push(Telling { when: When::Bumps, entries: vec![bumps] });
                all.push(Telling { when: When::Always, entries: vec![told(&running, stops)] });
                all
            }
            Symptom::WontShutOff => {
                let going =
                    |step: Move| vec![told(&step.from, runs.clone()), told(&step.to, runs.clone())];
                let moves = self.moves(|menu, to| !menu.runs(to)).into_iter();
                moves.map(|(when, step)| Telling { when, entries: going(step) }).collect()
            }
            Symptom::CranksItself => {
                let Some(start) = start else { return Vec::new() };
                let mut all = Vec::new();
                for to in one_move_away(circuit, &start) {
                    if let Some(when) = moved(circuit, &start, &to)
                        && !self.judge.cranks(&to)
                    {
                        let entries = vec![told(&to, starter(Heard::Cranks))];
                        all.push(Telling { when, entries });
                    }
                }
                all
            }
            Symptom::BladesWontEngage | Symptom::BladesDropOut => {
                let Some(on) = self.nearest(|menu, to| menu.drives(to)) else { return Vec::new() };
                let out = told(&on, blades(false));
                if symptom == Symptom::BladesWontEngage {
                    return always(vec![told(&on, runs), out]);
                }
                let at_times = Entry { at_times: true, ..out.clone() };
                let hot = Condition { engine: Engine::RunningHot, ..on.clone() };
                let hot = vec![told(&on, blades(true)), told(&hot, blades(false))];
                vec![
                    Telling { when: When::Always, entries: vec![at_times.clone()] },
                    Telling { when: When::Hot, entries: hot },
                    Telling { when: When::Bumps, entries: vec![at_times] },
                ]
            }
            Symptom::BladesWontStop => {
                let Some(on) = self.nearest(|menu, to| menu.drives(to)) else { return Vec::new() };
                let mut all = Vec::new();
                for to in one_move_away(circuit, &on) {
                    let to = Condition { engine: Engine::Running, ..to };
                    if let Some(when) = moved(circuit, &on, &to)
                        && !self.drives(&to)
                    {
                        let going = vec![told(&on, blades(true)), told(&to, blades(true))];
                        all.push(Telling { when, entries: going });
                    }
                }
                all
            }
            Symptom::FuseBlows => {
                let rest = Condition::at_rest(circuit);
                let fuses = circuit.document().parts.iter().filter(|p| p.kind == PartKind::Fuse);
                let blown = |id: &String| {
                    let at = LookEntry::Fuse { fuse: id.clone() };
                    vec![told(&rest, ObservationEntry::Looked { at, bad: true })]
                };
                let telling = |id: &String| Telling {
                    when: When::Fuse { fuse: id.clone() },
                    entries: blown(id),
                };
                fuses.map(|p| telling(&p.id)).collect()
            }
            Symptom::BatteryFlat => {
                let battery = circuit.document().parts.iter().any(|p| p.kind == PartKind::Battery);
                let text = Symptom::BatteryFlat.words().to_owned();
                let note = told(&Condition::at_rest(circuit), ObservationEntry::Note { text });
                if battery { always(vec![note]) } else { Vec::new() }
            }
        }
    }

    /// Of every position that a control can be moved to while the engine runs, the move that lies
    /// nearest to ordinary use and comes to something wanted, nearest first.
    fn moves(&mut self, wanted: impl Fn(&mut Self, &Condition) -> bool) -> Vec<(When, Move)> {
        let Some(running) = self.running.clone() else { return Vec::new() };
        let mut found = Vec::new();
        let mut told = BTreeSet::new();
        let mut seen = BTreeSet::from([running.clone()]);
        let mut next = VecDeque::from([running.clone()]);
        while let Some(from) = next.pop_front() {
            for to in one_move_away(self.circuit, &from) {
                let to = Condition { engine: Engine::Running, ..to };
                let Some(when) = moved(self.circuit, &from, &to) else { continue };
                if moved(self.circuit, &from, &running).as_ref() == Some(&when) {
                    continue;
                }
                if wanted(self, &to)
                    && !is_at(self.circuit, &running, &when)
                    && told.insert(when.clone())
                {
                    found.push((when, Move { from: from.clone(), to: to.clone() }));
                }
                if self.runs(&to) && seen.insert(to.clone()) {
                    next.push_back(to);
                }
            }
        }
        found
    }

    /// The condition nearest to ordinary use, the engine running, that comes to something wanted.
    fn nearest(&mut self, wanted: impl Fn(&mut Self, &Condition) -> bool) -> Option<Condition> {
        let running = self.running.clone()?;
        self.moves(wanted).into_iter().map(|(_, step)| step.to).min_by_key(|to| {
            to.positions.iter().zip(&running.positions).filter(|(a, b)| a != b).count()
        })
    }
}

/// The one control that stands elsewhere, and where; `None` where it is one that springs back.
fn moved(circuit: &Circuit, from: &Condition, to: &Condition) -> Option<When> {
    let pairs = from.positions.iter().zip(&to.positions);
    let control = pairs.into_iter().position(|(a, b)| a != b)?;
    let control = &circuit.controls[control];
    let at = to.named(circuit).find(|(id, _)| *id == control.id)?.1;
    let position = control.positions.iter().find(|p| p.id == at)?;
    position.returns_to.is_none().then_some(())?;
    Some(When::Control { control: control.id.clone(), position: at.to_owned() })
}

/// Whether a control stands there already.
fn is_at(circuit: &Circuit, condition: &Condition, when: &When) -> bool {
    let When::Control { control, position } = when else { return false };
    condition.named(circuit).any(|at| at == (control.as_str(), position.as_str()))
}
