//! A device: who works at it, and whether everything on it is large enough for a thumb and an eye.

use kelvok_e2e::{say, with_page};

const JOB: &str = "/jobs/01930000-0000-7000-8000-000000000000";
/// What was tried of a machine that went back.
const BATTERY: &str = "/jobs/01930000-0000-7000-8000-000000001b58/battery";
const RELEASED: &str = "/jobs/01930000-0000-7000-8000-000000001388/release";

#[test]
fn whoever_works_at_a_new_device_says_who_they_are_and_signs_with_it() {
    with_page(|_workshop, page| async move {
        page.script("localStorage.removeItem('kelvok.person')").await?;
        page.go(JOB).await?;
        // Nobody is taken for the first of the list.
        page.sees(say("shell.whoIsWorkingAtThis")).await?;
        page.accessible_in_both_themes().await?;
        page.click("Tobias").await?;
        page.lacks(say("shell.whoIsWorkingAtThis")).await?;
        page.click(say("job.doneItsSet")).await?;
        page.click("Nothing").await?;
        let by = "return document.querySelector('.story li small')?.innerText ?? ''";
        page.sees("You got: nothing, no click.").await?;
        let by = page.script(by).await?;
        assert!(by.as_str().is_some_and(|b| b.contains("Tobias")), "{by}");
        // Asked once.
        page.reload().await?;
        page.sees(say("common.whatWasDone")).await?;
        page.lacks(say("shell.whoIsWorkingAtThis")).await
    });
}

#[test]
fn a_name_that_left_the_shop_is_asked_for_again() {
    with_page(|_workshop, page| async move {
        page.script("localStorage.setItem('kelvok.person', 'Nobody Here')").await?;
        page.go("/").await?;
        page.sees(say("shell.whoIsWorkingAtThis")).await?;
        page.click("Maren").await?;
        page.lacks(say("shell.whoIsWorkingAtThis")).await?;
        let kept = page.script("return localStorage.getItem('kelvok.person')").await?;
        assert_eq!(kept, "Maren");
        Ok(())
    });
}

#[test]
fn every_screen_fits_thumb_and_eye_on_a_phone_and_a_desk() {
    with_page(|_workshop, page| async move {
        let paths = [
            ("/", "Jobs"),
            ("/machines", "Machines"),
            ("/describe", "What is it?"),
            ("/machines/pellwick-gt-46", "How it decides"),
            ("/machines/pellwick-gt-46/circuits", "Volts"),
            ("/machines/pellwick-gt-46/harness", "Save as SVG"),
            ("/machines/pellwick-gt-46/parts", "Where"),
            ("/machines/pellwick-gt-46/faults", "What fails"),
            ("/machines/pellwick-gt-46/jobs", "last entry"),
            ("/bench", "Switch types"),
            (&format!("{JOB}/sweep"), "Step 1 of"),
            (&format!("{JOB}/release"), "Step 1 of"),
            (&format!("{JOB}/battery"), "Read the label"),
            (BATTERY, "12.10 V 60 s after"),
            (&format!("{JOB}/soak"), "How often does it happen?"),
            (RELEASED, "Released, "),
            (&format!("{JOB}/sheet/customer"), "What you told us"),
            (&format!("{JOB}/sheet/file"), "Everything recorded"),
        ];
        for (width, height) in [(390, 844), (1280, 800)] {
            page.size(width, height).await?;
            for (path, words) in paths {
                page.go(path).await?;
                page.sees(words).await?;
                let fits = page.fits_thumb_and_eye().await;
                fits.map_err(|e| e.context(format!("{path} at {width}")))?;
            }
            page.go("/").await?;
            page.click(say("jobs.newJob")).await?;
            page.sees("Verge crew, Ashgrove Bowling Club").await?;
            page.fits_thumb_and_eye().await.map_err(|e| e.context("a new job"))?;
        }
        Ok(())
    });
}
