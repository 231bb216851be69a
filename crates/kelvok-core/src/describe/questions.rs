//! What is asked of a machine that nobody described: a document, so that kinds can be added.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::OnceLock;

/// Questions in the order they are asked. A question may hang on the answers to earlier ones.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Questions {
    pub format: String,
    pub questions: Vec<Question>,
}

/// Something that can be seen standing beside the machine.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Question {
    pub id: String,
    pub asks: String,
    /// What is usual, by kind of machine: taken where nobody looked. `*` is any other kind.
    pub usual: BTreeMap<String, String>,
    /// Asked only where all of these hold.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub when: Vec<When>,
    pub choices: Vec<Choice>,
}

/// A condition on the answer to an earlier question. One that was not asked is none of them.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct When {
    pub question: String,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub is: Vec<String>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub not: Vec<String>,
}

/// An answer that can be given.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Choice {
    pub id: String,
    pub says: String,
    /// Offered only where all of these hold.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub when: Vec<When>,
}

/// The question all others hang on.
pub(super) const KIND: &str = "kind";

impl Questions {
    /// Those that ship.
    ///
    /// # Panics
    /// Never: a test reads them.
    pub fn shipped() -> &'static Self {
        static SHIPPED: OnceLock<Questions> = OnceLock::new();
        SHIPPED.get_or_init(|| {
            serde_json::from_str(include_str!("questions.json")).expect("the shipped questions")
        })
    }

    /// A question by its id.
    pub fn named(&self, id: &str) -> Option<&Question> {
        self.questions.iter().find(|q| q.id == id)
    }
}

impl Question {
    /// What is usual for a kind of machine.
    pub fn usual(&self, kind: &str) -> &str {
        self.usual.get(kind).or_else(|| self.usual.get("*")).map_or("", String::as_str)
    }

    /// An answer by its id.
    pub fn choice(&self, id: &str) -> Option<&Choice> {
        self.choices.iter().find(|c| c.id == id)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn every_answer_that_is_named_can_be_given() {
        let all = Questions::shipped();
        assert_eq!(all.format, "kelvok-questions/1");
        let kinds: BTreeSet<_> = all.questions[0].choices.iter().map(|c| c.id.as_str()).collect();
        let mut asked = BTreeSet::new();
        for question in &all.questions {
            let id = &question.id;
            assert!(asked.insert(id.clone()), "{id} twice");
            assert!(question.usual.contains_key("*"), "{id}");
            for (kind, choice) in &question.usual {
                assert!(kind == "*" || kinds.contains(kind.as_str()), "{id}: {kind}");
                assert!(question.choice(choice).is_some(), "{id}: {choice}");
            }
            let choices = question.choices.iter().flat_map(|c| &c.when);
            for when in question.when.iter().chain(choices) {
                assert!(asked.contains(&when.question) && when.question != *id, "{id}");
                let earlier = all.named(&when.question).expect("asked before");
                for choice in when.is.iter().chain(&when.not) {
                    assert!(earlier.choice(choice).is_some(), "{id}: {choice}");
                }
            }
        }
    }
}
