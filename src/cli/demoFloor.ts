import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { PlanLayout, PlanMark, Point } from '../core/floor/floorPlan';
import { pictureHead } from '../core/floor/pictureSize';
import { readCsv } from '../server/imports/csvFile';
import { outletImport } from '../server/floor/outletImport';
import { thingRows } from '../server/query/query';
import { latestSealed } from '../store/base/sealedSurveys';
import { programFolder, type Store } from '../store/base/database';
import { addFloorPlan, listFloorPlans, writeFloorPlan } from '../store/floorPlans';
import { writeEdit } from '../store/edits/log';
import { readOutlets } from '../store/outlets';

const picture = 'src/sim/ostermere/pictures/ropewalk.png';
const [width, height] = [1600, 960];
const at = (x: number, y: number): Point => [
  Math.round((x / width) * 10_000) / 10_000,
  Math.round((y / height) * 10_000) / 10_000,
];
const room = (name: string, left: number, top: number, right: number, bottom: number) => ({
  name,
  corners: [at(left, top), at(right, top), at(right, bottom), at(left, bottom)],
});

const rooms = [
  room('Platform 1', 0, 190, 1600, 330),
  room('Platform 2', 0, 640, 1600, 780),
  room('Waiting room', 60, 330, 420, 640),
  room('Ticket hall', 420, 330, 760, 640),
  room('Kiosk', 760, 330, 1040, 640),
  room('Equipment room', 1040, 330, 1290, 490),
  room('Staff room', 1290, 330, 1540, 490),
  room('Corridor', 1040, 490, 1290, 640),
  room('Store', 1290, 490, 1540, 640),
];

/** Wires of Ropewalk: room, port of its platform switch (empty where it is patched to nothing), and where on the plan. */
const wires: [room: string, port: string, x: number, y: number, note?: string][] = [
  ['Ticket hall', '1', 480, 360],
  ['Ticket hall', '2', 480, 405],
  ['Platform 1', '4', 345, 235],
  ['Platform 2', '5', 345, 735],
  ['Staff room', '6', 1460, 375],
  ['Platform 1', '7', 745, 235],
  ['Platform 1', '8', 1145, 235],
  ['Platform 2', '10', 745, 735],
  ['Kiosk', '12', 900, 560, 'a small switch of the tenant hangs here'],
  ['Staff room', '14', 1350, 450],
  ['Waiting room', '15', 90, 360],
  ['Staff room', '16', 1510, 450],
  ['Ticket hall', '17', 720, 480],
  ['Waiting room', '18', 380, 480],
  ['Waiting room', '', 150, 585],
  ['Ticket hall', '', 600, 610],
  ['Kiosk', '3', 1000, 360],
  ['Store', '9', 1500, 520],
  ['Corridor', '', 1080, 600],
];

/** The floor of one stop: its outlets by the way any file goes, its plan with rooms, and what stands there. */
export function writeDemoFloor(store: Store, who: string): void {
  if (listFloorPlans(store.db).length > 0) return;
  const survey = latestSealed(store.db);
  const label = (nth: number) => `R0-${String(nth + 1).padStart(2, '0')}`;
  const lines = wires.map(([name, port, , , note = ''], nth) =>
    ['RPW', label(nth), name, 'PP1', String(nth + 1).padStart(2, '0'), port && 'rpw-plat', port, note]
      .map((cell) => `"${cell}"`)
      .join(','),
  );
  const file = readCsv(['site,outlet,room,panel,position,device,port,note', ...lines].join('\n'));
  const { told, changes, words } = outletImport.plan(store, survey, file.head, file.lines, 'ropewalk.csv');
  const [mistake] = told.mistakes;
  if (mistake) throw new Error(`the sample’s outlets: line ${mistake.line}, ${mistake.column}: ${mistake.message}`);
  if (changes.length > 0) writeEdit(store.db, outletImport.editable, { who, act: outletImport.act, words, changes });
  const ids = new Map(readOutlets(store.db).map((outlet) => [outlet.label, outlet.id]));
  const devices = new Map(thingRows(store, 'devices', survey, null).map((row) => [String(row.name), Number(row.id)]));
  const standing: [name: string, x: number, y: number][] = [
    ['rpw-ring', 1090, 395],
    ['rpw-plat', 1090, 440],
    ['rpw-ap-01', 560, 300],
    ['rpw-ap-02', 1240, 670],
    ['rpw-ptz-1', 60, 215],
    ['rpw-ptz-2', 60, 755],
  ];
  const marks: PlanMark[] = [
    ...wires.map(([, , x, y], nth): PlanMark => ({ kind: 'outlet', id: ids.get(label(nth)) ?? 0, at: at(x, y) })),
    ...standing.flatMap(([name, x, y]): PlanMark[] =>
      devices.has(name) ? [{ kind: 'device', id: devices.get(name) ?? 0, at: at(x, y) }] : [],
    ),
  ];
  const octets = readFileSync(path.join(programFolder(), picture));
  const head = pictureHead(octets);
  if (!head) throw new Error(`${picture} is no picture`);
  const id = addFloorPlan(store.db, { site: 'RPW', name: 'Ropewalk, level 0', who, head, picture: octets });
  writeFloorPlan(store.db, id, 1, who, { layout: { rooms, marks } satisfies PlanLayout });
}
