import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { naturalOrder } from '../scheme';
import {
  affectedWords,
  isAffected,
  mendedIn,
  namesOf,
  productNames,
  severityOf,
  type AffectedProduct,
} from './advisory';
import { readCsaf } from './csaf';
import { cvssScore, readOsv } from './osv';
import { readAdvisory } from './readAdvisories';
import { DocumentError } from './shape';
import { parseVers, RangeError } from './versRange';

const branch = (category: string, name: string, more: object = {}) => ({ category, name, ...more });
const product = (product_id: string) => ({ product: { product_id, name: product_id } });
const csaf = {
  document: {
    category: 'csaf_security_advisory',
    csaf_version: '2.0',
    title: 'A frame that stops a switch',
    publisher: { category: 'vendor', name: 'Kestrane', namespace: 'https://kestrane.example' },
    tracking: {
      id: 'KS-2026-04',
      status: 'final',
      version: '2',
      initial_release_date: '2026-09-01T08:00:00Z',
      current_release_date: '2026-09-14T08:00:00Z',
    },
    notes: [
      { category: 'legal_disclaimer', text: 'x' },
      { category: 'summary', text: 'A malformed frame restarts the switch.' },
    ],
  },
  product_tree: {
    branches: [
      branch('vendor', 'Kestrane', {
        branches: [
          branch('product_name', 'K-Access', {
            branches: [
              branch('product_version_range', 'vers:generic/>=7.2.30|<7.4.12b', product('A-old')),
              branch('product_version', '7.4.12b', product('A-fixed')),
            ],
          }),
          branch('product_family', 'K-Ring', {
            branches: [
              branch('product_name', 'boot code', { branches: [branch('product_version', '2.1', product('R'))] }),
            ],
          }),
        ],
      }),
    ],
  },
  vulnerabilities: [
    {
      cve: 'CVE-2026-10001',
      product_status: { known_affected: ['A-old', 'R'], fixed: ['A-fixed'] },
      scores: [{ products: ['A-old'], cvss_v3: { baseScore: 8.6 } }],
      remediations: [{ category: 'vendor_fix', details: 'Go to 7.4.12b.', product_ids: ['A-old'] }],
    },
    { product_status: { known_not_affected: ['A-fixed'] }, scores: [{ products: [], cvss_v2: { baseScore: 4 } }] },
  ],
};

const osv = {
  id: 'BRK-2026-11',
  modified: '2026-07-09T10:00:00Z',
  published: '2026-07-07T10:00:00Z',
  summary: 'The controller takes a session that has ended',
  details: 'Whoever has an old session goes on with it.',
  aliases: ['CVE-2026-20002'],
  severity: [{ type: 'CVSS_V3', score: 'CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H' }],
  affected: [
    {
      package: { ecosystem: 'Brannick', name: 'Brannick R management controller' },
      ranges: [
        { type: 'ECOSYSTEM', events: [{ introduced: '0' }, { fixed: '3.11' }, { introduced: '4.0' }] },
        { type: 'GIT', events: [{ introduced: '0' }, { fixed: 'abc' }] },
      ],
      versions: ['3.11-rc1'],
    },
  ],
};

describe('CSAF 2.0', () => {
  test('tells whom it is of, what is affected, from where and until when, and what mends it', () => {
    expect(readCsaf(csaf)).toEqual({
      number: 'KS-2026-04',
      publisher: 'Kestrane',
      title: 'A frame that stops a switch',
      published: '2026-09-01',
      updated: '2026-09-14',
      severity: 'high',
      score: 8.6,
      summary: 'A malformed frame restarts the switch.',
      others: ['CVE-2026-10001'],
      remedy: 'Go to 7.4.12b.',
      format: 'CSAF 2.0',
      affects: [
        {
          ...{ vendor: 'Kestrane', family: '', product: 'K-Access', releases: [], fixed: ['7.4.12b'] },
          ranges: [{ from: '7.2.30', after: null, before: '7.4.12b', upTo: null }],
        },
        { vendor: 'Kestrane', family: 'K-Ring', product: 'boot code', ranges: [], releases: ['2.1'], fixed: [] },
      ],
    });
  });

  test('a part on a device has the release of the part; a severity in words goes before scores', () => {
    const tree = {
      branches: [branch('vendor', 'Brannick', { branches: [branch('product_name', 'R2', product('base'))] })],
      full_product_names: [{ product_id: 'bios', name: 'Brannick R BIOS' }],
      relationships: [
        {
          category: 'installed_on',
          product_reference: 'bios',
          relates_to_product_reference: 'base',
          full_product_name: { product_id: 'both', name: 'BIOS on R2' },
        },
      ],
    };
    const read = readCsaf({
      ...csaf,
      document: { ...csaf.document, aggregate_severity: { text: 'Critical' } },
      product_tree: tree,
      vulnerabilities: [{ product_status: { known_affected: ['both'] } }],
    });
    expect(read.severity).toBe('critical');
    expect(read.affects).toMatchObject([{ vendor: 'Brannick', product: 'Brannick R BIOS' }]);
    expect(isAffected(read.affects[0] as AffectedProduct, '2.12.0')).toBe(true);
  });

  test.each([
    [
      'another version',
      { document: { ...csaf.document, csaf_version: '3.0' } },
      'document.csaf_version “3.0” is not 2.0',
    ],
    ['no number', { document: { ...csaf.document, tracking: {} } }, 'document.tracking.id is missing'],
    [
      'a product that is nowhere',
      { vulnerabilities: [{ product_status: { known_affected: ['?'] } }] },
      'vulnerabilities[0].product_status.known_affected[0] “?” is not in the tree of products',
    ],
    ['no list', { vulnerabilities: {} }, 'vulnerabilities a list is expected'],
  ])('%s is told at its place', (_, change, words) => {
    const read = () => {
      try {
        return readCsaf({ ...csaf, ...change });
      } catch (error) {
        if (error instanceof DocumentError) return `${error.path} ${error.message}`;
        throw error;
      }
    };
    expect(read()).toBe(words);
  });
});

describe('OSV', () => {
  test('tells the same of an entry of its own', () => {
    expect(readOsv(osv)).toEqual({
      number: 'BRK-2026-11',
      publisher: 'BRK',
      title: 'The controller takes a session that has ended',
      published: '2026-07-07',
      updated: '2026-07-09',
      severity: 'critical',
      score: 9.8,
      summary: 'Whoever has an old session goes on with it.',
      others: ['CVE-2026-20002'],
      remedy: '',
      format: 'OSV',
      affects: [
        {
          ...{ vendor: 'Brannick', family: '', product: 'Brannick R management controller' },
          ranges: [
            { from: null, after: null, before: '3.11', upTo: null },
            { from: '4.0', after: null, before: null, upTo: null },
          ],
          releases: ['3.11-rc1'],
          fixed: ['3.11'],
        },
      ],
    });
  });

  // worked examples of the CVSS 3.1 document of FIRST
  test.each([
    ['CVSS:3.1/AV:N/AC:L/PR:N/UI:R/S:C/C:L/I:L/A:N', 6.1],
    ['CVSS:3.1/AV:N/AC:L/PR:L/UI:N/S:C/C:L/I:L/A:N', 6.4],
    ['CVSS:3.0/AV:N/AC:H/PR:N/UI:R/S:U/C:L/I:N/A:N', 3.1],
    ['CVSS:3.1/AV:L/AC:L/PR:N/UI:R/S:U/C:H/I:H/A:H', 7.8],
    ['CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:N/I:N/A:N', 0],
    ['CVSS:2.0/AV:N', null],
    ['CVSS:3.1/AV:N/AC:L', null],
  ])('%s scores %p', (vector, score) => expect(cvssScore(vector)).toBe(score));

  test('scores go by the names that CVSS gives them', () => {
    expect([null, 0, 0.1, 3.9, 4, 6.9, 7, 8.9, 9, 10].map(severityOf)).toEqual([
      'not rated',
      'not rated',
      'low',
      'low',
      'medium',
      'medium',
      'high',
      'high',
      'critical',
      'critical',
    ]);
  });
});

describe('ranges of releases', () => {
  test('bounds, single releases and what is left out', () => {
    expect(parseVers('vers:generic/>=7.2.30|<7.4.12b|!=7.4.11|=6.1')).toEqual({
      ranges: [{ from: '7.2.30', after: null, before: '7.4.12b', upTo: null }],
      releases: ['6.1'],
      leftOut: ['7.4.11'],
    });
    const open = { from: null, after: null, before: null, upTo: null };
    expect(parseVers('*').ranges).toEqual([open]);
    expect(parseVers('<2|>=4|<=5|>6').ranges).toEqual([
      { ...open, before: '2' },
      { ...open, from: '4', upTo: '5' },
      { ...open, after: '6' },
    ]);
    expect(parseVers('2026.2-p3').releases).toEqual(['2026.2-p3']);
  });
  test.each(['>=', '>=7.4|', '> 7.4 <8', '%zz'])('“%s” is none', (text) =>
    expect(() => parseVers(text)).toThrow(RangeError),
  );

  test('a release is affected where a range has it, unless it is named as mended', () => {
    const release = fc.tuple(fc.nat(9), fc.nat(9)).map((numbers) => numbers.join('.'));
    const bound = fc.option(release);
    const product = fc.record({
      ranges: fc.array(fc.record({ from: bound, after: bound, before: bound, upTo: bound }), { maxLength: 3 }),
      releases: fc.array(release, { maxLength: 3 }),
      fixed: fc.array(release, { maxLength: 2 }),
    });
    const value = (text: string) => Number(text.split('.')[0]) * 100 + Number(text.split('.')[1]);
    fc.assert(
      fc.property(product, release, (one, runs) => {
        const affected = { vendor: '', family: '', product: 'x', ...one };
        const at = value(runs);
        const wanted =
          !one.fixed.some((own) => value(own) === at) &&
          (one.releases.some((own) => value(own) === at) ||
            one.ranges.some(
              ({ from, after, before, upTo }) =>
                at >= value(from ?? '0.0') &&
                at > (after === null ? -1 : value(after)) &&
                at < (before === null ? Infinity : value(before)) &&
                at <= (upTo === null ? Infinity : value(upTo)),
            ));
        expect(isAffected(affected, runs, naturalOrder)).toBe(wanted);
        const mended = mendedIn(affected, runs, naturalOrder);
        if (mended !== null) expect(value(mended)).toBeGreaterThan(at);
      }),
    );
  });

  test('a product is meant by its family, its model, and what it is a part of', () => {
    const switches = namesOf({ vendor: 'Kestrane', family: 'K-Access', model: 'K-Access 48', component: 'system' });
    expect(switches).toEqual(expect.arrayContaining(['k-access', 'k-access 48', 'kestrane k-access']));
    const bios = namesOf({ vendor: 'Brannick', family: 'Brannick R', model: 'R2', component: 'BIOS' });
    expect(bios).toContain('brannick r bios');
    // what is wrong with the device is not wrong with its BIOS
    expect(bios).not.toContain('brannick r');
    expect(productNames({ family: 'Brannick R', product: 'BIOS' })).toEqual(['bios', 'brannick r bios']);
    expect(affectedWords({ ranges: [{ from: '7', after: null, before: '8', upTo: null }], releases: ['9.1'] })).toBe(
      'from 7 and before 8, 9.1',
    );
  });
});

test('whatever comes, it is read or refused with a place, and never takes long', () => {
  const anything = fc.oneof(
    fc.anything(),
    fc.object({ maxDepth: 6 }),
    fc.anything().map((id) => ({ ...osv, affected: id })),
    fc.anything().map((tree) => ({ ...csaf, product_tree: tree })),
    fc.anything().map((own) => ({ ...csaf, vulnerabilities: [own] })),
  );
  fc.assert(
    fc.property(anything, (content) => {
      try {
        expect(readAdvisory(content).number).not.toBe('');
      } catch (error) {
        expect(error).toBeInstanceOf(DocumentError);
      }
    }),
  );
  let deep: object = product('x');
  for (let depth = 0; depth < 200; depth++) deep = { category: 'product_name', name: 'x', branches: [deep] };
  expect(() => readCsaf({ ...csaf, product_tree: { branches: [deep] } })).toThrow('too deep');
});
