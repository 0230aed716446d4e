import { stop, temporaryFolder } from '../e2e/support/program';
import { harvestParts } from '../src/core/estate/harvest';
import { commitReport, Identities } from '../src/store/commitReport';
import { openStore } from '../src/store/database';
import { survey, visit } from '../src/store/schema';
import { switchReport } from './generate';
import { openedBy } from './grid';

const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;
const runs = 7;
const [cards, each] = [10, 48];

/** A chassis with ten cards of 48 ports: from the answer that tells of it to its painted sockets, and to sockets of another colour. Milliseconds, medians. */
export async function benchFaceplate(): Promise<Record<string, number>> {
  const data = temporaryFolder();
  const store = openStore(data);
  const at = new Date().toISOString();
  const { id } = store.db.insert(survey).values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: at, asked: 1 }).returning({ id: survey.id }).get();
  const plain = switchReport(1, cards * each);
  const report = { ...plain, portAges: {}, ports: plain.ports.map((port, nth) => ({ ...port, name: `${Math.floor(nth / each) + 1}/${(nth % each) + 1}`, vlan: 10 + (nth % 7) * 10 })) };
  const { deviceId } = commitReport(store.db, id, new Identities(store.db, id), { kind: 'snmp', report, covered: new Set(harvestParts), asked: new Set(harvestParts) }, () => false);
  store.db.insert(visit).values({ surveyId: id, address: report.device.address, seq: 1, state: 'done', outcome: 'answered', deviceId, seconds: 300 }).run();
  store.raw.exec(`update survey set state = 'sealed', sealed_at = '${at}', summary = '${JSON.stringify({ seconds: 1, addresses: { asked: 1, answered: 1, silent: 0 }, devices: {}, changes: 0 })}'`);
  store.close();
  const { app, browser, page } = await openedBy(data);
  // when the answer was there, and when the last socket was painted
  await page.evaluateOnNewDocument((count) => {
    const clock = window as unknown as { answered: number; painted: Promise<number> };
    const plainFetch = window.fetch;
    window.fetch = async (...asked) => {
      const response = await plainFetch(...asked);
      if (/\/devices\/\d+/.test(String(asked[0]))) clock.answered = performance.now();
      return response;
    };
    clock.painted = new Promise((resolve) => {
      new MutationObserver((_, observer) => {
        if (document.querySelectorAll('.socket').length < count) return;
        observer.disconnect();
        requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - clock.answered)));
      }).observe(document, { subtree: true, childList: true });
    });
  }, cards * each);
  const [first, again]: [number[], number[]] = [[], []];
  for (let run = 0; run < runs; run++) {
    await page.goto(`${app.address}/ports?device=${deviceId}`, { waitUntil: 'domcontentloaded' });
    first.push(await page.evaluate(() => (window as unknown as { painted: Promise<number> }).painted));
    again.push(await page.evaluate((colour) => new Promise<number>((resolve) => {
      const select = document.querySelector<HTMLSelectElement>('select[aria-label="Sockets are coloured by"]');
      if (!select) throw new Error('there is nothing to choose a colour by');
      Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')?.set?.call(select, colour);
      const started = performance.now();
      select.dispatchEvent(new Event('change', { bubbles: true }));
      requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - started)));
    }), run % 2 ? 'state' : 'VLAN'));
  }
  await browser.close();
  await stop(app.process);
  return { ports: cards * each, firstDrawing: Math.round(median(first)), otherColour: Math.round(median(again)) };
}
