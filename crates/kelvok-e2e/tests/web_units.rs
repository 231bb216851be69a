//! The web application's own unit tests (`web/tests/`), run from Cargo's runner like all others.

use std::process::Command;

#[test]
fn the_web_application_s_units() {
    let web = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web");
    let ran = Command::new("npm").args(["run", "--silent", "test"]).current_dir(web).output();
    let ran = ran.expect("npm, which bin/prepare has seen to");
    let said = [ran.stdout, ran.stderr].map(|bytes| String::from_utf8_lossy(&bytes).into_owned());
    assert!(ran.status.success(), "{}{}", said[0], said[1]);
}
