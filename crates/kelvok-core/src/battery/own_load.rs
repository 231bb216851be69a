//! The heaviest load that a machine can put on its own battery with its engine standing.

use crate::circuit::{Circuit, Condition, Crank, Engine, Relays, Setting, Solver, one_move_away};

/// What to switch on, and what that draws.
#[derive(Clone, Debug, PartialEq)]
pub struct OwnLoad {
    /// Engine standing, starter at rest.
    pub condition: Condition,
    /// Of a sound machine on a good battery.
    pub amps: f64,
}

/// So much more it must draw to be worth another control.
const WORTH: f64 = 0.3;

/// Lamps, clutch, glow plugs: found by moving two controls at a time to where more is drawn. None where
/// nothing draws.
pub fn own_load(circuit: &Circuit) -> Option<OwnLoad> {
    let battery = circuit.battery()?;
    let mut solver: Solver<'_> = Solver::new(circuit);
    let mut amps = |condition: &Condition| {
        let setting = Setting::as_built(circuit, condition);
        solver.solve(&[&setting], &[Relays::default()]);
        let lane = solver.lane(0);
        let turns = Crank::of(circuit, &lane, &setting) != Crank::No;
        let chatters = !solver.chatter(0).is_empty();
        (!turns && !chatters).then(|| solver.amps(0, battery).abs())
    };
    let mut here = Condition { engine: Engine::Stopped, ..Condition::at_rest(circuit) };
    let mut drawn = amps(&here)?;
    loop {
        let near = one_move_away(circuit, &here);
        let far = near.iter().flat_map(|c| one_move_away(circuit, c));
        let mut best: Option<(f64, Condition)> = None;
        for (moves, there) in near.iter().cloned().map(|c| (1.0, c)).chain(far.map(|c| (2.0, c))) {
            let Some(there_drawn) = amps(&there) else { continue };
            let gain = there_drawn - drawn - WORTH * moves;
            if gain > 0.0 && best.as_ref().is_none_or(|(most, _)| gain > *most) {
                best = Some((gain, there));
            }
        }
        let Some((_, there)) = best else { break };
        drawn = amps(&there)?;
        here = there;
    }
    (drawn > WORTH).then_some(OwnLoad { condition: here, amps: drawn })
}
