//! What was found of a switch, cell by cell: a pair of terminals in a position, each time it was
//! tried.

use super::joined::{Conflict, Joined};
use crate::circuit::Reading;
use crate::machine::BUZZER_OHMS;
use serde::Serialize;

/// Terminals and positions that a table has room for.
pub(super) const MOST_TERMINALS: usize = 16;
pub(super) const MOST_POSITIONS: usize = 8;

/// What the meter said, once.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[serde(rename_all = "kebab-case", tag = "kind")]
#[allow(missing_docs)]
pub enum Seen {
    /// The buzzer buzzed, or next to no ohms were read.
    Made,
    /// Joined through so many ohms that the contact is worn or fouled.
    Resistive {
        ohms: f64,
    },
    /// Neither joined nor apart: a coil, a lamp or dirt lies between.
    Through {
        ohms: f64,
    },
    Open,
}

/// Above this a contact that is made is worn or fouled, leads zeroed, in ohms. A hand meter's ohms
/// only screen: the voltage drop under load decides.
const WORN_OHMS: f64 = 0.5;
/// Above this two terminals are apart but for dirt, in ohms.
const APART_OHMS: f64 = 100e3;

impl Seen {
    /// What ohms say, leads zeroed; `None` is over range.
    pub fn of_ohms(ohms: Option<f64>) -> Self {
        match ohms {
            None => Self::Open,
            Some(ohms) if ohms <= WORN_OHMS => Self::Made,
            Some(ohms) if ohms < BUZZER_OHMS => Self::Resistive { ohms },
            Some(ohms) if ohms < APART_OHMS => Self::Through { ohms },
            Some(_) => Self::Open,
        }
    }

    /// What a reading of a meter says, leads zeroed; `None` where it is not one of ohms.
    pub fn of(reading: Reading) -> Option<Self> {
        match reading {
            Reading::Buzz(true) => Some(Self::Made),
            Reading::Buzz(false) => Some(Self::Open),
            Reading::Ohms(ohms) => Some(Self::of_ohms(ohms)),
            _ => None,
        }
    }

    /// Whether it is joined, where that is the one or the other.
    pub fn joined(self) -> Option<bool> {
        match self {
            Self::Made | Self::Resistive { .. } => Some(true),
            Self::Open => Some(false),
            Self::Through { .. } => None,
        }
    }
}

/// A pair of terminals in a position, the lesser terminal first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[allow(missing_docs)]
pub struct Cell {
    pub position: usize,
    pub one: usize,
    pub other: usize,
}

impl Cell {
    /// A cell of a position and a pair of terminals, in either order.
    pub fn new(position: usize, one: usize, other: usize) -> Self {
        Self { position, one: one.min(other), other: one.max(other) }
    }
}

/// All that was seen of a cell, taken together.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = CellGrade))]
#[serde(rename_all = "kebab-case", tag = "kind")]
#[allow(missing_docs)]
pub enum Grade {
    Made,
    /// Made every time, at worst through so many ohms.
    Resistive {
        ohms: f64,
    },
    Through {
        ohms: f64,
    },
    Open,
    /// Not the same every time.
    AtTimes {
        made: usize,
        of: usize,
    },
}

/// What was found, in the order in which it was.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct FoundTable {
    terminals: Vec<String>,
    positions: Vec<String>,
    cells: Vec<(Cell, Vec<Seen>)>,
    /// What was seen of a cell just after the switch had sprung back from a position, which `cells`
    /// counts too.
    sprung: Vec<(usize, Cell, Seen)>,
}

impl FoundTable {
    /// A table with nothing in it; `None` where there are over 16 terminals or 8 positions, or two
    /// are named alike.
    pub fn new(terminals: Vec<String>, positions: Vec<String>) -> Option<Self> {
        let apart =
            |names: &[String]| names.iter().enumerate().all(|(i, name)| !names[..i].contains(name));
        let room = terminals.len() <= MOST_TERMINALS && positions.len() <= MOST_POSITIONS;
        let sound = room && apart(&terminals) && apart(&positions);
        sound.then_some(Self { terminals, positions, ..Self::default() })
    }

    /// Its terminals, in order.
    pub fn terminals(&self) -> &[String] {
        &self.terminals
    }

    /// Its positions, in order.
    pub fn positions(&self) -> &[String] {
        &self.positions
    }

    /// The terminal of a name, added if there is room; `None` if there is not.
    pub fn terminal(&mut self, name: &str) -> Option<usize> {
        named(&mut self.terminals, name, MOST_TERMINALS)
    }

    /// The position of a name, added if there is room; `None` if there is not.
    pub fn position(&mut self, name: &str) -> Option<usize> {
        named(&mut self.positions, name, MOST_POSITIONS)
    }

    /// Adds what was seen of a cell, once.
    pub fn add(&mut self, cell: Cell, seen: Seen) {
        match self.cells.iter_mut().find(|(c, _)| *c == cell) {
            Some((_, all)) => all.push(seen),
            None => self.cells.push((cell, vec![seen])),
        }
    }

    /// Adds what was seen of a cell once the switch had been let go in a position, and sprung back.
    pub fn add_sprung(&mut self, from: usize, cell: Cell, seen: Seen) {
        self.add(cell, seen);
        self.sprung.push((from, cell, seen));
    }

    /// How often a cell was joined still after the switch sprang back, from one position or from
    /// any, of how many times.
    pub fn hang_ups(&self, from: Option<usize>, cell: Cell) -> (usize, usize) {
        let own = |(at, c, _): &&(usize, Cell, Seen)| *c == cell && from.is_none_or(|f| f == *at);
        let all = self.sprung.iter().filter(own);
        let hung = all.clone().filter(|(.., seen)| seen.joined() == Some(true)).count();
        (hung, all.count())
    }

    /// Every cell that something was seen of, in the order in which it was first.
    pub fn cells(&self) -> impl Iterator<Item = (Cell, &[Seen])> {
        self.cells.iter().map(|(cell, seen)| (*cell, seen.as_slice()))
    }

    /// What was seen of a cell, taken together.
    pub fn grade(&self, cell: Cell) -> Option<Grade> {
        grade(self.seen(cell))
    }

    /// Everything that was seen of a cell, in order.
    pub fn seen(&self, cell: Cell) -> &[Seen] {
        self.cells.iter().find(|(c, _)| *c == cell).map_or(&[], |(_, seen)| seen)
    }

    /// The same with nothing known of one cell.
    pub(super) fn without(&self, cell: Cell) -> Self {
        let mut other = self.clone();
        other.cells.retain(|(c, _)| *c != cell);
        other
    }

    /// Whether a cell is joined, where it was tried and was the same every time.
    pub fn made(&self, cell: Cell) -> Option<bool> {
        match self.grade(cell)? {
            Grade::Made | Grade::Resistive { .. } => Some(true),
            Grade::Open => Some(false),
            Grade::Through { .. } | Grade::AtTimes { .. } => None,
        }
    }

    /// What follows in a position, and the cells that cannot hold together with those before them;
    /// these are left out.
    pub fn joined(&self, position: usize) -> (Joined, Vec<Conflict>) {
        let mut joined = Joined::new(self.terminals.len());
        let mut conflicts = Vec::new();
        for (cell, _) in self.cells.iter().filter(|(c, _)| c.position == position) {
            let Some(made) = self.made(*cell) else { continue };
            conflicts.extend(joined.tell(cell.one, cell.other, made).err());
        }
        (joined, conflicts)
    }
}

impl FoundTable {
    /// The cells that were the same every time and hold together, and whether each is joined. Of
    /// those that do not hold together the later are left out.
    pub fn holding(&self) -> Vec<(Cell, bool)> {
        let conflicts: Vec<Cell> = (0..self.positions.len())
            .flat_map(|position| {
                let of = move |(one, other)| Cell::new(position, one, other);
                self.joined(position).1.into_iter().map(move |c| of(c.cell))
            })
            .collect();
        let cells = self.cells.iter().filter(|(cell, _)| !conflicts.contains(cell));
        cells.filter_map(|(cell, _)| Some((*cell, self.made(*cell)?))).collect()
    }
}

fn named(all: &mut Vec<String>, name: &str, most: usize) -> Option<usize> {
    if let Some(at) = all.iter().position(|n| n == name) {
        return Some(at);
    }
    (all.len() < most).then(|| {
        all.push(name.to_owned());
        all.len() - 1
    })
}

fn grade(seen: &[Seen]) -> Option<Grade> {
    let first = *seen.first()?;
    let made = seen.iter().filter(|s| s.joined() == Some(true)).count();
    if made > 0 && made < seen.len() {
        return Some(Grade::AtTimes { made, of: seen.len() });
    }
    let worst = seen.iter().filter_map(|s| match s {
        Seen::Resistive { ohms } | Seen::Through { ohms } => Some(*ohms),
        _ => None,
    });
    let worst = worst.reduce(f64::max);
    Some(match (made > 0, worst) {
        (true, None) => Grade::Made,
        (true, Some(ohms)) => Grade::Resistive { ohms },
        // Some apart, some through something: it is not apart for good.
        (false, Some(ohms)) => Grade::Through { ohms },
        (false, None) => match first {
            Seen::Open => Grade::Open,
            _ => return None,
        },
    })
}
