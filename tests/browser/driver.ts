import { writeFileSync } from 'node:fs';
import { Builder, By, logging, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import * as chrome from 'selenium-webdriver/chrome.js';
import type { Plan } from '../../src/core/plan/index.js';

const FLAGS = [
	'--headless=new',
	'--no-sandbox',
	'--disable-dev-shm-usage',
	'--disable-gpu',
	'--disable-quic',
	'--no-first-run',
	'--no-default-browser-check',
	'--disable-background-networking',
	'--disable-component-update',
	'--disable-sync',
	'--disable-default-apps',
	'--disable-extensions',
	'--disable-domain-reliability',
	'--metrics-recording-only',
	'--no-pings',
	'--password-store=basic',
	'--use-mock-keychain',
	'--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
	'--proxy-server=direct://',
	'--force-device-scale-factor=1',
	'--hide-scrollbars',
	'--window-size=1280,800'
];

const WAIT = 25_000;

/** A page of the built application in headless Chromium, at exactly 1280x800. */
export class Page {
	private constructor(
		readonly driver: WebDriver,
		readonly base: string
	) {}

	static async open(base: string): Promise<Page> {
		const options = new chrome.Options();
		options.setChromeBinaryPath('/usr/bin/chromium');
		options.addArguments(...FLAGS);
		const prefs = new logging.Preferences();
		prefs.setLevel(logging.Type.PERFORMANCE, logging.Level.ALL);
		prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
		options.setLoggingPrefs(prefs);
		const service = new chrome.ServiceBuilder('/usr/bin/chromedriver');
		const driver = (await new Builder().forBrowser('chrome').setChromeOptions(options).setChromeService(service).build()) as chrome.Driver;
		await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
			width: 1280,
			height: 800,
			deviceScaleFactor: 1,
			mobile: false
		});
		return new Page(driver, base);
	}

	close(): Promise<void> {
		return this.driver.quit();
	}

	/** Stores a plan and returns its id. */
	async makePlan(document: Plan): Promise<string> {
		const headers = { 'content-type': 'application/json', origin: this.base };
		const response = await fetch(`${this.base}/api/plans`, { method: 'POST', headers, body: JSON.stringify({ document }) });
		return ((await response.json()) as { id: string }).id;
	}

	async go(path: string): Promise<void> {
		await this.driver.get(this.base + path);
	}

	/** The first element that matches, once it is there and seen. */
	async find(css: string): Promise<WebElement> {
		const element = await this.driver.wait(until.elementLocated(By.css(css)), WAIT, `nothing matches ${css}`);
		return this.driver.wait(until.elementIsVisible(element), WAIT, `${css} is not visible`);
	}

	all(css: string): Promise<WebElement[]> {
		return this.driver.findElements(By.css(css));
	}

	/** A button or link with just this text, once it is there. */
	button(text: string): Promise<WebElement> {
		const path = By.xpath(`//*[self::button or self::a][normalize-space(.)="${text}"]`);
		return this.driver.wait(until.elementLocated(path), WAIT, `no button "${text}"`);
	}

	/** Presses a button or link: as a person does, once nothing lies over it any more. */
	press(text: string): Promise<void> {
		return this.patiently(async () => (await this.button(text)).click());
	}

	/** Presses what has this label. */
	pressField(label: string): Promise<void> {
		return this.patiently(async () => (await this.field(label)).click());
	}

	/** Does something again until it does not throw: the page may be drawing itself anew just then. */
	private async patiently<T>(act: () => Promise<T>): Promise<T> {
		let last: unknown;
		let result: T | undefined;
		const done = async () => {
			try {
				result = await act();
				return true;
			} catch (thrown) {
				last = thrown;
				return false;
			}
		};
		await this.driver.wait(done, WAIT).catch(() => {
			throw last;
		});
		return result as T;
	}

	/** Waits until a field holds this text. */
	holds(label: string, text: string): Promise<void> {
		return this.patiently(async () => {
			const value = await (await this.field(label)).getAttribute('value');
			if (value !== text) throw new Error(`${label} holds "${value}", not "${text}"`);
		});
	}

	field(label: string): Promise<WebElement> {
		return this.find(`[aria-label="${label}"]`);
	}

	/** Replaces what stands in a field, as a person would: select all, then type. */
	type(label: string, text: string): Promise<void> {
		return this.patiently(async () => {
			const field = await this.field(label);
			await field.click();
			await this.driver.executeScript('arguments[0].select()', field);
			await field.sendKeys(text);
		});
	}

	choose(label: string, option: string): Promise<void> {
		return this.patiently(async () => (await this.field(label)).findElement(By.xpath(`./option[normalize-space(.)="${option}"]`)).click());
	}

	async text(css: string): Promise<string> {
		return (await this.find(css)).getText();
	}

	/** Waits until the text of an element fits. */
	async until(css: string, fits: RegExp | string): Promise<string> {
		let last = '';
		const seen = async () => {
			try {
				last = (await (await this.find(css)).getText()).replace(/[\s\u202f]+/g, ' ');
			} catch {
				return false;
			}
			return typeof fits === 'string' ? last.includes(fits) : fits.test(last);
		};
		await this.driver.wait(seen, WAIT).catch(() => {
			throw new Error(`${css} never fits ${fits}; last seen: ${last}`);
		});
		return last;
	}

	/** Drops a file on the page, as the desktop would, and reads it as it is recognised. */
	async dropAndRead(name: string, content: Buffer): Promise<void> {
		await this.drop(name, content);
		await this.until('[data-testid=import]', name);
		await this.press('Read it');
	}

	/** Drops a file on the page, as the desktop would. */
	async drop(name: string, content: Buffer): Promise<void> {
		await this.driver.executeScript(
			`const bytes = Uint8Array.from(atob(arguments[1]), (c) => c.charCodeAt(0));
			const data = new DataTransfer();
			data.items.add(new File([bytes], arguments[0]));
			for (const type of ['dragover', 'drop'])
				document.body.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));`,
			name,
			content.toString('base64')
		);
	}

	async keys(...keys: string[]): Promise<void> {
		await this.driver
			.actions()
			.sendKeys(...keys)
			.perform();
	}

	/** Holds all keys but the last, presses the last, lets all go. */
	async chord(...keys: string[]): Promise<void> {
		const held = keys.slice(0, -1);
		const actions = this.driver.actions();
		for (const key of held) actions.keyDown(key);
		actions.sendKeys(keys[keys.length - 1]);
		for (const key of held) actions.keyUp(key);
		await actions.perform();
	}

	/** Turns the wheel over an element, so many notches of `by` pixels each. */
	async turnWheel(element: WebElement, by: number, notches: number): Promise<void> {
		// The driver knows wheels; its types do not.
		type Wheel = { scroll(x: number, y: number, byX: number, byY: number, origin: WebElement): Wheel; perform(): Promise<void> };
		let actions = this.driver.actions() as unknown as Wheel;
		for (let i = 0; i < notches; i++) actions = actions.scroll(0, 0, 0, by, element);
		await actions.perform();
	}

	/** Hosts that were asked for anything since the last call. */
	async hostsAsked(): Promise<string[]> {
		const entries = await this.driver.manage().logs().get(logging.Type.PERFORMANCE);
		const urls = entries.flatMap((entry) => {
			const { method, params } = (JSON.parse(entry.message) as { message: { method: string; params: { request?: { url: string } } } })
				.message;
			return method === 'Network.requestWillBeSent' && params.request ? [params.request.url] : [];
		});
		return [...new Set(urls.filter((url) => /^(https?|wss?):/.test(url)).map((url) => new URL(url).hostname))];
	}

	/** Errors that the page's console has shown since the last call. */
	async consoleErrors(): Promise<string[]> {
		const entries = await this.driver.manage().logs().get(logging.Type.BROWSER);
		return entries.filter((entry) => entry.level.value >= logging.Level.SEVERE.value).map((entry) => entry.message);
	}

	/** A picture of the page once nothing moves any more. */
	async shot(file: string): Promise<void> {
		await this.driver.wait(
			() => this.driver.executeScript<boolean>('return document.getAnimations().every((a) => a.playState !== "running")'),
			WAIT
		);
		await new Promise((done) => setTimeout(done, 250));
		writeFileSync(file, Buffer.from(await this.driver.takeScreenshot(), 'base64'));
	}
}
