//! A record after its signature: sent back, put right, approved, amended, on paper.

use ombret_e2e::{Browser, Size, Stack, Step};

/// The record of a scale that waits for approval.
async fn waiting(page: &Browser, scale: &str) -> Step {
    page.go("/").await?;
    page.says("h2", "pprov").await?;
    page.press(scale).await?;
    page.says("h1", "record").await
}

async fn signed_in_as(stack: &Stack, name: &str, password: &str) -> Step<Browser> {
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in(name, password).await?;
    page.says("h1", "Scales").await?;
    Ok(page)
}

#[tokio::test]
async fn a_record_is_sent_back_put_right_approved_and_amended() -> Step {
    let stack = Stack::start().await?;
    let maren = signed_in_as(&stack, "maren", "second-look").await?;
    maren.snap("to-approve").await?;
    waiting(&maren, "Button counter").await?;
    // Without a reason it is not sent back; the message stands at the field.
    maren.press("Send back").await?;
    maren.says(".review .wrong", "a few words are needed").await?;
    maren.fill("#review-remarks", "The serial on the plate is BC-40.").await?;
    maren.press("Send back").await?;
    maren.says(".review", "Sent back by Maren Holt").await?;

    let ebba = Browser::signed_in(&stack).await?;
    ebba.says("[aria-labelledby=open-jobs]", "Continue: Button counter").await?;
    ebba.go(&maren.path().await?).await?;
    ebba.press("Correct the job").await?;
    ebba.says(".note", "Sent back by Maren Holt").await?;
    ebba.click("details summary").await?;
    ebba.fill("#slip-serial", "BC-40").await?;
    ebba.fill("#slip-reason", "misread").await?;
    ebba.press("Correct particulars").await?;
    ebba.says(".journal", "Put right").await?;
    ebba.fill("[name=temperature]", "warm").await?;
    ebba.press("Save conditions").await?;
    ebba.says(".around .wrong", "warm").await?;
    ebba.fill("[name=temperature]", "19,5").await?;
    ebba.press("Save conditions").await?;
    ebba.says(".around", "19.5 °C").await?;
    ebba.snap("sent-back").await?;
    ebba.sign("level-bubble").await?;
    ebba.says(".review", "Signed, not approved yet").await?;
    ebba.says("dd", "BC-40").await?;

    waiting(&maren, "Button counter").await?;
    maren.snap("approve").await?;
    maren.press("Approve").await?;
    maren.says(".review", "Approved by Maren Holt").await?;
    maren.says("footer", "Maren Holt").await?;

    // Her page still shows the record as she signed it: the first try is told that it has moved on.
    ebba.press("Amend record").await?;
    ebba.fill("#amend-why", "too late").await?;
    ebba.press("Start the new version").await?;
    ebba.says(".review", "Approved by Maren Holt").await?;
    ebba.go(&ebba.path().await?).await?;
    ebba.press("Amend record").await?;
    ebba.fill("#amend-why", "the owner’s name had changed").await?;
    ebba.press("Start the new version").await?;
    ebba.says(".note", "New version, in the place of").await?;
    ebba.sign("level-bubble").await?;
    ebba.says("header", "in the place of").await?;
    ebba.holds("document.querySelectorAll('.versions tbody tr').length === 2").await?;
    ebba.snap("versions").await?;
    // Paper: every kind of file is there, and is what it says.
    for (what, starts) in
        [("certificate", "%PDF-1.7"), ("certificate?version=1", "%PDF-1.7"), ("file?version=1", "{")]
    {
        let script = format!(
            "(async () => (await (await fetch(location.pathname.replace('/jobs', '/api/jobs').replace('/record', '/{what}'))).text()).slice(0, 8))()"
        );
        assert!(ebba.told(&script).await?.starts_with(starts), "{what}");
    }
    // The two versions side by side: nothing but the approval is another.
    ebba.press("compared with 20").await?;
    ebba.says("thead", "1 of").await?;
    ebba.holds("[...document.querySelectorAll('tbody tr')].map(r => r.innerText.split('\t').join('|')).join() === 'Approved|Maren Holt|–'").await?;
    maren.close().await?;
    ebba.close().await
}

#[tokio::test]
async fn what_stands_on_paper_is_the_workshops() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.click("a[href='/settings']").await?;
    page.press("Certificates & letterhead").await?;
    page.says("h1", "Certificates & letterhead").await?;
    page.fill("#paper-country", "1").await?;
    page.press("Save").await?;
    page.says(".wrong", "two capital letters").await?;
    page.fill("#paper-country", "xs").await?;
    page.holds("(() => { const s = document.querySelector('#paper-language'); s.value = 'de'; s.dispatchEvent(new Event('change')); return true })()").await?;
    page.press("Save").await?;
    page.says("[role=status]", "Saved.").await?;
    page.snap("paper").await?;
    page.newest_record("cb-31", "Curd bench", 3).await?;
    page.says(".tools", "Certificate (PDF)").await?;
    page.says(".tools", "DCC").await?;
    let xml = page.told("(async () => (await (await fetch(location.pathname.replace('/jobs', '/api/jobs').replace('/record', '/dcc'))).text()))()").await?;
    assert!(xml.contains("schemaVersion=\"3.2.1\"") && xml.contains("Skerry Dairy"), "{xml}");
    page.snap("record-certified").await?;

    // Read back as a file from elsewhere would be; then without its laboratory.
    let folder = tempfile::tempdir()?;
    let file = |name: &str, text: &str| -> Step<std::path::PathBuf> {
        let path = folder.path().join(name);
        std::fs::write(&path, text)?;
        Ok(path)
    };
    page.go("/").await?;
    page.click("a[href='/settings']").await?;
    page.press("Read a digital certificate").await?;
    page.choose_file("input[type=file]", &file("whole.xml", &xml)?).await?;
    page.says("[data-testid=dcc]", "CB-31").await?;
    page.says("[data-testid=dcc]", "Skerry Dairy").await?;
    page.snap("dcc").await?;
    let (from, to) = (
        xml.find("<dcc:calibrationLaboratory").ok_or("no laboratory")?,
        xml.find("</dcc:calibrationLaboratory>").ok_or("no laboratory")?,
    );
    let without = format!("{}{}", &xml[..from], &xml[to + "</dcc:calibrationLaboratory>".len()..]);
    page.choose_file("input[type=file]", &file("without.xml", &without)?).await?;
    page.says(".refused", "calibrationLaboratory").await?;
    page.gone("[data-testid=dcc]").await?;
    page.snap("dcc-refused").await?;
    page.close().await
}
