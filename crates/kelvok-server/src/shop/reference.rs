//! What the engine knows of instruments and faults, whatever the machine.

use axum::Json;
use kelvok_core::circuit::{FaultMode, Instrument};
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct Reference {
    pub instruments: Vec<InstrumentNote>,
    pub faults: Vec<FaultNote>,
}

#[derive(Serialize, ToSchema)]
pub struct InstrumentNote {
    pub instrument: Instrument,
    /// What it does not see, for whoever is about to trust it.
    pub cannot_see: String,
}

#[derive(Serialize, ToSchema)]
pub struct FaultNote {
    pub mode: FaultMode,
    /// The parts it happens to.
    pub applies_to: String,
}

/// What each instrument cannot see, and every way to fail with the parts it happens to.
#[utoipa::path(get, path = "/reference", responses((status = 200, body = Reference)))]
pub async fn reference() -> Json<Reference> {
    let instruments = Instrument::ALL
        .iter()
        .map(|i| InstrumentNote { instrument: *i, cannot_see: i.cannot_see().to_owned() });
    let faults = FaultMode::ALL
        .iter()
        .map(|mode| FaultNote { mode: *mode, applies_to: mode.applies_to().to_owned() });
    Json(Reference { instruments: instruments.collect(), faults: faults.collect() })
}
