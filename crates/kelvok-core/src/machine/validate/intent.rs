//! Rules for what the machine is for: drive, normal use, duties, changes it came with.

use super::rules::Rules;
use crate::machine::Shall;
use std::collections::BTreeMap;

impl Rules<'_> {
    pub(super) fn intent(&mut self) {
        let d = self.document;
        let drive = [("runs_when", &d.drive.runs_when), ("blades_when", &d.drive.blades_when)];
        for (field, text) in drive {
            if let Some(text) = text {
                self.expression(&format!("/drive/{field}"), text);
            }
        }
        for (i, use_) in d.normal_use.iter().enumerate() {
            if !self.skip(&format!("/normal_use/{i}")) {
                self.positions_exist(&format!("/normal_use/{i}/set"), &use_.set);
            }
        }
        self.unique("duties", "duty", d.duties.iter().map(|d| d.id.as_str()));
        for (i, duty) in d.duties.iter().enumerate() {
            let at = format!("/duties/{i}");
            if self.skip(&at) {
                continue;
            }
            self.expression(&format!("{at}/from"), &duty.from);
            self.positions_exist(&format!("{at}/change"), &duty.change);
            if duty.within.is_some_and(|s| !(s > 0.0 && s <= 3600.0)) {
                self.wrong(format!("{at}/within"), "Seconds are more than 0 and at most 3600.");
            }
            let standing = matches!(duty.shall, Shall::NotCrank | Shall::Start);
            if duty.change.is_empty() && !standing && duty.shall != Shall::KeepRunning {
                let sentence = "What stops needs something that the operator does first.";
                self.wrong(format!("{at}/change"), sentence);
            }
        }
        for (i, found) in d.as_found.iter().enumerate() {
            if !self.skip(&format!("/as_found/{i}")) && !found.change.contains('=') {
                let sentence = format!("\"{}\" is not SUBJECT=MODE.", found.change);
                self.wrong(format!("/as_found/{i}/change"), sentence);
            }
        }
    }

    fn positions_exist(&mut self, at: &str, set: &BTreeMap<String, String>) {
        for (control, position) in set {
            self.expression(&format!("{at}/{control}"), &format!("{control}={position}"));
        }
    }
}
