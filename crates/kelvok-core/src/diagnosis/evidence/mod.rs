//! The evidence log: what is observed, in which condition and set-up; as data and by name.

mod action;
mod battery_event;
mod charging;
mod close_up;
mod close_up_entry;
mod document;
mod entry;
mod entry_error;
mod lamp_in_place;
mod log;
mod observation;
mod probe;
mod reading_text;
mod repair;
mod set_up;
mod temporary;
mod unit;

pub use action::TestAction;
pub use battery_event::BatteryEvent;
pub(crate) use charging::charge_reading;
pub use close_up::{CloseUp, SparkSeen};
pub use close_up_entry::CloseUpEntry;
pub use document::{
    STORY_FORMAT, Signed, StoryDocument, StoryEntry, StoryError, StoryVerdict, story_schema,
};
pub(crate) use entry::lamps;
pub use entry::{Entry, LookEntry, ObservationEntry, SetUpEntry, lamp_part, resolve_situation};
pub use entry_error::EntryError;
pub(crate) use lamp_in_place::lamp_plug;
pub use log::Evidence;
pub use observation::{Heard, Inspected, Observation, Sense, Sensed, Source, Work};
pub(crate) use probe::Probe;
pub(crate) use reading_text::one_is_an_ohm;
pub use reading_text::{ReadingError, parse_reading};
pub use repair::{Repair, before_repair};
pub use set_up::SetUp;
pub use temporary::{jumper_on, off_since, still_off, to_put_back};
pub use unit::Unit;
