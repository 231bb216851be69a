//! A sentence made plain for the patterns: lower case, no apostrophes, one blank between words, and a
//! bar where a clause ends; with what of it was understood.

use regex::Regex;

/// A sentence, and what of it was understood.
pub(super) struct Text {
    plain: String,
    /// By byte of the plain text.
    used: Vec<bool>,
}

/// Words that say nothing by themselves; what is left over is not told for them.
const SMALL: &str = "a about after again ago all also am an and any are as at back be because been but by came can come \
    does doing done down engine even ever fine for from get gets go goes going good got had has have he her here his how i if \
    im in is it its itself ive just keeps kind last like machine maybe me motor mower my now of off ok okay on once one only \
    or our out over please put real really right same say says she side so some somebody someone something still than that \
    thats the them then there they thing think this though til till time to today too tractor trying up very want was \
    we well went were what when whenever where which while will with without work would yet you your";

impl Text {
    pub fn read(sentence: &str) -> Self {
        let mut plain = String::from(" ");
        for c in sentence.chars().flat_map(char::to_lowercase) {
            match c {
                '\'' | '\u{2018}' | '\u{2019}' => {}
                c if c.is_alphanumeric() => plain.push(c),
                ',' | '.' | ';' | ':' | '!' | '?' | '(' | ')' | '\n' => plain.push_str(" | "),
                _ => plain.push(' '),
            }
        }
        let words: Vec<_> = plain.split_whitespace().collect();
        let plain = format!(" {} ", words.join(" "));
        let used = vec![false; plain.len()];
        Self { plain, used }
    }

    pub fn plain(&self) -> &str {
        &self.plain
    }

    /// Takes the first place that matches and was not understood before. What matches has a letter.
    pub fn take(&mut self, pattern: &Regex) -> Option<(usize, usize)> {
        let mut all = pattern.find_iter(&self.plain).map(|m| (m.start(), m.end()));
        let found = all.find(|place| self.is_free(*place))?;
        self.used[found.0..found.1].fill(true);
        Some(found)
    }

    /// Takes what stands between two places, if none of it was understood before.
    pub fn take_at(&mut self, (from, to): (usize, usize)) -> bool {
        let free = self.is_free((from, to));
        if free {
            self.used[from..to].fill(true);
        }
        free
    }

    fn is_free(&self, (from, to): (usize, usize)) -> bool {
        let used = self.used[from..to].iter().zip(self.plain[from..to].bytes());
        !used.into_iter().any(|(u, b)| *u && b != b' ')
    }

    /// Where a pattern stands in words that nothing was made of.
    pub fn open(&self, pattern: &Regex) -> Vec<usize> {
        let free = |m: &regex::Match<'_>| !self.used[m.start()];
        pattern.find_iter(&self.plain).filter(free).map(|m| m.start()).collect()
    }

    /// Where the clause ends that something stands in.
    pub fn clause_end(&self, at: usize) -> usize {
        self.plain[at..].find(" | ").map_or(self.plain.len(), |n| at + n)
    }

    /// Whether a word that says something was made nothing of, between two places.
    pub fn is_open(&self, from: usize, to: usize) -> bool {
        let mut at = from;
        self.plain[from..to].split(' ').any(|word| {
            let used = self.used.get(at).copied().unwrap_or(true);
            at += word.len() + 1;
            !used && says(word)
        })
    }

    /// Words from one place on, at most so many before it, understood or not.
    pub fn before(&self, at: usize, words: usize) -> String {
        let all: Vec<_> = self.plain[..at].split_whitespace().collect();
        all[all.len().saturating_sub(words)..].join(" ")
    }

    /// Runs of words that nothing was made of.
    pub fn left_over(&self) -> Vec<String> {
        let mut runs: Vec<Vec<&str>> = vec![Vec::new()];
        let mut at = 0;
        for word in self.plain.split(' ') {
            let used = self.used.get(at).copied().unwrap_or(true);
            at += word.len() + 1;
            match used || word == "|" {
                true => runs.push(Vec::new()),
                false if !word.is_empty() => runs.last_mut().map_or((), |run| run.push(word)),
                false => {}
            }
        }
        let says = |run: &Vec<&str>| run.iter().any(|word| says(word));
        runs.into_iter().filter(says).map(|run| run.join(" ")).collect()
    }
}

/// Whether a word says something by itself.
fn says(word: &str) -> bool {
    word.len() > 1 && word != "|" && !SMALL.split_whitespace().any(|small| small == word)
}
