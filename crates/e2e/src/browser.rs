//! A headless Chromium behind ChromeDriver, with the few movements that a person makes.

use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use fantoccini::elements::Element;
use fantoccini::key::Key;
use fantoccini::wd::{Capabilities, WebDriverCompatibleCommand};
use fantoccini::{Client, ClientBuilder, Locator};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};
use url::Url;

use crate::{Fault, Step};

/// How long a condition may take to come true. Far above what it takes, for slow machines.
const PATIENCE: Duration = Duration::from_secs(60);
/// Between two looks: at first what just comes is seen at once, later the looking leaves the machine to the page.
const PAUSE: Duration = Duration::from_millis(30);
const LONGEST_PAUSE: Duration = Duration::from_millis(240);

/// Size of the page.
#[derive(Clone, Copy, Debug)]
pub struct Size(pub u32, pub u32);

/// Light or dark.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Look {
    /// Light.
    Light,
    /// Dark.
    Dark,
}

/// A browser with one page.
pub struct Browser {
    /// The driver's client, for what is not wrapped here.
    pub client: Client,
    base: String,
    /// Closing this pipe ends the driver and every browser process, also after a panic.
    _driver: Driver,
}

struct Driver(Child);

impl Drop for Driver {
    fn drop(&mut self) {
        drop(self.0.stdin.take());
        let _ = self.0.wait();
    }
}

/// A command of the browser's own protocol.
#[derive(Debug)]
struct Cdp(Value);

impl WebDriverCompatibleCommand for Cdp {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(self.0.to_string()))
    }
}

fn start_driver() -> Step<(Driver, u16)> {
    // The shell outlives the driver by nothing: when our end of its input closes, it ends the whole group. Only the
    // driver writes to our end of the output: where it dies as it starts, the output ends.
    let script = r#"chromedriver --port=0 </dev/null & exec >/dev/null; cat; trap "" TERM; kill -TERM 0; sleep 0.3; rm -rf "$TMPDIR"; kill -KILL 0"#;
    let scratch = std::env::temp_dir().join(format!("ombret-e2e-{}", uuid::Uuid::new_v4()));
    std::fs::create_dir_all(&scratch)?;
    let mut child = Command::new("sh")
        .args(["-c", script])
        .env("TMPDIR", &scratch)
        .env("HOME", &scratch)
        .process_group(0)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()?;
    let mut lines = BufReader::new(child.stdout.take().ok_or("no output")?).lines();
    let driver = Driver(child);
    for line in lines.by_ref() {
        let line = line?;
        if let Some(port) = line.split("on port ").nth(1).filter(|_| line.contains("started successfully")) {
            let port = port.trim_end_matches('.').parse()?;
            std::thread::spawn(move || lines.for_each(drop));
            return Ok((driver, port));
        }
    }
    Err("chromedriver did not start".into())
}

fn capabilities(kept: Option<&std::path::Path>) -> Capabilities {
    let args = [
        "--headless=new",
        "--no-sandbox",
        "--disable-dev-shm-usage",
        "--disable-gpu",
        "--disable-quic",
        "--window-size=1280,800",
        "--force-device-scale-factor=1",
        "--hide-scrollbars",
        "--lang=en-US",
        "--no-first-run",
        "--no-default-browser-check",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-extensions",
        "--mute-audio",
        "--force-prefers-reduced-motion",
    ];
    let kept = kept.map(|folder| format!("--user-data-dir={}", folder.display()));
    let args: Vec<String> = args.into_iter().map(str::to_owned).chain(kept).collect();
    let mut out = Capabilities::new();
    out.insert("goog:chromeOptions".into(), json!({"binary": "/usr/bin/chromium", "args": args}));
    // A server of the tests may have a certificate that nobody signed but itself.
    out.insert("acceptInsecureCerts".into(), json!(true));
    out
}

impl Browser {
    /// Opens a browser on the program at `base`. It keeps nothing of it for work without a network: fetching all of
    /// that would be half of what a short test does.
    ///
    /// # Errors
    /// Where the driver or the browser does not start.
    pub async fn open(base: &str, size: Size) -> Step<Self> {
        Self::open_with(base, size, None).await
    }

    /// The same with what a browser keeps in a folder: one that is opened on it again is the same device.
    ///
    /// # Errors
    /// Where the driver or the browser does not start.
    pub async fn open_kept(base: &str, size: Size, folder: &std::path::Path) -> Step<Self> {
        Self::open_with(base, size, Some(folder)).await
    }

    async fn open_with(base: &str, size: Size, kept: Option<&std::path::Path>) -> Step<Self> {
        // On a busy machine a driver may find the port taken that it was given.
        let started = || async { tokio::task::spawn_blocking(start_driver).await? };
        let (driver, port) = match started().await {
            Ok(started) => started,
            Err(_) => started().await?,
        };
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(capabilities(kept))
            .connect(&format!("http://127.0.0.1:{port}"))
            .await?;
        let browser = Self { client, base: base.to_owned(), _driver: driver };
        browser.resize(size).await?;
        if kept.is_none() {
            let source = json!({"source": "delete Navigator.prototype.serviceWorker"});
            browser.cdp("Page.addScriptToEvaluateOnNewDocument", source).await?;
        }
        Ok(browser)
    }

    /// Sets the size of the page exactly.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn resize(&self, size: Size) -> Step {
        let params = json!({"width": size.0, "height": size.1, "deviceScaleFactor": 1, "mobile": false});
        self.cdp("Emulation.setDeviceMetricsOverride", params).await.map(drop)
    }

    async fn cdp(&self, command: &str, params: Value) -> Step<Value> {
        Ok(self.client.issue_cmd(Cdp(json!({"cmd": command, "params": params}))).await?)
    }

    /// Cuts the page off the network, or joins it again.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn offline(&self, cut: bool) -> Step {
        let params = json!({"offline": cut, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        self.cdp("Network.enable", json!({})).await?;
        self.cdp("Network.emulateNetworkConditions", params).await.map(drop)
    }

    /// Empties the browser's cache, as on a first visit.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn forget_cache(&self) -> Step {
        self.cdp("Network.clearBrowserCache", json!({})).await.map(drop)
    }

    /// Chooses the look that the system asks for.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn look(&self, look: Look, print: bool) -> Step {
        let scheme = if look == Look::Dark { "dark" } else { "light" };
        let media = if print { "print" } else { "" };
        let params = json!({"media": media, "features": [{"name": "prefers-color-scheme", "value": scheme}]});
        self.cdp("Emulation.setEmulatedMedia", params).await.map(drop)
    }

    /// The page printed, as PDF bytes in base64.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn printed(&self) -> Step<String> {
        let printed =
            self.cdp("Page.printToPDF", json!({"preferCSSPageSize": true, "printBackground": true})).await?;
        Ok(printed["data"].as_str().ok_or("nothing printed")?.to_owned())
    }

    /// What a script in the page comes to, as text; a promise is waited for.
    ///
    /// # Errors
    /// Where the script fails, or comes to no text.
    pub async fn told(&self, script: &str) -> Step<String> {
        let told = self.client.execute(&format!("return {script}"), Vec::new()).await?;
        Ok(told.as_str().ok_or_else(|| format!("{script} is {told}"))?.to_owned())
    }

    /// The path of the page.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn path(&self) -> Step<String> {
        self.told("location.pathname").await
    }

    /// Gives a file to an input.
    ///
    /// # Errors
    /// Where there is no such input.
    pub async fn choose_file(&self, css: &str, file: &std::path::Path) -> Step {
        // A file input is hidden behind its label: it is there, and never shown.
        self.holds(&format!("document.querySelector('{css}:not(:disabled)')")).await?;
        Ok(self.client.find(Locator::Css(css)).await?.send_keys(file.to_str().ok_or("an odd path")?).await?)
    }

    /// Goes to a path.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn go(&self, path: &str) -> Step {
        Ok(self.client.goto(&format!("{}{path}", self.base)).await?)
    }

    /// Waits until `found` gives something; says what was waited for if it never does.
    async fn wait<T, F: Future<Output = Step<Option<T>>>>(
        &self,
        what: &str,
        mut look: impl FnMut() -> F,
    ) -> Step<T> {
        let began = Instant::now();
        let (mut last, mut pause): (Option<Fault>, _) = (None, PAUSE);
        while began.elapsed() < PATIENCE {
            match look().await {
                Ok(Some(found)) => return Ok(found),
                Ok(None) => {}
                // An element may vanish between finding and reading it: look again.
                Err(error) => last = Some(error),
            }
            tokio::time::sleep(pause).await;
            pause = (pause * 3 / 2).min(LONGEST_PAUSE);
        }
        let page = self.client.find(Locator::Css("body")).await?.text().await.unwrap_or_default();
        Err(format!(
            "waited in vain for {what}{}; the page says:\n{page}",
            last.map_or_else(String::new, |e| format!(" ({e})"))
        )
        .into())
    }

    /// The first element that is shown, once it is there.
    ///
    /// # Errors
    /// Where it never comes.
    pub async fn shown(&self, css: &str) -> Step<Element> {
        self.wait(&format!("“{css}” to be shown"), || async {
            for element in self.client.find_all(Locator::Css(css)).await? {
                if element.is_displayed().await? {
                    return Ok(Some(element));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Waits until no such element is there.
    ///
    /// # Errors
    /// Where it stays.
    pub async fn gone(&self, css: &str) -> Step {
        self.wait(&format!("“{css}” to go"), || async {
            Ok(self.client.find_all(Locator::Css(css)).await?.is_empty().then_some(()))
        })
        .await
    }

    /// Waits until an element contains a text.
    ///
    /// # Errors
    /// Where it never does.
    pub async fn says(&self, css: &str, text: &str) -> Step {
        self.wait(&format!("“{css}” to say “{text}”"), || async {
            for element in self.client.find_all(Locator::Css(css)).await? {
                if element.text().await?.contains(text) {
                    return Ok(Some(()));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Waits until a script gives true.
    ///
    /// # Errors
    /// Where it never does.
    pub async fn holds(&self, script: &str) -> Step {
        self.wait(&format!("{script} to hold"), || async {
            Ok((self.client.execute(&format!("return Boolean({script})"), Vec::new()).await?
                == Value::Bool(true))
            .then_some(()))
        })
        .await
    }

    /// Clicks an element once it can be clicked.
    ///
    /// # Errors
    /// Where it never can.
    pub async fn click(&self, css: &str) -> Step {
        self.wait(&format!("“{css}” to be clicked"), || async {
            for element in self.client.find_all(Locator::Css(css)).await? {
                if element.is_displayed().await? && element.is_enabled().await? {
                    element.click().await?;
                    return Ok(Some(()));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Clicks a button or link by its words.
    ///
    /// # Errors
    /// Where it never can be.
    pub async fn press(&self, words: &str) -> Step {
        let path = format!(
            "//*[self::button or self::a][contains(normalize-space(.), {words:?}) and not(@disabled)]"
        );
        self.wait(&format!("“{words}” to be pressed"), || async {
            for element in self.client.find_all(Locator::XPath(&path)).await? {
                if element.is_displayed().await? {
                    element.click().await?;
                    return Ok(Some(()));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Clicks the element of a sort that has just this text.
    ///
    /// # Errors
    /// Where it never comes.
    pub async fn wait_and_click_text(&self, css: &str, text: &str) -> Step {
        self.wait(&format!("“{text}” among “{css}”"), || async {
            for element in self.client.find_all(Locator::Css(css)).await? {
                if element.text().await? == text {
                    element.click().await?;
                    return Ok(Some(()));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Clicks the button whose words are exactly these, inside an element.
    ///
    /// # Errors
    /// Where it never can be.
    pub async fn press_exactly(&self, words: &str, inside: &str) -> Step {
        self.wait(&format!("“{words}” in “{inside}” to be pressed"), || async {
            for element in self.client.find_all(Locator::Css(&format!("{inside} button"))).await? {
                if element.text().await? == words && element.is_enabled().await? {
                    element.click().await?;
                    return Ok(Some(()));
                }
            }
            Ok(None)
        })
        .await
    }

    /// Replaces what a field holds.
    ///
    /// # Errors
    /// Where there is no such field.
    pub async fn fill(&self, css: &str, text: &str) -> Step {
        self.wait(&format!("“{css}” to be filled"), || async {
            let field = self.shown(css).await?;
            if !field.is_enabled().await? {
                return Ok(None);
            }
            let whole = format!("{}{}", Key::Control + "a", char::from(Key::Null));
            field.send_keys(&whole).await?;
            field.send_keys(&format!("{}{text}", char::from(Key::Delete))).await?;
            let now = field.prop("value").await?.unwrap_or_default();
            Ok((now == text).then_some(()))
        })
        .await
    }

    /// Types keys where the focus is.
    ///
    /// # Errors
    /// Where nothing has the focus.
    pub async fn keys(&self, keys: &str) -> Step {
        Ok(self.client.active_element().await?.send_keys(keys).await?)
    }

    /// Presses Enter where the focus is.
    ///
    /// # Errors
    /// Where nothing has the focus.
    pub async fn enter(&self) -> Step {
        self.keys(&char::from(Key::Enter).to_string()).await
    }

    /// The text of an element.
    ///
    /// # Errors
    /// Where it never comes.
    pub async fn text(&self, css: &str) -> Step<String> {
        Ok(self.shown(css).await?.text().await?)
    }

    /// Signs in.
    ///
    /// # Errors
    /// Where the door does not open.
    pub async fn sign_in(&self, name: &str, password: &str) -> Step {
        self.fill("#sign-in-name", name).await?;
        self.fill("#sign-in-password", password).await?;
        self.press("Sign in").await
    }

    /// A picture of the page, as PNG.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn picture(&self) -> Step<Vec<u8>> {
        self.holds("document.fonts.status === 'loaded'").await?;
        Ok(self.client.screenshot().await?)
    }

    /// Keeps a picture while building, in the folder named by OMBRET_PICTURES; nothing without it.
    ///
    /// # Errors
    /// Where the driver fails.
    pub async fn snap(&self, name: &str) -> Step {
        match std::env::var("OMBRET_PICTURES") {
            Ok(folder) => Ok(std::fs::write(format!("{folder}/{name}.png"), self.picture().await?)?),
            Err(_) => Ok(()),
        }
    }

    /// Closes the browser.
    ///
    /// # Errors
    /// Where it does not close.
    pub async fn close(self) -> Step {
        Ok(self.client.clone().close().await?)
    }
}
