//! R1 against an independent general-purpose circuit simulator: every row kept in `reference/`,
//! within 0.1 % or 1 mV (listed zeros: 1 mA, 1 milliohm).

mod library;

use kelvok_core::circuit::{
    Change, Circuit, CoilState, Condition, ElementId, ElementKind, NodeId, Outcome, Relays,
    Setting, Solver, operating_point, parse_change,
};
use std::collections::HashMap;

/// Reference node name -> terminal.
const NODES: [(&str, &str); 29] = [
    ("BATP", "battery.+"),
    ("BATN", "battery.-"),
    ("ST1", "solenoid.battery"),
    ("F1O", "fuse.out"),
    ("KB", "key.B"),
    ("KA", "key.A"),
    ("KS", "key.S"),
    ("KM", "key.M"),
    ("KG", "key.G"),
    ("LT", "lamps.+"),
    ("NI", "neutral.in"),
    ("NO", "neutral.out"),
    ("B1I", "brake.start-in"),
    ("B1O", "brake.start-out"),
    ("P1I", "pto.start-in"),
    ("P1O", "pto.start-out"),
    ("SOLC", "solenoid.trigger"),
    ("SCASE", "solenoid.case"),
    ("ST2", "solenoid.motor"),
    ("STM", "starter.stud"),
    ("ENG", "engine.block"),
    ("MAG", "module.kill"),
    ("K1", "seat.kill-in"),
    ("P3O", "pto.clutch-out"),
    ("S2O", "seat.clutch-out"),
    ("CL", "clutch.+"),
    ("CG", "clutch.-"),
    ("RV", "reverse.in"),
    ("FRAME", "frame.metal"),
];

/// Reference element name -> our fault subject.
const ELEMENTS: [(&str, &str); 15] = [
    ("BR1", "brake.start"),
    ("BR2", "brake.kill"),
    ("PT1", "pto.start"),
    ("WKS", "w-ks"),
    ("F1", "fuse"),
    ("WSTRAP", "w-strap"),
    ("WENG", "w-engine"),
    ("KBS", "key.start"),
    ("COIL", "solenoid.coil"),
    ("SOLK", "solenoid.contact"),
    ("CLCH", "clutch"),
    ("WCG", "w-clutch-ground"),
    ("SE2", "seat.clutch"),
    ("SE1", "seat.kill"),
    ("WKM", "w-kill"),
];

struct Table {
    columns: Vec<String>,
    rows: Vec<Vec<String>>,
}

impl Table {
    fn read(text: &str) -> Self {
        let split = |line: &str| line.split(',').map(str::to_owned).collect::<Vec<_>>();
        let mut lines = text.lines();
        Self { columns: split(lines.next().expect("a header")), rows: lines.map(split).collect() }
    }

    fn get<'a>(&self, row: &'a [String], column: &str) -> &'a str {
        let at = self.columns.iter().position(|c| c == column);
        &row[at.unwrap_or_else(|| panic!("no column {column}"))]
    }

    fn number(&self, row: &[String], column: &str) -> f64 {
        self.get(row, column).parse().expect("a number")
    }
}

fn node(circuit: &Circuit, name: &str) -> NodeId {
    let (_, terminal) =
        NODES.iter().find(|(n, _)| *n == name).unwrap_or_else(|| panic!("unmapped node {name}"));
    circuit.terminal(terminal).expect("terminal")
}

fn condition(circuit: &Circuit, table: &Table, row: &[String]) -> Condition {
    let pick = |column: &str, from: &[(&'static str, &'static str)]| {
        let value = table.get(row, column);
        from.iter().find(|(k, _)| *k == value).expect("known position").1
    };
    let mut set = vec![
        ("key", pick("key", &[("OFF", "off"), ("RUN", "run"), ("START", "start")])),
        ("seat", pick("seat", &[("occ", "on"), ("empty", "empty")])),
        ("pedal", pick("brake", &[("press", "down"), ("rel", "up")])),
        ("blades", table.get(row, "pto")),
        ("lever", pick("gear", &[("N", "neutral"), ("R", "reverse"), ("F", "forward")])),
    ];
    if table.columns.iter().any(|c| c == "lights") {
        set.push(("lights", pick("lights", &[("0", "off"), ("1", "on")])));
    }
    library::condition(circuit, &set)
}

fn change(circuit: &Circuit, text: &str) -> Vec<Change> {
    let (subject, value) = match text {
        "none" => return Vec::new(),
        "kill_short_0.05" => ("KSHORT", "0.05"),
        "brake2_open" => ("BR2", "1e9"),
        "kill_wire_open" => ("WKM", "1e9"),
        _ => text.split_once('=').expect("NAME=value"),
    };
    let when_made = subject.ends_with('!');
    let subject = subject.trim_end_matches('!');
    let ohms: f64 = value.parse().expect("a number");
    let notation = match subject {
        "EMF" => format!("battery={ohms}V"),
        "RINT" => format!("battery={ohms}ohm"),
        "KSHORT" => format!("key.M=ground:{ohms}ohm"),
        _ => {
            let ours = ELEMENTS.iter().find(|(n, _)| *n == subject).expect("mapped").1;
            let element = circuit.element_named(ours).expect("element");
            let contact = matches!(circuit.element(element).kind, ElementKind::Contact(_));
            match (ohms >= 1e9, contact && !when_made) {
                (true, _) => format!("{ours}=open"),
                (false, true) => format!("{ours}=made"),
                (false, false) => format!("{ours}={ohms}ohm"),
            }
        }
    };
    vec![parse_change(circuit, &notation).expect("notation")]
}

fn close(ours: f64, theirs: f64, zero: f64, what: &str) {
    let allowed = if theirs == 0.0 { zero } else { (theirs.abs() * 1e-3).max(1e-3) };
    assert!((ours - theirs).abs() <= allowed, "{what}: ours {ours}, reference {theirs}");
}

/// A case of the outcomes file, solved at the armature position its row is about.
struct Case {
    condition: Condition,
    changes: Vec<Change>,
    /// Chatter has a row with the contact open and one with it closed.
    relays: Relays,
    outcome: Outcome,
}

fn cases(circuit: &Circuit) -> HashMap<(String, String), (Case, Vec<String>)> {
    let table = Table::read(include_str!("reference/r1-outcomes.csv"));
    let mut cases = HashMap::new();
    for row in &table.rows {
        let condition = condition(circuit, &table, row);
        let changes = change(circuit, table.get(row, "fault"));
        let point = operating_point(circuit, &condition, Relays::default(), &changes, &[]);
        let expected = match table.get(row, "solenoid") {
            "open" => CoilState::Off,
            "pulled-in" => CoilState::Pulled,
            "CHATTER" => CoilState::Chatter,
            other => panic!("unknown state {other}"),
        };
        let name = table.get(row, "case").to_owned();
        assert_eq!(point.outcome.coils[0], expected, "{name}");
        let contact = table.get(row, "solenoid_contact").trim_start_matches("contact ").to_owned();
        let relays = Relays(u64::from(contact == "closed"));
        if point.chatter.is_empty() {
            assert_eq!(point.relays, relays, "{name}");
        }
        let case = Case { condition, changes, relays, outcome: point.outcome };
        assert!(cases.insert((name, contact), (case, row.clone())).is_none());
    }
    assert_eq!(cases.len(), 31);
    cases
}

#[test]
fn outcomes_agree() {
    let circuit = library::r1();
    let table = Table::read(include_str!("reference/r1-outcomes.csv"));
    let mut solver: Solver<'_> = Solver::new(&circuit);
    for ((name, contact), (case, row)) in &cases(&circuit) {
        let setting = Setting::new(&circuit, &case.condition).with(&circuit, &case.changes);
        solver.solve_held(&setting, case.relays);
        let element = |id: &str| circuit.element_named(id).expect("element");
        let amps = |id: &str| solver.amps(0, element(id));
        let volts = |id: ElementId| {
            let e = circuit.element(id);
            solver.volts(0, e.a) - solver.volts(0, e.b)
        };
        for (column, ours) in [
            ("coil_V", volts(element("solenoid.coil"))),
            ("coil_A", amps("solenoid.coil")),
            ("starter_A", amps("starter")),
            ("clutch_A", amps("clutch")),
            ("kill_wire_A", amps("w-kill").abs()),
            ("battery_A", amps("battery")),
            ("battery_terminals_V", -volts(element("battery"))),
        ] {
            let theirs = table.number(row, column);
            close(ours, theirs, 1e-3, &format!("{name}, contact {contact}, {column}"));
        }
        assert_eq!(case.outcome.spark.len(), 1);
    }
}

#[test]
fn every_node_agrees_with_and_without_a_meter() {
    let circuit = library::r1();
    let cases = cases(&circuit);
    let table = Table::read(include_str!("reference/r1-volts.csv"));
    let frame = NodeId::REFERENCE;
    let negative = node(&circuit, "BATN");
    let mut bare: Solver<'_> = Solver::new(&circuit);
    let mut checked = 0;
    for row in &table.rows {
        let (name, contact) = (table.get(row, "case"), table.get(row, "solenoid_contact"));
        let (case, _) = &cases[&(name.to_owned(), contact.to_owned())];
        let at = node(&circuit, table.get(row, "node"));
        let what = format!("{name}, contact {contact}, {}", table.get(row, "node"));
        let setting = Setting::new(&circuit, &case.condition).with(&circuit, &case.changes);
        bare.solve_held(&setting, case.relays);
        assert_eq!(bare.pieces(0)[at.index()], 0, "{what} floats");
        close(bare.volts(0, at), table.number(row, "volts_to_FRAME"), 1e-3, &what);
        for (column, black) in [("meter_to_FRAME", frame), ("meter_to_battery_negative", negative)]
        {
            let mut setting = setting.clone();
            setting.attach(10e6);
            let mut metered: Solver<'_> = Solver::with_extra(&circuit, &[(at, black)]);
            metered.solve_held(&setting, case.relays);
            let ours = metered.volts(0, at) - metered.volts(0, black);
            close(ours, table.number(row, column), 1e-3, &format!("{what}, {column}"));
        }
        checked += 1;
    }
    assert_eq!(checked, 774);
}

#[test]
fn kill_lead_ohms_agree_with_the_module_plugged_and_unplugged() {
    let circuit = library::r1();
    let table = Table::read(include_str!("reference/r1-kill-ohms.csv"));
    let lead = node(&circuit, "MAG");
    let unplugged = parse_change(&circuit, "module=open").expect("notation");
    let mut solver: Solver<'_> = Solver::new(&circuit);
    for row in &table.rows {
        let condition = condition(&circuit, &table, row);
        let changes = change(&circuit, table.get(row, "fault"));
        for (column, extra) in
            [("module_unplugged_ohm", Some(unplugged)), ("module_plugged_ohm", None)]
        {
            let all: Vec<_> = changes.iter().copied().chain(extra).collect();
            let setting = Setting::new(&circuit, &condition).with(&circuit, &all);
            solver.solve(&[&setting], &[Relays::default()]);
            let ours = solver.resistance(0, lead, NodeId::REFERENCE);
            let what = format!("{} {} {column}", row[0], table.get(row, "fault"));
            match (ours, table.get(row, column)) {
                (None, "open") => {}
                (Some(ours), theirs) if theirs != "open" => {
                    close(ours, theirs.parse().expect("a number"), 1e-3, &what);
                }
                (ours, theirs) => panic!("{what}: ours {ours:?}, reference {theirs}"),
            }
        }
    }
    assert_eq!(table.rows.len(), 48);
}
