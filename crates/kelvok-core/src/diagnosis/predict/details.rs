//! What a hypothesis would show to who puts a finger, a tester or a squirt of fuel to it.

use crate::circuit::{Circuit, CoilState, Condition, ElementId, Outcome, Solved, Spark};

/// What would be found close up, two bits a coil and spark, one a fuse.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Details {
    coils: u64,
    sparks: u32,
    /// Of those that there is room for.
    blown: u32,
    fuel: bool,
    sniff: bool,
}

impl Details {
    pub fn of(
        circuit: &Circuit,
        condition: &Condition,
        (outcome, solved): (&Outcome, &dyn Solved),
    ) -> Self {
        // What does not turn gives no spark, whatever its kill wire says.
        let turns = circuit.turns(condition, outcome);
        let coils = outcome.coils.iter().take(64).enumerate();
        let pulled = coils.filter(|(_, state)| **state != CoilState::Off);
        let sparks = outcome.spark.iter().take(16).enumerate().filter(|_| turns);
        let sparks = sparks.map(|(i, spark)| {
            let bits = match spark {
                Spark::Killed => 0,
                Spark::Weak => 1,
                Spark::On => 2,
            };
            bits << (2 * i)
        });
        let blown = solved.blown();
        let fuses = circuit.fuses().take(32).enumerate().filter(|(_, id)| blown.contains(id));
        Self {
            coils: pulled.fold(0, |all, (i, _)| all | 1 << i),
            sparks: sparks.fold(0, |all, bits| all | bits),
            blown: fuses.fold(0, |all, (i, _)| all | 1 << i),
            fuel: outcome.fuel != Some(false),
            sniff: turns && circuit.fires(condition, outcome),
        }
    }

    /// Whether a coil pulls in, by index.
    pub fn pulls(self, coil: usize) -> bool {
        bits(self.coils, coil) & 1 == 1
    }

    /// Whether any coil but this pulls in.
    pub fn pulls_besides(self, coil: usize) -> bool {
        let own = u32::from(self.pulls(coil));
        self.coils.count_ones() > own
    }

    /// What a module or ignition coil gives, by its place among the machine's.
    pub fn spark(self, at: usize) -> Spark {
        match bits(self.sparks.into(), 2 * at) & 3 {
            0 => Spark::Killed,
            1 => Spark::Weak,
            _ => Spark::On,
        }
    }

    /// Whether fuel comes.
    pub fn fuel(self) -> bool {
        self.fuel
    }

    /// Whether it fires on fuel given by hand.
    pub fn fires_on_a_sniff(self) -> bool {
        self.sniff
    }

    /// Whether a fuse has blown.
    pub fn blown(self, circuit: &Circuit, fuse: ElementId) -> bool {
        let at = circuit.fuses().position(|id| id == fuse);
        at.is_some_and(|i| bits(self.blown.into(), i) & 1 == 1)
    }
}

/// The bits from a place upward; none beyond the last.
fn bits(all: u64, from: usize) -> u64 {
    u32::try_from(from).ok().and_then(|from| all.checked_shr(from)).unwrap_or(0)
}
