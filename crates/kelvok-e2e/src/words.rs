use serde_json::Value;
use std::sync::LazyLock;

/// The web's own catalog of what stands fixed on its screens.
static SAY: LazyLock<Value> = LazyLock::new(|| {
    let text = include_str!("../../../web/src/words/say.json");
    serde_json::from_str(text).expect("the catalog of strings")
});

/// What the screens say under a key of the catalog, as "job.closeJob".
///
/// # Panics
/// There is no such key.
pub fn say(key: &str) -> &'static str {
    let (screen, name) = key.split_once('.').unwrap_or(("", key));
    SAY[screen][name].as_str().unwrap_or_else(|| panic!("no string goes by {key:?}"))
}
