//! From a scheme to parts, plugs and wires.

use super::answers::Settled;
use super::devices;
use super::draft::{Draft, by_hand, coil, normally, plunger};
use super::scheme::{Device, Role, Scheme, Way};
use crate::machine::{
    Contact, EnergizedTo, Ignition, KillPort, MachineDocument, NamedCircuit, Normally, PartKind,
};

/// Gauges, AWG.
const CABLE: u8 = 6;
const FEED: u8 = 14;
const SIGNAL: u8 = 18;

/// The terminals of the key, as stamped.
struct Key {
    feed: &'static str,
    start: &'static str,
    /// Fed at run; none on a key that only starts.
    run: Option<&'static str>,
    kill: Option<[&'static str; 2]>,
    glow: Option<&'static str>,
}

struct Harness<'a> {
    answers: &'a Settled,
    scheme: &'a Scheme,
    draft: Draft,
    key: Key,
}

/// The document of a machine of these answers, but for what it is for.
pub(super) fn wired(answers: &Settled, scheme: &Scheme) -> MachineDocument {
    let key = key(answers);
    let mut harness = Harness { answers, scheme, draft: Draft::new(), key };
    harness.controls();
    harness.bodies();
    harness.key_switch();
    harness.supply();
    harness.switches();
    harness.cranking();
    harness.engine();
    harness.presence();
    harness.blades();
    harness.lights();
    harness.charging();
    harness.draft.test_points();
    harness.draft.document
}

fn key(answers: &Settled) -> Key {
    let [feed, start, run, kill, ground] = match answers.get("key-marks") {
        "numbers" => ["5", "4", "2", "3", "1"],
        "" if answers.is("fuel", "diesel") => ["30", "50", "15", "", ""],
        "" => ["B", "S", "I", "", ""],
        _ => ["B", "S", "A", "M", "G"],
    };
    let only_starts = answers.is("key", "start");
    Key {
        feed,
        start,
        run: (!only_starts).then_some(run),
        kill: (!only_starts && !kill.is_empty()).then_some([kill, ground]),
        glow: answers.is("key", "heat").then_some("19"),
    }
}

impl Harness<'_> {
    fn controls(&mut self) {
        let all = &mut self.draft.document.controls;
        all.push(devices::key(self.answers));
        let mut ids: Vec<&str> = Vec::new();
        for (device, _) in &self.scheme.switches {
            let control = device.moved(self.answers).control;
            if !ids.contains(&control) {
                ids.push(control);
            }
        }
        // What turns the blades stands there, switch or none.
        if !self.answers.is("blades", "always") && !ids.contains(&"blades") {
            ids.push("blades");
        }
        if self.answers.is("stops", "knob") {
            ids.push("stop");
        }
        if self.answers.is("lights", "switch") {
            ids.push("lights");
        }
        all.extend(ids.into_iter().map(|id| devices::named(id, self.answers)));
    }

    fn bodies(&mut self) {
        let d = &mut self.draft;
        d.place("battery", "at the battery");
        d.place("engine", "at the engine");
        d.place("dash", "behind the dash");
        d.part(PartKind::Body, ("frame", "Frame"), "battery", &["metal"]);
        d.part(PartKind::Body, ("engine", "Engine block"), "engine", &["block"]);
        self.ground("ground-strap", "Battery ground bolt", "battery");
        self.ground("engine-strap", "Engine ground strap bolt", "engine");
        self.ground("harness-ground", "Harness ground screw", "dash");
        self.draft.wire("engine.block", "engine-strap.lug", CABLE);
    }

    fn ground(&mut self, id: &str, name: &str, place: &str) {
        let part = self.draft.part(PartKind::Ground, (id, name), place, &["lug"]);
        part.body = Some("frame".to_owned());
    }

    /// Battery, cables, solenoid, starter, fuse.
    fn supply(&mut self) {
        let d = &mut self.draft;
        d.part(PartKind::Battery, ("battery", "Battery"), "battery", &["+", "-"]);
        for (id, name, post) in
            [("pos-clamp", "battery + clamp", "+"), ("neg-clamp", "battery − clamp", "-")]
        {
            let clamp = d.part(PartKind::Connector, (id, name), "battery", &[]);
            clamp.mates.insert("lug".to_owned(), format!("battery.{post}"));
        }
        d.wire("neg-clamp.lug", "ground-strap.lug", CABLE);
        let on_top = self.answers.is("starter", "on-top");
        let place = if on_top { "engine" } else { "battery" };
        let two = self.answers.is("small-studs", "two");
        let terminals: &[&str] = match on_top {
            true => &["30", "motor", "50", "case"],
            false => &["battery", "motor", "trigger", if two { "ground" } else { "base" }],
        };
        let [stud, motor, trigger, base] = [0, 1, 2, 3].map(|i| terminals[i]);
        let solenoid =
            d.part(PartKind::Solenoid, ("solenoid", "Starter solenoid"), place, terminals);
        let mut contact = normally("contact", [stud, motor], Normally::Open);
        contact.ohms = Some(0.0006);
        contact.name = "main contact".to_owned();
        solenoid.contacts.push(contact);
        if on_top {
            let mut pull = coil("pull", ["50", "motor"], 0.5, (25.6, 4.0));
            pull.assists = Some("hold".to_owned());
            pull.turns = Some(1.0);
            solenoid.coils = vec![coil("hold", ["50", "case"], 1.1, (25.6, 4.0)), pull];
        } else {
            solenoid.coils.push(coil("coil", [trigger, base], 4.6, (7.2, 3.3)));
        }
        d.plug("solenoid", &[trigger, base][..if two { 2 } else { 1 }]);
        let stud = format!("solenoid.{stud}");
        d.wire("pos-clamp.lug", &stud, CABLE);
        self.starter(on_top);
        let d = &mut self.draft;
        let kind = match self.answers.get("fuse") {
            "breaker" => PartKind::Breaker,
            _ => PartKind::Fuse,
        };
        let key = format!("key.{}", self.key.feed);
        if self.answers.is("fuse", "none") {
            d.wire(&stud, &key, FEED);
        } else {
            let name = if kind == PartKind::Fuse { "Main fuse" } else { "Main breaker" };
            let amps = if self.key.glow.is_some() { 40.0 } else { 20.0 };
            d.part(kind, ("main-fuse", name), "battery", &["in", "out"]).amps = Some(amps);
            d.wire(&stud, "main-fuse.in", FEED);
            d.wire("main-fuse.out", &key, FEED);
        }
        if !on_top {
            match two {
                true if self.scheme.start_relay => {
                    self.draft.wire("solenoid.ground", "harness-ground.lug", SIGNAL);
                }
                true => {
                    let ways = self.scheme.start_ground.clone();
                    self.run("solenoid.ground", &ways, "harness-ground.lug");
                }
                false => {
                    self.ground("solenoid-base", "Solenoid base on the frame", "battery");
                    self.draft.splice("solenoid-base", &["solenoid.base", "solenoid-base.lug"]);
                }
            }
        }
    }

    fn starter(&mut self, on_top: bool) {
        let d = &mut self.draft;
        if self.answers.is("starter", "generator") {
            let own = d.part(
                PartKind::Generator,
                ("generator", "Starter-generator"),
                "engine",
                &["A", "F"],
            );
            (own.ohms, own.amps, own.volts) = (Some(0.095), Some(100.0), Some(14.3));
            own.body = Some("engine".to_owned());
            d.wire("solenoid.motor", "generator.A", CABLE);
            return;
        }
        let starter =
            d.part(PartKind::Starter, ("starter", "Starter motor"), "engine", &["stud", "case"]);
        (starter.ohms, starter.amps) = match self.answers.is("fuel", "diesel") {
            true => (Some(0.05), Some(185.0)),
            false => (Some(0.09), Some(105.0)),
        };
        match on_top {
            true => {
                d.splice("starter-body", &["starter.case", "engine.block", "solenoid.case"]);
                d.splice("motor-stud", &["solenoid.motor", "starter.stud"]);
            }
            false => {
                d.splice("starter-body", &["starter.case", "engine.block"]);
                d.wire("solenoid.motor", "starter.stud", CABLE);
            }
        }
    }

    fn key_switch(&mut self) {
        let Key { feed, start, run, kill, glow } = self.key;
        let reverse = self.answers.is("key", "reverse-mow") && kill.is_some();
        let mut terminals = vec![feed];
        terminals.extend(run);
        terminals.push(start);
        terminals.extend(kill.into_iter().flatten());
        terminals.extend(glow);
        terminals.extend(reverse.then_some("R"));
        let on: Vec<String> =
            devices::key(self.answers).positions.iter().map(|p| p.id.clone()).collect();
        let on = on[1..].join(",");
        let mut contacts = vec![by_hand("start", [feed, start], ("key", "start"))];
        contacts.extend(run.map(|run| by_hand("accessory", [feed, run], ("key", &on))));
        contacts.extend(kill.map(|pair| by_hand("kill", pair, ("key", "off"))));
        contacts.extend(glow.map(|glow| by_hand("glow", [feed, glow], ("key", "heat"))));
        if let Some([_, ground]) = kill.filter(|_| reverse) {
            contacts.push(by_hand("reverse", ["R", ground], ("key", "off,run,start")));
        }
        let d = &mut self.draft;
        d.part(PartKind::KeySwitch, ("key", "Key switch"), "dash", &terminals).contacts = contacts;
        d.plug("key", &terminals);
        if let Some([_, ground]) = kill {
            d.wire(&format!("key.{ground}"), "harness-ground.lug", SIGNAL);
        }
    }

    fn switches(&mut self) {
        for (device, roles) in &self.scheme.switches {
            let moved = device.moved(self.answers);
            let id = device.switch_id();
            self.draft.place(moved.place, moved.at);
            let by_hand_worked = moved.linkage.is_empty();
            let control = devices::named(moved.control, self.answers);
            let pressed = device.pressed();
            let others: Vec<&str> =
                control.positions.iter().map(|p| p.id.as_str()).filter(|p| *p != pressed).collect();
            let mut terminals: Vec<String> = Vec::new();
            let contacts: Vec<Contact> = roles
                .iter()
                .map(|role| {
                    let pair = ends(roles, *role);
                    terminals.extend(pair.clone());
                    let pair = [pair[0].as_str(), pair[1].as_str()];
                    let made = device.made_pressed(*role);
                    let positions = if made { pressed.to_owned() } else { others.join(",") };
                    let by_hand = by_hand(role.id(), pair, (moved.control, &positions));
                    if by_hand_worked {
                        return by_hand;
                    }
                    let rest = if made { Normally::Open } else { Normally::Closed };
                    Contact { gate: by_hand.gate, ..normally(role.id(), pair, rest) }
                })
                .collect();
            let names: Vec<&str> = terminals.iter().map(String::as_str).collect();
            let kind =
                if by_hand_worked { PartKind::HandSwitch } else { PartKind::InterlockSwitch };
            let part = self.draft.part(kind, (id, moved.switch), moved.place, &names);
            part.contacts = contacts;
            if !by_hand_worked {
                part.plunger = plunger(format!("{}={pressed}", moved.control), moved.linkage);
            }
            self.draft.plug(id, &names);
        }
    }

    fn cranking(&mut self) {
        let trigger = match self.answers.is("starter", "on-top") {
            true => "solenoid.50",
            false => "solenoid.trigger",
        };
        let from = format!("key.{}", self.key.start);
        if self.scheme.start_relay {
            self.relay("start-relay", "Start relay", Normally::Open);
            self.run(&from, &self.scheme.start.clone(), "start-relay.86");
            self.run("start-relay.85", &self.scheme.start_ground.clone(), "harness-ground.lug");
            let feed = self.fed();
            self.draft.wire(&feed, "start-relay.30", FEED);
            self.draft.wire("start-relay.87", trigger, FEED);
        } else {
            // A solenoid on its starter draws thirty amperes until it is in.
            let gauge = if self.answers.is("starter", "on-top") { 12 } else { SIGNAL };
            self.run_of(gauge, &from, &self.scheme.start.clone(), trigger);
        }
        let hold = if self.answers.is("starter", "on-top") { "hold" } else { "coil" };
        let load = if self.scheme.start_relay {
            "start-relay.coil".to_owned()
        } else {
            format!("solenoid.{hold}")
        };
        self.circuit("start", "Start", ("battery.+", Some(&load), "battery.-"));
        if self.scheme.start_relay {
            let load = format!("solenoid.{hold}");
            self.circuit("solenoid", "Solenoid", ("battery.+", Some(&load), "battery.-"));
        }
        let motor = if self.answers.is("starter", "generator") { "generator" } else { "starter" };
        self.circuit("crank", "Crank", ("battery.+", Some(motor), "battery.-"));
    }

    /// What is live with the key off, behind the fuse.
    fn fed(&self) -> String {
        match self.answers.get("fuse") {
            "none" => format!("key.{}", self.key.feed),
            _ => "main-fuse.out".to_owned(),
        }
    }

    /// A relay with its plug: its contact is made with the coil fed, or without it.
    fn relay(&mut self, id: &str, name: &str, rests: Normally) {
        let made = if rests == Normally::Open { "87" } else { "87a" };
        let terminals = ["30", made, "85", "86"];
        let relay = self.draft.part(PartKind::Relay, (id, name), "dash", &terminals);
        relay.coils.push(coil("coil", ["86", "85"], 90.0, (7.5, 2.0)));
        let mut contact = normally("contact", ["30", made], rests);
        contact.name = "contact".to_owned();
        relay.contacts.push(contact);
        self.draft.plug(id, &terminals);
    }

    /// Spark, fuel, and what stops them.
    fn engine(&mut self) {
        let modules: &[(&str, &str)] = match self.answers.get("spark") {
            "module" => &[("module", "Ignition module")],
            "two-modules" => {
                &[("module-1", "Ignition module 1"), ("module-2", "Ignition module 2")]
            }
            _ => &[],
        };
        for (id, name) in modules {
            let module = self.draft.part(PartKind::IgnitionModule, (id, name), "engine", &["kill"]);
            module.body = Some("engine".to_owned());
            module.kill_port = Some(KillPort::Unknown);
            module.ignition = Some(Ignition::Inductive);
        }
        if let [(one, _)] = modules {
            self.draft.plug(one, &["kill"]);
        }
        self.kill_wire(modules);
        if self.answers.is("spark", "coil") {
            let d = &mut self.draft;
            let own =
                d.part(PartKind::IgnitionCoil, ("coil", "Ignition coil"), "engine", &["+", "-"]);
            own.ohms = Some(3.4);
            let points =
                d.part(PartKind::BreakerPoints, ("points", "Breaker points"), "engine", &["lead"]);
            points.body = Some("engine".to_owned());
            d.wire("coil.-", "points.lead", SIGNAL);
            self.circuit("ignition", "Ignition", ("battery.+", Some("coil"), "battery.-"));
        }
        let bowl = self.answers.is("fuel-solenoid", "yes");
        if bowl || self.answers.is("stops", "solenoid") {
            let name = "Fuel solenoid";
            let fuel =
                self.draft.part(PartKind::FuelSolenoid, ("fuel", name), "engine", &["+", "-"]);
            fuel.ohms = Some(if bowl { 27.0 } else { 12.0 });
            fuel.energized_to = Some(EnergizedTo::Run);
            self.draft.plug("fuel", &["+", "-"]);
            self.draft.wire("fuel.-", "engine.block", SIGNAL);
            self.circuit("fuel", "Fuel", ("battery.+", Some("fuel"), "battery.-"));
        }
        if let Some(glow) = self.key.glow {
            let d = &mut self.draft;
            for (id, name) in [("glow-1", "Glow plug 1"), ("glow-2", "Glow plug 2")] {
                let own = d.part(PartKind::GlowPlug, (id, name), "engine", &["tip", "body"]);
                own.ohms = Some(0.9);
            }
            d.splice("glow-bodies", &["glow-1.body", "glow-2.body", "engine.block"]);
            d.splice("glow-bus", &["glow-1.tip", "glow-2.tip"]);
            d.wire(&format!("key.{glow}"), "glow-1.tip", 10);
            self.circuit("glow", "Glow", ("battery.+", Some("glow-1"), "battery.-"));
        }
    }

    /// The kill wire, from the modules to everything that grounds it.
    fn kill_wire(&mut self, modules: &[(&str, &str)]) {
        let Some((first, _)) = modules.first() else { return };
        let mut begins: Vec<String> = Vec::new();
        for (id, _) in modules {
            begins.push(match modules.len() {
                1 => format!("{id}.kill"),
                // Each behind a diode of its own: one coil must not feed the other.
                _ => {
                    let diode = format!("{id}-diode");
                    let name = format!("Kill diode {}", &id[id.len() - 1..]);
                    let ends = ["anode", "cathode"];
                    self.draft.part(PartKind::Diode, (&diode, &name), "engine", &ends);
                    self.draft.splice(id, &[&format!("{id}.kill"), &format!("{diode}.anode")]);
                    format!("{diode}.cathode")
                }
            });
        }
        if let Some([kill, _]) = self.key.kill {
            begins.push(format!("key.{kill}"));
        }
        let bus = begins.last().cloned().unwrap_or_default();
        self.draft.join(&begins, SIGNAL);
        let mut heads = vec![bus];
        if self.scheme.presence_relay {
            self.relay("presence-relay", "Presence relay", Normally::Closed);
            heads.push("presence-relay.30".to_owned());
            self.draft.wire("presence-relay.87a", "harness-ground.lug", SIGNAL);
        }
        let with_key = self.answers.is("key", "reverse-mow") && self.key.kill.is_some();
        for way in &self.scheme.kill.clone() {
            let back = with_key && matches!(way, Way::Series(all) if all.iter().any(backs));
            let to = if back { "key.R" } else { "harness-ground.lug" };
            heads.extend(entries(way, self.scheme));
            self.inner(way);
            let mut exits = exits(way, self.scheme);
            exits.push(to.to_owned());
            self.draft.join(&exits, SIGNAL);
        }
        heads.dedup();
        self.draft.join(&heads, SIGNAL);
        let grounds = self.key.kill.is_some() || self.scheme.presence_relay;
        if !grounds && self.scheme.kill.is_empty() {
            return;
        }
        self.circuit("kill", "Kill", (&format!("{first}.kill"), None, "engine.block"));
        if let [_, (second, _)] = modules {
            let from = format!("{second}.kill");
            self.circuit("kill-2", "Kill, cylinder 2", (&from, None, "engine.block"));
        }
    }

    /// What is fed at run: the presence relay, or what the engine needs, through the switches.
    fn presence(&mut self) {
        let Some(run) = self.key.run else { return };
        let run = format!("key.{run}");
        let presence: Vec<Way> = self.scheme.presence.iter().cloned().collect();
        if self.scheme.presence_relay {
            let (before, behind): (&[Way], &[Way]) = match self.scheme.presence_grounds {
                true => (&[], &presence),
                false => (&presence, &[]),
            };
            self.run(&run, before, "presence-relay.86");
            self.run("presence-relay.85", behind, "harness-ground.lug");
            let load = Some("presence-relay.coil");
            self.circuit("presence", "Presence", ("battery.+", load, "battery.-"));
        }
        let has = |id: &str| self.draft.document.parts.iter().any(|p| p.id == id);
        let (coil, fuel) = (has("coil"), has("fuel"));
        let through = if self.scheme.presence_relay { Vec::new() } else { presence };
        if coil {
            self.run(&run, &through, "coil.+");
        }
        if fuel {
            let plain = coil || !self.answers.is("fuel", "diesel");
            self.run(&run, if plain { &[] } else { &through }, "fuel.+");
        }
    }

    fn blades(&mut self) {
        if !self.answers.is("blades", "switch") {
            return;
        }
        let clutch =
            self.draft.part(PartKind::Clutch, ("clutch", "Blade clutch"), "engine", &["+", "-"]);
        clutch.ohms = Some(2.7);
        self.draft.plug("clutch", &["+", "-"]);
        let from = match self.key.run {
            Some(run) => format!("key.{run}"),
            None => self.fed(),
        };
        self.run(&from, &self.scheme.clutch.clone(), "clutch.+");
        self.draft.wire("clutch.-", "engine-strap.lug", FEED);
        self.circuit("pto", "PTO", ("battery.+", Some("clutch"), "battery.-"));
    }

    fn lights(&mut self) {
        let Some(run) = self.key.run.filter(|_| !self.answers.is("lights", "none")) else { return };
        if self.answers.get("lights").is_empty() {
            return;
        }
        let d = &mut self.draft;
        d.part(PartKind::Lamp, ("lamps", "Headlamps"), "dash", &["+", "-"]).ohms = Some(5.8);
        let run = format!("key.{run}");
        if self.answers.is("lights", "switch") {
            let switch = d.part(
                PartKind::HandSwitch,
                ("light-switch", "Light switch"),
                "dash",
                &["in", "out"],
            );
            switch.contacts.push(by_hand("lights", ["in", "out"], ("lights", "on")));
            d.wire(&run, "light-switch.in", SIGNAL);
            d.wire("light-switch.out", "lamps.+", SIGNAL);
        } else {
            d.wire(&run, "lamps.+", SIGNAL);
        }
        d.wire("lamps.-", "harness-ground.lug", SIGNAL);
        self.circuit("lights", "Lights", ("battery.+", Some("lamps"), "battery.-"));
    }

    fn charging(&mut self) {
        let stud = match self.answers.is("starter", "on-top") {
            true => "solenoid.30",
            false => "solenoid.battery",
        };
        let d = &mut self.draft;
        if self.answers.is("charging", "none") || self.answers.get("charging").is_empty() {
            return;
        }
        let diode = self.answers.is("charging", "diode");
        let stator = d.part(PartKind::Stator, ("stator", "Stator"), "engine", &["a", "b"]);
        (stator.volts, stator.ohms) = (Some(28.0), Some(0.3));
        let terminals: &[&str] =
            if diode { &["ac", "ground", "B+"] } else { &["ac1", "ac2", "B+"] };
        let name = if diode { "Charge diode" } else { "Regulator" };
        let regulator = d.part(PartKind::Regulator, ("regulator", name), "engine", terminals);
        regulator.volts = Some(if diode { 18.0 } else { 14.4 });
        regulator.ohms = diode.then_some(2.0);
        regulator.body = Some("engine".to_owned());
        if diode {
            d.splice("stator-ground", &["stator.b", "regulator.ground", "engine.block"]);
            d.wire("stator.a", "regulator.ac", SIGNAL);
        } else {
            d.plug("stator", &["a", "b"]);
            d.plug("regulator", terminals);
            d.wire("stator.a", "regulator.ac1", FEED);
            d.wire("stator.b", "regulator.ac2", FEED);
        }
        d.wire("regulator.B+", stud, FEED);
        let from = if diode { "regulator.B+" } else { "regulator-plug.B+" };
        self.circuit("charge", "Charge", (from, Some("battery"), "engine.block"));
    }

    fn circuit(&mut self, id: &str, name: &str, (from, load, to): (&str, Option<&str>, &str)) {
        self.draft.document.circuits.push(NamedCircuit {
            id: id.to_owned(),
            name: name.to_owned(),
            from: from.to_owned(),
            load: load.map(str::to_owned),
            to: to.to_owned(),
        });
    }

    /// Wires from a terminal through ways, one after the other, to another.
    fn run(&mut self, from: &str, ways: &[Way], to: &str) {
        self.run_of(SIGNAL, from, ways, to);
    }

    /// The same of a gauge.
    fn run_of(&mut self, gauge: u8, from: &str, ways: &[Way], to: &str) {
        let mut behind = vec![from.to_owned()];
        for way in ways {
            behind.extend(entries(way, self.scheme));
            self.draft.join(&behind, gauge);
            self.inner(way);
            behind = exits(way, self.scheme);
        }
        behind.push(to.to_owned());
        self.draft.join(&behind, gauge);
    }

    /// The wires within a way.
    fn inner(&mut self, way: &Way) {
        match way {
            Way::Contacts(..) => {}
            Way::Either(all) => all.iter().for_each(|way| self.inner(way)),
            Way::Series(all) => {
                all.iter().for_each(|way| self.inner(way));
                for pair in all.windows(2) {
                    let mut between = exits(&pair[0], self.scheme);
                    between.extend(entries(&pair[1], self.scheme));
                    self.draft.join(&between, SIGNAL);
                }
            }
        }
    }
}

fn backs(way: &Way) -> bool {
    matches!(way, Way::Contacts(Device::Reverse, Role::Reverse))
}

/// The two terminals of the contacts in a role, of a switch that has these.
fn ends(roles: &[Role], role: Role) -> [String; 2] {
    match roles.len() {
        1 => ["in", "out"].map(str::to_owned),
        _ => ["in", "out"].map(|end| format!("{}-{end}", role.id())),
    }
}

fn terminal(scheme: &Scheme, device: Device, role: Role, end: usize) -> String {
    let roles =
        scheme.switches.iter().find(|(d, _)| *d == device).map(|(_, roles)| roles.as_slice());
    let [from, to] = ends(roles.unwrap_or(&[]), role);
    format!("{}.{}", device.switch_id(), if end == 0 { from } else { to })
}

fn entries(way: &Way, scheme: &Scheme) -> Vec<String> {
    match way {
        Way::Contacts(device, role) => vec![terminal(scheme, *device, *role, 0)],
        Way::Series(all) => all.first().map_or_else(Vec::new, |way| entries(way, scheme)),
        Way::Either(all) => all.iter().flat_map(|way| entries(way, scheme)).collect(),
    }
}

fn exits(way: &Way, scheme: &Scheme) -> Vec<String> {
    match way {
        Way::Contacts(device, role) => vec![terminal(scheme, *device, *role, 1)],
        Way::Series(all) => all.last().map_or_else(Vec::new, |way| exits(way, scheme)),
        Way::Either(all) => all.iter().flat_map(|way| exits(way, scheme)).collect(),
    }
}
