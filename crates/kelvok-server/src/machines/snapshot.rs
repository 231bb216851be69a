//! A machine in one condition, wire by wire, with reasons; and two conditions compared.

use crate::app::App;
use crate::http::bodies::{Asked, AskedPair, Path};
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::views::drawing::GateView;
use crate::views::names::full_name;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::{Circuit, ElementId, Outcome};
use kelvok_core::interlock::{Judge, Reason, Snapshot, Stands, WireStands};
use kelvok_core::machine;
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct SnapshotView {
    pub outcome: Outcome,
    /// The starter turns the engine; on a machine with a rope, whoever pulls it does.
    pub cranks: bool,
    /// A running engine keeps running.
    pub runs: bool,
    /// A running engine drives the blades.
    pub blades: bool,
    pub no_crank: Vec<ReasonView>,
    pub stops: Vec<ReasonView>,
    pub no_blades: Vec<ReasonView>,
    pub wires: Vec<WireView>,
    /// What the lamps of modules tell.
    pub codes: Vec<CodeView>,
}

/// A code that a module's lamp blinks.
#[derive(Serialize, ToSchema)]
pub struct CodeView {
    pub blinks: u8,
    pub means: String,
}

#[derive(Serialize, ToSchema)]
pub struct WireView {
    pub id: String,
    pub stands: Stands,
    /// Volts to the frame; nothing where it floats.
    pub volts: Option<f64>,
    /// Amperes from its first end to its second.
    pub amps: f64,
}

impl WireView {
    fn of(circuit: &Circuit, wire: &WireStands) -> Self {
        Self {
            id: circuit.document().wires[wire.wire].id.clone(),
            stands: wire.stands,
            volts: wire.volts,
            amps: wire.amps,
        }
    }
}

#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ReasonKind {
    /// The kill lead is grounded, in each of the ways.
    Grounded,
    /// A module that fires grounded is not: the contacts of the way block it.
    NotGrounded,
    /// It is not fed: the contacts of the way block it.
    Unfed,
    /// A stop solenoid is fed.
    StopFed,
    /// Something mechanical.
    Mechanical,
}

/// Why the machine does not do something, as the contacts that are the reason.
#[derive(Serialize, ToSchema)]
pub struct ReasonView {
    pub kind: ReasonKind,
    /// The module or load it is about.
    pub what: Option<String>,
    pub ways: Vec<Vec<ContactView>>,
}

#[derive(Serialize, ToSchema)]
pub struct ContactView {
    pub id: String,
    pub name: String,
    pub made: Option<bool>,
    pub gate: Option<GateView>,
}

impl ContactView {
    pub fn of(circuit: &Circuit, id: ElementId, made: Option<bool>) -> Self {
        let e = circuit.element(id);
        Self {
            id: e.id.clone(),
            name: full_name(circuit, id),
            made,
            gate: GateView::of(circuit, id),
        }
    }
}

impl CodeView {
    fn of(circuit: &Circuit, blinks: u8) -> Option<Self> {
        let mut codes = circuit.document().parts.iter().flat_map(|p| &p.codes);
        let code = codes.find(|c| c.blinks == blinks)?;
        Some(Self { blinks, means: code.means.clone() })
    }
}

impl ReasonView {
    fn of(circuit: &Circuit, reason: &Reason) -> Self {
        let contacts = |ids: &[ElementId]| -> Vec<ContactView> {
            ids.iter().map(|id| ContactView::of(circuit, *id, None)).collect()
        };
        let (kind, what, ways) = match reason {
            Reason::Grounded { module, rungs } => (
                ReasonKind::Grounded,
                Some(module),
                rungs.iter().map(|rung| contacts(rung)).collect(),
            ),
            Reason::NotGrounded { module, blocked_by } => {
                (ReasonKind::NotGrounded, Some(module), vec![contacts(blocked_by)])
            }
            Reason::Unfed { load, blocked_by } => {
                (ReasonKind::Unfed, Some(load), vec![contacts(blocked_by)])
            }
            Reason::StopFed { load } => (ReasonKind::StopFed, Some(load), Vec::new()),
            Reason::Mechanical => (ReasonKind::Mechanical, None, Vec::new()),
        };
        Self { kind, what: what.map(|id| full_name(circuit, *id)), ways }
    }
}

impl SnapshotView {
    fn of(circuit: &Circuit, at: &Snapshot) -> Self {
        let reasons = |list: &[Reason]| -> Vec<ReasonView> {
            list.iter().map(|r| ReasonView::of(circuit, r)).collect()
        };
        Self {
            cranks: at.cranks,
            runs: at.runs,
            blades: at.blades,
            no_crank: reasons(&at.no_crank),
            stops: reasons(&at.stops),
            no_blades: reasons(&at.no_blades),
            wires: at.wires.iter().map(|w| WireView::of(circuit, w)).collect(),
            codes: at.outcome.codes.iter().filter_map(|b| CodeView::of(circuit, *b)).collect(),
            outcome: at.outcome.clone(),
        }
    }
}

/// What the machine does in a condition, why, and how every wire stands.
#[utoipa::path(get, operation_id = "machine_snapshot", path = "/machines/{name}/snapshot", params(
    ("name" = String, Path),
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
), responses((status = 200, body = SnapshotView), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn snapshot(
    State(app): State<App>,
    Path(name): Path<String>,
    asked: Asked,
) -> Result<Json<SnapshotView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit();
    let condition = asked.condition(circuit)?;
    Ok(Json(SnapshotView::of(circuit, &Snapshot::of(&mut Judge::new(circuit, &[]), &condition))))
}

/// What differs between two conditions.
#[derive(Serialize, ToSchema)]
pub struct ComparisonView {
    pub before: SnapshotView,
    pub after: SnapshotView,
    /// The wires that stand otherwise; those that supply or ground reaches otherwise come first.
    pub wires: Vec<WireName>,
    /// Contacts that moved, as they stand after.
    pub contacts: Vec<ContactView>,
    /// Coils that pulled in or dropped out.
    pub coils: Vec<String>,
}

/// A wire by what a mechanic looks for.
#[derive(Serialize, ToSchema)]
pub struct WireName {
    pub id: String,
    pub color: Option<String>,
    /// Names of the parts at its ends.
    pub from: String,
    pub to: String,
}

/// Two conditions compared, wire by wire.
#[utoipa::path(get, operation_id = "compare_conditions", path = "/machines/{name}/compare", params(
    ("name" = String, Path),
    ("set" = Vec<String>, Query, description = "The first: `control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "The first's engine"),
    ("to_set" = Vec<String>, Query, description = "The second: `control:position`, once a control"),
    ("to_engine" = Option<String>, Query, description = "The second's engine"),
), responses((status = 200, body = ComparisonView), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub async fn compare(
    State(app): State<App>,
    Path(name): Path<String>,
    AskedPair(from, to): AskedPair,
) -> Result<Json<ComparisonView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let circuit = known.circuit();
    let mut judge = Judge::new(circuit, &[]);
    let before = Snapshot::of(&mut judge, &from.condition(circuit)?);
    let after = Snapshot::of(&mut judge, &to.condition(circuit)?);
    let difference = before.difference(&after);
    let stands =
        |s: &Snapshot, wire: usize| s.wires.iter().find(|w| w.wire == wire).map(|w| w.stands);
    let mut wires = difference.wires.clone();
    wires.sort_by_key(|w| stands(&before, *w) == stands(&after, *w));
    let contact =
        |c: &usize| ContactView::of(circuit, circuit.contacts[*c].element, Some(after.made[*c]));
    let coil = |c: &usize| full_name(circuit, circuit.coils[*c].element);
    Ok(Json(ComparisonView {
        wires: wires.iter().map(|w| wire_name(circuit, *w)).collect(),
        contacts: difference.contacts.iter().map(contact).collect(),
        coils: difference.coils.iter().map(coil).collect(),
        before: SnapshotView::of(circuit, &before),
        after: SnapshotView::of(circuit, &after),
    }))
}

fn wire_name(circuit: &Circuit, wire: usize) -> WireName {
    let document = circuit.document();
    let wire = &document.wires[wire];
    let machine::WireName { color, from, to } = document.wire_name(wire);
    WireName { id: wire.id.clone(), color, from, to }
}
