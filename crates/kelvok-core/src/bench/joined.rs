//! What is known in one position: terminals that are joined are one class, and what holds of one of
//! a class holds of all.

/// What is known of a switch's terminals in one position.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Joined {
    /// The class of each terminal: the least terminal in it.
    class: Vec<usize>,
    /// Classes that are known to be apart, as masks by class.
    apart: Vec<u16>,
    /// Pairs that were found joined, and that were found apart, in order.
    told: Vec<(usize, usize, bool)>,
}

/// A cell that cannot hold together with what was found before it.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Conflict {
    pub cell: (usize, usize),
    pub made: bool,
    /// The fewest cells that say otherwise: joined pairs that lead from the one to the other, and,
    /// where the cell says joined, the pair that is apart.
    pub against: Vec<(usize, usize)>,
}

impl Joined {
    /// Nothing known of so many terminals.
    pub fn new(terminals: usize) -> Self {
        Self { class: (0..terminals).collect(), apart: vec![0; terminals], told: Vec::new() }
    }

    /// Takes in one cell.
    ///
    /// # Errors
    /// What was found before says otherwise; nothing is changed.
    pub fn tell(&mut self, one: usize, other: usize, made: bool) -> Result<(), Conflict> {
        match self.known(one, other) {
            Some(known) if known != made => Err(self.conflict(one, other, made)),
            Some(_) => {
                self.told.push((one, other, made));
                Ok(())
            }
            None => {
                self.told.push((one, other, made));
                let (a, b) = (self.class[one], self.class[other]);
                let (keeps, goes) = (a.min(b), a.max(b));
                if made {
                    self.merge(keeps, goes);
                } else {
                    self.apart[keeps] |= 1 << goes;
                    self.apart[goes] |= 1 << keeps;
                }
                Ok(())
            }
        }
    }

    fn merge(&mut self, keeps: usize, goes: usize) {
        for class in &mut self.class {
            if *class == goes {
                *class = keeps;
            }
        }
        let gone = std::mem::take(&mut self.apart[goes]);
        self.apart[keeps] |= gone;
        for apart in &mut self.apart {
            if *apart >> goes & 1 == 1 {
                *apart = *apart & !(1 << goes) | 1 << keeps;
            }
        }
    }

    /// Whether two terminals are joined, where that is known or follows.
    pub fn known(&self, one: usize, other: usize) -> Option<bool> {
        let (a, b) = (self.class[one], self.class[other]);
        match a == b {
            true => Some(true),
            false => (self.apart[a] >> b & 1 == 1).then_some(false),
        }
    }

    /// Pairs of which nothing is known, one a pair of classes.
    pub fn open_questions(&self) -> Vec<(usize, usize)> {
        let heads: Vec<usize> = (0..self.class.len()).filter(|t| self.class[*t] == *t).collect();
        let pairs = heads.iter().enumerate().flat_map(|(i, a)| {
            heads[i + 1..].iter().filter(|b| self.apart[*a] >> **b & 1 == 0).map(|b| (*a, *b))
        });
        pairs.collect()
    }

    /// Whether every pair is known.
    pub fn is_complete(&self) -> bool {
        self.open_questions().is_empty()
    }

    /// The classes, each in order of its terminals.
    pub fn classes(&self) -> Vec<Vec<usize>> {
        let heads = (0..self.class.len()).filter(|t| self.class[*t] == *t);
        heads
            .map(|head| (head..self.class.len()).filter(|t| self.class[*t] == head).collect())
            .collect()
    }

    /// The fewest probes in which anybody can have found a complete table with these classes: one
    /// less than its terminals to join up each class, and one between every two classes. No fewer
    /// do: with one left out, the same answers fit another table.
    pub fn certificate(terminals: usize, classes: usize) -> usize {
        (terminals - classes) + classes * (classes - 1) / 2
    }

    fn conflict(&self, one: usize, other: usize, made: bool) -> Conflict {
        let cell = (one, other);
        if !made {
            return Conflict { cell, made, against: self.way(one, other) };
        }
        let (a, b) = (self.class[one], self.class[other]);
        let parts = |(x, y, joined): &&(usize, usize, bool)| {
            let ends = (self.class[*x], self.class[*y]);
            !joined && (ends == (a, b) || ends == (b, a))
        };
        // The shortest of all ways by a pair that is apart.
        let by = self.told.iter().filter(parts).map(|(x, y, _)| {
            let (x, y) = if self.class[*x] == a { (*x, *y) } else { (*y, *x) };
            let mut against = self.way(one, x);
            against.push((x, y));
            against.extend(self.way(y, other));
            against
        });
        Conflict { cell, made, against: by.min_by_key(Vec::len).unwrap_or_default() }
    }

    /// The fewest joined pairs that lead from one terminal to another of its class.
    fn way(&self, from: usize, to: usize) -> Vec<(usize, usize)> {
        let mut came: Vec<Option<(usize, usize)>> = vec![None; self.class.len()];
        let mut next = std::collections::VecDeque::from([from]);
        let mut seen = 1u32 << from;
        while let Some(here) = next.pop_front() {
            if here == to {
                break;
            }
            for (x, y, joined) in self.told.iter().filter(|(.., joined)| *joined) {
                debug_assert!(joined);
                for (at, beyond) in [(*x, *y), (*y, *x)] {
                    if at == here && seen >> beyond & 1 == 0 {
                        seen |= 1 << beyond;
                        came[beyond] = Some((here, beyond));
                        next.push_back(beyond);
                    }
                }
            }
        }
        let mut way = Vec::new();
        let mut here = to;
        while let Some(pair) = came[here] {
            way.push(pair);
            here = pair.0;
        }
        way.reverse();
        way
    }
}
