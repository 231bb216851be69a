//! The schema, forward only.

mod m0001_first;
mod m0002_named_conditions;
mod m0003_stories_and_meters;
mod m0004_switch_bench;

use sea_orm_migration::prelude::*;

pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(m0001_first::Migration),
            Box::new(m0002_named_conditions::Migration),
            Box::new(m0003_stories_and_meters::Migration),
            Box::new(m0004_switch_bench::Migration),
        ]
    }
}
