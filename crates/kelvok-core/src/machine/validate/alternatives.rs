//! Rules about what a document leaves open. Whether its changes name what the machine has, only the
//! circuit can tell: `check` does.

use super::rules::Rules;

impl Rules<'_> {
    pub(super) fn alternatives(&mut self) {
        let all = &self.document.alternatives;
        self.unique("alternatives", "alternative", all.iter().map(|a| a.id.as_str()));
        for (i, alternative) in all.iter().enumerate() {
            let at = format!("/alternatives/{i}");
            if self.skip(&at) {
                continue;
            }
            for (field, text) in [("about", &alternative.about), ("drawn", &alternative.drawn)] {
                if text.trim().is_empty() {
                    self.wrong(format!("{at}/{field}"), "Needs words that a person can read.");
                }
            }
            if alternative.choices.is_empty() {
                self.wrong(format!("{at}/choices"), "What is open needs at least one choice.");
            }
            let ids = alternative.choices.iter().map(|c| c.id.as_str());
            self.unique(&format!("alternatives/{i}/choices"), "choice", ids);
            let mut left = 1.0;
            for (c, choice) in alternative.choices.iter().enumerate() {
                let at = format!("{at}/choices/{c}");
                if choice.name.trim().is_empty() {
                    self.wrong(format!("{at}/name"), "Needs words that a person can read.");
                }
                if !(choice.weight > 0.0 && choice.weight < 1.0) {
                    self.wrong(format!("{at}/weight"), "A weight is more than 0 and less than 1.");
                }
                left -= choice.weight;
                if choice.changes.is_empty() {
                    self.wrong(format!("{at}/changes"), "A choice that changes nothing is none.");
                }
                for (n, change) in choice.changes.iter().enumerate() {
                    if !change.contains('=') {
                        let sentence = format!("\"{change}\" is not SUBJECT=MODE.");
                        self.wrong(format!("{at}/changes/{n}"), sentence);
                    }
                }
            }
            if left <= 0.0 {
                let sentence = "The choices’ weights add up to 1 or more: nothing is left for what \
                                is drawn.";
                self.wrong(format!("{at}/choices"), sentence);
            }
        }
    }
}
