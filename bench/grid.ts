import { cpSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import { startApplication } from '../e2e/support/application';
import { launchBrowser, openPage } from '../e2e/support/browser';
import { stop, temporaryFolder } from '../e2e/support/program';
import { things, type ThingName } from '../src/core/things/things';
import { openStore } from '../src/store/base/database';
import { addPerson } from '../src/store/people';
import { generateEstate } from './generate';
import { person, signedIn } from './person';
import { keptLargeEstate, writeLargeEstate } from './tables';

const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;

/** The application on a data folder, and a browser in which a viewer is signed in. */
export async function openedBy(data: string) {
  const store = openStore(data);
  await addPerson(store.db, person.name, person.password, 'viewer');
  store.close();
  const app = await startApplication(data);
  const browser = await launchBrowser({ asUsed: true });
  const { page } = await openPage(browser);
  await signedIn(app.address, page);
  return { app, browser, page };
}

/** From a keystroke in the filter to the narrowed rows on the screen, over 5,000 devices. */
export async function benchGrid(devices: number): Promise<number> {
  const data = temporaryFolder();
  const store = openStore(data);
  generateEstate(store, devices);
  store.close();
  const { app, browser, page } = await openedBy(data);
  await page.goto(`${app.address}/estate`, { waitUntil: 'networkidle0' });
  const times = await keystrokes(page, 'sw-4321');
  await browser.close();
  await stop(app.process);
  return median(times);
}

/** From each keystroke in the filter to the painted rows; keystrokes that changed nothing are left out. */
async function keystrokes(page: Page, text: string): Promise<number[]> {
  await page.focus('input[aria-label=Filter]');
  const times: number[] = [];
  for (const key of text.split('')) {
    await page.evaluate(() => {
      const grid = document.querySelector('[data-total]');
      const before = grid?.getAttribute('data-total');
      const clock = window as unknown as { painted: Promise<number> };
      clock.painted = new Promise((resolve) => {
        let start = 0;
        document
          .querySelector('input[aria-label=Filter]')
          ?.addEventListener('keydown', () => (start = performance.now()), { once: true, capture: true });
        const observer = new MutationObserver(() => {
          if (grid?.getAttribute('aria-busy') === 'true' || start === 0) return;
          if (grid?.getAttribute('data-total') === before && performance.now() - start < 40) return;
          observer.disconnect();
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)));
        });
        observer.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
      });
    });
    await page.keyboard.type(key);
    times.push(
      await page.evaluate(() =>
        Promise.race([
          (window as unknown as { painted: Promise<number> }).painted,
          new Promise<number>((resolve) => setTimeout(() => resolve(-1), 3000)),
        ]),
      ),
    );
  }
  return times.filter((time) => time >= 0).map(Math.round);
}

const filled = () =>
  document.querySelector('[data-total] [role=row][aria-rowindex="2"]') !== null &&
  !document.querySelector('[aria-busy=true]');
const memoryMB = (pid: number | undefined) =>
  Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${String(pid)}/status`, 'utf8'))?.[1] ?? 0) / 1024);

/** The estate of 5,000 devices, 250,000 ports and 300,000 endpoints after forty surveys, as a person in a browser has it. Tables are opened by a click within the page, each moment for the first time; page loads are medians of three. */
export async function benchLargeEstate(given?: string): Promise<Record<string, unknown>> {
  const data = temporaryFolder();
  if (given) cpSync(keptLargeEstate(given), data, { recursive: true });
  else writeLargeEstate(data);
  const { app, browser, page } = await openedBy(data);
  // what the application reads ahead after its start
  const started = performance.now();
  await page.goto(`${app.address}/estate?of=ports`);
  await page.waitForFunction(filled, { timeout: 120_000, polling: 100 });
  const result: Record<string, unknown> = { fromStartToPortsSeconds: Math.round(performance.now() - started) / 1000 };
  // the checks are judged at the last ten surveys, once and never again
  await new Promise((resolve) => setTimeout(resolve, 25_000));
  const cold = async (where: string) => {
    const times: number[] = [];
    for (let run = 0; run < 3; run++) {
      const from = performance.now();
      await page.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
      await page.waitForFunction(filled, { polling: 'mutation' });
      times.push(performance.now() - from);
    }
    return Math.round(median(times));
  };
  /** From the click on a table's name, in one that answers the same question, to its rows, at a moment that was never looked at before. */
  const open = async (of: string, moment: string) => {
    const beside = { have: 'contracts', runs: 'machines' }[String(things[of as ThingName].question)] ?? 'wlans';
    await page.goto(`${app.address}/estate?of=${beside}${moment}`, { waitUntil: 'networkidle0' });
    return Math.round(
      await page.evaluate(async (name) => {
        const link = [...document.querySelectorAll<HTMLAnchorElement>('nav[aria-label=Tables] a')].find(({ href }) =>
          name === 'devices' ? !href.includes('of=') : href.includes(`of=${name}`),
        );
        if (!link) throw new Error(`no link to ${name}`);
        const from = performance.now();
        link.click();
        while (
          link.getAttribute('aria-current') !== 'page' ||
          !document.querySelector('[data-total] [role=row][aria-rowindex="2"]') ||
          document.querySelector('[aria-busy=true]')
        )
          await new Promise((resolve) => requestAnimationFrame(resolve));
        return performance.now() - from;
      }, of),
    );
  };
  /** From the choice of a third level to the groups. */
  const group = async () => {
    await page.goto(`${app.address}/estate?of=ports&group=kind,vlan`, { waitUntil: 'networkidle0' });
    await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('button')].find(({ innerText }) => innerText === 'Grouped')?.click(),
    );
    const third = await page.waitForSelector(
      '[role=dialog] [role=combobox][aria-labelledby*="group2"], [role=dialog] div:nth-child(3) > div > [role=combobox]',
    );
    await third?.click();
    await page.waitForSelector('[role=option]');
    return Math.round(
      await page.evaluate(async () => {
        const option = [...document.querySelectorAll<HTMLElement>('[role=option]')].find(
          ({ innerText }) => innerText === 'State',
        );
        const from = performance.now();
        option?.click();
        const busy = () => document.querySelector('[role=treegrid]')?.getAttribute('aria-busy') === 'true';
        // groups that were there within a frame are never seen busy
        while (!location.search.includes('oper') || busy())
          await new Promise((resolve) => requestAnimationFrame(resolve));
        await new Promise((resolve) => requestAnimationFrame(resolve));
        while (busy()) await new Promise((resolve) => requestAnimationFrame(resolve));
        return performance.now() - from;
      }),
    );
  };
  const large = ['devices', 'ports', 'endpoints', 'modules', 'services', 'software', 'vlans', 'addresses'];
  result.openMs = Object.fromEntries(await inTurn(large, (of) => open(of, '')));
  result.openLookingBackMs = Object.fromEntries(await inTurn(large, (of) => open(of, '&survey=20')));
  result.openAgainstMs = Object.fromEntries(await inTurn(large, (of) => open(of, '&against=38')));
  result.pageLoadMs = Object.fromEntries(await inTurn(large, (of) => cold(`/estate?of=${of}`)));
  result.groupMs = await group();
  result.keystrokeMs = Object.fromEntries(
    await inTurn(
      [
        ['devices', 'sw-4321'],
        ['ports', 'desk 17'],
        ['endpoints', '06:9a:01'],
      ] as const,
      async ([of, text]) => {
        await page.goto(`${app.address}/estate?of=${of}`, { waitUntil: 'networkidle0' });
        const times = await keystrokes(page, text);
        return { median: median(times), most: Math.max(...times) };
      },
      ([of]) => of,
    ),
  );
  const dossiers: number[] = [];
  await page.goto(`${app.address}/estate`, { waitUntil: 'networkidle0' });
  for (let row = 3; row < 10; row++) {
    dossiers.push(
      await page.evaluate(async (at) => {
        const row = document.querySelector<HTMLElement>(`[data-total] [role=row][aria-rowindex="${at}"]`);
        const name = /s\d+-sw-\d+/.exec(row?.innerText ?? '')?.[0] ?? 'no such row';
        const from = performance.now();
        row?.querySelector<HTMLElement>('[role=gridcell]')?.click();
        while (document.querySelector<HTMLElement>('[aria-label=Dossier] h2')?.innerText.includes(name) !== true)
          await new Promise((resolve) => requestAnimationFrame(resolve));
        return performance.now() - from;
      }, row),
    );
  }
  result.dossierMs = Math.round(median(dossiers));
  const web = Number(
    readFileSync(`/proc/${String(app.process.pid)}/task/${String(app.process.pid)}/children`, 'utf8').split(' ')[0],
  );
  const before = memoryMB(web);
  let most = before;
  const watching = setInterval(() => (most = Math.max(most, memoryMB(web))), 200);
  const cookies = (await page.browserContext().cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
  const from = performance.now();
  const answer = await fetch(
    `${app.address}/api/v1/ports?format=csv&columns=device,name,alias,pluggedIn,how,speedBps,duplex,vlan,lastChangeSeconds`,
    { headers: { cookie: cookies } },
  );
  const octets = (await answer.arrayBuffer()).byteLength;
  clearInterval(watching);
  result.exportCsv = {
    seconds: Math.round(performance.now() - from) / 1000,
    megabytes: Math.round(octets / 1e6),
    webMemoryMB: before,
    growsMB: most - before,
  };
  await browser.close();
  await stop(app.process);
  rmSync(path.join(data), { recursive: true, force: true });
  return result;
}

async function inTurn<Item>(
  items: readonly Item[],
  work: (item: Item) => Promise<unknown>,
  nameOf: (item: Item) => string = String,
): Promise<[string, unknown][]> {
  const done: [string, unknown][] = [];
  for (const item of items) done.push([nameOf(item), await work(item)]);
  return done;
}
