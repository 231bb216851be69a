//! What volts and amperes a charging system comes to: stator, rectifier and regulator as a source of so many volts
//! at most, against a battery that takes charge behind some ohms, and what is on.

/// The system in one moment.
#[derive(Clone, Copy, Debug)]
pub(super) struct Flow {
    /// What the stator comes to at full speed, rectified and not loaded, in direct volts.
    pub open: f64,
    /// Amperes that it gives then into a battery at 14.4 V.
    pub amps: f64,
    /// Volts at which the regulator stops; none where there is none.
    pub stops: Option<f64>,
    /// Ohms between regulator and battery +, and from battery − to its case.
    pub feed: f64,
    pub ground: f64,
    /// The battery: volts of its own, ohms behind which it takes and gives.
    pub emf: f64,
    pub takes: f64,
    pub gives: f64,
}

/// What flows.
#[derive(Clone, Copy, Debug)]
pub(super) struct Flows {
    /// Volts at the posts.
    pub posts: f64,
    /// Amperes from the regulator.
    pub amps: f64,
}

/// A battery at which a system gives its rated amperes.
pub(super) const AT_VOLTS: f64 = 14.4;
/// No system is made for that volts with less than this many times them.
const LEAST_OPEN: f64 = 1.05;
/// More ohms let nothing through.
pub(super) const CUT: f64 = 1e5;

impl Flow {
    /// At a share of full speed, this many amperes being drawn by what is on.
    pub fn at(&self, speed: f64, drawn: f64) -> Flows {
        let way = self.feed + self.ground;
        let (most, per_volt) = self.line(speed);
        // Not more than it gives at no volts, falling with the volts it gives them at.
        let give = |behind: f64| {
            let at = 1.0 / (1.0 + per_volt * way);
            let posts = (most * at - drawn + self.emf / behind) / (1.0 / behind + per_volt * at);
            Flows { posts, amps: ((most - per_volt * posts) * at).max(0.0) }
        };
        let hold = |stops: f64, behind: f64| {
            let way = way + HELD_BEHIND;
            let posts = (stops / way + self.emf / behind - drawn) / (1.0 / way + 1.0 / behind);
            Flows { posts, amps: (stops - posts) / way }
        };
        let none = Flows { posts: self.emf - drawn * self.gives, amps: 0.0 };
        let on = |behind: f64| {
            let given = give(behind);
            let held = self.stops.map(|stops| hold(stops, behind));
            held.filter(|held| held.amps < given.amps || given.amps <= 0.0).unwrap_or(given)
        };
        let taking = on(self.takes);
        let flows = if taking.posts >= self.emf { taking } else { on(self.gives) };
        let gives_none = most - per_volt * none.posts <= 0.0
            || self.stops.is_some_and(|stops| stops <= none.posts);
        if gives_none || flows.amps <= 0.0 { none } else { flows }
    }

    /// The amperes it gives at no volts, and how many fewer a volt. A winding's own field holds its current down, so
    /// that shorted it gives the same at any speed.
    fn line(&self, speed: f64) -> (f64, f64) {
        let open = self.open * speed;
        if open <= 0.0 || self.amps <= 0.0 {
            return (0.0, 0.0);
        }
        let shorted = self.amps / (1.0 - AT_VOLTS / self.open.max(LEAST_OPEN * AT_VOLTS));
        (shorted, shorted / open)
    }
}

/// A regulator holds its volts behind so many ohms.
const HELD_BEHIND: f64 = 0.02;

#[cfg(test)]
mod tests {
    use super::*;

    const GOOD: Flow = Flow {
        open: 36.4,
        amps: 15.0,
        stops: Some(14.4),
        feed: 0.03,
        ground: 0.01,
        emf: 12.5,
        takes: 0.15,
        gives: 0.02,
    };

    #[test]
    fn a_good_one_holds_its_volts_at_full_speed_and_hardly_charges_at_idle() {
        let full = GOOD.at(1.0, 0.0);
        assert!((13.8..14.4).contains(&full.posts), "{full:?}");
        assert!((6.0..12.0).contains(&full.amps), "{full:?}");
        let idle = GOOD.at(0.45, 0.0);
        assert!(idle.posts < full.posts && idle.posts > GOOD.emf - 0.01, "{idle:?}");
        // What comes out goes into the battery and what is on.
        let lit = GOOD.at(1.0, 6.0);
        let into = (lit.posts - GOOD.emf) / GOOD.takes;
        assert!((lit.amps - 6.0 - into).abs() < 1e-9, "{lit:?}");
    }

    #[test]
    fn nothing_comes_out_of_an_open_stator_or_through_an_open_wire() {
        for dead in [Flow { open: 0.0, ..GOOD }, Flow { amps: 0.0, ..GOOD }] {
            let flows = dead.at(1.0, 5.0);
            assert_eq!(flows.amps, 0.0);
            assert!((flows.posts - (12.5 - 5.0 * GOOD.gives)).abs() < 1e-9, "{flows:?}");
        }
        let cut = Flow { feed: CUT, ..GOOD }.at(1.0, 0.0);
        assert!(cut.amps < 1e-3 && (cut.posts - 12.5).abs() < 0.01, "{cut:?}");
    }

    #[test]
    fn more_drawn_than_it_gives_comes_from_the_battery() {
        let flows = GOOD.at(1.0, 40.0);
        assert!(flows.posts < GOOD.emf && flows.amps < 20.0, "{flows:?}");
        let from = (GOOD.emf - flows.posts) / GOOD.gives;
        assert!((flows.amps + from - 40.0).abs() < 1e-9, "{flows:?}");
    }

    #[test]
    fn a_charge_diode_pushes_its_few_amperes_at_any_volts() {
        let trickle = Flow { stops: None, open: 18.0, amps: 1.8, ..GOOD };
        let flows = trickle.at(1.0, 0.0);
        assert!((2.0..3.0).contains(&flows.amps), "{flows:?}");
        assert!(flows.posts < 13.2, "{flows:?}");
    }
}
