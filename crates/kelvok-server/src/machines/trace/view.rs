//! How far a harness is traced, for a screen.

use crate::http::problem::Problem;
use crate::machines::harness::{EndView, Harness as Drawing};
use kelvok_core::circuit::{Circuit, Instrument, Reading};
use kelvok_core::machine::{MachineDocument, PartKind};
use kelvok_core::trace::{Harness, LinkState, Trace, TraceEntry, TraceFinding, TraceStep, Traced};
use kelvok_store::LogEntry;
use serde::Serialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;
use uuid::Uuid;

/// How far a harness is traced.
#[derive(Serialize, ToSchema)]
pub struct HarnessTraceView {
    pub make: String,
    pub model: String,
    pub revision: i32,
    /// Where to put the probes next; none where nothing is left to measure.
    pub step: Option<TraceStepView>,
    /// Every wire, and every joint of terminals that are one piece of metal.
    pub links: Vec<TraceLinkView>,
    pub circuits: Vec<CircuitTracedView>,
    pub findings: Vec<TraceFindingView>,
    /// As found, battery positive would go straight to ground.
    pub supply_grounded: bool,
    /// What was found, the last first, struck entries too.
    pub entries: Vec<TraceEntryView>,
    /// Entries that are of no wire of the machine as it is drawn now.
    pub set_aside: usize,
    /// Every end that a probe reaches, to choose from.
    pub ends: Vec<TraceEnd>,
    /// Plugs and fuses that are off.
    pub off: Vec<TakenOffView>,
    /// Something is to be written into the drawing.
    pub to_keep: bool,
    /// It has a battery, whose clamp comes off first, ...
    pub battery: bool,
    /// ... and a key, which comes out.
    pub key: bool,
}

/// Somewhere that wires end.
#[derive(Clone, Serialize, ToSchema)]
pub struct TraceEnd {
    /// `part.terminal`.
    pub terminal: String,
    #[serde(flatten)]
    pub end: EndView,
    /// Of the wire here, where it is the only one.
    pub color: Option<String>,
    /// The bare metal of a body.
    pub metal: bool,
    /// What has to come off before a probe gets at it, or reads right there.
    pub comes_off: Option<TakenOffView>,
    /// Ends of one number are joined, as far as is known.
    pub net: u16,
}

/// A plug or a fuse.
#[derive(Clone, Serialize, ToSchema)]
pub struct TakenOffView {
    pub part: String,
    pub name: String,
    pub place: Option<String>,
    pub cover: Option<String>,
    pub fuse: bool,
}

#[derive(Serialize, ToSchema)]
pub struct TraceStepView {
    pub red: TraceEnd,
    pub black: TraceEnd,
    pub instrument: Instrument,
    /// To be taken off first.
    pub pull: Vec<TakenOffView>,
    /// What is off then, by part.
    pub off: Vec<String>,
    /// A beep is what the drawing says.
    pub beeps: bool,
    /// It was measured before, and one reading is not enough.
    pub again: bool,
    /// A guess where a wire goes that was not found.
    pub search: bool,
    /// What to mind at the places where its hands are.
    pub cautions: Vec<String>,
    pub minutes: f64,
}

#[derive(Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LinkStateCode {
    Open,
    Traced,
    Agrees,
    Doubted,
    NotThere,
}

impl From<LinkState> for LinkStateCode {
    fn from(state: LinkState) -> Self {
        match state {
            LinkState::Open => Self::Open,
            LinkState::Traced => Self::Traced,
            LinkState::Agrees => Self::Agrees,
            LinkState::Doubted => Self::Doubted,
            LinkState::NotThere => Self::NotThere,
        }
    }
}

#[derive(Serialize, ToSchema)]
pub struct TraceLinkView {
    pub wire: Option<String>,
    pub color: Option<String>,
    pub from: TraceEnd,
    pub to: TraceEnd,
    pub state: LinkStateCode,
    /// Where the drawing has it from.
    pub source: String,
}

#[derive(Serialize, ToSchema)]
pub struct CircuitTracedView {
    pub id: String,
    pub name: String,
    /// Wires of it, and those that are not traced yet.
    pub wires: usize,
    pub left: usize,
}

/// Something that is not as drawn.
#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum TraceFindingView {
    /// The wires of two cavities are the other way round.
    Swapped { ends: Vec<TraceEnd> },
    /// Two ends are joined that are drawn apart.
    Joined { ends: Vec<TraceEnd> },
    /// No beep where a wire is drawn: it is broken, or goes nowhere that was looked.
    NotThere { ends: Vec<TraceEnd> },
    /// It is wired in one of the ways that were left open.
    Wired { about: String, way: String },
}

#[derive(Serialize, ToSchema)]
pub struct TraceEntryView {
    pub id: Uuid,
    pub by: String,
    pub what: TracedWhat,
    /// Nothing but a slip explains it.
    pub odd: bool,
    pub voided: bool,
}

#[derive(Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum TracedWhat {
    Probe { red: EndView, black: EndView, reading: Reading },
    Color { at: EndView, color: String },
    Empty { at: EndView },
}

/// The log as far as it is of this machine: those entries stand, in order, with their places in the log.
pub struct Standing<'c> {
    pub trace: Trace<'c>,
    /// By entry of the trace its place in the log.
    taken: Vec<usize>,
    set_aside: usize,
}

impl<'c> Standing<'c> {
    /// What stands of a log. An entry that is of no wire of the machine any more is set aside.
    pub fn new(circuit: &'c Circuit, log: &[LogEntry<TraceEntry>]) -> Result<Self, Problem> {
        let empty = Trace::new(Harness::new(circuit));
        let stands = log.iter().enumerate().filter(|(_, e)| e.voided.is_none());
        let (mut taken, mut entries, mut set_aside) = (Vec::new(), Vec::new(), 0);
        for (index, entry) in stands {
            match empty.check(&entry.body) {
                Ok(()) => {
                    taken.push(index);
                    entries.push(entry.body.clone());
                }
                Err(_) => set_aside += 1,
            }
        }
        let trace = Trace::with(Harness::new(circuit), entries).map_err(|_| Problem::internal())?;
        Ok(Self { trace, taken, set_aside })
    }

    pub fn view(
        &self,
        revision: i32,
        log: &[LogEntry<TraceEntry>],
        circuit: Option<&str>,
    ) -> HarnessTraceView {
        let names = Names { trace: &self.trace };
        let harness = self.trace.harness();
        let standing = self.trace.standing();
        let document = harness.circuit().document();
        let odd: BTreeSet<usize> = standing.slips.iter().map(|e| self.taken[*e]).collect();
        let links =
            harness.links().iter().zip(&standing.links).map(|(link, state)| TraceLinkView {
                wire: link.wire.map(|w| document.wires[w].id.clone()),
                color: link.wire.and_then(|w| document.wires[w].color.clone()),
                from: names.end(link.ends.0),
                to: names.end(link.ends.1),
                state: (*state).into(),
                source: link.source.plain().to_owned(),
            });
        let off = self.trace.now_off();
        HarnessTraceView {
            make: document.identity.make.clone(),
            model: document.identity.model.clone(),
            revision,
            step: self.trace.next(circuit).map(|step| TraceStepView {
                red: names.end(step.red),
                black: names.end(step.black),
                instrument: step.instrument,
                pull: step.pull.iter().map(|p| names.off(*p)).collect(),
                off: step.off.iter().map(|p| names.part(*p)).collect(),
                beeps: step.beeps,
                again: step.again,
                search: step.search,
                cautions: names.cautions(&step),
                minutes: step.minutes,
            }),
            circuits: standing
                .circuits
                .iter()
                .map(|c| CircuitTracedView {
                    id: c.id.clone(),
                    name: c.name.clone(),
                    wires: c.links.len(),
                    left: c.left.len(),
                })
                .collect(),
            findings: standing.findings.iter().map(|f| names.finding(f)).collect(),
            supply_grounded: standing.supply_grounded,
            entries: log
                .iter()
                .enumerate()
                .rev()
                .map(|(index, entry)| names.entry(entry, odd.contains(&index)))
                .collect(),
            set_aside: self.set_aside,
            ends: (0..harness.ends().len()).map(|e| names.end(e)).collect(),
            off: off.iter().map(|p| names.off(*p)).collect(),
            to_keep: to_keep(&self.trace, &standing),
            battery: harness.circuit().posts().is_some(),
            key: document.parts.iter().any(|p| p.kind == PartKind::KeySwitch),
            links: links.collect(),
        }
    }
}

/// Whether the drawing would be another one afterwards.
fn to_keep(trace: &Trace<'_>, standing: &Traced) -> bool {
    let value = |document: &MachineDocument| serde_json::to_value(document).ok();
    value(&trace.written(standing)) != value(trace.harness().circuit().document())
}

struct Names<'a, 'c> {
    trace: &'a Trace<'c>,
}

impl Names<'_, '_> {
    fn drawing(&self) -> Drawing<'_> {
        Drawing { document: self.trace.harness().circuit().document() }
    }

    fn end(&self, end: usize) -> TraceEnd {
        let harness = self.trace.harness();
        let own = &harness.ends()[end];
        TraceEnd {
            terminal: own.terminals[0].clone(),
            end: self.drawing().end(&own.terminals[0]),
            color: self.trace.color(end).map(str::to_owned),
            metal: harness.is_body(end),
            comes_off: own.off.map(|p| self.off(p)),
            net: self.trace.nets()[end],
        }
    }

    fn part(&self, part: usize) -> String {
        self.trace.harness().circuit().part(part).id.clone()
    }

    fn off(&self, part: usize) -> TakenOffView {
        let harness = self.trace.harness();
        let own = harness.circuit().part(part);
        let at = harness.ends().iter().find(|e| e.off == Some(part));
        let behind = at.map(|e| harness.circuit().part(e.part));
        let drawing = self.drawing();
        let place = behind.and_then(|p| drawing.place(p));
        TakenOffView {
            part: own.id.clone(),
            name: own.name.clone(),
            place: place.map(|p| p.name.clone()),
            cover: place.and_then(|p| p.cover.clone()),
            fuse: own.mates.is_empty(),
        }
    }

    fn cautions(&self, step: &TraceStep) -> Vec<String> {
        let harness = self.trace.harness();
        let circuit = harness.circuit();
        let drawing = self.drawing();
        let behind = |off: &usize| {
            let own = harness.ends().iter().find(|e| e.off == Some(*off));
            own.map(|e| e.part)
        };
        let probes = [step.red, step.black].map(|e| harness.ends()[e].part);
        let mut said: Vec<String> = Vec::new();
        for part in probes.into_iter().chain(step.pull.iter().filter_map(behind)) {
            let place = drawing.place(circuit.part(part));
            let caution = place.and_then(|p| p.caution.clone());
            said.extend(caution.filter(|c| !said.contains(c)));
        }
        said
    }

    fn finding(&self, finding: &TraceFinding) -> TraceFindingView {
        let both = |a: usize, b: usize| vec![self.end(a), self.end(b)];
        match finding {
            TraceFinding::Swapped(a, b) => TraceFindingView::Swapped { ends: both(*a, *b) },
            TraceFinding::Joined(a, b) => TraceFindingView::Joined { ends: both(*a, *b) },
            TraceFinding::NotThere(link) => {
                let (a, b) = self.trace.harness().links()[*link].ends;
                TraceFindingView::NotThere { ends: both(a, b) }
            }
            TraceFinding::Wired(at, choice) => {
                let document = self.trace.harness().circuit().document();
                let own = &document.alternatives[*at];
                let way = choice.map_or(&own.drawn, |c| &own.choices[c].name);
                TraceFindingView::Wired { about: own.about.clone(), way: way.clone() }
            }
        }
    }

    fn entry(&self, entry: &LogEntry<TraceEntry>, odd: bool) -> TraceEntryView {
        let end = |at: &String| self.drawing().end(at);
        TraceEntryView {
            id: entry.id,
            by: entry.recorded_by.clone(),
            odd,
            voided: entry.voided.is_some(),
            what: match &entry.body {
                TraceEntry::Probe { red, black, reading, .. } => {
                    TracedWhat::Probe { red: end(red), black: end(black), reading: *reading }
                }
                TraceEntry::Color { at, color } => {
                    TracedWhat::Color { at: end(at), color: color.clone() }
                }
                TraceEntry::Empty { at } => TracedWhat::Empty { at: end(at) },
            },
        }
    }
}
