//! Ways between two ends: what blocks them, what would break them, and the fewest moves that
//! complete one.

use crate::app::App;
use crate::http::bodies::{Asked, Path, Query};
use crate::http::problem::Problem;
use crate::machines::Known;
use crate::machines::snapshot::ContactView;
use crate::views::names::condition_view;
use crate::work::desk::{Progress, Reply, Size};
use axum::extract::State;
use kelvok_core::circuit::{Circuit, Condition, NodeId, Solver};
use kelvok_core::interlock::{Fix, Judge, Ladder, Track, fewest_moves, nearest_complete};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::{IntoParams, ToSchema};

/// Two terminals, or a named circuit.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Ends {
    /// A named circuit, instead of two ends.
    circuit: Option<String>,
    /// A terminal, `part.terminal`.
    from: Option<String>,
    to: Option<String>,
}

#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Way {
    Complete,
    Blocked,
    /// Nothing that only carries current leads through.
    None,
}

#[derive(Serialize, ToSchema)]
pub struct WaysView {
    pub way: Way,
    /// Of a blocked way the fewest contacts that complete one; of a complete one the fewest that
    /// part all of them, none if solid metal leads through.
    pub contacts: Vec<ContactView>,
    /// Every way, as the contacts on it; one that needs those of another and more is none.
    pub ways: Vec<Vec<ContactView>>,
    /// The nearest condition that completes it, by controls moved; this one if it does.
    pub nearest: Option<BTreeMap<String, String>>,
}

/// Ways between two ends in a condition, every part sound.
#[utoipa::path(get, operation_id = "machine_ways", path = "/machines/{name}/ways", params(
    ("name" = String, Path), Ends,
    ("set" = Vec<String>, Query, description = "`control:position`, once a control"),
    ("engine" = Option<String>, Query, description = "stopped, cranking, running, running-hot"),
), responses(
    (status = 200, body = WaysView),
    (status = 202, description = "It is being worked out; ask again", body = Progress),
    (status = 404, body = Problem),
    (status = 422, description = "Unknown circuit or terminal, by name", body = Problem),
))]
pub async fn ways(
    State(app): State<App>,
    Path(name): Path<String>,
    Query(ends): Query<Ends>,
    asked: Asked,
) -> Result<Reply<WaysView>, Problem> {
    let known = Known::get(&app, &name).await?;
    let condition = asked.condition(known.circuit())?;
    let question = known.question(("ways", &ends, &condition));
    let view = move || view(known.circuit(), &ends, &condition);
    app.ask(question, Size::Ordinary, view).await
}

fn view(circuit: &Circuit, ends: &Ends, at: &Condition) -> Result<WaysView, Problem> {
    let missing = || Problem::field("from", "Name a circuit, or two ends.");
    let (stretches, nearest) = match (&ends.circuit, &ends.from, &ends.to) {
        (Some(name), ..) => of_circuit(circuit, name, at)?,
        (None, Some(from), Some(to)) => {
            let pair = (circuit.terminal(from)?, circuit.terminal(to)?);
            (vec![pair], fewest_moves(circuit, pair, at))
        }
        _ => return Err(missing()),
    };
    let judge = Judge::new(circuit, &[]);
    let mut solver: Solver<'_> = Solver::new(circuit);
    solver.solve(&[&judge.setting(at)], &[judge.relays_in(at)]);
    let conducts = |id| solver.conducts(0, id);
    let fixes: Vec<_> =
        stretches.iter().map(|ends| Fix::between(circuit, *ends, &conducts)).collect();
    let blocked = fixes.iter().any(|f| matches!(f, Fix::Blocked { .. }));
    let way = match fixes.contains(&Fix::NoWay) {
        true => Way::None,
        false if blocked => Way::Blocked,
        false => Way::Complete,
    };
    // What parts either stretch parts the whole: the fewest of them.
    let contacts = match way {
        Way::Blocked => fixes
            .iter()
            .flat_map(|f| match f {
                Fix::Blocked { makes } => makes.clone(),
                _ => Vec::new(),
            })
            .collect(),
        Way::Complete => {
            let cuts = fixes.iter().filter_map(|f| match f {
                Fix::Complete { breaks } if !breaks.is_empty() => Some(breaks.clone()),
                _ => None,
            });
            cuts.min_by_key(Vec::len).unwrap_or_default()
        }
        Way::None => Vec::new(),
    };
    let contact = |id: &_| ContactView::of(circuit, *id, Some(conducts(*id)));
    let all = stretches.iter().flat_map(|(a, b)| Ladder::between(circuit, *a, *b).rungs);
    let ways = all.map(|rung| rung.contacts.iter().map(contact).collect());
    Ok(WaysView {
        way,
        contacts: contacts.iter().map(contact).collect(),
        ways: ways.filter(|way: &Vec<_>| !way.is_empty()).collect(),
        nearest: nearest.map(|c| condition_view(circuit, &c)),
    })
}

/// The stretches of a named circuit that only carry current, and the nearest condition that
/// completes it.
type Stretches = (Vec<(NodeId, NodeId)>, Option<Condition>);

fn of_circuit(circuit: &Circuit, name: &str, at: &Condition) -> Result<Stretches, Problem> {
    let named = circuit.document().circuits.iter().find(|c| c.id == name);
    let unloaded = named.filter(|c| c.load.is_none());
    if let Some(kill) = unloaded {
        let pair = (circuit.terminal(&kill.from)?, circuit.terminal(&kill.to)?);
        return Ok((vec![pair], fewest_moves(circuit, pair, at)));
    }
    let track = Track::lay_out(circuit, name)?;
    let (near, far) = track.load_ends(circuit);
    let stretches = vec![(track.from, near), (far, track.to)];
    Ok((stretches, nearest_complete(circuit, &track, at)))
}
