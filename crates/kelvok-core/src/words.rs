//! What the codes that are sent are called, in one place for every screen, sheet and command line.

use crate::battery::{BatteryReading, BatteryState, BatteryWord, Chemistry};
use crate::bench::Function;
use crate::charging::{ChargeDoes, ChargeKind, ChargeNote, ChargePlace, ChargeState};
use crate::circuit::FaultMode;
use crate::complaint::Symptom;
use crate::diagnosis::{BatteryEvent, Caution, Danger, Repair};
use crate::drops::{AmpsBy, DropWord, SpanWord, StarterWord};
use crate::fuses::{FuseWord, WireWord};
use crate::interlock::{FaultEffect, Noticeable};
use crate::loads::{Insulation, LoadMisfit, LoadWord};
use crate::machine::PartKind;
use crate::release::Saw;
use crate::soak::Trigger;
use serde::Serialize;
use serde_json::{Map, Value, json};

/// Every code with its words, by kind: `{"cautions": {"may-crank": "It may crank. ..."}, ...}`. The
/// web application is built with these (`web/src/words/codes.json`).
pub fn words() -> Value {
    json!({
        "battery_cautions": table(BatteryReading::ALL, BatteryReading::caution),
        "battery_chemistry": table(Chemistry::ALL, Chemistry::words),
        "battery_events": table(BatteryEvent::ALL, BatteryEvent::words),
        "battery_readings": table(BatteryReading::ALL, BatteryReading::words),
        "battery_states": table(BatteryState::ALL, BatteryState::words),
        "battery_words": table(BatteryWord::ALL, BatteryWord::words),
        "amps_by": table(AmpsBy::ALL, AmpsBy::words),
        "drop_words": table(DropWord::ALL, DropWord::words),
        "starter_words": table(StarterWord::ALL, StarterWord::words),
        "span_words": table(SpanWord::ALL, SpanWord::words),
        "charge_cautions": table(ChargeKind::ALL, ChargeKind::caution),
        "charge_does": table(ChargeDoes::ALL, ChargeDoes::words),
        "charge_kinds": table(ChargeKind::ALL, ChargeKind::words),
        "charge_notes": table(ChargeNote::ALL, ChargeNote::words),
        "charge_places": table(ChargePlace::ALL, ChargePlace::words),
        "charge_states": table(ChargeState::ALL, ChargeState::words),
        "cautions": table(Caution::ALL, Caution::words),
        "saws": table(Saw::ALL, Saw::words),
        "dangers": table(Danger::ALL, Danger::words),
        "effects": table(FaultEffect::ALL, FaultEffect::words),
        "fault_modes": table(FaultMode::ALL, FaultMode::words),
        "fuse_words": table(FuseWord::ALL, FuseWord::words),
        "load_words": table(LoadWord::ALL, LoadWord::words),
        "load_misfits": table(LoadMisfit::ALL, LoadMisfit::words),
        "insulations": table(Insulation::ALL, Insulation::words),
        "wire_words": table(WireWord::ALL, WireWord::words),
        "noticeable": table(Noticeable::ALL, Noticeable::words),
        "part_kinds": table(PartKind::ALL, PartKind::words),
        "repairs": table(Repair::ALL, Repair::words),
        "soak_triggers": table(Trigger::ALL, Trigger::words),
        "switch_functions": table(Function::ALL, Function::words),
        "symptoms": table(Symptom::ALL, Symptom::words),
    })
}

fn table<T: Copy + Serialize>(all: &[T], words: fn(T) -> &'static str) -> Map<String, Value> {
    let code = |of: &T| serde_json::to_value(of).ok()?.as_str().map(str::to_owned);
    all.iter().filter_map(|of| Some((code(of)?, json!(words(*of))))).collect()
}
