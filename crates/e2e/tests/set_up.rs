//! Set up: judged before it is keyed, keyed without the manual.

use base64::Engine;
use fantoccini::Locator;
use ombret_e2e::{Browser, Size, Stack, Step};
use serde_json::Value;

async fn start(stack: &Stack) -> Step<Browser> {
    let page = Browser::open(&stack.base, Size(1280, 800)).await?;
    page.go("/").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    Ok(page)
}

/// Begins a job on a scale and goes to its set-up.
async fn set_up(page: &Browser, search: &str) -> Step<String> {
    page.begin_job(search).await?;
    let job =
        page.client.current_url().await?.path().split('/').nth(2).ok_or("no job in the address")?.to_owned();
    page.go(&format!("/jobs/{job}/set_up")).await?;
    page.shown("#setup-max").await?;
    Ok(job)
}

async fn choose(page: &Browser, label: &str, option: &str) -> Step {
    page.click(&format!("[aria-label='{label}']")).await?;
    page.wait_and_click_text(".select-option", option).await
}

#[tokio::test]
async fn a_set_up_is_judged_as_one_types_and_an_alternative_is_taken() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    let job = set_up(&page, "wt-07").await?;
    page.says("figcaption", "headroom above Max").await?;
    page.snap("set-up-wool").await?;

    // Finer than the plate and the cells allow: every finding says so, in a word.
    page.fill("#setup-d", "0.05").await?;
    page.says(".overall", "REFUSED").await?;
    page.says("summary", "too coarse for 0.05 kg").await?;
    page.says("summary", "less than half of the plate").await?;
    page.click("[aria-label='Take 0.5 kg']").await?;
    page.says(".n", "1740 divisions").await?;
    page.says(".overall", "sound").await?;

    // Two ranges, each judged.
    choose(&page, "Ranges", "multi-interval").await?;
    page.fill("#setup-fine-max", "500").await?;
    page.fill("#setup-fine-d", "0.2").await?;
    page.says("summary", "every interval is long enough").await?;
    // The profile of this indicator knows no ranges: said before anybody drives there.
    page.says("[data-testid=cannot]", "one range only").await?;
    page.snap("set-up-cannot").await?;
    choose(&page, "Ranges", "single range").await?;

    // Adjusted far from where it stands.
    choose(&page, "Adjusted", "Fathom ferry, mainland").await?;
    page.says("summary", "adjust it where it stands, or enter g =").await?;
    page.fill("#setup-g", "98.1").await?;
    page.says(".wrong", "9.7 and 9.9").await?;
    page.fill("#setup-g", "9,81742").await?;
    page.says("summary", "the g entered").await?;
    page.says("summary", "nothing needed").await?;
    choose(&page, "Adjusted", "where it stands").await?;

    // Counters and a set-up that changes between zero and span.
    page.fill("[aria-label='Setup counter']", "x").await?;
    page.press("Save counters").await?;
    page.says(".counters .wrong", "no counter").await?;
    page.fill("[aria-label='Setup counter']", "14").await?;
    page.press("Save counters").await?;
    page.says(".journal", "Counters: setup 14").await?;
    page.press("Entered on the indicator").await?;
    page.says(".journal", "Setup: Max 870 kg, division 0.5 kg").await?;
    page.go(&format!("/jobs/{job}/look_over")).await?;
    page.look_over_all().await?;
    page.go(&format!("/jobs/{job}/zero_and_span")).await?;
    page.says("h2", "Keys, Korrin P4").await?;
    page.says(".moves", "B1 Nil").await?;
    page.snap("zero-keys").await?;
    page.close().await
}

#[tokio::test]
async fn a_keying_sheet_is_walked_by_enter_and_ends_in_the_journal() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    let job = set_up(&page, "cb-31").await?;
    page.press("Key it in").await?;
    page.says("[data-testid=key-strip]", "Into the setup").await?;
    page.snap("key-strip").await?;
    // What the display shows, looked up with one key.
    page.client.execute("document.activeElement.blur()", Vec::new()).await?;
    page.keys("d").await?;
    page.says("[data-testid=messages]", "more!").await?;
    page.fill("[aria-label='What the display shows']", "still").await?;
    page.holds("document.querySelectorAll('[data-testid=messages] li').length === 1").await?;
    page.snap("messages").await?;
    page.client.active_element().await?.send_keys("\u{E00C}").await?;
    page.gone(".dialog").await?;
    let steps: usize =
        page.text("[data-testid=key-at]").await?.split(' ').next_back().ok_or("no count")?.parse()?;
    for step in 1..=steps {
        page.says("[data-testid=key-at]", &format!("{step} of {steps}")).await?;
        if step == 2 {
            // Where it stands survives a reload.
            page.client.refresh().await?;
            page.says("[data-testid=key-at]", &format!("2 of {steps}")).await?;
        }
        page.click("[data-testid=key-strip] button[type=submit]").await?;
    }
    page.says(".journal", "Setup: Max 34 kg, division 0.01 kg").await?;

    // On paper: one sheet.
    page.go(&format!("/jobs/{job}/keying")).await?;
    page.fill("#weights", "30").await?;
    page.says(".steps", "Span weight 30 kg").await?;
    page.snap("keying-sheet").await?;
    page.holds("document.fonts.status === 'loaded'").await?;
    let pdf = base64::engine::general_purpose::STANDARD.decode(page.printed().await?)?;
    assert!(String::from_utf8_lossy(&pdf).contains("/Count 1"), "more than one page");

    // The longest there is: four pads in turn.
    page.go("/").await?;
    let job = set_up(&page, "lp-4").await?;
    page.press("Entered on the indicator").await?;
    page.says(".journal", "Setup on every pad").await?;
    page.go(&format!("/jobs/{job}/keying")).await?;
    page.fill("#weights", "4000").await?;
    page.says(".steps", "Span weight 4000 kg, pad 4").await?;
    page.snap("keying-pads").await?;
    page.holds("document.fonts.status === 'loaded'").await?;
    let pdf = base64::engine::general_purpose::STANDARD.decode(page.printed().await?)?;
    if let Ok(folder) = std::env::var("OMBRET_PICTURES") {
        std::fs::write(format!("{folder}/keying-pads.pdf"), &pdf)?;
    }
    assert!(String::from_utf8_lossy(&pdf).contains("/Count 1"), "more than one page for four pads");
    page.close().await
}

/// Does at the virtual indicator, by clicks, what an act of the sheet says.
async fn do_by_hand(page: &Browser, act: &Value) -> Step {
    let key = act["key"].as_str().unwrap_or_default();
    match act["act"].as_str().unwrap_or_default() {
        "key" => {
            let script = "const key = arguments[0]; const all = [...document.querySelectorAll('.machine [data-key]')]; \
                          const found = all.find(b => b.dataset.key === key) ?? [...document.querySelectorAll('.machine .buttons button')].find(b => b.innerText === key); \
                          found.click(); return true";
            page.client.execute(script, vec![key.into()]).await?;
        }
        "power_off" => page.press("Power off").await?,
        "power_on" => page.press("Power on").await?,
        "hold_at_power_on" => {
            page.click(&format!(".machine [data-key='{key}']")).await?;
            page.press("Power on, holding").await?;
        }
        "load" => page.press("Put ").await?,
        "unload" => page.press("Empty the platform").await?,
        other => return Err(format!("no hand for {other}").into()),
    }
    Ok(())
}

#[tokio::test]
async fn the_virtual_indicator_is_played_to_the_planned_state() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    let job = set_up(&page, "kp-2").await?;
    page.press("Entered on the indicator").await?;
    page.says(".journal", "Setup: Max 65 kg").await?;
    page.go(&format!("/jobs/{job}/keying")).await?;
    page.fill("#weights", "50").await?;
    page.says(".steps", "Span weight 50 kg").await?;
    let script = "const [job, done] = arguments; fetch(`/api/jobs/${job}/keying`, {method: 'POST', headers: {'content-type': 'application/json'}, body: JSON.stringify({setup: null, weights: ['50']})}).then(r => r.json()).then(done)";
    let keyed = page.client.execute_async(script, vec![job.clone().into()]).await?;
    let steps = keyed["sheet"]["steps"].as_array().ok_or("no steps")?.clone();
    for step in &steps {
        for act in step["acts"].as_array().ok_or("no acts")? {
            do_by_hand(&page, act).await?;
        }
        let then = step["moves"]
            .as_array()
            .and_then(|m| m.last())
            .and_then(|m| m["then"].as_str())
            .unwrap_or_default()
            .to_owned();
        page.says("[data-testid=machine-display]", then.trim()).await?;
    }
    page.says("[data-kept=max]", "06500").await?;
    page.says("[data-kept=division]", "0.02?").await?;
    page.says("[data-kept=span_weight]", "05000").await?;
    page.says("[data-kept=span]", "captured").await?;
    page.snap("machine").await?;

    // Whoever keyed by the sheet says whether it was right.
    page.press("Differed here").await?;
    page.click("[data-testid=proof] form [type=submit]").await?;
    page.says("[data-testid=proof] .wrong", "say at which item").await?;
    page.client.execute("const s = document.getElementById('proof-item'); s.value = s.options[1].value; s.dispatchEvent(new Event('change', { bubbles: true }))", Vec::new()).await?;
    page.fill("#proof-shown", "PLATFO").await?;
    page.click("[data-testid=proof] form [type=submit]").await?;
    page.says("[data-testid=proof] .note-caution", "PLATFO").await?;
    page.press_exactly("As it said", "[data-testid=proof]").await?;
    page.says("[data-testid=proof]", "As it said, to the end").await?;
    page.snap("proof").await?;
    page.go("/profiles").await?;
    page.says("tbody", "differed at one item").await?;
    page.says("tbody", "never proved").await?;
    page.snap("catalogue").await?;

    // What the profile does not know is added where it was met.
    page.go(&format!("/jobs/{job}/set_up")).await?;
    page.press("What does it show?").await?;
    page.fill("[aria-label='What the display shows']", "HOLD 5").await?;
    page.says("[role=status]", "knows no such message").await?;
    page.click("[data-testid=add-message]").await?;
    page.client.execute("const s = document.getElementById('message-meaning'); s.value = 'working'; s.dispatchEvent(new Event('change', { bubbles: true }))", Vec::new()).await?;
    page.press("Save in the profile").await?;
    page.says("[data-testid=messages]", "HOLD 5").await?;
    page.snap("message-added").await?;
    page.close().await
}

#[tokio::test]
async fn a_broken_profile_is_refused_by_line_and_a_good_one_is_taken_in_and_edited() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    page.press("Profiles").await?;
    page.says("tbody", "Korrin P4").await?;
    page.snap("profiles").await?;
    let text =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/profiles/sollen-k2.toml"))?;
    let folder = std::env::temp_dir().join(uuid::Uuid::new_v4().to_string());
    std::fs::create_dir_all(&folder)?;
    let take = async |name: &str, text: &str| -> Step {
        let path = folder.join(name);
        std::fs::write(&path, text)?;
        page.client
            .find(Locator::Css("input[type=file]"))
            .await?
            .send_keys(path.to_str().ok_or("an odd path")?)
            .await?;
        Ok(())
    };
    take("twice.toml", &text.replacen("code = \"12\"", "code = \"11\"", 1)).await?;
    page.says("[data-testid=problems]", "given to “Unit” already").await?;
    page.says("[data-testid=problems]", "line ").await?;
    take("..odd.toml", &text).await?;
    page.says(".note-wrong", "no name of a profile's file").await?;
    take("mine.toml", &text.replacen("name = \"Sollen K2\"", "name = \"Sollen K2, back office\"", 1)).await?;
    page.says("h1", "Sollen K2, back office").await?;
    std::fs::remove_dir_all(&folder)?;

    // Edited in the page: errors by line as one types, kept as a new edition.
    page.says("[role=status]", "Nothing is wrong with it").await?;
    page.snap("profile").await?;
    let line = |wanted: &str| text.lines().position(|l| l == wanted).map_or(0, |at| at + 1);
    let on = line("meaning = \"zero\"");
    assert!(on > 0);
    let here = page.path().await?;
    page.go(&format!("{here}?view=text&line={on}")).await?;
    page.shown("#profile-text").await?;
    page.holds("window.getSelection().toString().includes('zero')").await?;
    page.keys("meaning = \"tare\"").await?;
    page.says("[data-testid=problems]", "“tare” is not known here").await?;
    page.snap("profile-wrong").await?;
    page.press(&format!("line {on}")).await?;
    page.holds("window.getSelection().toString().includes('tare')").await?;
    page.keys("meaning = \"zero\" # as it is").await?;
    page.press("Save as a new edition").await?;
    page.says(".quiet", "edition 2").await?;
    assert_eq!(stack.count("select count(*) from profile_edition e join profile p on p.id = e.profile_id where p.name like '%back office'").await?, 2);

    // In the form: what is wrong is told at its field, and comments of the text stay.
    page.click("[data-view=form]").await?;
    page.says("[data-item='0']", "Unit").await?;
    page.click("[data-item='0'] button").await?;
    page.fill("#item-label", "").await?;
    page.says("#item-label-wrong", "is empty").await?;
    page.fill("#item-label", "Unit shown").await?;
    page.gone("#item-label-wrong").await?;
    page.press("Add message").await?;
    page.says("[data-message]:last-of-type", "is empty").await?;
    page.fill("[data-message]:last-of-type input", "HOLD 5").await?;
    page.says("[role=status]", "Nothing is wrong with it").await?;
    page.snap("profile-form").await?;
    page.press("Save as a new edition").await?;
    page.says(".quiet", "edition 3").await?;
    let kept = stack.text("select text from profile where name like '%back office'").await?;
    assert!(kept.contains("\"Unit shown\"") && kept.contains("\"HOLD 5\""), "{kept}");
    let comments = |text: &str| text.lines().filter(|l| l.starts_with('#')).count();
    assert_eq!(comments(&kept), comments(&text), "a comment is gone");

    // Against its first edition; one part is taken back.
    page.click("[data-view=compare]").await?;
    page.shown("#compare-with option[value='edition 1']").await?;
    page.client.execute("const s = document.getElementById('compare-with'); s.value = 'edition 1'; s.dispatchEvent(new Event('change', { bubbles: true }))", Vec::new()).await?;
    page.says("[data-testid=compare]", "Unit shown").await?;
    page.says("[data-testid=compare]", "Message HOLD 5").await?;
    page.snap("profile-compare").await?;
    page.click("[data-take='0']").await?;
    page.press("Take over one part").await?;
    page.says("[data-testid=compare] [role=status]", "One part taken over").await?;
    page.press("Save as a new edition").await?;
    page.says(".quiet", "edition 4").await?;
    let kept = stack.text("select text from profile where name like '%back office'").await?;
    assert!(!kept.contains("\"Unit shown\"") && kept.contains("\"HOLD 5\""), "{kept}");
    page.close().await
}

#[tokio::test]
async fn the_desk_answers_as_one_types_and_the_address_is_a_link_to_the_sum() -> Step {
    let stack = Stack::start().await?;
    let page = start(&stack).await?;
    page.press("Calculators").await?;
    page.says("[data-testid=desk-says]", "4350 divisions").await?;
    page.snap("desk").await?;
    page.press("Digits").await?;
    page.says("[data-testid=desk-says]", "keyed in as 007500").await?;
    page.fill("#desk-value", "12.3456").await?;
    page.says(".wrong", "last").await?;
    page.fill("#desk-value", "12,345").await?;
    page.says("[data-testid=desk-says]", "keyed in as 012345").await?;
    let link = page.client.current_url().await?;
    page.go("/calculators/gravity").await?;
    page.says("[data-testid=desk-says]", "at Max").await?;
    page.client.goto(link.as_str()).await?;
    page.says("[data-testid=desk-says]", "keyed in as 012345").await?;
    page.go("/desk/signal").await?;
    page.shown("figure svg").await?;
    page.snap("desk-signal").await?;
    page.close().await
}
