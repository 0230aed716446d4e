import { describe, expect, test } from '@jest/globals';
import { scopeDefaults } from '../../src/core/estate/scope';
import { press, pressAmong, see } from '../support/browser';
import { sample, page, open, api, send } from './theDay';

export const surveys = () =>
  describe('surveys', () => {
    const silent = (name: string) => ({
      ...scopeDefaults,
      name,
      ranges: ['10.72.202.0/26'],
      translations: [`10.72.0.0/16 via ${sample.base}/16 port ${sample.port}`],
      credentials: ['day'],
      timeoutMs: 60_000,
      retries: 3,
      concurrency: 8,
    });

    test('wait for their turn in sight, ask as many at once as they are told, and are cancelled at once', async () => {
      for (const name of ['Silent east', 'Silent west']) await send('POST', 'scopes', silent(name));
      await open('/survey');
      await see(page, 'Silent east');
      const place = await page.$$eval('ul.lines li', (lines) =>
        lines
          .filter(({ textContent }) => textContent?.includes('Run now'))
          .findIndex(({ textContent }) => textContent?.includes('Silent east')),
      );
      await pressAmong(page, 'ul.lines li button', 'Run now', place);
      await see(page, /0 of 62 addresses/);
      // eight are waited for, though nobody answers any of them
      const { active } = await api<{ active: { surveyId: number } }>('surveys');
      const asked = await page.evaluate(
        (id) =>
          new Promise<number>((resolve) => {
            const events = new EventSource(`/api/v1/surveys/${id}/events`);
            events.addEventListener('progress', (event) => {
              events.close();
              resolve((JSON.parse(event.data as string) as { done: number }).done);
            });
          }),
        active.surveyId,
      );
      expect(asked).toBe(0);
      await page.waitForSelector('select[aria-label="Survey another scope after it"] option:nth-child(2)');
      const west = await page.$$eval('select[aria-label="Survey another scope after it"] option', (options) =>
        String((options as HTMLOptionElement[]).find(({ label }) => label === 'Silent west')?.value),
      );
      await page.select('select[aria-label="Survey another scope after it"]', west);
      await see(page, 'Then, each in its turn:');
      await see(page, 'Silent west');
      // minutes of silence are not waited for
      await press(page, 'Cancel');
      await page.waitForFunction(
        async (id) =>
          ((await (await fetch(`/api/v1/surveys/${id}`)).json()) as { state: string }).state === 'cancelled',
        {},
        active.surveyId,
      );
      await page.waitForFunction(
        async (id) =>
          ((await (await fetch('/api/v1/surveys')).json()) as { active: { surveyId: number } | null }).active
            ?.surveyId === id,
        {},
        active.surveyId + 1,
      );
      await send('POST', `surveys/${active.surveyId + 1}/cancel`, {});
      await page.waitForFunction(
        async () => ((await (await fetch('/api/v1/surveys')).json()) as { active: object | null }).active === null,
      );
    });
  });

export const theLine = () =>
  describe('the line', () => {
    test('is gone: the frame stays, says what it waits for, and goes there once it can', async () => {
      await open('/today');
      await see(page, 'Needs attention');
      await page.setOfflineMode(true);
      await pressAmong(page, '.workspaces a', 'Ports');
      await see(page, 'Ports opens as soon as the application answers; nothing here is lost');
      await see(page, 'Needs attention');
      await page.setOfflineMode(false);
      await page.waitForFunction(() => location.pathname === '/ports');
      await page.waitForSelector('.table .head');
    });

    test('is slow: something shows at once', async () => {
      await open('/today');
      await see(page, 'Needs attention');
      const session = await page.createCDPSession();
      await session.send('Network.enable');
      const slow = { offline: false, latency: 1500, downloadThroughput: -1, uploadThroughput: -1 };
      await session.send('Network.emulateNetworkConditions', slow);
      await pressAmong(page, '.workspaces a', 'Ledger');
      await see(page, 'opening Ledger…');
      expect(await page.$eval('.frame', (frame) => frame.getAttribute('aria-busy'))).toBe('true');
      await session.send('Network.emulateNetworkConditions', { ...slow, latency: 0 });
      await session.detach();
      await page.waitForFunction(() => location.pathname === '/ledger');
    });
  });
