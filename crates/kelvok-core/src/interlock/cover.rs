//! The shortest true description of when something holds: a minimal cover by cubes.
//!
//! A *cube* gives every control a set of positions and holds where each stands in its set; controls
//! keep their positions as such ("key at run or start"), they are not broken into bits. Combinations
//! that cannot occur may be said either way. The steps are those of Quine and McCluskey, carried
//! over to many-valued variables: leave out controls that decide nothing, find every prime cube by
//! consensus, choose the fewest and shortest of them by branch and bound.

use super::table::{index, positions};

/// For each control the positions that fit, as a mask.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Cube(pub Vec<u32>);

/// What is known of one combination.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Value {
    No,
    Yes,
    /// It cannot occur.
    Either,
}

/// More cubes than this during consensus, and the primes found so far must do.
const MOST_CUBES: usize = 600;
/// Branches tried before the best cover found so far must do.
const MOST_BRANCHES: u32 = 20_000;

impl Cube {
    fn holds(&self, positions: &[u8]) -> bool {
        self.0.iter().zip(positions).all(|(mask, p)| mask >> p & 1 == 1)
    }

    fn contains(&self, other: &Self) -> bool {
        self.0.iter().zip(&other.0).all(|(a, b)| a & b == *b)
    }

    /// Every combination it holds in, by place.
    fn places(&self, sizes: &[u8]) -> Vec<usize> {
        let mut places = vec![0];
        for (mask, size) in self.0.iter().zip(sizes) {
            let own: Vec<_> = (0..*size).filter(|p| mask >> p & 1 == 1).collect();
            places = places
                .iter()
                .flat_map(|place| {
                    own.iter().map(move |p| place * usize::from(*size) + usize::from(*p))
                })
                .collect();
        }
        places
    }

    /// Controls it says something about, and positions it names: what it costs to say.
    fn length(&self, sizes: &[u8]) -> (u32, u32) {
        let said = self.0.iter().zip(sizes).filter(|(mask, size)| **mask != full(**size));
        said.fold((0, 0), |(n, named), (mask, _)| (n + 1, named + mask.count_ones()))
    }
}

fn full(size: u8) -> u32 {
    ((1u64 << size) - 1) as u32
}

/// The fewest cubes, and among as few the shortest, that hold wherever the value is yes and
/// nowhere that it is no. None if it is never yes.
///
/// # Arguments
/// `values` lists every combination in odometer order, the last control moving fastest.
pub fn minimal_cover(sizes: &[u8], values: &[Value]) -> Vec<Cube> {
    let (deciding, reduced) = reduce(sizes, values);
    let small: Vec<u8> = deciding.iter().map(|c| sizes[*c]).collect();
    let primes = primes(&small, &reduced);
    let chosen = choose(&small, &reduced, &primes);
    let mut cover: Vec<_> = chosen
        .into_iter()
        .map(|i| {
            let mut whole: Vec<u32> = sizes.iter().map(|s| full(*s)).collect();
            for (control, mask) in deciding.iter().zip(&primes[i].0) {
                whole[*control] = *mask;
            }
            Cube(whole)
        })
        .collect();
    cover.sort_by_key(|c| (c.length(sizes), c.0.clone()));
    say_once(sizes, values, &mut cover);
    cover
}

/// Takes out of what a cube names every position that the other cubes see to anyway: "key at off"
/// is not said again in the next way. The cubes are then no longer prime, but shorter to say.
fn say_once(sizes: &[u8], values: &[Value], cover: &mut [Cube]) {
    let mut said = vec![0u32; values.len()];
    for cube in cover.iter() {
        for place in cube.places(sizes) {
            said[place] += 1;
        }
    }
    for i in (0..cover.len()).rev() {
        for k in 0..sizes.len() {
            for p in 0..sizes[k] {
                let mask = cover[i].0[k];
                let named = mask != full(sizes[k]) && mask.count_ones() > 1;
                if !named || mask >> p & 1 == 0 {
                    continue;
                }
                let mut without = cover[i].clone();
                without.0[k] = 1 << p;
                let places = without.places(sizes);
                let spare = |place: &usize| values[*place] != Value::Yes || said[*place] > 1;
                if places.iter().all(spare) {
                    cover[i].0[k] &= !(1 << p);
                    for place in places {
                        said[place] -= 1;
                    }
                }
            }
        }
    }
}

/// Leaves out, one after the other, every control that the value does not need.
fn reduce(sizes: &[u8], values: &[Value]) -> (Vec<usize>, Vec<Value>) {
    let mut deciding: Vec<usize> = (0..sizes.len()).collect();
    let mut sizes = sizes.to_vec();
    let mut values = values.to_vec();
    let mut at = 0;
    while at < sizes.len() {
        let stride: usize = sizes[at + 1..].iter().map(|s| usize::from(*s)).product();
        let size = usize::from(sizes[at]);
        let block = stride * size;
        let mut merged = Vec::with_capacity(values.len() / size);
        let mut free = true;
        'all: for start in (0..values.len()).step_by(block) {
            for offset in start..start + stride {
                let mut value = Value::Either;
                for p in 0..size {
                    match (value, values[offset + p * stride]) {
                        (_, Value::Either) => {}
                        (Value::Either, v) => value = v,
                        (old, v) if old == v => {}
                        _ => {
                            free = false;
                            break 'all;
                        }
                    }
                }
                merged.push(value);
            }
        }
        if free {
            values = merged;
            sizes.remove(at);
            deciding.remove(at);
        } else {
            at += 1;
        }
    }
    (deciding, values)
}

/// Every prime cube: one that holds nowhere that the value is no, and cannot be widened.
fn primes(sizes: &[u8], values: &[Value]) -> Vec<Cube> {
    let mut cubes: Vec<Cube> = Vec::new();
    for (place, value) in values.iter().enumerate() {
        let here = positions(sizes, place);
        if *value == Value::No || cubes.iter().any(|c| c.holds(&here)) {
            continue;
        }
        let cube = Cube(here.iter().map(|p| 1 << p).collect());
        cubes.push(widen(sizes, values, cube));
    }
    let mut next = 0;
    while next < cubes.len() && cubes.len() < MOST_CUBES {
        crate::errand::step();
        let mut found = Vec::new();
        for other in 0..next {
            for k in 0..sizes.len() {
                if let Some(cube) = consensus(&cubes[next], &cubes[other], k)
                    && !cubes.iter().chain(&found).any(|c: &Cube| c.contains(&cube))
                {
                    found.push(widen(sizes, values, cube));
                }
            }
        }
        next += 1;
        cubes.extend(found);
    }
    let all = cubes.clone();
    cubes.retain(|c| !all.iter().any(|other| other != c && other.contains(c)));
    cubes.sort();
    cubes.dedup();
    cubes
}

/// Adds positions, control by control, for as long as the value is no nowhere in the cube.
fn widen(sizes: &[u8], values: &[Value], mut cube: Cube) -> Cube {
    for k in 0..sizes.len() {
        for p in 0..sizes[k] {
            if cube.0[k] >> p & 1 == 1 {
                continue;
            }
            let mut added = cube.clone();
            added.0[k] = 1 << p;
            if added.places(sizes).iter().all(|place| values[*place] != Value::No) {
                cube.0[k] |= 1 << p;
            }
        }
    }
    cube
}

/// What two cubes say together if control `k` may stand in either's positions.
fn consensus(a: &Cube, b: &Cube, k: usize) -> Option<Cube> {
    let mut cube = Vec::with_capacity(a.0.len());
    for (i, (x, y)) in a.0.iter().zip(&b.0).enumerate() {
        let mask = if i == k { x | y } else { x & y };
        if mask == 0 {
            return None;
        }
        cube.push(mask);
    }
    (cube[k] != a.0[k] && cube[k] != b.0[k]).then_some(Cube(cube))
}

/// The search for the best choice of primes.
struct Choice<'a> {
    /// For every combination to cover, the primes that cover it.
    covered_by: &'a [Vec<usize>],
    cost: Vec<(u32, u32)>,
    best: Option<((u32, u32, u32), Vec<usize>)>,
    branches: u32,
}

fn choose(sizes: &[u8], values: &[Value], primes: &[Cube]) -> Vec<usize> {
    let mut covered_by: Vec<Vec<usize>> = vec![Vec::new(); values.len()];
    for (i, prime) in primes.iter().enumerate() {
        for place in prime.places(sizes) {
            if values[place] == Value::Yes {
                covered_by[place].push(i);
            }
        }
    }
    // Combinations that the same primes cover count once; one that asks for more than another
    // needs no looking at.
    let mut needs: Vec<_> = covered_by.into_iter().filter(|c| !c.is_empty()).collect();
    needs.sort_by_key(|c| (c.len(), c.clone()));
    needs.dedup();
    let mut least: Vec<Vec<usize>> = Vec::new();
    for need in needs {
        if !least.iter().any(|l| l.iter().all(|p| need.binary_search(p).is_ok())) {
            least.push(need);
        }
    }
    let mut choice = Choice {
        covered_by: &least,
        cost: primes.iter().map(|p| p.length(sizes)).collect(),
        best: None,
        branches: 0,
    };
    choice.branch(&mut Vec::new());
    choice.best.map(|(_, chosen)| chosen).unwrap_or_default()
}

impl Choice<'_> {
    fn cost(&self, chosen: &[usize]) -> (u32, u32, u32) {
        let costs = chosen.iter().map(|i| self.cost[*i]);
        let (said, named) = costs.fold((0, 0), |(a, b), (c, d)| (a + c, b + d));
        (chosen.len() as u32, said, named)
    }

    fn branch(&mut self, chosen: &mut Vec<usize>) {
        crate::errand::step();
        self.branches += 1;
        let cost = self.cost(chosen);
        if self.best.as_ref().is_some_and(|(best, _)| cost >= *best) {
            return;
        }
        // The combination that leaves the least choice is covered first.
        let open = self.covered_by.iter().filter(|c| !c.iter().any(|p| chosen.contains(p)));
        let Some(tightest) = open.min_by_key(|c| c.len()) else {
            self.best = Some((cost, chosen.clone()));
            return;
        };
        let covers = |p: &usize| {
            let newly = self
                .covered_by
                .iter()
                .filter(|c| c.contains(p) && !c.iter().any(|q| chosen.contains(q)));
            newly.count()
        };
        let mut order: Vec<_> = tightest.iter().map(|p| (covers(p), *p)).collect();
        order.sort_by_key(|(n, p)| (std::cmp::Reverse(*n), self.cost[*p], *p));
        for (_, p) in order {
            if self.branches > MOST_BRANCHES && self.best.is_some() {
                return;
            }
            chosen.push(p);
            self.branch(chosen);
            chosen.pop();
        }
    }
}

/// Whether a cover says of every combination what is so.
pub fn agrees(sizes: &[u8], values: &[Value], cover: &[Cube]) -> bool {
    values.iter().enumerate().all(|(place, value)| {
        let here = positions(sizes, place);
        debug_assert_eq!(index(sizes, &here), place);
        let said = cover.iter().any(|c| c.holds(&here));
        *value == Value::Either || said == (*value == Value::Yes)
    })
}
