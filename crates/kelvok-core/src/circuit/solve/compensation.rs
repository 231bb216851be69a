//! One circuit solved under one small change after another, by what the change alters.
//!
//! The circuit is solved once, and what the elimination leaves behind is kept at every stage of its
//! settling: diodes turned, relays moved. A change of a few conductances then costs a product a
//! node and a stage: the volts that an ampere driven through the changed element makes everywhere,
//! times the amperes that the change comes to. That is the compensation theorem of circuits; of
//! matrices, the formula of Sherman and Morrison (1950) and of Woodbury (1950). Where the changed
//! circuit would settle in other stages than the unchanged one, it has to be solved in full.

use super::relays::Relays;
use super::setting::Setting;
use super::solved::Solved;
use super::solver::{Moved, Settling, Solver};
use crate::circuit::model::{Actuator, Change, Circuit, ElementId, ElementKind, NodeId, Workspace};
use crate::errand::step;
use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

/// Conductances that may differ at once.
const MOST_DIFFERENCES: usize = 4;
/// Ways of settling kept, by the relays they begin from.
const MOST_WAYS: usize = 8;
/// A change that leaves less than this share of what held two nodes together is solved in full:
/// too many digits would be lost.
const LEAST_PIVOT: f64 = 1e-5;

/// Node volts with one ampere driven through something.
type Response = Rc<[f64]>;
/// For every node the piece it hangs together with.
type Pieces = Rc<[u16]>;
/// The pieces with an element open; none where it held nothing together.
type Split = Option<Pieces>;

/// One circuit in one setting, ready to be changed a little, again and again.
pub struct Compensation<'c> {
    circuit: &'c Circuit,
    solver: Solver<'c>,
    /// What all other settings are compared with.
    base: Setting,
    /// How it settles, by the relays it begins from; none where it does not settle.
    ways: HashMap<Relays, Option<Rc<Vec<Stage>>>>,
    point: Option<Point>,
}

/// One round of settling: solved, and what moved then.
struct Stage {
    standing: Settling,
    moved: Moved,
    conductance: Vec<f64>,
    volts: Vec<f64>,
    pieces: Vec<u16>,
    blown: Vec<ElementId>,
    work: Workspace<f64>,
    /// What an ampere through an element does, by element; and between other nodes.
    responses: RefCell<Vec<Option<Response>>>,
    hung: RefCell<HashMap<(NodeId, NodeId), Response>>,
    /// The pieces with an element open, by element.
    splits: RefCell<Vec<Option<Split>>>,
    resistances: RefCell<HashMap<(NodeId, NodeId), f64>>,
}

/// A conductance that is not what it was.
#[derive(Clone, Copy, Debug)]
struct Difference {
    ends: (NodeId, NodeId),
    /// The element whose it is; none if it was hung there besides.
    element: Option<ElementId>,
    /// Siemens before and after.
    before: f64,
    after: f64,
}

/// A changed circuit's operating point.
struct Point {
    way: Rc<Vec<Stage>>,
    stage: usize,
    changed: Changed,
}

/// What a stage comes to with some conductances changed.
struct Changed {
    differences: Vec<Difference>,
    /// The differences that carry a current, each with what an ampere through it does.
    driving: Vec<(Difference, Response)>,
    /// Where any volts change.
    volts: Option<Vec<f64>>,
    /// Where what hangs together changes.
    pieces: Option<Pieces>,
    /// Two pieces that the change joins, at these ends.
    joined: Option<Difference>,
}

impl<'c> Compensation<'c> {
    /// A circuit in one setting, nothing solved yet.
    pub fn new(circuit: &'c Circuit, base: Setting) -> Self {
        Self { circuit, solver: Solver::new(circuit), base, ways: HashMap::new(), point: None }
    }

    /// Solves a setting that differs a little; false where that takes a solve in full.
    pub fn solve(&mut self, setting: &Setting, relays: Relays) -> bool {
        step();
        self.point = self.point_of(setting, relays);
        self.point.is_some()
    }

    /// What was solved last, if it could be.
    pub fn solved(&self) -> Option<Compensated<'_>> {
        let point = self.point.as_ref()?;
        let stage = &point.way[point.stage];
        Some(Compensated { of: self, stage, changed: &point.changed })
    }

    /// How the unchanged circuit settles from these relays; none where it does not.
    pub fn settled(&mut self, relays: Relays) -> Option<Settled<'_>> {
        let way = self.way(relays)?;
        Some(Settled { of: self, way })
    }

    fn point_of(&mut self, setting: &Setting, relays: Relays) -> Option<Point> {
        let differences = self.differences(setting)?;
        let way = self.way(relays)?;
        let mut last = None;
        for (s, stage) in way.iter().enumerate() {
            let own = differences.iter().map(|d| self.at_stage(*d, setting, stage));
            let own: Vec<_> = own.filter(|d| d.before != d.after).collect();
            let changed = self.changed(stage, own)?;
            let seen = Compensated { of: self, stage, changed: &changed };
            if self.solver.decide(&stage.standing, setting, &seen) != stage.moved {
                return None;
            }
            last = Some((s, changed));
        }
        let (stage, changed) = last?;
        Some(Point { way, stage, changed })
    }

    /// How the unchanged circuit settles, solved once.
    fn way(&mut self, relays: Relays) -> Option<Rc<Vec<Stage>>> {
        if let Some(known) = self.ways.get(&relays) {
            return known.clone();
        }
        if self.ways.len() >= MOST_WAYS {
            return None;
        }
        let way = self.settle(relays).map(Rc::new);
        self.ways.insert(relays, way.clone());
        way
    }

    fn settle(&mut self, relays: Relays) -> Option<Vec<Stage>> {
        let Self { solver, base, circuit, .. } = self;
        let mut stages = Vec::new();
        solver.begin(0, base, relays);
        loop {
            solver.factor(&[base]);
            let lane = solver.lane(0);
            let standing = solver.standing[0];
            let moved = solver.decide(&standing, base, &lane);
            stages.push(Stage {
                standing,
                moved,
                conductance: solver.conductance.clone(),
                volts: (0..circuit.node_count()).map(|n| lane.volts(NodeId(n as u16))).collect(),
                pieces: lane.pieces(),
                blown: lane.blown(),
                work: solver.work.clone(),
                responses: RefCell::new(vec![None; circuit.elements.len()]),
                hung: RefCell::default(),
                splits: RefCell::new(vec![None; circuit.elements.len()]),
                resistances: RefCell::default(),
            });
            match moved {
                Moved::Nothing => return Some(stages),
                // Of chatter every state counts.
                Moved::Chatters(_) => return None,
                _ => solver.make(0, base, moved),
            }
        }
    }

    /// Where a setting differs from the base; `None` where in more than conductances, or too many.
    fn differences(&self, now: &Setting) -> Option<Vec<Difference>> {
        let (base, circuit) = (&self.base, self.circuit);
        if now.volts != base.volts || now.ratings != base.ratings || now.driven != base.driven {
            return None;
        }
        let mut found = Vec::new();
        let mut add = |id: ElementId| {
            let e = circuit.element(id);
            let by_itself = matches!(
                e.kind,
                ElementKind::Diode { .. }
                    | ElementKind::Source { .. }
                    | ElementKind::Winding { .. }
            );
            if by_itself || found.len() == MOST_DIFFERENCES {
                return None;
            }
            let (before, after) = (base.conductance[id.index()], now.conductance[id.index()]);
            found.push(Difference { ends: (e.a, e.b), element: Some(id), before, after });
            Some(())
        };
        let each = base.conductance.iter().zip(&now.conductance).enumerate();
        for (i, _) in each.filter(|(_, (before, after))| before != after) {
            if !matches!(circuit.elements[i].kind, ElementKind::Contact(_)) {
                add(ElementId(i as u16))?;
            }
        }
        // A contact that coils move may differ only once they have.
        let contacts = base.contacts.iter().zip(&now.contacts).zip(&circuit.contacts);
        for (_, contact) in contacts.filter(|((before, after), _)| before != after) {
            add(contact.element)?;
        }
        let grounded = now.to_ground.strip_prefix(base.to_ground.as_slice())?;
        let hung = now.extra.strip_prefix(base.extra.as_slice())?;
        let joined = now.joined.get(base.joined.len()..)?;
        if !base.joined.is_empty() && !now.joined.starts_with(&base.joined)
            || hung.len() != joined.len()
        {
            return None;
        }
        let ground = |(node, after): &(u16, f64)| ((NodeId(*node), NodeId::REFERENCE), *after);
        let between = joined.iter().copied().zip(hung.iter().copied());
        for (ends, after) in grounded.iter().map(ground).chain(between) {
            found.push(Difference { ends, element: None, before: 0.0, after });
        }
        (found.len() <= MOST_DIFFERENCES).then_some(found)
    }

    /// The same difference as it is at a stage.
    fn at_stage(&self, mut own: Difference, setting: &Setting, stage: &Stage) -> Difference {
        let Some(id) = own.element else { return own };
        own.before = stage.conductance[id.index()];
        match self.circuit.element(id).kind {
            ElementKind::Contact(c) => {
                let contact = &self.circuit.contacts[c];
                if matches!(contact.actuator, Actuator::Coils(_)) {
                    own.after = setting.relay_contact(c, contact, stage.standing.relays());
                }
            }
            ElementKind::Fuse { .. } if stage.blown.contains(&id) => own.after = 0.0,
            _ => {}
        }
        own
    }

    /// What a stage comes to; `None` where that takes a solve in full.
    fn changed(&self, stage: &Stage, differences: Vec<Difference>) -> Option<Changed> {
        let mut changed = Changed {
            driving: Vec::with_capacity(differences.len()),
            volts: None,
            pieces: None,
            joined: None,
            differences,
        };
        let apart =
            |d: &Difference| stage.pieces[d.ends.0.index()] != stage.pieces[d.ends.1.index()];
        let joins = changed.differences.iter().find(|d| apart(d)).copied();
        if let Some(joins) = joins {
            if changed.differences.len() > 1 {
                return None;
            }
            self.join(stage, &mut changed, joins)?;
            return Some(changed);
        }
        for difference in changed.differences.clone() {
            let opens = difference.after == 0.0;
            let current = changed.pieces.as_deref().unwrap_or(&stage.pieces);
            if opens && let Some(pieces) = self.split(stage, current, difference) {
                self.lone_diode(stage, &pieces, difference)?;
                changed.pieces = Some(pieces);
                continue;
            }
            changed.driving.push((difference, self.response(stage, difference)));
        }
        if changed.driving.is_empty() {
            return Some(changed);
        }
        // Where one thing comes apart, nothing else may open or close.
        let whole = |(d, _): &(Difference, _)| d.before > 0.0 && d.after > 0.0;
        if changed.pieces.is_some() && !changed.driving.iter().all(whole) {
            return None;
        }
        let volts = |n: NodeId| stage.volts[n.index()];
        let amps = changed.amps(|d| volts(d.ends.0) - volts(d.ends.1))?;
        // Where nothing flowed, nothing changes.
        if amps.iter().all(|a| *a == 0.0) {
            return Some(changed);
        }
        let mut volts = stage.volts.clone();
        for ((_, response), amps) in changed.driving.iter().zip(amps) {
            for (volts, response) in volts.iter_mut().zip(response.iter()) {
                *volts -= amps * response;
            }
        }
        changed.volts = Some(volts);
        Some(changed)
    }

    fn response(&self, stage: &Stage, of: Difference) -> Response {
        let solve = || Rc::from(self.solver.program.response(&stage.work, of.ends));
        match of.element {
            Some(id) => {
                let known = &mut stage.responses.borrow_mut()[id.index()];
                known.get_or_insert_with(solve).clone()
            }
            None => {
                let mut known = stage.hung.borrow_mut();
                known.entry(of.ends).or_insert_with(solve).clone()
            }
        }
    }

    /// Two pieces joined at one place: no current, only one reference where there were two.
    fn join(&self, stage: &Stage, changed: &mut Changed, join: Difference) -> Option<()> {
        let (a, b) = join.ends;
        let (of_a, of_b) = (stage.pieces[a.index()], stage.pieces[b.index()]);
        // What floats follows what does not.
        let (kept, moved, shift) = match of_b {
            0 => (of_b, of_a, stage.volts[b.index()] - stage.volts[a.index()]),
            _ => (of_a, of_b, stage.volts[a.index()] - stage.volts[b.index()]),
        };
        let (mut pieces, mut volts) = (stage.pieces.clone(), stage.volts.clone());
        for (piece, volts) in pieces.iter_mut().zip(&mut volts) {
            if *piece == moved {
                *piece = kept;
                *volts += shift;
            }
        }
        self.lone_diode(stage, &pieces, join)?;
        changed.pieces = Some(pieces.into());
        changed.volts = Some(volts);
        changed.joined = Some(join);
        Some(())
    }

    /// The pieces with an element open that alone held two parts together; `None` if it did not.
    fn split(&self, stage: &Stage, pieces: &[u16], open: Difference) -> Split {
        let known = open.element.filter(|_| std::ptr::eq(pieces, stage.pieces.as_slice()));
        let Some(known) = known else {
            return self.split_anew(stage, pieces, open);
        };
        let slot = &mut stage.splits.borrow_mut()[known.index()];
        slot.get_or_insert_with(|| self.split_anew(stage, pieces, open)).clone()
    }

    fn split_anew(&self, stage: &Stage, pieces: &[u16], open: Difference) -> Split {
        let (a, b) = open.ends;
        let reached = self.reached_without(stage, open);
        if reached[b.index()] {
            return None;
        }
        let own = pieces[a.index()];
        let (of_a, of_b) = match (own, reached[0]) {
            (0, true) => (0, b.0),
            (0, false) => (a.0, 0),
            _ => (a.0, b.0),
        };
        let split = pieces.iter().zip(&reached).map(|(piece, reached)| match *piece == own {
            true if *reached => of_a,
            true => of_b,
            false => *piece,
        });
        Some(split.collect())
    }

    /// The nodes that hang together with the first end of an element that is open.
    fn reached_without(&self, stage: &Stage, open: Difference) -> Vec<bool> {
        let (from, _) = open.ends;
        let mut reached = vec![false; stage.pieces.len()];
        let mut next = vec![from];
        reached[from.index()] = true;
        while let Some(node) = next.pop() {
            let mut reach = |other: NodeId| {
                if !std::mem::replace(&mut reached[other.index()], true) {
                    next.push(other);
                }
            };
            for (id, other, _) in self.circuit.around(node) {
                if stage.conductance[id.index()] > 0.0 && open.element != Some(*id) {
                    reach(*other);
                }
            }
            for (a, b, siemens) in self.base.added() {
                match node {
                    _ if siemens == 0.0 => {}
                    n if n == a => reach(b),
                    n if n == b => reach(a),
                    _ => {}
                }
            }
        }
        reached
    }

    /// Refuses where a diode that is off hangs between a piece that changed and another: what
    /// stands across it then depends on where each piece counts its volts from.
    fn lone_diode(&self, stage: &Stage, pieces: &[u16], at: Difference) -> Option<()> {
        let touched = [at.ends.0, at.ends.1].map(|n| pieces[n.index()]);
        let lone = self.solver.diodes.iter().any(|element| {
            let e = &self.circuit.elements[*element];
            let (a, b) = (pieces[e.a.index()], pieces[e.b.index()]);
            let off = stage.conductance[*element] == 0.0;
            off && a != b && touched.iter().any(|t| *t != 0 && (*t == a || *t == b))
        });
        (!lone).then_some(())
    }
}

/// The unchanged circuit, settled: what a changed conductance would be felt by.
pub struct Settled<'a> {
    of: &'a Compensation<'a>,
    way: Rc<Vec<Stage>>,
}

/// Volts across something that carry no current worth the name.
const NO_VOLTS: f64 = 1e-9;
/// A probe on more volts than this may be on something live.
const CALM_VOLTS: f64 = 1e-6;

impl Settled<'_> {
    fn last(&self) -> &Stage {
        // It settled: there is a last stage.
        &self.way[self.way.len() - 1]
    }

    /// Whether a node stands at the volts from which those of its piece are counted: the reference's, or
    /// in a piece that nothing drives. An ohmmeter there is on nothing live.
    pub fn is_calm(&self, node: NodeId) -> bool {
        let stage = self.last();
        let piece = stage.pieces[node.index()];
        let drives = |kind: ElementKind| {
            kind.emf().is_some() || matches!(kind, ElementKind::Diode { volts } if volts < 0.0)
        };
        let driven = || {
            self.of.circuit.elements().any(|(id, e)| {
                drives(e.kind)
                    && stage.conductance[id.index()] > 0.0
                    && stage.pieces[e.a.index()] == piece
            })
        };
        stage.volts[node.index()].abs() < CALM_VOLTS && (piece == 0 || !driven())
    }

    /// Whether nodes hang together, at every stage of settling.
    pub fn joined(&self, (a, b): (NodeId, NodeId)) -> bool {
        self.way.iter().all(|s| s.pieces[a.index()] == s.pieces[b.index()])
    }

    /// Whether no volts stand between nodes that hang together, at any stage: no conductance there,
    /// whatever becomes of it, carries a current or moves anything.
    pub fn is_still(&self, (a, b): (NodeId, NodeId)) -> bool {
        self.joined((a, b))
            && self.way.iter().all(|s| (s.volts[a.index()] - s.volts[b.index()]).abs() < NO_VOLTS)
    }

    /// Whether nodes lie apart at every stage and no diode hangs between their pieces and others:
    /// joined at one place, no current flows.
    pub fn joins_harmlessly(&self, (a, b): (NodeId, NodeId)) -> bool {
        let lone = |stage: &Stage| {
            let at = [a, b].map(|n| stage.pieces[n.index()]);
            self.of.solver.diodes.iter().any(|element| {
                let e = &self.of.circuit.elements[*element];
                let ends = [e.a, e.b].map(|n| stage.pieces[n.index()]);
                ends[0] != ends[1] && at.iter().any(|p| *p != 0 && ends.contains(p))
            })
        };
        self.way.iter().all(|s| s.pieces[a.index()] != s.pieces[b.index()] && !lone(s))
    }

    /// Whether nothing that a change alters carries a current or comes to carry one: volts across
    /// everything, relays and fuses stay as they are. A piece that comes off, or is joined at one
    /// place, has its volts counted from elsewhere.
    pub fn is_dormant(&self, change: Change) -> bool {
        let ends = change.only_between(self.of.circuit);
        ends.is_some_and(|e| self.is_still(e) || self.joins_harmlessly(e))
    }

    /// Whether something between two nodes would join two others that lie apart.
    pub fn bridges(&self, (a, b): (NodeId, NodeId), (red, black): (NodeId, NodeId)) -> bool {
        let piece = |n: NodeId| self.last().pieces[n.index()];
        let [a, b, red, black] = [a, b, red, black].map(piece);
        red != black && ((a, b) == (red, black) || (b, a) == (red, black))
    }

    /// Node volts with the sources off and one ampere in at `red`, out at `black`, relays and diodes
    /// as they stand; none where the two lie apart.
    pub fn drive(&self, red: NodeId, black: NodeId) -> Option<Vec<f64>> {
        let stage = self.last();
        let joined = stage.pieces[red.index()] == stage.pieces[black.index()];
        joined.then(|| self.of.solver.program.response(&stage.work, (red, black)))
    }
}

impl Changed {
    /// The amperes that each difference drives besides, from volts across it without them.
    fn amps(&self, across: impl Fn(&Difference) -> f64) -> Option<Vec<f64>> {
        let n = self.driving.len();
        let mut rows = [[0.0; MOST_DIFFERENCES + 1]; MOST_DIFFERENCES];
        for (row, (own, _)) in rows.iter_mut().zip(&self.driving) {
            let added = own.after - own.before;
            for (slot, (_, response)) in row.iter_mut().zip(&self.driving) {
                *slot = added * (response[own.ends.0.index()] - response[own.ends.1.index()]);
            }
            row[n] = added * across(own);
        }
        for (i, row) in rows.iter_mut().enumerate().take(n) {
            row[i] += 1.0;
        }
        // Gauss and Jordan, the greatest pivot first.
        for column in 0..n {
            let greatest =
                |a: &usize, b: &usize| rows[*a][column].abs().total_cmp(&rows[*b][column].abs());
            let pivot = (column..n).max_by(greatest)?;
            rows.swap(column, pivot);
            let head = rows[column];
            if head[column].abs() < LEAST_PIVOT {
                return None;
            }
            for (r, row) in rows.iter_mut().enumerate().take(n) {
                let times = if r == column { 0.0 } else { row[column] / head[column] };
                for (slot, head) in row.iter_mut().zip(head) {
                    *slot -= times * head;
                }
            }
        }
        Some((0..n).map(|i| rows[i][n] / rows[i][i]).collect())
    }
}

/// What was solved by compensation.
pub struct Compensated<'a> {
    of: &'a Compensation<'a>,
    stage: &'a Stage,
    changed: &'a Changed,
}

impl Solved for Compensated<'_> {
    fn circuit(&self) -> &Circuit {
        self.of.circuit
    }

    fn volts(&self, node: NodeId) -> f64 {
        self.changed.volts.as_ref().unwrap_or(&self.stage.volts)[node.index()]
    }

    fn siemens(&self, element: ElementId) -> f64 {
        let own = self.changed.differences.iter().find(|d| d.element == Some(element));
        own.map_or(self.stage.conductance[element.index()], |d| d.after)
    }

    fn emf(&self, element: ElementId) -> f64 {
        self.of.base.volts(element)
    }

    fn relays(&self) -> Relays {
        Relays(self.stage.standing.relays())
    }

    fn chatter(&self) -> &[u64] {
        &[]
    }

    fn blown(&self) -> Vec<ElementId> {
        self.stage.blown.clone()
    }

    fn pieces(&self) -> Vec<u16> {
        self.changed.pieces.as_deref().unwrap_or(&self.stage.pieces).to_vec()
    }

    fn resistance(&self, a: NodeId, b: NodeId) -> f64 {
        let piece = |n: NodeId| self.stage.pieces[n.index()];
        let unchanged = |a: NodeId, b: NodeId| {
            let mut known = self.stage.resistances.borrow_mut();
            let solve = || self.of.solver.program.resistance(&self.stage.work, a, b, 0);
            *known.entry((a, b)).or_insert_with(solve)
        };
        if let Some(joined) = &self.changed.joined
            && piece(a) != piece(b)
        {
            let (one, other) = match piece(a) == piece(joined.ends.0) {
                true => joined.ends,
                false => (joined.ends.1, joined.ends.0),
            };
            return unchanged(a, one) + 1.0 / joined.after + unchanged(other, b);
        }
        let driving = &self.changed.driving;
        let across = |response: &[f64]| response[a.index()] - response[b.index()];
        // What an ampere from one probe to the other makes of a difference, it makes of the probes.
        let of = |own: &Difference| {
            let same = driving.iter().find(|(d, _)| d.ends == own.ends);
            same.map_or(0.0, |(_, response)| across(response))
        };
        let amps = self.changed.amps(of).unwrap_or_default();
        let less: f64 = driving.iter().zip(amps).map(|((_, r), amps)| amps * across(r)).sum();
        unchanged(a, b) - less
    }
}
