import { createHash } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { DeviceFacts } from '../core/estate/facts';
import { readAdvisory } from '../core/firmware/advisories/readAdvisories';
import type { ToldTarget } from '../core/firmware/target';
import { saveAdvisory } from '../store/advisories';
import type { Store } from '../store/base/database';
import { addRelease, readCatalogue } from '../store/catalogue';
import { factsAsOf } from '../store/base/facts';
import { latestSealed } from '../store/base/sealedSurveys';
import { addUpgrade, fileOfWord, readUpgrades } from '../store/upgrades';
import { ImageServer } from '../collect/doing/imageServer';
import { openForUpdate } from '../collect/doing/openForUpdate';
import { runUpgrade } from '../collect/doing/runUpgrade';
import { usualPatience } from '../core/firmware/doing/course';
import { imagesFolder } from '../store/images';
import { saveTarget } from '../store/targets';
import { imageContent } from '../sim/firmware/imageContent';
import { sampleImageBytes } from '../sim/ostermere/images';

type Sample = Omit<ToldTarget, 'setBy' | 'setAt'>;

/** What should run at Ostermere, and what is thought of for the next quarter. */
const targets: Sample[] = [
  {
    ...{ vendor: 'Kestrane', family: 'K-Access', release: '7.4.12b' },
    why: 'mends the frame that restarts a switch (KS-2026-04)',
    reviewOn: '2027-01-15',
    stages: [{ name: 'try-out', where: 'site=HDP', days: 7 }],
  },
  { vendor: 'Kestrane', family: 'K-Ring', release: '7.4.12b', why: 'as on the stops' },
  { vendor: 'Kestrane', family: 'K-Core', release: '7.6.4', why: 'mends the supervisor change-over' },
  { vendor: 'Fenmoor', family: 'Fen L', release: '5.2.4', why: 'mends the uplink that forgets its speed' },
  { vendor: 'Orrery', family: 'Orrery E', release: '2026.2-p3', why: 'filter lists of the autumn' },
  {
    ...{ vendor: 'Brannick', family: 'Brannick R', component: 'management controller', release: '3.11' },
    why: 'old sessions end (BRK-2026-11)',
  },
  { vendor: 'Brannick', family: 'Brannick R', component: 'BIOS', release: '2.14.1', why: '2.12.0 is mended no more' },
  {
    ...{ vendor: 'Kestrane', family: 'K-Access', release: '7.6.1', draft: 'spring round' },
    why: 'voice VLAN by neighbour',
  },
];

const csaf = (
  id: string,
  [from, until]: [first: string, updated: string],
  title: string,
  summary: string,
  score: number,
  products: { product: string; range: string; fixed: string }[],
) => ({
  document: {
    ...{ category: 'csaf_security_advisory', csaf_version: '2.0', title },
    publisher: { category: 'vendor', name: 'Kestrane', namespace: 'https://kestrane.example' },
    tracking: { id, status: 'final', version: '1', initial_release_date: from, current_release_date: until },
    notes: [{ category: 'summary', text: summary }],
  },
  product_tree: {
    branches: [
      {
        ...{ category: 'vendor', name: 'Kestrane' },
        branches: products.map(({ product, range, fixed }) => ({
          ...{ category: 'product_name', name: product },
          branches: [
            {
              category: 'product_version_range',
              name: range,
              product: { product_id: `${product} old`, name: product },
            },
            { category: 'product_version', name: fixed, product: { product_id: `${product} new`, name: product } },
          ],
        })),
      },
    ],
  },
  vulnerabilities: [
    {
      product_status: {
        known_affected: products.map(({ product }) => `${product} old`),
        fixed: products.map(({ product }) => `${product} new`),
      },
      scores: [{ products: products.map(({ product }) => `${product} old`), cvss_v3: { baseScore: score } }],
      remediations: [
        { category: 'vendor_fix', details: `Go to ${[...new Set(products.map(({ fixed }) => fixed))].join(' or ')}.` },
      ],
    },
  ],
});

/** What makers published, as they publish it. */
const documents: unknown[] = [
  csaf(
    'KS-2026-04',
    ['2026-06-16T08:00:00Z', '2026-06-16T08:00:00Z'],
    'A malformed discovery frame restarts a switch',
    'Whoever can send frames to an access port can restart the switch again and again.',
    7.4,
    [
      { product: 'K-Access', range: 'vers:generic/<7.4.12b', fixed: '7.4.12b' },
      { product: 'K-Ring', range: 'vers:generic/<7.4.12b', fixed: '7.4.12b' },
    ],
  ),
  csaf(
    'KS-2026-07',
    ['2026-10-06T08:00:00Z', '2026-10-20T08:00:00Z'],
    'Passwords of the local console can be read from a saved configuration',
    'A configuration that is copied away holds passwords of the console in a form that can be turned back.',
    5.5,
    [{ product: 'K-Access', range: 'vers:generic/>=7.4.9|<7.6.1', fixed: '7.6.1' }],
  ),
  {
    ...{ id: 'BRK-2026-11', modified: '2026-07-09T10:00:00Z', published: '2026-07-07T10:00:00Z' },
    summary: 'A management controller takes sessions that have ended',
    details: 'Whoever has an old session goes on with it until the controller restarts.',
    severity: [{ type: 'CVSS_V3', score: 'CVSS:3.1/AV:N/AC:L/PR:L/UI:N/S:U/C:H/I:H/A:H' }],
    database_specific: { publisher: 'Brannick' },
    affected: [
      {
        package: { ecosystem: 'Brannick', name: 'Brannick R management controller' },
        ranges: [{ type: 'ECOSYSTEM', events: [{ introduced: '0' }, { fixed: '3.11' }] }],
      },
    ],
  },
];

/** Images that were fetched so far. One broke off, and one is not what it says. */
const fetched: Record<string, 'whole' | 'broken off' | 'another'> = {
  'k-access-7.4.12b.img': 'whole',
  'k-access-7.6.1.img': 'whole',
  'k-core-7.6.4.img': 'whole',
  'fen-l-5.2.1.bin': 'whole',
  'fen-l-5.2.4.bin': 'whole',
  'brannick-r-bios-2.14.1.bin': 'whole',
  'brannick-r-controller-3.11.bin': 'whole',
  'k-ring-7.4.12b.img': 'broken off',
  'edge-2026.2-p3.bin': 'another',
};

/** Fills the folder of images, and tells the catalogue what makers say of them. */
function writeDemoImages({ db, folder }: Store): void {
  const images = imagesFolder(folder);
  mkdirSync(images, { recursive: true, mode: 0o700 });
  for (const entry of readCatalogue(db)) {
    const state = fetched[entry.image];
    if (!state) continue;
    const whole = imageContent(entry.image, sampleImageBytes);
    addRelease(db, {
      ...entry,
      imageBytes: sampleImageBytes,
      imageHash: createHash('sha256').update(whole).digest('hex'),
    });
    const content = state === 'another' ? imageContent(`not ${entry.image}`, sampleImageBytes) : whole;
    writeFileSync(path.join(images, entry.image), state === 'broken off' ? content.subarray(0, 1_000_000) : content);
  }
}

export function writeDemoFirmware(store: Store, setBy: string, setAt: string): void {
  const { db } = store;
  writeDemoImages(store);
  for (const target of targets) saveTarget(db, { ...target, setBy, setAt });
  for (const document of documents) saveAdvisory(db, readAdvisory(document));
}

const leaves = ['sgh-leaf-1', 'sgh-leaf-2'];

/** So many times as fast as at real equipment. */
export const demoPace = 60;

/** The night before the last survey two leaves are brought to their target: one is well, the other goes back, since it hears nobody any more. */
export async function doDemoUpgrade(store: Store, who: string, night: Date): Promise<void> {
  const { db, folder } = store;
  if (readUpgrades(db, 1).length > 0) return;
  const devices = factsAsOf<DeviceFacts>(db, 'device', latestSealed(db)).filter(({ content }) =>
    leaves.includes(content.name),
  );
  const catalogue = readCatalogue(db);
  const imageOf = (release: string) => {
    const entry = catalogue.find((one) => one.family === 'Fen L' && one.release === release);
    return { file: entry?.image ?? '', bytes: entry?.imageBytes ?? null, hash: entry?.imageHash ?? '' };
  };
  const to = '5.2.4';
  const id = addUpgrade(
    db,
    {
      ...{ name: 'Leaves of the control centre', who, atOnce: 1, stopAfter: 2, needsApproval: false },
      devices: devices.map(({ deviceId, content: { name, release } }) => ({
        ...{ deviceId, device: name, component: 'system', name: '' },
        wanted: {
          ...{ from: release, to, image: imageOf(to), imageBefore: imageOf(release) },
          ...{ start: 'now' as const, window: null, rollsBack: true },
        },
      })),
    },
    night,
  );
  const images = new ImageServer(imagesFolder(folder), (word) => fileOfWord(db, word));
  const port = await images.listen('127.0.0.1', 0);
  const began = Date.now();
  try {
    await runUpgrade(store, id, new AbortController().signal, {
      open: (kept, url) => openForUpdate(store, kept, url),
      imagesAt: `http://127.0.0.1:${port}`,
      pause: (milliseconds) => pause(milliseconds),
      now: () => night.getTime() + (Date.now() - began) * demoPace,
      lookMs: 150,
      patience: usualPatience,
    });
  } finally {
    await images.close();
  }
}
