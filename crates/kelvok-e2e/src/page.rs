use anyhow::{Context, bail};
use kelvok_database::free_port;
use serde_json::{Value, json};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use thirtyfour::prelude::*;

/// A browser with one page, at exactly 1280 x 800 unless told otherwise.
#[derive(Clone)]
pub struct Page {
    pub driver: WebDriver,
    address: String,
    chromedriver: Arc<Mutex<Option<Child>>>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Theme {
    Day,
    Bay,
}

const PATIENCE: Duration = Duration::from_secs(20);
const FLAGS: &str = "--headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage \
    --disable-quic --no-first-run --no-default-browser-check --disable-background-networking \
    --disable-component-update --disable-sync --disable-default-apps --disable-extensions \
    --mute-audio --force-device-scale-factor=1 --hide-scrollbars --window-size=1280,800";

/// Finds what a user would call by this name: the accessible label, else the text.
const NAMED: &str = r"
    const [selector, name] = arguments;
    const of = (e) => e.getAttribute('aria-label')
        ?? (e.getAttribute('aria-labelledby')
            ? document.getElementById(e.getAttribute('aria-labelledby')).innerText
            : e.innerText ?? e.textContent);
    const shown = (e) => e.getClientRects().length > 0;
    const all = [...document.querySelectorAll(selector)].filter(shown)
        .map((e) => [e, of(e).trim().replace(/\s+/g, ' ')]);
    const found = all.find(([, text]) => text === name)
        ?? all.find(([, text]) => text.startsWith(name));
    return found?.[0] ?? null;";

/// The card, how many entries the log has, and whether the card waits for what follows an answer.
const CARD: &str = "return [document.querySelector('.next')?.innerText ?? '',
    document.querySelectorAll('.story li').length,
    !!document.querySelector('.next .card :disabled')]";

/// What can be touched and is under 44 pixels high, words under 13 pixels, and a page that scrolls
/// sideways. A field or a ticked line is as high as its box.
const TOO_SMALL: &str = r#"
    const shown = (e) => e.checkVisibility({ opacityProperty: true, visibilityProperty: true })
        && e.getBoundingClientRect().width > 1;
    const touched = 'button, a[href], select, input, [role=radio], [role=button], summary';
    const high = (e) => Math.max(...[e, e.closest('.v-field'), e.closest('label')]
        .filter(Boolean).map((box) => box.getBoundingClientRect().height));
    const small = [...document.querySelectorAll(touched)]
        .filter((e) => !e.ownerSVGElement && !e.closest('.v-field i, .v-field__append-inner'))
        .filter((e) => shown(e) && high(e) < 43.5)
        .map((e) => `${e.innerText || e.ariaLabel}: ${high(e)} high`);
    const inside = (e) => {
        const range = document.createRange();
        range.selectNodeContents(e);
        const [words, box] = [range.getBoundingClientRect(), e.getBoundingClientRect()];
        return words.top >= box.top - 1 && words.bottom <= box.bottom + 1;
    };
    const cut = [...document.querySelectorAll('button')]
        .filter((e) => shown(e) && e.innerText && !inside(e))
        .map((e) => `${e.innerText}: cut off`);
    const words = [];
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
        const text = walk.currentNode.textContent.trim();
        const e = walk.currentNode.parentElement;
        if (!text || !shown(e)) continue;
        const by = e.ownerSVGElement ? (e.getScreenCTM()?.a ?? 1) : 1;
        const size = parseFloat(getComputedStyle(e).fontSize) * by;
        if (size < 12.95) words.push(`${text}: ${size} small`);
    }
    const wide = document.documentElement.scrollWidth;
    const past = [...document.querySelectorAll('body *')]
        .findLast((e) => e.getBoundingClientRect().right >= wide);
    return [...small, ...cut, ...new Set(words),
        ...(wide > innerWidth ? [`${wide} wide by ${past?.closest('button, a')?.innerText ?? ''} ${past?.outerHTML.slice(0, 80)}`] : [])];
"#;

/// What has the focus says; the page itself says nothing.
const FOCUS: &str = "const at = document.activeElement;
    return at === document.body ? '' : at.innerText ?? ''";

impl Page {
    /// Starts a browser and opens the application.
    ///
    /// # Errors
    /// Chromium or its driver cannot be started.
    pub async fn open(address: &str) -> anyhow::Result<Self> {
        let port = free_port()?;
        let child = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("chromedriver is not installed")?;
        let mut capabilities = DesiredCapabilities::chrome();
        for flag in FLAGS.split_whitespace() {
            capabilities.add_arg(flag)?;
        }
        capabilities.add_arg("--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1")?;
        let began = Instant::now();
        let driver = loop {
            match WebDriver::new(format!("http://127.0.0.1:{port}"), capabilities.clone()).await {
                Ok(driver) => break driver,
                Err(error) if began.elapsed() > PATIENCE => return Err(error.into()),
                Err(_) => tokio::time::sleep(Duration::from_millis(100)).await,
            }
        };
        let page = Self {
            driver,
            address: address.to_owned(),
            chromedriver: Arc::new(Mutex::new(Some(child))),
        };
        page.size(1280, 800).await?;
        page.go("/").await?;
        page.script("localStorage.setItem('kelvok.person', 'Ilse')").await?;
        page.reload().await?;
        Ok(page)
    }

    /// Closes the browser and its driver.
    pub async fn close(self) {
        let _ = self.driver.clone().quit().await;
        let child = self.chromedriver.lock().ok().and_then(|mut c| c.take());
        if let Some(mut child) = child {
            let _ = child.kill();
            let _ = child.wait();
        }
    }

    /// Sets the size of the page.
    pub async fn size(&self, width: u32, height: u32) -> anyhow::Result<()> {
        let metrics =
            json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": false});
        let set = "Emulation.setDeviceMetricsOverride";
        self.driver.cdp().send_raw(set, metrics).await?;
        // Until a frame was drawn in it, styles that hang on the width may still be those of the old one.
        let drawn = "const done = arguments[arguments.length - 1];
            const wait = () => requestAnimationFrame(() => requestAnimationFrame(() =>
                innerWidth === arguments[0] ? done() : wait()));
            wait()";
        self.driver.execute_async(drawn, vec![json!(width)]).await?;
        Ok(())
    }

    /// Sets what the system prefers; the application follows it.
    pub async fn theme(&self, theme: Theme) -> anyhow::Result<()> {
        let value = if theme == Theme::Bay { "dark" } else { "light" };
        let media = json!({"features": [{"name": "prefers-color-scheme", "value": value}]});
        self.driver.cdp().send_raw("Emulation.setEmulatedMedia", media).await?;
        Ok(())
    }

    pub async fn go(&self, path: &str) -> anyhow::Result<()> {
        Ok(self.driver.goto(format!("{}{path}", self.address)).await?)
    }

    pub async fn reload(&self) -> anyhow::Result<()> {
        Ok(self.driver.refresh().await?)
    }

    /// Tries until it works or patience runs out.
    async fn patiently<T, R>(&self, what: &str, attempt: impl Fn() -> R) -> anyhow::Result<T>
    where
        R: Future<Output = anyhow::Result<Option<T>>>,
    {
        let began = Instant::now();
        loop {
            let last = attempt().await;
            if let Ok(Some(value)) = last {
                return Ok(value);
            }
            if began.elapsed() > PATIENCE {
                let text = self.text().await.unwrap_or_default();
                let error = last.err().map(|e| format!(" ({e:#})")).unwrap_or_default();
                bail!("waited in vain for {what}{error}; the page says:\n{text}");
            }
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }

    /// The element of this selector that goes by this name.
    pub async fn named(&self, selector: &str, name: &str) -> anyhow::Result<WebElement> {
        self.patiently(&format!("{selector} \"{name}\""), || async {
            let found = self.driver.execute(NAMED, vec![json!(selector), json!(name)]).await?;
            Ok(if found.json().is_null() { None } else { Some(found.element()?) })
        })
        .await
    }

    /// Clicks a button, link or radio by what it says.
    pub async fn click(&self, name: &str) -> anyhow::Result<()> {
        self.click_on("button, a, [role=radio]", name).await
    }

    /// Answers the card by the first of these that it has, by "Can’t" if it has none, and waits for
    /// the card that follows. Gives what the answer was.
    pub async fn answer(&self, answers: &[&str]) -> anyhow::Result<String> {
        let before = self.settled().await?;
        // The plan may follow the log by a moment: what the card says is read as often as it is
        // answered.
        let answer = self.patiently("a card to answer", || async {
            let card = self.script(CARD).await?;
            let says = card[0].as_str().unwrap_or_default();
            let answer = answers.iter().find(|a| says.contains(**a)).unwrap_or(&"Can’t");
            let button = vec![json!(".next button"), json!(answer)];
            let found = self.driver.execute(NAMED, button).await?;
            if found.json().is_null() {
                return Ok(None);
            }
            found.element()?.click().await?;
            Ok(Some((*answer).to_owned()))
        });
        let answer = answer.await?;
        self.patiently("the next card", || async {
            Ok((self.script(CARD).await? != before).then_some(()))
        })
        .await?;
        self.settled().await?;
        Ok(answer)
    }

    /// The card and the length of the log, once neither changes any more and the card takes answers.
    pub async fn settled(&self) -> anyhow::Result<Value> {
        let mut last = self.script(CARD).await?;
        loop {
            tokio::time::sleep(Duration::from_millis(400)).await;
            let now = self.script(CARD).await?;
            if now == last && now[2] == false {
                return Ok(now);
            }
            last = now;
        }
    }

    /// Clicks an item of an open list, which may still be unfolding.
    pub async fn choose(&self, name: &str) -> anyhow::Result<()> {
        self.click_on(".v-list-item", name).await
    }

    /// Unfolds a list by its label, whatever is chosen in it.
    pub async fn unfold(&self, label: &str) -> anyhow::Result<()> {
        let find = "return [...document.querySelectorAll('.v-select .v-field, .v-autocomplete .v-field')].find((e) =>
            [...e.querySelectorAll('label')].some((l) => l.innerText.trim() === arguments[0])) ?? null";
        self.patiently(&format!("the list \"{label}\""), || async {
            let found = self.driver.execute(find, vec![json!(label)]).await?;
            if found.json().is_null() {
                return Ok(None);
            }
            found.element()?.click().await?;
            Ok(Some(()))
        })
        .await
    }

    /// Clicks a test point on the track.
    pub async fn point(&self, name: &str) -> anyhow::Result<()> {
        self.click_on("g.peg", &format!("{name},")).await
    }

    /// Clicks the element of this selector that goes by this name.
    pub async fn click_on(&self, selector: &str, name: &str) -> anyhow::Result<()> {
        // A page that is drawing itself anew may take the element away under the click.
        self.patiently(&format!("a click on \"{name}\""), || async {
            let found = self.named(selector, name).await?;
            // What was typed a moment ago may not have let it go yet.
            if !found.is_enabled().await? {
                return Ok(None);
            }
            found.click().await?;
            Ok(Some(()))
        })
        .await
    }

    /// Moves a control of the operator's station.
    pub async fn set(&self, control: &str, position: &str) -> anyhow::Result<()> {
        let selector = format!("[aria-labelledby=control-{control}] [role=radio]");
        self.click_on(&selector, position).await
    }

    /// Chooses a test point, types a reading and records it.
    pub async fn read(&self, point: &str, typed: &str) -> anyhow::Result<()> {
        self.point(point).await?;
        self.sees(&format!("Red {point}")).await?;
        self.type_reading(typed).await?;
        self.sees(&format!("Recorded {typed} at {point}.")).await
    }

    /// Types into the reading field and presses Enter.
    pub async fn type_reading(&self, typed: &str) -> anyhow::Result<()> {
        self.type_only(typed).await?;
        self.press(Key::Enter + "").await
    }

    /// Types into the reading field, and does not send it.
    pub async fn type_only(&self, typed: &str) -> anyhow::Result<()> {
        let field = self.driver.query(By::Css(".reading input")).first().await?;
        Ok(field.send_keys(typed).await?)
    }

    /// What stands in the reading field.
    pub async fn field(&self) -> anyhow::Result<String> {
        let field = self.driver.query(By::Css(".reading input")).first().await?;
        Ok(field.prop("value").await?.unwrap_or_default())
    }

    /// Waits until this stands in the reading field.
    pub async fn field_holds(&self, text: &str) -> anyhow::Result<()> {
        self.patiently(&format!("\"{text}\" in the field"), || async {
            Ok((self.field().await? == text).then_some(()))
        })
        .await
    }

    /// Goes on by Tab until what has the focus says this.
    pub async fn tab_to(&self, words: &str) -> anyhow::Result<()> {
        self.tab_until(words, |focus| focus.contains(words)).await
    }

    /// Goes on by Tab until what has the focus says this and no more.
    pub async fn tab_to_exactly(&self, words: &str) -> anyhow::Result<()> {
        self.tab_until(words, |focus| focus.trim() == words).await
    }

    async fn tab_until(&self, words: &str, there: impl Fn(&str) -> bool) -> anyhow::Result<()> {
        let mut passed = Vec::new();
        for _ in 0..80 {
            self.press(Key::Tab + "").await?;
            let at = self.script(FOCUS).await?;
            let focus = at.as_str().unwrap_or_default();
            if there(focus) {
                return Ok(());
            }
            passed.push(focus.to_owned());
        }
        anyhow::bail!("{words:?} is not reached by Tab, which passed {passed:?}")
    }

    /// Presses keys, wherever the focus is.
    pub async fn press(&self, keys: impl Into<TypingData>) -> anyhow::Result<()> {
        Ok(self.driver.action_chain().send_keys(keys).perform().await?)
    }

    /// Types into the field of this class.
    pub async fn types(&self, field: &str, text: &str) -> anyhow::Result<()> {
        self.script(&format!("document.querySelector('.{field} input').focus()")).await?;
        self.press(text).await
    }

    /// Everything the page says, white space folded.
    pub async fn text(&self) -> anyhow::Result<String> {
        let script = "return document.body.innerText + ' ' +
            [...document.querySelectorAll('svg text')].map((t) => t.textContent).join(' ')";
        let text = self.driver.execute(script, vec![]).await?;
        let text: String = text.convert()?;
        Ok(text.split_whitespace().collect::<Vec<_>>().join(" "))
    }

    /// Waits until the page says this.
    pub async fn sees(&self, words: &str) -> anyhow::Result<()> {
        self.patiently(&format!("the words \"{words}\""), || async {
            Ok(self.text().await?.contains(words).then_some(()))
        })
        .await
    }

    /// Waits until these words are gone.
    ///
    /// # Errors
    /// They stay.
    pub async fn lacks(&self, words: &str) -> anyhow::Result<()> {
        self.patiently(&format!("\"{words}\" to go"), || async {
            Ok((!self.text().await?.contains(words)).then_some(()))
        })
        .await
    }

    /// Whether a control stands at a position.
    pub async fn stands_at(&self, control: &str, position: &str) -> anyhow::Result<()> {
        let selector =
            format!("[aria-labelledby=control-{control}] [role=radio][aria-checked=true]");
        self.named(&selector, position).await.map(|_| ())
    }

    /// Runs a script for its result.
    pub async fn script(&self, script: &str) -> anyhow::Result<Value> {
        Ok(self.driver.execute(script, vec![]).await?.json().clone())
    }

    /// Runs axe-core over the page.
    ///
    /// # Errors
    /// Every violation, with where it is.
    pub async fn accessible(&self) -> anyhow::Result<()> {
        let axe = Path::new(env!("CARGO_MANIFEST_DIR"))
            .join("../../web/node_modules/axe-core/axe.min.js");
        let axe = std::fs::read_to_string(axe).context("axe-core is not installed")?;
        self.driver.execute(&axe, vec![]).await?;
        let run = "const done = arguments[arguments.length - 1];
            axe.run().then((r) => done(r.violations.map((v) => `${v.id}: ${v.help}: ` +
                v.nodes.map((n) => n.target.join(' ') + ' ' + n.failureSummary).join('; '))))";
        let found = self.driver.execute_async(run, vec![]).await?;
        let violations: Vec<String> = found.convert()?;
        if !violations.is_empty() {
            bail!("not accessible:\n{}", violations.join("\n"));
        }
        Ok(())
    }

    /// The same in both themes; it ends in the one for the day.
    ///
    /// # Errors
    /// Every violation, with where it is.
    pub async fn accessible_in_both_themes(&self) -> anyhow::Result<()> {
        for theme in [Theme::Bay, Theme::Day] {
            self.theme(theme).await?;
            tokio::time::sleep(Duration::from_millis(300)).await;
            self.accessible().await?;
        }
        Ok(())
    }

    /// That whatever can be touched is large enough for a thumb and holds its words, every word for an eye, and the page
    /// no wider than the screen.
    ///
    /// # Errors
    /// What is too small or too wide.
    pub async fn fits_thumb_and_eye(&self) -> anyhow::Result<()> {
        let found = self.script(TOO_SMALL).await?;
        let found: Vec<_> = found.as_array().into_iter().flatten().collect();
        if !found.is_empty() {
            bail!("too small or too wide: {found:?}");
        }
        Ok(())
    }

    /// Saves a picture of the page.
    pub async fn picture(&self, file: &Path) -> anyhow::Result<()> {
        Ok(self.driver.screenshot(file).await?)
    }
}
