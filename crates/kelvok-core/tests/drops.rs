//! Drops along loaded circuits, as they are read in a shop.

use kelvok_core::circuit::{
    Change, Circuit, Condition, Instrument, NodeId, Reading, Relays, operating_point, parse_change,
    read,
};
use kelvok_core::diagnosis::{
    Entry, EntryError, Evidence, Heard, Model, ObservationEntry, Source, Unit,
};
use kelvok_core::drops::{AmpsBy, DropWalk, DropWord, LoadPath, SpanWord, StarterWord, load_paths};
use kelvok_core::interlock::{Ladder, Rung};
use kelvok_core::machine::{LIBRARY, Machine};
use kelvok_core::trial::{try_drops, try_starters, wilson};
use std::sync::LazyLock;

fn model(name: &str) -> Model {
    let shipped = LIBRARY.iter().find(|m| m.name == name).expect("shipped");
    Model::new(Circuit::compile(&Machine::read(shipped.text).expect("sound")))
}

static Z_52: LazyLock<Model> = LazyLock::new(|| model("dunmarrow-z-52"));

/// A machine with something wrong, and who reads it.
struct Yard {
    model: &'static Model,
    changes: Vec<Change>,
    path: LoadPath,
    log: Vec<Evidence>,
}

impl Yard {
    fn with(fault: &str, path: &str) -> Self {
        let model: &Model = &Z_52;
        let changes = vec![parse_change(model.circuit(), fault).expect("a fault")];
        let path = model.load_paths().iter().find(|p| p.id == path).expect("a circuit").clone();
        Self { model, changes, path, log: Vec::new() }
    }

    fn at(&self) -> Condition {
        self.model.loaded_in(&self.path, &self.log)
    }

    fn enter(&mut self, at: &Condition, observation: ObservationEntry) -> Result<(), EntryError> {
        let circuit = self.model.circuit();
        let entry = Entry { source: Source::Tested, ..Entry::told(circuit, at, observation) };
        let evidence = entry.resolve(circuit, self.log.len() as u64 + 1)?;
        self.log.push(evidence);
        Ok(())
    }

    fn hear(&mut self, heard: Heard) {
        let at = self.path.condition.clone();
        self.enter(&at, ObservationEntry::Heard { heard }).expect("heard");
    }

    fn read(&mut self, instrument: Instrument, red: &str, black: &str) -> f64 {
        let circuit = self.model.circuit();
        let at = self.at();
        let ends = [red, black].map(|t| circuit.terminal(t).expect("a terminal"));
        let point = operating_point(circuit, &at, Relays::default(), &self.changes, &[]);
        let ends = (ends[0], ends[1]);
        let shown = read(circuit, &at, point.relays, &self.changes, instrument, ends);
        let (figure, reading) = match shown.expect("may be read") {
            Reading::Volts(v) => {
                ((v * 100.0).round() / 100.0, Reading::Volts as fn(f64) -> Reading)
            }
            Reading::Amps(a) => (a.round(), Reading::Amps as fn(f64) -> Reading),
            other => panic!("{other:?}"),
        };
        let (red, black) = (red.to_owned(), black.to_owned());
        let (reading, typed) = (reading(figure), figure.to_string());
        self.enter(&at, ObservationEntry::Reading { instrument, red, black, reading, typed })
            .expect("a reading");
        figure
    }

    fn volts(&mut self, red: &str, black: &str) -> f64 {
        self.read(Instrument::Voltmeter, red, black)
    }

    fn walk(&self) -> DropWalk {
        let belief = self.model.judge(&self.log);
        let read = self.model.drops_read(&self.path, &self.log).now;
        self.model.drop_walk(&belief, &self.path, &read)
    }

    fn place(&self, terminal: &str) -> usize {
        let node = self.model.circuit().terminal(terminal).expect("a terminal");
        self.path.place(node).expect("on the way")
    }
}

#[test]
fn a_bad_battery_clamp_is_found_point_by_point_and_is_fine_when_it_was_cleaned() {
    let mut yard = Yard::with("pos-clamp.lug=0.012ohm", "crank");
    yard.hear(Heard::CranksSlowly);
    assert_eq!(yard.walk().word, DropWord::NothingRead);

    // The whole way to the starter first: too much, and nobody can say where.
    let whole = yard.volts("battery.+", "starter.stud");
    assert!(whole > 1.0, "{whole}");
    let said = yard.walk();
    assert_eq!(said.word, DropWord::Between);
    let worst = &said.spans[said.worst[0]];
    assert_eq!(worst.stretches, (0..yard.path.at_load).collect::<Vec<_>>());
    let next = said.next.expect("something parts it");
    assert!(next.from < yard.path.at_load && next.to <= yard.path.at_load, "{next:?}");

    // Clamp against post: there it is, with what it burns.
    let lost = yard.volts("battery.+", "pos-clamp.lug");
    let amps = yard.read(Instrument::Clamp, "pos-clamp.lug", "solenoid.battery");
    let said = yard.walk();
    assert_eq!(said.word, DropWord::Found);
    let worst = &said.spans[said.worst[0]];
    assert_eq!(worst.stretches, [0]);
    assert_eq!(said.amps.by, AmpsBy::Clamp);
    assert!((worst.watts - lost * amps).abs() < 0.1 * worst.watts, "{worst:?}");
    // The rest of the way follows by subtraction, and is fine.
    let rest = said.spans.iter().find(|s| s.stretches.contains(&1)).expect("by subtraction");
    assert_eq!(rest.word, SpanWord::Fine, "{rest:?}");

    // The same readings name it in the job.
    let belief = yard.model.judge(&yard.log);
    let clamp = Unit::named(yard.model.circuit(), "pos-clamp").expect("a part");
    let share = belief.of_unit(yard.model.suspects(), clamp);
    assert!(share > 0.9, "{share}");

    // Cleaned and walked again: what was read before counts no more, and is not forgotten.
    yard.changes.clear();
    let at = yard.at();
    let repaired =
        ObservationEntry::Repaired { unit: "pos-clamp".to_owned(), how: None, note: String::new() };
    yard.enter(&at, repaired).expect("a repair");
    assert_eq!(yard.walk().word, DropWord::NothingRead);
    assert_eq!(yard.model.drops_read(&yard.path, &yard.log).before.len(), 3);
    yard.volts("battery.+", "pos-clamp.lug");
    assert_eq!(yard.walk().spans[0].word, SpanWord::Fine);
}

#[test]
fn the_ground_side_is_walked_as_well() {
    let mut yard = Yard::with("engine-strap=0.01ohm", "crank");
    let supply = yard.volts("battery.+", "starter.stud");
    let said = yard.walk();
    let supply_side = said.supply.expect("a way to the starter");
    assert!(supply < supply_side.limit && supply_side.volts.is_some(), "{supply_side:?}");
    // Next is the way back.
    let next = said.next.expect("the other side");
    assert!(next.from > yard.path.at_load, "{next:?}");
    let back = yard.volts("starter.case", "battery.-");
    assert!(back > 1.0, "{back}");
    let mut said = yard.walk();
    for _ in 0..6 {
        let Some(next) = said.next.filter(|_| said.word != DropWord::Found) else { break };
        let circuit = yard.model.circuit();
        let [from, to] =
            [next.from, next.to].map(|p| circuit.node_name(yard.path.points[p]).to_owned());
        yard.volts(&from, &to);
        said = yard.walk();
    }
    assert_eq!(said.word, DropWord::Found);
    let stretch = said.spans[said.worst[0]].stretches[0];
    let named = yard.path.stretches[stretch].iter().map(|e| &yard.model.circuit().element(*e).id);
    assert!(named.clone().any(|id| id == "engine-strap"), "{:?}", named.collect::<Vec<_>>());
}

#[test]
fn readings_of_another_moment_are_none_of_the_walk() {
    let mut yard = Yard::with("pos-clamp.lug=0.012ohm", "crank");
    let circuit = yard.model.circuit();
    let rest = Condition::at_rest(circuit);
    let at_rest = ObservationEntry::Reading {
        instrument: Instrument::Voltmeter,
        red: "battery.+".to_owned(),
        black: "pos-clamp.lug".to_owned(),
        reading: Reading::Volts(0.0),
        typed: "0".to_owned(),
    };
    yard.enter(&rest, at_rest).expect("a reading");
    assert_eq!(yard.walk().word, DropWord::NothingRead);
    // Red along the way, black on the post: the staircase's readings count here.
    yard.volts("battery.+", "battery.-");
    yard.volts("pos-clamp.lug", "battery.-");
    let said = yard.walk();
    let first = said.spans.iter().find(|s| s.stretches == [0]).expect("by subtraction");
    assert!(first.volts > 1.0 && first.high - first.low > 0.2, "{first:?}");
    let (from, to) = (yard.place("battery.+"), yard.place("pos-clamp.lug"));
    assert_eq!((from, to), (0, 1));
}

#[test]
fn swapped_leads_and_readings_that_contradict_are_never_called_good() {
    let mut yard = Yard::with("pos-clamp.lug=0.012ohm", "crank");
    let lost = yard.volts("pos-clamp.lug", "battery.+");
    assert!(lost < -0.5, "{lost}");
    let said = yard.walk();
    let first = said.spans.iter().find(|s| s.stretches == [0]).expect("read");
    assert_eq!((said.word, first.word), (DropWord::Found, SpanWord::TooMuch));
    assert!(first.volts > 0.5, "{first:?}");
    // The whole way cannot lose less than a part of it.
    yard.changes.clear();
    yard.volts("battery.+", "starter.stud");
    let said = yard.walk();
    let rest = said.spans.iter().find(|s| s.stretches.contains(&1)).expect("by subtraction");
    assert!(rest.volts < 0.0 && rest.word == SpanWord::Unclear, "{rest:?}");
}

#[test]
fn where_nothing_is_drawn_no_joint_is_called_good() {
    // A starter that is open: every drop on the way reads nothing.
    let mut yard = Yard::with("starter=open", "crank");
    let points: Vec<_> =
        yard.path.points.iter().map(|n| yard.model.circuit().node_name(*n).to_owned()).collect();
    let load = yard.path.at_load;
    for at in (0..yard.path.stretches.len()).filter(|k| *k != load) {
        yard.volts(&points[at], &points[at + 1]);
    }
    let said = yard.walk();
    assert_eq!(said.word, DropWord::NotDrawing);
    assert!(said.spans.iter().all(|s| s.word != SpanWord::Fine), "{:?}", said.spans);
    // A clamp says so by itself.
    let mut clamped = Yard::with("starter=open", "crank");
    let amps = clamped.read(Instrument::Clamp, "pos-clamp.lug", "solenoid.battery");
    assert!(amps.abs() < 10.0, "{amps}");
    assert_eq!(clamped.walk().word, DropWord::NotDrawing);
}

#[test]
fn no_probe_is_ever_asked_to_a_kill_wire() {
    let mut walked = 0;
    for shipped in LIBRARY {
        let model = model(shipped.name);
        let circuit = model.circuit();
        let named = circuit.document().circuits.iter().filter(|c| c.load.is_none());
        let kills: Vec<_> = named.filter_map(|c| Ladder::lay_out(circuit, &c.id).ok()).collect();
        for path in model.load_paths() {
            for kill in &kills {
                // Behind its last contact it is ground.
                let hot = |rung: &Rung| {
                    let last = rung.contacts.last();
                    let last = rung.path.elements.iter().rposition(|e| Some(e) == last);
                    rung.path.nodes[..=last.unwrap_or(0)].to_vec()
                };
                let hot: Vec<_> = kill.rungs.iter().flat_map(hot).collect();
                assert!(!hot.is_empty());
                let at: Vec<_> = path.points.iter().filter(|n| hot.contains(n)).collect();
                assert!(at.is_empty(), "{}: {} at {at:?}", shipped.name, path.id);
            }
            walked += 1;
        }
    }
    assert!(walked > 40, "{walked}");
}

#[test]
fn where_no_probe_may_be_put_none_is_asked_for() {
    let circuit = Z_52.circuit();
    let closed = circuit.terminal("solenoid.motor").expect("a terminal");
    let crank = |safe: &dyn Fn(NodeId) -> bool| {
        load_paths(circuit, safe).into_iter().find(|p| p.id == "crank").expect("a way")
    };
    let (all, fewer) = (crank(&|_| true), crank(&|node| node != closed));
    assert!(all.points.contains(&closed) && !fewer.points.contains(&closed));
    // What lay to either side is one stretch then.
    assert_eq!(fewer.stretches.len() + 1, all.stretches.len());
    assert_eq!(fewer.elements().count(), all.elements().count());
}

#[test]
fn a_clamp_reads_what_a_clutch_draws_and_moves_its_suspects() {
    // Shorted turns: twice the amps.
    let mut yard = Yard::with("clutch=1.1ohm", "pto");
    let clutch = Unit::named(yard.model.circuit(), "clutch").expect("a part");
    let before = yard.model.judge(&yard.log).of_unit(yard.model.suspects(), clutch);
    let wire = yard
        .path
        .elements()
        .map(|id| yard.model.circuit().element(id))
        .find(|e| e.wire.is_some() && [e.a, e.b].contains(&yard.path.points[yard.path.at_load]))
        .expect("a wire to the clutch");
    let ends = [wire.a, wire.b].map(|n| yard.model.circuit().node_name(n).to_owned());
    let amps = yard.read(Instrument::Clamp, &ends[0], &ends[1]);
    assert!(amps.abs() > 8.0, "{amps}");
    let after = yard.model.judge(&yard.log).of_unit(yard.model.suspects(), clutch);
    assert!(after > 5.0 * before, "{before} {after}");
    // Once more on the wire behind it: that is no slip.
    let behind = yard.path.points[yard.path.at_load + 1];
    let wire = yard.path.elements().map(|id| yard.model.circuit().element(id));
    let wire = wire.filter(|e| e.wire.is_some()).find(|e| [e.a, e.b].contains(&behind));
    let wire = wire.expect("a wire behind it");
    let ends = [wire.a, wire.b].map(|n| yard.model.circuit().node_name(n).to_owned());
    yard.read(Instrument::Clamp, &ends[0], &ends[1]);
    let twice = yard.model.judge(&yard.log).of_unit(yard.model.suspects(), clutch);
    assert!(twice > 0.8, "{twice}");
}

#[test]
fn a_clamp_goes_around_a_wire() {
    let mut yard = Yard::with("clutch=1.1ohm", "crank");
    let at = yard.at();
    let clamp = |black: &str, amps: f64| ObservationEntry::Reading {
        instrument: Instrument::Clamp,
        red: "battery.+".to_owned(),
        black: black.to_owned(),
        reading: Reading::Amps(amps),
        typed: amps.to_string(),
    };
    let refused = yard.enter(&at, clamp("battery.-", 120.0)).expect_err("no wire there");
    assert_eq!(
        refused.to_string(),
        "a clamp goes around a wire, and none runs from battery.+ to battery.-"
    );
    let too_much = ObservationEntry::Reading {
        instrument: Instrument::Clamp,
        red: "pos-clamp.lug".to_owned(),
        black: "solenoid.battery".to_owned(),
        reading: Reading::Amps(9000.0),
        typed: "9000".to_owned(),
    };
    assert_eq!(yard.enter(&at, too_much), Err(EntryError::Amps));
}

#[test]
fn where_a_joint_is_bad_somewhere_the_walk_is_worth_it() {
    let mut yard = Yard::with("pos-clamp.lug=0.012ohm", "crank");
    let ask = |yard: &Yard| {
        let belief = yard.model.judge(&yard.log);
        yard.model.drops_in_question(&belief, &yard.log).map(|(id, share)| (id.to_owned(), share))
    };
    assert_eq!(ask(&yard), None);
    yard.hear(Heard::CranksSlowly);
    yard.volts("battery.+", "battery.-");
    yard.volts("solenoid.battery", "battery.-");
    let (id, share) = ask(&yard).expect("volts are lost on the way");
    assert!(id == "crank" && share > 0.25, "{id} {share}");
}

#[test]
fn nearly_every_bad_joint_of_the_yard_is_named_and_sound_circuits_are_left_alone() {
    let mut all = Vec::new();
    for shipped in LIBRARY {
        all.extend(try_drops(&model(shipped.name), 120, 1));
    }
    let (bad, sound): (Vec<_>, Vec<_>) = all.iter().partition(|t| t.bad > 0);
    assert!(bad.len() > 700 && sound.len() > 150, "{} {}", bad.len(), sound.len());
    let right = wilson(bad.iter().filter(|t| t.right).count(), bad.len());
    assert!(right.low > 0.97, "{right:?}");
    assert!(sound.iter().filter(|t| t.right).count() * 100 >= 99 * sound.len());
}

#[test]
fn a_starter_that_gets_too_few_volts_is_not_blamed() {
    let mut yard = Yard::with("pos-clamp.lug=0.02ohm", "crank");
    yard.volts("starter.stud", "starter.case");
    assert_eq!(yard.walk().starter, None, "nobody knows what it draws");
    yard.read(Instrument::Clamp, "pos-clamp.lug", "solenoid.battery");
    let word = |yard: &Yard| yard.walk().starter.expect("volts and amps").word;
    assert_eq!(word(&yard), StarterWord::Starved);
    yard.volts("battery.+", "battery.-");
    assert_eq!(word(&yard), StarterWord::LostOnTheWay);

    let mut tight = Yard::with("starter=0.03ohm", "crank");
    tight.volts("starter.stud", "starter.case");
    tight.read(Instrument::Clamp, "pos-clamp.lug", "solenoid.battery");
    assert_eq!(word(&tight), StarterWord::DrawsTooMuch);
}

#[test]
fn nearly_every_starter_of_the_yard_is_put_in_its_region() {
    let mut all = Vec::new();
    for shipped in LIBRARY {
        all.extend(try_starters(&model(shipped.name), 200, 1));
    }
    let right = wilson(all.iter().filter(|t| t.named == Some(t.truth)).count(), all.len());
    assert!(all.len() > 1500 && right.low > 0.93, "{right:?}");
}
