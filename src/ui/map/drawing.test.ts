import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { plateHeight, plateWidth, type MapLayout } from '../../core/layout/terraces';
import { roles } from '../../core/estate/facts';
import { curveOf, pointOnCurve, tabs, writeSvg, type DrawnLink, type DrawnPlate, type Palette } from './drawing';

const plate = (id: string, x: number, y: number, name = id): DrawnPlate => ({ id, x, y, name, tab: 'SW', state: 'up' });
const link = (from: DrawnPlate, to: DrawnPlate, more: Partial<DrawnLink> = {}): DrawnLink => ({ id: `${from.id}-${to.id}`, from, to, width: 1.5, dash: [], fault: false, change: undefined, offset: 0, ...more });
const colours = Object.fromEntries(['ground', 'panel', 'sunken', 'line', 'ink', 'ink2', 'ink3', 'ember', 'lagoon', 'bad', 'caution'].map((name) => [name, `#${name}`])) as unknown as Palette;
const layout: MapLayout = { plates: [], bays: [{ site: 'SGH', x: 0, y: 0, width: 400, height: 200, terraces: [{ label: 'core', y: 20, height: 60 }] }], width: 400, height: 200 };

describe('the line of a link', () => {
  const place = fc.record({ x: fc.integer({ min: 0, max: 3000 }), y: fc.integer({ min: 0, max: 2000 }) });
  test('begins and ends at the edges of its plates, wherever they stand', () => {
    fc.assert(fc.property(place, place, (a, b) => {
      const [from, to] = [plate('a', a.x, a.y), plate('b', b.x, b.y)];
      const [start, , , end] = curveOf(link(from, to));
      const onEdge = ({ x, y }: { x: number; y: number }, box: DrawnPlate) => x >= box.x && x <= box.x + plateWidth && y >= box.y && y <= box.y + plateHeight;
      return onEdge(start, from) && onEdge(end, to);
    }));
  });
  test('is the same line from either end', () => {
    fc.assert(fc.property(place, place, (a, b) => {
      if (a.x === b.x && a.y === b.y) return true;
      const [from, to] = [plate('a', a.x, a.y), plate('b', b.x, b.y)];
      const [p0, , , p3] = curveOf(link(from, to));
      const [q0, , , q3] = curveOf(link(to, from));
      return a.x === b.x || JSON.stringify([p0, p3]) === JSON.stringify([q3, q0]);
    }));
  });
  test('parallel links lie apart', () => {
    const [a, b] = [plate('a', 0, 0), plate('b', 0, 200)];
    expect(curveOf(link(a, b, { offset: 8 }))[0].x - curveOf(link(a, b, { offset: -8 }))[0].x).toBe(16);
  });
  test('a point runs from one end to the other', () => {
    const curve = curveOf(link(plate('a', 0, 0), plate('b', 300, 200)));
    expect([pointOnCurve(curve, 0), pointOnCurve(curve, 1)]).toEqual([curve[0], curve[3]]);
  });
});

describe('the picture as SVG', () => {
  const [a, b] = [plate('a', 0, 20, 'sgh-core-1'), plate('b', 0, 120, '<b>&"x"')];
  const svg = writeSvg({ layout, plates: [a, b], links: [link(a, b, { dash: [9, 6], fault: true })] }, colours, 'Map at survey 8');
  test('holds names as text, with what a name may not break escaped', () => {
    expect(svg).toContain('>sgh-core-1</text>');
    expect(svg).not.toContain('<b>');
    expect(svg).toContain('&#60;b&#62;&#38;&#34;x&#34;');
  });
  test('shows what is claimed by one end as dashes, and a mismatch as a wedge in its colour', () => {
    expect(svg).toContain('stroke-dasharray="9 6"');
    expect(svg.match(/#bad/g)).toHaveLength(2);
  });
  test('says what it is, for eyes and for readers', () => {
    expect(svg.match(/Map at survey 8/g)).toHaveLength(2);
    expect(svg).toMatch(/^<svg xmlns="http:\/\/www\.w3\.org\/2000\/svg" viewBox="0 -24 400 224"/);
  });
});

test('every role has a tab of its own', () => {
  expect(roles.filter((role) => !tabs[role])).toEqual([]);
  expect(new Set(Object.values(tabs)).size).toBe(Object.keys(tabs).length);
});
