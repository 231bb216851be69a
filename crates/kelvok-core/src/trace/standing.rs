//! How far a harness is traced, and where it is not as drawn.

use super::belief::{Edit, KNOWN, NOT_THERE, Trace};
use super::looks::Looks;
use super::pieces::Pieces;
use crate::circuit::{ElementId, NodeId};
use crate::interlock::{Ladder, Track};
use crate::machine::NamedCircuit;
use std::collections::BTreeSet;

/// What the readings say of something drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LinkState {
    /// Nobody has been there.
    Open,
    /// It is there.
    Traced,
    /// It reads as it should, and something else that is still in place would read like that, too.
    Agrees,
    /// It looks as if it were not there; measure again.
    Doubted,
    /// It is not there.
    NotThere,
}

/// Something that is not as drawn.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum TraceFinding {
    /// The wires of two cavities are the other way round.
    Swapped(usize, usize),
    /// Two ends are joined that are drawn apart.
    Joined(usize, usize),
    /// A link is not there: its wire is broken, or goes nowhere that was looked.
    NotThere(usize),
    /// The machine is wired in one of the ways that its document leaves open: which alternative, and which
    /// of its choices; none as drawn.
    Wired(usize, Option<usize>),
}

/// How far a circuit is traced.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct CircuitTraced {
    pub id: String,
    pub name: String,
    /// Links of it, by index, and those that are not traced yet.
    pub links: Vec<usize>,
    pub left: Vec<usize>,
}

/// How far a harness is traced.
#[derive(Clone, Debug, PartialEq)]
pub struct Traced {
    /// By link of the harness.
    pub links: Vec<LinkState>,
    /// Where it is not as drawn.
    pub findings: Vec<TraceFinding>,
    /// By named circuit that leads somewhere as drawn.
    pub circuits: Vec<CircuitTraced>,
    /// As found, battery positive goes straight to ground.
    pub supply_grounded: bool,
    /// Entries, by index into the log, that nothing but a slip explains.
    pub slips: Vec<usize>,
    /// Pins whose wires may be swapped: half of it was shown, and what follows depends on the other half.
    pub half_swapped: BTreeSet<usize>,
}

impl Trace<'_> {
    /// How far it is traced.
    pub fn standing(&self) -> Traced {
        let links = self.harness().links();
        let states: Vec<LinkState> = links.iter().map(|l| self.state(l.ends)).collect();
        let (findings, half_swapped) = self.findings(&states);
        Traced {
            findings,
            half_swapped,
            circuits: self.circuits(&states),
            supply_grounded: self.supply_grounded(),
            slips: self.slips(),
            links: states,
        }
    }

    fn state(&self, (a, b): (usize, usize)) -> LinkState {
        let own = |ends: (usize, usize)| ends == (a, b) || ends == (b, a);
        let mut looked = self.probed.iter().filter(|p| own(p.ends)).peekable();
        let seen = looked.peek().is_some();
        let silent = looked.any(|p| matches!(p.looks, Looks::Silent | Looks::Open));
        match self.joined(a, b) {
            sure if sure >= KNOWN => LinkState::Traced,
            sure if sure <= -NOT_THERE => LinkState::NotThere,
            sure if sure < 0.0 || silent => LinkState::Doubted,
            _ if seen => LinkState::Agrees,
            _ => LinkState::Open,
        }
    }

    /// Whether two ends were found joined, or apart, with the probes on them.
    pub(super) fn looked_at(&self, a: usize, b: usize) -> usize {
        let both = |ends: (usize, usize)| ends == (a, b) || ends == (b, a);
        self.probed.iter().filter(|p| both(p.ends)).count()
    }

    /// What is not as drawn, and the pins of swaps that are only half shown.
    fn findings(&self, states: &[LinkState]) -> (Vec<TraceFinding>, BTreeSet<usize>) {
        let mut found = Vec::new();
        let (best, drawn) = (self.best(), self.drawn_labels());
        let links = self.harness().links();
        let (mut told, mut half) = (BTreeSet::new(), BTreeSet::new());
        for edit in &best.edits {
            let Edit::Swap(a, b) = *edit else { continue };
            // What either is drawn to be joined with is not there, and is at the other one.
            let own = |end: usize| {
                let at = move |i: &usize| links[*i].ends.0 == end || links[*i].ends.1 == end;
                (0..links.len()).filter(at)
            };
            let far = |i: usize, end: usize| match links[i].ends {
                (a, b) if a == end => b,
                (a, _) => a,
            };
            let moved = |end: usize, to: usize| {
                own(end).next().is_none()
                    || own(end).any(|i| {
                        states[i] == LinkState::NotThere && self.joined(to, far(i, end)) >= KNOWN
                    })
            };
            if moved(a, b) && moved(b, a) {
                found.push(TraceFinding::Swapped(a, b));
                told.extend([a, b]);
            } else {
                half.extend([a, b]);
            }
        }
        found.extend(self.wired());
        let as_open = self.in_wiring(best.wiring);
        let mut pieces = Pieces::new(drawn.len());
        for ends in self.likely_links().filter(|(a, b)| best.labels[*a] == best.labels[*b]) {
            pieces.join(ends);
        }
        for probed in &self.probed {
            let (a, b) = (probed.ends.0.min(probed.ends.1), probed.ends.0.max(probed.ends.1));
            let joined = matches!(probed.looks, Looks::Beep | Looks::Wire);
            let new = drawn[a] != drawn[b] && as_open[a] != as_open[b];
            let by_swap = told.contains(&a) || told.contains(&b);
            // Two ends of one net that both beep to a third are one wire more, not two.
            let known = pieces.of(a) == pieces.of(b);
            if joined && new && !by_swap && !known && self.joined(a, b) >= KNOWN {
                pieces.join((a, b));
                found.push(TraceFinding::Joined(a, b));
            }
        }
        for (index, link) in links.iter().enumerate() {
            let (a, b) = link.ends;
            let by_swap = told.contains(&a) || told.contains(&b);
            let left_open = as_open[a] != as_open[b];
            if states[index] == LinkState::NotThere && !by_swap && !left_open {
                found.push(TraceFinding::NotThere(index));
            }
        }
        (found, half)
    }

    /// What the readings settle of the ways that the document leaves open.
    fn wired(&self) -> Vec<TraceFinding> {
        let best = self.best();
        let own = self.chosen(best.wiring);
        let settled = |at: &usize| {
            let other = |w: usize| self.chosen(w).get(*at) != own.get(*at);
            let costs = (0..self.wiring_count()).filter(|w| other(*w)).map(|wiring| {
                let of = self.hypotheses.iter().filter(|h| h.wiring == wiring);
                of.map(|h| h.cost).fold(f64::INFINITY, f64::min)
            });
            costs.fold(f64::INFINITY, f64::min) - best.cost >= KNOWN
        };
        let all = (0..own.len()).filter(settled);
        all.map(|at| TraceFinding::Wired(at, own[at])).collect()
    }

    fn supply_grounded(&self) -> bool {
        let circuit = self.harness().circuit();
        let Some((_, positive)) = circuit.posts() else { return false };
        // The clamp's cavity is the harness side of the post.
        let on = |joint: &ElementId| {
            let e = circuit.element(*joint);
            e.a == positive || e.b == positive
        };
        let parts = 0..circuit.document().parts.len();
        let joints: Vec<_> = parts.flat_map(|p| circuit.joints(p)).filter(on).collect();
        let nodes: Vec<NodeId> = joints
            .iter()
            .flat_map(|j| [circuit.element(*j).a, circuit.element(*j).b])
            .chain([positive])
            .collect();
        let ends = self.harness().ends();
        let positives = (0..ends.len()).filter(|e| nodes.contains(&ends[*e].node));
        let labels = &self.best().labels;
        let body = (0..ends.len()).find(|e| ends[*e].node == NodeId::REFERENCE);
        body.is_some_and(|body| positives.into_iter().any(|p| labels[p] == labels[body]))
    }

    /// Readings that the likeliest way does not explain.
    fn slips(&self) -> Vec<usize> {
        let best = self.best();
        let odd = self.probed.iter().filter(|p| self.surprise(p, best.wiring, &best.labels) > 3.0);
        odd.map(|p| p.entry).collect()
    }

    fn circuits(&self, states: &[LinkState]) -> Vec<CircuitTraced> {
        let named = &self.harness().circuit().document().circuits;
        let traced = named.iter().map(|circuit| {
            let links: Vec<usize> = self.links_of(circuit).into_iter().collect();
            let left = links.iter().copied().filter(|l| states[*l] != LinkState::Traced).collect();
            CircuitTraced { id: circuit.id.clone(), name: circuit.name.clone(), links, left }
        });
        traced.filter(|c| !c.links.is_empty()).collect()
    }

    /// The links that a named circuit runs over, as drawn.
    pub(super) fn links_of(&self, named: &NamedCircuit) -> BTreeSet<usize> {
        let circuit = self.harness().circuit();
        let elements: BTreeSet<ElementId> = match &named.load {
            Some(_) => Track::lay_out(circuit, &named.id).map(|t| t.elements()),
            None => Ladder::lay_out(circuit, &named.id)
                .map(|l| l.rungs.into_iter().flat_map(|r| r.path.elements).collect()),
        }
        .unwrap_or_default();
        let wires: BTreeSet<usize> =
            elements.into_iter().filter_map(|e| circuit.element(e).wire).collect();
        let links = self.harness().links().iter().enumerate();
        let own = links.filter(|(_, l)| l.wire.is_some_and(|w| wires.contains(&w)));
        own.map(|(i, _)| i).collect()
    }
}
