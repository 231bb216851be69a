//! The switches of a machine, as they come to the bench.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::machines::Known;
use axum::Json;
use axum::extract::State;
use kelvok_core::bench::{PlugWire, ProfileDocument, profile_of_part, wires_at};
use kelvok_core::circuit::{Circuit, Condition, PlungerId, one_move_away};
use kelvok_core::diagnosis::SetUpEntry;
use kelvok_core::machine::PartKind;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// A switch or relay of a machine.
#[derive(Serialize, ToSchema)]
pub struct MachineSwitch {
    pub part: String,
    pub name: String,
    /// What the machine wants of it.
    pub profile: ProfileDocument,
    pub wires: Vec<PlugWire>,
}

/// The switches and relays of a machine, each with the profile that its drawing makes of it.
#[utoipa::path(get, operation_id = "machine_switches", path = "/machines/{name}/switches",
    params(("name" = String, Path)),
    responses((status = 200, body = Vec<MachineSwitch>), (status = 404, body = Problem)))]
pub async fn switches_of(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Json<Vec<MachineSwitch>>, Problem> {
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit();
    let switches = circuit.document().parts.iter().filter_map(|part| {
        Some(MachineSwitch {
            part: part.id.clone(),
            name: part.name.clone(),
            profile: profile_of_part(circuit, &part.id)?,
            wires: wires_at(circuit, &part.id),
        })
    });
    Ok(Json(switches.collect()))
}

/// How a machine stands while its switch is on the bench.
pub(crate) struct OffTheMachine<'a> {
    circuit: &'a Circuit,
    part: &'a str,
    /// Its plug, off.
    pub plugs: Vec<String>,
}

impl<'a> OffTheMachine<'a> {
    pub fn of(circuit: &'a Circuit, part: &'a str) -> Self {
        let prefix = format!("{part}.");
        let parts = circuit.document().parts.iter();
        let plugs = parts.filter(|p| {
            p.kind == PartKind::Connector && p.mates.values().any(|m| m.starts_with(&prefix))
        });
        let plugs = plugs.map(|p| p.id.clone()).collect();
        Self { circuit, part, plugs }
    }

    /// The condition and set-up that a position of the switch comes to; `None` where nothing but
    /// current moves it.
    pub fn stand(&self, position: &str) -> Option<(BTreeMap<String, String>, Vec<SetUpEntry>)> {
        let own = self.circuit.part(self.circuit.part_named(self.part)?);
        let plugs = self.plugs.iter().map(|p| SetUpEntry::Unplugged { connector: p.clone() });
        let mut set_up: Vec<SetUpEntry> = plugs.collect();
        let mut condition = BTreeMap::new();
        let switch = self.part.to_owned();
        match (own.kind, position) {
            (PartKind::KeySwitch | PartKind::HandSwitch, position) => {
                let gate = own.contacts.iter().find_map(|c| c.gate.as_ref())?;
                condition.insert(gate.control.clone(), position.to_owned());
            }
            (PartKind::InterlockSwitch, "pressed") => {
                set_up.push(SetUpEntry::PressedByHand { switch });
            }
            (PartKind::InterlockSwitch, _) => set_up.push(SetUpEntry::FreedByHand { switch }),
            _ => return None,
        }
        Some((condition, set_up))
    }

    /// The condition and set-up in which the machine itself works it so: the fewest controls moved
    /// from rest. `None` where no one control does, or it has no plunger.
    pub fn stand_by_machine(
        &self,
        position: &str,
    ) -> Option<(BTreeMap<String, String>, Vec<SetUpEntry>)> {
        let part = self.circuit.part_named(self.part)?;
        let plunger = self.circuit.plungers.iter().position(|p| p.part == part)?;
        let plunger = PlungerId(plunger as u16);
        let rest = Condition::at_rest(self.circuit);
        let moved = one_move_away(self.circuit, &rest);
        let mut stands = std::iter::once(rest.clone()).chain(moved);
        let wanted = position == "pressed";
        let stand = stands
            .find(|c| self.circuit.can_occur(c) && self.circuit.pressed(plunger, c) == wanted)?;
        let named = stand.named(self.circuit);
        let condition = named.map(|(c, p)| (c.to_owned(), p.to_owned())).collect();
        let plugs = self.plugs.iter().map(|p| SetUpEntry::Unplugged { connector: p.clone() });
        Some((condition, plugs.collect()))
    }

    /// The controls to move from rest, in words, so that the machine works it so.
    pub fn works(&self, position: &str) -> Option<Vec<String>> {
        let (condition, _) = self.stand_by_machine(position)?;
        let moved = self.circuit.controls.iter().filter_map(|control| {
            let at = condition.get(&control.id).filter(|at| **at != control.rest)?;
            let stand = control.positions.iter().find(|p| p.id == *at)?;
            Some(format!("{} {}", control.name.to_lowercase(), stand.name))
        });
        Some(moved.collect())
    }

    pub fn terminal(&self, id: &str) -> String {
        format!("{}.{id}", self.part)
    }
}
