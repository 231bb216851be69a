//! What a key switch's terminals are for, by the logic of its positions alone: where no profile
//! fits.

use super::assignments::bits;
use crate::bench::found::FoundTable;
use crate::bench::profile::Function;

/// What a position is for, by its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Role {
    Stop,
    Run,
    Start,
    Heat,
    Lights,
}

impl Role {
    pub fn of(name: &str) -> Self {
        let name = name.to_lowercase();
        let says = |words: &[&str]| words.iter().any(|w| name.contains(w));
        match () {
            () if says(&["off", "stop"]) => Self::Stop,
            () if says(&["start", "crank"]) => Self::Start,
            () if says(&["heat", "glow"]) => Self::Heat,
            () if says(&["light"]) => Self::Lights,
            () => Self::Run,
        }
    }
}

/// By terminal, what it may be for; nothing where it was joined to no other.
///
/// Of what was found joined: a pair made with the switch off, and never fed, is kill and ground; what
/// is joined in start alone is the starter's, unless there are more such; what is joined in run and
/// in start is the supply, or is fed by it; what start drops is an accessory. Every one is a
/// candidate, and the machine's wires decide.
pub fn by_logic(table: &FoundTable) -> Vec<Vec<Function>> {
    let terminals = table.terminals().len();
    let roles: Vec<Role> = table.positions().iter().map(|name| Role::of(name)).collect();
    let joined: Vec<Vec<u16>> = (0..roles.len()).map(|p| classes(table, p)).collect();
    // With whom a terminal is joined in positions of a role.
    let with = |terminal: usize, role: Role| {
        let positions = roles.iter().zip(&joined).filter(|(own, _)| **own == role);
        positions.fold(0u16, |all, (_, classes)| all | classes[terminal])
    };
    let in_role = |terminal: usize, role: Role| with(terminal, role) != 0;
    let stopped = (0..terminals).filter(|t| in_role(*t, Role::Stop)).fold(0, |s, t| s | 1u16 << t);
    let live = |t: usize| {
        [Role::Run, Role::Start, Role::Heat, Role::Lights]
            .into_iter()
            .fold(0, |all, role| all | with(t, role))
    };
    let start_alone = |t: usize| {
        let others = [Role::Stop, Role::Run, Role::Heat, Role::Lights];
        in_role(t, Role::Start) && !others.into_iter().any(|role| in_role(t, role))
    };
    let starters = (0..terminals).filter(|t| start_alone(*t)).count();
    let function = |t: usize| {
        let grounds = stopped >> t & 1 == 1 && bits(live(t)).all(|other| stopped >> other & 1 == 1);
        let [run, start, heat, lights] =
            [Role::Run, Role::Start, Role::Heat, Role::Lights].map(|role| in_role(t, role));
        match () {
            () if grounds => vec![Function::Kill, Function::Ground],
            () if stopped >> t & 1 == 1 && (run || start) => {
                vec![Function::Regulator, Function::Accessory]
            }
            () if start_alone(t) && starters == 1 => vec![Function::Starter],
            () if start_alone(t) => vec![Function::Starter, Function::Heat, Function::Ignition],
            () if run && start => {
                vec![Function::Supply, Function::Ignition, Function::Accessory, Function::Regulator]
            }
            () if heat && !run => vec![Function::Heat],
            () if lights && !run => vec![Function::Lights, Function::Accessory],
            () if run => vec![Function::Accessory, Function::Lights, Function::Supply],
            () => Vec::new(),
        }
    };
    (0..terminals).map(function).collect()
}

/// By terminal, the others that it is joined to in a position.
fn classes(table: &FoundTable, position: usize) -> Vec<u16> {
    let mut joined = vec![0; table.terminals().len()];
    for class in table.joined(position).0.classes() {
        let all = class.iter().fold(0, |all, t| all | 1u16 << t);
        for terminal in class {
            joined[terminal] = all & !(1 << terminal);
        }
    }
    joined
}

impl Function {
    /// Every one, in order.
    pub const ALL: &[Self] = <Self as strum::VariantArray>::VARIANTS;

    /// As the trade says it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Supply => "supply",
            Self::Starter => "starter",
            Self::Kill => "kill",
            Self::Ground => "ground",
            Self::Accessory => "accessory",
            Self::Lights => "lights",
            Self::Regulator => "charge",
            Self::Heat => "glow plugs",
            Self::Ignition => "ignition",
            Self::Common => "common",
            Self::NormallyOpen => "NO",
            Self::NormallyClosed => "NC",
            Self::Contact => "contact",
        }
    }
}
