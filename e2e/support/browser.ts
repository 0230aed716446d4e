import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import puppeteer, { type Browser, type BrowserContext, type ElementHandle, type Page } from 'puppeteer-core';
import { home } from './program';

/** Debian's Chromium without windows, which takes a quarter less of the machine; the one with windows where that is what there is. */
const chromium = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

/** Collects a page that is left when there is time, and compiles no code for the few seconds that a page lives: a tenth less work. */
const idly =
  '--js-flags=--initial-heap-size=512 --min-semi-space-size=32 --max-semi-space-size=64 --no-maglev --no-turbofan';
/** As for a person who wants nothing to glide: what opens is there at once. */
const still = '--force-prefers-reduced-motion';

/**
 * Chromium with a fresh user data folder.
 * @param asUsed with windows where it can be and as it comes, for whoever measures what a person would wait
 * @param moving what opens glides, as it does for most people
 */
export function launchBrowser({ asUsed = false, moving = false } = {}): Promise<Browser> {
  const wanted = asUsed ? chromium.toReversed() : chromium;
  return puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? wanted.find((file) => existsSync(file)) ?? 'chromium',
    userDataDir: mkdtempSync(path.join(tmpdir(), 'bolide-chromium-')),
    args: [
      '--headless',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...(asUsed ? [] : [idly]),
      ...(asUsed || moving ? [] : [still]),
    ],
  });
}

/** How often a page is looked at while something is awaited: at every frame would take from it what it needs to get there. */
const lookAgainMs = 50;

/** A page that remembers every error it logs. */
export async function openPage(browser: Browser | BrowserContext): Promise<{ page: Page; errors: string[] }> {
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  page.setDefaultTimeout(20_000);
  const wait = page.waitForFunction.bind(page);
  page.waitForFunction = (wanted, options, ...args) => wait(wanted, { polling: lookAgainMs, ...options }, ...args);
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(String(error)));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of 4\d\d/.test(message.text())) errors.push(message.text());
  });
  return { page, errors };
}

/** What the page shows, its beginning and its end: dialogs stand there. */
const shownText = (page: Page): Promise<string> =>
  page
    .evaluate(() => document.querySelector('body')?.innerText ?? '')
    .then((text) => (text.length > 4000 ? `${text.slice(0, 2000)}\n…\n${text.slice(-2000)}` : text));

/** Waits until all of a page is there: its heading, its rows, and nothing that is still being read. */
export const isThere = (page: Page): Promise<unknown> =>
  page.waitForFunction(
    () =>
      document.readyState === 'complete' &&
      document.querySelector('h1') !== null &&
      !document.querySelector('[aria-busy=true]') &&
      !/reading…|placing the devices/.test(document.querySelector('body')?.innerText ?? ''),
  );

/** Goes to an address, and waits until all of the page is there. */
export async function openWhole(page: Page, address: string): Promise<void> {
  await page.goto(address, { waitUntil: 'domcontentloaded' });
  await isThere(page);
  // rows come a moment later, and not at all where the question is a mistake
  await page
    .waitForFunction(() => !document.querySelector('.table:not([data-answers])'), { timeout: 3000 })
    .catch(() => undefined);
}

/** Waits until the page shows a text somewhere. While one page takes the place of another there is no body to read. */
export async function see(page: Page, text: string | RegExp): Promise<void> {
  const source = typeof text === 'string' ? text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') : text.source;
  await page
    .waitForFunction((wanted) => new RegExp(wanted).test(document.querySelector('body')?.innerText ?? ''), {}, source)
    .catch(async () => {
      throw new Error(`did not see ${String(text)} in:\n${await shownText(page)}`);
    });
}

/** Waits until an element stands still and nothing lies over it: a menu that is still opening would be missed. */
async function steady(page: Page, element: ElementHandle<HTMLElement>): Promise<void> {
  await element.scrollIntoView();
  const found = await page
    .waitForFunction(
      async (target) => {
        // an error thrown here would be one of the page, at every look
        if (!target.isConnected) return 'detached';
        const before = target.getBoundingClientRect();
        await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
        const { x, y, width, height } = target.getBoundingClientRect();
        if (x !== before.x || y !== before.y || width !== before.width) return false;
        if (x < 0 || y < 0 || x + width > innerWidth || y + height > innerHeight) return 'free';
        const top = document.elementFromPoint(x + width / 2, y + height / 2);
        if (top !== null && (target.contains(top) || top.contains(target))) return 'free';
        // what grew above it may have pushed it out of what its dialog shows
        target.scrollIntoView({ block: 'nearest', behavior: 'instant' });
        return false;
      },
      {},
      element,
    )
    .catch(async (error: unknown) => {
      if (/detached/.test(String(error))) throw error;
      throw new Error(`what was to be clicked never stood free: ${await whatCovers(element)}`, { cause: error });
    });
  if ((await found.jsonValue()) === 'detached') throw new Error('what was to be clicked is detached');
}

/** What lies over an element, for whoever reads why a click was never made. */
const whatCovers = (element: ElementHandle<HTMLElement>): Promise<string> =>
  element.evaluate((target) => {
    const { x, y, width, height } = target.getBoundingClientRect();
    const top = document.elementFromPoint(x + width / 2, y + height / 2);
    const start = (one: Element | null) => one?.outerHTML.slice(0, 300) ?? 'nothing';
    return `${start(target)} at ${x},${y} ${width}×${height}; over it ${start(top)}, in ${start(top?.parentElement ?? null)}`;
  });

/** Clicks what is found, anew if it was drawn anew or moved just then: a person presses what stands there now. */
async function clickFound(page: Page, find: () => Promise<ElementHandle>, again = 3): Promise<void> {
  const handle = (await find()) as ElementHandle<HTMLElement>;
  try {
    await steady(page, handle);
    const hit = wasHit(handle);
    await handle.click();
    if (await hit) return;
    if (again === 0)
      throw new Error(
        `a click does not reach what it is meant for: ${await handle.evaluate((element) => element.outerHTML.slice(0, 200))}`,
      );
  } catch (error) {
    if (again === 0 || !/detached/.test(String(error))) throw error;
  }
  await clickFound(page, find, again - 1);
}

/** Once the page has come alive (what the server drew hears nothing before), clicks the button, link, menu item or labelled box whose words are exactly these. */
export const press = (page: Page, name: string): Promise<void> =>
  clickFound(page, async () =>
    page
      .waitForFunction(
        (wanted) => {
          const candidates = [
            ...document.querySelectorAll<HTMLElement>(
              '[role=option], [role=menuitem], [role=dialog] button, [role=dialog] label, button, a',
            ),
          ];
          return (
            candidates.find(
              (element) =>
                (element.getAttribute('aria-label') ?? element.innerText).trim() === wanted &&
                element.getClientRects().length > 0 &&
                !element.closest('[aria-hidden=true]') &&
                !element.hasAttribute('disabled') &&
                Object.keys(element).some((key) => key.startsWith('__reactProps')),
            ) ?? null
          );
        },
        {},
        name,
      )
      .then((found) => found as ElementHandle)
      .catch(async () => {
        throw new Error(`nothing called “${name}” to press in:\n${await shownText(page)}`);
      }),
  );

/** Clicks the first thing that a selector finds, once the page has come alive and it stands still. */
export const click = (page: Page, selector: string): Promise<void> =>
  clickFound(page, async () =>
    page
      .waitForFunction(
        (wanted) =>
          [...document.querySelectorAll<HTMLElement>(wanted)].find(
            (element) =>
              element.getClientRects().length > 0 && Object.keys(element).some((key) => key.startsWith('__react')),
          ) ?? null,
        {},
        selector,
      )
      .then((found) => found as ElementHandle)
      .catch(async () => {
        throw new Error(`nothing at ${selector} to click in:\n${await shownText(page)}`);
      }),
  );

/** Clicks one of those that a selector finds and whose words begin so, the first unless told which. */
export const pressAmong = (page: Page, selector: string, words: string, which = 0): Promise<void> =>
  clickFound(page, async () =>
    page
      .waitForFunction(
        (within, wanted, at) =>
          [...document.querySelectorAll<HTMLElement>(within)].filter(
            (element) =>
              element.innerText.trim().startsWith(wanted) &&
              element.getClientRects().length > 0 &&
              Object.keys(element).some((key) => key.startsWith('__react')),
          )[at] ?? null,
        {},
        selector,
        words,
        which,
      )
      .then((found) => found as ElementHandle)
      .catch(async () => {
        throw new Error(`nothing at ${selector} that begins with “${words}” to click in:\n${await shownText(page)}`);
      }),
  );

/** A page that is busy hears of a click late; one that heard of none was not clicked. */
const clickHeardMs = 5000;

/** Whether the click that follows reaches the element, or one of the same words that was drawn in its place just then. One that leads to another page did, and one that opened its list with the press alone, before the click. */
function wasHit(element: ElementHandle<HTMLElement>): Promise<boolean> {
  return element
    .evaluate(
      (target, heardMs) =>
        new Promise<boolean>((resolve) => {
          const wordsOf = (one: Element) => one.getAttribute('aria-label') ?? one.textContent;
          const words = wordsOf(target);
          const opened = () => target.getAttribute('aria-expanded') === 'true';
          document.addEventListener(
            'click',
            ({ target: hit }) => {
              if (!(hit instanceof Element)) resolve(opened());
              else
                resolve(
                  opened() ||
                    target.contains(hit) ||
                    (!target.isConnected &&
                      [hit, hit.closest('button, a, label, [role]')].some(
                        (one) => one !== null && wordsOf(one) === words,
                      )),
                );
            },
            { once: true, capture: true },
          );
          const look = (leftMs: number): unknown =>
            opened() || leftMs <= 0 ? resolve(opened()) : setTimeout(() => look(leftMs - 100), 100);
          look(heardMs);
        }),
      clickHeardMs,
    )
    .catch(() => true);
}

/** Waits until what a person chose is kept on the server, so that the page can be left: how many there are, or words in it. */
export const preferenceKept = async (page: Page, key: string, wanted: string | number): Promise<void> => {
  await page.waitForFunction(
    async (name, expected) => {
      const value = ((await (await fetch('/api/v1/preferences')).json()) as Record<string, unknown>)[name];
      return typeof expected === 'number'
        ? Array.isArray(value) && value.length === expected
        : JSON.stringify(value ?? '').includes(expected);
    },
    { polling: 100 },
    key,
    wanted,
  );
};

/** Types into the field with a label, in place of what it holds. */
export async function fill(page: Page, selector: string, text: string): Promise<void> {
  await click(page, selector);
  const field = await page.waitForSelector(selector, { visible: true });
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.press('Backspace');
  await field?.type(text);
}

/** Writes a day, `2026-11-23`, into a field that has one, in place of what it holds. */
export async function fillDay(page: Page, name: string, day: string): Promise<void> {
  await click(page, `.MuiPickersTextField-root:has(input[name="${name}"]) [role=spinbutton]`);
  // each part takes the place of what it holds, and leads on to the next
  await page.keyboard.type(day.replaceAll(/\D/g, ''));
}

/** Those of the rules that judge colours: all that changes from day to night. */
const coloursAlone = ['color-contrast', 'link-in-text-block'];

let axeText: string | null = null;
const axeSource = (): string =>
  (axeText ??= readFileSync(createRequire(path.join(home, 'package.json')).resolve('axe-core/axe.min.js'), 'utf8'));

/**
 * Rules that axe finds broken on the page, once what changes colour or place has come to rest: half-way between two colours no contrast is right.
 * @param only `colours` for a page all of whose rules were held against it in other colours
 */
export async function accessibilityProblems(page: Page, only?: 'colours'): Promise<string[]> {
  const isThereAlready = await page.evaluate(() => 'axe' in window);
  if (!isThereAlready) await page.evaluate(axeSource());
  return page.evaluate(async (rules) => {
    for (;;) {
      await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
      const moving = document
        .getAnimations()
        .filter(
          ({ playState, effect }) => playState === 'running' && Number.isFinite(effect?.getComputedTiming().endTime),
        );
      if (moving.length === 0) break;
      await Promise.allSettled(moving.map(({ finished }) => finished));
    }
    const axe = (
      window as unknown as {
        axe: { run(options: object): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      }
    ).axe;
    // what is in order need not be told apart
    const { violations } = await axe.run({ resultTypes: ['violations'], ...(rules && { runOnly: rules }) });
    return violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160) ?? ''}`);
  }, only && coloursAlone);
}
