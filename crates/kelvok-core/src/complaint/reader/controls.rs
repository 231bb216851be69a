//! What is said of the controls: one moved, or where it stands.

use super::text::Text;
use crate::circuit::Circuit;
use crate::complaint::symptom::At;
use crate::machine::Control;
use regex::Regex;
use std::sync::LazyLock;

/// What was said of one.
#[derive(Clone, Debug)]
pub(super) struct Said {
    pub at: At,
    /// It was moved there: "when I get off"; else it stands there: "brake set".
    pub moved: bool,
    /// Where in the text it was said.
    pub from: usize,
}

/// What a control is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Role {
    Seat,
    Brake,
    Blades,
    Left,
    Right,
    Levers,
    Pedal,
    Gear,
    Key,
    Bail,
    Bagger,
    Deflector,
    Deck,
    Stop,
}

impl Role {
    /// Whether a control is for that, by its name.
    fn is(self, control: &Control) -> bool {
        let name = format!("{} {}", control.id, control.name).to_lowercase();
        let has = |words: &[&str]| words.iter().any(|w| name.contains(w));
        let blades = has(&["blade", "pto"]);
        match self {
            Self::Seat => has(&["seat"]),
            Self::Brake => has(&["brake"]) && !has(&["pedal"]),
            Self::Blades => blades,
            Self::Left => has(&["left"]),
            Self::Right => has(&["right"]),
            Self::Levers => has(&["left", "right"]),
            Self::Pedal => has(&["pedal", "clutch"]) && !blades && !has(&["drive"]),
            Self::Gear => !blades && (has(&["lever", "range", "gear", "drive"])),
            Self::Key => has(&["key", "switch"]),
            Self::Bail => has(&["bail"]),
            Self::Bagger => has(&["bagger"]),
            Self::Deflector => has(&["deflector", "chute"]),
            Self::Deck => has(&["deck"]) && !blades,
            Self::Stop => has(&["stop"]),
        }
    }
}

/// Whether a control drives the blades, or whatever is driven.
pub(super) fn drives(control: &Control) -> bool {
    Role::Blades.is(control)
}

/// Whether a control is the key, or the switch in its place.
pub(super) fn is_key(control: &Control) -> bool {
    Role::Key.is(control)
}

struct Phrase {
    pattern: Regex,
    /// The first of these that the machine has is meant.
    roles: &'static [Role],
    /// The first of these that the control has is meant.
    positions: &'static [&'static str],
    moved: bool,
}

/// What the engine drives, as people call it.
pub(super) const DRIVEN: &str = r"(?:mower deck|cutting deck|mowing deck|blades?|pto(?: shaft)?|electric clutch|pto clutch|blade clutch|cutters?|mowers? blades?|deck)";

const OFF: &[&str] = &["off", "out", "released", "empty", "disengaged"];
const ON: &[&str] = &["on", "in", "held", "engaged"];

static PHRASES: LazyLock<Vec<Phrase>> = LazyLock::new(|| {
    let the = r"(?: the| my| that| its| your)?";
    let brake = r"(?: parking| park| hand| p)? brake(?: handle| lever)?";
    let pedal = r"(?: clutch| brake)? (?:pedal|clutch)";
    let lever = r"(?: lap| steering| control| drive| motion)? (?:bars?|levers?|sticks?|handles?)";
    let knob = r"(?: switch| knob| lever| button)?";
    let make = |pattern: String, roles, positions, moved| Phrase {
        pattern: Regex::new(&pattern).expect("a pattern"),
        roles,
        positions,
        moved,
    };
    let push =
        r"(?:push|press|stepp?|stomp|mash|hold|depress)(?:s|es|ing|ed)?(?: down)?(?: on| in)?";
    vec![
        // Not done is the other way.
        make(format!(r"\bwithout {push}{the} (?:brake|clutch|pedal|brake pedal|clutch pedal)(?: down| in)?\b"), &[Role::Pedal, Role::Brake], &["up", "off"], false),
        make(r"\b(?:without|no|nobody|no one|with nobody|with no one)(?: anyone| anybody| somebody| me| one)? (?:on|in) (?:it|the seat|the machine)\b".to_owned(), &[Role::Seat], OFF, false),
        make(format!(r"\b{push}{the} (?:brake|clutch|pedal|brake pedal|clutch pedal)(?: down| in)?\b"), &[Role::Pedal, Role::Brake], &["down", "on"], true),
        make(format!(r"\b(?:let|lets|letting|come|comes|coming|came|release|releases|released|releasing|ease|take|takes|taking)(?: my foot)?(?: up| off| out| go| of| on)*{the}{pedal}(?: pedal)?(?: up| out| off| go)?\b"), &[Role::Pedal], &["up"], true),
        make(r"\b(?:clutch pedal|brake pedal|clutch|pedal)(?: is| was)? (?:up|out|released)\b".to_owned(), &[Role::Pedal], &["up"], false),
        make(r"\b(?:clutch pedal|brake pedal|clutch|pedal)(?: is| was)? (?:down|in|pushed|pushed in)\b".to_owned(), &[Role::Pedal], &["down"], false),
        make(format!(r"\b(?:release|releases|releasing|let off|lets off|let go of|let|lets|letting|take|takes|took|taking|drop|drops|disengage|disengages|unset|undo)(?: off)?{the}{brake}(?: off| go| out| down)?\b"), &[Role::Brake, Role::Pedal], &["off", "released", "up"], true),
        make(format!(r"\b(?:set|sets|setting|apply|applies|put|puts|pull|pulls|engage)(?: on| up)?{the}{brake}(?: on| up)?\b"), &[Role::Brake, Role::Pedal], &["on", "set", "down"], true),
        make(r"\b(?:parking |park |hand )?brake(?: lever| handle)?(?: is| was| being)? (?:off|released|not set|unset|disengaged)\b".to_owned(), &[Role::Brake, Role::Pedal], &["off", "released", "up"], false),
        make(r"\b(?:parking |park |hand )?brake(?: lever| handle)?(?: is| was| being)? (?:on|set|engaged|applied)\b".to_owned(), &[Role::Brake, Role::Pedal], &["on", "set", "down"], false),
        make(
            format!(
                r"\b(?:turn|turns|turning|switch|switches|shut|shuts|flip|flips|kick)(?:{the} (?:{DRIVEN}|them){knob} off| off{the} (?:{DRIVEN}|them))\b|\bdisengag(?:e|es|ing){the} {DRIVEN}{knob}\b"
            ),
            &[Role::Blades],
            OFF,
            true,
        ),
        make(format!(r"\b(?:engage|engages|engaging|turn|turns|turning|switch|switches|flip|flips|kick|kicks|pull|pulls|pulling|put|puts|start|starts|hit|hits|throw)(?: on| in| out| up| to)?{the} {DRIVEN}{knob}(?: on| in| out| up| go)?\b"), &[Role::Blades], ON, true),
        make(format!(r"\b{DRIVEN}{knob}(?: gets?| got| goes?| comes?| kicks?)? (?:on|in|engaged|engage|engages)\b"), &[Role::Blades], ON, false),
        make(format!(r"\b{DRIVEN}{knob}(?: is| are| was| were)? (?:on|in|engaged|running|turning|spinning)\b"), &[Role::Blades], ON, false),
        make(format!(r"\b{DRIVEN}{knob}(?: is| are| was| were)? (?:off|out|disengaged)\b"), &[Role::Blades], OFF, false),
        make(format!(r"\b(?:move|moves|pull|pulls|push|pushes|bring|brings|put|puts|swing)(?: in)?{the} left{lever}(?: in)?\b"), &[Role::Left], ON, true),
        make(format!(r"\b(?:move|moves|pull|pulls|push|pushes|bring|brings|put|puts|swing)(?: in)?{the} right{lever}(?: in)?\b"), &[Role::Right], ON, true),
        make(format!(r"\b(?:move|moves|pull|pulls|push|pushes|bring|brings|put|puts|swing)(?: in| both)*{the}{lever} in\b"), &[Role::Levers], ON, true),
        make(format!(r"\b(?:left)(?:{lever})(?: is)? in\b"), &[Role::Left], ON, false),
        make(format!(r"\b(?:right)(?:{lever})(?: is)? in\b"), &[Role::Right], ON, false),
        make(r"\b(?:get|gets|getting|got|hop|hops|hopping|climb|climbs|climbing|jump|jumps|step|steps|stepping|slide|slides|im|am|come)(?: up)?(?: off| out)(?: of)?(?: (?:it|(?:the|my) (?:seat|mower|machine|tractor)))?\b".to_owned(), &[Role::Seat], OFF, true),
        make(r"\b(?:stand|stands|standing|stood|get|gets|getting|got|raise|raises|rise|rises|lean|leans|lift|lifts)(?: myself)? up(?: off(?: of)? (?:the|my) seat)?\b".to_owned(), &[Role::Seat], OFF, true),
        make(r"\b(?:out of|off of|off|leave|leaves|leaving|leaves) (?:the|my) seat\b".to_owned(), &[Role::Seat], OFF, true),
        make(r"\b(?:seat(?: is)? empty|nobody (?:on|in)(?: it| the seat)?|dismount(?:s|ing)?)\b".to_owned(), &[Role::Seat], OFF, true),
        make(r"\b(?:sit|sits|sitting)(?: down| on(?: it| the seat)?| in(?: the seat)?)?\b".to_owned(), &[Role::Seat], &["on"], true),
        make(r"\b(?:shift|shifts|shifting|put|puts|go|goes|going|move|moves|kick)?(?: it)?(?: in| into| to| through) reverse\b|\bback(?:s|ing|ed)?(?: it| her)? up\b|\bgo(?:ing|es)? backwards?\b".to_owned(), &[Role::Gear], &["reverse", "R"], true),
        make(format!(r"\b(?:go|goes|going|push|pushes|shift|shifts|move|moves|put|puts)(?:{the} (?:drive )?(?:pedal|lever)| it)?(?: in| into| to)? forward\b"), &[Role::Gear], &["forward", "gear", "F"], true),
        make(r"\b(?:put|puts|shift|shifts|drop|drops)(?: it)? (?:in|into) gear\b".to_owned(), &[Role::Gear], &["gear", "forward"], true),
        make(r"\b(?:in|left in) gear\b|\bnot in neutral\b|\bout of neutral\b".to_owned(), &[Role::Gear], &["gear", "forward"], false),
        make(r"\b(?:in|into) neutral\b|\bout of gear\b".to_owned(), &[Role::Gear], &["neutral", "N"], false),
        make(format!(r"\b(?:let|lets|letting|release|releases|releasing|drop)(?: go)?(?: of)?{the} (?:bail|handle|blade control)(?: go)?\b"), &[Role::Bail], OFF, true),
        make(r"\b(?:bail|handle)(?: is)? (?:released|let go|up)\b".to_owned(), &[Role::Bail], OFF, false),
        make(r"\b(?:take|takes|pull|pulls|remove|removes) (?:off )?the bagger(?: off)?\b|\bbagger(?: is)? off\b".to_owned(), &[Role::Bagger], OFF, true),
        make(r"\b(?:raise|raises|lift|lifts) the (?:deflector|chute)\b|\b(?:deflector|chute)(?: is)? up\b".to_owned(), &[Role::Deflector], &["up"], true),
        make(r"\b(?:raise|raises|lift|lifts) the deck\b|\bdeck(?: is)? (?:up|raised)\b".to_owned(), &[Role::Deck], &["raised", "up"], true),
        make(r"\bpull(?:s|ing|ed)?(?: out)? the stop(?: knob)?\b|\bstop knob\b".to_owned(), &[Role::Stop], &["pulled", "out"], true),
        make(r"\b(?:turn|turns|turning|switch|switches|shut|shuts)(?: it| the key| the switch| the ignition| key)(?: to)? off\b|\b(?:turn|turns|shut|shuts) off the (?:key|switch|ignition)\b|\b(?:key|switch)(?: is| to)? off\b|\bkey (?:does|doesnt do|wont do) (?:nothing|anything|a thing)\b|\bwith the (?:key|switch)\b".to_owned(), &[Role::Key], &["off"], true),
        make(r"\bkey(?: is)?(?: just)? (?:on|to run|in run|to on)\b|\b(?:turn|turns|switch)(?: the)? key(?: just)? (?:on|to run|to on)\b".to_owned(), &[Role::Key], &["run", "on"], false),
    ]
});

/// Everything that is said of a machine's controls, in the order of the patterns.
pub(super) fn said(circuit: &Circuit, text: &mut Text) -> Vec<Said> {
    let controls = &circuit.document().controls;
    let mut all = Vec::new();
    for phrase in PHRASES.iter() {
        // Both levers are two controls, and which one it is they leave open.
        let at = phrase.roles.iter().map(|role| {
            let of_role = controls.iter().filter(|c| role.is(c));
            let at = of_role.filter_map(|c| {
                let mut wanted = phrase.positions.iter();
                let found = wanted.find_map(|w| {
                    c.positions
                        .iter()
                        .find(|p| p.id.eq_ignore_ascii_case(w) || p.name.eq_ignore_ascii_case(w))
                })?;
                Some(At { control: c.id.clone(), position: found.id.clone() })
            });
            at.take(if *role == Role::Levers { usize::MAX } else { 1 }).collect::<Vec<_>>()
        });
        let at = at.into_iter().find(|at| !at.is_empty()).unwrap_or_default();
        while let Some((from, _)) = text.take(&phrase.pattern) {
            // "even with the brake set" says where it stands.
            let stands = text.before(from, 3);
            let stands = stands.split(' ').any(|w| matches!(w, "with" | "even" | "though"));
            let moved = phrase.moved && !stands;
            all.extend(at.iter().cloned().map(|at| Said { at, moved, from }));
        }
    }
    all
}
