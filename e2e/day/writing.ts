import { describe, expect, test } from '@jest/globals';
import { scopeDefaults } from '../../src/core/estate/scope';
import { fill, press, pressAmong, see } from '../support/browser';
import { onLoopback } from '../support/program';
import { app, browser, page, open, api, sample, send } from './theDay';

export const sending = () =>
  describe('what is sent', () => {
    const maintenance = async () => (await api<{ rows: { reason: string }[] }>('maintenance')).rows;
    const writeReason = async (reason: string) => {
      await open(`/estate?of=groups&where=${encodeURIComponent('site=SGH')}`);
      await fill(page, 'input[name=maintenanceReason]', reason);
    };

    test('is sent once, however often it is pressed while it is on its way', async () => {
      const session = await page.createCDPSession();
      await session.send('Fetch.enable', { patterns: [{ urlPattern: '*/api/v1/maintenance' }] });
      let sent = 0;
      session.on('Fetch.requestPaused', ({ requestId, request }) => {
        const wait = request.method === 'POST' ? 700 : 0;
        sent += wait > 0 ? 1 : 0;
        setTimeout(() => void session.send('Fetch.continueRequest', { requestId }).catch(() => undefined), wait);
      });
      await writeReason('new fans');
      for (let times = 0; times < 3; times++) await page.keyboard.press('Enter');
      await see(page, /Set for \d+ devices?\./);
      await session.detach();
      expect([sent, (await maintenance()).filter(({ reason }) => reason === 'new fans').length]).toEqual([1, 1]);
    });

    test('counts once though the line lost the answer and it was sent again', async () => {
      const session = await page.createCDPSession();
      await session.send('Fetch.enable', {
        patterns: [{ urlPattern: '*/api/v1/maintenance', requestStage: 'Response' }],
      });
      let sent = 0;
      session.on('Fetch.requestPaused', ({ requestId, request }) => {
        const lost = request.method === 'POST' && ++sent === 1;
        const answered = lost
          ? session.send('Fetch.failRequest', { requestId, errorReason: 'ConnectionReset' })
          : session.send('Fetch.continueRequest', { requestId });
        // a question that is asked again by the clock may be on its way when this ends
        void answered.catch(() => undefined);
      });
      await writeReason('new cables');
      await page.keyboard.press('Enter');
      await see(page, /Set for \d+ devices?\./);
      await session.detach();
      expect([sent, (await maintenance()).filter(({ reason }) => reason === 'new cables').length]).toEqual([2, 1]);
    });

    test('is told to whoever writes the same in another tab', async () => {
      const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-2')).rows[0]?.id ?? '';
      const where = `/estate?sel=device:${core}`;
      await open(where);
      const other = await browser.newPage();
      await other.goto(`${app.address}${where}`, { waitUntil: 'domcontentloaded' });
      for (const one of [page, other]) {
        await press(one, 'Write');
        await fill(one, 'input[name="own.keeper"]', one === page ? 'first tab' : 'second tab');
      }
      await page.keyboard.press('Enter');
      await see(page, 'Written.');
      // the keys are where they were before the form
      await page.waitForFunction(() => document.activeElement?.textContent === 'Change');
      await other.bringToFront();
      await other.keyboard.press('Enter');
      await see(other, 'became another while you were writing');
      await see(other, 'first tab');
      expect((await api<{ rows: { keeper: string }[] }>('devices?where=name%3Dsgh-core-2')).rows[0]?.keeper).toBe(
        'first tab',
      );
      await other.close();
      await page.bringToFront();
    });
  });

export const takingBack = () =>
  describe('what was written', () => {
    test('can be taken back one by one, whatever was written after it', async () => {
      await send('POST', 'credentials', {
        name: 'day',
        kind: 'snmp2c',
        community: 'not-a-secret',
        approved: onLoopback(sample.port),
      });
      for (const name of ['North', 'South'])
        expect(
          await send('POST', 'scopes', { ...scopeDefaults, name, ranges: ['10.72.201.0/30'], credentials: ['day'] }),
        ).toMatchObject({
          status: 200,
        });
      await open('/survey');
      for (const name of ['North', 'South']) {
        await press(page, `Delete the scope ${name}`);
        await see(page, `Deleted the scope “${name}”.`);
      }
      // the one before the last is still there to be taken back
      await pressAmong(page, '[role=status] button', 'Undo', 1);
      await page.waitForSelector('[aria-label="Delete the scope North"]');
      await pressAmong(page, '[role=status] button', 'Undo');
      await page.waitForSelector('[aria-label="Delete the scope South"]');
    });

    test('is in a log by person and thing, with the way back of whatever nothing newer stands upon', async () => {
      const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.id;
      for (const keeper of ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'])
        await send('POST', 'values', { thing: 'devices', ids: [core], set: { keeper } });
      await open('/settings/written');
      await page.waitForSelector('select[aria-label="Written of"] option[value=devices]');
      await page.select('select[aria-label="Written of"]', 'devices');
      await fill(page, 'input[aria-label="Edits that hold"]', 'sgh-core-1');
      await see(page, 'written over since');
      await pressAmong(page, 'table button', 'Undo');
      await see(page, '1 taken back');
      expect((await api<{ rows: { keeper: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.keeper).toBe('g');
      // what stands under it can be taken back then
      await see(page, 'taken back');
      await pressAmong(page, 'table button', 'Undo');
      await page.waitForFunction(
        async () =>
          ((await (await fetch('/api/v1/devices?where=name%3Dsgh-core-1')).json()) as { rows: { keeper: string }[] })
            .rows[0]?.keeper === 'f',
      );
    });

    test('of a check that is deleted the way back stays, though its page is gone', async () => {
      const { rows } = await api<{ rows: { id: string; name: string }[] }>('checks');
      const own = rows.find(({ name }) => name === 'Cores have a keeper');
      await open(`/estate?of=checks&sel=check:${own?.id ?? ''}`);
      await press(page, 'Delete the check');
      await see(page, '“Cores have a keeper” is deleted.');
      await pressAmong(page, '.donetray button', 'Undo');
      await page.waitForFunction(
        async (name) =>
          ((await (await fetch('/api/v1/checks')).json()) as { rows: { name: string }[] }).rows.some(
            (one) => one.name === name,
          ),
        {},
        'Cores have a keeper',
      );
    });
  });

export const catalogue = () =>
  describe('the catalogue', () => {
    const find = async (release: string) =>
      (await api<{ rows: { release: string; published: string }[] }>('catalogue')).rows.find(
        (one) => one.release === release,
      );

    test('of releases is added to, changed and taken from, with a way back', async () => {
      await open('/firmware?of=releases');
      await press(page, 'Add a release');
      for (const [name, value] of [
        ['vendor', 'Kestrane'],
        ['family', 'K-Day'],
        ['release', '9.9.1'],
        ['published', '2026-11-01'],
        ['minimumMemoryBytes', 'much'],
      ])
        await fill(page, `input[name="release.${name}"]`, value ?? '');
      await press(page, 'Add to the catalogue');
      await see(page, 'Write a size like 512M or 2G');
      await fill(page, 'input[name="release.minimumMemoryBytes"]', '512M');
      await press(page, 'Add to the catalogue');
      await see(page, '9.9.1 is in the catalogue.');
      await open('/firmware?of=releases&sel=release%3AKestrane%09K-Day%099.9.1');
      await press(page, 'Change the release 9.9.1 of Kestrane K-Day');
      await fill(page, 'input[name="release.published"]', '2026-11-02');
      await press(page, 'Save the release');
      await see(page, 'Mon 2 Nov 2026');
      expect(await find('9.9.1')).toMatchObject({ published: '2026-11-02', minimumMemoryBytes: 512 * 1024 ** 2 });
      await press(page, 'Remove the release 9.9.1 of Kestrane K-Day');
      await see(page, '9.9.1 is out of the catalogue.');
      expect(await find('9.9.1')).toBeUndefined();
      await pressAmong(page, '.panel [role=status] button', 'Undo');
      await see(page, '1 taken back');
      expect(await find('9.9.1')).toMatchObject({ published: '2026-11-02' });
    });
  });

export const unsavedWork = () =>
  describe('work that is not saved', () => {
    test('is offered again after Escape, a press beside the dialog, and another page', async () => {
      const name = '[role=dialog] input[name=name]';
      await open('/survey');
      for (const leave of [
        () => page.keyboard.press('Escape'),
        () => page.mouse.click(20, 400),
        () => open('/today').then(() => open('/survey')),
      ]) {
        await press(page, 'Add a scope');
        await fill(page, name, 'All of the north');
        await leave();
        await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
        await press(page, 'Add a scope');
        await press(page, 'Take it up again');
        expect(await page.$eval(name, (input) => (input as HTMLInputElement).value)).toBe('All of the north');
        await page.keyboard.press('Escape');
        await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
        await press(page, 'Add a scope');
        await press(page, 'Forget it');
        await page.keyboard.press('Escape');
        await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
      }
    });
  });
