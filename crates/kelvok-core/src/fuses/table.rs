//! The sheet as comma-separated values.

use super::carried::Load;
use super::sheet::FuseSheet;

impl FuseSheet {
    /// One row a fuse, then one a wire. Amperes in A, seconds in s.
    ///
    /// # Arguments
    /// `part` and `wire` name a part and a wire of the document; `condition` says how the controls stand.
    pub fn to_csv(
        &self,
        part: impl Fn(usize) -> String,
        wire: impl Fn(usize) -> String,
        condition: impl Fn(&Load) -> String,
    ) -> String {
        let mut writer = csv::Writer::from_writer(Vec::new());
        let amps = |of: Option<f64>| of.map_or_else(String::new, |a| format!("{a:.2}"));
        let load = |of: &Option<Load>| amps(of.as_ref().map(|load| load.amps));
        let at = |of: &Option<Load>| of.as_ref().map_or_else(String::new, &condition);
        // Writing to memory does not fail.
        let _ = writer.write_record([
            "kind",
            "name",
            "amps_all_day",
            "when",
            "amps_for_a_moment",
            "when_for_a_moment",
            "rating_called_for",
            "rating_fitted",
            "wire_gauge",
            "wire_carries_amps",
            "fuse",
            "short_amps",
            "blows_after_at_most_s",
            "says",
        ]);
        for row in &self.fuses {
            let says: Vec<_> = row.words.iter().map(|w| w.words()).collect();
            let blows = row.short.and_then(|s| s.blows).map(|b| b.most);
            let _ = writer.write_record([
                if row.breaker { "breaker" } else { "fuse" },
                &part(row.part),
                &load(&row.carried.lasting),
                &at(&row.carried.lasting),
                &load(&row.carried.moment),
                &at(&row.carried.moment),
                &amps(row.called_for),
                &amps(row.fitted),
                "",
                &amps(row.thinnest.map(|t| t.1)),
                "",
                &amps(row.short.map(|s| s.amps)),
                &amps(blows),
                &says.join("; "),
            ]);
        }
        for row in &self.wires {
            let fuse = row.fuse.map_or_else(String::new, |(fuse, _)| part(fuse));
            let gauge = row.gauge.map_or_else(String::new, |g| g.to_string());
            let _ = writer.write_record([
                "wire",
                &wire(row.wire),
                &load(&row.carried.lasting),
                &at(&row.carried.lasting),
                &load(&row.carried.moment),
                &at(&row.carried.moment),
                "",
                &amps(row.fuse.and_then(|(_, rating)| rating)),
                &gauge,
                &amps(row.carries),
                &fuse,
                "",
                "",
                row.word.words(),
            ]);
        }
        writer.into_inner().ok().and_then(|all| String::from_utf8(all).ok()).unwrap_or_default()
    }
}
