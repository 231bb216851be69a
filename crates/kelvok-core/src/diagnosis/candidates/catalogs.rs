//! Catalogs of all there is to do, by complaint, worked out when first asked for and kept.

use super::catalog::Catalog;
use super::context::Complaint;
use super::scales::KnownScales;
use crate::diagnosis::predict::{FaultModel, Kept, MEGABYTE, locked};
use std::sync::{Arc, Mutex, OnceLock};

/// Whoever asks while one is being worked out waits for it.
type Cell = Arc<OnceLock<Arc<Catalog>>>;

/// Shared by whoever diagnoses a machine.
#[derive(Debug, Default)]
pub(crate) struct Catalogs {
    kept: Mutex<Kept<Complaint, Cell>>,
    pub scales: KnownScales,
}

const ROOM: usize = 48 * MEGABYTE;

fn bytes(cell: &Cell) -> usize {
    cell.get().map_or(0, |catalog| catalog.bytes())
}

impl Catalogs {
    /// Everything there is to do about a complaint.
    pub fn about(&self, model: &FaultModel, complaint: &Complaint) -> Arc<Catalog> {
        let cell = {
            let mut kept = locked(&self.kept);
            kept.get(complaint).unwrap_or_else(|| {
                let cell = Arc::default();
                kept.insert(complaint.clone(), Arc::clone(&cell));
                kept.trim(ROOM, bytes, |_| true);
                cell
            })
        };
        cell.get_or_init(|| Arc::new(Catalog::about(model, &self.scales, complaint))).clone()
    }

    /// What is kept, in bytes.
    pub fn bytes(&self) -> usize {
        locked(&self.kept).bytes(bytes) + self.scales.bytes()
    }

    /// Lets go of everything; it is worked out again when asked for.
    pub fn forget(&self) {
        locked(&self.kept).clear();
        self.scales.forget();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::circuit::{Circuit, Condition};
    use crate::diagnosis::faults::Suspects;
    use crate::machine::Machine;
    use std::sync::Barrier;

    #[test]
    fn whoever_comes_second_waits_for_the_first() {
        let text = include_str!("../../../../../machines/hexley-walk-50.json");
        let circuit = Arc::new(Circuit::compile(&Machine::read(text).expect("a library machine")));
        let suspects = Arc::new(Suspects::of(&circuit));
        let complaint = Complaint::of(&[], &Condition::at_rest(&circuit));
        let model = FaultModel::new(circuit, suspects, Arc::default());
        let (catalogs, both) = (Catalogs::default(), Barrier::new(2));
        let ask = || {
            both.wait();
            catalogs.about(&model, &complaint)
        };
        let [one, other] = std::thread::scope(|s| {
            [s.spawn(ask), s.spawn(ask)].map(|asked| asked.join().expect("a catalog"))
        });
        assert!(Arc::ptr_eq(&one, &other), "one catalog was worked out twice");
    }
}
