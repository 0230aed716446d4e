import { describe, expect, test } from '@jest/globals';
import Excel from 'exceljs';
import { press, pressAmong, see } from '../support/browser';
import { sample, page, refused, open, api, rowsOf, typeFilter, send, numberBefore } from './theDay';

export const filters = () =>
  describe('filters', () => {
    test('habits of other query languages are understood', async () => {
      const byApi = async (where: string) =>
        (await api<{ total: number }>(`devices?size=1&where=${encodeURIComponent(where)}`)).total;
      const switches = await byApi('role=switch');
      const here = await byApi('role=switch site=SGH');
      expect([switches, here].every((count) => count > 0) && here < switches).toBe(true);
      const all = await byApi('');
      const { rows } = await api<{ rows: { name: string }[] }>('devices?size=500&columns=name');
      const names = rows.map(({ name }) => name);
      await open('/estate');
      for (const [typed, right] of [
        ['role=switch and site=SGH', here],
        ['not role=switch', all - switches],
        ['role==switch', switches],
        ['role = switch', switches],
        ['site=SGH,HDP', await byApi('site=SGH or site=HDP')],
        ['name=sgh*', names.filter((name) => name.startsWith('sgh')).length],
        ['memory<=256 MB', await byApi('memory<=256M')],
      ] as const) {
        await open(`/estate?where=${encodeURIComponent(typed)}`);
        expect([typed, await rowsOf(typed)]).toEqual([typed, right]);
      }
    });

    test('what is not understood is told at its place, with what to write', async () => {
      for (const [typed, words] of [
        ['name~acc*', 'Expected: name:part or name=beginning*'],
        ['role is switch', 'Expected: role=value, or "is" for the word'],
        ['serial=10 MB', '“MB” is read as a unit, and serial has none'],
      ]) {
        await open('/estate');
        await typeFilter(typed ?? '');
        await see(page, words ?? '');
      }
    });

    test('within brackets values are proposed, and no keystroke is refused', async () => {
      await open('/estate');
      refused.length = 0;
      await typeFilter('(site=SGH or role=sw');
      await page.waitForFunction(() =>
        [...document.querySelectorAll('.filter [role=option]')].some(({ textContent }) =>
          textContent?.includes('switch'),
        ),
      );
      await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Enter');
      await page.keyboard.type(')');
      await page.waitForFunction(
        () => document.querySelector<HTMLInputElement>('.filter input')?.value === '(site=SGH or role=switch )',
      );
      expect(await rowsOf('(site=SGH or role=switch )')).toBeGreaterThan(0);
      expect(refused).toEqual([]);
    });

    test('what a cell shows is found', async () => {
      await open(`/estate?where=${encodeURIComponent('role=access-point')}`);
      const right = await rowsOf('role=access-point');
      await see(page, 'access point');
      for (const typed of ['"access point"', 'role="access point"', 'access point']) {
        await open(`/estate?where=${encodeURIComponent(typed)}`);
        expect([typed, await rowsOf(typed)]).toEqual([typed, right]);
      }
    });
  });

export const counts = () =>
  describe('counts', () => {
    test('what Today counts is what its links show', async () => {
      await open('/today?against=1');
      const changed = await numberBefore('devices changed');
      const added = await numberBefore('new since');
      expect(changed).toBeGreaterThan(1);
      await pressAmong(page, '.numbers a', String(changed));
      expect(await rowsOf('change=changed')).toBe(changed);
      // the marks of the table say the same
      await see(page, `~${changed} changed`);
      await open('/today?against=1');
      await numberBefore('new since');
      await pressAmong(page, '.numbers a', String(added));
      expect(await rowsOf('change=added')).toBe(added);
      await open('/today?against=1');
      const all = await page
        .waitForFunction(() => /all (\d+) changes/.exec(document.body.innerText)?.[1])
        .then((found) => found.jsonValue());
      await pressAmong(page, 'main a', `all ${all} changes`);
      await page.waitForFunction(
        (many) => document.querySelector<HTMLElement>('.table')?.dataset.total === many,
        {},
        all,
      );
    });
  });

export const checks = () =>
  describe('checks', () => {
    test('on an own field are judged anew as soon as it is written', async () => {
      await send('POST', 'fields', { thing: 'devices', label: 'Keeper', kind: 'text' });
      const { body } = await send('POST', 'checks', {
        name: 'Cores have a keeper',
        thing: 'devices',
        where: 'name=sgh-core-1 keeper=""',
        scope: '',
        severity: 'minor',
        why: '',
        remedy: '',
        on: true,
      });
      await open(`/estate?of=checks&sel=check:${String(body.id)}`);
      await see(page, '1 found');
      const core = await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1');
      await send('POST', 'values', { thing: 'devices', ids: [core.rows[0]?.id], set: { keeper: 'field service' } });
      await open(`/estate?of=checks&sel=check:${String(body.id)}`);
      await see(page, 'Nothing is found');
      await open('/today');
      await see(page, 'checks fail');
      expect(
        (await api<{ rows: { id: string; failing: number }[] }>('checks')).rows.find(({ id }) => id === body.id)
          ?.failing,
      ).toBe(0);
    });
  });

export const moments = () =>
  describe('a moment of the estate', () => {
    test('is told by what it covered, and compared with the last survey of the same scope', async () => {
      const known = await api<{ total: number }>('devices?size=1');
      await sample.survey({ scopeName: 'Depot' }, { ranges: ['10.72.200.1-3'] });
      await open('/today');
      await see(page, `“Depot” was surveyed`);
      await see(page, `0 of ${known.total} devices among its 3 addresses`);
      await see(page, '“Depot” was surveyed for the first time');
      await see(page, /the others answered .+ or later/);
      await see(page, /Survey 5 of Depot sealed .+ ago, 0 of 3 addresses answered/);
      // the next of all is held against the last of all, not against that one
      await pressAmong(page, 'main a', 'Compare with the survey before');
      await page.waitForFunction(() => new URLSearchParams(location.search).get('against') === '4');
      await sample.survey({ cancelled: () => true });
      await open('/today');
      await see(page, /“Ostermere” was cut short .+ ago: 0 of/);
      expect((await api<{ before: number }>('today')).before).toBe(4);
    });
  });

export const exportsOfTables = () =>
  describe('exports', () => {
    const saved = (where: string) =>
      page.evaluate(async (url) => [...new Uint8Array(await (await fetch(url)).arrayBuffer())], where);
    /** What a press on a line of the export menu fetches. */
    async function exported(words: string): Promise<Buffer> {
      await press(page, 'Export');
      const href = await page
        .waitForFunction(
          (wanted) =>
            [...document.querySelectorAll<HTMLAnchorElement>('[role=menuitem]')].find(
              ({ innerText }) => innerText === wanted,
            )?.href,
          {},
          words,
        )
        .then((found) => found.jsonValue());
      await page.keyboard.press('Escape');
      return Buffer.from(await saved(String(href)));
    }
    const columns = 'name,role,memoryBytes,firstSeen,keeper';

    test('look as the table does: headings, units, types, the order of groups; and can be read back', async () => {
      const core = (await api<{ rows: { id: string }[] }>('devices?where=name%3Dsgh-core-1')).rows[0]?.id;
      await send('POST', 'values', { thing: 'devices', ids: [core], set: { keeper: '=SUM(1,2)' } });
      await open(`/estate?columns=${columns}&sort=-name&group=site`);
      await page.waitForSelector('.table .head');
      const book = new Excel.Workbook();
      await book.xlsx.load((await exported('Spreadsheet (XLSX)')) as never);
      const [sheet] = book.worksheets;
      const head = (sheet?.getRow(1).values as string[]).slice(1);
      expect(head).toEqual(['Name', 'Role', 'Memory (MB)', 'First seen (UTC)', 'Keeper']);
      const lines =
        sheet?.getRows(2, (sheet.rowCount ?? 1) - 1)?.map((row) => (row.values as unknown[]).slice(1)) ?? [];
      const line = lines.find(([name]) => name === 'sgh-core-1');
      expect(line?.[4]).toBe('=SUM(1,2)');
      expect([typeof line?.[2], line?.[3] instanceof Date]).toEqual(['number', true]);
      expect(lines.some(([, role]) => role === 'access point')).toBe(true);
      // site by site, within it backwards by name
      const sites = lines.map(([name]) => String(name).slice(0, 3));
      expect(sites).toEqual([...new Set(sites)].flatMap((site) => sites.filter((other) => other === site)));
      const csv = (await exported('CSV')).toString('utf8');
      expect(csv.startsWith('\ufeffName,Role,Memory (MB),First seen (UTC),Keeper')).toBe(true);
      expect(
        (await exported('CSV for scripts')).toString('utf8').startsWith('name,role,memoryBytes,firstSeen,keeper'),
      ).toBe(true);

      const { body: back } = await send('POST', 'imports/devices', { csv, name: 'back.csv', preview: true });
      expect(back).toMatchObject({ mistakes: [], changed: 0, added: 0 });
    });
  });
