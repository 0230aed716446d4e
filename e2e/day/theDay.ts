import type { Browser, Page } from 'puppeteer-core';
import { addPerson } from '../../src/store/people';
import { startApplication, type Application } from '../support/application';
import { fill, launchBrowser, openPage, see } from '../support/browser';
import { stopAll } from '../support/program';
import { openSample, type SampleStore } from '../support/sampleStore';

/** A long day of use: each task as a person does it, on the network with four weekly surveys. */
const steps = [1, 2, 3, 8];
export const person = { name: 'osric', password: 'harbour-depot-7' };
export let sample: SampleStore;
export let app: Application;
export let browser: Browser;
export let page: Page;
export let errors: string[];
/** questions that the server refused as mistaken */
export const refused: string[] = [];

/** Begins the day: the application on the network that was surveyed, and somebody who may do everything. */
export async function beginDay(): Promise<void> {
  sample = await openSample({ steps });
  await addPerson(sample.store.db, person.name, person.password, 'administrator');
  [app, browser] = await Promise.all([startApplication(sample.store.folder), launchBrowser({ moving: true })]);
  ({ page, errors } = await openPage(browser));
  page.on('response', (response) => void (response.status() === 422 && refused.push(response.url())));
  await page.goto(`${app.address}/login`, { waitUntil: 'networkidle0' });
  await fill(page, 'input[name=name]', person.name);
  await fill(page, 'input[name=password]', person.password);
  await page.keyboard.press('Enter');
  await see(page, 'viewing the latest');
}
export async function endDay(): Promise<void> {
  await browser?.close();
  await stopAll();
  sample.close();
}

export const open = (where: string) => page.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
export const api = <Answer>(where: string): Promise<Answer> =>
  page.evaluate(async (url) => (await fetch(url)).json() as Promise<never>, `/api/v1/${where}`);

/** Waits until the table shows what a filter asks for. @returns how many rows fit */
export async function rowsOf(where: string): Promise<number> {
  await page.waitForFunction(
    (wanted) =>
      new URLSearchParams(document.querySelector<HTMLElement>('.table')?.dataset.answers?.split('?')[1]).get(
        'where',
      ) === wanted,
    {},
    where,
  );
  return page.$eval('.table', (table) => Number((table as HTMLElement).dataset.total));
}
export async function typeFilter(text: string): Promise<void> {
  await page.waitForSelector('.table .head');
  await page.keyboard.press('/');
  await page.keyboard.type(text);
}

/** Sends as the page does. @returns what came of it */
export const send = (method: string, where: string, body: unknown, headers: Record<string, string> = {}) =>
  page.evaluate(
    async (...[how, url, given, more]) => {
      const answer = await fetch(url, {
        method: how,
        ...(given !== null && { body: JSON.stringify(given) }),
        headers: { 'content-type': 'application/json', ...more },
      });
      return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
    },
    method,
    `/api/v1/${where}`,
    body,
    headers,
  );
export const numberBefore = async (words: string): Promise<number> => {
  await see(page, words);
  return page.$$eval(
    '.numbers a',
    (links, wanted) =>
      Number(links.find(({ textContent }) => textContent?.includes(wanted))?.querySelector('b')?.textContent ?? NaN),
    words,
  );
};
