//! What charges a machine's battery, as its drawing has it, and where it is read.

use crate::circuit::{
    Change, Circuit, Condition, ElementId, ElementKind, Engine, Instrument, NodeId, Relays,
    operating_point,
};
use crate::drops::carrying;
use crate::interlock::{EngineDoes, Judge, Track, beside_while_it_runs};
use crate::machine::{NamedCircuit, PartKind};
use serde::{Deserialize, Serialize};

/// A stator with its regulator or charge diode, or a generator, and the way to the battery and back.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct ChargingSystem {
    /// The named circuit that it is.
    pub circuit: String,
    /// The stator's winding and part; a generator has none.
    pub winding: Option<ElementId>,
    pub stator: Option<usize>,
    /// The part that gives direct volts, and the source inside it.
    pub regulator: usize,
    pub source: ElementId,
    /// Volts that it holds, or that a charge diode comes to when nothing is drawn, and the ohms behind them.
    pub volts: f64,
    pub ohms: f64,
    /// It holds its volts. A charge diode does not: it is judged by its amperes.
    pub regulated: bool,
    /// One lead of the winding is grounded as it is made.
    pub one_lead: bool,
    /// Alternating volts of the stator at full speed.
    pub alternating: f64,
    /// Amperes that it is made for; none where the drawing does not say.
    pub rated: Option<f64>,
    /// From the stator to the regulator, from there to battery +, and from battery − back.
    pub leads: Vec<ElementId>,
    pub feed: Vec<ElementId>,
    /// So many of the feed, from the regulator on, carry nothing else.
    pub alone: usize,
    pub back: Vec<ElementId>,
    /// Where each thing is read, in the order in which a mechanic would.
    pub sites: Vec<ChargeSite>,
}

/// What is read of a charging system.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, strum::VariantArray)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ChargeKind {
    /// Volts at the posts, engine standing, everything off.
    Rest,
    /// The same at full speed.
    Full,
    /// The same at idle.
    Idle,
    /// Amperes from the regulator, at full speed.
    Amps,
    /// Alternating volts at the posts, at full speed.
    Ripple,
    /// From the regulator's output to battery +, at full speed.
    Feed,
    /// From battery − to the regulator's case, at full speed.
    Ground,
    /// Alternating volts of the stator, its plug off, at full speed.
    Stator,
    /// Ohms from its winding to the engine, plug off.
    Frame,
    /// Ohms of its winding, plug off.
    Winding,
}

impl ChargeKind {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// What it is called.
    pub fn words(self) -> &'static str {
        match self {
            Self::Rest => "Battery, engine off",
            Self::Full => "Battery at full speed",
            Self::Idle => "Battery at idle",
            Self::Amps => "Charging amps",
            Self::Ripple => "Ripple",
            Self::Feed => "Drop to battery +",
            Self::Ground => "Drop from battery −",
            Self::Stator => "Stator AC volts",
            Self::Frame => "Stator to engine",
            Self::Winding => "Stator winding",
        }
    }

    /// What to mind besides what goes for any reading with the controls so.
    pub fn caution(self) -> &'static str {
        match self {
            Self::Rest => "Everything off. If the key was just on, give it a few minutes.",
            Self::Full => {
                "Hold full speed until the volts stop rising, a few minutes. Never take a battery \
                 cable off while the engine runs. No sparks or flames near the battery."
            }
            Self::Idle | Self::Amps | Self::Ripple | Self::Feed | Self::Ground => {
                "Never take a battery cable off while the engine runs: it can kill the regulator. \
                 No sparks or flames near the battery."
            }
            Self::Stator => {
                "Unplug it and plug it in with the engine stopped only. With it running the bare \
                 pins carry 30 V AC and more: keep your fingers off, keep them clear of metal."
            }
            Self::Frame | Self::Winding => "Engine stopped, stator plug off.",
        }
    }

    /// Minutes that it takes, once the meter is out.
    pub(super) fn minutes(self) -> f64 {
        match self {
            Self::Rest => 0.5,
            Self::Full | Self::Idle | Self::Ripple | Self::Amps => 1.0,
            Self::Feed | Self::Ground => 1.5,
            Self::Frame | Self::Winding => 2.5,
            Self::Stator => 3.0,
        }
    }
}

/// Where and how something is read.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct ChargeSite {
    pub kind: ChargeKind,
    pub condition: Condition,
    /// The engine idles; else it is at full speed, where it runs.
    pub idle: bool,
    /// The plug that is off, by part.
    pub unplugged: Option<usize>,
    pub instrument: Instrument,
    pub red: NodeId,
    pub black: NodeId,
    /// Amperes that are drawn by what is on there.
    pub drawn: f64,
}

/// How a system stands while it is read: at what speed, and how many amperes all that is on draws.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Load {
    pub idle: bool,
    pub drawn: f64,
}

/// One reading of a charging system.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum ChargeReading {
    /// Volts at the posts, engine standing, next to nothing drawn.
    Rest(f64),
    /// Volts at the posts, engine running.
    Posts(f64, Load),
    /// Direct amperes from the regulator.
    Amps(f64, Load),
    /// Alternating volts at the posts.
    Ripple(f64),
    /// Volts from its output to battery +.
    Feed(f64, Load),
    /// Volts from battery − to its case.
    Ground(f64, Load),
    /// Alternating volts of the stator; at idle or not.
    Stator(f64, bool),
    /// Ohms of the winding; none is open leads.
    Winding(Option<f64>),
    /// Ohms from the winding to the engine.
    Frame(Option<f64>),
    /// Its battery was charged since it was read before.
    Charged,
}

/// A source behind fewer ohms regulates.
const REGULATES: f64 = 0.5;
/// What is drawn at rest, in amperes, at most.
const RESTS: f64 = 0.3;

/// What charges a machine's battery; none where nothing does, or the drawing does not say how it gets there.
pub fn charging_system(circuit: &Circuit) -> Option<ChargingSystem> {
    let gives = |kind| matches!(kind, PartKind::Regulator | PartKind::Generator);
    let parts = circuit.document().parts.iter();
    let regulator = parts.clone().position(|p| gives(p.kind))?;
    let part = circuit.part(regulator);
    let volts_of = |e: &crate::circuit::Element| match e.kind {
        ElementKind::Diode { volts } if e.part == Some(regulator) => Some(-volts),
        _ => None,
    };
    // Of a generator the field's little remanence is another.
    let (source, volts) = circuit
        .elements()
        .filter_map(|(id, e)| volts_of(e).map(|volts| (id, volts)))
        .max_by(|a, b| a.1.total_cmp(&b.1))?;
    let (winding, alternating) = circuit
        .elements()
        .find_map(|(id, e)| match e.kind {
            ElementKind::Winding { volts } => Some((id, volts)),
            _ => None,
        })
        .unzip();
    let named = circuit.document().circuits.iter().find(|named| charges(circuit, named))?;
    let track = Track::lay_out(circuit, &named.id).ok()?;
    let ends =
        |terminal: usize| circuit.terminal(&format!("{}.{}", part.id, part.terminals[terminal]));
    let out = ends(if part.kind == PartKind::Regulator { 2 } else { 0 }).ok()?;
    let ohms = circuit.element(source).ohms;
    let of_winding = |id: ElementId| {
        let e = circuit.element(id);
        let part = e.part.unwrap_or_default();
        [chain(circuit, e.a, part), chain(circuit, e.b, part)].concat()
    };
    let body = |node: NodeId| node == NodeId::REFERENCE || is_body(circuit, node);
    let stator = winding.and_then(|id| circuit.element(id).part);
    let feed = chain(circuit, out, regulator);
    let mut system = ChargingSystem {
        circuit: named.id.clone(),
        winding,
        stator,
        regulator,
        source,
        volts,
        ohms,
        regulated: ohms < REGULATES,
        one_lead: winding.is_some_and(|id| {
            let e = circuit.element(id);
            body(e.a) || body(e.b)
        }),
        alternating: alternating.unwrap_or(0.0),
        rated: stator.and_then(|s| circuit.part(s).amps).or(part.amps.filter(|_| stator.is_some())),
        leads: winding.map(of_winding).unwrap_or_default(),
        alone: feed.len(),
        feed,
        back: Vec::new(),
        sites: Vec::new(),
    };
    let (running, drawn) = system.running(circuit)?;
    let relays = Judge::new(circuit, &[]).running_relays();
    let point = operating_point(circuit, &running, relays, &[], &[]);
    for (paths, feeds) in [(track.feed_paths(), true), (track.back_paths(), false)] {
        let path = carrying(paths, &point).map(|p| p.elements.clone()).unwrap_or_default();
        let way = if feeds { &mut system.feed } else { &mut system.back };
        let more: Vec<ElementId> = path.into_iter().filter(|e| !way.contains(e)).collect();
        way.extend(more);
    }
    system.sites = sites(circuit, &system, named, (&running, drawn));
    Some(system)
}

/// Whether a named circuit is the one that charges.
fn charges(circuit: &Circuit, named: &NamedCircuit) -> bool {
    let part = named.load.as_deref().and_then(|load| load.split('.').next()).unwrap_or_default();
    let is = |p: &crate::machine::Part| p.id == part && p.kind == PartKind::Battery;
    circuit.document().parts.iter().any(is)
}

fn is_body(circuit: &Circuit, node: NodeId) -> bool {
    let bodies = circuit.document().parts.iter().filter(|p| p.kind == PartKind::Body);
    let mut metals = bodies.flat_map(|p| p.terminals.iter().map(move |t| format!("{}.{t}", p.id)));
    metals.any(|at| circuit.terminal(&at) == Ok(node))
}

/// Wires, joints and fuses that lead on from a node, until they fork; what belongs to a part is left out.
fn chain(circuit: &Circuit, from: NodeId, part: usize) -> Vec<ElementId> {
    let mut found: Vec<ElementId> = Vec::new();
    let mut node = from;
    loop {
        let on = circuit.around(node).iter().filter(|(id, _, _)| {
            let e = circuit.element(*id);
            !found.contains(id) && e.part != Some(part) && e.kind != ElementKind::Possible
        });
        let on: Vec<_> = on.collect();
        let [(id, next, _)] = on[..] else { return found };
        use ElementKind::{Fuse, Joint, Wire};
        if !matches!(circuit.element(*id).kind, Wire | Joint | Fuse { .. }) {
            return found;
        }
        found.push(*id);
        node = *next;
    }
}

fn sites(
    circuit: &Circuit,
    system: &ChargingSystem,
    named: &NamedCircuit,
    (running, drawn): (&Condition, f64),
) -> Vec<ChargeSite> {
    use Instrument::{AcVoltmeter, Clamp, Ohmmeter, Voltmeter};
    let Some((minus, plus)) = circuit.posts() else { return Vec::new() };
    let rest = Condition { engine: Engine::Stopped, ..Condition::at_rest(circuit) };
    let site = |kind, instrument, (red, black)| ChargeSite {
        kind,
        condition: running.clone(),
        idle: kind == ChargeKind::Idle,
        unplugged: None,
        instrument,
        red,
        black,
        drawn,
    };
    let points = &circuit.document().test_points;
    let reached = |node: NodeId| {
        let open = (0..points.len()).filter(|i| points[*i].unplugged.is_none());
        open.into_iter().any(|i| circuit.test_point(i) == Some(node))
    };
    let posts = (plus, minus);
    let mut sites = Vec::new();
    if reached(plus) && reached(minus) {
        sites.push(ChargeSite {
            condition: rest.clone(),
            ..site(ChargeKind::Rest, Voltmeter, posts)
        });
        sites.push(site(ChargeKind::Full, Voltmeter, posts));
        sites.push(site(ChargeKind::Idle, Voltmeter, posts));
    }
    if let Some(ends) = system.clamped(circuit) {
        sites.push(site(ChargeKind::Amps, Clamp, ends));
    }
    if reached(plus) && reached(minus) {
        sites.push(site(ChargeKind::Ripple, AcVoltmeter, posts));
    }
    let out = circuit.terminal(&named.from).ok().filter(|out| reached(*out) && *out != plus);
    sites.extend(out.map(|out| site(ChargeKind::Feed, Voltmeter, (out, plus))));
    let case = circuit.element(system.source).a;
    if reached(case) && case != minus {
        sites.push(site(ChargeKind::Ground, Voltmeter, (minus, case)));
    }
    if let Some((plug, one, other)) = system.pins(circuit) {
        let off = |site: ChargeSite| ChargeSite { unplugged: Some(plug), ..site };
        sites.push(off(site(ChargeKind::Stator, AcVoltmeter, (one, other))));
        let stopped = |site: ChargeSite| ChargeSite { condition: rest.clone(), ..off(site) };
        if reached(case) && !system.one_lead {
            sites.push(stopped(site(ChargeKind::Frame, Ohmmeter, (one, case))));
        }
        sites.push(stopped(site(ChargeKind::Winding, Ohmmeter, (one, other))));
    }
    sites
}

impl ChargingSystem {
    /// Where something is read.
    pub fn site(&self, kind: ChargeKind) -> Option<&ChargeSite> {
        self.sites.iter().find(|site| site.kind == kind)
    }

    /// What all that is on draws in a condition, in amperes: what the battery gives when nothing charges it. None
    /// where the machine does not settle.
    pub fn drawn(&self, circuit: &Circuit, condition: &Condition) -> Option<f64> {
        let from = match condition.engine >= Engine::Running {
            true => Judge::new(circuit, &[]).running_relays(),
            false => Relays::default(),
        };
        let point = operating_point(circuit, condition, from, &[Change::Open(self.source)], &[]);
        let battery = circuit.battery()?;
        point.chatter.is_empty().then(|| point.amps[battery.index()].abs())
    }

    /// Whether volts at the posts in a condition are those of a battery that rests.
    pub fn rests(&self, circuit: &Circuit, condition: &Condition) -> bool {
        condition.engine == Engine::Stopped
            && self.drawn(circuit, condition).is_some_and(|drawn| drawn < RESTS)
    }

    /// The engine runs, no blade turns, and what is on draws so much: with nobody on the seat and the wheels standing
    /// where it runs like that.
    fn running(&self, circuit: &Circuit) -> Option<(Condition, f64)> {
        let judge = Judge::new(circuit, &[]);
        let runs = |c: &Condition| {
            let point = operating_point(circuit, c, judge.running_relays(), &[], &[]);
            let noticed = circuit.noticed(c, &point.outcome);
            noticed.engine == EngineDoes::Runs && !noticed.blades
        };
        let all = beside_while_it_runs(circuit);
        let condition = all.iter().find(|c| runs(c)).or(all.first())?.clone();
        let drawn = self.drawn(circuit, &condition)?;
        Some((condition, drawn))
    }

    /// The wire that a clamp goes around, in the way the current runs.
    fn clamped(&self, circuit: &Circuit) -> Option<(NodeId, NodeId)> {
        let mut at = circuit.element(self.source).b;
        // The contact inside leads on to the output.
        let inner = circuit.around(at).iter().find(|(id, _, _)| {
            *id != self.source && circuit.element(*id).part == Some(self.regulator)
        });
        at = inner.map(|(_, out, _)| *out)?;
        for id in &self.feed {
            let e = circuit.element(*id);
            let on = match at {
                at if at == e.a => e.b,
                at if at == e.b => e.a,
                _ => return None,
            };
            if e.wire.is_some() {
                return Some((at, on));
            }
            at = on;
        }
        None
    }

    /// The stator's plug and its pins, where a probe reaches those with it off.
    fn pins(&self, circuit: &Circuit) -> Option<(usize, NodeId, NodeId)> {
        let e = circuit.element(self.winding?);
        let points = &circuit.document().test_points;
        let open = |node: NodeId| {
            (0..points.len()).find_map(|i| {
                let plug = points[i].unplugged.as_deref()?;
                (circuit.test_point(i) == Some(node)).then_some(plug)
            })
        };
        let plug = open(e.a).filter(|plug| open(e.b) == Some(plug))?;
        let part = circuit.document().parts.iter().position(|p| p.id == plug)?;
        Some((part, e.a, e.b))
    }
}
