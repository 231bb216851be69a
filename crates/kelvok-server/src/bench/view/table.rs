//! The table of a switch, cell by cell, and what follows from it alone.

use kelvok_core::bench::{Band, Bench, Cell, Expected, Grade, PoleKind, Way, poles};
use serde::Serialize;
use utoipa::ToSchema;

/// One pair in one position.
#[derive(Serialize, ToSchema)]
pub struct CellView {
    pub position: String,
    pub one: String,
    pub other: String,
    /// Whether it should be joined; none where nothing says.
    pub expected: Option<bool>,
    pub found: Option<Grade>,
    /// Whether it is joined, as far as that follows from the others without a probe.
    pub follows: Option<bool>,
    /// How often it was joined still after the switch sprang back, of how many times.
    pub hung: usize,
    pub let_go: usize,
    pub stand: CellStand,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CellStand {
    Untried,
    /// Found, and nothing says what it should be.
    Found,
    Fits,
    Differs,
    /// Not the same every time.
    AtTimes,
    /// Made through too much.
    Worn,
    /// Cannot hold together with others.
    Conflict,
}

/// How far one position is.
#[derive(Serialize, ToSchema)]
pub struct ProgressView {
    pub position: String,
    /// Pairs of this position that were tried.
    pub probed: usize,
    /// The fewest that any order could do with.
    pub least: usize,
    pub complete: bool,
}

/// What springs back, and how often it was operated.
#[derive(Serialize, ToSchema)]
pub struct OperatedView {
    pub held: String,
    pub let_go: String,
    pub one: String,
    pub other: String,
    pub makes: bool,
    pub times: usize,
    pub missed: usize,
    pub hung: usize,
    /// With 95 % confidence fewer than this share of operations fail; none where one did.
    pub below: Option<f64>,
}

#[derive(Serialize, ToSchema)]
pub struct PoleView {
    pub terminals: Vec<String>,
    pub kind: PoleKind,
}

/// A slow stroke of a pair, one way.
#[derive(Serialize, ToSchema)]
pub struct TravelView {
    pub one: String,
    pub other: String,
    pub way: Way,
    pub bands: Vec<Band>,
    pub changes_at: Option<f64>,
    pub dead: Vec<Band>,
    pub late: bool,
    /// Points of it, in percent of the travel.
    pub points: Vec<StrokePoint>,
}

#[derive(Serialize, ToSchema)]
pub struct StrokePoint {
    /// In percent.
    pub travel: f64,
    pub made: bool,
}

/// A bench's cells, terminals and positions, by name.
pub(crate) struct Names<'a> {
    pub(crate) bench: &'a Bench,
}

impl Names<'_> {
    pub(crate) fn cell(&self, cell: Cell) -> [String; 3] {
        let found = &self.bench.found;
        let terminal = |t: usize| found.terminals()[t].clone();
        [found.positions()[cell.position].clone(), terminal(cell.one), terminal(cell.other)]
    }

    pub(crate) fn cells(&self) -> Vec<CellView> {
        let bench = self.bench;
        let found = &bench.found;
        let own = bench.profile.as_ref().zip(bench.taken_for());
        let expected = own.as_ref().map(|(profile, terminals)| Expected { profile, terminals });
        let terminals = found.terminals().len();
        let mut cells = Vec::new();
        for position in 0..found.positions().len() {
            let (joined, conflicts) = found.joined(position);
            for one in 0..terminals {
                for other in one + 1..terminals {
                    let cell = Cell::new(position, one, other);
                    let wanted = expected.and_then(|e| e.made(found, cell));
                    let grade = found.grade(cell);
                    let follows = joined.known(one, other);
                    let (hung, let_go) = found.hang_ups(None, cell);
                    let conflict = conflicts.iter().any(|c| {
                        let (a, b) = c.cell;
                        (a, b) == (one, other) || (b, a) == (one, other)
                    });
                    let stand = match (grade, wanted) {
                        _ if conflict => CellStand::Conflict,
                        (Some(Grade::AtTimes { .. } | Grade::Through { .. }), _) => {
                            CellStand::AtTimes
                        }
                        (Some(Grade::Resistive { .. }), Some(true) | None) => CellStand::Worn,
                        (None, _) if follows.is_none() => CellStand::Untried,
                        (_, None) => CellStand::Found,
                        (_, Some(wanted)) if follows == Some(wanted) => CellStand::Fits,
                        _ => CellStand::Differs,
                    };
                    let [position, one, other] = self.cell(cell);
                    cells.push(CellView {
                        position,
                        one,
                        other,
                        expected: wanted,
                        found: grade,
                        follows,
                        hung,
                        let_go,
                        stand,
                    });
                }
            }
        }
        cells
    }

    pub(crate) fn progress(&self) -> Vec<ProgressView> {
        let found = &self.bench.found;
        let views = found.positions().iter().enumerate().map(|(p, position)| ProgressView {
            position: position.clone(),
            probed: found.cells().filter(|(cell, _)| cell.position == p).count(),
            least: self.bench.certificate(p),
            complete: found.joined(p).0.is_complete(),
        });
        views.collect()
    }

    pub(crate) fn conflicts(&self) -> Vec<String> {
        let found = &self.bench.found;
        let mut all = Vec::new();
        for (p, position) in found.positions().iter().enumerate() {
            for conflict in found.joined(p).1 {
                let pair = |(a, b): (usize, usize)| {
                    format!("{} to {}", found.terminals()[a], found.terminals()[b])
                };
                let says = if conflict.made { "joined" } else { "open" };
                let against: Vec<String> = conflict.against.into_iter().map(pair).collect();
                let cell = pair(conflict.cell);
                let against = against.join(", ");
                all.push(format!("In {position}, {cell} was {says}, which {against} rule out."));
            }
        }
        all
    }

    pub(crate) fn operated(&self) -> Vec<OperatedView> {
        let views = self.bench.operated().into_iter().map(|o| {
            let [held, one, other] = self.cell(o.held);
            let [let_go, ..] = self.cell(o.let_go);
            OperatedView {
                held,
                let_go,
                one,
                other,
                makes: o.makes,
                times: o.times(),
                missed: o.missed,
                hung: o.hung,
                below: o.below(),
            }
        });
        views.collect()
    }

    pub(crate) fn poles(&self) -> Vec<PoleView> {
        let name = |t: &usize| self.bench.found.terminals()[*t].clone();
        let views = poles(&self.bench.found).into_iter().map(|pole| PoleView {
            terminals: pole.terminals.iter().map(name).collect(),
            kind: pole.kind,
        });
        views.collect()
    }

    pub(crate) fn travels(&self) -> Vec<TravelView> {
        let mut all = Vec::new();
        for pair in self.bench.swept() {
            for way in [Way::In, Way::Out] {
                let strokes = self.bench.strokes(pair).iter().filter(|s| s.way == way);
                let points: Vec<_> =
                    strokes.map(|s| StrokePoint { travel: s.travel, made: s.made }).collect();
                if points.is_empty() {
                    continue;
                }
                let travel = self.bench.travel(pair, way);
                let [_, one, other] = self.cell(Cell::new(0, pair.0, pair.1));
                let (bands, changes_at, dead, late) = match travel {
                    Some(t) => (t.bands, t.changes_at, t.dead, t.late),
                    None => (Vec::new(), None, Vec::new(), false),
                };
                all.push(TravelView { one, other, way, bands, changes_at, dead, late, points });
            }
        }
        all
    }
}
