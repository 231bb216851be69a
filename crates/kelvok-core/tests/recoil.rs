//! A machine started by a rope, without a battery: nothing is asked of it that it does not have.

mod library;

use kelvok_core::circuit::every_condition;
use kelvok_core::diagnosis::{Caution, Model, SetUp, Strategy};

#[test]
fn a_machine_without_a_battery_is_told_of_no_battery_key_or_starter() {
    let model = Model::new(library::circuit("hexley-walk-50"));
    let belief = model.judge(&[]);
    let mut tests = 0;
    for condition in every_condition(model.circuit()) {
        for strategy in Strategy::ALL.iter().copied() {
            for test in model.plan_by(strategy, &belief, &[], &condition).tests {
                assert!(!test.set_up.contains(&SetUp::BatteryOff), "{test:?}");
                for caution in &test.cautions {
                    let words = caution.words().to_lowercase();
                    let of = ["battery", "key", "crank"].iter().find(|w| words.contains(**w));
                    assert_eq!(of, None, "{words}");
                }
                tests += 1;
            }
        }
    }
    assert!(tests > 20, "{tests} tests");
}

#[test]
fn ohms_are_taken_with_nobody_at_the_rope() {
    let model = Model::new(library::circuit("hexley-walk-50"));
    let belief = model.judge(&[]);
    let rest = &model.circuit().normal_use()[0];
    let plan = model.plan(&belief, &[], rest);
    let ohms = plan.tests.iter().find(|t| t.action.is_ohms()).unwrap();
    assert!(ohms.cautions.contains(&Caution::EngineStopped), "{ohms:?}");
}
