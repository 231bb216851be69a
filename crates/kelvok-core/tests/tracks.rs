//! Circuits laid out as rails.

mod library;

use expect_test::expect;
use kelvok_core::circuit::{Circuit, Relays, operating_point};
use kelvok_core::interlock::{Piece, Track, nearest_complete, paths};
use kelvok_core::machine::Machine;
use serde_json::json;

fn line(circuit: &Circuit, pieces: &[Piece]) -> String {
    let text = |piece: &Piece| match piece {
        Piece::Element { element, .. } => circuit.element(*element).id.clone(),
        Piece::Fork(branches) => {
            let branches: Vec<_> = branches.iter().map(|b| line(circuit, b)).collect();
            format!("( {} )", branches.join(" | "))
        }
    };
    pieces.iter().map(text).collect::<Vec<_>>().join(" ")
}

#[test]
fn the_start_circuit_of_the_gt46_is_gates_in_line() {
    let circuit = library::gt46();
    let track = Track::lay_out(&circuit, "start").unwrap();
    expect!["pos-clamp.lug w1 w5 main-fuse w6 key-plug.B key.start key-plug.S w7 dash-plug.1 w8 neutral-plug.A neutral.start neutral-plug.B w9 brake-plug.A brake.start brake-plug.B w10 dash-plug.2 w11 pto-plug.A pto.start pto-plug.B w12 dash-plug.3 w13 trigger-tab.T"]
        .assert_eq(&line(&circuit, &track.feed));
    expect!["solenoid-base ground-strap w2 neg-clamp.lug"].assert_eq(&line(&circuit, &track.back));
}

#[test]
fn what_blocks_the_start_is_what_the_operator_does() {
    let circuit = library::gt46();
    let track = Track::lay_out(&circuit, "start").unwrap();
    let blocked = |set: &[(&str, &str)]| {
        let condition = library::condition(&circuit, set);
        let path = &track.feed_paths()[0];
        let ids = path.blocked_by(&circuit, &condition);
        let ids: Vec<_> = ids.iter().map(|e| circuit.element(*e).id.clone()).collect();
        let point = operating_point(&circuit, &condition, Relays::default(), &[], &[]);
        let coil = track.load.index();
        assert_eq!(ids.is_empty(), point.amps[coil].abs() > 1.0);
        ids.join(" ")
    };
    assert_eq!(blocked(&[("key", "start"), ("pedal", "down")]), "");
    assert_eq!(blocked(&[("key", "start")]), "brake.start");
    assert_eq!(
        blocked(&[("lever", "reverse"), ("blades", "on")]),
        "key.start neutral.start brake.start pto.start"
    );
}

#[test]
fn the_fewest_moves_that_complete_the_start_are_found() {
    let circuit = library::gt46();
    let track = Track::lay_out(&circuit, "start").unwrap();
    let nearest = |set: &[(&str, &str)]| {
        let from = library::condition(&circuit, set);
        let to = nearest_complete(&circuit, &track, &from).expect("it can crank");
        let moves = to.named(&circuit).zip(from.named(&circuit)).filter(|(a, b)| a != b);
        moves.map(|((control, position), _)| format!("{control}={position}")).collect::<Vec<_>>()
    };
    assert_eq!(nearest(&[]), ["key=start", "pedal=down"]);
    assert_eq!(nearest(&[("key", "start"), ("pedal", "down"), ("blades", "on")]), ["blades=off"]);
    assert_eq!(nearest(&[("key", "start"), ("pedal", "down"), ("seat", "empty")]), [""; 0]);
}

/// A battery, a coil, and between them whatever these wires make of the posts a to e.
fn posts(wires: &[(&str, &str)]) -> Circuit {
    let wires: Vec<_> = wires
        .iter()
        .enumerate()
        .map(|(i, (from, to))| json!({"id": format!("w{}", i + 1), "from": from, "to": to, "ohms": 0.01}))
        .collect();
    let document = json!({
        "format": "kelvok-machine/1",
        "identity": {"make": "Test", "model": "Posts", "family": "bench"},
        "reference": "frame",
        "controls": [],
        "parts": [
            {"id": "battery", "kind": "battery", "name": "Battery", "terminals": ["+", "-"]},
            {"id": "frame", "kind": "body", "name": "Frame", "terminals": ["metal"]},
            {"id": "post", "kind": "socket", "name": "Posts", "terminals": ["a", "b", "c", "d"]},
            {"id": "coil", "kind": "resistance", "name": "Coil", "terminals": ["in", "out"], "ohms": 4},
        ],
        "wires": wires,
        "splices": [{"id": "ground", "terminals": ["coil.out", "frame.metal", "battery.-"]}],
        "circuits": [{"id": "start", "name": "Start", "from": "battery.+", "load": "coil", "to": "battery.-"}],
    });
    Circuit::compile(&Machine::read(&document.to_string()).expect("a sound document"))
}

#[test]
fn branches_fork_the_rail() {
    let circuit = posts(&[
        ("battery.+", "post.a"),
        ("post.a", "post.b"),
        ("post.b", "post.d"),
        ("post.c", "post.a"),
        ("post.c", "post.d"),
        ("post.d", "coil.in"),
    ]);
    let track = Track::lay_out(&circuit, "start").unwrap();
    expect!["w1 ( w2 w3 | w4 w5 ) w6"].assert_eq(&line(&circuit, &track.feed));
}

#[test]
fn a_bridge_falls_back_to_whole_paths() {
    let circuit = posts(&[
        ("battery.+", "post.a"),
        ("battery.+", "post.b"),
        ("post.a", "post.b"),
        ("post.a", "coil.in"),
        ("post.b", "coil.in"),
    ]);
    let track = Track::lay_out(&circuit, "start").unwrap();
    expect!["( w1 w3 w5 | w1 w4 | w2 w3 w4 | w2 w5 )"].assert_eq(&line(&circuit, &track.feed));
    let from = circuit.terminal("battery.+").unwrap();
    let to = circuit.terminal("coil.in").unwrap();
    assert_eq!(paths(&circuit, from, to, &[], 3).len(), 3);
}
