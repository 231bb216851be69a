//! The wiring as a graph: parts with their terminals, wires between them.

use crate::app::App;
use crate::http::bodies::Path;
use crate::http::problem::Problem;
use crate::machines::Known;
use axum::Json;
use axum::extract::State;
use kelvok_core::circuit::Circuit;
use kelvok_core::machine::{MachineDocument, Part, PartKind, Provenance};
use serde::Serialize;
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct HarnessView {
    /// Everything with terminals; a plug is part of what it mates with.
    pub parts: Vec<PartView>,
    pub wires: Vec<RunView>,
    /// Terminals that are one piece of metal: stacked rings, crimps.
    pub splices: Vec<Vec<PortRef>>,
}

#[derive(Serialize, ToSchema)]
pub struct PartView {
    pub id: String,
    pub name: String,
    pub kind: PartKind,
    pub place: Option<String>,
    pub cover: Option<String>,
    /// Where it is known from: manual, drawing, traced, measured.
    pub source: String,
    pub note: Option<String>,
    pub price: Option<f64>,
    /// How its plunger is worked.
    pub linkage: Option<String>,
    /// What each of its contacts does: "start contacts, B to S, made when key at start".
    pub contacts: Vec<PartContact>,
    pub ports: Vec<PortView>,
    /// Of a ground point: the body that it is bolted to.
    pub body: Option<String>,
}

#[derive(Serialize, ToSchema)]
pub struct PartContact {
    pub name: String,
    pub between: [String; 2],
    pub made: String,
}

/// A terminal.
#[derive(Serialize, ToSchema)]
pub struct PortView {
    pub terminal: String,
    /// The plug it is reached through, and the cavity.
    pub plug: Option<String>,
    pub cavity: Option<String>,
    pub wires: Vec<String>,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct PortRef {
    pub part: String,
    pub terminal: String,
}

/// A wire.
#[derive(Serialize, ToSchema)]
pub struct RunView {
    pub id: String,
    pub color: Option<String>,
    pub gauge: Option<u8>,
    pub length_m: Option<f64>,
    /// What it measures, sound, in ohms.
    pub ohms: f64,
    pub bundle: Option<String>,
    pub source: String,
    /// As usual for its kind, not traced.
    pub usual: bool,
    pub from: EndView,
    pub to: EndView,
}

/// Where a wire ends: the terminal, and the plug it goes through.
#[derive(Clone, Serialize, ToSchema)]
pub struct EndView {
    pub port: PortRef,
    pub part_name: String,
    pub plug: Option<String>,
    pub cavity: Option<String>,
    pub place: Option<String>,
}

/// The wiring of a machine.
#[utoipa::path(get, operation_id = "machine_harness", path = "/machines/{name}/harness", params(("name" = String, Path)),
    responses((status = 200, body = HarnessView), (status = 404, body = Problem)))]
pub async fn harness(
    State(app): State<App>,
    Path(name): Path<String>,
) -> Result<Json<HarnessView>, Problem> {
    let known = Known::get(&app, &name).await?;
    Ok(Json(view(known.circuit())))
}

fn view(circuit: &Circuit) -> HarnessView {
    let document = circuit.document();
    let harness = Harness { document };
    let wires: Vec<_> = circuit
        .elements()
        .filter_map(|(_, e)| {
            let wire = &document.wires[e.wire?];
            Some(RunView {
                id: wire.id.clone(),
                color: wire.color.clone(),
                gauge: wire.gauge,
                length_m: wire.length_m,
                ohms: e.ohms,
                bundle: wire.bundle.clone(),
                source: harness.source(wire.source).plain().to_owned(),
                usual: harness.source(wire.source).is_usual(),
                from: harness.end(&wire.from),
                to: harness.end(&wire.to),
            })
        })
        .collect();
    let shown = document.parts.iter().filter(|p| p.mates.is_empty());
    HarnessView {
        parts: shown.map(|part| harness.part(part, &wires)).collect(),
        splices: document
            .splices
            .iter()
            .map(|s| s.terminals.iter().map(|t| harness.port(t).0).collect())
            .collect(),
        wires,
    }
}

/// A document asked about its wiring.
pub(super) struct Harness<'a> {
    pub document: &'a MachineDocument,
}

impl Harness<'_> {
    fn source(&self, own: Option<Provenance>) -> Provenance {
        own.unwrap_or(self.document.identity.source)
    }

    fn named(&self, id: &str) -> Option<&Part> {
        self.document.parts.iter().find(|p| p.id == id)
    }

    /// The terminal that an address lies on, plugs resolved, and the last plug with its cavity.
    fn port(&self, address: &str) -> (PortRef, Option<(String, String)>) {
        let landing = self.document.landing(address);
        let port = PortRef { part: landing.part.to_owned(), terminal: landing.terminal.to_owned() };
        let plug = landing.plug.map(|(name, cavity)| (name.to_owned(), cavity.to_owned()));
        (port, plug)
    }

    pub fn place(&self, part: &Part) -> Option<&kelvok_core::machine::Place> {
        let id = part.place.as_ref()?;
        self.document.places.iter().find(|p| p.id == *id)
    }

    pub fn end(&self, address: &str) -> EndView {
        let (port, plug) = self.port(address);
        let part = self.named(&port.part);
        let (plug, cavity) = plug.unzip();
        EndView {
            part_name: part.map_or_else(|| port.part.clone(), |p| p.name.clone()),
            place: part.and_then(|p| self.place(p)).map(|p| p.name.clone()),
            port,
            plug,
            cavity,
        }
    }

    fn part(&self, part: &Part, wires: &[RunView]) -> PartView {
        let port = |terminal: &String| {
            let own = PortRef { part: part.id.clone(), terminal: terminal.clone() };
            let ends = wires.iter().flat_map(|w| [(w, &w.from), (w, &w.to)]);
            let here: Vec<_> = ends.filter(|(_, end)| end.port == own).collect();
            let through = here.iter().find(|(_, end)| end.plug.is_some());
            PortView {
                terminal: terminal.clone(),
                plug: through.and_then(|(_, end)| end.plug.clone()),
                cavity: through.and_then(|(_, end)| end.cavity.clone()),
                wires: here.iter().map(|(wire, _)| wire.id.clone()).collect(),
            }
        };
        let place = self.place(part);
        PartView {
            id: part.id.clone(),
            name: part.name.clone(),
            kind: part.kind,
            place: place.map(|p| p.name.clone()),
            cover: place.and_then(|p| p.cover.clone()),
            source: self.source(part.source).plain().to_owned(),
            note: part.note.clone(),
            price: part.price,
            linkage: part.plunger.as_ref().map(|p| p.linkage.clone()),
            contacts: part
                .contacts
                .iter()
                .map(|c| PartContact {
                    name: c.name.clone(),
                    between: c.between.clone(),
                    made: made_words(part, c),
                })
                .collect(),
            ports: part.terminals.iter().map(port).collect(),
            body: part
                .body
                .as_ref()
                .map(|b| self.named(b).map_or_else(|| b.clone(), |body| body.name.clone())),
        }
    }
}

/// An expression as it is said: "key at run or start".
pub(super) fn when_words(expression: &str) -> String {
    expression.replace('=', " at ").replace(',', " or ")
}

/// When a contact is made: by its control, by its plunger, by its coil.
fn made_words(part: &Part, contact: &kelvok_core::machine::Contact) -> String {
    use kelvok_core::machine::Normally;
    if let Some(when) = &contact.made_when {
        return format!("made when {}", when_words(when));
    }
    let normally = match contact.normally {
        Some(Normally::Closed) => "normally closed",
        _ => "normally open",
    };
    match &part.plunger {
        Some(plunger) => {
            let pressed = when_words(&plunger.pressed_when);
            format!("{normally}; plunger pressed when {pressed}")
        }
        None => normally.to_owned(),
    }
}
