import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { plateHeight, plateWidth } from '../../core/layout/bay';
import type { MapLayout } from '../../core/layout/estateLayout';
import { roles } from '../../core/estate/facts';
import type { MapData, MapDevice, MapLink } from '../../core/map/mapData';
import { overlayRule } from '../../core/map/overlay';
import { devicesVisible, insideVisible, inSightOf, sitePlate } from './distance';
import { bundleCurve } from './drawing';
import { type Palette } from './palette';
import { writeSvg } from './sheet';
import { curveOf, pictureOf, pointOnCurve, tabs, type DrawnLink } from './picture';

const device = (id: number, site: string, more: Partial<MapDevice> = {}): MapDevice => ({
  id,
  name: `${site.toLowerCase()}-${id}`,
  role: 'switch',
  site,
  state: 'answering',
  model: '',
  endpoints: 3,
  faults: 0,
  root: false,
  ...more,
});
const link = (a: number, b: number, more: Partial<MapLink> = {}): MapLink => ({
  id: `${a}-${b}`,
  a: { device: a, port: '1' },
  b: { device: b, port: '2' },
  kind: 'ethernet',
  confidence: 'confirmed',
  speedBps: 1e9,
  blocked: false,
  issues: [],
  members: 0,
  segment: false,
  ...more,
});
const bay = (site: string, x: number, y: number) => ({
  site,
  x,
  y,
  width: 320,
  height: 160,
  terraces: [{ label: 'core', y: y + 22, height: 60 }],
});
const layout: MapLayout = {
  bays: [bay('A', 0, 0), bay('B', 500, 0), bay('C', 1000, 0)],
  plates: [1, 2]
    .map((id) => ({ id, x: 12 + 148 * (id - 1), y: 42 }))
    .concat([
      { id: 3, x: 512, y: 42 },
      { id: 4, x: 1012, y: 42 },
    ]),
  box: { x: 0, y: 0, width: 1320, height: 160 },
};
const data = (more: Partial<MapData> = {}): MapData => ({
  survey: 8,
  against: null,
  segments: [],
  ever: { devices: [], joints: [] },
  devices: [device(1, 'A', { name: '<b>&"x"' }), device(2, 'A', { state: 'silent' }), device(3, 'B'), device(4, 'C')],
  links: [link(1, 2), link(1, 3, { confidence: 'claimed' }), link(2, 3, { issues: ['MTU differs'] }), link(1, 4)],
  ...more,
});
const everything = { devices: null, links: null, hide: false };
const nothingFolded = { folded: new Set<string>(), open: new Set<string>() };
const drawn = (more: Partial<MapData> = {}, wanted: Partial<Parameters<typeof pictureOf>[3]> = {}) =>
  pictureOf(data(more), layout, overlayRule('state'), { ...everything, ...wanted });
const colours = new Proxy({}, { get: (_, name) => `#${String(name)}` }) as Palette;
const wide = { left: -1e6, top: -1e6, right: 1e6, bottom: 1e6 };

describe('the line of a link', () => {
  const place = fc.record({ x: fc.integer({ min: 0, max: 3000 }), y: fc.integer({ min: 0, max: 2000 }) });
  const picture = (places: { x: number; y: number }[], links: MapLink[]) =>
    pictureOf(
      data({ devices: places.map((_, at) => device(at + 1, 'A')), links }),
      { ...layout, plates: places.map(({ x, y }, at) => ({ id: at + 1, x, y })) },
      overlayRule('state'),
      everything,
    );
  test('begins and ends at the edges of its plates, wherever they stand, from either end', () => {
    fc.assert(
      fc.property(place, place, (a, b) => {
        fc.pre(Math.abs(a.x - b.x) > plateWidth || Math.abs(a.y - b.y) > plateHeight);
        const onEdge = ({ x, y }: { x: number; y: number }, box: { x: number; y: number }) =>
          x >= box.x && x <= box.x + plateWidth && y >= box.y && y <= box.y + plateHeight;
        const [there, back] = [picture([a, b], [link(1, 2)]).links[0], picture([a, b], [link(2, 1)]).links[0]];
        const [start, , , end] = curveOf(there as DrawnLink);
        const [from, , , to] = curveOf(back as DrawnLink);
        return onEdge(start, a) && onEdge(end, b) && JSON.stringify([start, end]) === JSON.stringify([to, from]);
      }),
    );
  });
  test('leaves beside the others of its plate, in the order of where they lead, so that none lies on another', () => {
    const { links } = picture(
      [
        { x: 300, y: 0 },
        { x: 0, y: 200 },
        { x: 300, y: 200 },
        { x: 600, y: 200 },
      ],
      [link(1, 4), link(1, 2), link(1, 3), link(1, 3, { id: 'again' })],
    );
    const starts = links.map((own) => [own.to.device.id, curveOf(own)[0].x]).sort((x, y) => (x[1] ?? 0) - (y[1] ?? 0));
    expect(starts.map(([to]) => to)).toEqual([2, 3, 3, 4]);
    expect(new Set(starts.map(([, x]) => x)).size).toBe(4);
  });
});

describe('from afar', () => {
  test('sites are plates, links between two of them are one line that says what is worst', () => {
    const { sites, bundles } = drawn();
    expect(
      sites.map(({ bay: { site }, devices, endpoints, worst }) => [site, devices.length, endpoints, worst]),
    ).toEqual([
      ['A', 2, 6, 'silent'],
      ['B', 1, 3, 'none'],
      ['C', 1, 3, 'none'],
    ]);
    expect(
      bundles.map(({ from, to, links, faults, shown }) => [
        from.bay.site,
        to.bay.site,
        links.length,
        faults,
        shown.tint,
      ]),
    ).toEqual([
      ['A', 'B', 2, 1, 'bad'],
      ['A', 'C', 1, 0, 'ink3'],
    ]);
  });
  test('a line goes around the plate of a site that lies on its way, and straight where none does', () => {
    const { sites, bundles } = drawn();
    const passing = bundles.find(({ to }) => to.bay.site === 'C');
    if (!passing) throw new Error('no bundle');
    for (const scale of [0.1, 0.3, 0.45]) {
      const curve = bundleCurve(passing, scale, sites);
      const plate = sitePlate(sites[1] as (typeof sites)[number], scale);
      for (let step = 0; step <= 40; step++) {
        const { x, y } = pointOnCurve(curve, step / 40);
        expect(x > plate.x && x < plate.x + plate.width && y > plate.y && y < plate.y + plate.height).toBe(false);
      }
    }
    expect(
      new Set(bundleCurve(bundles[0] as (typeof bundles)[number], 0.3, sites).map(({ y }) => Math.round(y))),
    ).toEqual(new Set([80]));
  });
  test('one distance passes into the next, and a folded site stays folded at all of them', () => {
    expect([0.1, 0.38, 0.5, 3].map(devicesVisible)).toEqual([0, 0, 1, 1]);
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        (one, other) => one > other || devicesVisible(one) <= devicesVisible(other),
      ),
    );
    expect([
      insideVisible('A', 3, { ...nothingFolded, folded: new Set(['A']) }),
      insideVisible('A', 0.1, { ...nothingFolded, open: new Set(['A']) }),
    ]).toEqual([0, 1]);
  });
});

describe('what is looked for', () => {
  test('is whole, and the rest pale or left away', () => {
    const pale = drawn({}, { devices: new Set([1, 3]), links: new Set(['1-3']) });
    expect([
      pale.plates.map(({ pale: isPale }) => isPale),
      pale.links.filter(({ pale: isPale }) => !isPale).map(({ link: { id } }) => id),
    ]).toEqual([[false, true, false, true], ['1-3']]);
    const left = drawn({}, { devices: new Set([1, 3]), links: new Set(['1-3']), hide: true });
    expect([
      left.plates.map(({ device: { id } }) => id),
      left.links.map(({ link: { id } }) => id),
      left.sites.map(({ bay: { site } }) => site),
    ]).toEqual([[1, 3], ['1-3'], ['A', 'B']]);
  });
  test('the legend tells of nothing that is not on the screen', () => {
    const near = inSightOf(drawn(), { left: 0, top: 0, right: 330, bottom: 160 }, 1, nothingFolded);
    expect(near).toMatchObject({ solid: true, dashed: true, wrong: true, silent: true, rests: false });
    expect(inSightOf(drawn(), { left: 1000, top: 0, right: 1400, bottom: 160 }, 1, nothingFolded)).toMatchObject({
      solid: true,
      dashed: false,
      wrong: false,
      silent: false,
    });
    expect(inSightOf(drawn({ links: [link(1, 2, { blocked: true })] }), wide, 0.2, nothingFolded)).toMatchObject({
      solid: false,
      rests: false,
    });
  });
});

describe('what nobody asked', () => {
  const through = (a: number, b: number) => link(a, b, { segment: true, confidence: 'concluded' });
  test('is one small plate in the middle of all that it joins, in place of the lines between each two', () => {
    const { segments, links } = drawn({ links: [through(1, 2), through(1, 3), through(2, 3), link(1, 4)] });
    expect(segments.map(({ joins, words, sel }) => [joins.map(({ device: { id } }) => id), words, sel])).toEqual([
      [[1, 2, 3], 'nobody asked', 'link:1-2'],
    ]);
    expect(links).toHaveLength(4);
    const svg = writeSvg({
      picture: drawn({ links: [through(1, 3)] }),
      colours,
      title: '',
      about: '',
      scale: 1,
      folding: nothingFolded,
    });
    expect(svg).toContain('>nobody asked</text>');
    expect(svg).not.toContain('a-2 2');
  });
  test('hangs below its device where several machines share a port', () => {
    const { segments } = drawn({
      segments: [
        { device: 2, port: '12', machines: 5 },
        { device: 2, port: '13', machines: 3 },
        { device: 99, port: '1', machines: 2 },
      ],
    });
    const [first, second] = segments;
    expect(segments.map(({ words, sel }) => [words, sel])).toEqual([
      ['12: 5 machines', 'port:2:12'],
      ['13: 3 machines', 'port:2:13'],
    ]);
    expect((first?.x ?? 0) + (first?.width ?? 0)).toBeLessThan(second?.x ?? 0);
    expect(first?.y).toBeGreaterThan(42 + plateHeight);
  });
});

test('a group is outlined site by site', () => {
  const { outlines } = drawn(
    {
      devices: [
        device(1, 'A', { groups: ['ring'] }),
        device(2, 'A'),
        device(3, 'B', { groups: ['ring'] }),
        device(4, 'C', { groups: ['other'] }),
      ],
    },
    { outlined: 'ring' },
  );
  expect(outlines.map(({ site, words, corners }) => [site.bay.site, words, corners.length])).toEqual([
    ['A', 'ring', 4],
    ['B', 'ring', 4],
  ]);
  expect(drawn().outlines).toEqual([]);
});

describe('the picture as SVG', () => {
  const svg = writeSvg({
    picture: drawn(),
    colours,
    title: 'Map at survey 8',
    about: 'of this morning',
    scale: 1,
    folding: nothingFolded,
  });
  test('holds names as text, with what a name may not break escaped', () => {
    expect(svg).toContain('>b-3</text>');
    expect(svg).not.toContain('<b>');
    expect(svg).toContain('&#60;b&#62;&#38;&#34;x&#34;');
  });
  test('shows what is claimed by one end as dashes, and something wrong as a wedge in its colour', () => {
    expect(svg).toContain('stroke-dasharray="9 5"');
    expect(svg).toMatch(/<path d="M[^"]* l12 6 l-12 6Z" fill="#bad"/);
  });
  test('says what it is, for eyes and for readers, and from afar shows sites instead', () => {
    expect(svg.match(/Map at survey 8/g)).toHaveLength(2);
    const far = (scale: number) =>
      writeSvg({ picture: drawn(), colours, title: 'Map', about: 'of this morning', scale, folding: nothingFolded });
    expect([far(0.35).includes('>b-3</text>'), far(0.35).includes('>2 devices, 6 endpoints</text>')]).toEqual([
      false,
      true,
    ]);
    // what could not be read is left away
    expect(far(0.2)).toContain('>2 devices</text>');
  });
});

test('every role has a tab of its own', () => {
  expect(roles.filter((role) => !tabs[role])).toEqual([]);
  expect(new Set(Object.values(tabs)).size).toBe(Object.keys(tabs).length);
});
