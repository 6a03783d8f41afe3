//! A workshop's world comes in by table and goes out again; customers, all records, the second factor: in the
//! page, with bad input too.

use std::path::PathBuf;

use ombret_e2e::{Browser, Size, Stack, Step};

/// Chooses in a list of the browser's own.
async fn choose(page: &Browser, css: &str, value: &str) -> Step {
    page.shown(css).await?;
    page.client
        .execute(
            &format!(
                "const s = document.querySelector(\"{css}\"); s.value = \"{value}\"; s.dispatchEvent(new Event('change', {{bubbles: true}}))"
            ),
            Vec::new(),
        )
        .await?;
    Ok(())
}

fn file(folder: &tempfile::TempDir, name: &str, text: &str) -> Step<PathBuf> {
    let path = folder.path().join(name);
    std::fs::write(&path, text)?;
    Ok(path)
}

#[tokio::test]
async fn tables_come_in_with_their_columns_mapped_and_the_last_is_taken_back() -> Step {
    let stack = Stack::start().await?;
    let folder = tempfile::tempdir()?;
    let page = Browser::signed_in(&stack).await?;
    page.go("/customers").await?;
    page.says("main", "Northwrack Seaweed Driers").await?;
    page.snap("customers").await?;
    page.press("Import a table").await?;
    page.says("h1", "Import a table").await?;
    // Their own names of the columns: nothing comes in before a person says which is which.
    let list = file(
        &folder,
        "kunden.csv",
        "Firma;Kundennr;Anschrift;Mail\nAlder Mill;K-7;Weir 2, 4711 Skarholm;mill@alder.example\nFern & Daughter;K-8;Bracken Way 1;nobody\n",
    )?;
    page.choose_file("#intake-file", &list).await?;
    page.says("[data-testid=row-errors]", "no column is mapped to “name”").await?;
    for (ours, theirs) in
        [("name", "Firma"), ("number", "Kundennr"), ("address", "Anschrift"), ("email", "Mail")]
    {
        choose(&page, &format!("select[aria-label='Column for {ours}']"), theirs).await?;
    }
    page.says("[data-testid=row-errors]", "row 3, Mail: this is no mail address").await?;
    page.snap("import-errors").await?;
    page.holds(
        "[...document.querySelectorAll('button')].find(b => b.innerText.includes('Import 2 rows')).disabled",
    )
    .await?;
    let mended = file(
        &folder,
        "kunden.csv",
        "Firma;Kundennr;Anschrift;Mail\nAlder Mill;K-7;Weir 2, 4711 Skarholm;mill@alder.example\nFern & Daughter;K-8;Bracken Way 1;\n",
    )?;
    page.choose_file("#intake-file", &mended).await?;
    // The same file, mended: which column is which is not asked again.
    page.gone("[data-testid=row-errors]").await?;
    page.snap("import-ready").await?;
    page.press("Import 2 rows").await?;
    page.says("main", "2 rows of kunden.csv were imported").await?;

    // Scales of theirs: a wrong division is told at its row and column.
    page.click("input[value=scales]").await?;
    let wrong = "name;customer;place;kind;serial;max;division;class\nIntake hopper;Alder Mill;Tower;Hopper or tank;AM-1;1500 kg;0.3 kg;III\n";
    page.choose_file("#intake-file", &file(&folder, "scales.csv", wrong)?).await?;
    page.says("[data-testid=row-errors]", "row 2, division").await?;
    let right = wrong.replace("0.3", "0.5");
    page.choose_file("#intake-file", &file(&folder, "scales2.csv", &right)?).await?;
    page.gone("[data-testid=row-errors]").await?;
    page.press("Import 1 rows").await?;
    page.says("main", "1 rows of scales2.csv").await?;
    page.go("/customers").await?;
    page.fill("#customer-search", "alder").await?;
    page.says("main", "K-7").await?;
    page.press("Alder Mill").await?;
    page.says("main", "Intake hopper").await?;
    page.snap("customer").await?;

    // A new name goes onto the sheet of the scale.
    page.fill("#customer-email", "mill@").await?;
    page.press("Save").await?;
    page.says("#customer-email-wrong", "no mail address").await?;
    page.fill("#customer-email", "mill@alder.example").await?;
    page.fill("#customer-name", "Alder Mill & Co").await?;
    page.press("Save").await?;
    page.says("main", "Saved.").await?;
    // Their own link leads to their scales and papers, without a sign-in.
    page.press("Make a link").await?;
    page.says("[data-testid=owner-link]", "/own/").await?;
    let told = page.text("[data-testid=owner-link]").await?;
    let link = told.find("/own/").map(|at| told[at..].trim().to_owned()).ok_or("no link")?;
    let customer = Browser::open(&stack.base, Size(1280, 800)).await?;
    customer.go(&link).await?;
    customer.says("h1", "Alder Mill & Co").await?;
    customer.says("main", "Intake hopper").await?;
    customer.snap("own").await?;
    customer.go("/customers").await?;
    customer.shown("#sign-in-name").await?;
    customer.close().await?;
    page.go("/import").await?;
    // What was changed since is not taken back.
    page.press("Undo this import").await?;
    page.says("main", "it was changed since").await?;
    page.close().await
}

#[tokio::test]
async fn every_record_is_found_and_its_papers_come_as_one_file() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.go("/records").await?;
    page.says("[data-testid=records]", "20").await?;
    let rows = "document.querySelectorAll('[data-testid=records] tbody tr').length";
    page.holds(&format!("{rows} > 3")).await?;
    page.snap("records").await?;
    page.fill("#record-search", "kelp").await?;
    page.holds("[...document.querySelectorAll('[data-testid=records] tbody tr')].every(r => /kelp/i.test(r.innerText))").await?;
    page.fill("#record-search", "no such record").await?;
    page.says("main", "No record matches").await?;
    page.press("Clear filters").await?;
    page.holds(&format!("{rows} > 3")).await?;
    page.fill("#record-search", "kelp").await?;
    page.holds("[...document.querySelectorAll('[data-testid=records] tbody tr')].every(r => /kelp/i.test(r.innerText))").await?;
    page.press("Export their PDFs as one ZIP").await?;
    page.says("main", "Download the ZIP").await?;
    page.close().await
}

#[tokio::test]
async fn a_second_factor_is_set_up_and_asked_for() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.go("/me").await?;
    page.fill("#factor-password", "wrong").await?;
    page.press("Set it up").await?;
    page.says("#factor-password-wrong", "not your password").await?;
    page.fill("#factor-password", "level-bubble").await?;
    page.press("Set it up").await?;
    let secret = page.text("[data-testid=secret]").await?;
    page.snap("second-factor").await?;
    page.fill("#factor-code", "000000").await?;
    page.press("Switch it on").await?;
    page.says("#factor-code-wrong", "not the code that it shows now").await?;
    page.fill("#factor-code", &shown(&secret, -1)?).await?;
    page.press("Switch it on").await?;
    page.says("[data-testid=codes]", "Recovery codes").await?;
    page.snap("recovery-codes").await?;
    let codes = page.text("[data-testid=codes] li").await?;
    page.fill("#token-name", "the office").await?;
    page.fill("#token-password", "level-bubble").await?;
    page.press("Make a token").await?;
    page.says("[data-testid=token]", "ombret_").await?;

    let other = Browser::open(&stack.base, Size(1280, 800)).await?;
    other.go("/").await?;
    other.sign_in("ebba", "level-bubble").await?;
    other.shown("#sign-in-code").await?;
    other.snap("sign-in-code").await?;
    other.fill("#sign-in-code", "123123").await?;
    other.press("Sign in").await?;
    other.says(".wrong", "this code is wrong").await?;
    other.fill("#sign-in-code", &codes).await?;
    other.press("Sign in").await?;
    other.says("h1", "Scales").await?;
    other.go("/me").await?;
    other.says("main", "9 recovery codes left").await?;
    other.close().await?;

    // A manager sees it in the trail, and lets in whoever lost everything.
    let maren = Browser::signed_in_as(&stack, ("maren", "second-look")).await?;
    maren.go("/audit").await?;
    maren.says("[data-testid=audit]", "Recovery code used").await?;
    choose(&maren, "main select", "second_factor_on").await?;
    maren.says("[data-testid=audit]", "Second factor switched on").await?;
    maren.holds("!document.querySelector('[data-testid=audit]').innerText.includes('Signed in')").await?;
    maren.snap("audit").await?;
    maren.go("/people").await?;
    maren.press("Remove second factor").await?;
    maren.holds("!document.querySelector('main').innerText.includes('Remove second factor')").await?;
    maren.close().await?;
    page.go("/audit").await?;
    page.says("main", "for managers and readers").await?;
    page.close().await
}

/// What an authenticator shows, so many steps of 30 s from now. Source: RFC 6238.
fn shown(secret: &str, steps: i64) -> Step<String> {
    let bad = |e: &dyn std::fmt::Debug| format!("{e:?}");
    let totp = totp_rs::Builder::new()
        .with_algorithm(totp_rs::Algorithm::SHA1)
        .with_digits(6)
        .with_step_duration(30)
        .with_secret(totp_rs::Secret::try_from_base32(secret.trim()).map_err(|e| bad(&e))?)
        .build()
        .map_err(|e| bad(&e))?;
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH)?.as_secs();
    let at = i64::try_from(now)? + steps * 30;
    Ok(totp.generate(u64::try_from(at)?).to_string())
}
