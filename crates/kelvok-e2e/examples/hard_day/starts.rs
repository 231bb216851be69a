//! Starts that are interrupted, and starts at the same moment.

use super::program::{Dice, On, Program};
use anyhow::ensure;
use kelvok_database::{Database, Durability};
use kelvok_store::{Migrator, Store};
use sea_orm_migration::MigratorTrait;
use sea_orm_migration::sea_orm::{self, ConnectionTrait};
use std::time::Duration;
use uuid::Uuid;

/// A first start on a new directory, killed or interrupted at any moment of it; the next one comes
/// up, and so does its database.
pub async fn interrupted(times: usize) -> anyhow::Result<()> {
    let mut dice = Dice(2);
    let (mut failed, mut early) = (0, 0);
    for round in 0..times {
        let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
        let mut first = Program::spawn(On::Directory(directory.path()))?;
        tokio::time::sleep(Duration::from_millis(dice.below(3500))).await;
        let whole = directory.path().join("db").exists();
        early += usize::from(!whole);
        match round % 3 {
            0 => {
                first.signal("INT")?;
                tokio::time::sleep(Duration::from_millis(dice.below(300))).await;
                first.kill()?;
            }
            _ => first.kill()?,
        }
        match Program::start(On::Directory(directory.path())).await {
            Ok(mut second) => _ = second.terminate()?,
            Err(error) => {
                failed += 1;
                eprintln!("after {round}: {error:#}");
            }
        }
    }
    println!(
        "{times} first starts interrupted, {early} before the database was made: {failed} failed \
         later starts"
    );
    ensure!(failed == 0, "not what it must be");
    Ok(())
}

/// An older database with a job in it, upgraded, and killed at any moment of that.
pub async fn migrations(times: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let database = Database::start(directory.path(), Durability::Relaxed)?;
    let newest = Migrator::migrations().len() as u64;
    let mut dice = Dice(3);
    let (mut failed, mut midway) = (0, 0);
    for round in 0..times {
        let name = format!("m{round}");
        let url = database.fresh(&name)?;
        let connection = sea_orm::Database::connect(url.as_str()).await?;
        let before = 1 + dice.below(newest - 1);
        Migrator::up(&connection, Some(before as u32)).await?;
        let job = old_job(&connection).await?;
        let mut first = Program::spawn(On::Database(&url))?;
        tokio::time::sleep(Duration::from_millis(15 + dice.below(120))).await;
        first.kill()?;
        let applied = format!("select count(*) from {name}.seaql_migrations");
        let applied = database.sql(&applied)?;
        let applied: u64 = applied.lines().last().unwrap_or_default().parse()?;
        midway += usize::from(applied > before && applied < newest);
        let second = Program::start(On::Database(&url)).await;
        let there = Store::connect(&url).await?.job(job).await;
        if second.is_err() || there.is_err() {
            failed += 1;
            eprintln!("after {round}: {:?} {there:?}", second.err());
        }
        drop(connection);
        database.sql(&format!("drop database {name}"))?;
    }
    println!(
        "{times} migrations interrupted, {midway} of them between two: {failed} failed later starts"
    );
    ensure!(failed == 0, "not what it must be");
    Ok(())
}

async fn old_job(connection: &impl ConnectionTrait) -> anyhow::Result<Uuid> {
    let ids = [(); 3].map(|()| Uuid::now_v7());
    let [machine, revision, job] = ids.map(|id| id.simple().to_string());
    for insert in [
        format!("insert into machine (id, name) values (x'{machine}', 'test')"),
        format!(
            "insert into machine_revision (id, machine_id, revision, document, made_at) values \
             (x'{revision}', x'{machine}', 1, '{{}}', now())"
        ),
        format!(
            "insert into job (id, revision_id, tag, owner, complaint, status, version, \
             next_sequence, opened_at) values (x'{job}', x'{revision}', 'Orchard 3', '', 'Silent.', \
             'open', 1, 1, now())"
        ),
    ] {
        connection.execute_unprepared(&insert).await?;
    }
    Ok(ids[2])
}

/// Two servers started at the same moment on an empty database.
pub async fn twice(times: usize) -> anyhow::Result<()> {
    let directory = tempfile::Builder::new().prefix("kelvok").tempdir()?;
    let database = Database::start(directory.path(), Durability::Relaxed)?;
    let mut failed = 0;
    for round in 0..times {
        let name = format!("t{round}");
        let url = database.fresh(&name)?;
        let [mut one, mut other] =
            [Program::spawn(On::Database(&url))?, Program::spawn(On::Database(&url))?];
        for program in [&mut one, &mut other] {
            if let Err(error) = program.ready().await {
                failed += 1;
                eprintln!("after {round}: {error:#}");
            }
        }
        drop((one, other));
        database.sql(&format!("drop database {name}"))?;
    }
    println!("{times} times two starts at once: {failed} did not come up");
    ensure!(failed == 0, "not what it must be");
    Ok(())
}
