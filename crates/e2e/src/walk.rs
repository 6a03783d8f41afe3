//! The steps of a job as a technician makes them on the page.

use crate::{Browser, Size, Stack, Step};

/// The newest line of the journal.
const NEWEST: &str = "document.querySelector('.journal li')?.innerText";

impl Browser {
    /// A browser in which the first technician of the demo has signed in, at the list of scales.
    ///
    /// # Errors
    /// Where the page does not answer.
    pub async fn signed_in(stack: &Stack) -> Step<Self> {
        Self::signed_in_as(stack, ("ebba", "level-bubble")).await
    }

    /// The same for somebody else: name and password.
    ///
    /// # Errors
    /// Where the page does not answer.
    pub async fn signed_in_as(stack: &Stack, who: (&str, &str)) -> Step<Self> {
        let page = Self::open(&stack.base, Size(1280, 800)).await?;
        page.go("/").await?;
        page.sign_in(who.0, who.1).await?;
        page.says("h1", "Scales").await?;
        Ok(page)
    }

    /// The newest line of the journal, as JSON text.
    async fn newest(&self) -> Step<String> {
        Ok(self.client.execute(&format!("return {NEWEST}"), Vec::new()).await?.to_string())
    }

    async fn journal_grows(&self, before: &str) -> Step {
        self.holds(&format!("({NEWEST}) !== {before}")).await
    }

    /// The number of entries in the journal.
    ///
    /// # Errors
    /// Where the page does not answer.
    pub async fn entries(&self) -> Step<u64> {
        let seq = self
            .client
            .execute(
                "return Number(document.querySelector('.journal li')?.innerText.split(/\\s/)[0] ?? 0)",
                Vec::new(),
            )
            .await?;
        Ok(seq.as_u64().unwrap_or(0))
    }

    /// Waits until the journal has more entries than this.
    ///
    /// # Errors
    /// Where it never has.
    pub async fn grows_past(&self, entries: u64) -> Step {
        self.holds(&format!(
            "Number(document.querySelector('.journal li')?.innerText.split(/\\s/)[0] ?? 0) > {entries}"
        ))
        .await
    }

    /// What stands in a field.
    ///
    /// # Errors
    /// Where there is none.
    pub async fn value(&self, css: &str) -> Step<String> {
        let value =
            self.client.execute(&format!("return document.querySelector('{css}').value"), Vec::new()).await?;
        Ok(value.as_str().unwrap_or_default().to_owned())
    }

    /// From anywhere to the newest record of a scale, which has so many.
    ///
    /// # Errors
    /// Where there is no such scale, or not so many.
    pub async fn newest_record(&self, search: &str, name: &str, records: usize) -> Step {
        self.go("/").await?;
        self.fill("#search", search).await?;
        self.holds("document.querySelectorAll('tbody tr').length === 1").await?;
        self.press(name).await?;
        self.press("Its records").await?;
        self.holds(&format!("document.querySelectorAll('tbody tr').length === {records}")).await?;
        self.click("tbody tr:first-child a").await
    }

    /// Finds one scale by its words and begins a job on it.
    ///
    /// # Errors
    /// Where there is not just one.
    pub async fn begin_job(&self, search: &str) -> Step {
        self.fill("#search", search).await?;
        self.holds("document.querySelectorAll('tbody tr').length === 1").await?;
        self.press("Start job").await?;
        self.shown("[data-testid=check-label]").await.map(drop)
    }

    /// Begins a lesson by words of its title, on the page of lessons.
    ///
    /// # Errors
    /// Where there is none.
    pub async fn begin_lesson(&self, title: &str) -> Step {
        self.holds(&format!("[...document.querySelectorAll('.lessons li')].find(li => li.innerText.includes('{title}')).querySelector('button').click() || true")).await?;
        self.shown("[data-testid=check-label]").await.map(drop)
    }

    /// Answers the item that is asked for with a key of the number pad, and waits until it is stored.
    ///
    /// # Errors
    /// Where it is not stored.
    pub async fn answer(&self, key: &str) -> Step {
        let before = self.newest().await?;
        if key == "2" {
            // A fault needs a word about what was seen.
            self.fill("#check-note", "seen here").await?;
        }
        self.client.execute("document.activeElement.blur()", Vec::new()).await?;
        self.keys(key).await?;
        self.journal_grows(&before).await
    }

    /// Finds every item of the checklist in order; the page leaves it by itself.
    ///
    /// # Errors
    /// Where an item is not stored.
    pub async fn look_over_all(&self) -> Step {
        while self
            .client
            .execute("return document.querySelector('[data-testid=check-label]') !== null", Vec::new())
            .await?
            == true
        {
            self.answer("1").await?;
        }
        Ok(())
    }

    /// Types a load and what is shown, and enters it.
    ///
    /// # Errors
    /// Where it is not stored.
    pub async fn type_reading(&self, load: &str, shown: &str) -> Step {
        let before = self.newest().await?;
        self.fill("#reading-load", load).await?;
        self.fill("#reading-shown", shown).await?;
        self.says("[data-testid=preview]", "±").await?;
        self.enter().await?;
        self.journal_grows(&before).await
    }

    /// Goes to closing, by the line of stages.
    ///
    /// # Errors
    /// Where it is not there.
    pub async fn to_close(&self) -> Step {
        self.click(".course li:last-child a").await?;
        self.shown("[name=switch-back], .missing, #sign-password").await.map(drop)
    }

    /// Draws a signature with a finger, where the customer signs.
    ///
    /// # Errors
    /// Where nobody is asked to sign.
    pub async fn draw_signature(&self) -> Step {
        self.shown("[data-testid=signature]").await?;
        let script = "
            const s = document.querySelector('[data-testid=signature]'), b = s.getBoundingClientRect();
            const at = (t, x, y) => s.dispatchEvent(new PointerEvent(t, {bubbles: true, pointerId: 1, clientX: b.left + x * b.width, clientY: b.top + y * b.height}));
            s.setPointerCapture = () => {};
            at('pointerdown', 0.1, 0.7);
            for (let i = 1; i < 60; i++) at('pointermove', 0.1 + i / 80, 0.55 + 0.25 * Math.sin(i / 3));
            at('pointerup', 0.8, 0.5);";
        self.client.execute(script, Vec::new()).await?;
        Ok(())
    }

    /// Signs the record with the password of the account.
    ///
    /// # Errors
    /// Where it cannot be signed yet.
    pub async fn sign(&self, password: &str) -> Step {
        self.fill("#sign-password", password).await?;
        self.press("Sign and lock").await
    }

    /// Empties the practice scale and puts so much on it, in the unit of its display.
    ///
    /// # Errors
    /// Where the hands are not obeyed.
    pub async fn put_on(&self, figure: &str) -> Step {
        self.press("Empty it").await?;
        self.says("[data-testid=practice-seen]", "on it: 0.000 ").await?;
        let on: f64 = figure.parse()?;
        if on > 0.0 {
            self.fill("[aria-label^='Weight to move']", figure).await?;
            self.press("Put on").await?;
            self.says("[data-testid=practice-seen]", &format!("on it: {on:.3} ")).await?;
        }
        Ok(())
    }

    /// Chooses the pad that a reading is taken on.
    ///
    /// # Errors
    /// Where there is no such pad.
    pub async fn choose_pad(&self, pad: &str) -> Step {
        self.holds(&format!(
            "(() => {{ const s = document.querySelector('[aria-label=Pad]'); s.value = '{pad}'; s.dispatchEvent(new Event('change')); return s.value === '{pad}' }})()"
        ))
        .await
    }

    /// Waits until the reading rests within a hundredth (and 1) of this.
    ///
    /// # Errors
    /// Where it never does.
    pub async fn rests_near(&self, load: &str) -> Step {
        self.holds(&format!(
            "Math.abs(parseFloat(document.querySelector('[data-testid=live-reading]').innerText) - {load}) <= 1 + {load} / 100 && document.querySelector('[data-testid=live-says]').innerText === 'stable'"
        ))
        .await
    }

    /// Presses a key of the practice scale's indicator.
    ///
    /// # Errors
    /// Where it refuses.
    pub async fn hands_key(&self, key: &str) -> Step {
        self.press_exactly(key, ".practice").await?;
        self.gone(".practice .wrong").await
    }

    /// Waits until the live reading is stable.
    ///
    /// # Errors
    /// Where it never is.
    pub async fn is_stable(&self) -> Step {
        self.holds("document.querySelector('[data-testid=live-says]')?.innerText === 'stable'").await
    }

    /// Waits until the live reading shows this and is steady.
    ///
    /// # Errors
    /// Where it never does.
    pub async fn rests_at(&self, shown: &str) -> Step {
        self.holds(&format!(
            "document.querySelector('[data-testid=live-reading]').innerText === '{shown}' && document.querySelector('[data-testid=live-says]').innerText === 'stable'"
        ))
        .await
    }

    /// Waits until the reading rests within a hundredth (and 1 kg) of the load, then does what
    /// takes it. That it settles on the way is not waited for: on a slow machine that may be past
    /// before anybody looks.
    ///
    /// # Errors
    /// Where it is not stored.
    pub async fn take_when_steady(&self, kg: &str, action: &str) -> Step {
        let before = self.newest().await?;
        loop {
            self.rests_near(kg).await?;
            self.press(action).await?;
            // A reading that moved again between the look and the press is refused; a person presses again.
            let moved = "[...document.querySelectorAll('.wrong')].some(e => e.innerText.startsWith('the reading is still moving'))";
            self.holds(&format!("{moved} || ({NEWEST}) !== {before}")).await?;
            if self.newest().await? != before {
                return Ok(());
            }
        }
    }

    /// Loads the practice scale and takes the reading.
    ///
    /// # Errors
    /// Where it is not stored.
    pub async fn take_load(&self, kg: &str, direction: &str) -> Step {
        self.put_on(kg).await?;
        self.fill("#reading-load", kg).await?;
        self.press(direction).await?;
        self.take_when_steady(kg, "Capture reading").await
    }
}
