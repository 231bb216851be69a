//! The machines that ship with Kelvok; each is a document in `machines/`.

/// A shipped machine: its name in the library and its document.
pub struct Shipped {
    pub name: &'static str,
    pub text: &'static str,
}

/// Every shipped machine.
pub const LIBRARY: [Shipped; 2] = [
    Shipped {
        name: "pellwick-gt-46",
        text: include_str!("../../../../machines/pellwick-gt-46.json"),
    },
    Shipped { name: "kelvok-r1", text: include_str!("../../../../machines/kelvok-r1.json") },
];
