//! Sweeps of kill wires over the library: what they tell, and that no stand can crank.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{
    ElementKind, FaultMode, NodeId, Reading, Relays, Setting, Solver, read,
};
use kelvok_core::diagnosis::{KillSweep, Model, SetUp, Sign, Suspects};
use kelvok_core::interlock::{Judge, Ladder};
use kelvok_core::machine::LIBRARY;

/// Every sweep of every library machine, with what it was planned on.
fn each(mut see: impl FnMut(&str, &kelvok_core::circuit::Circuit, &Suspects, &KillSweep)) -> usize {
    let mut sweeps = 0;
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let model = Model::new(circuit);
        let circuit = model.circuit();
        for named in circuit.document().circuits.iter().filter(|c| c.load.is_none()) {
            if let Some(sweep) = model.kill_sweep(&named.id).unwrap() {
                see(shipped.name, circuit, model.suspects(), &sweep);
                sweeps += 1;
            }
        }
    }
    sweeps
}

#[test]
fn no_stand_of_any_sweep_can_crank_whatever_is_wrong() {
    let sweeps = each(|name, circuit, suspects, sweep| {
        let set_up: Vec<_> = sweep.set_up.iter().flat_map(|s| s.changes(circuit)).collect();
        // One that is started with a rope has nothing to crank it.
        let starts = !circuit.document().drive.recoil;
        for stand in &sweep.stands {
            for scenario in suspects.scenarios.iter().filter(|_| starts) {
                let changes = [scenario.changes.as_slice(), &set_up].concat();
                let mut judge = Judge::new(circuit, &changes);
                assert!(!judge.cranks(&stand.condition), "{name}: {:?}", stand.condition);
            }
            // Nor is a key held against its spring.
            for (control, position) in circuit.controls.iter().zip(&stand.condition.positions) {
                let held = control.positions[usize::from(*position)].returns_to.is_some();
                assert!(!held || control.id != "key", "{name}: the key is held");
            }
        }
    });
    assert!(sweeps >= 6, "{sweeps}");
}

#[test]
fn a_sweep_is_walked_with_the_battery_off_where_there_is_one() {
    each(|name, circuit, _, sweep| {
        let battery = circuit.elements().any(|(_, e)| matches!(e.kind, ElementKind::Source { .. }));
        assert_eq!(sweep.set_up.contains(&SetUp::BatteryOff), battery, "{name}");
    });
}

#[test]
fn a_plug_comes_off_for_a_walk_and_for_no_less() {
    let mut worth = Vec::new();
    each(|name, _, _, sweep| {
        worth.push((name.to_owned(), sweep.stands.len(), sweep.is_worth_it()))
    });
    for (name, stands, is) in &worth {
        assert_eq!(*is, *stands > 2, "{name}");
    }
    let of = |name: &str| worth.iter().any(|(n, _, is)| n == name && *is);
    assert!(of("pellwick-gt-46") && of("hexley-walk-50") && !of("dunmarrow-z-52"), "{worth:?}");
}

#[test]
fn every_stand_shows_what_it_says_and_convicts_what_it_names() {
    each(|name, circuit, suspects, sweep| {
        let set_up: Vec<_> = sweep.set_up.iter().flat_map(|s| s.changes(circuit)).collect();
        let node =
            |i: usize| circuit.terminal(&circuit.document().test_points[i].terminal).unwrap();
        let probes: (NodeId, NodeId) = (node(sweep.red), node(sweep.black));
        for stand in &sweep.stands {
            let sign = |fault: &[kelvok_core::circuit::Change]| {
                let changes = [fault, &set_up].concat();
                let at = &stand.condition;
                let relays = Relays::default();
                let seen = read(circuit, at, relays, &changes, sweep.instrument, probes);
                Sign::of(seen.unwrap_or(Reading::Volts(0.0))).expect("dead")
            };
            assert_eq!(sign(&[]), stand.shows, "{name}");
            for contact in &stand.tells {
                let convicted = suspects.list.iter().any(|s| {
                    let own = s.elements.contains(contact);
                    let mode = |m| matches!(m, FaultMode::Open | FaultMode::StuckMade);
                    let fault = s.faults.first().filter(|f| own && mode(f.mode));
                    fault.is_some_and(|f| sign(&[f.at(0.0)]) != stand.shows)
                });
                assert!(convicted, "{name}: {}", circuit.element(*contact).id);
            }
        }
        // With the battery on, no probe of it may stand on anything live.
        if !sweep.set_up.contains(&SetUp::BatteryOff) {
            for stand in &sweep.stands {
                let setting = Setting::new(circuit, &stand.condition).with(circuit, &set_up);
                let mut solver: Solver<'_> = Solver::for_changes(circuit, &set_up);
                solver.solve(&[&setting], &[Relays::default()]);
                assert!(solver.volts(0, probes.0).abs() < 0.05, "{name}");
            }
        }
    });
}

#[test]
fn the_two_cylinder_tractor_is_swept_in_seven_stands_that_tell_of_every_contact() {
    let circuit = library::gt46();
    let model = Model::new(circuit);
    let circuit = model.circuit();
    let sweep = model.kill_sweep("kill").unwrap().expect("a sweep");
    let mut out = String::new();
    for stand in &sweep.stands {
        let set: Vec<_> = stand.condition.named(circuit).map(|(_, p)| p).collect();
        let tells: Vec<_> = stand.tells.iter().map(|e| circuit.element(*e).id.as_str()).collect();
        let (set, tells) = (set.join(" "), tells.join(" "));
        out.push_str(&format!("{} moved, {:?}: {set} | {tells}\n", stand.moved, stand.shows));
    }
    expect![[r#"
        0 moved, Buzzes: off on up off neutral | key.kill
        2 moved, Buzzes: run empty up off neutral | brake.kill seat.kill
        2 moved, Buzzes: run empty down on neutral | pto.kill seat.kill
        2 moved, Silent: run empty down off reverse | key.kill brake.kill pto.kill pto.reverse
        3 moved, Buzzes: run on up on reverse | key.reverse pto.reverse reverse.kill
        1 moved, Silent: run on up on neutral | key.kill seat.kill reverse.kill
        2 moved, Silent: reverse-mow on up on reverse | key.kill key.reverse seat.kill
    "#]]
    .assert_eq(&out);
    let contact = |e: &&kelvok_core::circuit::ElementId| {
        matches!(circuit.element(**e).kind, ElementKind::Contact(_))
    };
    assert_eq!(sweep.not_told.iter().filter(contact).count(), 0);
}

#[test]
fn a_way_inside_a_module_is_no_rung() {
    for shipped in LIBRARY {
        let circuit = library::circuit(shipped.name);
        let kills = circuit.document().circuits.iter().filter(|c| c.load.is_none());
        for ladder in kills.filter_map(|c| Ladder::lay_out(&circuit, &c.id).ok()) {
            let bare = ladder.rungs.iter().any(|r| r.contacts.is_empty());
            assert!(!bare, "{}: no contact decides", shipped.name);
        }
    }
}
