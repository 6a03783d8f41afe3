//! Weights: what to bring, what to lift, what it proves.

use fantoccini::Locator;
use ombret_e2e::{Browser, Size, Stack, Step};

async fn start(stack: &Stack) -> Step<Browser> {
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    Ok(page)
}

#[tokio::test]
async fn a_table_with_wrong_rows_is_refused_whole_and_a_good_one_is_taken_in() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    page.press("Weights").await?;
    page.says("tbody", "TB-01").await?;
    page.says("tbody", "NO: past due").await?;
    page.says("tbody", "NO: damaged").await?;
    page.snap("weights").await?;
    let before = stack.count("select count(*) from piece").await?;
    page.press("Import a table").await?;
    page.says("h1", "Import a table").await?;
    let folder = std::env::temp_dir().join(uuid::Uuid::new_v4().to_string());
    std::fs::create_dir_all(&folder)?;
    let take = async |name: &str, bytes: &[u8]| -> Step {
        let path = folder.join(name);
        std::fs::write(&path, bytes)?;
        page.client
            .find(Locator::Css("#intake-file"))
            .await?
            .send_keys(path.to_str().ok_or("an odd path")?)
            .await?;
        Ok(())
    };
    take("latin.csv", b"serial;nominal\nA-\xe9;5 kg\n").await?;
    page.says("main", "neither a spreadsheet (XLSX) nor UTF-8 text").await?;
    take("bad.csv", b"serial;nominal;class;place\nTB-01;20 kg;M1;van\nX-2;15 kg;M1;van\nX-3;-5 kg;M1;van\nX-4;5 kg;M1;=HYPERLINK(1)\n").await?;
    page.says("[data-testid=row-errors]", "in the kit already").await?;
    page.says("[data-testid=row-errors]", "has no tolerance for 15 kg").await?;
    page.says("[data-testid=row-errors]", "row 5, place: “=HYPERLINK(1)” looks like a formula").await?;
    page.snap("weights-wrong").await?;
    assert_eq!(stack.count("select count(*) from piece").await?, before);
    take("good.csv", "Mark;Mass;class;place\nX-2;5 kg;M1;van\nX-3;2 kg;M1;van\n".as_bytes()).await?;
    page.says("[data-testid=row-errors]", "no column is mapped to “serial”").await?;
    for (ours, theirs) in [("serial", "Mark"), ("nominal", "Mass")] {
        let choose = format!(
            "const s = document.querySelector(\"[aria-label='Column for {ours}']\"); s.value = '{theirs}'; s.dispatchEvent(new Event('change', {{bubbles: true}}))"
        );
        page.client.execute(&choose, Vec::new()).await?;
    }
    page.gone("[data-testid=row-errors]").await?;
    page.press("Import 2 rows").await?;
    page.says("main", "2 rows of good.csv were imported").await?;
    page.go("/weights").await?;
    page.fill("#kit-search", "x-").await?;
    page.says("tbody", "NO: without a certificate").await?;
    assert_eq!(stack.count("select count(*) from piece").await?, before + 2);

    // A piece edited: refused at its field, then kept; several moved together.
    page.press("X-2").await?;
    page.fill("#p-number", "SML-9").await?;
    page.fill("#p-date", "2026-02-02").await?;
    page.fill("#p-due", "2029-02-02").await?;
    page.fill("#p-U", "30").await?;
    page.press("Save weight").await?;
    page.says(".dialog .wrong", "belong together").await?;
    page.fill("#p-k", "2").await?;
    page.press("Save weight").await?;
    page.gone(".dialog").await?;
    page.holds("[...document.querySelectorAll('tbody tr')].some(r => r.innerText.includes('X-2') && r.innerText.includes('yes'))").await?;
    page.click("[aria-label='Choose all']").await?;
    page.fill("[aria-label='New place']", "workshop safe").await?;
    page.press("Move there").await?;
    page.holds(
        "[...document.querySelectorAll('tbody tr')].every(r => r.innerText.includes('workshop safe'))",
    )
    .await?;
    std::fs::remove_dir_all(&folder)?;
    page.close().await
}

#[tokio::test]
async fn a_plan_says_what_to_lift_a_piece_is_swapped_and_the_day_is_packed() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    page.begin_job("wt-07").await?;
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.go(&format!("/jobs/{job}/loads")).await?;
    page.says("[data-testid=plan-sum]", "moves").await?;
    page.says(".steps", "half of Max").await?;
    page.fill("#thought", "600").await?;
    page.says("[data-testid=span-says]", "sound").await?;
    page.says(".steps", "the span weight").await?;
    page.snap("loads").await?;
    page.fill("#thought", "40").await?;
    page.says("[data-testid=span-says]", "BLIND").await?;
    page.fill("#thought", "600").await?;
    page.says("[data-testid=span-says]", "sound").await?;
    // The first piece is left aside: the plan is another at once, without it.
    let first = page.text(".steps .piece").await?;
    let first_is = |serial: &str, is: bool| {
        format!(
            "{}[...document.querySelectorAll('.steps .piece')].some(b => b.innerText === '{serial}')",
            if is { "" } else { "!" }
        )
    };
    page.click(".steps .piece").await?;
    page.press(&format!("Leave {first} aside")).await?;
    page.says("summary", "pieces left aside").await?;
    page.holds(&first_is(&first, false)).await?;
    page.press("Forget my choices (1)").await?;
    page.says(".steps .piece", &first).await?;
    // Another of its mass instead: the same work, another mark.
    page.click("[aria-label='Change TB-01']").await?;
    let other = page.text(".choose .btn:nth-child(2)").await?.replace("Take ", "").replace(" instead", "");
    page.press(&format!("Take {other} instead")).await?;
    page.holds(&first_is("TB-01", false)).await?;
    page.holds(&first_is(&other, true)).await?;
    // Locked, it stays when something else is left aside.
    page.press("lock these pieces").await?;
    page.says(".steps .text[aria-pressed=true]", "locked").await?;
    page.press("Forget my choices (2)").await?;
    page.says("figcaption", "front left").await?;
    page.snap("loads-stand").await?;

    page.press("Route").await?;
    for scale in ["Wool table", "Curd bench"] {
        page.fill("[aria-label='Search among the scales']", scale).await?;
        page.holds(&format!("[...document.querySelectorAll('.scales li')].map(l => l.innerText).join().startsWith('{scale}') && document.querySelectorAll('.scales li').length === 1")).await?;
        page.click(".scales input").await?;
    }
    page.press("Pack for 2 scales").await?;
    page.says("[data-testid=pack-sum]", "kg in").await?;
    page.says(".list", "Certificates to carry").await?;
    page.snap("day").await?;
    page.close().await
}
