//! What the readings say of how a harness is wired.
//!
//! A hypothesis is a way of joining the ends: one of the ways that the document leaves open, with errors of
//! the drawing on top (docs/trace.md has their chances). Its cost is minus the logarithm of its chance and of
//! the readings' under it. The cheapest are searched for from what the readings contradict; two ends are known
//! to be joined, or apart, by as much as the cheapest hypothesis that says otherwise costs more.

use super::entry::{TraceEntry, TraceError};
use super::harness::Harness;
use super::lookalikes::{Lookalike, Way};
use super::looks::{Looks, looks, shown};
use super::pieces::Pieces;
use super::wired::{Wired, doubt, wirings};
use crate::machine::Provenance;
use std::collections::{BTreeMap, BTreeSet};

/// Chance that a hand slips: half of the time the probe does not touch, else it is on the neighbor.
const SLIP: f64 = 0.02;
/// A meter that shows anything else than what is there.
const FLOOR: f64 = 1e-4;

/// Costs of errors of a drawing, in nats. The marks' are in [`doubt`].
const SWAPPED: f64 = 5.0;
const MERGED: f64 = 7.0;
/// A wire that goes elsewhere than drawn, to one of the other ends: anywhere, in the plug that it is drawn to
/// go to, or to a body.
const ELSEWHERE: f64 = 4.5;
const NEXT_DOOR: f64 = -2.5;
const TO_BODY: f64 = -1.5;
/// A wire that is drawn nowhere, of an end that is drawn without one.
const UNDRAWN: f64 = 5.5;
/// Two ends whose wires have the same color are likelier one, of different colors less likely.
const SAME_COLOR: f64 = -3.0;
const OTHER_COLOR: f64 = 1.5;
/// A wire in a cavity that was seen empty.
const SEEN_EMPTY: f64 = 8.0;

/// Hypotheses that are followed up at a time, by as many of the readings that they explain least; and how many
/// errors deep, unless two more of them explain nothing.
const BEAM: usize = 12;
const WORST_READINGS: usize = 8;
const DEEPEST: usize = 24;
const IN_VAIN: usize = 3;

/// Nats from which something is known: one in two thousand is wrong, and what follows shows most of these.
pub(super) const KNOWN: f64 = 7.5;

/// Nats from which a wire is known not to be where it is drawn: it was silent twice.
pub(super) const NOT_THERE: f64 = 4.0;

/// The probes on two ends.
#[derive(Clone, Debug)]
pub(super) struct Probed {
    pub ends: (usize, usize),
    pub looks: Looks,
    pub off: BTreeSet<usize>,
    /// By way that the document leaves open.
    pub like: Vec<Lookalike>,
    /// By index into the log.
    pub entry: usize,
}

/// An error of the drawing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Edit {
    /// A link is not there.
    Cut(usize),
    /// The wires of two cavities change places.
    Swap(usize, usize),
    /// A link goes from one of its ends to somewhere else instead: which, from where, to where.
    Reroute(usize, usize, usize),
    /// An end is joined with another's net instead of its own.
    Move(usize, usize),
    /// An end is joined with nothing.
    Alone(usize),
    /// Two nets are one.
    Merge(usize, usize),
}

/// A way in which the ends are joined.
#[derive(Clone, Debug)]
pub(super) struct Hypothesis {
    pub wiring: usize,
    pub edits: Vec<Edit>,
    /// By end the net that it is of.
    pub labels: Vec<u16>,
    /// Nats, with the readings.
    pub cost: f64,
}

/// A harness that is being traced.
pub struct Trace<'c> {
    harness: Harness<'c>,
    wirings: Vec<Wired>,
    log: Vec<TraceEntry>,
    pub(super) probed: Vec<Probed>,
    colors: BTreeMap<usize, String>,
    empty: BTreeSet<usize>,
    /// The cheapest first.
    pub(super) hypotheses: Vec<Hypothesis>,
}

impl<'c> Trace<'c> {
    /// A harness of which nothing was found yet.
    pub fn new(harness: Harness<'c>) -> Self {
        let mut trace = Self {
            wirings: wirings(&harness),
            harness,
            log: Vec::new(),
            probed: Vec::new(),
            colors: BTreeMap::new(),
            empty: BTreeSet::new(),
            hypotheses: Vec::new(),
        };
        for wiring in 0..trace.wirings.len() {
            trace.wirings[wiring].labels = trace.labels(wiring, &[]);
        }
        trace.think();
        trace
    }

    /// A harness with what was found of it, in order.
    ///
    /// # Errors
    /// The first entry that is none of this machine, by index.
    pub fn with(
        harness: Harness<'c>,
        log: impl IntoIterator<Item = TraceEntry>,
    ) -> Result<Self, (usize, TraceError)> {
        let mut trace = Self::new(harness);
        for (index, entry) in log.into_iter().enumerate() {
            trace.take(entry).map_err(|e| (index, e))?;
        }
        trace.think();
        Ok(trace)
    }

    /// The harness.
    pub fn harness(&self) -> &Harness<'c> {
        &self.harness
    }

    /// What was found, in order.
    pub fn log(&self) -> &[TraceEntry] {
        &self.log
    }

    /// Takes one more thing in.
    ///
    /// # Errors
    /// It is none of this machine; nothing is changed.
    pub fn found(&mut self, entry: TraceEntry) -> Result<(), TraceError> {
        self.take(entry)?;
        self.think();
        Ok(())
    }

    /// Whether an entry is one of this machine.
    ///
    /// # Errors
    /// Says why it is none.
    pub fn check(&self, entry: &TraceEntry) -> Result<(), TraceError> {
        let end = |at: &String| self.harness.end(at).ok_or_else(|| TraceError::NoEnd(at.clone()));
        match entry {
            TraceEntry::Probe { red, black, instrument, reading, off } => {
                if end(red)? == end(black)? {
                    return Err(TraceError::SameEnd);
                }
                looks(*instrument, *reading)?;
                off.iter().try_for_each(|part| self.part_off(part).map(|_| ()))
            }
            TraceEntry::Color { at, color } => {
                end(at)?;
                let said = color.trim();
                let fits = !said.is_empty() && said.chars().count() <= 30;
                let plain = !said.chars().any(char::is_control);
                if fits && plain { Ok(()) } else { Err(TraceError::Color) }
            }
            TraceEntry::Empty { at } => end(at).map(|_| ()),
        }
    }

    fn part_off(&self, id: &str) -> Result<usize, TraceError> {
        let part = self.harness.circuit().part_named(id);
        let comes_off = |p: &usize| self.harness.ends().iter().any(|e| e.off == Some(*p));
        part.filter(comes_off).ok_or_else(|| TraceError::NotOff(id.to_owned()))
    }

    fn take(&mut self, entry: TraceEntry) -> Result<(), TraceError> {
        self.check(&entry)?;
        let end = |at: &str| self.harness.end(at);
        match &entry {
            TraceEntry::Probe { red, black, instrument, reading, off } => {
                let ends = end(red).zip(end(black)).ok_or(TraceError::SameEnd)?;
                let off: Result<BTreeSet<_>, _> = off.iter().map(|p| self.part_off(p)).collect();
                let (off, looks) = (off?, looks(*instrument, *reading)?);
                let alike = |w: &Wired| self.harness.lookalike(ends, &off, &w.changes);
                let like = self.wirings.iter().map(alike).collect();
                self.probed.push(Probed { ends, looks, off, like, entry: self.log.len() });
            }
            TraceEntry::Color { at, color } => {
                if let Some(end) = end(at) {
                    self.colors.insert(end, color.trim().to_lowercase());
                    self.empty.remove(&end);
                }
            }
            TraceEntry::Empty { at } => {
                if let Some(end) = end(at) {
                    self.empty.insert(end);
                }
            }
        }
        self.log.push(entry);
        Ok(())
    }

    /// The ways in which it may still be wired, the likeliest first.
    pub(super) fn ways(&self) -> Vec<Way<'_>> {
        let best = self.best();
        let mut wirings = vec![best.wiring];
        for other in self.hypotheses.iter().filter(|h| h.cost - best.cost < KNOWN) {
            if !wirings.contains(&other.wiring) {
                wirings.push(other.wiring);
            }
        }
        let way = |(at, wiring): (usize, usize)| {
            let own = &self.wirings[wiring];
            let labels = if at == 0 { &best.labels } else { &own.labels };
            Way { changes: &own.changes, labels, drawn: &own.labels }
        };
        wirings.into_iter().enumerate().map(way).collect()
    }

    /// The nets as drawn.
    pub(super) fn drawn_labels(&self) -> &[u16] {
        &self.wirings[0].labels
    }

    /// The color of a wire at an end: as found, else as drawn.
    pub fn color(&self, end: usize) -> Option<&str> {
        let found = self.colors.get(&end).map(String::as_str);
        found.or(self.harness.ends()[end].color.as_deref())
    }

    /// The color that was seen at an end.
    pub(super) fn seen_color(&self, end: usize) -> Option<&str> {
        self.colors.get(&end).map(String::as_str)
    }

    /// The nets of one of the ways that the document leaves open.
    pub(super) fn in_wiring(&self, wiring: usize) -> &[u16] {
        &self.wirings[wiring].labels
    }

    /// Whether a cavity was seen empty.
    pub fn is_empty(&self, end: usize) -> bool {
        self.empty.contains(&end)
    }

    /// Choices of the document's alternatives in a hypothesis' wiring.
    pub(super) fn chosen(&self, wiring: usize) -> &[Option<usize>] {
        &self.wirings[wiring].chosen
    }

    /// How many ways the document leaves open, as far as they are thought of.
    pub(super) fn wiring_count(&self) -> usize {
        self.wirings.len()
    }

    fn labels(&self, wiring: usize, edits: &[Edit]) -> Vec<u16> {
        let mut pieces = Pieces::new(self.harness.ends().len());
        for (index, (ends, _)) in self.wirings[wiring].links.iter().enumerate() {
            let gone = |e: &Edit| match *e {
                Edit::Cut(link) | Edit::Reroute(link, ..) => link == index,
                _ => false,
            };
            if !edits.iter().any(gone) {
                pieces.join(*ends);
            }
        }
        for edit in edits {
            if let Edit::Reroute(_, from, to) = *edit {
                pieces.join((from, to));
            }
        }
        let mut labels = pieces.labels();
        let mut fresh = labels.len() as u16;
        for edit in edits {
            match *edit {
                Edit::Cut(_) | Edit::Reroute(..) => {}
                Edit::Swap(a, b) => labels.swap(a, b),
                Edit::Move(end, to) => labels[end] = labels[to],
                Edit::Alone(end) => {
                    labels[end] = fresh;
                    fresh += 1;
                }
                Edit::Merge(a, b) => {
                    let (from, to) = (labels[a], labels[b]);
                    labels.iter_mut().filter(|l| **l == from).for_each(|l| *l = to);
                }
            }
        }
        labels
    }

    /// What an edit costs, before any reading.
    fn edit_cost(&self, wiring: usize, edit: Edit) -> f64 {
        let links = &self.wirings[wiring].links;
        let at = |end: usize| {
            let here = links.iter().filter(|((a, b), _)| *a == end || *b == end);
            here.map(|(_, doubt)| *doubt).reduce(f64::min)
        };
        let colors = |a: usize, b: usize| match (self.color(a), self.color(b)) {
            (Some(a), Some(b)) if a == b => SAME_COLOR,
            (Some(_), Some(_)) => OTHER_COLOR,
            _ => 0.0,
        };
        match edit {
            Edit::Cut(link) => links[link].1,
            // A wire that is only usual is in another cavity sooner.
            Edit::Swap(a, b) => {
                let doubted = [a, b].into_iter().filter_map(at).fold(f64::INFINITY, f64::min);
                let well_known = doubted.min(doubt(Provenance::Drawing) + 2.0);
                SWAPPED + (well_known - doubt(Provenance::Drawing)).min(2.0)
            }
            Edit::Reroute(link, from, to) => {
                let ((a, b), doubt) = links[link];
                let lost = if a == from { b } else { a };
                doubt + ELSEWHERE + self.nearness(lost, to) + colors(from, to)
            }
            Edit::Move(end, to) => match at(end) {
                Some(doubt) => doubt + ELSEWHERE + 1.0 + colors(end, to),
                None => UNDRAWN + colors(end, to),
            },
            Edit::Alone(end) => at(end).map_or(0.0, |doubt| doubt + 0.7),
            Edit::Merge(a, b) => MERGED + colors(a, b),
        }
    }

    /// How much likelier than anywhere a wire goes to an end instead of the one where it is drawn to go.
    fn nearness(&self, lost: usize, to: usize) -> f64 {
        let plug = |e: usize| self.harness.ends()[e].off;
        match plug(lost) {
            Some(own) if plug(to) == Some(own) => NEXT_DOOR,
            _ if self.harness.is_body(to) => TO_BODY,
            _ => 0.0,
        }
    }

    fn hypothesis(&self, wiring: usize, edits: Vec<Edit>) -> Hypothesis {
        let labels = self.labels(wiring, &edits);
        let edited: f64 = edits.iter().map(|e| self.edit_cost(wiring, *e)).sum();
        let mut prior = self.wirings[wiring].cost + edited;
        for end in &self.empty {
            let joined = labels.iter().filter(|l| **l == labels[*end]).count() > 1;
            prior += if joined { SEEN_EMPTY } else { 0.0 };
        }
        let cost =
            prior + self.probed.iter().map(|p| self.surprise(p, wiring, &labels)).sum::<f64>();
        Hypothesis { wiring, edits, labels, cost }
    }

    /// Minus the logarithm of a reading's chance.
    pub(super) fn surprise(&self, probed: &Probed, wiring: usize, labels: &[u16]) -> f64 {
        let (a, b) = probed.ends;
        // As the probes are meant to be, on the neighbor, and touching nothing.
        let meant = self.chance(probed, wiring, labels);
        let reds = self.harness.beside(a).iter().map(|n| (*n, b));
        let blacks = self.harness.beside(b).iter().map(|n| (a, *n));
        let (mut beside, mut count) = (0.0, 0);
        for ends in reds.chain(blacks) {
            beside += if labels[ends.0] == labels[ends.1] {
                shown(probed.looks, 0.0)
            } else {
                shown(probed.looks, f64::INFINITY)
            };
            count += 1;
        }
        let slipped = if count == 0 { meant } else { beside / f64::from(count) };
        let untouched = shown(probed.looks, f64::INFINITY);
        let chance = (1.0 - SLIP) * meant + SLIP / 2.0 * (slipped + untouched);
        -(chance + FLOOR).ln()
    }

    /// Whether a reading of two ends that are not joined would be a slip of the hand, rather than the same
    /// every time.
    pub(super) fn may_be_a_slip(&self, probed: &Probed) -> bool {
        shown(probed.looks, probed.like[self.best().wiring].loose) < 0.5
    }

    /// How likely a reading is between its two ends.
    fn chance(&self, probed: &Probed, wiring: usize, labels: &[u16]) -> f64 {
        let (a, b) = probed.ends;
        if labels[a] == labels[b] {
            return shown(probed.looks, 0.0);
        }
        // What the nets of the two, as they would then be, show to the other one.
        let (like, drawn) = (&probed.like[wiring], &self.wirings[wiring].labels);
        let of = |end: usize, other: usize, ohms: &[f64]| {
            // What is drawn joined with the other one is on its net in the circuit that was asked. A bare
            // cavity that none of its drawn net is with any more says nothing of the net that it is on.
            let own = |e: &usize| {
                labels[*e] == labels[end]
                    && drawn[*e] != drawn[other]
                    && !(self.is_bare(*e, &probed.off) && has_left(*e, labels, drawn))
            };
            (0..labels.len()).filter(own).map(|e| ohms[e]).reduce(f64::min)
        };
        let ends = [of(a, b, &like.to_black), of(b, a, &like.to_red)];
        let nets = ends.into_iter().flatten().fold(f64::INFINITY, f64::min);
        shown(probed.looks, if ends == [None, None] { like.loose } else { nets })
    }

    fn is_bare(&self, end: usize, off: &BTreeSet<usize>) -> bool {
        self.harness.ends()[end].off.is_some_and(|part| off.contains(&part))
    }

    /// Looks for the cheapest hypotheses.
    fn think(&mut self) {
        let mut known: Vec<Hypothesis> =
            (0..self.wirings.len()).map(|w| self.hypothesis(w, Vec::new())).collect();
        let mut seen: BTreeSet<(usize, Vec<Edit>)> =
            known.iter().map(|h| (h.wiring, h.edits.clone())).collect();
        let mut beam: Vec<usize> = (0..known.len()).collect();
        let cheapest = |of: &[Hypothesis]| of.iter().map(|h| h.cost).fold(f64::INFINITY, f64::min);
        let (mut best, mut in_vain) = (cheapest(&known), 0);
        for _ in 0..DEEPEST {
            let mut next = Vec::new();
            for at in beam {
                for edit in self.worth_trying(&known[at]) {
                    let (wiring, mut edits) = (known[at].wiring, known[at].edits.clone());
                    edits.push(edit);
                    // Cuts come before anything else, in whatever order they were thought of.
                    edits.sort_by_key(|e| !matches!(e, Edit::Cut(_)));
                    if seen.insert((wiring, edits.clone())) {
                        next.push(self.hypothesis(wiring, edits));
                    }
                }
            }
            next.sort_by(|a, b| a.cost.total_cmp(&b.cost));
            next.truncate(BEAM * 4);
            let first = known.len();
            let good = next.len().min(BEAM);
            known.extend(next);
            beam = (first..first + good).collect();
            let now = cheapest(&known);
            in_vain = if now < best - 0.1 { 0 } else { in_vain + 1 };
            best = best.min(now);
            if beam.is_empty() || in_vain == IN_VAIN {
                break;
            }
        }
        known.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        known.truncate(BEAM * 8);
        self.hypotheses = known;
    }

    /// Errors of the drawing that would explain what a hypothesis does not.
    fn worth_trying(&self, of: &Hypothesis) -> Vec<Edit> {
        let surprises = self.probed.iter().map(|p| (self.surprise(p, of.wiring, &of.labels), p));
        let mut odd: Vec<_> = surprises.filter(|(surprise, _)| *surprise >= 2.0).collect();
        odd.sort_by(|a, b| b.0.total_cmp(&a.0));
        odd.truncate(WORST_READINGS);
        let mut edits = BTreeSet::new();
        for (_, probed) in odd {
            let (a, b) = probed.ends;
            if of.labels[a] == of.labels[b] {
                edits.extend(self.parting(of, (a, b)));
            } else {
                edits.extend(self.joining(of, (a, b)));
            }
        }
        edits.into_iter().collect()
    }

    /// What would part two ends that are joined.
    fn parting(&self, of: &Hypothesis, (a, b): (usize, usize)) -> Vec<Edit> {
        let own = of.labels[a];
        let links = &self.wirings[of.wiring].links;
        let within = |(x, y): (usize, usize)| of.labels[x] == own || of.labels[y] == own;
        let cuts = links.iter().enumerate().filter(|(_, (ends, _))| within(*ends));
        let mut edits: Vec<Edit> = cuts.map(|(i, _)| Edit::Cut(i)).collect();
        for end in [a, b] {
            edits.push(Edit::Alone(end));
            let others = self.harness.plug_mates(end).filter(|m| of.labels[*m] != own);
            edits.extend(others.map(|m| Edit::Swap(end.min(m), end.max(m))));
        }
        edits
    }

    /// What would join two ends that are apart.
    fn joining(&self, of: &Hypothesis, (a, b): (usize, usize)) -> Vec<Edit> {
        let mut edits = vec![Edit::Move(a, b), Edit::Move(b, a), Edit::Merge(a.min(b), a.max(b))];
        for (index, (ends, _)) in self.wirings[of.wiring].links.iter().enumerate() {
            for (end, other) in [(a, b), (b, a)] {
                if ends.0 == end || ends.1 == end {
                    edits.push(Edit::Reroute(index, end, other));
                }
            }
        }
        for (end, other) in [(a, b), (b, a)] {
            let there = self.harness.plug_mates(end).filter(|m| of.labels[*m] == of.labels[other]);
            edits.extend(there.map(|m| Edit::Swap(end.min(m), end.max(m))));
        }
        edits
    }

    /// The likeliest way in which the ends are joined.
    pub(super) fn best(&self) -> &Hypothesis {
        &self.hypotheses[0]
    }

    /// By end the net that it most likely is of.
    pub fn nets(&self) -> &[u16] {
        &self.best().labels
    }

    /// By how much, in nats, it is likelier that two ends are joined than that they are not; below zero
    /// where they are apart.
    pub fn joined(&self, a: usize, b: usize) -> f64 {
        let best = self.best();
        let joined = best.labels[a] == best.labels[b];
        let otherwise = |h: &&Hypothesis| (h.labels[a] == h.labels[b]) != joined;
        let thought_of = self.hypotheses.iter().find(otherwise).map(|h| h.cost);
        let edits = if joined { self.parting(best, (a, b)) } else { self.joining(best, (a, b)) };
        let nets = [best.labels[a], best.labels[b]];
        let touched = |p: &Probed| {
            nets.contains(&best.labels[p.ends.0]) || nets.contains(&best.labels[p.ends.1])
        };
        if !self.probed.iter().any(touched) {
            // Nobody has been there: what is drawn is believed as far as the drawing is.
            let costs = edits.into_iter().map(|e| self.edit_cost(best.wiring, e));
            let others = thought_of.map(|cost| cost - best.cost);
            let margin = costs.chain(others).fold(KNOWN - 1.0, f64::min).max(0.0);
            return if joined { margin } else { -margin };
        }
        let tried = edits.into_iter().map(|edit| {
            let mut edits = best.edits.clone();
            edits.push(edit);
            edits.sort_by_key(|e| !matches!(e, Edit::Cut(_)));
            self.hypothesis(best.wiring, edits)
        });
        let tried = tried.filter(|h| otherwise(&h)).map(|h| h.cost);
        let other = thought_of.into_iter().chain(tried).fold(f64::INFINITY, f64::min);
        let margin = (other - best.cost).max(0.0);
        if joined { margin } else { -margin }
    }

    /// Where the wires may go that are not where they are drawn: two ends, and how likely they are joined.
    pub(super) fn lost_wires(&self) -> Vec<((usize, usize), f64)> {
        let best = self.best();
        let mut all = Vec::new();
        for (index, ((a, b), _)) in self.wirings[best.wiring].links.iter().enumerate() {
            let cut = Edit::Cut(index);
            let alone = [Edit::Alone(*a), Edit::Alone(*b)];
            if !best.edits.iter().any(|e| *e == cut || alone.contains(e)) {
                continue;
            }
            let rest = best.edits.iter().filter(|e| **e != cut && !alone.contains(e));
            let rest: Vec<Edit> = rest.copied().collect();
            for (from, lost) in [(*a, *b), (*b, *a)] {
                // Of a net that it goes to one end will do, the likeliest; with which pin it is swapped shows
                // at that pin only.
                let mut places: BTreeMap<(u16, Option<usize>), (usize, f64)> = BTreeMap::new();
                let rerouted =
                    (0..best.labels.len()).map(|to| (to, Edit::Reroute(index, from, to)));
                let swapped = self.harness.plug_mates(lost);
                let swapped = swapped.map(|to| (to, Edit::Swap(lost.min(to), lost.max(to))));
                for (to, edit) in rerouted.chain(swapped) {
                    if best.labels[to] == best.labels[from] {
                        continue;
                    }
                    let edits = [rest.as_slice(), &[edit]].concat();
                    let share = (best.cost - self.hypothesis(best.wiring, edits).cost).exp();
                    let swapped = matches!(edit, Edit::Swap(..)).then_some(to);
                    let known = places.entry((best.labels[to], swapped)).or_insert((to, share));
                    if share > known.1 {
                        *known = (to, share);
                    }
                }
                all.extend(places.into_values().map(|(to, share)| ((from, to), share)));
            }
        }
        all
    }

    /// Whether a link that is not there goes somewhere else, rather than nowhere while another wire that
    /// nobody drew is there.
    pub(super) fn goes_elsewhere(&self, ends: (usize, usize)) -> bool {
        let best = self.best();
        let links = &self.wirings[best.wiring].links;
        best.edits.iter().any(|edit| {
            let apart = match *edit {
                Edit::Reroute(link, from, to) if links[link].0 == ends => {
                    [Edit::Cut(link), Edit::Merge(from.min(to), from.max(to))]
                }
                Edit::Move(end, to) if end == ends.0 || end == ends.1 => {
                    [Edit::Alone(end), Edit::Merge(end.min(to), end.max(to))]
                }
                _ => return false,
            };
            let others = best.edits.iter().filter(|e| *e != edit).copied();
            let mut edits: Vec<Edit> = others.chain(apart).collect();
            edits.sort_by_key(|e| !matches!(e, Edit::Cut(_)));
            self.hypothesis(best.wiring, edits).cost - best.cost >= NOT_THERE
        })
    }

    /// Wires that only the wiring of a hypothesis has, not that of the likeliest.
    pub(super) fn links_only_of(&self, of: &Hypothesis) -> Vec<(usize, usize)> {
        let best = &self.wirings[self.best().wiring].links;
        let own = self.wirings[of.wiring].links.iter().map(|(ends, _)| *ends);
        own.filter(|ends| !best.iter().any(|(other, _)| other == ends)).collect()
    }

    /// The links that the likeliest wiring has.
    pub(super) fn likely_links(&self) -> impl Iterator<Item = (usize, usize)> {
        self.wirings[self.best().wiring].links.iter().map(|(ends, _)| *ends)
    }
}

/// Whether an end is with none of those that it is drawn with.
fn has_left(end: usize, labels: &[u16], drawn: &[u16]) -> bool {
    let mut with = (0..labels.len()).filter(|e| *e != end && drawn[*e] == drawn[end]).peekable();
    with.peek().is_some() && with.all(|e| labels[e] != labels[end])
}
