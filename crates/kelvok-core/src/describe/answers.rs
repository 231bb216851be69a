//! What was answered, and what is asked next.

use super::questions::{Choice, KIND, Question, Questions, When};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Answers by question. `None`: nobody looked, and what is usual is taken.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Answers(pub BTreeMap<String, Option<String>>);

/// An answer that is none.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum AnswerError {
    #[error("Nothing is asked by the name \"{0}\".")]
    NoQuestion(String),
    #[error("\"{choice}\" is no answer to \"{question}\". Choices: {choices}.")]
    NoChoice { question: String, choice: String, choices: String },
}

/// The answers that count: those to questions that are asked, and what is usual for the others.
#[derive(Clone, Debug)]
pub struct Settled {
    by_question: BTreeMap<&'static str, &'static str>,
}

impl Settled {
    /// The answer to a question; nothing where it is not asked of such a machine.
    pub fn get(&self, question: &str) -> &'static str {
        self.by_question.get(question).copied().unwrap_or("")
    }

    /// Whether a question has this answer.
    pub fn is(&self, question: &str, choice: &str) -> bool {
        self.get(question) == choice
    }

    /// Whether it is a tractor for the field rather than the lawn.
    pub fn is_tractor(&self) -> bool {
        matches!(self.get(KIND), "compact-tractor" | "utility-tractor")
    }

    /// Whether all of these hold.
    fn holds(&self, when: &[When]) -> bool {
        when.iter().all(|when| {
            let answer = self.get(&when.question);
            let is = when.is.is_empty() || when.is.iter().any(|c| c == answer);
            is && !when.not.iter().any(|c| c == answer)
        })
    }

    /// The choices of a question that are offered on such a machine.
    pub fn offered(&self, question: &'static Question) -> Vec<&'static Choice> {
        question.choices.iter().filter(|c| self.holds(&c.when)).collect()
    }

    /// What is taken where nobody looked: what is usual for the kind, of what is offered.
    pub fn usual(&self, question: &'static Question) -> &'static str {
        let offered = self.offered(question);
        let usual = question.usual(self.get(KIND));
        let first = offered.first().map_or("", |c| c.id.as_str());
        if offered.iter().any(|c| c.id == usual) { usual } else { first }
    }

    /// Pairs of pins at a switch.
    pub fn pairs(&self, question: &str) -> usize {
        self.get(question).parse::<usize>().map_or(0, |pins| pins / 2)
    }
}

/// Machines of the library by name, as somebody would answer for them who stands beside them.
pub fn looks() -> BTreeMap<String, Answers> {
    // A test reads it.
    serde_json::from_str(include_str!("looks.json")).unwrap_or_default()
}

impl Answers {
    /// The questions that such a machine is asked, in order.
    pub fn asked(&self) -> Vec<&'static Question> {
        self.go_through().1
    }

    /// The first question that was neither answered nor passed over.
    pub fn next(&self) -> Option<&'static Question> {
        self.asked().into_iter().find(|q| !self.0.contains_key(&q.id))
    }

    /// What counts.
    ///
    /// # Errors
    /// A question that is not there, or a choice it does not have. Answers to questions that other
    /// answers took away are kept, and do not count.
    pub fn settle(&self) -> Result<Settled, AnswerError> {
        let all = Questions::shipped();
        for (id, choice) in &self.0 {
            let question = all.named(id).ok_or_else(|| AnswerError::NoQuestion(id.clone()))?;
            let Some(choice) = choice else { continue };
            if question.choice(choice).is_none() {
                let choices: Vec<_> = question.choices.iter().map(|c| c.id.as_str()).collect();
                return Err(AnswerError::NoChoice {
                    question: id.clone(),
                    choice: choice.clone(),
                    choices: choices.join(", "),
                });
            }
        }
        Ok(self.go_through().0)
    }

    fn go_through(&self) -> (Settled, Vec<&'static Question>) {
        let mut settled = Settled { by_question: BTreeMap::new() };
        let mut asked = Vec::new();
        for question in &Questions::shipped().questions {
            if !settled.holds(&question.when) {
                continue;
            }
            let given = self.0.get(&question.id).and_then(Option::as_deref);
            let choice = given.and_then(|given| question.choice(given));
            let answer = match choice.filter(|choice| settled.holds(&choice.when)) {
                Some(choice) => choice.id.as_str(),
                None => settled.usual(question),
            };
            settled.by_question.insert(&question.id, answer);
            if settled.offered(question).len() < 2 {
                continue;
            }
            if question.id == KIND {
                // Of most kinds nobody is asked what they burn.
                settled.by_question.insert("fuel", "gasoline");
            }
            asked.push(question);
        }
        (settled, asked)
    }
}
