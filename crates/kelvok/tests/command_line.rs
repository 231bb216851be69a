//! The commands as a person types them.

use expect_test::expect;
use std::process::{Command, Output};

fn kelvok(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_kelvok"))
        .current_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
        .args(arguments)
        .output()
        .expect("kelvok runs")
}

fn text(bytes: &[u8]) -> String {
    String::from_utf8(bytes.to_vec()).expect("UTF-8")
}

#[test]
fn check_finds_every_problem_and_says_so_with_its_exit() {
    let library = std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/../../machines"));
    let names = library.expect("machines").map(|entry| entry.expect("an entry").file_name());
    let names = names.map(|name| name.to_string_lossy().trim_end_matches(".json").to_owned());
    for machine in names.filter(|name| name != "schema") {
        let sound = kelvok(&["check", &format!("machines/{machine}.json")]);
        assert!(sound.status.success(), "{}", text(&sound.stdout));
    }
    let file = std::env::temp_dir().join(format!("kelvok-check-{}.json", std::process::id()));
    let document = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../machines/kelvok-r1.json"
    ))
    .unwrap();
    let wrong = document.replace("\"key.S\", \"to\"", "\"key.X\", \"to\"").replace("0.018", "-1");
    std::fs::write(&file, wrong).unwrap();
    let found = kelvok(&["check", file.to_str().unwrap()]);
    std::fs::remove_file(&file).unwrap();
    assert_eq!(found.status.code(), Some(1));
    let lines = text(&found.stdout);
    let lines: Vec<_> = lines.lines().take(2).collect();
    expect![[r#"
        /wires/4/from: "key.X": Key switch has no terminal "X".
        /wires/5/ohms: Ohms must be more than zero, not -1.
    "#]]
    .assert_eq(&(lines.join("\n") + "\n"));
    assert_eq!(kelvok(&["check", "no-such-file"]).status.code(), Some(2));
}

#[test]
fn solve_prints_volts_currents_coils_and_what_floats() {
    let solved = kelvok(&[
        "solve",
        "machines/kelvok-r1.json",
        "--set",
        "key=start",
        "--set",
        "pedal=down",
        "--fault",
        "brake.start=open",
    ]);
    assert!(solved.status.success());
    let out = text(&solved.stdout);
    let wanted =
        ["battery.+", "brake.start-in", "brake.start-out", "key.M", "solenoid.coil", "crank"];
    let lines: Vec<_> = out
        .lines()
        .filter(|l| wanted.iter().any(|w| l.split_whitespace().next() == Some(w)))
        .collect();
    expect![[r#"
        battery.+                  12.6532
        brake.start-in             12.6448
        brake.start-out             0.0000
        key.M                       0.0000
        solenoid.coil            off
        crank                    no
    "#]]
    .assert_eq(&(lines.join("\n") + "\n"));
}

#[test]
fn solve_as_json_agrees_and_faults_can_be_listed_and_given() {
    let arguments =
        ["solve", "machines/kelvok-r1.json", "--set", "key=start", "--set", "pedal=down"];
    let solved = kelvok(&[&arguments[..], &["--json", "--fault", "battery=0.35ohm"]].concat());
    let json: serde_json::Value = serde_json::from_slice(&solved.stdout).expect("JSON");
    assert_eq!(json["coils"]["solenoid.coil"], "chatter");
    assert_eq!(json["outcome"]["crank"], "chatter");
    assert_eq!(json["condition"]["pedal"], "down");

    let listed = kelvok(&["solve", "machines/kelvok-r1.json", "--list-faults"]);
    let listed = text(&listed.stdout);
    assert!(listed.lines().any(|l| l == "brake.start=open"));
    for fault in listed.lines().step_by(9) {
        let given = kelvok(&[&arguments[..], &["--fault", fault]].concat());
        assert!(given.status.success(), "{fault}: {}", text(&given.stderr));
    }
    let help = text(&kelvok(&["solve", "--help"]).stdout);
    assert!(help.contains("brake-plug=apart"));
}

#[test]
fn wrong_words_are_named() {
    let run = |extra: &[&str]| {
        let output = kelvok(&[&["solve", "machines/kelvok-r1.json"], extra].concat());
        assert_eq!(output.status.code(), Some(2));
        text(&output.stderr)
    };
    expect![[r#"
        kelvok: this machine has no control "gear"
    "#]]
    .assert_eq(&run(&["--set", "gear=1"]));
    expect![[r#"
        kelvok: in --fault: this machine has no element "brake.stop"
    "#]]
    .assert_eq(&run(&["--fault", "brake.stop=open"]));
}

#[test]
fn decide_says_the_sentences_and_a_bypass_breaks_a_duty() {
    let done = kelvok(&["decide", "machines/pellwick-gt-46.json"]);
    assert!(done.status.success());
    let said = text(&done.stdout);
    assert!(
        said.contains("Cranks when key at start, pedal down, blades off, lever in N."),
        "{said}"
    );
    assert!(said.contains("proved in"), "{said}");
    let broken = kelvok(&["decide", "machines/tarnbeck-u-17d.json"]);
    assert_eq!(broken.status.code(), Some(1));
    let said = text(&broken.stdout);
    assert!(said.contains("NOT AS BUILT: Neutral switch jumped"), "{said}");
    assert!(said.contains("BROKEN in 4 of 32"), "{said}");
    assert!(said.contains("As its maker built it:"), "{said}");
}

#[test]
fn sheet_and_netlist_leave_as_text() {
    let sheet = text(&kelvok(&["faults", "machines/hexley-walk-50.json"]).stdout);
    assert!(sheet.starts_with("fault,mode,found out,"), "{sheet}");
    assert!(sheet.contains("bail-switch.presence=made,stuck closed,hidden,"), "{sheet}");
    let file = "machines/pellwick-gt-46.json";
    let netlist =
        text(&kelvok(&["netlist", file, "--set", "key=run", "--fault", "w20=open"]).stdout);
    assert!(netlist.contains("* with w20=open") && netlist.ends_with(".op\n.end\n"), "{netlist}");
    let refused = kelvok(&["netlist", file, "--engine", "flying"]);
    assert!(text(&refused.stderr).contains("the engine is never \"flying\""));
}

#[test]
fn a_release_is_planned_said_to_be_smallest_and_refused_for_what_is_bypassed() {
    let machine = "machines/hexley-w-21e.json";
    let done = kelvok(&["release", machine]);
    let said = text(&done.stdout);
    assert!(done.status.success(), "{said}");
    assert!(said.contains("no fewer do it (proved)"), "{said}");
    assert!(said.contains("Turn the key to start. It must not crank."), "{said}");
    assert!(said.contains("Now let go of the bail. The engine must stop within 3 s."), "{said}");
    let json = kelvok(&["release", machine, "--as-found", "bail-kill.kill=open", "--json"]);
    assert_eq!(json.status.code(), Some(1));
    let json: serde_json::Value = serde_json::from_slice(&json.stdout).expect("JSON");
    assert!(!json["broken"].as_array().expect("duties").is_empty(), "{json:#}");
    assert_eq!(json["proved_smallest"], true);
    let wrong = kelvok(&["release", machine, "--as-found", "nothing=open"]);
    assert_eq!(wrong.status.code(), Some(2));
}

#[test]
fn diagnose_judges_a_story_and_says_what_it_cannot_be() {
    let (machine, story) = ("machines/pellwick-gt-46.json", "docs/examples/gt-46-no-crank.json");
    let told = kelvok(&["diagnose", machine, story]);
    assert!(told.status.success(), "{}", text(&told.stderr));
    let words = text(&told.stdout);
    assert!(words.contains("cannot be it\n  seat"), "{words}");
    assert!(words.contains("next: see it happen: try starter at key=start"), "{words}");
    // No test is ever shown without what to mind at it.
    assert!(words.contains("\n  ! It may crank."), "{words}");

    let json = kelvok(&["diagnose", machine, story, "--json"]);
    let json: serde_json::Value = serde_json::from_slice(&json.stdout).expect("JSON");
    let suspects = json["suspects"].as_array().unwrap();
    let sum: f64 = suspects.iter().map(|s| s["probability"].as_f64().unwrap()).sum();
    assert!((0.8..1.01).contains(&sum), "{sum}");
    assert_eq!(json["tests"].as_array().unwrap().len(), 5);
    assert_eq!(json["conclusion"], serde_json::Value::Null);

    let file = std::env::temp_dir().join(format!("kelvok-story-{}.csv", std::process::id()));
    std::fs::write(&file, "condition,observation\nkey=sideways,\"{\"\"kind\"\":\"\"heard\"\",\"\"heard\"\":\"\"silent\"\"}\"\n").unwrap();
    let wrong = kelvok(&["diagnose", machine, file.to_str().unwrap()]);
    std::fs::remove_file(&file).unwrap();
    assert_eq!(wrong.status.code(), Some(2));
    assert!(text(&wrong.stderr).contains("in entry 1: "), "{}", text(&wrong.stderr));
    let missing = kelvok(&["diagnose", machine, "nowhere.json"]);
    assert!(text(&missing.stderr).contains("cannot read nowhere.json"));
}

#[test]
fn a_machine_of_ones_own_is_tried_as_those_of_the_library_are() {
    let own = |machine: &str| {
        let tried = kelvok(&[
            "trial",
            "--machine",
            machine,
            "--runs",
            "2",
            "--strategy",
            "best-split",
            "--quiet",
        ]);
        assert!(tried.status.success(), "{}", text(&tried.stderr));
        let table = text(&tried.stdout);
        table.lines().find(|l| l.starts_with("hexley-walk-50")).expect("its row").to_owned()
    };
    let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../machines/hexley-walk-50.json");
    assert_eq!(own(file), own("hexley-walk-50"));
    let none = kelvok(&["trial", "--machine", "no-such-machine"]);
    assert!(!none.status.success());
    let said = text(&none.stderr);
    assert!(said.contains("no-such-machine") && said.contains("hexley-walk-50"), "{said}");
}

#[test]
fn the_meter_refuses_an_address_off_this_computer_and_a_fault_it_cannot_have() {
    let off = kelvok(&["meter", "--listen", "0.0.0.0:0"]);
    assert_eq!(off.status.code(), Some(2));
    assert!(text(&off.stderr).contains("loopback"));
    let fault = kelvok(&["meter", "--fault", "sail=open", "--listen", "127.0.0.1:0"]);
    assert!(text(&fault.stderr).contains("sail"), "{}", text(&fault.stderr));
}

#[test]
fn identify_says_which_terminal_is_which_and_what_to_probe_next() {
    let file = std::env::temp_dir().join(format!("kelvok-identify-{}.csv", std::process::id()));
    let path = file.to_str().expect("UTF-8");
    let identify = |text: &str, more: &[&str]| {
        std::fs::write(&file, text).expect("a file");
        let found = kelvok(&[&["identify", path], more].concat());
        assert!(found.status.success(), "{}", self::text(&found.stderr));
        self::text(&found.stdout)
    };
    let some = "position,from,to,reading\noff,u,v,buzz\nrun,u,v,silent\nstart,w,x,buzz\n\
                start,w,y,0.2\nstart,x,y,silent\nrun,w,oops,\n";
    expect![[r#"
        left out: line 7: no reading
        start: x-y open cannot hold together with x-w, w-y
         50.0 %  Key switch, five lettered terminals, for a magneto  12 ways
                 u is M or G
                 v is M or G
                 w is B or S or A
                 x is B or S or A
                 y is B or S or A
         50.0 %  Key switch, terminals numbered 1 to 5, for a magneto  12 ways
                 u is 1 or 3
                 v is 1 or 3
                 w is 2 or 4 or 5
                 x is 2 or 4 or 5
                 y is 2 or 4 or 5
        next: run, w to x (0.92 bits)
    "#]]
    .assert_eq(&identify(some, &[]));
    // A plain switch is the same either way round.
    let plain = "position;from;to;reading\nreleased;p;q;OL\npressed;p;q;0.1\n";
    expect![[r#"
         50.0 %  Interlock switch, two pins, normally open  2 ways
                 p is 1 or 2
                 q is 1 or 2
         50.0 %  Ball switch, two pins, threaded into a housing, normally open  2 ways
                 p is 1 or 2
                 q is 1 or 2
        no further probe tells more
        nothing at the switch itself tells these apart: p, q
    "#]]
    .assert_eq(&identify(plain, &[]));
    let odd = "off,p,q,buzz\nrun,r,s,buzz\nstart,r,t,buzz\nstart,r,s,silent\n";
    expect![[r#"
        no profile fits; by the logic of the positions
                 p is kill or ground
                 q is kill or ground
                 r is supply or ignition or accessory or charge
                 s is accessory or lights or supply
                 t is starter
    "#]]
    .assert_eq(&identify(odd, &[]));
    let json: serde_json::Value = serde_json::from_str(&identify(some, &["--json"])).expect("JSON");
    assert_eq!(json["left_out"].as_array().map(Vec::len), Some(1), "{json}");
    assert_eq!(json["conflicts"].as_array().map(Vec::len), Some(1), "{json}");
    let wrong = kelvok(&["identify", path, "--at", "sideways"]);
    std::fs::write(&file, "off,p,q,perhaps\n").expect("a file");
    let nothing = kelvok(&["identify", path]);
    assert_eq!(nothing.status.code(), Some(2));
    assert!(text(&nothing.stderr).contains("\"perhaps\" is not beep, no beep or ohms"));
    std::fs::remove_file(&file).expect("a file");
    assert_eq!(wrong.status.code(), Some(2));
    assert_eq!(kelvok(&["identify", "no-such-file"]).status.code(), Some(2));
}

#[test]
fn whoever_stops_reading_ends_it_quietly() {
    let mut reading = Command::new(env!("CARGO_BIN_EXE_kelvok"))
        .arg("openapi")
        .stdout(std::process::Stdio::piped())
        .stderr(std::process::Stdio::piped())
        .spawn()
        .expect("kelvok");
    drop(reading.stdout.take());
    let ended = reading.wait_with_output().expect("it ends");
    assert_eq!(text(&ended.stderr), "", "as `| head` does");
}

#[test]
fn describe_prints_its_questions_and_makes_a_machine_of_answers() {
    let questions = kelvok(&["describe"]);
    assert!(text(&questions.stdout).contains("kelvok-questions/1"));
    let folder = std::env::temp_dir();
    let file = |name: &str| folder.join(format!("kelvok-{name}-{}.json", std::process::id()));
    let (answers, machine) = (file("answers"), file("described"));
    std::fs::write(&answers, r#"{"kind": "zero-turn", "seat": "4", "brake": null}"#).unwrap();
    let described = kelvok(&["describe", answers.to_str().unwrap(), "--model", "Stranger"]);
    let said = text(&described.stderr);
    assert!(described.status.success(), "{said}");
    assert!(said.contains("not looked at: Parking brake switch: how many pins?"), "{said}");
    assert!(!said.contains("Seat switch"), "{said}");
    std::fs::write(&machine, &described.stdout).unwrap();
    let decides = kelvok(&["decide", machine.to_str().unwrap()]);
    assert!(decides.status.success(), "{}", text(&decides.stdout));
    std::fs::write(&answers, r#"{"seat": "3"}"#).unwrap();
    let wrong = kelvok(&["describe", answers.to_str().unwrap()]);
    assert_eq!(wrong.status.code(), Some(2));
    assert!(text(&wrong.stderr).contains("Choices: none, 2, 4."), "{}", text(&wrong.stderr));
    for file in [answers, machine] {
        std::fs::remove_file(file).unwrap();
    }
}

#[test]
fn diff_says_what_is_drawn_and_decided_otherwise() {
    let same = kelvok(&["diff", "machines/pellwick-r-30.json", "machines/pellwick-r-30.json"]);
    assert!(same.status.success());
    assert_eq!(text(&same.stdout), "Nothing is otherwise.\n");
    let file = std::env::temp_dir().join(format!("kelvok-diff-{}.json", std::process::id()));
    let document = std::fs::read_to_string(concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../machines/dunmarrow-z-52.json"
    ))
    .unwrap();
    // Somebody ran the wire of the key's S pin past the PTO switch.
    let bridged = document.replace(
        "\"from\": \"key-plug.S\",\n      \"to\": \"pto-plug.A\"",
        "\"from\": \"key-plug.S\",\n      \"to\": \"pto-plug.B\"",
    );
    assert_ne!(bridged, document);
    std::fs::write(&file, bridged).unwrap();
    let differs = kelvok(&["diff", "machines/dunmarrow-z-52.json", file.to_str().unwrap()]);
    std::fs::remove_file(&file).unwrap();
    assert_eq!(differs.status.code(), Some(1));
    let said = text(&differs.stdout);
    for part in [
        "ends at PTO switch plug pin B, not PTO switch plug pin A.",
        "LESS SAFE: Now cranks in ",
        "broken now, proved before",
    ] {
        assert!(said.contains(part), "{part}: {said}");
    }
}
