//! Starters that are sound, drag, are shorted or worn, on good batteries and weak ones, behind good joints and
//! bad ones: is the region named in which they are?

use crate::circuit::{Circuit, ElementKind};
use crate::diagnosis::Model;
use crate::drops::{DropReading, LoadPath, StarterWord, drop_walk};
use crate::random::Random;

/// How a starter was judged.
#[derive(Clone, Copy, Debug)]
pub struct StarterTried {
    /// What it is.
    pub truth: StarterWord,
    /// What was said; none where nothing was.
    pub named: Option<StarterWord>,
}

/// Tries a machine's starter, whatever may be the matter with it or with what feeds it.
pub fn try_starters(model: &Model, runs: usize, seed: u64) -> Vec<StarterTried> {
    let (circuit, paths) = (model.circuit(), model.load_paths());
    let Some(path) = paths.iter().find(|p| p.cranks) else { return Vec::new() };
    let name = circuit.document().identity.model.as_str();
    let case = |case: usize| {
        let mut random = Random::for_case(seed ^ 0x57a7, name, case as u64);
        Cranked::drawn(circuit, path, &mut random).map(|c| c.tried(circuit, path, &mut random))
    };
    (0..runs).filter_map(case).collect()
}

/// A series motor, a battery and the way between them, none of them the model's.
struct Cranked {
    truth: StarterWord,
    emf: f64,
    inner: f64,
    way: f64,
    /// The motor's own ohms, and the volts that its turning holds against an ampere.
    armature: f64,
    turning: f64,
}

/// Of a sound starter so much of its ohms is copper; the rest is its turning against the field.
const COPPER: f64 = 0.45;

impl Cranked {
    fn drawn(circuit: &Circuit, path: &LoadPath, random: &mut Random) -> Option<Self> {
        use StarterWord::*;
        let battery = circuit.element(circuit.battery()?);
        let ElementKind::Source { emf, .. } = battery.kind else { return None };
        let sound = path.lost[path.at_load].volts / path.amps;
        let lost = path.lost.iter().filter(|l| !l.uses).map(|l| l.volts).sum::<f64>();
        let own = random.between(0.88, 1.14);
        let mut it = Self {
            truth: [Sound, DrawsTooMuch, DrawsTooLittle, WeakBattery, LostOnTheWay]
                [random.weighted(&[0.3, 0.2, 0.15, 0.2, 0.15])],
            emf: emf * random.between(0.985, 1.01),
            inner: battery.ohms * random.between(0.8, 1.15),
            way: lost / path.amps * random.between(0.75, 1.2),
            armature: COPPER * sound * own,
            turning: (1.0 - COPPER) * sound * own,
        };
        match it.truth {
            // Drags or is tight, and hardly turns; or its armature is shorted.
            DrawsTooMuch if random.happens(0.6) => it.turning *= random.between(0.0, 0.25),
            DrawsTooMuch => {
                it.armature *= random.between(0.3, 0.6);
                it.turning *= random.between(0.3, 0.6);
            }
            DrawsTooLittle => it.armature += sound * random.between(0.6, 2.5),
            WeakBattery => {
                it.emf *= random.between(0.92, 0.98);
                it.inner += sound * random.between(0.25, 0.7);
            }
            LostOnTheWay => it.way += sound * random.between(0.25, 0.7),
            Sound | Starved => {}
        }
        Some(it)
    }

    fn tried(&self, circuit: &Circuit, path: &LoadPath, random: &mut Random) -> StarterTried {
        let ohms = self.armature + self.turning;
        let mut cranks = || {
            let emf = self.emf - random.between(0.0, 0.1);
            let amps = emf / (self.inner + self.way + ohms);
            (amps, emf - amps * self.inner, random.normal(0.0, 0.01))
        };
        let [(amps, ..), (_, posts, one), (other, _, two)] = [cranks(), cranks(), cranks()];
        let shown = |volts: f64| (volts * 100.0).round() / 100.0;
        let (last, load) = (path.points.len() - 1, path.at_load);
        let clamp = (amps * random.normal(1.0, 0.02)).round();
        let readings = [
            DropReading::Clamp { amps: clamp, share: 1.0 },
            DropReading::Volts { red: load, black: load + 1, volts: shown(other * ohms + two) },
            DropReading::Volts { red: 0, black: last, volts: shown(posts + one) },
        ];
        let said = drop_walk(circuit, path, &readings, &|_| 0.0);
        StarterTried { truth: self.truth, named: said.starter.map(|s| s.word) }
    }
}
