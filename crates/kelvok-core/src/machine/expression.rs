//! Control expressions: `pedal=down & !(key=off,start) | engine=running`.
//!
//! A term names a control and one or more of its positions, separated by commas, any of which
//! satisfies it. `!` binds tightest, then `&`, then `|`; parentheses group.

use std::fmt;

/// A parsed expression over names; [`Expression::resolve`] turns the names into something faster.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Expression<T = Term> {
    Term(T),
    Not(Box<Expression<T>>),
    And(Vec<Expression<T>>),
    Or(Vec<Expression<T>>),
}

/// `control=position,position`
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Term {
    pub control: String,
    pub positions: Vec<String>,
}

/// Where and why a text is no expression.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub struct ExpressionError {
    /// Byte offset at which the text stopped making sense.
    pub at: usize,
    pub expected: &'static str,
}

impl fmt::Display for ExpressionError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "expected {} at character {}", self.expected, self.at + 1)
    }
}

impl Expression {
    /// Parses an expression.
    ///
    /// # Errors
    /// Says what was expected and where.
    pub fn parse(text: &str) -> Result<Self, ExpressionError> {
        let mut parser = Parser { text, at: 0, depth: 0 };
        let expression = parser.any_of()?;
        parser.skip_space();
        if parser.at < text.len() {
            return Err(parser.error("& or | or the end"));
        }
        Ok(expression)
    }
}

impl<T> Expression<T> {
    /// The value, given what each term is worth.
    pub fn eval(&self, term: &impl Fn(&T) -> bool) -> bool {
        match self {
            Self::Term(t) => term(t),
            Self::Not(e) => !e.eval(term),
            Self::And(all) => all.iter().all(|e| e.eval(term)),
            Self::Or(any) => any.iter().any(|e| e.eval(term)),
        }
    }

    /// The same expression over other terms; the first error stops it.
    pub fn resolve<U, E>(&self, f: &impl Fn(&T) -> Result<U, E>) -> Result<Expression<U>, E> {
        let each =
            |list: &[Self]| -> Result<Vec<_>, E> { list.iter().map(|e| e.resolve(f)).collect() };
        Ok(match self {
            Self::Term(t) => Expression::Term(f(t)?),
            Self::Not(e) => Expression::Not(Box::new(e.resolve(f)?)),
            Self::And(all) => Expression::And(each(all)?),
            Self::Or(any) => Expression::Or(each(any)?),
        })
    }

    /// Every term, left to right.
    pub fn terms(&self) -> Vec<&T> {
        match self {
            Self::Term(t) => vec![t],
            Self::Not(e) => e.terms(),
            Self::And(list) | Self::Or(list) => list.iter().flat_map(Self::terms).collect(),
        }
    }
}

struct Parser<'a> {
    text: &'a str,
    at: usize,
    depth: u32,
}

/// Deeper nesting than this is refused rather than risking the stack.
const DEEPEST: u32 = 64;

impl Parser<'_> {
    fn error(&self, expected: &'static str) -> ExpressionError {
        ExpressionError { at: self.at, expected }
    }

    fn skip_space(&mut self) {
        let rest = &self.text[self.at..];
        self.at += rest.len() - rest.trim_start().len();
    }

    fn take(&mut self, c: char) -> bool {
        self.skip_space();
        let found = self.text[self.at..].starts_with(c);
        if found {
            self.at += c.len_utf8();
        }
        found
    }

    fn list(
        &mut self,
        separator: char,
        item: fn(&mut Self) -> Result<Expression, ExpressionError>,
        join: fn(Vec<Expression>) -> Expression,
    ) -> Result<Expression, ExpressionError> {
        let mut items = vec![item(self)?];
        while self.take(separator) {
            items.push(item(self)?);
        }
        Ok(if items.len() == 1 { items.remove(0) } else { join(items) })
    }

    fn any_of(&mut self) -> Result<Expression, ExpressionError> {
        self.list('|', Self::all_of, Expression::Or)
    }

    fn all_of(&mut self) -> Result<Expression, ExpressionError> {
        self.list('&', Self::factor, Expression::And)
    }

    fn factor(&mut self) -> Result<Expression, ExpressionError> {
        self.depth += 1;
        if self.depth > DEEPEST {
            return Err(self.error("less nesting"));
        }
        let found = if self.take('!') {
            Expression::Not(Box::new(self.factor()?))
        } else if self.take('(') {
            let inner = self.any_of()?;
            if !self.take(')') {
                return Err(self.error("a closing parenthesis"));
            }
            inner
        } else {
            self.term()?
        };
        self.depth -= 1;
        Ok(found)
    }

    fn term(&mut self) -> Result<Expression, ExpressionError> {
        let control = self.name("a control's name")?;
        if !self.take('=') {
            return Err(self.error("="));
        }
        let mut positions = vec![self.name("a position's name")?];
        while self.take(',') {
            positions.push(self.name("a position's name")?);
        }
        Ok(Expression::Term(Term { control, positions }))
    }

    fn name(&mut self, expected: &'static str) -> Result<String, ExpressionError> {
        self.skip_space();
        let rest = &self.text[self.at..];
        let end = rest
            .find(|c: char| !(c.is_ascii_alphanumeric() || c == '-' || c == '_'))
            .unwrap_or(rest.len());
        if end == 0 {
            return Err(self.error(expected));
        }
        self.at += end;
        Ok(rest[..end].to_owned())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn value(text: &str, now: &[(&str, &str)]) -> bool {
        let expression = Expression::parse(text).expect("parses");
        expression.eval(&|t: &Term| {
            now.iter().any(|(c, p)| t.control == *c && t.positions.iter().any(|q| q == p))
        })
    }

    #[test]
    fn binds_not_then_and_then_or() {
        let now = [("key", "run"), ("seat", "empty")];
        assert!(value("key=off & seat=on | key=run", &now));
        assert!(!value("key=off & (seat=on | key=run)", &now));
        assert!(value("!key=off & seat=empty", &now));
        assert!(value("key=off,run", &now));
    }

    #[test]
    fn says_where_it_stopped() {
        for (text, message) in [
            ("", "expected a control's name at character 1"),
            ("key", "expected = at character 4"),
            ("key=", "expected a position's name at character 5"),
            ("(key=off", "expected a closing parenthesis at character 9"),
            ("key=off seat=on", "expected & or | or the end at character 9"),
        ] {
            assert_eq!(Expression::parse(text).unwrap_err().to_string(), message);
        }
        assert!(Expression::parse(&"!".repeat(10_000)).is_err());
    }
}
