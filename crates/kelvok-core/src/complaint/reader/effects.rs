//! What is said that the machine does, or does not.

use super::controls::DRIVEN;
use super::text::Text;
use crate::complaint::symptom::Symptom;
use regex::Regex;
use std::sync::LazyLock;

/// One thing that the machine is said to do: one symptom, or those between which the words leave it open.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Effect {
    pub symptoms: Vec<Symptom>,
    /// Where in the text it was said.
    pub at: usize,
}

type Rule = (Regex, &'static [Symptom]);

const NOT: &str = r"(?:wont|will not|doesnt|does not|dont|do not|didnt|did not|cant|can not|cannot|never|not|refuses to|isnt|arent|fails to|no longer)";
const STARTS: &str = r"(?:cranks?|cranking|turns? over|rolls? over|starts?|starter (?:turns|spins|runs|engages|cranks)|fires? up)";
const DIES: &str = r"(?:dies|die|died|dying|quits?|quitting|stalls?|stalled|stalling|cuts? (?:out|off)|cutting out|shuts? (?:itself |it |her )?(?:off|down)|shutting (?:off|down)|goes dead|conks? out|stops(?: running)?|stopped running|stopped|turns? (?:itself )?off|kills?(?: (?:the (?:engine|motor)|itself|out))?|loses spark|dead engine)";

/// Said before the controls are looked for: with words that would be taken for a control moved.
static FIRST: LazyLock<Vec<Rule>> = LazyLock::new(|| {
    use Symptom::*;
    let off = r"(?:shut|turn|switch|kick|quit|stop|disengage)";
    rules(&[
        (
            r"\b(?:blows?|blew|blowing|blown|pops?|popping|popped|burns? (?:up|out)|melts?)\b(?: \w+){0,4}? fuses?\b",
            &[FuseBlows],
        ),
        (
            r"\bfuses?(?: \w+){0,3}? (?:blows?|blew|blown|blowing|pops?|popping|popped|burns? (?:up|out)|melts?)\b",
            &[FuseBlows],
        ),
        (
            r"\bbattery(?: \w+){0,3}? (?:flat|dead|drains?|draining|drained|runs? down|dies|died|low)\b(?: (?:every|over ?night|in the morning|if it sits|after sitting)(?: \w+)?)?",
            &[BatteryFlat],
        ),
        (
            r"\b(?:drains?|kills?|killing|runs? down) the battery\b|\bwont hold a charge\b|\bdead battery\b",
            &[BatteryFlat],
        ),
        (&format!(r"\b{NOT} {off}(?: off)? (?:the )?{DRIVEN}(?: off| down)?\b"), &[BladesWontStop]),
        (
            &format!(
                r"\b{DRIVEN}(?: \w+)? {NOT} (?:stop|quit|{off} off|disengage|kick out|let go)(?: spinning| turning)?\b"
            ),
            &[BladesWontStop],
        ),
        (
            &format!(
                r"\b{DRIVEN}(?: \w+){{0,2}}? (?:keeps? (?:on )?(?:running|spinning|turning|going)|stays? (?:on|engaged|running)|still (?:spins?|turns?|runs?))\b"
            ),
            &[BladesWontStop],
        ),
        (
            &format!(
                r"\b(?:{NOT}(?: get)?) (?:engage|turn on|spin|start|get)(?: the)? {DRIVEN}(?: (?:to )?(?:on|engage|spin|turn|going|come on))?\b"
            ),
            &[BladesWontEngage],
        ),
        (
            &format!(
                r"\b{DRIVEN}(?: \w+)? {NOT} (?:even )?(?:engage|come on|kick in|turn on|turn|spin|work|start|go on|run|engaging|working|turning|spinning|get power)\b"
            ),
            &[BladesWontEngage],
        ),
        (
            &format!(
                r"\b{DRIVEN} (?:quit|stopped|gave up) (?:working|engaging|coming on)\b|\bno (?:blades|pto)\b"
            ),
            &[BladesWontEngage],
        ),
        (
            &format!(
                r"\b{DRIVEN}(?: (?:just|will|would|sometimes|itself|themselves|keeps?|randomly)){{0,2}} (?:drops? out|dropping out|kicks? (?:out|off)|kicking (?:out|off)|cuts? (?:out|off)|cutting (?:out|off)|shuts? (?:off|down)|shutting off|stops?|quits?|disengages?|goes off|turns? off|comes? off)(?: by (?:itself|themselves)| on (?:its|their) own)?\b"
            ),
            &[BladesDropOut],
        ),
        (
            r"\b(?:cranks?|turns? over|spins?(?: over)?|rolls? over|starter (?:turns|spins|runs))\b(?: \w+){0,6}? (?:\| )?(?:but )?(?:it )?(?:wont|doesnt|does not|will not|never|no|not) (?:\w+ )?(?:starts?|fires?(?: up| off)?|catch(?:es)?|lights?|runs?|hits?|spark|pops?|starting|firing)\b",
            &[CranksNoFire],
        ),
        (
            r"\b(?:wont|doesnt|will not|does not) (?:start|fire|catch|run)\b(?: \w+){0,3}? (?:\| )?(?:but|it|just)(?: \w+){0,2}? (?:cranks|turns over|spins over|rolls over|cranking)(?: fine| good| ok)?\b",
            &[CranksNoFire],
        ),
        (
            r"\b(?:no|without|has no|got no|lost) spark\b|\bno fire\b|\b(?:wont|doesnt|will not|does not) fire\b",
            &[CranksNoFire],
        ),
        (
            r"\b(?:cranks?|cranking|turns? over|starter(?: \w+)?|spins?(?: over)?)(?: over)?(?: \w+){0,2}? (?:slow|slowly|sluggish|lazy|drags?)\b|\bslow (?:to )?crank(?:ing)?\b|\b(?:barely|hardly) (?:turns over|cranks|turns|cranking|spins)\b|\bstarter drags\b|\bcranks like the battery is (?:weak|low|dead)\b",
            &[CranksSlowly],
        ),
        (
            &format!(
                r"\b(?:the )?(?:engine |motor |it |mower |tractor )?{NOT} (?:ever )?(?:shut(?: it| itself)? (?:off|down)|shut (?:off|down)|turn off|stop(?: running)?|die|quit|kill|shut off the engine)\b"
            ),
            &[WontShutOff],
        ),
        (
            r"\b(?:keeps?|kept) (?:right )?(?:on )?(?:running|going)(?: on)?\b|\bstill (?:runs|running)\b|\bstays? running\b|\bruns on\b|\bto kill it\b",
            &[WontShutOff],
        ),
    ])
});

/// Said after the controls were taken out.
static THEN: LazyLock<Vec<Rule>> = LazyLock::new(|| {
    use Symptom::*;
    rules(&[
        (
            r"\b(?:completely |totally |stone |all )?dead\b(?: as a \w+)?|\b(?:turns? |makes? )?(?:no|not a|not one|not even a|without a|not even one|nor a) (?:sound|noise|click|peep)(?: at all)?\b|\b(?:get |do |does |gives me )?(?:absolutely )?nothing(?: happens| at all)?\b|\b(?:doesnt|does not|wont) do (?:anything|nothing|a thing)(?: at all)?\b",
            &[Dead],
        ),
        (
            r"\b(?:chatter\w*|machine gun|rapid(?:ly)? click\w*|clicks? rapidly|click click(?: click)*|click(?:s|ing)? (?:like crazy|fast|real fast|over and over|repeatedly|away|on and off)|(?:bunch|lots) of clicks|ticks|ticking|buzzes)(?: real fast| fast)?\b",
            &[Chatters],
        ),
        (
            r"\b(?:just )?(?:one|single|1)(?: \w+){0,2}? (?:click|clunk|thunk|tick)\b|\bclicks? once\b|\b(?:a|loud) (?:loud )?(?:clunk|thunk)\b|\bclunks?\b",
            &[OneClick],
        ),
        (r"\b(?:just |only |it )?click(?:s|ing)?\b", &[OneClick, Chatters]),
        (
            &format!(
                r"\b{NOT} (?:even )?(?:crank|turn over|roll over|turn the (?:engine|motor)(?: over)?|spin over)(?: over)?\b|\bno crank\b|\bstarter {NOT} (?:turn|spin|work|engage|do anything|run)\b|\bstarter doesnt work\b"
            ),
            &[Dead, OneClick, Chatters, CranksSlowly],
        ),
        (
            &format!(r"\b{NOT} (?:even )?(?:start|starting|fire up|start up)\b"),
            &[Dead, OneClick, Chatters, CranksSlowly, CranksNoFire],
        ),
        (
            &format!(
                r"\b(?:will |it will |itll |can )?{STARTS}\b(?: \w+)? (?:by itself|on its own|when it shouldnt|whenever it wants|unasked)\b"
            ),
            &[CranksItself],
        ),
        (
            &format!(
                r"\b(?:will |it will |itll |can )?{STARTS}(?: \w+){{0,3}}? (?:with|without|even|in gear)\b"
            ),
            &[CranksItself],
        ),
        (&format!(r"\b{DIES}\b"), &[Dies]),
    ])
});

/// A starter verb, for where what stands beside it was said of a control.
static STARTS_SO: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(&format!(r"\b(?:will |itll |it will |can )?{STARTS}\b")).expect("a pattern")
});

fn rules(table: &[(&str, &'static [Symptom])]) -> Vec<Rule> {
    table
        .iter()
        .map(|(pattern, symptoms)| (Regex::new(pattern).expect("a pattern"), *symptoms))
        .collect()
}

fn take(rules: &[Rule], text: &mut Text, found: &mut Vec<Effect>) {
    for (pattern, symptoms) in rules {
        while let Some((at, _)) = text.take(pattern) {
            found.push(Effect { symptoms: symptoms.to_vec(), at });
        }
    }
}

pub(super) fn first(text: &mut Text) -> Vec<Effect> {
    let mut found = Vec::new();
    take(&FIRST, text, &mut found);
    found
}

pub(super) fn then(text: &mut Text, found: &mut Vec<Effect>) {
    take(&THEN, text, found);
}

/// Whether it starts where the controls stand as they were said to.
pub(super) fn starts_so(text: &mut Text, found: &mut Vec<Effect>) {
    if let Some((at, _)) = text.take(&STARTS_SO) {
        found.push(Effect { symptoms: vec![Symptom::CranksItself], at });
    }
}

/// What is left when what says less gives way to what says more: "won't crank, one click".
pub(super) fn settle(mut found: Vec<Effect>) -> Vec<Effect> {
    found.sort_by_key(|e| (e.symptoms.len(), e.at));
    let mut kept: Vec<Effect> = Vec::new();
    for effect in found {
        let said = kept.iter().any(|k| k.symptoms.iter().all(|s| effect.symptoms.contains(s)));
        if !said {
            kept.push(effect);
        }
    }
    // "Dead, not a click" beside "won't start": said once.
    kept
}
