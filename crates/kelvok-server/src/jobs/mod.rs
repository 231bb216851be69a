//! Jobs: what is recorded in one, and everything that is asked of it.

mod battery;
mod charging;
mod complaint;
pub mod diagnosis;
mod drops;
pub mod evidence;
mod fuses;
pub mod job;
pub mod loaded;
mod loads;
mod mark;
mod off;
mod release;
mod soak;
pub mod state;
mod stories;
mod sweeps;
mod trace;
mod verdicts;
mod wiring;

use crate::app::App;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// Everything under `/jobs`.
pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(job::list, job::open))
        .routes(routes!(job::get, job::change, job::delete))
        .routes(routes!(job::set_status))
        .routes(routes!(mark::mark))
        .routes(routes!(evidence::record))
        .routes(routes!(evidence::void))
        .routes(routes!(verdicts::record))
        .routes(routes!(verdicts::void))
        .routes(routes!(state::get))
        .routes(routes!(complaint::complain))
        .routes(routes!(wiring::settle))
        .routes(routes!(wiring::correct))
        .routes(routes!(wiring::go_back))
        .routes(routes!(trace::trace))
        .routes(routes!(diagnosis::diagnosis))
        .routes(routes!(diagnosis::forecast::get))
        .routes(routes!(diagnosis::own_test::weigh_own_test))
        .routes(routes!(diagnosis::forewarn::forewarn))
        .routes(routes!(sweeps::list))
        .routes(routes!(battery::get))
        .routes(routes!(battery::csv))
        .routes(routes!(drops::get))
        .routes(routes!(drops::csv))
        .routes(routes!(fuses::get))
        .routes(routes!(fuses::csv))
        .routes(routes!(charging::get))
        .routes(routes!(charging::csv))
        .routes(routes!(loads::get))
        .routes(routes!(loads::csv))
        .merge(release::routes())
        .merge(soak::routes())
        .routes(routes!(stories::json))
        .routes(routes!(stories::csv))
        .routes(routes!(stories::bring_in))
}
