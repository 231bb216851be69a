//! A switch on the bench with everything that was written down of it, and what follows.

use super::complete::{Expected, next_cell};
use super::findings::{Finding, FindingKind, dead_spot, findings};
use super::leads::Leads;
use super::linkage::{LinkageVerdict, linkage_verdict};
use super::log::{BenchEntry, Way, WorkedBy};
use super::operations::{Operated, operated_pairs};
use super::subject::Subject;
use super::travel::{Stroke, Travel, travel};
use crate::bench::found::{Cell, FoundTable, Seen};
use crate::bench::identify::{Assignment, Identity, assignments, identify, next_probe};
use crate::bench::joined::Joined;
use crate::bench::profile::Profile;
use crate::circuit::Reading;
use serde::Serialize;

/// Assignments of each profile that are listed.
const LISTED: usize = 1000;

/// A switch with its log, in the terms of its terminals and positions.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Bench {
    pub subject: Subject,
    pub profile: Option<Profile>,
    /// Worked by hand.
    pub found: FoundTable,
    /// Worked by the machine.
    pub on_machine: FoundTable,
    pub leads: Option<Leads>,
    /// By pair, the points of slow strokes.
    strokes: Vec<((usize, usize), Vec<Stroke>)>,
    /// The position that it stands in.
    pub at: usize,
    /// Probes taken by hand.
    pub probes: usize,
}

/// What to do next.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Next {
    /// Zero the leads, and look at what the meter shows over range.
    Leads,
    /// Clip to this pair in this position. `made`: whether it should be joined, or the chance of it.
    Probe {
        cell: Cell,
        made: f64,
        identifies: bool,
    },
    /// Hold it in a position that springs back, for the so-manieth time.
    Hold {
        operated: Operated,
    },
    /// Let it go, with the probes where they are.
    LetGo {
        operated: Operated,
    },
    Finished,
}

/// What is said of a switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SwitchVerdict {
    /// Nothing is wrong so far, and not everything was tried.
    Unfinished,
    /// Every cell is as it should be, and what springs back was operated without a miss.
    Sound,
    /// Something is wrong with it.
    Bad,
    /// Nothing says what it should do: its kind is not known.
    KindUnknown,
}

impl Bench {
    /// A switch with the entries of its log that stand, in order. What names a terminal or position
    /// that the switch does not have is left out.
    pub fn of<'a>(
        subject: Subject,
        entries: impl IntoIterator<Item = &'a BenchEntry>,
    ) -> Option<Self> {
        let ids: Vec<String> = subject.positions.iter().map(|p| p.id.clone()).collect();
        let found = FoundTable::new(subject.terminals.clone(), ids)?;
        let profile = subject.profile.clone().and_then(|p| Profile::of(p).ok());
        let on_machine = found.clone();
        let mut bench = Self {
            subject,
            profile,
            found,
            on_machine,
            leads: None,
            strokes: Vec::new(),
            at: 0,
            probes: 0,
        };
        for entry in entries {
            bench.take(entry);
        }
        Some(bench)
    }

    fn take(&mut self, entry: &BenchEntry) {
        match entry {
            BenchEntry::Leads { touching, apart } => {
                self.leads = Leads::of(touching, apart).ok().or(self.leads.take());
            }
            BenchEntry::Probe { position, from, to, reading, sprung_from, worked_by, .. } => {
                let Some(cell) = self.cell(position, from, to) else { return };
                let Some(seen) = self.seen(*reading) else { return };
                match worked_by {
                    WorkedBy::Machine => self.on_machine.add(cell, seen),
                    WorkedBy::Hand => {
                        let from = sprung_from.as_ref().and_then(|from| self.position(from));
                        match from {
                            Some(from) => self.found.add_sprung(from, cell, seen),
                            None => self.found.add(cell, seen),
                        }
                        self.probes += 1;
                        self.at = cell.position;
                    }
                }
            }
            BenchEntry::Stroke { from, to, way, travel, made } => {
                let Some(pair) = self.pair(from, to) else { return };
                let stroke = Stroke { way: *way, travel: *travel, made: *made };
                match self.strokes.iter_mut().find(|(p, _)| *p == pair) {
                    Some((_, all)) => all.push(stroke),
                    None => self.strokes.push((pair, vec![stroke])),
                }
            }
            BenchEntry::WireMoved { .. } | BenchEntry::WireChecked { .. } => {}
        }
    }

    fn seen(&self, reading: Reading) -> Option<Seen> {
        let leads = self.leads.as_ref().map_or(0.0, |l| l.ohms);
        Seen::of(match reading {
            Reading::Ohms(Some(ohms)) => Reading::Ohms(Some((ohms - leads).max(0.0))),
            other => other,
        })
    }

    fn pair(&self, from: &str, to: &str) -> Option<(usize, usize)> {
        let at = |name: &str| self.subject.terminals.iter().position(|t| t == name);
        let (one, other) = (at(from)?, at(to)?);
        (one != other).then_some((one.min(other), one.max(other)))
    }

    /// The cell of these names; `None` where the switch has no such terminal or position, or both
    /// terminals are one.
    pub fn cell(&self, position: &str, from: &str, to: &str) -> Option<Cell> {
        let (one, other) = self.pair(from, to)?;
        Some(Cell::new(self.position(position)?, one, other))
    }

    fn position(&self, id: &str) -> Option<usize> {
        self.subject.positions.iter().position(|p| p.id == id)
    }

    /// Which of its profile's each terminal is taken for: what is said of it; or, where nothing is
    /// said, the first of those that fit.
    pub fn taken_for(&self) -> Option<Assignment> {
        self.subject.said().or_else(|| {
            let fits = assignments(self.profile.as_ref()?, &self.found, 1);
            fits.first.into_iter().next()
        })
    }

    /// The profiles among these that fit what was found.
    pub fn identities(&self, library: &[Profile]) -> Vec<Identity> {
        identify(library, &self.found, LISTED)
    }

    /// What is wrong, against the kind that it should be.
    pub fn findings(&self) -> Vec<Finding> {
        let (Some(profile), Some(terminals)) = (&self.profile, self.taken_for()) else {
            return Vec::new();
        };
        let expected = Expected { profile, terminals: &terminals };
        let mut all = findings(expected, &self.found);
        let end = self.found.positions().len() - 1;
        for (one, other) in self.swept() {
            let ways = [Way::In, Way::Out].into_iter();
            let dead = ways.filter_map(|way| self.travel((one, other), way)).flat_map(|t| t.dead);
            let widest = dead.max_by(|a, b| (a.to - a.from).total_cmp(&(b.to - b.from)));
            if let Some(dead) = widest {
                all.push(dead_spot(expected, &self.found, Cell::new(end, one, other), dead));
            }
        }
        all
    }

    /// What springs back, and how often it was operated.
    pub fn operated(&self) -> Vec<Operated> {
        match (&self.profile, self.taken_for()) {
            (Some(profile), Some(terminals)) => {
                let expected = Expected { profile, terminals: &terminals };
                let (kind, positions) = (self.subject.kind, &self.subject.positions);
                operated_pairs(kind, positions, expected, &self.found)
            }
            _ => Vec::new(),
        }
    }

    /// By position, the probes that a complete table takes at least, where its classes are as found
    /// so far, or as expected.
    pub fn certificate(&self, position: usize) -> usize {
        let terminals = self.found.terminals().len();
        let joined = self.found.joined(position).0;
        let expected = self.profile.as_ref().zip(self.taken_for());
        let at = self.found.positions().get(position);
        let classes = match expected.and_then(|(p, t)| Some((p, t, p.position(at?)?))) {
            Some((profile, _, at)) if !joined.is_complete() => {
                let mut sets = profile.joined(at).to_vec();
                sets.sort_unstable();
                sets.dedup();
                sets.len()
            }
            _ => joined.classes().len(),
        };
        Joined::certificate(terminals, classes)
    }

    /// Whether every pair in every position is known.
    pub fn is_complete(&self) -> bool {
        (0..self.found.positions().len()).all(|p| self.found.joined(p).0.is_complete())
    }

    /// What to do next: the leads first; the pair that tells most of what kind it is, where that is
    /// not known; the rest of the table in the fewest probes; what springs back, again and again.
    ///
    /// # Arguments
    /// `library` is what it may be, where nothing is said.
    pub fn next(&self, library: &[Profile]) -> Next {
        match self.leads.is_none() && self.probes == 0 {
            true => Next::Leads,
            false => self.next_at_switch(library),
        }
    }

    /// The same, the leads left as they are.
    pub fn next_at_switch(&self, library: &[Profile]) -> Next {
        let own = self.profile.as_ref().zip(self.taken_for());
        if self.subject.said().is_none() {
            let among = self.profile.as_ref().map_or(library, std::slice::from_ref);
            let (at, moves) = (self.at, self.subject.move_probes);
            if let Some(probe) = next_probe(among, &self.found, at, moves) {
                return Next::Probe { cell: probe.cell, made: probe.made, identifies: true };
            }
        }
        let likeliest = match &own {
            Some(_) => None,
            None => self.identities(library).into_iter().next(),
        };
        let expected = match (&own, &likeliest) {
            (Some((profile, terminals)), _) => Some(Expected { profile, terminals }),
            (None, Some(identity)) => identity.fits.first.first().map(|terminals| {
                let profile = &library[identity.profile];
                Expected { profile, terminals }
            }),
            (None, None) => None,
        };
        if let Some(cell) = next_cell(expected, &self.found, self.at) {
            let made = expected.and_then(|e| e.made(&self.found, cell));
            let made = made.map_or(0.5, |made| if made { 1.0 } else { 0.0 });
            return Next::Probe { cell, made, identifies: false };
        }
        let wanted = self.subject.operations as usize;
        let short = self.operated().into_iter().find(|o| o.times() < wanted);
        match short {
            // Let go what is held; a cell that was probed while the table was made counts as held,
            // if it stands there still.
            Some(operated)
                if operated.held_times > operated.let_go_times
                    && self.at == operated.held.position =>
            {
                Next::LetGo { operated }
            }
            Some(operated) => Next::Hold { operated },
            None => Next::Finished,
        }
    }

    /// What is to be said of the switch itself.
    pub fn verdict(&self) -> SwitchVerdict {
        if self.profile.is_none() {
            return SwitchVerdict::KindUnknown;
        }
        if !self.findings().is_empty() || self.taken_for().is_none() {
            return SwitchVerdict::Bad;
        }
        let wanted = self.subject.operations as usize;
        let operated = self.operated().iter().all(|o| o.times() >= wanted);
        match self.is_complete() && operated {
            true => SwitchVerdict::Sound,
            false => SwitchVerdict::Unfinished,
        }
    }

    /// Whether all that is wrong is along the stroke, and nothing at either end of it.
    pub fn is_bad_along_only(&self) -> bool {
        let findings = self.findings();
        let along = |f: &Finding| matches!(f.kind, FindingKind::DeadSpot { .. });
        !findings.is_empty() && findings.iter().all(along)
    }

    /// What is said of the linkage, by what was found with the machine working the switch.
    pub fn linkage(&self) -> LinkageVerdict {
        linkage_verdict(&self.found, &self.on_machine)
    }

    /// The pairs that a slow stroke was taken of, in order.
    pub fn swept(&self) -> impl Iterator<Item = (usize, usize)> {
        self.strokes.iter().map(|(pair, _)| *pair)
    }

    /// The points of a pair's strokes.
    pub fn strokes(&self, pair: (usize, usize)) -> &[Stroke] {
        self.strokes.iter().find(|(p, _)| *p == pair).map_or(&[], |(_, all)| all)
    }

    /// Where along its stroke a pair makes and breaks, one way; `None` where nobody looked.
    pub fn travel(&self, pair: (usize, usize), way: Way) -> Option<Travel> {
        travel(self.strokes(pair), way)
    }
}
