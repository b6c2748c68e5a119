import { Page } from './tests/browser/driver.js';
const page = await Page.open('http://127.0.0.1:4180');
try {
await page.go('/plans'); await page.find('[data-testid=plan]'); await page.shot('/tmp/s-plans.png');
await (await page.button('Open')).click(); await page.find('[data-testid=aim]'); await new Promise(r=>setTimeout(r,1200)); await page.shot('/tmp/s-aims.png');
const url = await page.driver.getCurrentUrl();
await page.driver.get(url.replace('aims','bench')); await new Promise(r=>setTimeout(r,2500)); await page.shot('/tmp/s-bench.png');
console.log(await page.consoleErrors(), await page.hostsAsked(), url);
} finally { await page.close(); }
