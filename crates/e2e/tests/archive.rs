//! A workshop written as an archive in one program and taken in by another.

use ombret_e2e::{Browser, Stack, Step};

#[tokio::test]
async fn a_workshop_is_written_and_taken_in_by_an_empty_one_and_by_no_other() -> Step {
    let (full, empty) = (Stack::start().await?, Stack::start_empty().await?);
    let page = Browser::signed_in(&full).await?;
    page.click("a[href='/settings']").await?;
    page.press("Archive").await?;
    page.says("h1", "Archive").await?;
    page.press("Export the archive").await?;
    page.says(".tasks", "jobs with their scales, weights and profiles").await?;
    page.snap("archive").await?;
    let bytes = page.told("(async () => { const b = new Uint8Array(await (await fetch(document.querySelector('.tasks a').href)).arrayBuffer()); return btoa(Array.from(b, c => String.fromCharCode(c)).join('')) })()").await?;
    let bytes = base64::Engine::decode(&base64::prelude::BASE64_STANDARD, bytes)?;
    let folder = tempfile::tempdir()?;
    let (good, cut) = (folder.path().join("workshop.zip"), folder.path().join("cut.zip"));
    std::fs::write(&good, &bytes)?;
    std::fs::write(&cut, &bytes[..bytes.len() / 2])?;
    // It is full itself: nothing is taken in.
    page.choose_file(".archive input[type=file]", &good).await?;
    page.says(".tasks .wrong", "into an empty one").await?;
    page.close().await?;

    let there = Browser::signed_in(&empty).await?;
    there.says(".home", "No scale yet").await?;
    there.click("a[href='/settings']").await?;
    there.press("Archive").await?;
    there.choose_file(".archive input[type=file]", &cut).await?;
    there.says(".tasks .wrong", "is no archive").await?;
    assert_eq!(empty.count("select count(*) from scale").await?, 0);
    there.choose_file(".archive input[type=file]", &good).await?;
    there.says(".tasks", "scales, ").await?;
    there.snap("archive-taken").await?;
    assert_eq!(empty.count("select count(*) from job").await?, full.count("select count(*) from job").await?);
    there.go("/").await?;
    there.fill("#search", "cb-31").await?;
    there.press("Curd bench").await?;
    there.press("Its records").await?;
    there.holds("document.querySelectorAll('tbody tr').length === 3").await?;
    there.close().await
}
