//! Jobs on scales of several kinds, done in the page from start to end.

use ombret_e2e::{Browser, Size, Stack, Step};

/// Counts typed for a captured point, with the word that the steady sign held.
async fn captured(page: &Browser, counts: &str, action: &str) -> Step {
    page.fill("#counts", counts).await?;
    page.click("[name=steady]").await?;
    page.press(action).await
}

/// Zero and span, typed.
async fn adjusted(page: &Browser, zero: &str, weight: &str, span: &str) -> Step {
    page.says(".says", "capture zero").await?;
    captured(page, zero, "Capture zero").await?;
    page.fill("#span-weight", weight).await?;
    page.says("[data-testid=span-choice]", "error that it may leave").await?;
    page.press("Keyed in").await?;
    page.says(".says", "capture span").await?;
    captured(page, span, "Capture span").await?;
    page.press("Saved in the indicator").await
}

/// A reading of a load in a direction.
async fn read(page: &Browser, load: &str, shown: &str, direction: &str) -> Step {
    page.fill("#reading-load", load).await?;
    page.press(direction).await?;
    page.type_reading(load, shown).await
}

#[tokio::test]
async fn a_scale_on_one_cell_is_read_at_its_quarters_and_a_weak_one_is_named() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("kp-2").await?;
    page.look_over_all().await?;
    page.type_reading("0", "0").await?;
    page.type_reading("60", "60.04").await?;
    page.press("Adjust it").await?;
    page.press("Entered on the indicator").await?;
    adjusted(&page, "20000", "50", "70000").await?;
    page.says(".says", "Leave 50 kg on").await?;
    for (load, shown, direction) in [
        ("50", "50", "Increasing"),
        ("0", "0", "Increasing"),
        ("10", "10", "Increasing"),
        ("32", "32", "Increasing"),
        ("65", "65", "Increasing"),
        ("32", "32", "Decreasing"),
        ("0", "0", "Decreasing"),
    ] {
        read(&page, load, shown, direction).await?;
    }
    page.press("Eccentricity (corners)").await?;
    page.fill("#test-load", "20").await?;
    for (place, shown) in [
        ("in the middle", "20"),
        ("front left", "20.02"),
        ("rear right", "20.00"),
        ("front right", "20.00"),
        ("rear left", "20.80"),
    ] {
        page.says("[data-testid=spot]", place).await?;
        let before = page.entries().await?;
        page.fill("#test-shown", shown).await?;
        page.enter().await?;
        page.grows_past(before).await?;
    }
    page.says(".test", "Outside at rear left").await?;
    // What is out of tolerance is said first, with what can be done about it.
    page.says(".says", "Out of tolerance").await?;
    page.says("[data-testid=out-of-tolerance]", "Inspect and repair").await?;
    page.snap("one-cell").await?;
    page.close().await
}

#[tokio::test]
async fn a_factor_is_keyed_by_the_profile_with_the_decimals_of_its_field() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("sp-1").await?;
    page.look_over_all().await?;
    for (load, shown) in [("0", "0"), ("300", "297"), ("600", "594")] {
        page.type_reading(load, shown).await?;
    }
    page.press("Adjust it").await?;
    page.click(".course li:nth-child(4) a").await?;
    page.click(".ways summary").await?;
    page.press("Correction factor").await?;
    for nonsense in ["abc", "0", "-3"] {
        page.fill("#way-old", nonsense).await?;
        page.fill("#way-load", "600").await?;
        page.fill("#way-shown", "594").await?;
        page.says(".ways .wrong", " ").await?;
    }
    page.fill("#way-old", "1").await?;
    page.says("[data-testid=way-would]", "factor 1 → 1.0101").await?;
    // The indicator's own field says how many decimals; nobody is asked for them.
    page.gone("#way-decimals").await?;
    page.says("[aria-label='Keys for this step']", "Correction factor").await?;
    page.snap("factor-keys").await?;
    page.press("Entered in the indicator").await?;
    page.says(".side", "New factor").await?;
    page.holds(
        "![...document.querySelectorAll('.side th')].some(th => ['Zero', 'Span'].includes(th.innerText))",
    )
    .await?;
    page.close().await
}

#[tokio::test]
async fn descending_loads_carry_their_pieces_up_to_a_calibration_certificate() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("kelp").await?;
    page.look_over_all().await?;
    page.type_reading("0", "0").await?;
    page.type_reading("725", "726").await?;
    page.press("Adjust it").await?;
    page.press("Entered on the indicator").await?;
    page.says(".says", "capture zero").await?;
    captured(&page, "88040", "Capture zero").await?;
    page.fill("#span-weight", "1000").await?;
    page.says("[data-testid=span-choice]", "made of").await?;
    page.press("Keyed in").await?;
    page.says(".says", "capture span").await?;
    captured(&page, "288040", "Capture span").await?;
    page.press("Saved in the indicator").await?;
    // Every load of the list as it stands there: what is shown is what is put on.
    page.says(".says", "Leave 1000 kg on").await?;
    let next = "document.querySelector('[data-testid=load-list] li.next[data-purpose=load]')";
    loop {
        page.holds("!document.querySelector('.says')?.innerText.includes('Working out')").await?;
        if page.client.execute(&format!("return Boolean({next})"), Vec::new()).await? != true {
            break;
        }
        // The tab does not call the loads done while the list asks for one.
        page.holds(&format!("!{next} || !/Loads\\s+done/.test(document.querySelector('.tabs').innerText)"))
            .await?;
        let before = page.entries().await?;
        let load = page.value("#reading-load").await?;
        page.fill("#reading-shown", &load).await?;
        page.says("[data-testid=preview]", "±").await?;
        // What a person sees before Enter: the pieces that lie there.
        page.holds("document.querySelector('#reading-load').value === '0' || !document.querySelector('#main').innerText.includes('no pieces named')").await?;
        page.enter().await?;
        page.grows_past(before).await?;
    }
    page.says(".journal", "Test").await?;
    page.press("entries").await?;
    page.holds(
        "[...document.querySelectorAll('.journal li')].some(li => /Test: [1-9][\\d.]* kg on \\(.+\\), .* shown.*decreasing|Test: [1-9][\\d.]* kg on \\(.+\\), .*decreasing/.test(li.innerText))",
    )
    .await?;
    page.to_close().await?;
    page.fill("[name=temperature]", "19.5").await?;
    page.press("Save conditions").await?;
    page.click("[name=switch-back]").await?;
    page.press("Save seals").await?;
    page.sign("level-bubble").await?;
    page.says("h1", "Work record 20").await?;
    // Nothing but the approval is missing for a calibration certificate.
    page.says(".why", "no calibration certificate: it is not approved").await?;
    let record = page.path().await?;
    let maren = Browser::open(&stack.base, Size(1280, 800)).await?;
    maren.go("/").await?;
    maren.sign_in("maren", "second-look").await?;
    maren.says("h1", "Scales").await?;
    maren.go(&record).await?;
    maren.press("Approve").await?;
    maren.says(".review", "Approved by Maren Holt").await?;
    maren.says(".tools", "Certificate (PDF)").await?;
    maren.says(".foot", "A calibration certificate of this record can be issued").await?;
    maren.close().await?;
    page.close().await
}

#[tokio::test]
async fn a_first_visit_to_a_scale_of_two_ranges_is_judged_by_the_finer_one() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.press("New scale").await?;
    page.fill("#name", "Oyster bench").await?;
    page.fill("#owner", "Sound Shellfish").await?;
    page.fill("#plate_max", "60").await?;
    page.fill("#plate_d", "0.02").await?;
    page.click("[aria-label='How its ranges work']").await?;
    page.wait_and_click_text("[role=option]", "multi-interval").await?;
    page.fill("#fine_max", "30").await?;
    page.fill("#fine_d", "0.01").await?;
    page.press("Add the scale").await?;
    page.says("h1", "Oyster bench").await?;
    page.press("Back to the scales").await?;
    page.begin_job("oyster").await?;
    page.look_over_all().await?;
    // One load below and one above the change are on the list.
    page.says("[data-testid=load-list]", "just below the change of range").await?;
    page.says("[data-testid=load-list]", "just above the change of range").await?;
    // In the finer range its division counts; above it the coarser one.
    page.says("#reading-shown-hint", "0.01 kg up to 30 kg, of 0.02 kg above").await?;
    page.type_reading("0", "0").await?;
    page.type_reading("29", "29.01").await?;
    page.fill("#reading-load", "50").await?;
    page.fill("#reading-shown", "50.01").await?;
    page.says("#reading-shown-hint", "no multiple of the division").await?;
    page.type_reading("50", "50.02").await?;
    page.snap("two-ranges").await?;
    page.close().await
}

#[tokio::test]
async fn two_pads_of_four_are_adjusted_and_the_total_is_read_before_anything_is_in_tolerance() -> Step {
    let stack = Stack::start().await?;
    let page = Browser::signed_in(&stack).await?;
    page.begin_job("lp-4").await?;
    page.look_over_all().await?;
    for pad in ["1", "2", "3", "4"] {
        for load in ["0", "2800"] {
            page.choose_pad(pad).await?;
            let shown = if load == "2800" && (pad == "2" || pad == "4") { "2820" } else { load };
            page.type_reading(load, shown).await?;
        }
    }
    page.press("Adjust it").await?;
    page.press("Entered on the indicator").await?;
    for pad in ["1", "2", "3", "4"] {
        page.says("h2", &format!("pad {pad}")).await?;
        if pad == "2" || pad == "4" {
            adjusted(&page, "20000", "2000", "220000").await?;
        } else {
            page.fill("#leave-pad", "reads right").await?;
            page.press(&format!("Leave pad {pad} as it is")).await?;
        }
    }
    page.says(".course", "2 of 4 pads saved").await?;
    page.holds("!document.body.innerText.includes('pad 0')").await?;
    page.says("[data-testid=load-list]", "all pads").await?;
    page.says(".verdict, .row", "Not proven").await?;
    page.snap("four-pads-two").await?;
    page.close().await
}
