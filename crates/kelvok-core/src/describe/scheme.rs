//! How such a machine is usually wired: which contacts stand in which circuit.

use super::answers::Settled;

/// Something the operator moves that has a switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Device {
    Seat,
    Pedal,
    Brake,
    Left,
    Right,
    Drive,
    Lever,
    Bail,
    Blades,
    Reverse,
    Deck,
    Chute,
    Bagger,
}

/// What a pair of pins is for. It names the contacts, too.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Role {
    Start,
    /// Grounds the kill wire where the operator is away, or what is driven is on.
    Kill,
    /// Made while it is safe to leave, or somebody is there.
    Presence,
    /// In the clutch's feed.
    Clutch,
    /// Grounds the kill wire in reverse.
    Reverse,
    /// Grounds the kill wire where the brake is set and the machine is driven.
    Cross,
}

impl Role {
    pub fn id(self) -> &'static str {
        match self {
            Self::Start => "start",
            Self::Kill => "kill",
            Self::Presence => "presence",
            Self::Clutch => "clutch",
            Self::Reverse => "reverse",
            Self::Cross => "cross",
        }
    }
}

/// Contacts between two points.
#[derive(Clone, Debug)]
pub(super) enum Way {
    Contacts(Device, Role),
    Series(Vec<Way>),
    Either(Vec<Way>),
}

/// What stands in which circuit.
#[derive(Clone, Debug, Default)]
pub(super) struct Scheme {
    /// Every switch, with what its pairs of pins are for.
    pub switches: Vec<(Device, Vec<Role>)>,
    /// Between key and solenoid, all of them made to crank.
    pub start: Vec<Way>,
    /// Between what the start circuit feeds, a solenoid or a relay, and its ground.
    pub start_ground: Vec<Way>,
    /// From the kill wire to ground, each by itself.
    pub kill: Vec<Way>,
    /// What holds the presence relay, or is in the ignition's or fuel solenoid's feed.
    pub presence: Option<Way>,
    /// What holds the presence relay stands between it and its ground, rather than before it.
    pub presence_grounds: bool,
    /// From the feed to the clutch.
    pub clutch: Vec<Way>,
    pub start_relay: bool,
    pub presence_relay: bool,
}

impl Scheme {
    fn has(&self, device: Device, role: Role) -> bool {
        self.switches.iter().any(|(d, roles)| *d == device && roles.contains(&role))
    }

    /// Contacts of a device in this role, if it has them.
    fn contacts(&self, device: Device, role: Role) -> Option<Way> {
        self.has(device, role).then_some(Way::Contacts(device, role))
    }

    fn all(&self, devices: &[Device], role: Role) -> Vec<Way> {
        devices.iter().filter_map(|d| self.contacts(*d, role)).collect()
    }
}

/// Several ways as one; none of none.
fn either(mut ways: Vec<Way>) -> Option<Way> {
    match ways.len() {
        0 | 1 => ways.pop(),
        _ => Some(Way::Either(ways)),
    }
}

fn series(mut ways: Vec<Way>) -> Option<Way> {
    match ways.len() {
        0 | 1 => ways.pop(),
        _ => Some(Way::Series(ways)),
    }
}

/// How a machine of these answers is usually wired.
pub(super) fn scheme(answers: &Settled) -> Scheme {
    let held = held(answers);
    let magneto = is_magneto(answers);
    let electric = answers.is("blades", "switch");
    let mut scheme = Scheme { switches: switches(answers, held), ..Scheme::default() };
    scheme.start_relay = matches!(answers.get("relays"), "1" | "2");
    scheme.presence_relay = magneto && held == Some(Role::Presence);
    use Device::*;
    let order = [Seat, Blades, Brake, Pedal, Drive, Lever, Left, Right, Bail];
    scheme.start = scheme.all(&order, Role::Start);

    let leaving = [Pedal, Brake, Drive, Lever, Blades];
    match held {
        Some(Role::Presence) => {
            let safe = series(scheme.all(&leaving, Role::Presence));
            let seated = scheme.contacts(Seat, Role::Presence);
            scheme.presence = seated.map(|seated| match safe {
                Some(safe) => Way::Either(vec![seated, safe]),
                None => seated,
            });
        }
        _ => {
            let away = either(scheme.all(&leaving, Role::Kill));
            let seat = scheme.contacts(Seat, Role::Kill);
            let deck = scheme.all(&[Blades, Deck], Role::Kill);
            match (seat, away) {
                (Some(seat), Some(away)) => scheme.kill.push(Way::Series(vec![away, seat])),
                (Some(seat), None) => scheme.kill.push(seat),
                (None, _) if deck.len() == 2 => scheme.kill.extend(series(deck)),
                // Nobody knows whether somebody sits on it.
                (None, _) => {}
            }
        }
    }
    if magneto {
        let backing = [Blades, Reverse].map(|d| scheme.contacts(d, Role::Reverse));
        scheme.kill.extend(series(backing.into_iter().flatten().collect()));
        let bars = either(scheme.all(&[Left, Right], Role::Cross));
        let driven = bars.or_else(|| scheme.contacts(Drive, Role::Cross));
        if let (Some(driven), Some(set)) = (driven, scheme.contacts(Brake, Role::Cross)) {
            scheme.kill.push(Way::Series(vec![driven, set]));
        }
        scheme.kill.extend(scheme.contacts(Bail, Role::Kill));
    }
    if electric {
        scheme.clutch = scheme.all(&[Blades, Seat, Reverse], Role::Clutch);
        scheme.clutch.extend(either(scheme.all(&[Chute, Bagger], Role::Clutch)));
    }
    scheme
}

fn is_magneto(answers: &Settled) -> bool {
    matches!(answers.get("spark"), "module" | "two-modules")
}

/// What stops the engine where the operator is away: the kill wire grounded; a relay or the feed itself
/// let go, with no kill wire or with a second relay, that is for it; or nothing electric.
fn held(answers: &Settled) -> Option<Role> {
    let second = answers.is("relays", "2") && answers.pairs("seat") > 0;
    match is_magneto(answers) {
        true if second => Some(Role::Presence),
        true => Some(Role::Kill),
        false if answers.is("spark", "coil") || answers.is("stops", "solenoid") => {
            Some(Role::Presence)
        }
        false => None,
    }
}

/// What the pairs of pins of each switch are for.
fn switches(answers: &Settled, held: Option<Role>) -> Vec<(Device, Vec<Role>)> {
    use Device::*;
    use Role::*;
    let electric = answers.is("blades", "switch");
    // Contacts that stop nothing electric are in the start circuit, where all else is.
    let held = held.unwrap_or(Start);
    let mut all = Vec::new();
    let mut add = |device, pairs: usize, roles: &[Role]| {
        let mut own: Vec<Role> = Vec::new();
        for role in roles.iter().take(pairs) {
            if !own.contains(role) {
                own.push(*role);
            }
        }
        let roles = own;
        if !roles.is_empty() {
            all.push((device, roles));
        }
    };
    let seat: &[Role] = if electric { &[held, Clutch] } else { &[held, Start] };
    add(Seat, answers.pairs("seat"), seat);
    let bail: &[Role] = if answers.is("bail", "two") { &[Start, Kill] } else { &[Kill] };
    add(Bail, if matches!(answers.get("bail"), "two" | "kill") { 2 } else { 0 }, bail);
    add(Pedal, answers.pairs("pedal"), &[Start, held]);
    add(Brake, answers.pairs("brake"), &[Start, held, Cross]);
    add(Left, answers.pairs("bars"), &[Start, Cross]);
    add(Right, answers.pairs("bars"), &[Start, Cross]);
    add(Drive, answers.pairs("drive"), &[Start, held, Cross]);
    add(Lever, answers.pairs("lever"), &[Start, held]);
    let blades: &[Role] = match (electric, answers.pairs("blade-switch")) {
        (true, 1) => &[Clutch],
        (true, 2) => &[Start, Clutch],
        (true, _) => &[Start, Clutch, held, Role::Reverse],
        (false, _) => &[Start, held, Role::Reverse],
    };
    add(Blades, answers.pairs("blade-switch"), blades);
    let blades_in_reverse =
        blades.iter().take(answers.pairs("blade-switch")).any(|r| *r == Role::Reverse);
    // Where the blade switch has no contacts for it, reverse takes the clutch off by itself.
    let backing: &[Role] =
        if blades_in_reverse || !electric { &[Role::Reverse] } else { &[Clutch] };
    add(Device::Reverse, usize::from(answers.is("reverse", "yes")), backing);
    add(Deck, usize::from(answers.is("deck", "yes")), &[Kill]);
    add(Chute, usize::from(matches!(answers.get("guards"), "chute" | "both")), &[Clutch]);
    add(Bagger, usize::from(answers.is("guards", "both")), &[Clutch]);
    all
}
