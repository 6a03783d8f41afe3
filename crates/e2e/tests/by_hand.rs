//! A whole job typed by hand, on a scale without a cable, from the keyboard.

use ombret_e2e::{Browser, Size, Stack, Step};

async fn start(stack: &Stack) -> Step<Browser> {
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    Ok(page)
}

/// Goes through the checklist up to the named item, and finds a fault there.
async fn look_over(page: &Browser, fault: &str) -> Step {
    while page.text("[data-testid=check-label]").await? != fault {
        page.answer("1").await?;
    }
    page.answer("2").await?;
    page.says(".note", "Adjusting cannot cure it").await
}

/// Goes through the rest of the checklist; the page leaves it by itself.
async fn finish_looking(page: &Browser) -> Step {
    page.gone("#settle-reason").await?;
    while page
        .client
        .execute("return document.querySelector('[data-testid=check-label]') !== null", Vec::new())
        .await?
        == true
    {
        page.answer("1").await?;
    }
    Ok(())
}

#[tokio::test]
async fn a_whole_job_is_typed_struck_out_reloaded_survives_a_killed_server_and_is_frozen() -> Step {
    let mut stack = Stack::start().await?;
    let page = start(&stack).await?;

    // Find the scale by typing, begin a job.
    page.begin_job("kelp").await?;
    page.says("[data-testid=check-label]", "Seal as found").await?;
    page.snap("look-over").await?;

    // A fault that adjusting cannot cure stops the way until it is settled.
    look_over(&page, "Nothing under the cell").await?;
    page.snap("fault").await?;
    page.press("Overrule").await?;
    page.says(".wrong", "a few words are needed").await?;
    page.fill("#settle-reason", "stone taken out of the gap").await?;
    page.enter().await?;
    finish_looking(&page).await?;
    page.says(".says", "Empty the platform and read it").await?;
    page.type_reading("0", "0").await?;
    page.type_reading("725", "726,5 kg").await?;
    page.says("td", "+1.5 kg").await?;
    page.snap("as-found").await?;

    // Nonsense is refused at its field, and stays there.
    page.fill("#reading-load", "1e30").await?;
    page.fill("#reading-shown", "12").await?;
    page.says("#reading-load-hint", "is not a mass").await?;
    page.fill("#reading-load", "2000").await?;
    page.says("#reading-load-hint", "above Max").await?;
    page.enter().await?;
    page.says("#reading-load-hint", "Put on Max at the most").await?;
    page.holds("document.querySelector('#reading-load').value === '2000'").await?;

    // A reload in the middle: what was typed is still there.
    page.client.refresh().await?;
    page.says("td", "+1.5 kg").await?;
    page.holds("document.querySelector('#reading-load').value === '2000' && document.querySelector('#reading-shown').value === '12'").await?;
    page.fill("#reading-load", "1450").await?;
    page.fill("#reading-shown", "1453").await?;
    page.says("[data-testid=preview]", "OUTSIDE").await?;
    page.enter().await?;
    page.says(".says", "Adjust it, or leave it alone").await?;

    // Set up: judged as one types, refused at its field.
    page.press("Adjust it").await?;
    page.fill("#setup-d", "3").await?;
    page.says(".wrong", "does not exist").await?;
    page.fill("#setup-d", "0.2").await?;
    page.says(".overall", "REFUSED").await?;
    page.snap("set-up-refused").await?;
    // What is refused cannot be entered by the way; without a reason it is refused at its field.
    page.holds("![...document.querySelectorAll('button')].some(b => b.innerText.trim() === 'Entered on the indicator')").await?;
    page.click(".all-the-same summary").await?;
    page.press("Record it anyway").await?;
    page.says(".wrong", "less than half of the plate").await?;
    page.click("[aria-label='Take 0.5 kg']").await?;
    page.says(".overall", "sound").await?;
    page.snap("set-up").await?;
    page.press("Entered on the indicator").await?;

    // Zero and span: motion refused, a weight above Max refused, a falling signal refused.
    page.says(".says", "capture zero").await?;
    page.fill("#counts", "88040").await?;
    page.press("Capture zero").await?;
    page.says(".wrong", "it is not said that the reading was stable").await?;
    page.click("[name=steady]").await?;
    page.press("Capture zero").await?;
    page.fill("#span-weight", "1500").await?;
    page.press("Keyed in").await?;
    page.says(".wrong", "above Max").await?;
    page.fill("#span-weight", "1000").await?;
    page.says("[data-testid=span-choice]", "made of").await?;
    page.press("Keyed in").await?;
    page.says(".digits", "1000").await?;
    page.fill("#counts", "-500").await?;
    page.click("[name=steady]").await?;
    page.press("Capture span").await?;
    page.says(".wrong", "reversed or dead signal").await?;
    page.fill("#counts", "321350").await?;
    page.press("Capture span").await?;
    page.says(".says", "Save the adjustment").await?;
    page.snap("save").await?;

    // The server is killed in the middle: the entry waits in the page and is stored once it is back.
    stack.kill_server().await?;
    page.press("Saved in the indicator").await?;
    page.says("[data-testid=waiting]", "not stored yet").await?;
    stack.start_server().await?;
    page.gone("[data-testid=waiting]").await?;
    page.says(".says", "Leave 1000 kg on and read it").await?;
    assert_eq!(stack.count("select count(*) from entry e join job j on j.id = e.job_id where e.sealed like '%adjustment_saved%' and j.started_at > now() - interval '10 minutes'").await?, 1);

    // Prove: up, a misreading struck out, down.
    for (load, shown) in [("0", "0"), ("250", "250"), ("725", "725"), ("1000", "1010")] {
        page.type_reading(load, shown).await?;
    }
    // The same load once more is not booked without a word; the second Enter keeps both.
    page.fill("#reading-load", "1000").await?;
    page.fill("#reading-shown", "1000").await?;
    page.enter().await?;
    page.says("#reading-load-hint", "was read already").await?;
    page.enter().await?;
    page.says(".journal", "1000.0 kg shown").await?;
    page.type_reading("1450", "1450.5").await?;
    page.says("[role=status]", "OUT OF TOLERANCE").await?;
    page.press("All").await?;
    let wrong = page.client.execute("return [...document.querySelectorAll('.journal li')].find(l => l.innerText.includes('1010.0 kg shown')).querySelector('.strike').getAttribute('aria-label')", Vec::new()).await?;
    page.click(&format!("[aria-label={wrong}]")).await?;
    page.press("Strike out entry").await?;
    page.says(".dialog .wrong", "a few words are needed").await?;
    page.fill("#strike-reason", "misread, it showed 1000").await?;
    page.press("Strike out entry").await?;
    page.says(".struck", "misread").await?;
    page.press("Last entries only").await?;
    // The asterisk of the number pad turns the way, whichever it was.
    page.click("#reading-shown").await?;
    let down = "[...document.querySelectorAll('.direction button')].find(b => b.innerText === 'Decreasing').getAttribute('aria-pressed')";
    let was = page.client.execute(&format!("return {down}"), Vec::new()).await?;
    page.keys("*").await?;
    page.holds(&format!("{down} !== {was}")).await?;
    page.press("Decreasing").await?;
    page.fill("#reading-load", "725").await?;
    page.fill("#reading-shown", "725").await?;
    page.enter().await?;
    page.says(".verdict", "In tolerance").await?;
    page.snap("prove").await?;

    // Close: what is missing, sealed up, signed, frozen.
    page.press("Close out").await?;
    page.says(".missing", "seal, switch and cover").await?;
    page.fill("#seals", "NW 51, NW 52").await?;
    page.press("Save seals").await?;
    page.says(".missing", "switch is not back").await?;
    page.click("[name=switch-back]").await?;
    page.click("[name=locked]").await?;
    page.press("Save seals").await?;
    page.snap("close").await?;
    page.sign("level-bubble").await?;
    page.says("h1", "Work record 20").await?;
    page.says(".verdict", "In tolerance").await?;
    page.snap("record").await?;
    assert_eq!(
        stack.count("select count(*) from record where closed_at > now() - interval '10 minutes'").await?,
        1
    );
    page.press("To the job").await?;
    page.says(".frozen", "Signed and locked").await?;
    page.gone(".strike").await?;
    page.close().await
}
