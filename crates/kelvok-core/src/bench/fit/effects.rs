//! What a switch with a fault would make its machine do: the machine's own circuit, solved with the
//! switch as it was found.

use crate::bench::found::Cell;
use crate::bench::judge::{Finding, FindingKind};
use crate::circuit::{Change, Circuit, ElementId, NodeId};
use crate::interlock::{ChangeEffects, FaultSheet};
use crate::machine::{Contact, Part};

/// What a contact that should be joined has, in ohms, where it is a jumper that stands for it.
const CONTACT_OHMS: f64 = 0.02;

/// The findings of a switch, on the machine that it came from.
pub struct MachineEffects<'a> {
    circuit: &'a Circuit,
    part: &'a Part,
    /// By terminal of the bench, that of the part.
    terminals: Vec<String>,
    positions: Vec<String>,
}

impl<'a> MachineEffects<'a> {
    /// `None` where the machine has no such part.
    ///
    /// # Arguments
    /// `terminals` are the part's, by the bench's; `positions` the bench's, by name.
    pub fn of(
        circuit: &'a Circuit,
        part: &str,
        terminals: Vec<String>,
        positions: Vec<String>,
    ) -> Option<Self> {
        let part = circuit.part(circuit.part_named(part)?);
        Some(Self { circuit, part, terminals, positions })
    }

    /// What each finding alone would make the machine do; `None` for one that cannot be put into its
    /// circuit.
    ///
    /// # Arguments
    /// `apart`: whether two of the bench's terminals were found apart in a finding's position.
    pub fn each(
        &self,
        findings: &[Finding],
        apart: impl Fn(Cell) -> bool,
    ) -> Vec<Option<ChangeEffects>> {
        let changes: Vec<_> = findings.iter().map(|f| self.changes(f, &apart)).collect();
        let known: Vec<Vec<Change>> = changes.iter().flatten().cloned().collect();
        let mut effects = FaultSheet::of_changes(self.circuit, &known).into_iter();
        changes.iter().map(|c| c.as_ref().and_then(|_| effects.next())).collect()
    }

    fn changes(&self, finding: &Finding, apart: &impl Fn(Cell) -> bool) -> Option<Vec<Change>> {
        let cell = finding.cell;
        match finding.kind {
            FindingKind::Missing | FindingKind::Misses { .. } | FindingKind::DeadSpot { .. } => {
                let broken = self.part.contacts.iter().filter(|contact| {
                    let Some((one, other)) = self.pair(contact) else { return false };
                    let here = Cell::new(cell.position, one, other);
                    here == cell || apart(here)
                });
                let changes: Vec<_> = broken
                    .filter_map(|contact| self.broken(contact, cell.position, None))
                    .flatten()
                    .collect();
                (!changes.is_empty()).then_some(changes)
            }
            FindingKind::Worn { ohms } => {
                let contact = self.contact_of(cell)?;
                self.broken(contact, cell.position, Some(ohms))
            }
            FindingKind::Extra | FindingKind::HangsUp { .. } | FindingKind::AtTimes { .. } => {
                self.joined(cell, CONTACT_OHMS).map(|c| vec![c])
            }
            FindingKind::Through { ohms } => self.joined(cell, ohms).map(|c| vec![c]),
        }
    }

    /// A contact's terminals, by the bench's.
    fn pair(&self, contact: &Contact) -> Option<(usize, usize)> {
        let at = |id: &String| self.terminals.iter().position(|t| t == id);
        at(&contact.between[0]).zip(at(&contact.between[1]))
    }

    fn contact_of(&self, cell: Cell) -> Option<&Contact> {
        let wanted = |c: &&Contact| {
            self.pair(c).is_some_and(|(a, b)| Cell::new(cell.position, a, b) == cell)
        };
        self.part.contacts.iter().find(wanted)
    }

    fn element(&self, contact: &Contact) -> Option<ElementId> {
        self.circuit.element_named(&format!("{}.{}", self.part.id, contact.id)).ok()
    }

    fn nodes(&self, cell: Cell) -> Option<(NodeId, NodeId)> {
        let node = |t: usize| {
            let terminal = self.terminals.get(t)?;
            self.circuit.terminal(&format!("{}.{terminal}", self.part.id)).ok()
        };
        node(cell.one).zip(node(cell.other))
    }

    /// The control that works the part, and the bit of a position of the bench.
    fn control(&self, position: usize) -> Option<(usize, u32)> {
        let gate = self.part.contacts.iter().find_map(|c| c.gate.as_ref())?;
        let control = self.circuit.controls.iter().position(|c| c.id == gate.control)?;
        let positions = &self.circuit.controls[control].positions;
        let at = positions.iter().position(|p| p.id == self.positions[position])?;
        Some((control, 1 << at))
    }

    /// A contact that in one position does not make, or only through some ohms, and in all others
    /// does what it should.
    fn broken(&self, contact: &Contact, position: usize, ohms: Option<f64>) -> Option<Vec<Change>> {
        let element = self.element(contact)?;
        let Some(made_when) = &contact.made_when else {
            // One that a plunger or coil moves makes in one of its two positions alone.
            return Some(vec![match ohms {
                None => Change::Open(element),
                Some(ohms) => Change::Ohms(element, ohms),
            }]);
        };
        let (control, here) = self.control(position)?;
        let expression = self.circuit.expression(made_when).ok()?;
        let control_id = self.circuit.controls[control].id.as_str();
        let positions = &self.circuit.controls[control].positions;
        let mut made = 0;
        for (i, p) in positions.iter().enumerate() {
            let set = [(control_id, p.id.as_str())];
            let at = crate::circuit::Condition::with(self.circuit, set).ok()?;
            made |= u32::from(self.circuit.holds(&expression, &at)) << i;
        }
        let own = self.circuit.element(element);
        let ends = (own.a, own.b);
        let mut changes = vec![Change::Open(element)];
        let others = made & !here;
        if others != 0 {
            let when = Some((control, others));
            changes.push(Change::Join { ends, ohms: CONTACT_OHMS, when });
        }
        if let Some(ohms) = ohms {
            changes.push(Change::Join { ends, ohms, when: Some((control, here)) });
        }
        Some(changes)
    }

    /// Two terminals joined in one position.
    fn joined(&self, cell: Cell, ohms: f64) -> Option<Change> {
        let plain = self.contact_of(cell).filter(|c| c.made_when.is_none());
        if let Some(contact) = plain {
            return self.element(contact).map(Change::Made);
        }
        let ends = self.nodes(cell)?;
        let when = Some(self.control(cell.position)?);
        // What a plunger or coil moves stands in no position of a control.
        let by_hand = self.part.contacts.iter().all(|c| c.made_when.is_some());
        by_hand.then_some(Change::Join { ends, ohms, when })
    }
}
