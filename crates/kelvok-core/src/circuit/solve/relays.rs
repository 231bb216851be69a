//! Which relays are pulled.

/// Which coils have pulled in: bit `c` stands for coil `c`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Relays(pub u64);

impl Relays {
    pub fn pulled(self, coil: usize) -> bool {
        self.0 >> coil & 1 == 1
    }
}
