import { describe, expect, test } from '@jest/globals';
import { plateHeight, plateWidth } from '../../core/layout/bay';
import type { MapLayout } from '../../core/layout/estateLayout';
import type { MapData, MapLink } from '../../core/map/mapData';
import type { DevicePorts, MapPort } from '../../core/map/mapPorts';
import { overlayRule } from '../../core/map/overlay';
import { inSightOf } from './distance';
import type { Palette } from './palette';
import { pictureOf } from './picture';
import { sheetBox, writeSvg } from './sheet';
import { joinedIn, lookOf, portOfSel, socketAt, socketBox, socketPlanOf } from './sockets';

const port = (name: string, more: Partial<MapPort> = {}): MapPort => ({
  name,
  alias: '',
  admin: 'up',
  oper: 'up',
  duplex: 'full',
  disabledBy: '',
  speedBps: 1e9,
  vlan: 30,
  lag: null,
  stp: null,
  pluggedIn: '',
  how: '',
  ...more,
});
const ports: DevicePorts = {
  device: 1,
  plan: null,
  ports: [
    ...Array.from({ length: 48 }, (_, at) => port(String(at + 1))),
    port('A1', { lag: 'Trk1' }),
    port('A2', { lag: 'Trk1' }),
  ],
};
const layout: MapLayout = {
  bays: [{ site: 'A', x: 0, y: 0, width: 320, height: 160, terraces: [] }],
  plates: [
    { id: 1, x: 12, y: 42 },
    { id: 2, x: 160, y: 42 },
  ],
  box: { x: 0, y: 0, width: 320, height: 160 },
};
const device = (id: number): MapData['devices'][number] => ({
  id,
  name: `a-${id}`,
  role: 'switch',
  site: 'A',
  state: 'answering',
  model: '',
  endpoints: 0,
  faults: 0,
  root: false,
});
const trunk: MapLink = {
  id: 'x',
  a: { device: 1, port: 'Trk1' },
  b: { device: 2, port: '7' },
  kind: 'lag',
  confidence: 'confirmed',
  speedBps: 1e9,
  blocked: false,
  issues: [],
  members: 2,
  segment: false,
};
const picture = (overlay: Parameters<typeof overlayRule>[0] = 'state') =>
  pictureOf(
    {
      survey: 1,
      against: null,
      devices: [device(1), device(2)],
      links: [trunk],
      segments: [],
      ever: { devices: [], joints: [] },
    },
    layout,
    overlayRule(overlay),
    { devices: null, links: null, hide: false },
  );
const near = new Map([[1, ports]]);
const folding = { folded: new Set<string>(), open: new Set<string>() };
const wide = { left: -1e6, top: -1e6, right: 1e6, bottom: 1e6 };

describe('sockets of a device', () => {
  test('stand on its plate, each found where it is drawn', () => {
    const [plate] = picture().plates;
    if (!plate) throw new Error('no plate');
    const plan = socketPlanOf(ports);
    expect(plan.sockets).toHaveLength(50);
    for (const socket of plan.sockets) {
      const { x, y, side } = socketBox(plate, plan, socket);
      expect(
        x >= plate.x && y >= plate.y && x + side <= plate.x + plateWidth && y + side <= plate.y + plateHeight,
      ).toBe(true);
      expect(socketAt(plate, ports, x + side / 2, y + side / 2)).toBe(socket.port);
    }
    expect(socketAt(plate, ports, plate.x + 3, plate.y + 3)).toBeNull();
  });
  test('with a link are known, all members of an aggregate too', () => {
    const joined = joinedIn(picture());
    expect([
      joined(1, port('A1', { lag: 'Trk1' }))?.link.id,
      joined(1, port('A1')),
      joined(2, port('7'))?.link.id,
    ]).toEqual(['x', undefined, 'x']);
    expect([portOfSel('port:12:3/4'), portOfSel('device:12'), portOfSel(null)]).toEqual([
      { device: 12, name: '3/4' },
      null,
      null,
    ]);
  });
  test('are told apart without colour: full, wider where a link is, hollow, with a bar, with a wedge', () => {
    const rule = overlayRule('state');
    const shapes = [
      port('1'),
      port('2', { oper: 'down' }),
      port('3', { admin: 'down' }),
      port('4', { disabledBy: 'a loop' }),
      port('5', { oper: 'unknown' }),
    ].map((one) => lookOf(one, false, rule).shape);
    expect(shapes).toEqual(['full', 'hollow', 'bar', 'wedge', 'dot']);
    expect([lookOf(port('1'), true, rule).words, lookOf(port('1'), false, rule).words]).toEqual([
      'port with a link',
      'port that is up',
    ]);
  });
  test('say what the map is coloured by', () => {
    const of = (overlay: Parameters<typeof overlayRule>[0], more: Partial<MapPort>) =>
      lookOf(port('1', more), false, overlayRule(overlay));
    expect([
      of('vlan:20', { carries: 'tagged' }).words,
      of('vlan:20', { carries: 'untagged' }).words,
      of('vlan:20', {}).pale,
    ]).toEqual(['VLAN 20 tagged', 'VLAN 20 untagged', true]);
    expect([of('speed', { speedBps: 1e10 }).tint, of('speed', { oper: 'down' }).pale]).toEqual(['lagoon', true]);
    expect([
      of('changes', { change: 'changed' }).words,
      of('aggregates', { lag: 'Trk1' }).words,
      of('spanning tree', { stp: { state: 'blocking', role: 'alternate' } }).tint,
      of('faults', {}).words,
    ]).toEqual(['changed', 'in an aggregate', 'caution', 'port that is up']);
  });
  test('are drawn from near only, and the legend names what is on the screen', () => {
    const colours = new Proxy({}, { get: (_, name) => `#${String(name)}` }) as Palette;
    const sheet = (scale: number) =>
      writeSvg({ picture: picture(), colours, scale, folding, title: '', about: '', ports: near });
    const squares = (svg: string) => svg.match(/h[\d.]+v[\d.]+h-[\d.]+Z/g)?.length ?? 0;
    // fifty, and two in the legend
    expect([squares(sheet(1)), squares(sheet(2.2))]).toEqual([0, 52]);
    expect(inSightOf(picture(), wide, 2.2, folding, near).ports.map(({ words }) => words)).toEqual([
      'port that is up',
      'port with a link',
    ]);
    expect(inSightOf(picture(), wide, 1, folding, near).ports).toEqual([]);
  });
  test('are told on paper in as many lines as the sheet is wide for', () => {
    const colours = new Proxy({}, { get: (_, name) => `#${String(name)}` }) as Palette;
    const sheet = {
      picture: picture(),
      colours,
      scale: 2.2,
      folding,
      title: 'A map',
      about: '',
      ports: new Map([
        [
          1,
          {
            ...ports,
            ports: ports.ports.map((own, at) => ({
              ...own,
              oper: ['up', 'down', 'unknown'][at % 3] ?? 'up',
              admin: at % 4 ? 'up' : 'down',
            })),
          },
        ],
      ]),
    };
    const {
      left,
      width,
      legend: { lines },
    } = sheetBox(sheet);
    expect(lines.length).toBeGreaterThan(1);
    const texts = [
      ...writeSvg(sheet).matchAll(
        /<text x="([-\d.]+)"[^>]*font-size="([\d.]+)"[^>]*>(port |state not told|switched off)[^<]*</g,
      ),
    ].map(([whole, x, size]) => Number(x) + Number(size) * 0.52 * (whole.split('>')[1]?.length ?? 0));
    expect(texts).toHaveLength(4);
    for (const right of texts) expect(right).toBeLessThanOrEqual(left + width);
  });
});
