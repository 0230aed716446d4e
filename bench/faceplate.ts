import { stop, temporaryFolder } from '../e2e/support/program';
import { harvestParts } from '../src/core/estate/harvest';
import { commitReport } from '../src/store/commitReport';
import { Identities } from '../src/store/identities';
import { openStore } from '../src/store/base/database';
import { survey, visit } from '../src/store/base/schema';
import { switchReport } from './generate';
import { openedBy } from './grid';

const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;
const runs = 7;
/** until all else of the page is there too */
const settlingMs = 800;
const [cards, each] = [10, 48];
/** cards that stand above the fold */
const inSight = 3;

/**
 * A chassis with ten cards of 48 ports: from the answer that tells of it to the painted sockets of the cards in sight, to those of all cards, and from another choice of
 * colour to sockets painted in it. Milliseconds, medians.
 */
export async function benchFaceplate(): Promise<Record<string, number>> {
  const data = temporaryFolder();
  const store = openStore(data);
  const at = new Date().toISOString();
  const { id } = store.db
    .insert(survey)
    .values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: at, asked: 1 })
    .returning({ id: survey.id })
    .get();
  const plain = switchReport(1, cards * each);
  const report = {
    ...plain,
    portAges: {},
    ports: plain.ports.map((port, nth) => ({
      ...port,
      name: `${Math.floor(nth / each) + 1}/${(nth % each) + 1}`,
      vlan: 10 + (nth % 7) * 10,
    })),
  };
  const { deviceId } = commitReport(
    store.db,
    id,
    new Identities(store.db, id),
    { kind: 'snmp', report, covered: new Set(harvestParts), asked: new Set(harvestParts) },
    () => false,
  );
  store.db
    .insert(visit)
    .values({
      surveyId: id,
      address: report.device.address,
      seq: 1,
      state: 'done',
      outcome: 'answered',
      deviceId,
      milliseconds: 300,
    })
    .run();
  store.raw.exec(
    `update survey set state = 'sealed', sealed_at = '${at}', summary = '${JSON.stringify({ seconds: 1, addresses: { asked: 1, answered: 1, silent: 0 }, devices: {}, changes: 0 })}'`,
  );
  store.close();
  const { app, browser, page } = await openedBy(data);
  // when the answer was there, and when the last socket was painted
  await page.evaluateOnNewDocument(
    ({ some, all }) => {
      const clock = window as unknown as {
        answered: number;
        painted: Promise<number>;
        whole: Promise<number>;
        afterPainting: (act: () => void) => void;
      };
      // a message that is sent in a frame arrives when the frame is painted, and before what timers bring
      clock.afterPainting = (act) =>
        void requestAnimationFrame(() => {
          const { port1, port2 } = new MessageChannel();
          port1.onmessage = act;
          port2.postMessage(null);
        });
      const plainFetch = window.fetch;
      window.fetch = async (...asked) => {
        const response = await plainFetch(...asked);
        if (!/\/devices\/\d+/.test(String(asked[0]))) return response;
        const text = await response.text();
        clock.answered = performance.now();
        return Object.assign(response, { text: () => Promise.resolve(text) });
      };
      const painted = (sockets: number) =>
        new Promise<number>((resolve) => {
          new MutationObserver((_, observer) => {
            if (document.querySelectorAll('.socket').length < sockets) return;
            observer.disconnect();
            clock.afterPainting(() => resolve(performance.now() - clock.answered));
          }).observe(document, { subtree: true, childList: true });
        });
      clock.painted = painted(some);
      clock.whole = painted(all);
    },
    { some: inSight * each, all: cards * each },
  );
  const [first, whole, again]: [number[], number[], number[]] = [[], [], []];
  for (let run = 0; run < runs; run++) {
    await page.goto(`${app.address}/ports?device=${deviceId}`, { waitUntil: 'domcontentloaded' });
    first.push(await page.evaluate(() => (window as unknown as { painted: Promise<number> }).painted));
    whole.push(await page.evaluate(() => (window as unknown as { whole: Promise<number> }).whole));
    await new Promise((resolve) => setTimeout(resolve, settlingMs));
    again.push(
      await page.evaluate(
        (colour) =>
          new Promise<number>((resolve) => {
            const select = document.querySelector<HTMLSelectElement>('select[aria-label="Sockets are coloured by"]');
            if (!select) throw new Error('there is nothing to choose a colour by');
            Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')?.set?.call(select, colour);
            const started = performance.now();
            select.dispatchEvent(new Event('change', { bubbles: true }));
            (window as unknown as { afterPainting: (act: () => void) => void }).afterPainting(() =>
              resolve(performance.now() - started),
            );
          }),
        run % 2 ? 'state' : 'VLAN',
      ),
    );
  }
  await browser.close();
  await stop(app.process);
  return {
    ports: cards * each,
    firstDrawing: Math.round(median(first)),
    allCards: Math.round(median(whole)),
    otherColour: Math.round(median(again)),
  };
}
