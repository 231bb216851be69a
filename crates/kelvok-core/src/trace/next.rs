//! Where to put the probes next.

use super::belief::{Edit, KNOWN, NOT_THERE, Trace};
use super::entry::TraceEntry;
use super::looks::Looks;
use super::pieces::Pieces;
use crate::circuit::Instrument;
use std::collections::{BTreeMap, BTreeSet};

/// A wire that nobody found at the other end is looked for where it is likelier to be than this.
const WORTH_LOOKING: f64 = 0.02;
/// Nobody looks at the same two ends more often.
const MOST_LOOKS: usize = 3;

/// Minutes: of any buzz, of moving a probe, of pulling a plug, of going somewhere else.
const BUZZ: f64 = 0.08;
const PROBE: f64 = 0.07;
const PLUG: f64 = 0.4;
const WALK: f64 = 0.5;
/// Ends of a piece that are thought of, and pieces of a net beyond which not every pair of them is.
const OF_EACH: usize = 8;
const MANY_PIECES: usize = 40;
/// Of the candidates as many are looked at closely.
const FIRST: usize = 6;
/// What tells little with things as they are is put off.
const LATER: f64 = 0.1;
/// What a buzz between two ends that no wire is drawn between is put off by.
const NOT_DRAWN: f64 = 0.03;

/// Where to put the probes.
#[derive(Clone, Debug, PartialEq)]
pub struct TraceStep {
    /// The end that the red probe goes to, by index.
    pub red: usize,
    /// The other one; it stays where it is if it can.
    pub black: usize,
    /// What has to be off, by part, and what of it is not yet.
    pub off: BTreeSet<usize>,
    /// To be pulled first.
    pub pull: Vec<usize>,
    /// The meter's setting.
    pub instrument: Instrument,
    /// Whether it beeps, if it is as it most likely is.
    pub beeps: bool,
    /// It was looked at before, and one reading is not enough.
    pub again: bool,
    /// A guess: where a wire may go whose other end was not found.
    pub search: bool,
    /// What it takes.
    pub minutes: f64,
}

struct Candidate {
    ends: (usize, usize),
    /// How likely it is to tell something.
    gain: f64,
    search: bool,
}

impl Trace<'_> {
    /// The step that tells most a minute, of the whole harness or of one circuit; none where all is told.
    pub fn next(&self, circuit: Option<&str>) -> Option<TraceStep> {
        let candidates = self.candidates(circuit);
        let hands = Hands::new(self);
        let rank = |c: &Candidate| self.minutes(&hands, c.ends, &[]) / c.gain;
        let mut ranked: Vec<(f64, &Candidate)> = candidates.iter().map(|c| (rank(c), c)).collect();
        ranked.sort_by(|a, b| a.0.total_cmp(&b.0));
        // What must be off besides the two plugs is asked of those that come first.
        let steps = ranked.into_iter().take(FIRST).map(|(_, c)| {
            let (step, mistakable) = self.step(&hands, c);
            // What cannot be told from an error now may be when more is off.
            (step, if mistakable { c.gain * LATER } else { c.gain })
        });
        let best = steps.min_by(|a, b| {
            let each = |(step, gain): &(TraceStep, f64)| step.minutes / gain;
            each(a).total_cmp(&each(b))
        });
        best.map(|(step, _)| step)
    }

    /// The step, and whether an error of the drawing might beep all the same.
    fn step(&self, hands: &Hands, of: &Candidate) -> (TraceStep, bool) {
        let (a, b) = of.ends;
        let labels = &self.best().labels;
        let ways = self.ways();
        let off = self.harness().to_take_off(of.ends, &ways, &hands.off);
        let pull: Vec<usize> = off.difference(&hands.off).copied().collect();
        let (red, black) = if hands.probes.1 == Some(a) || hands.prefers_black(self, a, b) {
            (b, a)
        } else {
            (a, b)
        };
        // What would beep through a coil does not read like a wire.
        let ohms = self.harness().wants_ohms(of.ends, &ways, &off);
        let instrument = if ohms { Instrument::Ohmmeter } else { Instrument::Buzzer };
        let mistakable = self.harness().mistakable(of.ends, &ways, &off) > 0 && !ohms;
        let step = TraceStep {
            red,
            black,
            minutes: self.minutes(hands, of.ends, &pull),
            off,
            pull,
            instrument,
            beeps: labels[a] == labels[b],
            again: self.looked_at(a, b) > 0,
            search: of.search,
        };
        (step, mistakable)
    }

    /// What a buzz between two ends takes, with these plugs to pull besides their own.
    fn minutes(&self, hands: &Hands, (a, b): (usize, usize), pull: &[usize]) -> f64 {
        let ends = self.harness().ends();
        let circuit = self.harness().circuit();
        let places = &circuit.document().places;
        let place = |end: usize| {
            let own = circuit.part(ends[end].part).place.as_deref();
            own.and_then(|id| places.iter().position(|p| p.id == id))
        };
        let held = [hands.probes.0, hands.probes.1];
        let mut minutes = BUZZ;
        for end in [a, b] {
            if held.contains(&Some(end)) {
                continue;
            }
            minutes += PROBE;
            if let Some(at) = place(end)
                && !hands.here.contains(&at)
            {
                minutes += WALK;
                minutes += if hands.been.contains(&at) { 0.0 } else { places[at].cover_minutes };
            }
        }
        let own = [a, b].into_iter().filter_map(|e| ends[e].off);
        let plugs: BTreeSet<usize> = own.chain(pull.iter().copied()).collect();
        minutes += PLUG * plugs.difference(&hands.off).count() as f64;
        let drawn = self.harness().links().iter().any(|l| l.ends == (a, b) || l.ends == (b, a));
        minutes + if drawn { 0.0 } else { NOT_DRAWN }
    }

    /// The plugs and fuses that are off now, by part: those of the last reading.
    pub fn now_off(&self) -> BTreeSet<usize> {
        self.probed.last().map(|p| p.off.clone()).unwrap_or_default()
    }

    fn candidates(&self, circuit: Option<&str>) -> Vec<Candidate> {
        let document = self.harness().circuit().document();
        let named = circuit.and_then(|id| document.circuits.iter().find(|c| c.id == id));
        let wanted: Option<BTreeSet<usize>> = named.map(|named| {
            let links = self.links_of(named);
            let links = links.into_iter().map(|l| self.harness().links()[l].ends);
            links.flat_map(|(a, b)| [a, b]).collect()
        });
        let wants = |end: usize| wanted.as_ref().is_none_or(|w| w.contains(&end));
        let labels = &self.best().labels;
        let known = self.known_pieces();
        let mut all = Vec::new();
        // What is taken to be joined and was not shown to be. Where something else that is still in place
        // beeps, too, it is not looked at again: it would show the same.
        let mut tried: BTreeMap<(u16, u16), (usize, usize)> = BTreeMap::new();
        for probed in &self.probed {
            let (a, b) = (known[probed.ends.0], known[probed.ends.1]);
            let (looks, worth) = tried.entry((a.min(b), a.max(b))).or_insert((0, 1));
            *looks += 1;
            *worth = (*worth).max(match probed.looks {
                Looks::Silent | Looks::Open => MOST_LOOKS,
                _ if self.may_be_a_slip(probed) => 2,
                _ => 1,
            });
        }
        let swapped = |end: usize| {
            let own = |e: &Edit| matches!(e, Edit::Swap(a, b) if *a == end || *b == end);
            self.best().edits.iter().any(own)
        };
        for (a, b) in self.open_pairs(&known) {
            let pieces = (known[a].min(known[b]), known[a].max(known[b]));
            let (looks, worth) = tried.get(&pieces).copied().unwrap_or((0, 1));
            // What was found to lead out of the circuit is followed.
            let followed = self.looked_at(a, b) > 0 || swapped(a) || swapped(b);
            if looks < worth && (wants(a) && wants(b) || followed) {
                all.push(Candidate { ends: (a, b), gain: 1.0, search: false });
            }
        }
        // What was looked at and is not clear.
        for probed in &self.probed {
            let (a, b) = probed.ends;
            let clear = self.joined(a, b).abs() >= NOT_THERE;
            if !clear && labels[a] != labels[b] && self.looked_at(a, b) < MOST_LOOKS {
                all.push(Candidate { ends: (a, b), gain: 0.8, search: false });
            }
        }
        all.extend(self.other_wirings().into_iter().filter(|c| wants(c.ends.0)));
        all.extend(self.searches(&wants));
        all
    }

    /// Pairs of ends that would show two pieces of a net to hang together: every wire between them, and of each
    /// piece a few ends, of nets of many pieces those next to one of the largest.
    fn open_pairs(&self, known: &[u16]) -> BTreeSet<(usize, usize)> {
        let labels = &self.best().labels;
        let mut nets: BTreeMap<u16, BTreeMap<u16, Vec<usize>>> = BTreeMap::new();
        for (end, label) in labels.iter().enumerate() {
            nets.entry(*label).or_default().entry(known[end]).or_default().push(end);
        }
        let open = |(a, b): (usize, usize)| labels[a] == labels[b] && known[a] != known[b];
        let ordered = |(a, b): (usize, usize)| (a.min(b), a.max(b));
        let wires = self.likely_links().filter(|ends| open(*ends)).map(ordered);
        let mut pairs: BTreeSet<(usize, usize)> = wires.collect();
        let looked = self.probed.iter().map(|p| p.ends).filter(|ends| open(*ends)).map(ordered);
        pairs.extend(looked);
        for pieces in nets.values().filter(|p| p.len() > 1) {
            let mut pieces: Vec<&Vec<usize>> = pieces.values().collect();
            pieces.sort_by_key(|p| std::cmp::Reverse(p.len()));
            let from = if pieces.len() > MANY_PIECES { 1 } else { pieces.len() };
            for (index, piece) in pieces.iter().enumerate().take(from) {
                for other in &pieces[index + 1..] {
                    for a in piece.iter().take(OF_EACH) {
                        pairs.extend(other.iter().take(OF_EACH).map(|b| ordered((*a, *b))));
                    }
                }
            }
        }
        pairs
    }

    /// Pieces that are shown to hang together, by end.
    fn known_pieces(&self) -> Vec<u16> {
        let labels = &self.best().labels;
        let mut pieces = Pieces::new(labels.len());
        let links = self.likely_links();
        let probed = self.probed.iter().map(|p| p.ends);
        let pairs: BTreeSet<(usize, usize)> =
            links.chain(probed).filter(|(a, b)| labels[*a] == labels[*b]).collect();
        for (a, b) in pairs {
            if pieces.of(a) != pieces.of(b) && self.joined(a, b) >= KNOWN {
                pieces.join((a, b));
            }
        }
        pieces.labels()
    }

    /// Ends that would be joined if the machine were wired in another of the ways that are left open.
    fn other_wirings(&self) -> Vec<Candidate> {
        let best = self.best();
        let mut all: BTreeMap<(usize, usize), f64> = BTreeMap::new();
        for other in &self.hypotheses {
            let share = (best.cost - other.cost).exp();
            if other.wiring == best.wiring || share < (-KNOWN).exp() {
                continue;
            }
            for (a, b) in self.links_only_of(other) {
                let tells = best.labels[a] != best.labels[b] && other.labels[a] == other.labels[b];
                if tells && self.looked_at(a, b) < MOST_LOOKS {
                    *all.entry((a, b)).or_default() += share;
                }
            }
        }
        let candidate = |(ends, share): ((usize, usize), f64)| {
            let gain = (2.0 * share / (1.0 + share)).max(0.05);
            Candidate { ends, gain, search: false }
        };
        all.into_iter().map(candidate).collect()
    }

    /// Where the wires may go of which the other end was not found.
    fn searches(&self, wants: &impl Fn(usize) -> bool) -> Vec<Candidate> {
        let worth = |((from, to), share): &((usize, usize), f64)| {
            *share >= WORTH_LOOKING && self.looked_at(*from, *to) < 2 && wants(*from)
        };
        let all = self.lost_wires().into_iter().filter(worth);
        all.map(|(ends, share)| Candidate { ends, gain: share.min(1.0), search: true }).collect()
    }
}

/// What the mechanic's hands are at.
struct Hands {
    probes: (Option<usize>, Option<usize>),
    off: BTreeSet<usize>,
    here: BTreeSet<usize>,
    been: BTreeSet<usize>,
}

impl Hands {
    fn new(trace: &Trace<'_>) -> Self {
        let harness = trace.harness();
        let circuit = harness.circuit();
        let places = &circuit.document().places;
        let place = |end: usize| {
            let own = circuit.part(harness.ends()[end].part).place.as_deref();
            own.and_then(|id| places.iter().position(|p| p.id == id))
        };
        let last = trace.probed.last();
        let both = |ends: (usize, usize)| [ends.0, ends.1].into_iter().filter_map(place);
        Self {
            probes: (last.map(|p| p.ends.0), last.map(|p| p.ends.1)),
            off: trace.now_off(),
            here: last.into_iter().flat_map(|p| both(p.ends)).collect(),
            been: trace.probed.iter().flat_map(|p| both(p.ends)).collect(),
        }
    }

    /// Whether the black probe sooner goes to `a`: red stays at `b`, or black goes to the metal.
    fn prefers_black(&self, trace: &Trace<'_>, a: usize, b: usize) -> bool {
        self.probes.0 == Some(b) || self.probes.1 != Some(b) && trace.harness().is_body(a)
    }
}

impl TraceStep {
    /// The entry for it, with what the meter showed.
    pub fn entry(&self, trace: &Trace<'_>, reading: crate::circuit::Reading) -> TraceEntry {
        let harness = trace.harness();
        let at = |end: usize| harness.ends()[end].terminals[0].clone();
        let part = |p: &usize| harness.circuit().part(*p).id.clone();
        TraceEntry::Probe {
            red: at(self.red),
            black: at(self.black),
            instrument: self.instrument,
            reading,
            off: self.off.iter().map(part).collect(),
        }
    }
}
