//! What operations without a miss are worth.

/// The rate of misses below which, with this confidence, a contact lies that was operated so often
/// without one: the rate at which so many operations in a row go well with the chance that is left.
/// From 1 (nothing is known) down.
///
/// For 95 % some three over the number of operations ("the rule of three").
pub fn miss_rate_below(operations: u32, confidence: f64) -> f64 {
    if operations == 0 {
        return 1.0;
    }
    1.0 - (1.0 - confidence).powf(1.0 / f64::from(operations))
}

/// How many operations without a miss are wanted until, with this confidence, fewer than one in so
/// many fails: n >= ln(1 - c) / ln(1 - p).
pub fn operations_for(miss_rate: f64, confidence: f64) -> u32 {
    let wanted = (1.0 - confidence).ln() / (1.0 - miss_rate).ln();
    // Casts saturate; one that never misses wants no more than there are.
    wanted.ceil() as u32
}
