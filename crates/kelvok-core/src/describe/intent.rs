//! What such a machine is for: how it is driven, used, and what its interlocks owe the operator.

use super::answers::Settled;
use super::scheme::{Device, Role, Scheme};
use crate::machine::{Drive, Duty, Engine, MachineDocument, NormalUse, Shall};
use std::collections::BTreeMap;

/// Where the duties of a described machine come from.
const USUAL: &str = "usual for its kind; see the maker's manual";

/// Fills in what a machine of these answers is for.
pub(super) fn intend(document: &mut MachineDocument, answers: &Settled, scheme: &Scheme) {
    let intent = Intent { answers, scheme, document };
    let (drive, uses, duties) = (intent.drive(), intent.normal_use(), intent.duties());
    (document.drive, document.normal_use, document.duties) = (drive, uses, duties);
}

struct Intent<'a> {
    answers: &'a Settled,
    scheme: &'a Scheme,
    document: &'a MachineDocument,
}

impl Intent<'_> {
    fn has(&self, control: &str) -> bool {
        self.document.controls.iter().any(|c| c.id == control)
    }

    fn key_on(&self) -> Option<&'static str> {
        (!self.answers.is("key", "start")).then_some("run")
    }

    fn drive(&self) -> Drive {
        let tractor = self.answers.is_tractor();
        let walk = self.answers.is("kind", "walk-behind");
        let blades_when = match self.answers.get("blades") {
            "lever" => Some("blades=on".to_owned()),
            "always" => Some("engine=running".to_owned()),
            _ => None,
        };
        let called = match (tractor, walk) {
            (true, _) => Some("PTO".to_owned()),
            (_, true) => Some("blade".to_owned()),
            _ => None,
        };
        let runs_when = self.has("stop").then(|| "stop=in".to_owned());
        Drive { recoil: false, runs_when, blades_when, called }
    }

    /// The controls away from rest that it cranks with.
    fn ready(&self) -> Vec<(&'static str, &'static str)> {
        let start = |d: Device| {
            self.scheme.switches.iter().any(|(s, r)| *s == d && r.contains(&Role::Start))
        };
        let mut ready = Vec::new();
        if start(Device::Pedal) {
            ready.push(("pedal", "down"));
        }
        if self.has("bail") {
            ready.push(("bail", "held"));
        }
        ready
    }

    fn normal_use(&self) -> Vec<NormalUse> {
        let mut all = Vec::new();
        let mut add = |name: &str, set: &[(&str, &str)], engine: Engine| {
            let known = |(control, _): &&(&str, &str)| *control == "key" || self.has(control);
            let set: BTreeMap<_, _> =
                set.iter().filter(known).map(|(c, p)| ((*c).to_owned(), (*p).to_owned())).collect();
            all.push(NormalUse { name: name.to_owned(), set, engine });
        };
        let with = |more: &[(&'static str, &'static str)]| [&self.ready()[..], more].concat();
        let running = |more: &[(&'static str, &'static str)]| {
            let key = self.key_on().map(|key| ("key", key));
            key.into_iter().chain(more.iter().copied()).collect::<Vec<_>>()
        };
        add("parked", &[], Engine::Stopped);
        add("key to start", &with(&[("key", "start")]), Engine::Stopped);
        add("cranking", &with(&[("key", "start")]), Engine::Cranking);
        if self.has("bail") {
            add("mowing", &running(&[("bail", "held")]), Engine::Running);
            add("bail let go", &running(&[]), Engine::Running);
            return all;
        }
        add("warming up", &running(&self.ready()), Engine::Running);
        let gear = if self.answers.is_tractor() { "gear" } else { "forward" };
        let going: Vec<(&'static str, &'static str)> = vec![
            ("lever", gear),
            ("drive", "forward"),
            ("brake", "off"),
            ("left", "in"),
            ("right", "in"),
        ];
        add("driving", &running(&going), Engine::Running);
        if self.has("blades") {
            let working = [going.clone(), vec![("blades", "on")]].concat();
            add("working", &running(&working), Engine::Running);
        }
        if self.has("seat") {
            let off = [self.ready(), vec![("seat", "empty")]].concat();
            add("off the machine", &running(&off), Engine::Running);
        }
        if self.has("stop") {
            add("stopping", &running(&[("stop", "pulled")]), Engine::Running);
        } else if self.key_on().is_some() {
            add("key off", &[("key", "off")], Engine::Running);
        }
        all
    }

    fn duties(&self) -> Vec<Duty> {
        let mut all: Vec<Duty> = Vec::new();
        let mut add =
            |id: &str, name: String, from: String, change: &[(&str, &str)], shall: Shall| {
                let change: BTreeMap<_, _> =
                    change.iter().map(|(c, p)| ((*c).to_owned(), (*p).to_owned())).collect();
                let stops =
                    shall.protects() && shall != Shall::NotCrank || shall == Shall::KeepRunning;
                let within = stops.then_some(5.0);
                let source = Some(USUAL.to_owned());
                all.push(Duty { id: id.to_owned(), name, from, change, shall, within, source });
            };
        let key = self.key_on().map_or(String::new(), |k| match self.answers.get("key") {
            "reverse-mow" => format!("key={k},reverse-mow & "),
            _ => format!("key={k} & "),
        });
        let has = |id: &str| self.has(id);
        if has("seat") && has("blades") {
            let name = "The operator leaves with the blades on";
            let from = format!("{key}seat=on & blades=on");
            let shall = Shall::StopEngineOrBlades;
            add("leave-blades", name.to_owned(), from, &[("seat", "empty")], shall);
        }
        let moving = [("pedal", "up", "the pedal up"), ("brake", "off", "the parking brake off")];
        for (control, position, says) in moving.into_iter().filter(|(c, ..)| has("seat") && has(c))
        {
            let from = format!("{key}seat=on & {control}={position}");
            let name = format!("The operator leaves with {says}");
            let id = format!("leave-{control}");
            add(&id, name, from, &[("seat", "empty")], Shall::StopEngine);
        }
        if has("bail") {
            let name = "The bail is let go".to_owned();
            add(
                "let-go",
                name,
                format!("{key}bail=held"),
                &[("bail", "released")],
                Shall::StopEngine,
            );
        }
        if self.scheme.switches.iter().any(|(d, _)| *d == Device::Reverse) {
            let from = "key=run & blades=on & lever=neutral,forward".to_owned();
            let name = "The lever goes to reverse with the blades on".to_owned();
            add("reverse", name, from, &[("lever", "reverse")], Shall::StopEngineOrBlades);
        }
        if has("deck") {
            let from = format!("{key}blades=on & deck=low");
            let name = "The deck is raised with the blades on".to_owned();
            add("deck", name, from, &[("deck", "raised")], Shall::StopEngineOrBlades);
        }
        if has("chute") {
            let bagger = if has("bagger") { " & bagger=off" } else { "" };
            let from = format!("{key}blades=on & chute=down{bagger}");
            let name = "The chute is lifted with the blades turning".to_owned();
            add("chute", name, from, &[("chute", "up")], Shall::StopEngineOrBlades);
        }
        for bar in ["left", "right"].into_iter().filter(|b| has(b) && has("brake")) {
            let from = format!("{key}brake=on & left=out & right=out");
            let name = format!("The {bar} bar is moved in with the parking brake on");
            add(&format!("{bar}-brake"), name, from, &[(bar, "in")], Shall::StopEngine);
        }
        let gates = [
            ("blades", "blades=on", "the blades on"),
            ("pedal", "pedal=up", "the pedal up"),
            ("brake", "brake=off", "the parking brake off"),
            ("lever", "!lever=neutral", "the lever out of neutral"),
            ("drive", "!drive=neutral", "the drive pedal pressed"),
            ("bail", "bail=released", "the bail let go"),
            ("left", "left=in", "the left bar in"),
            ("right", "right=in", "the right bar in"),
        ];
        for (control, from, says) in gates.into_iter().filter(|(c, ..)| has(c)) {
            let name = format!("Cranking with {says}");
            add(&format!("crank-{control}"), name, from.to_owned(), &[], Shall::NotCrank);
        }
        if has("stop") {
            let name = "The stop knob is pulled".to_owned();
            add("stop", name, "stop=in".to_owned(), &[("stop", "pulled")], Shall::StopEngine);
        } else if self.key_on().is_some() {
            let from = key.trim_end_matches(" & ").to_owned();
            let name = "The key is turned off".to_owned();
            add("key-off", name, from, &[("key", "off")], Shall::StopEngine);
        }
        let mut ready: Vec<String> = vec!["key=start".to_owned()];
        for control in self.document.controls.iter().filter(|c| c.id != "key" && c.id != "lights") {
            let away = self.ready().into_iter().find(|(c, _)| *c == control.id);
            let position = away.map_or(control.rest.as_str(), |(_, p)| p);
            ready.push(format!("{}={position}", control.id));
        }
        add("starts", "It can be started".to_owned(), ready.join(" & "), &[], Shall::Start);
        all
    }
}
