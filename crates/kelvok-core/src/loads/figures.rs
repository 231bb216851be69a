//! Figures that a load is judged by.

/// Where the figure of copper is from.
pub const COPPER_SOURCE: &str = "IEC 60028, annealed copper: 0.393 % a kelvin at 20 °C";
/// What copper gains a kelvin, as a share of its ohms at 20 °C.
const COPPER: f64 = 0.003_93;

/// So many times its ohms at 20 °C has copper at these degrees.
pub fn copper(celsius: f64) -> f64 {
    1.0 + COPPER * (celsius - 20.0)
}

/// What a coil that reads so many ohms at these degrees has at 20 °C.
pub fn at_20(ohms: f64, celsius: f64) -> f64 {
    ohms / copper(celsius)
}

/// A coil that is on for minutes is warmer than what stands: at most so many times its ohms at 20 °C,
/// which is copper at 110 °C.
pub(super) const WARMED: f64 = 1.35;
/// The same of a glow plug, which is made to.
pub(super) const GLOWED: f64 = 2.5;
/// Nobody says how warm it is: from a frosty morning to just off a hot engine.
pub(super) const UNSAID: (f64, f64) = (0.88, 1.31);

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn copper_gains_four_tenths_of_a_percent_a_kelvin() {
        assert!((copper(20.0) - 1.0).abs() < 1e-12);
        assert!((copper(100.0) - 1.3144).abs() < 1e-9);
        // Copper at 110 degrees, as [`WARMED`] has it.
        assert!((copper(110.0) - WARMED).abs() < 0.01);
        assert!((at_20(3.5, 100.0) - 2.663).abs() < 1e-3);
    }
}
