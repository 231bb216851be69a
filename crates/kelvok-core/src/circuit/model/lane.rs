//! Numbers to solve with: one, or eight side by side.

/// A number, or several side by side.
pub trait Lane: Copy {
    /// How many numbers stand side by side.
    const WIDTH: usize;
    /// Zero in every lane.
    const ZERO: Self;
    /// The sum, lane by lane.
    fn add(self, other: Self) -> Self;
    /// The product, lane by lane.
    fn mul(self, other: Self) -> Self;
    /// `self * a + b`
    fn mul_add(self, a: Self, b: Self) -> Self;
    /// One over it; zero of zero.
    fn invert(self) -> Self;
    /// The number in a lane.
    fn get(&self, lane: usize) -> f64;
    /// Puts a number into a lane.
    fn set(&mut self, lane: usize, value: f64);
}

impl Lane for f64 {
    const WIDTH: usize = 1;
    const ZERO: Self = 0.0;
    #[inline(always)]
    fn add(self, other: Self) -> Self {
        self + other
    }
    #[inline(always)]
    fn mul(self, other: Self) -> Self {
        self * other
    }
    #[inline(always)]
    fn mul_add(self, a: Self, b: Self) -> Self {
        self * a + b
    }
    #[inline(always)]
    fn invert(self) -> Self {
        if self > 0.0 { 1.0 / self } else { 0.0 }
    }
    #[inline(always)]
    fn get(&self, _: usize) -> f64 {
        *self
    }
    #[inline(always)]
    fn set(&mut self, _: usize, value: f64) {
        *self = value;
    }
}

/// Eight operating points side by side.
#[derive(Clone, Copy, Debug)]
#[repr(align(64))]
pub struct Lanes([f64; 8]);

impl Lane for Lanes {
    const WIDTH: usize = 8;
    const ZERO: Self = Self([0.0; 8]);
    #[inline(always)]
    fn add(self, other: Self) -> Self {
        Self(std::array::from_fn(|i| self.0[i] + other.0[i]))
    }
    #[inline(always)]
    fn mul(self, other: Self) -> Self {
        Self(std::array::from_fn(|i| self.0[i] * other.0[i]))
    }
    #[inline(always)]
    fn mul_add(self, a: Self, b: Self) -> Self {
        Self(std::array::from_fn(|i| self.0[i] * a.0[i] + b.0[i]))
    }
    #[inline(always)]
    fn invert(self) -> Self {
        Self(self.0.map(|g| if g > 0.0 { 1.0 / g } else { 0.0 }))
    }
    #[inline(always)]
    fn get(&self, lane: usize) -> f64 {
        self.0[lane]
    }
    #[inline(always)]
    fn set(&mut self, lane: usize, value: f64) {
        self.0[lane] = value;
    }
}
