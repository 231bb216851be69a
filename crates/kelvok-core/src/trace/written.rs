//! What was traced, written into the machine's document.

use super::belief::Trace;
use super::standing::{LinkState, TraceFinding};
use crate::machine::{MachineDocument, Provenance};
use std::collections::BTreeSet;

impl Trace<'_> {
    /// The machine's document with what was traced: wires shown to be there are known from tracing, pins and
    /// wires are where they were found, what was left open is settled as far as it was shown, colors are
    /// those that were seen. A wire that was drawn and not found stays: it may be broken.
    pub fn written(&self) -> MachineDocument {
        let harness = self.harness();
        let standing = self.standing();
        let mut document = harness.circuit().document().clone();
        let wires: BTreeSet<String> = harness
            .links()
            .iter()
            .zip(&standing.links)
            .filter(|(_, state)| **state == LinkState::Traced)
            .filter_map(|(link, _)| Some(document.wires[link.wire?].id.clone()))
            .collect();
        for wire in document.wires.iter_mut().filter(|w| wires.contains(&w.id)) {
            // What a job has proved stays proved.
            if wire.source != Some(Provenance::Proved) {
                wire.source = Some(Provenance::Traced);
            }
        }
        let at = |end: usize| harness.ends()[end].terminals[0].clone();
        for finding in &standing.findings {
            let change = match finding {
                TraceFinding::Swapped(a, b) => format!("{}=swapped:{}", at(*a), at(*b)),
                TraceFinding::Joined(a, b) => format!("{}=touches:{}", at(*a), at(*b)),
                TraceFinding::NotThere(link) => {
                    let (a, b) = harness.links()[*link].ends;
                    let elsewhere = standing.findings.iter().any(|f| match f {
                        TraceFinding::Joined(x, y) => [x, y].iter().any(|e| **e == a || **e == b),
                        _ => false,
                    });
                    match harness.links()[*link].wire {
                        Some(wire) if elsewhere => {
                            let id = &harness.circuit().document().wires[wire].id;
                            format!("{id}=open")
                        }
                        _ => continue,
                    }
                }
                TraceFinding::Wired(..) => continue,
            };
            document = document.corrected(&[change], "", Provenance::Traced);
        }
        let alternatives = &harness.circuit().document().alternatives;
        for finding in &standing.findings {
            let TraceFinding::Wired(alternative, choice) = finding else { continue };
            let own = &alternatives[*alternative];
            let choice = choice.map(|c| own.choices[c].id.as_str());
            // What an earlier finding took away is no longer open.
            if let Ok(settled) = document.settled(&own.id, choice, Provenance::Traced) {
                document = settled;
            }
        }
        self.write_colors(&mut document);
        document
    }

    fn write_colors(&self, document: &mut MachineDocument) {
        let harness = self.harness();
        for wire in &mut document.wires {
            let ends = [harness.end(&wire.from), harness.end(&wire.to)];
            let seen = ends.into_iter().flatten().filter(|e| !harness.is_body(*e));
            let mut seen: Vec<&str> = seen.filter_map(|e| self.seen_color(e)).collect();
            seen.dedup();
            // Both ends say the same, or only one was looked at.
            if let [color] = seen.as_slice() {
                wire.color = Some((*color).to_owned());
            }
        }
    }
}
