//! Bad input, a lost server, a database that goes away: nothing typed is lost.

use kelvok_e2e::{Theme, say, with_page};

/// The first job of the demo workshop.
const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";

#[test]
fn a_reading_that_is_none_is_refused_beside_the_field_and_stays_in_it() {
    with_page(|_workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.point("Key S").await?;
        page.sees("Red Key S").await?;
        for (typed, sentence) in [
            ("koz", "\"koz\" is not a reading: type what the meter shows, such as 12.4."),
            ("1e9", "1000000000 V cannot be on a 12 V machine"),
            ("-", "A voltmeter shows OL only on the wrong range"),
        ] {
            page.type_reading(typed).await?;
            page.sees(sentence).await?;
            page.field_holds(typed).await?;
            let field = page.driver.find(thirtyfour::By::Css(".reading input")).await?;
            field.send_keys("\u{e009}a\u{e000}\u{e017}").await?;
            page.field_holds("").await?;
        }
        // What is typed and not recorded outlives a reload.
        page.driver.find(thirtyfour::By::Css(".reading input")).await?.send_keys("12,4V").await?;
        page.reload().await?;
        page.point("Key S").await?;
        page.sees("Red Key S").await?;
        page.field_holds("12,4V").await?;
        page.type_reading("").await?;
        page.sees("Key S: 12.40 V").await?;
        page.field_holds("").await?;
        Ok(())
    });
}

#[test]
fn kill_9_right_after_an_acknowledged_reading_loses_nothing() {
    with_page(|workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.read("Key S", "12.57").await?;
        workshop.lock().await.kill_server();
        workshop.lock().await.database.kill();
        workshop.lock().await.database.resume()?;
        workshop.lock().await.start_server()?;
        page.reload().await?;
        page.sees("Key S: 12.57 V").await
    });
}

#[test]
fn a_database_that_goes_away_keeps_the_reading_until_it_is_back() {
    with_page(|workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.point("Key S").await?;
        page.sees("Red Key S").await?;
        workshop.lock().await.database.kill();
        page.type_reading("12.57").await?;
        page.sees("Your reading is kept and goes in as soon as it does.").await?;
        // The next one can be typed already; it waits behind the first.
        page.point("Pedal switch in").await?;
        page.sees("Red Pedal switch in").await?;
        page.type_reading("12.56").await?;
        workshop.lock().await.database.resume()?;
        page.sees("Key S: 12.57 V").await?;
        page.sees("Pedal switch in: 12.56 V").await?;
        page.field_holds("").await?;
        // Sent again and again, it went in once.
        let count = page.text().await?.matches("Key S: 12.57 V").count();
        assert_eq!(count, 1);
        Ok(())
    });
}

#[test]
fn a_reload_in_the_middle_of_trouble_still_sends_the_reading() {
    with_page(|workshop, page| async move {
        page.go(JOB).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        page.point("Key S").await?;
        page.sees("Red Key S").await?;
        workshop.lock().await.database.kill();
        page.type_reading("12.57").await?;
        page.sees("Your reading is kept").await?;
        page.reload().await?;
        page.sees("The database does not answer.").await?;
        workshop.lock().await.database.resume()?;
        page.sees("Key S: 12.57 V").await
    });
}

#[test]
fn a_new_job_is_opened_and_the_page_asks_nothing_of_another_host() {
    with_page(|_workshop, page| async move {
        page.click(say("jobs.newJob")).await?;
        page.click(say("jobs.openJob")).await?;
        page.sees("Pick the machine first.").await?;
        page.click_on(".v-select, .v-field", say("common.machine")).await?;
        page.choose("Pellwick GT-46").await?;
        page.sees(say("common.whatDoesItDo")).await?;
        page.click(say("jobs.openJob")).await?;
        page.sees("Say what the machine does or does not do.").await?;
        for theme in [Theme::Bay, Theme::Day] {
            page.theme(theme).await?;
            tokio::time::sleep(std::time::Duration::from_millis(300)).await;
            page.accessible().await?;
        }
        let complaint = page.driver.find(thirtyfour::By::Css("textarea:not([readonly])")).await?;
        complaint.send_keys("Dies when I stand up.").await?;
        page.click(say("jobs.openJob")).await?;
        page.sees("First: see it happen").await?;
        page.sees("Dies when I stand up.").await?;
        let foreign = page
            .script("return performance.getEntriesByType('resource').map((r) => r.name).filter((n) => !n.startsWith(location.origin))")
            .await?;
        assert_eq!(foreign, serde_json::json!([]));
        // No step of it was blocked by the page's own policy either.
        let script_bytes = page
            .script("return performance.getEntriesByType('resource').filter((r) => r.name.endsWith('.js')).reduce((sum, r) => sum + r.encodedBodySize, 0)")
            .await?;
        assert!(script_bytes.as_f64().unwrap() < 350_000.0, "{script_bytes} bytes of script");
        Ok(())
    });
}
