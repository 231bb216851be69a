//! Which relays are pulled.

/// Which coils have pulled in: bit `c` stands for coil `c`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Relays(pub u64);

impl Relays {
    /// Whether a coil, by its index into the circuit's, has pulled.
    pub fn pulled(self, coil: usize) -> bool {
        self.0 >> coil & 1 == 1
    }
}
