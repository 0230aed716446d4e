import type { Page } from 'puppeteer-core';
import { startApplication } from '../e2e/support/application';
import { launchBrowser } from '../e2e/support/browser';
import { stop, temporaryFolder } from '../e2e/support/program';
import { toldReport } from '../src/core/resources/toldReport';
import type { PortFacts, Role } from '../src/core/estate/facts';
import type { HarvestPart } from '../src/core/estate/harvest';
import { linkKey, type LinkFacts } from '../src/core/topology/links';
import { commitReport } from '../src/store/commitReport';
import { Identities } from '../src/store/identities';
import { inTransaction, openStore, type Store } from '../src/store/base/database';
import { writeFacts } from '../src/store/base/facts';
import { addPerson } from '../src/store/people';
import { survey } from '../src/store/base/schema';
import { person, signedIn } from './person';

const [sites, devicesOfSite, linkCount] = [40, 50, 5000];
const portsOf: Partial<Record<Role, number>> = { switch: 52, router: 24, server: 4 };
const parts = new Set<HarvestPart>(['system']);

/** Half of the ports are up, some are switched off. */
const portNamed = (index: number): PortFacts => ({
  index,
  name: String(index),
  alias: '',
  description: '',
  type: 'ethernetCsmacd',
  physical: true,
  admin: index % 11 === 0 ? 'down' : 'up',
  oper: index % 2 === 0 ? 'up' : 'down',
  speedBps: 1e9,
  duplex: 'full',
  mtu: 1500,
  mac: null,
  vlan: 10 + (index % 4),
  taggedVlans: [],
  addresses: [],
  lag: null,
  stp: null,
  poe: null,
});

/** Two thousand devices with five thousand links, most of them within a site. */
function fill(store: Store): void {
  inTransaction(store.db, () => {
    store.db
      .insert(survey)
      .values({
        scopeName: 'bench',
        scope: {},
        state: 'sealed',
        startedAt: '2026-11-26T06:00:00.000Z',
        sealedAt: '2026-11-26T06:01:00.000Z',
        summary: { addresses: { asked: 0, answered: 0, silent: 0 }, devices: {}, phases: {}, failures: [], seconds: 1 },
      })
      .run();
    const identities = new Identities(store.db, 1);
    const ends = Array.from({ length: sites * devicesOfSite }, (_, at) => {
      const site = `S${String(Math.floor(at / devicesOfSite) + 1).padStart(2, '0')}`;
      const nth = at % devicesOfSite;
      const role: Role = nth < 2 ? 'router' : nth < 30 ? 'switch' : 'server';
      const name = `${site.toLowerCase()}-${role === 'router' ? 'core' : role === 'switch' ? 'acc' : 'srv'}-${nth}`;
      const { deviceId } = commitReport(
        store.db,
        1,
        identities,
        {
          kind: 'snmp',
          report: toldReport('snmp', { name, role, site, address: `172.16.${at >> 8}.${at & 255}`, serial: `B${at}` }),
          covered: parts,
          asked: parts,
        },
        () => false,
      );
      writeFacts(
        store.db,
        'port',
        1,
        deviceId,
        Array.from({ length: portsOf[role] ?? 0 }, (_, port) => ({
          key: String(port + 1),
          content: portNamed(port + 1),
        })),
        true,
      );
      return { deviceId, device: name };
    });
    let seed = 7;
    const dice = (most: number) => {
      seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
      return Math.floor((seed / 2 ** 32) * most);
    };
    const links = new Map<string, LinkFacts>();
    while (links.size < linkCount) {
      const from = dice(ends.length);
      const first = from - (from % devicesOfSite);
      const to = dice(20) === 0 ? dice(sites) * devicesOfSite : first + dice(devicesOfSite);
      const [a, b] = [ends[Math.min(from, to)], ends[Math.max(from, to)]];
      if (!a || !b || a === b) continue;
      const link: LinkFacts = {
        a: { ...a, port: String(dice(48) + 1) },
        b: { ...b, port: String(dice(48) + 1) },
        kind: 'ethernet',
        confidence: dice(4) === 0 ? 'claimed' : 'confirmed',
        evidence: [],
        speedBps: 1e9,
        blocked: false,
        issues: dice(60) === 0 ? [{ kind: 'mtu', words: 'MTU differs' }] : [],
      };
      links.set(linkKey(link.a, link.b), link);
    }
    writeFacts(
      store.db,
      'link',
      1,
      0,
      [...links].map(([key, content]) => ({ key, content })),
      true,
    );
  });
}

const seconds = 2;

/** Frames in a second while the map is dragged about, turned to and from, as the browser draws them. */
function framesWhile(page: Page, act: 'pan' | 'zoom'): Promise<number> {
  return page.evaluate(
    async (what, during) => {
      const canvas = document.querySelector('canvas');
      if (!canvas) return 0;
      const { left, top, width, height } = canvas.getBoundingClientRect();
      const at = (x: number, y: number) => ({
        clientX: left + x,
        clientY: top + y,
        bubbles: true,
        pointerId: 1,
        cancelable: true,
      });
      canvas.setPointerCapture = () => undefined;
      const frame = () => new Promise<number>((resolve) => requestAnimationFrame(resolve));
      if (what === 'pan') canvas.dispatchEvent(new PointerEvent('pointerdown', at(width / 2, 8)));
      const begun = await frame();
      let [now, count] = [begun, 0];
      while (now - begun < during * 1000) {
        const turn = Math.sin(count / 9);
        if (what === 'pan')
          canvas.dispatchEvent(
            new PointerEvent('pointermove', at(width / 2 + turn * 160, 8 + Math.cos(count / 13) * 90)),
          );
        else
          canvas.dispatchEvent(
            new WheelEvent('wheel', { ...at(width / 2, height / 2), deltaY: (Math.sin((count + 1) / 9) - turn) * 170 }),
          );
        now = await frame();
        count++;
      }
      if (what === 'pan') canvas.dispatchEvent(new PointerEvent('pointercancel', at(0, 0)));
      return Math.round((count / (now - begun)) * 1000);
    },
    act,
    seconds,
  );
}

/** Pan and zoom of two thousand devices and five thousand links, from afar, as near as devices, as ports, and as their numbers. Frames a second. */
export async function benchMapFrames(): Promise<Record<string, unknown>> {
  const data = temporaryFolder();
  const store = openStore(data);
  fill(store);
  await addPerson(store.db, person.name, person.password, 'viewer');
  store.close();
  const [app, browser] = await Promise.all([startApplication(data), launchBrowser({ asUsed: true })]);
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await signedIn(app.address, page);
  const told: Record<string, unknown> = { devices: sites * devicesOfSite, links: linkCount };
  const started = performance.now();
  await page.goto(`${app.address}/map`);
  await page.waitForSelector('canvas[data-scale]');
  told.openMs = Math.round(performance.now() - started);
  // the application reads ahead after a first question
  await new Promise((resolve) => setTimeout(resolve, 4000));
  const nearer = async (times: number) => {
    await page.click('button[aria-label="0, show everything"]');
    for (let at = 0; at < times; at++) await page.click('button[aria-label="Zoom in"]');
    await new Promise((resolve) => setTimeout(resolve, 400));
  };
  for (const [words, steps] of [
    ['from afar', 0],
    ['as near as devices', 9],
    ['as near as ports', 12],
    ['as near as their numbers', 18],
  ] as const) {
    await nearer(steps);
    // the ports of what is in sight arrive
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const scale = await page.$eval('canvas', (canvas) => canvas.dataset.scale);
    const median = async (act: 'pan' | 'zoom') =>
      [await framesWhile(page, act), await framesWhile(page, act), await framesWhile(page, act)].sort(
        (x, y) => x - y,
      )[1];
    told[words] = { scale, pan: await median('pan'), zoom: await median('zoom') };
  }
  await browser.close();
  await stop(app.process);
  return told;
}
