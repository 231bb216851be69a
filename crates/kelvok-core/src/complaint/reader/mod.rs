//! Reads what a customer says: one sentence, in the words people use, to what a machine can have.
//!
//! It looks for what the machine does, what was moved when it does that, how the other controls stand,
//! how often, since when, what was done before and what still works. What the words leave open it
//! leaves open; what it makes nothing of it says. It guesses nothing.

mod controls;
mod effects;
mod text;

use super::menu::{Menu, Offer, Telling};
use super::symptom::{At, Symptom, When};
use crate::circuit::{Circuit, Condition, LampState, Relays, by_moves, operating_point};
use crate::diagnosis::{Entry, ObservationEntry, Unit, Work, lamp_part};
use crate::machine::{Control, Part, PartKind};
use controls::Said;
use effects::Effect;
use regex::Regex;
use std::collections::BTreeSet;
use std::sync::LazyLock;
use text::Text;

/// What a sentence comes to on a machine.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Understood {
    /// What it complains of, each sure or with what it may be.
    pub complaints: Vec<Complaint>,
    /// Two of them cannot both be: a machine that will not crank does not die.
    pub clash: bool,
    /// A good machine does that too, when set like that.
    pub normal: bool,
    /// It comes and goes.
    pub at_times: bool,
    /// How often, times an hour of running.
    pub times_an_hour: Option<f64>,
    /// Since when, in its own words.
    pub since: Option<String>,
    /// What still works, as entries.
    pub works: Vec<Entry>,
    /// What was done to it before.
    pub worked_on: Vec<(Unit, Work)>,
    /// What nothing was made of.
    pub left: Vec<String>,
}

/// One thing complained of: sure if there is one telling, else the words leave it open.
#[derive(Clone, Debug, PartialEq)]
pub struct Complaint {
    /// What it may be; at least one.
    pub may_be: Vec<(Symptom, Telling)>,
}

impl Complaint {
    /// What it is, where the words leave nothing open.
    pub fn sure(&self) -> Option<&(Symptom, Telling)> {
        match &self.may_be[..] {
            [one] => Some(one),
            _ => None,
        }
    }
}

fn pattern(text: &str) -> Regex {
    Regex::new(text).expect("a pattern")
}

static AT_TIMES: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:sometimes|some times|once in a while|now and then|now and again|off and on|on and off|every so often|occasionally|intermittent(?:ly)?|(?:at )?random(?:ly)?|for no reason|here and there|some days)\b",
    )
});
static AN_HOUR: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:about |maybe |around )?(once|twice|one time|two times|three times|\d+ ?(?:x|times)) (?:an|a|per|every) hour\b",
    )
});
static HOT: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:when|once|if|after|till|until)?(?: its| it is| it gets| it)?(?: good and| really| good)? ?(?:hot|warm|warms up|warmed up|heats up|heated up)\b|\bafter(?: about| around| maybe)? (?:\w+ )?(?:minutes?|mins?|half an hour|an hour|hours?|a while)\b|\bafter (?:about )?(?:half )?(?:an? )?(?:hour|while)\b|\bonce it cools\b",
    )
});
static BUMPS: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:going |goes |when i go )?(?:over |on |hits? |hit )?(?:a |the )?(?:bumps?|bumpy|rough ground|rough (?:lawn|terrain|yard)|holes?|roots?|ruts?|curbs?)(?: ground)?\b",
    )
});
static SINCE: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:(?:it )?started(?: doing (?:it|this|that))?|began|since|for)(?: about| ever)? (?:\w+ )?(?:a |the |last |this )?(?:\w+ )?(?:minutes?|hours?|days?|weeks?|months?|years?|yesterday|morning|night|spring|summer|fall|winter|season)(?: ago| now)?\b|\b(?:yesterday|(?:last|this) (?:week|month|year|night|spring|summer|fall|winter|season)|all of a sudden|suddenly|ever since [a-z ]+)\b",
    )
});
static LIGHTS: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:the )?(?:head ?)?lights?(?: \w+)? (?:work|works|come on|comes on|are bright|are fine|bright|burn|fine)\b|\b(?:have|got) lights\b",
    )
});
static RUNS_FINE: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:engine |motor |it |she )?(?:runs?|starts?(?: up)?(?: and runs)?|cranks?)(?: \w+)? (?:fine|great|good|ok|okay|perfect|perfectly|again)\b",
    )
});
static DONE: LazyLock<Vec<(Regex, Work)>> = LazyLock::new(|| {
    let on = |verbs: &str| {
        pattern(&format!(
            r"\b(?:{verbs}) (?:the |a |an |my |in a |out the )?(?:new )?(?P<part>\w+(?: \w+){{0,2}})"
        ))
    };
    vec![
        (
            on("replaced|changed|swapped|put in a new|put on a new|installed|put a new|new"),
            Work::Replaced,
        ),
        (on("jumped|jumpered|bypassed|hot ?wired|jumped out|jumped across"), Work::Jumped),
        (on("cut|spliced|unplugged|disconnected"), Work::Cut),
    ]
});
static WHEN: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:when|whenever|if|as soon as|soon as|the minute|the second|every time|each time|any ?time|while|going|till|until)\b",
    )
});
static USED: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\b(?:you |i )?(?:turn|turns|turning|hit|hits|twist|twists)(?: the| my)? (?:key|switch|ignition)(?: over| to start)?\b|\b(?:you |i )?(?:try|tries|go|goes|going) (?:to )?(?:start|crank|turn|use)(?: (?:it|the engine|her))?(?: over)?\b|\b(?:im |i am )?(?:mowing|cutting(?: grass)?|driving|running|using it|working)\b",
    )
});

/// Reads a sentence, on a machine.
pub fn read(circuit: &Circuit, sentence: &str) -> Understood {
    let mut text = Text::read(sentence);
    let worked_on = worked_on(circuit, &mut text);
    let mut out = Understood { worked_on, ..Understood::default() };
    let mut found = effects::first(&mut text);
    let said = controls::said(circuit, &mut text);
    out.times_an_hour = an_hour(&mut text);
    out.at_times = text.take(&AT_TIMES).is_some() || out.times_an_hour.is_some();
    let lights = text.take(&LIGHTS).is_some();
    let mut events: Vec<usize> = said.iter().filter(|s| s.moved).map(|s| s.from).collect();
    let hot = all(&mut text, &HOT, &mut events);
    let bumps = all(&mut text, &BUMPS, &mut events);
    out.since = text.take(&SINCE).map(|(from, to)| text.plain()[from..to].trim().to_owned());
    text.take(&RUNS_FINE);
    effects::then(&mut text, &mut found);
    if found.is_empty() && said.iter().any(|s| !s.moved) {
        effects::starts_so(&mut text, &mut found);
    }
    let mut found = effects::settle(found);
    pto_that_does_nothing(circuit, &said, &mut found);
    events.extend(text.take(&USED).map(|(from, _)| from));
    // A "when" of which nothing was made leaves it open.
    let made = |from: usize| {
        let end = text.clause_end(from);
        events.iter().any(|at| (from..end).contains(at))
    };
    let open_when = !text.open(&WHEN).into_iter().all(made);
    let setting = Setting { hot, bumps, said };
    let mut menu = Menu::of(circuit);
    let offers = menu.offers();
    for effect in &found {
        let mut may_be = Vec::new();
        for symptom in setting.besides(&offers, &effect.symptoms) {
            let Some(offer) = offers.iter().find(|o| o.symptom == symptom) else { continue };
            let tellings = {
                let open = open_when || text.is_open(effect.at, text.clause_end(effect.at));
                setting.choose(&mut menu, symptom, &offer.tellings, (&text, open), &mut out.normal)
            };
            may_be.extend(tellings.into_iter().map(|t| (symptom, t)));
        }
        if !may_be.is_empty() {
            out.complaints.push(Complaint { may_be });
        }
    }
    out.clash = clash(&out.complaints);
    if out.at_times {
        for (_, telling) in out.complaints.iter_mut().flat_map(|c| &mut c.may_be) {
            if let Some(last) = telling.entries.last_mut() {
                last.at_times = true;
                last.times_an_hour = out.times_an_hour;
            }
        }
    }
    out.at_times |= out
        .complaints
        .iter()
        .any(|c| c.sure().is_some_and(|(_, t)| t.entries.iter().any(|e| e.at_times)));
    out.left = text.left_over();
    if lights {
        match lit(circuit) {
            Some(entry) => out.works.push(entry),
            None => out.left.push("lights work".to_owned()),
        }
    }
    out
}

/// When it does that, and how the controls stand.
struct Setting {
    hot: bool,
    bumps: bool,
    said: Vec<Said>,
}

/// Whether it is what the starter does, or the engine while it is cranked.
fn is_of_starting(symptom: Symptom) -> bool {
    use Symptom::{Chatters, CranksNoFire, CranksSlowly, Dead, OneClick};
    matches!(symptom, Dead | OneClick | Chatters | CranksSlowly | CranksNoFire)
}

impl Setting {
    /// What was said, and what else it may mean: "dead when I get off" may be an engine that dies.
    fn besides(&self, offers: &[Offer], said: &[Symptom]) -> Vec<Symptom> {
        let dies = offers.iter().find(|o| o.symptom == Symptom::Dies);
        let moved = |t: &Telling| self.said.iter().any(|s| s.moved && is_at(&t.when, &s.at));
        let may_die = dies.is_some_and(|o| o.tellings.iter().any(moved));
        let mut all = said.to_vec();
        if may_die && said.iter().all(|s| is_of_starting(*s)) {
            all.push(Symptom::Dies);
        }
        all
    }

    /// The tellings of a symptom that fit what was said; all of them where that leaves it open.
    fn choose(
        &self,
        menu: &mut Menu<'_>,
        symptom: Symptom,
        all: &[Telling],
        (text, open): (&Text, bool),
        normal: &mut bool,
    ) -> Vec<Telling> {
        let at = |when: &When| all.iter().find(|t| t.when == *when).cloned();
        if let Symptom::FuseBlows = symptom {
            let named = |t: &&Telling| matches!(&t.when, When::Fuse { fuse } if names(menu.circuit(), fuse, text.plain()));
            let named: Vec<_> = all.iter().filter(named).cloned().collect();
            return if named.len() == 1 { named } else { all.to_vec() };
        }
        let starter = matches!(
            symptom,
            Symptom::Dead
                | Symptom::OneClick
                | Symptom::Chatters
                | Symptom::CranksSlowly
                | Symptom::CranksNoFire
        );
        let moved: Vec<_> = self.said.iter().filter(|s| s.moved).collect();
        let stands: Vec<_> = self.said.iter().filter(|s| !s.moved).collect();
        let mut chosen: Vec<Telling> = Vec::new();
        let mut circumstances: Vec<&At> = stands.iter().map(|s| &s.at).collect();
        let mut unfit = false;
        if !starter {
            for said in &moved {
                match at(&when(&said.at)) {
                    Some(telling) if !chosen.contains(&telling) => chosen.push(telling),
                    Some(_) => {}
                    None if symptom == Symptom::Dies => match menu.dies_back_at(&said.at) {
                        Some(telling) => chosen.push(telling),
                        None => unfit = true,
                    },
                    None => unfit = true,
                }
            }
            if chosen.is_empty() {
                let told = stands.iter().filter_map(|s| at(&when(&s.at)));
                chosen = told.collect();
                chosen.dedup();
            }
            circumstances.retain(|c| !chosen.iter().any(|t| is_at(&t.when, c)));
        } else {
            circumstances.extend(moved.iter().map(|s| &s.at));
        }
        if chosen.is_empty() && !unfit {
            let usual = match symptom {
                _ if self.hot => at(&When::Hot),
                _ if self.bumps => at(&When::Bumps),
                _ if open && !starter => None,
                // Whoever says no more means the switch that should do it.
                Symptom::WontShutOff | Symptom::BladesWontStop => {
                    all.iter().find(|t| turns_off(menu.circuit(), symptom, &t.when)).cloned()
                }
                _ => at(&When::Always),
            };
            chosen.extend(usual);
        }
        if chosen.is_empty() && unfit {
            // Set like that, does a good machine do it too?
            let ways =
                moved.iter().filter_map(|s| all.first().and_then(|t| menu.moved_to(t, &[&s.at])));
            *normal |= ways.count() == 0 && !all.is_empty();
        }
        if chosen.is_empty() {
            return all.to_vec();
        }
        let known = chosen.len();
        let fitted: Vec<_> =
            chosen.into_iter().filter_map(|t| menu.moved_to(&t, &circumstances)).collect();
        if fitted.is_empty() && known > 0 {
            *normal = true;
            return all.to_vec();
        }
        fitted
    }
}

/// When a control is there.
fn when(at: &At) -> When {
    When::Control { control: at.control.clone(), position: at.position.clone() }
}

/// Whether that is when a control is there.
fn is_at(own: &When, at: &At) -> bool {
    *own == when(at)
}

/// Whether that is the switch, turned off, that should stop the engine or the blades.
fn turns_off(circuit: &Circuit, symptom: Symptom, when: &When) -> bool {
    let When::Control { control, position } = when else { return false };
    let named = circuit.document().controls.iter().find(|c| c.id == *control);
    let does = |c: &Control| match symptom {
        Symptom::BladesWontStop => controls::drives(c),
        _ => controls::is_key(c),
    };
    matches!(position.as_str(), "off" | "out") && named.is_some_and(does)
}

/// Takes every place that matches; whether there was one.
fn all(text: &mut Text, pattern: &Regex, events: &mut Vec<usize>) -> bool {
    let before = events.len();
    while let Some((from, _)) = text.take(pattern) {
        events.push(from);
    }
    events.len() > before
}

/// Whether a part's name is said: all words of it.
fn names(circuit: &Circuit, part: &str, plain: &str) -> bool {
    let named = circuit.document().parts.iter().find(|p| p.id == part);
    named.is_some_and(|p| {
        p.name.to_lowercase().split(' ').all(|w| plain.contains(&format!(" {w} ")))
    })
}

/// "Nothing when I pull the PTO": it is not the starter that does nothing.
fn pto_that_does_nothing(circuit: &Circuit, said: &[Said], found: &mut [Effect]) {
    let blades = |s: &Said| {
        let control = circuit.document().controls.iter().find(|c| c.id == s.at.control);
        s.moved && control.is_some_and(controls::drives)
    };
    if !said.iter().any(blades) {
        return;
    }
    for effect in found {
        if effect.symptoms == [Symptom::Dead] {
            effect.symptoms = vec![Symptom::BladesWontEngage];
        }
    }
}

/// Whether two things said cannot both be: what never cranks does not die.
fn clash(complaints: &[Complaint]) -> bool {
    let each = |test: fn(Symptom) -> bool| {
        complaints.iter().any(|c| c.may_be.iter().all(|(s, _)| test(*s)))
    };
    each(|s| s == Symptom::Dead || s == Symptom::OneClick || s == Symptom::Chatters)
        && each(|s| {
            matches!(
                s,
                Symptom::Dies
                    | Symptom::WontShutOff
                    | Symptom::BladesDropOut
                    | Symptom::BladesWontStop
            )
        })
}

fn an_hour(text: &mut Text) -> Option<f64> {
    let (from, to) = text.take(&AN_HOUR)?;
    let often = AN_HOUR.captures(&text.plain()[from..to])?.get(1)?.as_str().to_owned();
    match often.split(' ').next()? {
        "once" | "one" => Some(1.0),
        "twice" | "two" => Some(2.0),
        "three" => Some(3.0),
        figure => figure.trim_end_matches('x').parse().ok(),
    }
}

/// What was done to parts that the machine has; of others nothing is made.
fn worked_on(circuit: &Circuit, text: &mut Text) -> Vec<(Unit, Work)> {
    let mut all = Vec::new();
    for (pattern, work) in DONE.iter() {
        let plain = text.plain().to_owned();
        for found in pattern.captures_iter(&plain) {
            let Some(part) = found.name("part") else { continue };
            let Some((unit, words)) = part_named(circuit, part.as_str()) else { continue };
            let whole = (found.get(0).map_or(0, |m| m.start()), part.start() + words.len());
            if text.take_at(whole) && !all.contains(&(unit, *work)) {
                all.push((unit, *work));
            }
        }
    }
    all
}

/// The one part, or unit, that goes by the first words of these.
fn part_named(circuit: &Circuit, words: &str) -> Option<(Unit, String)> {
    let words: Vec<_> = words.split(' ').collect();
    let parts = &circuit.document().parts;
    for n in (1..=words.len()).rev() {
        let said = words[..n].join(" ");
        let own = |p: &Part| {
            let name = p.name.to_lowercase();
            // "The solenoid" is the starter solenoid, not the solenoid's base.
            p.kind != PartKind::Connector
                && p.kind != PartKind::Body
                && (name == said || name.ends_with(&format!(" {said}")))
        };
        let found: BTreeSet<_> =
            parts.iter().enumerate().filter(|(_, p)| own(p)).map(|(i, _)| i).collect();
        if let [one] = found.iter().copied().collect::<Vec<_>>()[..] {
            return Some((Unit::Part(one), said));
        }
    }
    None
}

/// The lamps as they burn on a good machine, the engine standing, as near to rest as there is.
fn lit(circuit: &Circuit) -> Option<Entry> {
    let rest = Condition::at_rest(circuit);
    by_moves(circuit, &rest).into_iter().take(400).find_map(|c| {
        let point = operating_point(circuit, &c, Relays::default(), &[], &[]);
        let lamp = point.outcome.lamps.iter().position(|l| *l == LampState::Bright)?;
        let part = lamp_part(circuit, lamp)?;
        let seen = ObservationEntry::Lamp {
            lamp: circuit.part(part).id.clone(),
            burns: LampState::Bright,
        };
        Some(Entry::told(circuit, &c, seen))
    })
}
