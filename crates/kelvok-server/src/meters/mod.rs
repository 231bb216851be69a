//! Meters that talk: their live reading as server-sent events, and the stand-in's probes.
//!
//! A stream is all the state there is: it holds the instrument's lease in the database while it
//! runs, and lets go when whoever listens does.

mod link;
mod streams;

pub use streams::Streams;

use crate::app::App;
use crate::http::bodies::Body;
use crate::http::input::person;
use crate::http::listen::Client;
use crate::http::problem::Problem;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum::{Extension, Json};
use kelvok_core::circuit::Engine;
use kelvok_core::diagnosis::SetUpEntry;
use kelvok_core::meter::{Identity, Range, Shown, Steady, bring_about};
use kelvok_store::{Store, StoreError};
use link::{Link, Mute, may_dial};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::convert::Infallible;
use std::time::{Duration, Instant};
use tokio::sync::mpsc::{Receiver, Sender, channel};
use tokio_stream::wrappers::ReceiverStream;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Everything under `/meter`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(live))
        .routes(routes!(bring_about_stand_in))
}

/// How a meter does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LiveState {
    Reading,
    /// It does not answer, or not any more: it is dialled again.
    Lost,
    /// It answers nonsense.
    Garbage,
    /// Somebody else has it.
    Held,
}

/// One event of a meter's stream.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LiveView {
    pub state: LiveState,
    pub identity: Option<Identity>,
    /// Whether its probes can be told where to go: the stand-in.
    pub stand_in: bool,
    /// What the display shows, with its unit; empty where there is nothing.
    pub shown: String,
    /// It has stood still for a second.
    pub stands: bool,
    /// A reading taken now, as it is typed into the log. It stood for a second, after it had moved.
    pub taken: Option<String>,
    /// What is the matter, for a person.
    pub sentence: Option<String>,
}

#[derive(Deserialize, ToSchema)]
pub struct Listen {
    /// One of the shop's meters, host and port: `127.0.0.1:5025`.
    address: String,
    #[schema(inline)]
    range: Range,
    /// Who has the probes.
    by: String,
}

/// A figure about every so often.
const EVERY: Duration = Duration::from_millis(180);
/// How often a meter that is held is asked for before that is said.
const PATIENT: usize = 6;
const RENEWED: Duration = Duration::from_secs(3);
const AGAIN: Duration = Duration::from_millis(1200);

/// The shop's meters, as they are listed in the server's settings.
#[utoipa::path(get, operation_id = "list_meters", path = "/meter",
    responses((status = 200, body = Vec<String>)))]
pub async fn list(State(app): State<App>) -> Json<Vec<String>> {
    Json(app.settings.meters.clone())
}

/// The live reading of a meter, as server-sent events. It dials the meter and holds it: so it is
/// posted, and only from our own page.
#[utoipa::path(post, operation_id = "listen_to_meter", path = "/meter/live", request_body = Listen,
    responses((status = 200, content_type = "text/event-stream", body = LiveView),
        (status = 422, body = Problem),
        (status = 429, description = "So many are listened to already", body = Problem)))]
pub async fn live(
    State(app): State<App>,
    Extension(Client(client)): Extension<Client>,
    Body(asked): Body<Listen>,
) -> Result<Sse<impl tokio_stream::Stream<Item = Result<Event, Infallible>>>, Problem> {
    let by = person(&asked.by)?;
    let address = checked(&app, &asked.address)?;
    let place = app.streams.place(client)?;
    let (tell, told): (Sender<LiveView>, Receiver<LiveView>) = channel(8);
    tokio::spawn(async move {
        let _place = place;
        let holder = Uuid::new_v4();
        let hold = Hold { store: app.store.clone(), address, holder, by };
        hold.listen(asked.range, &tell).await;
        // A lease that cannot be given back runs out by itself.
        let _ = hold.store.release_instrument(&hold.address, holder).await;
    });
    let events = tokio_stream::StreamExt::map(ReceiverStream::new(told), |view| {
        Ok(Event::default().json_data(view).unwrap_or_default())
    });
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}

fn checked(app: &App, address: &str) -> Result<String, Problem> {
    let address = address.trim();
    if may_dial(&app.settings, address) {
        return Ok(address.to_owned());
    }
    Err(Problem::field(
        "address",
        "This is not one of the shop's meters: they are listed when the server is started.",
    ))
}

/// An instrument, and who holds it.
struct Hold {
    store: Store,
    address: String,
    holder: Uuid,
    by: String,
}

impl Hold {
    /// Tells what the meter shows until nobody listens.
    async fn listen(&self, range: Range, tell: &Sender<LiveView>) {
        let began = Instant::now();
        let mut steady = Steady::new(range);
        while !tell.is_closed() {
            let (state, sentence) = match self.stretch(range, tell, (began, &mut steady)).await {
                Ok(()) => return,
                Err(Ended::Held(by)) => (LiveState::Held, format!("{by} has this meter.")),
                Err(Ended::Mute(Mute::Garbage(g))) => (LiveState::Garbage, format!("{g}.")),
                Err(Ended::Mute(mute)) => (LiveState::Lost, format!("{mute}.")),
                Err(Ended::Store) => (LiveState::Lost, "The database does not answer.".to_owned()),
            };
            let mut chars = sentence.chars();
            let first = chars.next().map(|c| c.to_ascii_uppercase());
            let sentence = first.into_iter().chain(chars).collect();
            let view = LiveView {
                state,
                identity: None,
                stand_in: false,
                shown: String::new(),
                stands: false,
                taken: None,
                sentence: Some(sentence),
            };
            if tell.send(view).await.is_err() {
                return;
            }
            tokio::time::sleep(AGAIN).await;
        }
    }

    /// One connection, until it fails or nobody listens.
    async fn stretch(
        &self,
        range: Range,
        tell: &Sender<LiveView>,
        (began, steady): (Instant, &mut Steady),
    ) -> Result<(), Ended> {
        self.take().await?;
        let mut renewed = Instant::now();
        let (mut link, identity) = Link::dial(&self.address).await?;
        loop {
            if renewed.elapsed() > RENEWED {
                self.renew().await?;
                renewed = Instant::now();
            }
            let shown = link.measure(range).await?;
            let standing = steady.push(began.elapsed().as_secs_f64(), shown);
            let view = LiveView {
                state: LiveState::Reading,
                stand_in: identity.is_stand_in(),
                identity: Some(identity.clone()),
                shown: display(range, shown),
                stands: standing.stands,
                taken: standing.taken.map(|taken| typed(range, taken)),
                sentence: None,
            };
            if tell.send(view).await.is_err() {
                return Ok(());
            }
            tokio::time::sleep(EVERY).await;
        }
    }

    /// Takes the lease; a listener that has just gone, this one on another range, is given a moment.
    async fn take(&self) -> Result<(), Ended> {
        for _ in 0..PATIENT {
            match self.renew().await {
                Err(Ended::Held(_)) => tokio::time::sleep(EVERY).await,
                taken => return taken,
            }
        }
        self.renew().await
    }

    async fn renew(&self) -> Result<(), Ended> {
        match self.store.lease_instrument(&self.address, self.holder, &self.by).await {
            Ok(()) => Ok(()),
            Err(StoreError::Held { by }) => Err(Ended::Held(by)),
            Err(error) => {
                tracing::warn!(%error, "lease");
                Err(Ended::Store)
            }
        }
    }
}

enum Ended {
    Held(String),
    Mute(Mute),
    Store,
}

impl From<Mute> for Ended {
    fn from(mute: Mute) -> Self {
        Self::Mute(mute)
    }
}

/// As the display shows it.
fn display(range: Range, shown: Shown) -> String {
    let unit = match range {
        Range::DcVolts | Range::AcVolts | Range::Diode => "V",
        Range::Ohms | Range::Continuity => "ohm",
        Range::DcAmps => "A",
    };
    match shown {
        Shown::OverRange => "OL".to_owned(),
        Shown::Figure(figure) => format!("{} {unit}", digits(range, figure)),
    }
}

fn digits(range: Range, figure: f64) -> String {
    let figure = figure + 0.0;
    match range {
        Range::Ohms | Range::Continuity if figure.abs() >= 1000.0 => format!("{figure:.0}"),
        Range::Ohms | Range::Continuity if figure.abs() >= 10.0 => format!("{figure:.1}"),
        _ => format!("{figure:.2}").replace("-0.00", "0.00"),
    }
}

/// A reading as it is typed into the log.
fn typed(range: Range, shown: Shown) -> String {
    match (range, shown) {
        (Range::Continuity, shown) => {
            let buzz = Range::Continuity.reading(shown);
            let on = matches!(buzz, Some(kelvok_core::circuit::Reading::Buzz(true)));
            if on { "buzz".to_owned() } else { "silent".to_owned() }
        }
        (_, Shown::OverRange) => "OL".to_owned(),
        (_, Shown::Figure(figure)) => digits(range, figure),
    }
}

/// Where a stand-in's machine and probes are to be.
#[derive(Deserialize, ToSchema)]
pub struct BringAbout {
    pub address: String,
    /// Control id -> position id; a control not named stands at rest.
    pub condition: BTreeMap<String, String>,
    #[serde(default)]
    pub engine: Engine,
    #[serde(default)]
    pub set_up: Vec<SetUpEntry>,
    /// Terminals.
    pub red: String,
    pub black: String,
}

/// Moves a stand-in's controls and probes to where a test wants them. A real meter is moved by hand.
#[utoipa::path(post, operation_id = "move_stand_in", path = "/meter/stand-in", request_body = BringAbout,
    responses((status = 204), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn bring_about_stand_in(
    State(app): State<App>,
    Body(wanted): Body<BringAbout>,
) -> Result<StatusCode, Problem> {
    let address = checked(&app, &wanted.address)?;
    let set: Vec<(String, String)> = wanted.condition.into_iter().collect();
    let probes = (wanted.red.as_str(), wanted.black.as_str());
    let commands = bring_about(&set, wanted.engine, &wanted.set_up, probes);
    // A name with a line end in it would be a command of its own.
    if commands.iter().any(|c| c.chars().any(char::is_control)) {
        return Err(Problem::field("condition", "A name is one line of plain text."));
    }
    let mute = |mute: Mute| Problem::field("address", format!("At this address {mute}."));
    let (mut link, identity) = Link::dial(&address).await.map_err(mute)?;
    if !identity.is_stand_in() {
        let sentence = "This is a real meter: put its probes there yourself.";
        return Err(Problem::new(StatusCode::CONFLICT, sentence));
    }
    for command in commands {
        link.tell(&command).await.map_err(mute)?;
    }
    match link.ask("SYST:ERR?").await.map_err(mute)?.trim() {
        error if error.starts_with('0') => Ok(StatusCode::NO_CONTENT),
        error => Err(Problem::field("red", format!("The stand-in cannot: {error}."))),
    }
}
