import { dayAfter } from '../core/values/day';
import { contractImport } from '../server/cover/contractImport';
import { readCsv } from '../server/imports/csvFile';
import { queryThing } from '../server/query/query';
import { latestSealed } from '../store/base/sealedSurveys';
import { readContracts } from '../store/contracts';
import { writeEdit } from '../store/edits/log';
import type { Store } from '../store/base/database';

interface SampleContract {
  number: string;
  kind: 'warranty' | 'contract' | 'licence';
  supplier: string;
  level: string;
  contact?: string;
  /** days from today */
  from: number;
  until: number | null;
  note?: string;
  /** what it names: serials of these rows, at this survey (the newest where none is said), and others */
  of: { thing: 'devices' | 'modules'; where: string; survey?: number }[];
  also?: string[];
}

/** What Ostermere has signed. Two end within 30 days; one of a core’s supplies was bought apart, and its cover has ended; one still names a switch that was swapped. */
const sample: SampleContract[] = [
  {
    number: 'KS-2031',
    kind: 'contract',
    supplier: 'Kestrane Service',
    level: 'part on site within 4 hours, day and night',
    contact: 'Kestrane night desk, extension 4110',
    from: -700,
    until: 396,
    of: [{ thing: 'devices', where: 'family=K-Core or name:dist' }],
  },
  {
    number: 'KS-2044',
    kind: 'contract',
    supplier: 'Kestrane Service',
    level: 'part on the next working day',
    contact: 'Kestrane day desk, extension 4100',
    from: -430,
    until: 301,
    of: [{ thing: 'devices', where: 'family=K-Ring' }],
  },
  {
    number: 'KS-2057',
    kind: 'contract',
    supplier: 'Kestrane Service',
    level: 'part on the next working day',
    contact: 'Kestrane day desk, extension 4100',
    from: -250,
    until: 115,
    note: 'names the switch of Ropewalk that was swapped in October',
    of: [{ thing: 'devices', where: 'family=K-Access -site=SLM -site=OBS', survey: 1 }],
  },
  {
    number: 'KS-1877/2',
    kind: 'warranty',
    supplier: 'Kestrane Service',
    level: 'supply replaced',
    from: -1141,
    until: -46,
    note: 'bought apart from its chassis',
    of: [{ thing: 'modules', where: 'device=sgh-core-1 class=powerSupply name="Supply 2"' }],
  },
  {
    number: 'BW-70118',
    kind: 'warranty',
    supplier: 'Brannick',
    level: 'technician on the next working day',
    contact: 'Brannick hall desk, extension 4300',
    from: -1083,
    until: 12,
    of: [{ thing: 'devices', where: 'vendor=Brannick site=SGH role=server' }],
  },
  {
    number: 'BW-70164',
    kind: 'warranty',
    supplier: 'Brannick',
    level: 'technician on the next working day',
    contact: 'Brannick hall desk, extension 4300',
    from: -410,
    until: 685,
    of: [{ thing: 'devices', where: 'vendor=Brannick site=QDP' }],
  },
  {
    number: 'TS-5-1190',
    kind: 'contract',
    supplier: 'Tessaly Care',
    level: 'box by mail within 5 days',
    from: -339,
    until: 26,
    of: [{ thing: 'devices', where: 'vendor=Tessaly' }],
  },
  {
    number: 'OR-LIC-88',
    kind: 'licence',
    supplier: 'Orrery',
    level: 'filter lists and releases',
    from: -270,
    until: 95,
    of: [{ thing: 'devices', where: 'vendor=Orrery role=firewall serial!=""' }],
  },
  {
    number: 'OR-3301',
    kind: 'contract',
    supplier: 'Orrery',
    level: 'part on site within 8 hours',
    contact: 'Orrery desk, extension 4200',
    from: -270,
    until: 460,
    of: [{ thing: 'devices', where: 'vendor=Orrery serial!=""' }],
  },
  {
    number: 'FN-0092',
    kind: 'warranty',
    supplier: 'Fenmoor',
    level: 'unit replaced',
    from: -180,
    until: 550,
    of: [{ thing: 'devices', where: 'vendor=Fenmoor' }],
    also: ['FN9-00391'],
  },
];

/** Enters the sample’s contracts, by the way any file goes. */
export function writeDemoContracts(store: Store, who: string, today: string): void {
  if (readContracts(store.db).length > 0) return;
  const latest = latestSealed(store.db);
  const cell = (text: string) => `"${text.replaceAll('"', '""')}"`;
  const rows = sample.flatMap(
    ({ number, kind, supplier, level, contact = '', from, until, note = '', of, also = [] }) => {
      const serials = of.flatMap(({ thing, where, survey = latest }) =>
        queryThing(store, thing, { survey, against: null, where, sort: [], page: 1, size: 1000 }).rows.map((row) =>
          String(row.serial ?? ''),
        ),
      );
      return [...new Set([...serials, ...also])]
        .filter(Boolean)
        .map((serial) =>
          [
            number,
            kind,
            supplier,
            level,
            contact,
            dayAfter(today, from),
            until === null ? '' : dayAfter(today, until),
            note,
            serial,
          ]
            .map(cell)
            .join(','),
        );
    },
  );
  const { head, lines } = readCsv(['number,kind,supplier,level,contact,from,until,note,serial', ...rows].join('\n'));
  const { told, changes, words } = contractImport.plan(store, latest, head, lines, 'contracts.csv');
  const [mistake] = told.mistakes;
  if (mistake) throw new Error(`the sample’s contracts: line ${mistake.line}, ${mistake.column}: ${mistake.message}`);
  writeEdit(store.db, contractImport.editable, { who, act: contractImport.act, words, changes });
}
