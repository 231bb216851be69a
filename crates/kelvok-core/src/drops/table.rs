//! A walk as comma-separated values.

use super::path::LoadPath;
use super::walk::DropWalk;

impl DropWalk {
    /// One row a stretch: what lies in it, what it lost by itself or together with which others, and what it
    /// may lose. Volts in V, amperes in A, heat in W.
    ///
    /// # Arguments
    /// `points` and `parts` name the path's points, and what lies in each stretch.
    pub fn to_csv(&self, path: &LoadPath, points: &[String], parts: &[String]) -> String {
        let mut writer = csv::Writer::from_writer(Vec::new());
        let heading = [
            "from",
            "to",
            "parts",
            "volts",
            "low",
            "high",
            "with",
            "expected_volts",
            "limit_volts",
            "watts",
            "amps",
            "word",
        ];
        // Writing to memory does not fail.
        let _ = writer.write_record(heading);
        for stretch in 0..path.stretches.len() {
            let span = self.spans.iter().find(|s| s.stretches.contains(&stretch));
            let figure = |of: Option<f64>, places: usize| {
                of.map_or_else(String::new, |v| format!("{:.places$}", v + 0.0))
            };
            let with = span.map_or(0, |s| s.stretches.len() - 1);
            let word = span.map_or("", |s| s.word.words());
            let _ = writer.write_record([
                points[stretch].clone(),
                points[stretch + 1].clone(),
                parts[stretch].clone(),
                figure(span.map(|s| s.volts), 3),
                figure(span.map(|s| s.low), 3),
                figure(span.map(|s| s.high), 3),
                with.to_string(),
                figure(Some(self.expected[stretch]), 3),
                figure(Some(self.limits[stretch]), 3),
                figure(span.map(|s| s.watts), 1),
                figure(Some(self.amps.likely), 2),
                word.to_owned(),
            ]);
        }
        writer.into_inner().ok().and_then(|all| String::from_utf8(all).ok()).unwrap_or_default()
    }
}
