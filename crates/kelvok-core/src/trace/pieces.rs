//! What hangs together: ends joined one pair after another (a forest of sets, paths halved).

/// Ends, each in a piece.
pub(super) struct Pieces(Vec<usize>);

impl Pieces {
    /// So many ends, each by itself.
    pub fn new(ends: usize) -> Self {
        Self((0..ends).collect())
    }

    /// The piece that an end is in, by one of its ends.
    pub fn of(&mut self, mut end: usize) -> usize {
        while self.0[end] != end {
            self.0[end] = self.0[self.0[end]];
            end = self.0[end];
        }
        end
    }

    /// Two ends are joined.
    pub fn join(&mut self, (a, b): (usize, usize)) {
        let (from, to) = (self.of(a), self.of(b));
        self.0[from] = to;
    }

    /// By end a number of its piece.
    pub fn labels(mut self) -> Vec<u16> {
        (0..self.0.len()).map(|end| self.of(end) as u16).collect()
    }
}
