//! An indicator that nobody wrote a profile for is taught through the page, from nothing, and its sheet then sets it.

use ombret_e2e::{Browser, Client, Size, Stack, Step};
use serde_json::{Value, json};

/// The indicator as it is, which the page never sees: a list on top, questions below, a division by codes, digits from
/// right to left.
const REAL: &str = r#"
format = "ombret.profile"
version = 1
name = "Strandvik M7"
way_in = [{ act = "hold_at_power_on", key = "moon" }]
[keys]
sun = "sun"
moon = "moon"
star = "star"
rain = "rain"
[menu]
style = "list"
next = "moon"
open = "star"
leave = "rain"
yes = "star"
no = "moon"
round = true
[number]
style = "digits"
up = "sun"
left = "moon"
round = true
cursor = "last"
starts = "value"
confirm = "star"
[choice]
next = "moon"
round = true
confirm = "star"
[save]
how = "leaving"
[[group]]
id = "adjust"
label = "trim"
at = 5
questions = true
[[parameter]]
meaning = "unit"
label = "mass"
options = [{ is = "kg", shows = "Kilo" }, { is = "lb", shows = "Pfnd" }]
[[parameter]]
meaning = "division"
label = "stp"
options = [{ is = "0.1", shows = "1" }, { is = "0.2", shows = "2" }, { is = "0.5", shows = "3" }, { is = "1", shows = "4" }]
typed = true
digits = 1
[[parameter]]
meaning = "max"
label = "full"
digits = 5
[[parameter]]
meaning = "other"
label = "hum"
options = [{ is = "a", shows = "low" }, { is = "b", shows = "high" }]
[[parameter]]
meaning = "zero"
label = "nil?"
inside = "adjust"
[[parameter]]
meaning = "span_weight"
label = "put?"
inside = "adjust"
digits = 5
[[parameter]]
meaning = "span"
label = "on?"
inside = "adjust"
"#;

/// Somebody who stands before it.
struct Person<'a> {
    page: &'a Browser,
    client: &'a Client,
    acts: Vec<Value>,
    depth: u64,
    steps: usize,
    /// One item is read wrongly once.
    misread: bool,
    /// The network goes away once, and comes back.
    network: Network,
}

#[derive(PartialEq)]
enum Network {
    There,
    Cut,
    Back,
}

const STEPS: &str = "document.querySelectorAll('.steps li').length";

impl Person<'_> {
    async fn does(&mut self, act: Value) -> Step<Value> {
        self.acts.push(act);
        self.client.post("/api/profiles/run", &json!({"text": REAL, "acts": self.acts})).await
    }

    async fn choose(&self, css: &str, value: &str) -> Step {
        self.page
            .holds(&format!("(() => {{ const s = document.querySelector('{css}'); if (!s) return false; s.value = '{value}'; s.dispatchEvent(new Event('change', {{ bubbles: true }})); return s.value === '{value}' }})()"))
            .await
    }

    async fn stored(&mut self) -> Step {
        self.steps += 1;
        self.page
            .holds(&format!(
                "{STEPS} === {} && document.querySelector('[data-testid=teach-ask]')?.getAttribute('aria-busy') === 'false'",
                self.steps
            ))
            .await
    }

    /// Says what it shows: with the one button where it is as expected, else typed.
    async fn says_what_it_shows(&mut self, view: &Value) -> Step {
        let mut display = view["display"].as_str().unwrap_or_default().to_owned();
        let sort = match view["screen"]["is"].as_str().unwrap_or_default() {
            "item" => {
                let depth = view["screen"]["depth"].as_u64().unwrap_or(0);
                let lies = match depth.cmp(&self.depth) {
                    std::cmp::Ordering::Less => "around",
                    std::cmp::Ordering::Equal => "same",
                    std::cmp::Ordering::Greater => "inside",
                };
                self.depth = depth;
                lies
            }
            other => other,
        };
        let offered = view["screen"]["offered"].as_str().unwrap_or_default().to_owned();
        if !self.misread && self.steps > 40 && display == "full" {
            self.misread = true;
            display = "fuLL".into();
        }
        let expected = "[...document.querySelectorAll('[data-testid=expected]')]";
        let one = format!("{expected}.length === 1 && {expected}[0].innerText.trim() === '{display}'");
        if self.page.client.execute(&format!("return {one}"), Vec::new()).await? == true {
            self.page.click("[data-testid=expected]").await?;
            return self.stored().await;
        }
        self.page.fill("#seen-display", &display).await?;
        self.choose("#seen-sort", sort).await?;
        if let Some(at) = view["blinks"].as_u64() {
            self.page.click(&format!("[data-blink='{at}']")).await?;
        }
        if !offered.is_empty() {
            self.page.fill("#seen-offered", &offered).await?;
        }
        self.page
            .client
            .execute("document.querySelector('#seen-display').form.requestSubmit()", Vec::new())
            .await?;
        self.stored().await
    }

    async fn goes_in(&mut self) -> Step {
        for (css, act) in [
            ("[data-act=power_off]", json!({"act": "power_off"})),
            ("", json!({"act": "hold_at_power_on", "key": "moon"})),
        ] {
            let view = self.does(act).await?;
            if css.is_empty() {
                self.depth = 0;
                self.choose("[name=teach-held]", "moon").await?;
            } else {
                self.page.click(css).await?;
            }
            self.page.shown("#seen-display").await?;
            self.says_what_it_shows(&view).await?;
        }
        Ok(())
    }

    async fn means(&mut self, name: &str) -> Step {
        let meaning = match name {
            "mass" => "unit",
            "stp" => "division",
            "full" => "max",
            "hum" => "unknown",
            "trim" => "list",
            "nil?" => "zero",
            "put?" => "span_weight",
            _ => "span",
        };
        self.choose("#teach-meaning", meaning).await?;
        self.page.click(".ask .btn-next").await?;
        self.stored().await
    }

    /// Does what is asked until nothing is.
    async fn teaches(&mut self) -> Step {
        loop {
            if self.network == Network::There && self.steps >= 12 {
                self.page.offline(true).await?;
                self.network = Network::Cut;
            }
            if self.network == Network::Cut && self.steps >= 20 {
                self.page.says("[data-testid=teach-away]", "every step is kept").await?;
                self.page.snap("teach-away").await?;
                self.page.offline(false).await?;
                self.network = Network::Back;
            }
            let asked =
                self.page.told("document.querySelector('[data-testid=teach-ask]').dataset.ask").await?;
            match asked.as_str() {
                "nothing" => return Ok(()),
                "way_in" => self.goes_in().await?,
                "contradiction" => self.corrects().await?,
                "press" => {
                    let key = self
                        .page
                        .told("document.querySelector('[data-testid=press] kbd')?.innerText ?? ''")
                        .await?;
                    let act = if key.is_empty() {
                        json!({"act": "power_off"})
                    } else {
                        json!({"act": "key", "key": key})
                    };
                    let view = self.does(act).await?;
                    self.says_what_it_shows(&view).await?;
                }
                "item" => {
                    let name = self.page.text(".ask h2").await?;
                    let name = name.split(['“', '”']).nth(1).unwrap_or_default().to_owned();
                    self.means(&name).await?;
                }
                "options" => {
                    self.page.fill("#teach-option-0", "kg").await?;
                    self.page.fill("#teach-option-1", "lb").await?;
                    self.page.click(".ask .btn-next").await?;
                    self.stored().await?;
                }
                "field" => {
                    if self.page.text(".ask h2").await?.contains("stp") {
                        self.page.click("[name=teach-coded]").await?;
                        self.codes().await?;
                    }
                    self.page.click(".ask .btn-next").await?;
                    self.stored().await?;
                }
                "starts" => {
                    self.page.press_exactly("With the value that it holds", ".ask").await?;
                    self.stored().await?;
                }
                "units" | "saving" | "whole" | "right" => {
                    self.page.click(".ask .btn-next").await?;
                    self.stored().await?;
                }
                other => return Err(format!("“{other}” is asked, and nobody knows the answer").into()),
            }
        }
    }

    /// The codes of the division; one that is no figure is refused at its place, and nothing is lost.
    async fn codes(&mut self) -> Step {
        for (row, (typed, is)) in
            [("1", "0.1"), ("2", "a fifth"), ("3", "0.5"), ("4", "1")].iter().enumerate()
        {
            if row > 1 {
                self.page.press_exactly("Another code", ".ask").await?;
            }
            let cell = |at: usize| format!(".ask .row:nth-of-type({}) input:nth-of-type({at})", row + 1);
            self.page.fill(&cell(1), typed).await?;
            self.page.fill(&cell(2), is).await?;
        }
        self.page.click(".ask .btn-next").await?;
        self.page.says(".ask .row:nth-of-type(2) .wrong", "a fifth").await?;
        self.page.fill(".ask .row:nth-of-type(2) input:nth-of-type(2)", "0,2").await
    }

    /// What was read wrongly is pointed at, and said anew.
    async fn corrects(&mut self) -> Step {
        self.page.says(".ask", "That does not fit").await?;
        self.page.says(".ask .note-wrong", "fuLL").await?;
        self.page.says(".steps .clash", "does not fit").await?;
        self.page.snap("teach-contradiction").await?;
        self.page.click(".steps .clash .push").await?;
        self.page.fill(".steps .clash input", "full").await?;
        self.page.click(".steps .clash form button").await?;
        self.page.gone(".steps .clash").await
    }
}

#[tokio::test]
async fn an_indicator_is_taught_from_nothing_and_its_sheet_sets_it() -> Step {
    let stack = Stack::start().await?;
    let folder = tempfile::tempdir()?;
    let page = Browser::open_kept(&stack.base, Size(1280, 800), folder.path()).await?;
    page.go("/").await?;
    page.sign_in("ebba", "level-bubble").await?;
    page.says("h1", "Scales").await?;
    let client = Client::signed_in(&stack.base, "ebba", "level-bubble").await?;
    page.go("/profiles").await?;
    page.press("Teach an indicator").await?;
    page.says(".note-caution", "never on a scale in use").await?;
    page.fill("#teach-name", "Strandvik M7").await?;
    page.fill("#teach-keys", "sun moon star rain").await?;
    page.press("Start").await?;
    page.shown("[data-testid=teach-ask]").await?;
    let mut person = Person {
        page: &page,
        client: &client,
        acts: Vec::new(),
        depth: 0,
        steps: 0,
        misread: false,
        network: Network::There,
    };
    person.goes_in().await?;
    // A closed lid loses nothing.
    page.snap("teach-begun").await?;
    page.go("/profiles").await?;
    page.says("[data-testid=teachings]", "no profile yet").await?;
    page.click("[data-testid=teachings] a").await?;
    page.holds(&format!("{STEPS} === {}", person.steps)).await?;
    person.teaches().await?;
    assert!(person.misread, "something was read wrongly on the way");
    assert!(person.network == Network::Back, "the network went away and came back on the way");
    page.gone("[data-testid=teach-away]").await?;
    page.says("[data-testid=gaps]", "hum").await?;
    page.shown(".machine").await?;
    page.snap("teach-learnt").await?;
    page.press("Save profile").await?;
    page.says("h1", "Strandvik M7").await?;
    page.says(".preview", "A sheet made from it").await?;
    let id = page.path().await?.rsplit('/').next().unwrap_or_default().to_owned();
    let learnt = client.get(&format!("/api/profiles/{id}")).await?;

    // Two plans: that of the preview, and one in pounds.
    let pounds = json!({"unit": "lb", "max": "310", "d": "0.5", "pads": [{"weights": [{"value": "250", "unit": "lb"}]}]});
    let plans = [
        (Value::Null, ["Kilo", "2", "08700", "06000", "captured"]),
        (pounds, ["Pfnd", "3", "03100", "02500", "captured"]),
    ];
    for (plan, wanted) in plans {
        let checked =
            client.post("/api/profiles/check", &json!({"text": learnt["text"], "plan": plan})).await?;
        let steps = checked["sample"]["steps"].as_array().ok_or("no sheet")?.clone();
        let acts: Vec<Value> =
            steps.iter().flat_map(|s| s["acts"].as_array().cloned().unwrap_or_default()).collect();
        let set = client.post("/api/profiles/run", &json!({"text": REAL, "acts": acts})).await?;
        let kept = set["kept"].as_array().ok_or("nothing is kept")?;
        for (meaning, text) in ["unit", "division", "max", "span_weight", "span"].into_iter().zip(wanted) {
            let holds = kept.iter().find(|k| k["meaning"] == meaning).map(|k| k["text"].clone());
            assert_eq!(holds, Some(json!(text)), "{meaning}: {set}");
        }
        assert_eq!(set["screen"]["is"], "weighing");
        assert_eq!(checked["sample"]["cautions"].as_array().map(Vec::len), Some(1), "the gap is marked");
    }

    // On a first visit the scale is keyed by it from then on, and its job goes on.
    page.go("/").await?;
    page.begin_job("baby").await?;
    let job = page.path().await?.split('/').nth(2).unwrap_or_default().to_owned();
    page.go(&format!("/jobs/{job}/set_up")).await?;
    page.shown("a[href*='/profiles/teach']").await?;
    let scale = client.get(&format!("/api/jobs/{job}")).await?["assessment"]["sheet"]["id"].clone();
    let scale = scale.as_str().ok_or("no scale")?;
    page.go(&format!("/profiles/teach/{id}?scale={scale}&job={job}")).await?;
    page.press("Save as a new edition").await?;
    page.holds(&format!("location.pathname === '/jobs/{job}/set_up'")).await?;
    page.gone("a[href*='/profiles/teach']").await?;
    let sheet = client.get(&format!("/api/scales/{scale}")).await?["sheet"].clone();
    assert_eq!(sheet["profile"]["id"], id, "{sheet}");
    assert_eq!(sheet["name"], "Baby scale", "the rest of the sheet stays");
    page.close().await
}
