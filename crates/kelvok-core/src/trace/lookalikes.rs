//! What else could beep between two ends: a switch, a coil, a fuse that is still in. The circuit engine
//! says, and says what to take off first.

use super::harness::Harness;
use crate::circuit::{Change, Condition, ElementKind, Leads, Relays, Setting, Solver};
use crate::machine::{BUZZER_OHMS, PartKind};
use std::collections::BTreeSet;

/// Ohms under which a reading is a wire's.
pub(super) const WIRE_OHMS: f64 = 1.5;

/// Of the plugs that hang on two nets as many are thought of.
const MOST_PLUGS: usize = 40;

/// What a meter would show between two ends if they were not joined, as things are unplugged: endless where
/// nothing leads from one to the other.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Lookalike {
    /// By end: if red were on its net, in ohms to black.
    pub to_black: Vec<f64>,
    /// If black were on its net, to red.
    pub to_red: Vec<f64>,
    /// If the wires of red, or of black, went nowhere.
    pub loose: f64,
}

/// One of the ways in which a harness may be wired.
#[derive(Clone, Copy, Debug)]
pub(super) struct Way<'a> {
    /// What makes it differ from the drawing.
    pub changes: &'a [Change],
    /// By end its net.
    pub labels: &'a [u16],
    /// The same without errors of the drawing, as the circuit that is asked has it.
    pub drawn: &'a [u16],
}

impl Harness<'_> {
    /// What taking these parts off changes, the battery off besides.
    pub(crate) fn taken_off(&self, off: &BTreeSet<usize>) -> Vec<Change> {
        let circuit = self.circuit();
        let opened = circuit.elements().filter(|(_, e)| {
            let fuse = |p: usize| circuit.part(p).kind == PartKind::Fuse && off.contains(&p);
            matches!(e.kind, ElementKind::Source { .. }) || e.part.is_some_and(fuse)
        });
        let plugs = off.iter().filter(|p| circuit.part(**p).kind == PartKind::Connector);
        opened.map(|(id, _)| Change::Open(id)).chain(plugs.map(|p| Change::Apart(*p))).collect()
    }

    /// What else could show between two ends, wired with these changes.
    pub(super) fn lookalike(
        &self,
        (red, black): (usize, usize),
        off: &BTreeSet<usize>,
        wired: &[Change],
    ) -> Lookalike {
        let changes = [wired, &self.taken_off(off)].concat();
        let all: Vec<usize> = (0..self.ends().len()).collect();
        Lookalike {
            to_black: self.ohms(&changes, black, &all),
            to_red: self.ohms(&changes, red, &all),
            loose: self.loose((red, black), off, &changes),
        }
    }

    /// What would show if the wires of one of two ends went nowhere.
    fn loose(&self, ends: (usize, usize), off: &BTreeSet<usize>, changes: &[Change]) -> f64 {
        let one = |end: usize, other: usize| {
            // Its plug off, nothing is left at it; and one piece of metal cannot be parted.
            let bare = self.ends()[end].off.is_some_and(|p| off.contains(&p));
            if bare || self.ends()[end].node == self.ends()[other].node {
                return f64::INFINITY;
            }
            let mut without = changes.to_vec();
            without.extend(self.wires_at(end));
            self.ohms(&without, other, &[end])[0]
        };
        one(ends.0, ends.1).min(one(ends.1, ends.0))
    }

    fn wires_at(&self, end: usize) -> Vec<Change> {
        let links = self.links().iter().filter(|l| l.ends.0 == end || l.ends.1 == end);
        let wires: BTreeSet<usize> = links.filter_map(|l| l.wire).collect();
        let elements = self.circuit().elements();
        let own = elements.filter(|(_, e)| e.wire.is_some_and(|w| wires.contains(&w)));
        own.map(|(id, _)| Change::Open(id)).collect()
    }

    /// Ohms from one end to each of others, controls as parked.
    fn ohms(&self, changes: &[Change], from: usize, to: &[usize]) -> Vec<f64> {
        let circuit = self.circuit();
        let setting = Setting::new(circuit, &Condition::at_rest(circuit)).with(circuit, changes);
        let mut solver: Solver<'_> = Solver::for_changes(circuit, changes);
        solver.solve(&[&setting], &[Relays::default()]);
        let lane = solver.lane(0);
        let leads = Leads::new(&lane);
        let node = |end: usize| self.ends()[end].node;
        let ohms = |end: &usize| leads.resistance(node(*end), node(from)).unwrap_or(f64::INFINITY);
        to.iter().map(ohms).collect()
    }

    /// What has to be off for a beep between two ends to be a wire's: their own plugs, and of the parts
    /// that hang on the same wires those through which an error of the drawing would beep, too. `ways` are
    /// those in which it may be wired, the likeliest first.
    pub(super) fn to_take_off(
        &self,
        ends: (usize, usize),
        ways: &[Way<'_>],
        off: &BTreeSet<usize>,
    ) -> BTreeSet<usize> {
        let own = [ends.0, ends.1].into_iter().filter_map(|e| self.ends()[e].off);
        let mut all: BTreeSet<usize> = off.iter().copied().chain(own).collect();
        let mistakable = |off: &BTreeSet<usize>| self.mistakable(ends, ways, off);
        let mut now = mistakable(&all);
        let part = |e: usize| self.ends()[e].part;
        let hangs_on = |e: &usize| {
            let with =
                |o: usize| part(*e) == part(o) || ways.iter().any(|w| w.labels[*e] == w.labels[o]);
            with(ends.0) || with(ends.1)
        };
        let others = (0..self.ends().len()).filter(hangs_on).filter_map(|e| self.ends()[e].off);
        let others: BTreeSet<usize> = others.take(MOST_PLUGS).collect();
        while now > 0 {
            let with = |more: &usize| all.iter().copied().chain([*more]).collect::<BTreeSet<_>>();
            let tried = others.difference(&all).map(|part| (mistakable(&with(part)), *part));
            match tried.min() {
                Some((left, part)) if left < now => {
                    all.insert(part);
                    now = left;
                }
                _ => break,
            }
        }
        if now > 0 {
            // Two ways round at once: everything off, and what need not be back on.
            let mut every: BTreeSet<usize> = all.union(&others).copied().collect();
            let least = mistakable(&every);
            if least < now {
                for part in others.difference(&all) {
                    every.remove(part);
                    if mistakable(&every) > least {
                        every.insert(*part);
                    }
                }
                all = every;
            }
        }
        all
    }

    /// How many errors of the drawing would beep between two ends as a wire does.
    pub(super) fn mistakable(
        &self,
        ends: (usize, usize),
        ways: &[Way<'_>],
        off: &BTreeSet<usize>,
    ) -> usize {
        self.likely_lookalikes(ends, ways, off).iter().filter(|o| **o < BUZZER_OHMS).count()
    }

    /// Whether ohms tell something here that a beep does not.
    pub(super) fn wants_ohms(
        &self,
        ends: (usize, usize),
        ways: &[Way<'_>],
        off: &BTreeSet<usize>,
    ) -> bool {
        let graded = |ohms: &f64| (WIRE_OHMS..BUZZER_OHMS).contains(ohms);
        self.likely_lookalikes(ends, ways, off).iter().any(graded)
    }

    /// What the errors that are made most would show between two ends, in ohms: a pin beside, a wire that
    /// goes nowhere, another of the ways.
    fn likely_lookalikes(
        &self,
        (a, b): (usize, usize),
        ways: &[Way<'_>],
        off: &BTreeSet<usize>,
    ) -> Vec<f64> {
        let off_now = self.taken_off(off);
        let Some((likeliest, others)) = ways.split_first() else { return Vec::new() };
        let changes = [likeliest.changes, &off_now].concat();
        let (labels, drawn) = (likeliest.labels, likeliest.drawn);
        let beside = |end: usize, other: usize| {
            // Where its net is found to go is asked, not only where it is drawn.
            let mut nets: Vec<usize> = Vec::new();
            let found = (0..labels.len()).filter(|e| labels[*e] == labels[other]);
            for e in [other].into_iter().chain(found) {
                if nets.iter().all(|n| drawn[*n] != drawn[e]) {
                    nets.push(e);
                }
            }
            let shown = nets.into_iter().flat_map(|from| {
                let apart = |m: &usize| {
                    labels[*m] != labels[end]
                        && labels[*m] != labels[other]
                        && (from == other || drawn[*m] != drawn[from])
                };
                let beside: Vec<usize> = self.plug_mates(end).filter(apart).collect();
                if beside.is_empty() { Vec::new() } else { self.ohms(&changes, from, &beside) }
            });
            shown.collect::<Vec<f64>>()
        };
        let mut all: Vec<f64> = [beside(a, b), beside(b, a)].concat();
        all.push(self.loose((a, b), off, &changes));
        for way in others.iter().filter(|w| w.labels[a] != w.labels[b]) {
            all.extend(self.ohms(&[way.changes, &off_now].concat(), a, &[b]));
        }
        all
    }
}
