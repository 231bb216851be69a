//! The machines that ship with Kelvok; each is a document in `machines/`.

/// A shipped machine: its name in the library and its document.
#[allow(missing_docs)]
pub struct Shipped {
    pub name: &'static str,
    pub text: &'static str,
}

macro_rules! shipped {
    ($($name:literal),* $(,)?) => {
        [$(Shipped {
            name: $name,
            text: include_str!(concat!("../../../../machines/", $name, ".json")),
        }),*]
    };
}

/// Every shipped machine.
pub const LIBRARY: [Shipped; 12] = shipped![
    "pellwick-gt-46",
    "pellwick-r-30",
    "dunmarrow-z-52",
    "dunmarrow-z-60m",
    "dunmarrow-f-60",
    "tarnbeck-c-24d",
    "tarnbeck-u-17d",
    "tarnbeck-t-40",
    "corrieford-8-speed",
    "hexley-walk-50",
    "hexley-w-21e",
    "kelvok-r1",
];
