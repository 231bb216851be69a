//! Bad joints in loaded circuits, walked with a voltmeter: is the place named where the volts are lost, and
//! is a sound circuit left alone?
//!
//! The world is not the model's: every part is off by its tolerance and more, the battery is another
//! and sags from crank to crank, the meter has a scale of its own.

use crate::circuit::{
    Change, Circuit, ElementId, ElementKind, Engine, OperatingPoint, Relays, operating_point,
};
use crate::diagnosis::Model;
use crate::drops::{DropReading, DropWalk, LoadPath, drop_walk};
use crate::random::Random;
use rayon::prelude::*;

/// How a walk came out.
#[derive(Clone, Debug)]
pub struct DropsTried {
    /// The circuit that was walked.
    pub circuit: String,
    /// So many joints were bad.
    pub bad: usize,
    /// Every place where one is was named, and no other.
    pub right: bool,
    /// A place was named where none is.
    pub wrong: bool,
    /// Parts that lie in a place named and cannot be told apart there.
    pub group: f64,
    /// Volts and amperes read.
    pub readings: usize,
    /// The share by which the current was misjudged.
    pub amps_off: f64,
}

/// In so many walks nothing is wrong, and in so many of the others two joints are.
const SOUND: f64 = 0.2;
const TWO: f64 = 0.12;
const MOST_READINGS: usize = 24;
/// What a bad joint loses at the working current, in shares of the battery's volts.
const LEAST_LOST: f64 = 0.02;
const MOST_LOST: f64 = 0.4;
const CLAMP_OWNED: f64 = 0.4;
/// A mechanic with habits walks the red probe along first, black on the post.
const OWN_ORDER: f64 = 0.4;

/// Walks every loaded circuit of a machine, turn by turn.
pub fn try_drops(model: &Model, runs: usize, seed: u64) -> Vec<DropsTried> {
    let (circuit, paths) = (model.circuit(), model.load_paths());
    let name = circuit.document().identity.model.as_str();
    if paths.is_empty() {
        return Vec::new();
    }
    let case = |case: usize| {
        let mut random = Random::for_case(seed, name, case as u64);
        let path = &paths[case % paths.len()];
        Walk::drawn(circuit, path, &mut random).map(|walk| walk.work(random))
    };
    (0..runs).into_par_iter().filter_map(case).collect()
}

struct Walk<'c> {
    circuit: &'c Circuit,
    path: &'c LoadPath,
    changes: Vec<Change>,
    /// The stretches that bad joints are in.
    bad: Vec<usize>,
    battery: ElementId,
    emf: f64,
    meter: f64,
}

impl<'c> Walk<'c> {
    /// None where no such fault lets the circuit carry anything.
    fn drawn(circuit: &'c Circuit, path: &'c LoadPath, random: &mut Random) -> Option<Self> {
        let battery = circuit.battery()?;
        let sound = random.happens(SOUND);
        for _ in 0..60 {
            let mut walk = Self {
                circuit,
                path,
                changes: worn(circuit, path, random),
                bad: Vec::new(),
                battery,
                emf: random.between(12.3, 12.75),
                meter: random.normal(1.0, 0.003),
            };
            if !sound {
                walk.spoil(random);
                if random.happens(TWO) {
                    walk.spoil(random);
                }
            }
            let point = walk.at(walk.emf);
            let carries = point.amps[path.load.index()].abs() > 0.3 * path.amps;
            if point.chatter.is_empty() && carries && walk.loses(&point) {
                return Some(walk);
            }
        }
        None
    }

    /// A joint goes bad.
    fn spoil(&mut self, random: &mut Random) {
        let own = |k: usize| self.path.stretches[k].iter().map(move |e| (k, *e));
        let ways = (0..self.path.stretches.len()).flat_map(own);
        let passive = |e: ElementId| {
            use ElementKind::*;
            matches!(self.circuit.element(e).kind, Wire | Joint | Ground | Fuse { .. } | Contact(_))
        };
        // What is in the load's own stretch cannot be walked.
        let ways: Vec<_> = ways.filter(|(k, e)| !self.path.lost[*k].uses && passive(*e)).collect();
        let (stretch, element) = ways[random.index(ways.len())];
        let share = random.log_between(LEAST_LOST * 1.2, MOST_LOST);
        let amps = self.path.lost[stretch].amps;
        let more = 12.0 * share / amps / (1.0 - share);
        let ohms = self.circuit.element(element).ohms * random.between(0.8, 1.2) + more;
        self.changes.retain(|c| !matches!(c, Change::Ohms(e, _) if *e == element));
        self.changes.push(Change::Ohms(element, ohms));
        if !self.bad.contains(&stretch) {
            self.bad.push(stretch);
        }
    }

    /// Whether its bad joints lose what anybody would feel: not so where another way leads beside one.
    fn loses(&self, point: &OperatingPoint) -> bool {
        let at = |i: usize| point.volts[self.path.points[i].index()].unwrap_or(0.0);
        self.bad.iter().all(|bad| {
            let more = (at(*bad) - at(bad + 1)).abs() - self.path.lost[*bad].volts;
            more > LEAST_LOST * self.emf
        })
    }

    fn at(&self, emf: f64) -> OperatingPoint {
        let mut changes = self.changes.clone();
        changes.push(Change::Emf(self.battery, emf));
        operating_point(self.circuit, &self.path.condition, Relays::default(), &changes, &[])
    }

    fn work(self, mut random: Random) -> DropsTried {
        let mut readings = Vec::new();
        if random.happens(CLAMP_OWNED) {
            let amps = self.at(self.emf).amps[self.path.load.index()].abs();
            let amps = amps * random.normal(1.0, 0.02) + random.normal(0.0, 0.2);
            let amps = (amps * 10.0).round() / 10.0;
            readings.push(DropReading::Clamp { amps, share: 1.0 });
        }
        let last = self.path.points.len() - 1;
        if random.happens(OWN_ORDER) {
            for red in 0..self.path.at_load.min(3) {
                readings.push(self.read((red, last), &mut random));
            }
        }
        let mut said = self.said(&readings);
        while let Some(next) = said.next.filter(|_| readings.len() < MOST_READINGS) {
            readings.push(self.read((next.from, next.to), &mut random));
            said = self.said(&readings);
        }
        self.judged(&said, readings.len())
    }

    fn said(&self, readings: &[DropReading]) -> DropWalk {
        drop_walk(self.circuit, self.path, readings, &|_| 0.0)
    }

    fn read(&self, (red, black): (usize, usize), random: &mut Random) -> DropReading {
        let sag = if self.path.cranks { random.between(0.0, 0.12) } else { 0.0 };
        let point = self.at(self.emf - sag);
        let at = |i: usize| point.volts[self.path.points[i].index()].unwrap_or(0.0);
        let shown = (at(red) - at(black)) * self.meter + random.normal(0.0, 0.006);
        let volts = (shown * 100.0).round() / 100.0;
        DropReading::Volts { red, black, volts }
    }

    fn judged(&self, said: &DropWalk, readings: usize) -> DropsTried {
        let named: Vec<&[usize]> =
            said.worst.iter().map(|i| said.spans[*i].stretches.as_slice()).collect();
        let wrong = named.iter().any(|own| !own.iter().any(|k| self.bad.contains(k)));
        let all = self.bad.iter().all(|bad| named.iter().any(|own| *own == [*bad]));
        let right = !wrong && all && named.len() == self.bad.len();
        let amps = self.at(self.emf).amps[self.path.load.index()].abs();
        let parts = named.iter().copied().flatten().flat_map(|k| &self.path.stretches[*k]);
        DropsTried {
            circuit: self.path.id.clone(),
            bad: self.bad.len(),
            right,
            wrong,
            group: parts.count() as f64 / named.len().max(1) as f64,
            readings,
            amps_off: (said.amps.likely / amps - 1.0).abs(),
        }
    }
}

/// A machine of some years: everything is off by its tolerance and more.
fn worn(circuit: &Circuit, path: &LoadPath, random: &mut Random) -> Vec<Change> {
    let engine = path.condition.engine;
    let off = circuit.elements().filter(|(_, e)| {
        e.live & Engine::mask(&[engine]) != 0
            && !matches!(e.kind, ElementKind::Possible | ElementKind::Diode { .. })
            && e.kind.emf().is_none()
    });
    let changes = off.map(|(id, e)| {
        let spread = e.tolerance.clamp(0.1, 0.5);
        Change::Ohms(id, e.ohms * random.between(1.0 - spread, 1.0 + spread))
    });
    changes.collect()
}
