//! Before a job is closed: with what the air was read, a photograph, and the customer signs on the screen.

use ombret_e2e::{Browser, Size, Stack, Step};

#[tokio::test]
async fn the_air_a_photograph_and_the_customer_s_signature_stand_on_the_record() -> Step {
    let stack = Stack::start().await?;
    let maren = Browser::signed_in_as(&stack, ("maren", "second-look")).await?;
    maren.go("/letterhead").await?;
    maren.shown("[name=customer-signs]").await?;
    maren.close().await?;

    let page = Browser::signed_in(&stack).await?;
    page.go("/letterhead").await?;
    page.click("[name=customer-signs]").await?;
    page.press("Save").await?;
    page.says("main", "Saved").await?;
    page.go("/weights").await?;
    page.press("Environment instruments").await?;
    page.fill("#instrument-serial", "T-1").await?;
    page.fill("#instrument-certificate", "SK-T 118").await?;
    page.press_exactly("Add", "form").await?;
    page.says("#instrument-due-wrong", "due date").await?;
    page.client
        .execute(
            "const d = document.querySelector('#instrument-due'); d.value = '2027-03-01'; d.dispatchEvent(new Event('input', {bubbles: true}))",
            Vec::new(),
        )
        .await?;
    page.press_exactly("Add", "form").await?;
    page.says("[role=dialog] table", "SK-T 118").await?;
    page.snap("instruments").await?;

    page.go("/").await?;
    page.begin_job("kelp").await?;
    let job = page.path().await?.split('/').nth(2).ok_or("no job")?.to_owned();
    let photograph = std::path::Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../../docs/screenshots/test.png")
        .canonicalize()?;
    // In any stage, where the thing is seen.
    page.go(&format!("/jobs/{job}/look_over")).await?;
    page.press("Photos and files").await?;
    page.fill("[role=dialog] [aria-label='What it shows']", "a dented pan").await?;
    page.choose_file("[role=dialog] [name=file]", &photograph).await?;
    page.says("[role=dialog] .files", "a dented pan, on the record").await?;
    page.snap("photograph-in-a-stage").await?;
    page.go(&format!("/jobs/{job}/close")).await?;
    page.says(".files", "a dented pan, on the record").await?;
    page.click("[name=with-T-1]").await?;
    page.fill("[name=temperature]", "19.5").await?;
    page.press("Save conditions").await?;
    page.says(".around", "19.5 °C, T-1 (SK-T 118)").await?;
    page.fill("[aria-label='What it shows']", "the plate").await?;
    page.choose_file("[name=file]", &photograph).await?;
    page.says(".files", "the plate, on the record").await?;

    // Nothing is signed for the customer while something is missing.
    page.holds("!document.querySelector('[data-testid=signature]')").await?;
    page.client.execute("document.querySelectorAll('details summary')[0]?.click()", Vec::new()).await?;
    page.fill("#stop", "the hall is closed").await?;
    page.press("Close without a complete test").await?;
    page.click("[name=switch-back]").await?;
    page.press("Save seals").await?;
    page.shown("[data-testid=signature]").await?;
    page.fill("#customer-name", "Ida Moor").await?;
    page.draw_signature().await?;
    page.snap("customer-signs").await?;
    page.press("Save signature").await?;
    page.says(".customer", "Signed by Ida Moor").await?;
    page.sign("level-bubble").await?;
    page.says("h1", "Work record 20").await?;
    page.says("footer", "Ida Moor").await?;
    page.holds("[...document.querySelectorAll('.pictures img')].some(i => i.naturalWidth > 0)").await?;
    page.snap("record-signed").await?;
    page.resize(Size(390, 844)).await?;
    page.snap("record-phone").await?;
    page.close().await
}
