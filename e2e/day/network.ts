import { describe, expect, test } from '@jest/globals';
import path from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { scopeDefaults } from '../../src/core/estate/scope';
import { sampleWriter } from '../../src/sim/ostermere/fleet';
import { saveCredential } from '../../src/store/credentials';
import { saveScope } from '../../src/store/scopes';
import { fill, fillDay, press, pressAmong, see } from '../support/browser';
import { onLoopback, temporaryFolder } from '../support/program';
import { api, open, page, rowsOf, sample, send } from './theDay';

interface Graph {
  devices: { id: number; name: string; site: string; change?: string }[];
  links: {
    a: { device: number };
    b: { device: number };
    issues: string[];
    change?: string;
    spareLost?: string;
  }[];
}

/** What the list of the map tells of each site. */
const sitesOnTheMap = () =>
  page.$$eval('[role=treeitem][aria-level="1"]', (lines) =>
    Object.fromEntries(
      lines.map((line) => [
        line.querySelector('.cut')?.textContent ?? '',
        line.querySelector('.end')?.textContent ?? '',
      ]),
    ),
  );

/** The network itself: found, seen from afar, traced, acted on, under maintenance, on paper. */
export const network = () =>
  describe('the network', () => {
    test('a machine is found by a scrap of its address from wherever one is', async () => {
      const { rows } = await api<{ rows: { name: string; address: string }[] }>('devices?where=name=rpw-plat');
      await open('/today');
      await see(page, 'Needs attention');
      await page.keyboard.down('Control');
      await page.keyboard.press('k');
      await page.keyboard.up('Control');
      await page.waitForSelector('[role=dialog] input');
      await page.keyboard.type(rows[0]?.address ?? '');
      await see(page, 'rpw-plat');
      await page.waitForFunction(() =>
        document.querySelector('[role=option][aria-selected=true]')?.textContent?.includes('rpw-plat'),
      );
      await page.keyboard.press('Enter');
      await page.waitForFunction(() => document.querySelector('.panel h2')?.textContent === 'rpw-plat');
    });

    test('the map tells from afar what is wrong and what has changed within a site', async () => {
      await open('/map?against=3');
      await page.waitForSelector('[role=treeitem]');
      const { devices, links } = await api<Graph>('map?against=3');
      const siteOf = new Map(devices.map(({ id, site }) => [id, site]));
      const within = (site: string) =>
        links.filter(({ a, b }) => siteOf.get(a.device) === site && siteOf.get(b.device) === site);
      const expected = (site: string) => {
        const own = within(site);
        const broken = own.filter(
          ({ issues, change, spareLost }) => issues.length > 0 || spareLost || change === 'gone',
        ).length;
        const changed =
          own.filter(({ change }) => change).length +
          devices.filter((device) => device.site === site && device.change).length;
        return [
          ...(broken > 0 ? [`${broken} ${broken === 1 ? 'link' : 'links'} at fault`] : []),
          ...(changed > 0 ? [`${changed} changed`] : []),
        ];
      };
      const told = await sitesOnTheMap();
      const sites = [...new Set(siteOf.values())].filter((site) => site in told);
      expect(sites.flatMap(expected).some((words) => /at fault/.test(words))).toBe(true);
      expect(sites.flatMap(expected).some((words) => /changed/.test(words))).toBe(true);
      for (const site of sites) {
        const news = (told[site] ?? '').split(', ').filter((words) => !/^\d+$/.test(words));
        expect([site, news]).toEqual([site, expected(site)]);
      }
    });

    test('a way through the network is told hop by hop', async () => {
      await open('/map?of=trace');
      await see(page, 'Say where it begins');
      const [from, to] = await page.$$('.traceends input');
      await from?.type('rpw-plat');
      await page.keyboard.press('Enter');
      await to?.type('sgh-core-1');
      await page.keyboard.press('Enter');
      await see(page, /It arrives over \d+ devices/);
      const hops = await page.$$eval('.tracelist ol li', (list) => list.map((hop) => hop.textContent ?? ''));
      expect(hops.length).toBeGreaterThan(1);
      expect(hops.at(-1)).toContain('sgh-core-1');
    });

    test('a port that was shut says so, and what the survey saw before', async () => {
      const { store, fleet, base, port } = sample;
      await fleet.moveTo(8);
      const { name: user, authProtocol, authPassword, privProtocol, privPassword } = sampleWriter;
      saveCredential(store, {
        name: 'hands',
        kind: 'snmp3',
        user,
        auth: { protocol: authProtocol, password: authPassword },
        priv: { protocol: privProtocol, password: privPassword },
        purpose: 'write',
        approved: onLoopback(port),
      });
      saveScope(store.db, {
        ...scopeDefaults,
        name: 'Ostermere',
        ranges: ['10.72.4.1-2'],
        translations: [`10.72.0.0/16 via ${base}/16 port ${port} https ${port}`],
        writeCredentials: ['hands'],
        timeoutMs: 250,
      });
      const id = (await api<{ rows: { id: string }[] }>('devices?where=name=rpw-plat')).rows[0]?.id ?? '';
      await open(`/ports?device=${id}&sel=port:${id}:5`);
      await see(page, 'Port 5');
      await press(page, 'Shut');
      await see(page, 'This is sent to rpw-plat');
      await fill(page, '[role=dialog] input[name=name]', 'rpw-plat 5');
      await press(page, 'Shut it');
      await see(page, 'Done: shut');
      await press(page, 'Close');
      await see(page, /at the survey\s+shut since, by osric/);
      // the keys are where they were: at what can be done with the port
      await page.waitForFunction(() => document.activeElement?.closest('.panel') ?? false);
      await press(page, 'Take it back');
      await press(page, 'Enable it');
      await see(page, 'Done: enabled');
      await press(page, 'Close');
      await see(page, /at the survey\s+enabled since, by osric/);
    });

    test('maintenance of a part of it is seen on its devices, and ended', async () => {
      await open('/estate?of=groups');
      await fill(page, 'input[name=maintenanceReason]', 'new batteries');
      const where = (await page.$$('input[aria-label=Filter]')).at(-1);
      await where?.type('site=RPW');
      await page.keyboard.press('Enter');
      await press(page, 'Set maintenance');
      await see(page, /Set for \d+ devices/);
      const under = async () => (await api<{ total: number }>('devices?where=site=RPW maintenance=yes&size=1')).total;
      expect(await under()).toBe((await api<{ total: number }>('devices?where=site=RPW&size=1')).total);
      await press(page, 'End now: new batteries');
      await see(page, 'is ended');
      expect(await under()).toBe(0);
    });

    test('what is written in a form lies under nothing: what may be written stands in a line of its own', async () => {
      await open('/estate?of=groups');
      await fill(page, 'input[name=maintenanceReason]', 'new supplies');
      const where = (await page.$$('input[aria-label=Filter]')).at(-1);
      await where?.type('ro');
      await page.waitForSelector('.filter.ofform [role=option]');
      const covered = await page.evaluate(() =>
        [...document.querySelectorAll<HTMLElement>('.form input, .form select, .form button')]
          .filter((field) => field.getClientRects().length > 0 && !field.closest('.filter'))
          .filter((field) => {
            field.scrollIntoView({ block: 'nearest' });
            const { x, y, width, height } = field.getBoundingClientRect();
            const top = document.elementFromPoint(x + width / 2, y + height / 2);
            return top !== null && top.closest('.options, .mistake') !== null;
          })
          .map((field) => field.outerHTML.slice(0, 120)),
      );
      expect(covered).toEqual([]);
      await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Enter');
      expect(await where?.evaluate((input) => (input as HTMLInputElement).value)).toBe('role=');
    });

    test('a contract is entered, and what it covers is found by it', async () => {
      const { rows } = await api<{ rows: { name: string; serial: string }[] }>('devices?where=name=rpw-plat');
      await open('/estate?of=contracts');
      await press(page, 'Enter');
      await fill(page, 'input[name="contract.number"]', 'KS-77');
      await fillDay(page, 'contract.from', '2031-01-01');
      await fillDay(page, 'contract.until', '2030-01-01');
      await fill(page, 'textarea[name="contract.serials"]', rows[0]?.serial ?? '');
      await press(page, 'Enter the contract');
      await see(page, 'before it begins on 2031-01-01');
      await fillDay(page, 'contract.from', '2026-01-01');
      await press(page, 'Enter the contract');
      await see(page, 'KS-77 is entered.');
      const covered = await api<{ rows: { name: string }[] }>('devices?where=coveredBy=KS-77');
      expect(covered.rows.map(({ name }) => name)).toEqual(['rpw-plat']);
    });

    test('what was placed on a floor plan and not saved is offered again after a press in the header', async () => {
      const picture = path.join(temporaryFolder(), 'ground.png');
      await open('/today');
      await see(page, 'Needs attention');
      await page.screenshot({ path: picture as `${string}.png` });
      await open('/ports?of=plan');
      await press(page, 'Add a floor plan');
      await fill(page, 'input[name=planSite]', 'RPW');
      await fill(page, 'input[name=planName]', 'platform');
      const chosen = (await page.waitForSelector('input[name=planPicture]')) as ElementHandle<HTMLInputElement>;
      await chosen.uploadFile(picture);
      await page.waitForSelector('.planpreview');
      await press(page, 'Add the plan');
      await see(page, 'Drag what is there');
      await fill(page, 'input[aria-label="Place a device or outlet"]', 'rpw-plat');
      await page.waitForFunction(() => document.querySelector('[role=option]')?.textContent?.startsWith('rpw-plat'));
      await page.keyboard.press('ArrowDown');
      await page.keyboard.press('Enter');
      await see(page, 'Press where rpw-plat is.');
      const { x, y } = await page.$eval('.floorpicture', (floor) => {
        const { left, top, width, height } = floor.getBoundingClientRect();
        return { x: left + width * 0.4, y: top + height * 0.4 };
      });
      await page.mouse.click(x, y);
      await see(page, 'rpw-plat: drag it');
      await pressAmong(page, '.workspaces a', 'Ledger');
      await page.waitForFunction(() => location.pathname === '/ledger');
      await page.goBack({ waitUntil: 'domcontentloaded' });
      await press(page, 'Draw on it');
      await press(page, 'Take it up again');
      await press(page, 'Save the plan');
      await see(page, 'On the plan');
      const { rows } = await api<{ rows: { id: number }[] }>('plans');
      const { plan } = await api<{ plan: { layout: { marks: unknown[] } } }>(`plans/${rows[0]?.id ?? 0}`);
      expect(plan.layout.marks.length).toBe(1);
    });

    test('three devices that fit a filter are printed as three', async () => {
      const where = 'name=sgh-core-1 or name=sgh-core-2 or name=rpw-plat';
      await open(`/estate?where=${encodeURIComponent(where)}`);
      expect(await rowsOf(where)).toBe(3);
      await press(page, 'Export');
      // it opens beside the table
      const item = await page.waitForSelector('[role=menuitem][href^="/print/dossiers"]');
      await open((await item?.evaluate((link) => link.getAttribute('href'))) ?? '');
      await page.waitForFunction(() => document.querySelectorAll('article').length === 3);
    });

    test('all that is wrong with a scope is told at once, also what only the program knows, and a name that is taken is no way to write over it', async () => {
      const { rows } = await api<{ rows: { scope: { name: string } }[] }>('scopes');
      const taken = rows[0]?.scope.name ?? '';
      await open('/survey');
      await press(page, 'Add a scope');
      await fill(page, '[role=dialog] input[name=name]', taken);
      await fill(page, '[role=dialog] textarea[name=ranges]', '10.72.4.0/40');
      await press(page, 'Save the scope');
      await see(page, `There is a scope “${taken}” already`);
      expect(await page.$eval('[role=dialog]', (dialog) => (dialog as HTMLElement).innerText)).toMatch(
        /10\.72\.4\.0\/40/,
      );
      await page.keyboard.press('Escape');
      const over = await send('POST', 'scopes', {
        ...scopeDefaults,
        name: taken,
        ranges: ['10.72.4.1'],
        credentials: ['nobody'],
      });
      expect([over.status, (over.body.errors as { path: string }[]).map(({ path }) => path)]).toEqual([
        422,
        ['name', 'credentials'],
      ]);
      expect((await api<{ rows: unknown[] }>('scopes')).rows).toEqual(rows);
    });

    test('a name of a view that is refused stays to be changed', async () => {
      await open('/estate?where=role%3Dswitch');
      await press(page, 'Views');
      const name = '[role=dialog] input[name="viewName"]';
      const long = 'All switches of the north half-ring and of the south half-ring and of the depots, by release';
      await fill(page, name, long);
      await page.keyboard.press('Enter');
      await page.waitForSelector('[role=dialog] [aria-invalid=true]');
      expect(await page.$eval(name, (input) => (input as HTMLInputElement).value)).toBe(long);
      await page.keyboard.press('Escape');
    });
  });
