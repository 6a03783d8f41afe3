//! A stranger with an empty database: the first start over HTTPS, a second person, the workshop's customers,
//! scales and weights by table, a job from inspection to signature, who may not do what, and a backup that
//! restores. In the page wherever there is one.

use std::path::PathBuf;

use ombret_e2e::{Browser, Size, Stack, Step};

const SIGNE: (&str, &str) = ("signe", "moss lantern ferry");
const ODD: (&str, &str) = ("odd", "otter ladle granite");

const CUSTOMERS: &str = "name;number;address;interval\nAlder Mill;K-7;Weir 2, 4711 Skarholm;6\n";
const SCALES: &str = "name;customer;place;kind;serial;max;division;class;indicator\nIntake bench;Alder Mill;Tower;bench;AM-1;60 kg;0.02 kg;III;P4\n";
const WEIGHTS: &str = "serial;nominal;class;certificate;laboratory;date;due;error;U;k\nN-20a;20 kg;M1;SK-M 41;Skerry Mass Laboratory;2026-06-01;2028-06-01;150 mg;300 mg;2\nN-20b;20 kg;M1;SK-M 41;Skerry Mass Laboratory;2026-06-01;2028-06-01;90 mg;300 mg;2\nN-10;10 kg;M1;;;;;;;\n";

fn file(folder: &tempfile::TempDir, name: &str, text: &str) -> Step<PathBuf> {
    let path = folder.path().join(name);
    std::fs::write(&path, text)?;
    Ok(path)
}

async fn passwords(page: &Browser, password: &str) -> Step {
    page.fill("#password", password).await?;
    page.fill("#password-again", password).await
}

#[tokio::test]
async fn from_an_empty_database_to_a_workshop_that_works_and_restores() -> Step {
    let (mut stack, link) = Stack::start_bare_over_https().await?;
    let folder = tempfile::tempdir()?;
    let signe = Browser::open(&stack.base, Size(1280, 800)).await?;
    // Nobody is in, and nothing can be seen.
    signe.go("/records").await?;
    signe.shown("#sign-in-name").await?;
    signe.go(&link).await?;
    signe.fill("#workshop", "Nordhamn Scales").await?;
    signe.fill("#name", "Signe Falk").await?;
    signe.fill("#sign_in", SIGNE.0).await?;
    passwords(&signe, SIGNE.1).await?;
    signe.press("Set up the workshop").await?;
    signe.says("h1", "Scales").await?;
    // No script reads the session, and nothing goes over the line in the clear.
    signe.holds("location.protocol === 'https:' && !document.cookie.includes('session')").await?;

    // Its world, by table.
    for (kind, name, text) in [
        ("customers", "customers.csv", CUSTOMERS),
        ("scales", "scales.csv", SCALES),
        ("weights", "weights.csv", WEIGHTS),
    ] {
        signe.go("/import").await?;
        signe.click(&format!("input[value={kind}]")).await?;
        signe.choose_file("#intake-file", &file(&folder, name, text)?).await?;
        signe.press("Import ").await?;
        signe.says("main", &format!("of {name}")).await?;
    }
    signe.go("/weights").await?;
    signe.says("main", "N-20b").await?;

    // A second person, who works and manages nothing.
    signe.go("/people").await?;
    signe.fill("#invite-name", "Odd Vik").await?;
    signe.press("Make an invitation").await?;
    let told = signe.text("[data-testid=link]").await?;
    let path = told.find("/welcome/").map(|at| told[at..].trim().to_owned()).ok_or("no link")?;
    let odd = Browser::open(&stack.base, Size(1280, 800)).await?;
    odd.go(&path).await?;
    odd.fill("#sign_in", ODD.0).await?;
    passwords(&odd, ODD.1).await?;
    odd.press("Join").await?;
    odd.gone("#password-again").await?;
    odd.says("h1", "Scales").await?;
    odd.says("main", "Intake bench").await?;
    for page in ["/people", "/audit"] {
        odd.go(page).await?;
        odd.holds("/another role|for managers/.test(document.querySelector('main').innerText)").await?;
    }

    // A job by hand, from the inspection to a signed record.
    odd.go("/").await?;
    odd.begin_job("am-1").await?;
    odd.look_over_all().await?;
    let job = odd.path().await?.split('/').nth(2).ok_or("no job")?.to_owned();
    odd.go(&format!("/jobs/{job}/close")).await?;
    odd.shown("#seals").await?;
    odd.client.execute("document.querySelector('#stop').closest('details').open = true", Vec::new()).await?;
    odd.fill("#stop", "the hall is closed").await?;
    odd.press("Close without a complete test").await?;
    odd.fill("#seals", "AM 1").await?;
    odd.client
        .execute("document.querySelector('[name=switch-back]:not(:checked)')?.click()", Vec::new())
        .await?;
    odd.press("Save seals").await?;
    odd.sign("not my password").await?;
    odd.says("main", "not your password").await?;
    odd.sign(ODD.1).await?;
    odd.says("h1", "Work record 20").await?;
    odd.close().await?;

    // The backup holds all of it: into an empty database, and on with the work.
    let backup = folder.path().join("nordhamn.backup");
    let path = backup.to_str().ok_or("no path")?;
    let (content, told) = stack.tell(&["backup", path]).await?;
    assert!(content, "{told}");
    stack.move_to_an_empty_database().await?;
    let (content, told) = stack.tell(&["restore", path]).await?;
    assert!(content, "{told}");
    let (content, told) = stack.tell(&["verify"]).await?;
    assert!(content, "{told}");
    stack.start_server().await?;
    signe.go("/").await?;
    // The session came along with everything else.
    signe.says("main", "Intake bench").await?;
    signe.go("/records").await?;
    signe.says("[data-testid=records]", "20").await?;
    signe.go("/people").await?;
    signe.says("main", "Odd Vik").await?;
    signe.go("/audit").await?;
    signe.says("[data-testid=audit]", "Odd Vik").await?;
    signe.close().await?;
    stack.drop_database().await
}
