import { inSightOf, type Folding } from './distance';
import type { Palette } from './palette';
import type { Pen } from './pen';
import type { Picture } from './picture';
import type { PortsNear } from './sockets';

/** A map as it is drawn in a file. */
export interface Drawn {
  picture: Picture;
  colours: Palette;
  /** from as far as it is looked at */
  scale: number;
  folding: Folding;
  /** what stands on plates where they are drawn from near */
  ports?: PortsNear;
}

/** A sign and its words; `draw` draws the sign, two units wide, from the middle of its left end. */
interface Item {
  words: string;
  draw: (pen: Pen, x: number, y: number) => void;
}

/** The legend of a sheet, line by line as its words fit into a width. */
export interface SheetLegend {
  lines: { item: Item; x: number }[][];
}

const [signWidth, gap, letterSize, letterWidth] = [2.4, 1.2, 0.75, 0.52];

/** What each sign on a sheet means, in lines no wider than the sheet. @param unit of the plane, by which everything beside the map is measured */
export function legendOf({ picture, scale, folding, ports, colours }: Drawn, width: number, unit: number): SheetLegend {
  const all = { left: -Infinity, top: -Infinity, right: Infinity, bottom: Infinity };
  const {
    solid,
    dashed,
    dotted,
    rests,
    wrong,
    silent,
    works,
    colours: tints,
    ports: looks,
  } = inSightOf(picture, all, scale, folding, ports);
  const line =
    (colour: string, dash: number[]): Item['draw'] =>
    (pen, x, y) =>
      pen.curve([0, 1 / 3, 2 / 3, 1].map((part) => ({ x: x + part * unit * 2, y })) as Parameters<Pen['curve']>[0], {
        colour,
        width: unit * 0.18,
        dash: dash.map((length) => (length * unit) / 14),
      });
  const items: Item[] = [
    ...(solid ? [{ words: 'both ends say so', draw: line(colours.ink3, []) }] : []),
    ...(dashed ? [{ words: 'one end says so', draw: line(colours.ink3, [9, 5]) }] : []),
    ...(dotted ? [{ words: 'concluded', draw: line(colours.ink3, [1.5, 4]) }] : []),
    ...(rests
      ? [
          {
            words: 'rests',
            draw: (pen: Pen, x: number, y: number) =>
              pen.box(x + unit * 0.6, y - unit * 0.12, unit * 0.9, unit * 0.25, 1, colours.caution, null),
          },
        ]
      : []),
    ...(wrong
      ? [
          {
            words: 'something is wrong',
            draw: (pen: Pen, x: number, y: number) =>
              pen.wedge(x + unit * 0.8, y - unit * 0.4, unit * 0.8, colours.bad),
          },
        ]
      : []),
    ...(silent
      ? [
          {
            words: 'silent',
            draw: (pen: Pen, x: number, y: number) =>
              pen.ring(x + unit * 1.2, y, unit * 0.35, {
                colour: colours.caution,
                width: unit * 0.12,
                dash: [unit * 0.15, unit * 0.18],
              }),
          },
        ]
      : []),
    ...(works ? [{ words: 'planned work or incident', draw: line(colours.ember, [5, 4]) }] : []),
    ...looks.map(({ words, tint, shape }) => ({
      words,
      draw: (pen: Pen, x: number, y: number) =>
        pen.cells([{ x: x + unit * 0.9, y: y - unit * 0.35 }], unit * 0.7, shape === 'full' ? colours[tint] : null, {
          colour: colours[tint],
          width: unit * 0.08,
        }),
    })),
    ...tints.map(({ words, tint, line: isLine }) => {
      const colour = colours[tint as keyof Palette];
      return {
        words,
        draw: isLine
          ? line(colour, [])
          : (pen: Pen, x: number, y: number) =>
              pen.box(x + unit * 0.9, y - unit * 0.35, unit * 0.7, unit * 0.7, unit * 0.12, colour, null),
      };
    }),
  ];
  const lines: SheetLegend['lines'] = [];
  let x = 0;
  for (const item of items) {
    const own = (signWidth + item.words.length * letterSize * letterWidth) * unit;
    if (lines.length === 0 || (x > 0 && x + own > width)) {
      lines.push([]);
      x = 0;
    }
    lines.at(-1)?.push({ item, x });
    x += own + gap * unit;
  }
  return { lines };
}

/** From the middle of its first line downwards. */
export function drawLegend(
  pen: Pen,
  { lines }: SheetLegend,
  left: number,
  top: number,
  unit: number,
  colours: Palette,
): void {
  lines.forEach((line, nth) => {
    const y = top + nth * lineHeight * unit;
    for (const { item, x } of line) {
      item.draw(pen, left + x, y);
      pen.text(item.words, left + x + unit * signWidth, y + unit * letterSize * 0.35, {
        size: unit * letterSize,
        colour: colours.ink2,
      });
    }
  });
}

/** of a line, in units */
export const lineHeight = 1.5;
