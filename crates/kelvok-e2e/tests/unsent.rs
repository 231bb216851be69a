//! What was typed and could not be sent: it stays on the device until it is recorded, or until a
//! person lets go of it.

use kelvok_e2e::{Page, Workshop, say, with_page};

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

async fn hear_and_stand_at_key_s(page: &Page) -> anyhow::Result<()> {
    page.go(JOB).await?;
    page.click(say("job.doneItsSet")).await?;
    page.click("Nothing").await?;
    page.sees("You got: nothing, no click.").await?;
    page.point("Key S").await?;
    page.sees("Red Key S").await
}

fn job_is(workshop: &Workshop, status: &str) -> anyhow::Result<()> {
    let set = format!("update kelvok.job set status = '{status}' where tag = 'Orchard 3'");
    workshop.database.sql(&set)?;
    Ok(())
}

#[test]
fn an_entry_refused_after_a_reload_stays_with_why_until_somebody_decides() {
    with_page(|workshop, page| async move {
        hear_and_stand_at_key_s(&page).await?;
        workshop.lock().await.database.kill();
        page.type_reading("12.57").await?;
        page.sees("Your reading is kept and goes in as soon as it does.").await?;
        page.go("/nothing").await?;
        workshop.lock().await.database.resume()?;
        // Somebody closed the job meanwhile: the server refuses for good.
        job_is(&*workshop.lock().await, "closed")?;
        page.go(JOB).await?;
        page.sees(say("unsent.n1EntryIsNotRecorded")).await?;
        page.sees("12.57: red Key S, black Battery").await?;
        page.sees("Job 1 is closed.").await?;
        page.accessible_in_both_themes().await?;
        page.reload().await?;
        page.sees(say("unsent.n1EntryIsNotRecorded")).await?;
        job_is(&*workshop.lock().await, "open")?;
        page.click(say("unsent.sendAgain")).await?;
        page.sees("Key S: 12.57 V").await?;
        page.lacks("not recorded").await
    });
}

#[test]
fn an_entry_that_is_thrown_away_is_gone_and_nothing_else_is() {
    with_page(|workshop, page| async move {
        hear_and_stand_at_key_s(&page).await?;
        workshop.lock().await.database.kill();
        page.type_reading("12.57").await?;
        page.sees("Your reading is kept").await?;
        page.go("/nothing").await?;
        workshop.lock().await.database.resume()?;
        job_is(&*workshop.lock().await, "closed")?;
        page.go(JOB).await?;
        page.click(say("unsent.throwAway")).await?;
        page.lacks("not recorded").await?;
        job_is(&*workshop.lock().await, "open")?;
        page.reload().await?;
        page.sees("You got: nothing, no click.").await?;
        page.lacks("not recorded").await?;
        page.lacks("Key S: 12.57 V").await
    });
}

#[test]
fn a_damaged_store_is_shown_and_the_page_works() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        let id = JOB.rsplit('/').next().unwrap_or_default();
        // One entry cut off in the middle, and a list of an older version that is no list.
        page.script(&format!(
            "localStorage.setItem('kelvok.unsent.{id}.01', '{{\"entry\": {{\"id\": \"01\", \"by');
             localStorage.setItem('kelvok.unsent.{id}', 'neither');"
        ))
        .await?;
        page.reload().await?;
        page.sees("2 entries are not recorded").await?;
        page.sees(say("unsent.storedHereButCantBe")).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.sees("You got: nothing, no click.").await?;
        page.click(say("unsent.throwAway")).await?;
        page.sees(say("unsent.n1EntryIsNotRecorded")).await?;
        page.click(say("unsent.throwAway")).await?;
        page.lacks("not recorded").await
    });
}

#[test]
fn entries_of_an_older_version_are_sent() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        let id = JOB.rsplit('/').next().unwrap_or_default();
        page.script(&format!(
            "localStorage.setItem('kelvok.unsent.{id}', JSON.stringify([{{
                id: '01930000-0000-7000-8000-00000000abcd', by: 'Ilse', condition: {{}},
                observed: {{kind: 'note', text: 'Seat cracked.'}}}}]))"
        ))
        .await?;
        page.reload().await?;
        page.sees("Seat cracked.").await?;
        let left =
            format!("return Object.keys(localStorage).filter((k) => k.includes('{id}')).length");
        for _ in 0..40 {
            if page.script(&left).await? == 0 {
                return Ok(());
            }
            tokio::time::sleep(std::time::Duration::from_millis(100)).await;
        }
        anyhow::bail!("it is kept on the device, too")
    });
}

#[test]
fn two_tabs_of_one_job_send_what_both_have_and_each_once() {
    with_page(|workshop, page| async move {
        hear_and_stand_at_key_s(&page).await?;
        let first = page.driver.window().await?;
        let second = page.driver.new_tab().await?;
        page.driver.switch_to_window(second.clone()).await?;
        page.go(JOB).await?;
        page.sees("You got: nothing, no click.").await?;
        page.point("Pedal switch in").await?;
        page.sees("Red Pedal switch in").await?;
        workshop.lock().await.database.kill();
        page.type_reading("12.56").await?;
        page.sees("Your reading is kept").await?;
        page.driver.switch_to_window(first).await?;
        page.type_reading("12.57").await?;
        page.driver.switch_to_window(second).await?;
        workshop.lock().await.database.resume()?;
        page.sees("Key S: 12.57 V").await?;
        page.sees("Pedal switch in: 12.56 V").await?;
        let text = page.text().await?;
        assert_eq!(text.matches("Key S: 12.57 V").count(), 1);
        assert_eq!(text.matches("Pedal switch in: 12.56 V").count(), 1);
        let count = "select count(*) from kelvok.evidence e join kelvok.job j on j.id = e.job_id \
                     where j.tag = 'Orchard 3' and e.body like '%reading%'";
        let count = workshop.lock().await.database.sql(count)?;
        assert!(count.ends_with("\n2"), "{count}");
        page.lacks("not recorded").await
    });
}
