//! What a battery is, by what was seen of it: one population for each thing that it may be, drawn
//! towards the readings in steps (annealed sequential Monte Carlo: Neal, *Annealed importance sampling*, 2001;
//! Del Moral, Doucet and Jasra, *Sequential Monte Carlo samplers*, 2006). The same readings always
//! give the same answer.

use super::physics::{Battery, BatteryState, EVENS, Expected, NORMALS, Plate, Seen, Stand};
use super::published::GRAVITY_APART;
use super::test::BatteryTest;
use crate::errand::step as worked;
use crate::random::Random;

/// So many of each kind.
const EACH: usize = 400;
/// So often each moves after a step.
const MOVES: usize = 8;
/// A move changes each number at this chance: few at once are taken more often than all.
const CHANGED: f64 = 0.25;
/// A step goes as far as leaves this share of a population of use.
const OF_USE: f64 = 0.5;
/// No step is shorter, so that none goes on for ever.
const SHORTEST: f64 = 0.002;
/// The chance that a reading is not what it says, and the volts over which it may then lie.
const SLIP: f64 = 0.02;
const SLIP_VOLTS: f64 = 15.0;
/// How far a hydrometer is read off, and how cells of one battery differ.
const GRAVITY_SPREAD: f64 = 0.01;
const TAU: f64 = std::f64::consts::TAU;

/// Batteries that it may be, each as likely as its weight.
#[derive(Clone, Debug)]
pub(crate) struct Belief {
    /// Probability by what it may be, in the order of [`BatteryState::ALL`].
    pub chances: Vec<f64>,
    pub batteries: Vec<(Battery, f64)>,
}

impl Belief {
    pub fn of(plate: &Plate, seen: &[Seen]) -> Self {
        let each: Vec<_> =
            BatteryState::ALL.iter().map(|s| Population::drawn(plate, seen, *s)).collect();
        let ln = |p: &Population| p.ln_evidence + p.state.prior().ln();
        let most = each.iter().map(ln).fold(f64::MIN, f64::max);
        let weights: Vec<f64> = each.iter().map(|p| (ln(p) - most).exp()).collect();
        let all: f64 = weights.iter().sum();
        let chances: Vec<f64> = weights.iter().map(|w| w / all).collect();
        let batteries = each.into_iter().zip(&chances).flat_map(|(population, chance)| {
            let weight = chance / EACH as f64;
            population.batteries.into_iter().map(move |b| (b, weight))
        });
        Self { batteries: batteries.collect(), chances }
    }

    /// What a figure of it is: the value below which so much of the weight lies.
    pub fn quantiles<const N: usize>(
        &self,
        shares: [f64; N],
        figure: impl Fn(&Battery) -> f64,
    ) -> [f64; N] {
        let mut all: Vec<_> = self.batteries.iter().map(|(b, w)| (figure(b), *w)).collect();
        all.sort_by(|a, b| a.0.total_cmp(&b.0));
        shares.map(|share| {
            let mut sum = 0.0;
            let found = all.iter().find(|(_, weight)| {
                sum += weight;
                sum >= share
            });
            found.or(all.last()).map_or(f64::NAN, |(value, _)| *value)
        })
    }

    /// The chance of something.
    pub fn chance(&self, of: impl Fn(&Battery) -> bool) -> f64 {
        self.batteries.iter().filter(|(b, _)| of(b)).map(|(_, w)| w).sum()
    }

    /// So many that stand for all, each as likely as the other.
    pub fn sample(&self, count: usize) -> Vec<Battery> {
        let mut taken = Vec::with_capacity(count);
        let mut sum = 0.0;
        for (battery, weight) in &self.batteries {
            sum += weight;
            while taken.len() < count && (taken.len() as f64 + 0.5) / (count as f64) < sum {
                taken.push(*battery);
            }
        }
        taken
    }
}

/// Where a battery stands after all that was seen of it.
pub(crate) fn after(plate: &Plate, battery: &Battery, seen: &[Seen]) -> Stand {
    let mut stand = battery.begin();
    for seen in seen {
        battery.sees(plate, &mut stand, seen);
    }
    stand
}

/// How well what was seen fits a battery, as a natural logarithm.
fn ln_fit(plate: &Plate, battery: &Battery, seen: &[Seen]) -> f64 {
    let mut stand = battery.begin();
    let each = seen.iter().map(|seen| {
        let expected = battery.sees(plate, &mut stand, seen);
        match (seen, expected) {
            (Seen::Test(BatteryTest::Hydrometer { cells }), _) => {
                ln_acid(battery, battery.gravity(plate, &stand), &cells[..plate.cells() as usize])
            }
            (_, Some(expected)) => volts_of(seen).map_or(0.0, |read| ln_volts(read, expected)),
            _ => 0.0,
        }
    });
    each.sum()
}

fn volts_of(seen: &Seen) -> Option<f64> {
    match *seen {
        Seen::Cranked(volts)
        | Seen::Test(
            BatteryTest::Rest { volts, .. }
            | BatteryTest::Loaded { volts, .. }
            | BatteryTest::Recovered { volts, .. },
        ) => Some(volts),
        _ => None,
    }
}

fn density(off: f64, spread: f64) -> f64 {
    (-off * off / (2.0 * spread * spread)).exp() / (spread * TAU.sqrt())
}

fn ln_volts(read: f64, expected: Expected) -> f64 {
    let honest = density(read - expected.value, expected.spread);
    ((1.0 - SLIP) * honest + SLIP / SLIP_VOLTS).ln()
}

fn ln_acid(battery: &Battery, sound: f64, cells: &[f64]) -> f64 {
    let like = |read: &f64, at: f64, spread: f64| {
        ((1.0 - SLIP) * density(read - at, spread) + SLIP / 0.3).ln()
    };
    let all: f64 = cells.iter().map(|c| like(c, sound, GRAVITY_SPREAD)).sum();
    if battery.state != BatteryState::DeadCell {
        return all;
    }
    // One of them, whichever, lies well below the others.
    let one = |dead: &f64| {
        all - like(dead, sound, GRAVITY_SPREAD) + like(dead, sound - 1.6 * GRAVITY_APART, 0.03)
    };
    let each: Vec<f64> = cells.iter().map(one).collect();
    let most = each.iter().copied().fold(f64::MIN, f64::max);
    most + (each.iter().map(|e| (e - most).exp()).sum::<f64>() / each.len() as f64).ln()
}

/// Batteries of one kind.
struct Population {
    state: BatteryState,
    batteries: Vec<Battery>,
    ln_evidence: f64,
}

impl Population {
    fn drawn(plate: &Plate, seen: &[Seen], state: BatteryState) -> Self {
        let mut random = Random::for_case(1, "battery", state as u64);
        let mut batteries: Vec<Battery> = (0..EACH)
            .map(|_| Battery {
                state,
                even: std::array::from_fn::<_, EVENS, _>(|_| random.share()),
                normal: std::array::from_fn::<_, NORMALS, _>(|_| random.normal(0.0, 1.0)),
            })
            .collect();
        let read = seen.iter().any(|s| {
            volts_of(s).is_some() || matches!(s, Seen::Test(BatteryTest::Hydrometer { .. }))
        });
        let mut ln_evidence = 0.0;
        if !read {
            return Self { state, batteries, ln_evidence };
        }
        let mut fits: Vec<f64> = batteries.iter().map(|b| ln_fit(plate, b, seen)).collect();
        let mut warmth = 0.0;
        while warmth < 1.0 {
            worked();
            let step = stride(&fits, 1.0 - warmth);
            warmth += step;
            let most = fits.iter().map(|f| step * f).fold(f64::MIN, f64::max);
            let weights: Vec<f64> = fits.iter().map(|f| (step * f - most).exp()).collect();
            let all: f64 = weights.iter().sum();
            ln_evidence += most + (all / EACH as f64).ln();
            let chosen = chosen(&weights, all, random.share());
            batteries = chosen.iter().map(|i| batteries[*i]).collect();
            fits = chosen.iter().map(|i| fits[*i]).collect();
            let scale = scales(&batteries);
            for _ in 0..MOVES {
                for (battery, fit) in batteries.iter_mut().zip(&mut fits) {
                    let (to, ln_prior) = moved(battery, &scale, &mut random);
                    let there = ln_fit(plate, &to, seen);
                    if random.share().ln() < warmth * (there - *fit) + ln_prior {
                        (*battery, *fit) = (to, there);
                    }
                }
            }
        }
        Self { state, batteries, ln_evidence }
    }
}

/// How far the next step goes: so that this share of the population is of use after it.
fn stride(fits: &[f64], most: f64) -> f64 {
    let best = fits.iter().copied().fold(f64::MIN, f64::max);
    let of_use = |step: f64| {
        let (mut sum, mut squares) = (0.0, 0.0);
        for fit in fits {
            let weight = (step * (fit - best)).exp();
            sum += weight;
            squares += weight * weight;
        }
        sum * sum / squares >= OF_USE * fits.len() as f64
    };
    if of_use(most) {
        return most;
    }
    let (mut low, mut high) = (0.0, most);
    for _ in 0..30 {
        let middle = (low + high) / 2.0;
        if of_use(middle) { low = middle } else { high = middle }
    }
    low.max(SHORTEST)
}

/// Systematic resampling.
fn chosen(weights: &[f64], all: f64, start: f64) -> Vec<usize> {
    let count = weights.len();
    let (mut taken, mut sum) = (Vec::with_capacity(count), 0.0);
    for (i, weight) in weights.iter().enumerate() {
        sum += weight / all * count as f64;
        while taken.len() < count && taken.len() as f64 + start < sum {
            taken.push(i);
        }
    }
    while taken.len() < count {
        taken.push(count - 1);
    }
    taken
}

type Scales = ([f64; EVENS], [f64; NORMALS]);

/// How far to move each number: by how it is spread by now.
fn scales(batteries: &[Battery]) -> Scales {
    let share = 2.4 / ((EVENS + NORMALS) as f64 * CHANGED).sqrt();
    let spread = |number: &dyn Fn(&Battery) -> f64| {
        let count = batteries.len() as f64;
        let mean = batteries.iter().map(number).sum::<f64>() / count;
        let square = batteries.iter().map(|b| (number(b) - mean).powi(2)).sum::<f64>() / count;
        (share * square.sqrt()).max(1e-4)
    };
    (
        std::array::from_fn(|i| spread(&|b: &Battery| b.even[i])),
        std::array::from_fn(|i| spread(&|b: &Battery| b.normal[i])),
    )
}

/// A battery near this one, and what it loses of its prior as a natural logarithm.
fn moved(from: &Battery, scale: &Scales, random: &mut Random) -> (Battery, f64) {
    let mut to = *from;
    // Now and then far, so that none is stuck.
    let reach = if random.happens(0.2) { 3.0 } else { 0.8 };
    for (even, scale) in to.even.iter_mut().zip(&scale.0) {
        if !random.happens(CHANGED) {
            continue;
        }
        // Thrown back from its ends.
        let at = random.normal(*even, reach * scale).rem_euclid(2.0);
        *even = if at > 1.0 { 2.0 - at } else { at };
    }
    let mut ln_prior = 0.0;
    for (normal, scale) in to.normal.iter_mut().zip(&scale.1) {
        if !random.happens(CHANGED) {
            continue;
        }
        let before = *normal;
        *normal = random.normal(before, reach * scale);
        ln_prior += (before * before - *normal * *normal) / 2.0;
    }
    (to, ln_prior)
}

#[cfg(test)]
mod tests {
    use super::super::physics::tests::PLATE;
    use super::*;

    fn rest(volts: f64) -> Seen {
        Seen::Test(BatteryTest::Rest {
            volts,
            hours: 14.0,
            surface_off: false,
            celsius: Some(25.0),
        })
    }

    fn load(volts: f64, amps: f64) -> Seen {
        let (estimated, seconds, celsius) = (false, 15.0, Some(25.0));
        Seen::Test(BatteryTest::Loaded { volts, amps, estimated, seconds, celsius })
    }

    fn chances(seen: &[Seen]) -> Vec<f64> {
        Belief::of(&PLATE, seen).chances
    }

    #[test]
    fn nothing_read_leaves_what_was_believed_before() {
        let before: Vec<f64> = BatteryState::ALL.iter().map(|s| s.prior()).collect();
        for (own, prior) in chances(&[]).iter().zip(&before) {
            assert!((own - prior).abs() < 1e-9);
        }
        assert!((before.iter().sum::<f64>() - 1.0).abs() < 1e-9);
    }

    #[test]
    fn the_ordinary_cases_are_told_apart() {
        let good = chances(&[rest(12.62), load(10.6, 150.0)]);
        assert!(good[0] > 0.9, "{good:?}");
        let low = chances(&[rest(12.1), load(11.87, 8.0)]);
        assert!(low[1] > 0.8, "{low:?}");
        let worn = chances(&[rest(12.55), load(5.4, 150.0)]);
        assert!(worn[2] > 0.8, "{worn:?}");
        let again = chances(&[rest(12.55), load(5.4, 150.0), load(5.3, 150.0)]);
        assert!(again[2] > worn[2], "read twice it is hardly a slip: {again:?}");
        let dead = chances(&[rest(10.45), load(9.9, 50.0)]);
        assert!(dead[3] > 0.9, "{dead:?}");
    }

    #[test]
    fn rest_alone_says_how_charged_it_is_and_not_what_it_can_give() {
        let belief = Belief::of(&PLATE, &[rest(12.6)]);
        assert!(belief.chances[1] < 0.02, "{:?}", belief.chances);
        assert!(belief.chances[2] > 0.12, "a worn one rests as high: {:?}", belief.chances);
    }

    #[test]
    fn one_cell_of_six_in_the_acid_is_found_and_a_slip_is_not_believed() {
        let acid = |cells| Seen::Test(BatteryTest::Hydrometer { cells });
        let dead = chances(&[rest(10.5), acid([1.25, 1.25, 1.12, 1.25, 1.25, 1.25])]);
        assert!(dead[3] > 0.97, "{dead:?}");
        let even = chances(&[rest(12.6), acid([1.26, 1.255, 1.26, 1.265, 1.26, 1.26])]);
        assert!(even[3] < 0.01, "{even:?}");
    }

    #[test]
    fn the_same_readings_give_the_same_answer() {
        let seen = [rest(12.31), load(10.2, 40.0)];
        assert_eq!(chances(&seen), chances(&seen));
    }
}
