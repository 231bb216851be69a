//! What was traced, written into the machine's document.

use super::belief::Trace;
use super::standing::{LinkState, TraceFinding, Traced};
use crate::machine::{MachineDocument, Provenance};
use std::collections::BTreeSet;

impl Trace<'_> {
    /// The machine's document with what was traced: wires shown to be there are known from tracing, pins and
    /// wires are where they were found, what was left open is settled as far as it was shown, colors are
    /// those that were seen. A wire that was drawn and not found stays: it may be broken.
    ///
    /// Of two pins that may be swapped nothing is written before both halves were shown: half of it would join
    /// what is not.
    pub fn written(&self, standing: &Traced) -> MachineDocument {
        let harness = self.harness();
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
        for finding in standing.findings.iter().filter(|f| self.is_written(standing, f)) {
            let change = match finding {
                TraceFinding::Swapped(a, b) => format!("{}=swapped:{}", at(*a), at(*b)),
                TraceFinding::Joined(a, b) => format!("{}=touches:{}", at(*a), at(*b)),
                TraceFinding::NotThere(link) => {
                    let wire = harness.links()[*link].wire;
                    let wire = wire.map(|w| &harness.circuit().document().wires[w].id);
                    wire.map(|id| format!("{id}=open")).unwrap_or_default()
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

    /// Whether the drawing can say all that was found: afterwards nothing is left to be looked into.
    pub fn leaves_nothing(&self, standing: &Traced) -> bool {
        standing.half_swapped.is_empty()
            && standing.findings.iter().all(|f| self.is_written(standing, f))
    }

    /// Whether a finding goes into the drawing.
    fn is_written(&self, standing: &Traced, finding: &TraceFinding) -> bool {
        let half = |a: usize, b: usize| [a, b].iter().any(|e| standing.half_swapped.contains(e));
        match *finding {
            TraceFinding::Swapped(..) | TraceFinding::Wired(..) => true,
            TraceFinding::Joined(a, b) => !half(a, b),
            TraceFinding::NotThere(link) => {
                let own = &self.harness().links()[link];
                let (a, b) = own.ends;
                let found = standing.findings.iter().any(|f| match *f {
                    TraceFinding::Joined(x, y) => [x, y].iter().any(|e| *e == a || *e == b),
                    _ => false,
                });
                own.wire.is_some() && !half(a, b) && found && self.goes_elsewhere(own.ends)
            }
        }
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
