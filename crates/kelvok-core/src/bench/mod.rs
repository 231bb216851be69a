//! A switch in the hand: which terminals are joined in which position, and what that makes them.
//!
//! A [`Profile`] says how a kind of switch is made. A [`FoundTable`] is what was found of one, cell
//! by cell; [`Joined`] is what follows from it in one position, joined terminals being one class.
//!
//! - `identify`: every way in which the terminals in the hand can be those of a profile
//!   ([`assignments`]), and the pair and position that parts what is left soonest ([`next_probe`]).
//! - `judge`: a switch against what it should do. A [`Bench`] is a [`Subject`] with the
//!   [`BenchEntry`]s of its log; it says what is found, what is wrong, what to do next.
//! - `fit`: the switch and the machine it goes into: [`profile_of_part`], what a fault would make
//!   the machine do, wires moved one at a time, a new part before it is fitted.

mod fit;
mod found;
mod identify;
mod joined;
mod judge;
mod profile;
mod table_text;

pub use fit::{
    MachineEffects, Move, PlugWire, Unfit, WireCheck, WirePlan, ignition_of, profile_of_part,
    unfit, wire_plan, wires_at,
};
pub use found::{Cell, FoundTable, Grade, Seen};
pub use identify::{
    Assignment, Assignments, Identity, LayoutVerdict, MOVE_PROBES, NearMiss, NextProbe,
    assignments, by_logic, identify, layout_verdict, near_misses, next_probe, optimal_mean_probes,
};
pub use joined::{Conflict, Joined};
pub use judge::{
    Band, Bench, BenchEntry, Consequence, Expected, Finding, FindingKind, Leads, LeadsVerdict,
    LinkageVerdict, Next, Operated, Pole, PoleKind, Stroke, Subject, SwitchVerdict, Travel, Way,
    WorkedBy, findings, linkage_verdict, miss_rate_below, next_cell, operations_for, poles, travel,
};
pub use profile::{
    Actuator, Function, Ignition, PROFILES, Position, Profile, ProfileDocument, SWITCH_FORMAT,
    SwitchKind, Terminal, profile_schema,
};
pub use table_text::{TableError, TableRow};
