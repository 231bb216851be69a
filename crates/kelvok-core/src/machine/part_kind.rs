//! What is to be known of a kind of part, whoever asks: a row a kind.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What a part is.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    JsonSchema,
    strum::VariantArray,
)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum PartKind {
    Battery,
    Fuse,
    KeySwitch,
    /// Any other switch that a hand works directly: PTO, lights.
    HandSwitch,
    InterlockSwitch,
    Solenoid,
    Relay,
    Starter,
    IgnitionModule,
    Clutch,
    FuelSolenoid,
    Lamp,
    HourMeter,
    Diode,
    /// A plain load or resistor.
    #[default]
    Resistance,
    /// A lug bolted to a body.
    Ground,
    /// A piece of metal that is one node: frame, engine block.
    Body,
    /// A plug: its cavities mate with terminals of another part.
    Connector,
    /// The fixed half of an in-line plug: terminals only.
    Socket,
    /// A breaker that closes again by itself once cold.
    Breaker,
    /// An electronic module: each coil is an input that sees volts, each contact an output.
    PresenceModule,
    /// The primary of a battery ignition coil, feed side first.
    IgnitionCoil,
    /// The points in the distributor or under the flywheel: to its own body.
    BreakerPoints,
    /// The winding of an alternator: alternating volts while the engine runs.
    Stator,
    /// Rectifier and regulator: its coil sees the stator, its output charges.
    Regulator,
    /// A starter-generator: terminals armature and field, its own body.
    Generator,
    GlowPlug,
    /// In line, with two terminals; or round a wire, with none.
    Ammeter,
}

/// The kind of thing a fault sits in, as closed jobs are counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SiteKind {
    Switch,
    Key,
    Relay,
    Plug,
    Wire,
    Ground,
    Fuse,
    Battery,
    Linkage,
    Starter,
    Ignition,
    Charging,
    Other,
}

/// What an operator notices of the machine when a part of this kind is fed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Shows {
    /// The engine is turned.
    Starter,
    /// The engine fires, or goes on running.
    Engine,
    /// The blades are driven.
    Blades,
    /// It gives light, or glows.
    Lamp,
}

/// What moves a switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum MovedBy {
    /// A hand, directly: its contacts are made in positions of a control.
    Hand,
    /// A plunger, which a linkage or a hand presses.
    Plunger,
}

/// A row of the table.
struct Kind {
    words: &'static str,
    site: SiteKind,
    shows: Option<Shows>,
    moved_by: Option<MovedBy>,
    contact_amps: Option<f64>,
}

impl Kind {
    const fn new(words: &'static str, site: SiteKind) -> Self {
        Self { words, site, shows: None, moved_by: None, contact_amps: None }
    }

    const fn showing(self, shows: Shows) -> Self {
        Self { shows: Some(shows), ..self }
    }

    const fn moved_by(self, by: MovedBy) -> Self {
        Self { moved_by: Some(by), ..self }
    }

    const fn carrying(self, amps: f64) -> Self {
        Self { contact_amps: Some(amps), ..self }
    }
}

impl PartKind {
    /// Every kind, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    const fn row(self) -> Kind {
        match self {
            Self::Battery => Kind::new("battery", SiteKind::Battery),
            Self::Fuse => Kind::new("fuse", SiteKind::Fuse),
            Self::KeySwitch => {
                Kind::new("key switch", SiteKind::Key).moved_by(MovedBy::Hand).carrying(20.0)
            }
            Self::HandSwitch => {
                Kind::new("hand switch", SiteKind::Switch).moved_by(MovedBy::Hand).carrying(10.0)
            }
            Self::InterlockSwitch => Kind::new("interlock switch", SiteKind::Switch)
                .moved_by(MovedBy::Plunger)
                .carrying(10.0),
            Self::Solenoid => Kind::new("solenoid", SiteKind::Relay).showing(Shows::Starter),
            Self::Relay => Kind::new("relay", SiteKind::Relay).carrying(30.0),
            Self::Starter => Kind::new("starter", SiteKind::Starter).showing(Shows::Starter),
            Self::IgnitionModule => Kind::new("ignition module", SiteKind::Ignition),
            Self::Clutch => Kind::new("electric clutch", SiteKind::Other).showing(Shows::Blades),
            Self::FuelSolenoid => {
                Kind::new("fuel solenoid", SiteKind::Other).showing(Shows::Engine)
            }
            Self::Lamp => Kind::new("lamp", SiteKind::Other).showing(Shows::Lamp),
            Self::HourMeter => Kind::new("hour meter", SiteKind::Other),
            Self::Diode => Kind::new("diode", SiteKind::Other),
            Self::Resistance => Kind::new("resistor", SiteKind::Other),
            Self::Ground => Kind::new("ground point", SiteKind::Ground),
            Self::Body => Kind::new("metal body", SiteKind::Other),
            Self::Connector => Kind::new("plug", SiteKind::Plug),
            Self::Socket => Kind::new("in-line plug", SiteKind::Plug),
            Self::Breaker => Kind::new("breaker", SiteKind::Fuse),
            Self::PresenceModule => Kind::new("presence module", SiteKind::Relay),
            Self::IgnitionCoil => {
                Kind::new("ignition coil", SiteKind::Ignition).showing(Shows::Engine)
            }
            Self::BreakerPoints => Kind::new("breaker points", SiteKind::Ignition),
            Self::Stator => Kind::new("stator", SiteKind::Charging),
            Self::Regulator => Kind::new("regulator", SiteKind::Charging),
            Self::Generator => {
                Kind::new("starter-generator", SiteKind::Starter).showing(Shows::Starter)
            }
            Self::GlowPlug => Kind::new("glow plug", SiteKind::Other).showing(Shows::Lamp),
            Self::Ammeter => Kind::new("ammeter", SiteKind::Other),
        }
    }

    /// What the trade calls it.
    pub const fn words(self) -> &'static str {
        self.row().words
    }

    /// As what a fault in it is counted.
    pub const fn site(self) -> SiteKind {
        self.row().site
    }

    /// What an operator notices when it is fed; `None` where that shows nowhere by itself.
    pub const fn shows(self) -> Option<Shows> {
        self.row().shows
    }

    /// What moves it, if it is a switch.
    pub const fn moved_by(self) -> Option<MovedBy> {
        self.row().moved_by
    }

    /// Whether it is a switch.
    pub const fn is_switch(self) -> bool {
        self.moved_by().is_some()
    }

    /// What a contact of it is usually rated to carry, in amperes; `None` of what has none, and of a
    /// starter solenoid, whose own contact is judged by its drop.
    pub const fn contact_amps(self) -> Option<f64> {
        self.row().contact_amps
    }
}
