//! The invariants of docs/architecture.md that a program can hold.

mod imports;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn read(path: impl AsRef<Path>) -> String {
    let path = path.as_ref();
    std::fs::read_to_string(path).unwrap_or_else(|e| panic!("{}: {e}", path.display()))
}

/// Every file below a folder with one of these endings.
fn files(folder: &Path, endings: &[&str]) -> Vec<PathBuf> {
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default().to_owned();
        if path.is_dir() {
            found.extend(files(&path, endings));
        } else if endings.iter().any(|e| name.ends_with(e)) {
            found.push(path);
        }
    }
    found
}

/// Our crates that each crate's `[dependencies]` name.
fn dependencies() -> BTreeMap<String, Vec<String>> {
    let crates = std::fs::read_dir(root().join("crates")).expect("crates");
    crates
        .map(|entry| {
            let folder = entry.expect("an entry").path();
            let name = folder.file_name().unwrap().to_str().unwrap().to_owned();
            let manifest = read(folder.join("Cargo.toml"));
            let own = manifest.split("[dependencies]").nth(1).unwrap_or_default();
            let own = own.split("\n[").next().unwrap_or_default();
            let ours = own.lines().filter(|l| l.starts_with("kelvok-"));
            let ours = ours.map(|l| l.split(['.', ' ', '=']).next().unwrap().to_owned());
            (name, ours.collect())
        })
        .collect()
}

#[test]
fn imports_run_one_way() {
    let order = ["kelvok-core", "kelvok-store", "kelvok-server", "kelvok"];
    let depends = dependencies();
    for (i, name) in order.iter().enumerate() {
        for on in &depends[*name] {
            if on == "kelvok-database" {
                assert_eq!(*name, "kelvok", "only the program starts a database of its own");
                continue;
            }
            let at = order.iter().position(|o| o == on).unwrap_or_else(|| panic!("{name} on {on}"));
            assert!(at < i, "{name} must not depend on {on}");
        }
    }
    assert!(depends["kelvok-core"].is_empty());
    assert!(depends["kelvok-database"].is_empty());
}

/// Holds rooms to an order: each may import from those before it only.
fn run_one_way(graph: &Graph, inside: &[&str], rooms: &[&str]) {
    let room = |module: &[String]| -> Option<usize> {
        let own = module
            .strip_prefix(inside.iter().map(|s| (*s).to_owned()).collect::<Vec<_>>().as_slice())?;
        rooms.iter().position(|r| own.first().is_some_and(|first| first == r))
    };
    for (module, imports) in graph {
        for other in imports {
            if let (Some(at), Some(to)) = (room(module), room(other)) {
                assert!(to <= at, "{} must not import {}", module.join("/"), other.join("/"));
            }
        }
    }
    // A room that is misspelled or gone holds nothing.
    for name in rooms {
        let wanted = [inside, &[name]].concat();
        assert!(
            graph.keys().any(|m| m.len() >= wanted.len() && m[..wanted.len()] == wanted[..]),
            "no room {name}"
        );
    }
}

type Graph = BTreeMap<imports::Module, std::collections::BTreeSet<imports::Module>>;

#[test]
fn rooms_of_the_core_run_one_way() {
    let core = imports::graph(&root().join("crates/kelvok-core/src"));
    run_one_way(
        &core,
        &[],
        &[
            "machine",
            "circuit",
            "interlock",
            "battery",
            "drops",
            "fuses",
            "loads",
            "charging",
            "revision",
            "edit",
            "describe",
            "trace",
            "diagnosis",
            "complaint",
            "bench",
            "release",
            "soak",
            "meter",
            "trial",
        ],
    );
    run_one_way(&core, &["circuit"], &["model", "solve", "observe", "faults"]);
    run_one_way(
        &core,
        &["diagnosis"],
        &["evidence", "faults", "predict", "belief", "candidates", "plan", "explain", "model"],
    );
    let round = imports::cycle(&core);
    assert!(round.is_none(), "they import one another: {round:?}");
}

#[test]
fn rooms_of_the_server_run_one_way() {
    let server = imports::graph(&root().join("crates/kelvok-server/src"));
    // What holds the parts together is known by those that serve, and by nothing else of HTTP's.
    run_one_way(&server, &[], &["http", "views", "machines", "bench", "router"]);
    run_one_way(&server, &[], &["http", "views", "jobs", "router"]);
}

#[test]
fn the_core_does_no_input_or_output_and_reads_no_clock() {
    for file in files(&root().join("crates/kelvok-core/src"), &[".rs"]) {
        let code = read(&file);
        for word in
            ["std::fs", "std::net", "std::time", "std::env", "tokio", "async fn", "println!"]
        {
            assert!(!code.contains(word), "{} uses {word}", file.display());
        }
    }
}

#[test]
fn pictures_ask_the_server_nothing() {
    for file in files(&root().join("web/src/pictures"), &[".vue", ".ts"]) {
        let code = read(&file);
        for line in code.lines().filter(|l| l.contains("api/client")) {
            assert!(line.contains("import type"), "{}: {line}", file.display());
        }
        assert!(!code.contains("fetch("), "{}", file.display());
    }
}

#[test]
fn files_stay_small_enough_to_read() {
    for file in files(&root().join("crates"), &[".rs"]) {
        let lines = read(&file).lines().count();
        assert!(lines <= 700, "{}: {lines} lines", file.display());
    }
    for file in files(&root().join("web/src"), &[".vue"]) {
        let lines = read(&file).lines().count();
        assert!(lines <= 300, "{}: {lines} lines", file.display());
    }
}
