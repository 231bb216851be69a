//! A machine's drawing that somebody changed: what that changed, who did it, and back; a job that follows.

use kelvok_e2e::{Page, say, with_page};

/// Somebody takes in the machine again, with its neutral switch bridged and a wire of another color.
async fn taken_in_again(page: &Page) -> anyhow::Result<()> {
    let take_in = "const at = '/api/v1/machines'; \
        const read = async () => (await fetch(at + '/pellwick-gt-46/document.json')).json(); \
        return read().then(async (machine) => { \
            machine.as_found = [{change: 'neutral-plug.A=touches:neutral-plug.B', note: 'Neutral switch bridged.'}]; \
            machine.wires[8].color = 'pink'; \
            const kept = await fetch(at + '?by=Tobias&reason=As%20it%20came%20in', \
                {method: 'POST', body: JSON.stringify(machine)}); \
            return kept.status })";
    let status = page.script(take_in).await?;
    anyhow::ensure!(status == 200, "{status}");
    Ok(())
}

#[test]
fn what_a_new_drawing_changed_is_seen_and_the_old_one_used_again_by_keyboard() {
    with_page(|_workshop, page| async move {
        page.go("/machines/pellwick-gt-46").await?;
        page.sees(say("machine.safetyChecks")).await?;
        page.press("7").await?;
        page.sees(say("revisions.onlyOne")).await?;
        page.accessible_in_both_themes().await?;
        taken_in_again(&page).await?;
        page.go("/machines/pellwick-gt-46/revisions").await?;
        page.sees("As it came in").await?;
        page.sees("Tobias").await?;
        page.sees(say("revisions.lessSafe")).await?;
        page.sees("Now cranks in").await?;
        page.sees("color pink, not white/black").await?;
        page.sees("New: Neutral switch bridged").await?;
        page.click(say("revisions.showIt")).await?;
        page.stands_at("key", "start").await?;
        page.stands_at("lever", "R").await?;
        page.go("/machines/pellwick-gt-46/revisions").await?;
        page.sees(say("revisions.lessSafe")).await?;
        page.accessible_in_both_themes().await?;
        page.size(390, 844).await?;
        page.fits_thumb_and_eye().await?;
        page.tab_to_exactly(say("revisions.useAgain")).await?;
        page.press("\u{e007}").await?;
        // A bridge does not come off by going back to a drawing without it.
        page.sees("came in with: Neutral switch bridged").await?;
        page.fits_thumb_and_eye().await?;
        page.tab_to_exactly(say("revisions.itIsOff")).await?;
        page.press("\u{e007}").await?;
        page.sees("Revision 3 is the drawing of revision 1 again.").await?;
        page.lacks("New: Neutral switch bridged").await?;
        page.sees("Gone: Neutral switch bridged").await
    });
}

#[test]
fn a_job_says_that_the_drawing_changed_and_follows() {
    with_page(|_workshop, page| async move {
        page.go("/machines").await?;
        let find = "return fetch('/api/v1/jobs?status=open&machine=pellwick-gt-46') \
            .then((answer) => answer.json()).then((page) => page.jobs[0].id)";
        let job = page.script(find).await?;
        let job = job.as_str().unwrap_or_default().to_owned();
        page.go(&format!("/jobs/{job}")).await?;
        page.lacks(say("revisions.newerDrawing")).await?;
        taken_in_again(&page).await?;
        page.go(&format!("/jobs/{job}")).await?;
        page.sees(say("revisions.newerDrawing")).await?;
        page.accessible_in_both_themes().await?;
        page.click(say("revisions.seeWhatChanged")).await?;
        page.sees("From revision 1 to revision 2").await?;
        page.go(&format!("/jobs/{job}")).await?;
        page.click("Use revision 2").await?;
        page.lacks(say("revisions.newerDrawing")).await?;
        page.sees("Neutral switch bridged.").await
    });
}
