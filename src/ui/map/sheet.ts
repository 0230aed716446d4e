import { inSightOf, type Folding } from './distance';
import { draw } from './drawing';
import { type Palette } from './palette';
import { escapeXml, SvgPen, type Pen } from './pen';
import { boxOf, type Picture } from './picture';
import type { PortsNear } from './sockets';

/** What stands on a sheet beside the map itself. */
export interface SheetWords {
  title: string;
  /** survey, date, what it is coloured by; neither stands there where the title is empty */
  about: string;
}

export interface Sheet extends SheetWords {
  picture: Picture;
  colours: Palette;
  /** from as far as it is looked at */
  scale: number;
  folding: Folding;
  /** what stands on plates where they are drawn from near */
  ports?: PortsNear;
}

interface Box { left: number; top: number; width: number; height: number; unit: number }

/** The size of a sheet, in units of the plane. */
export function sheetBox({ picture, title }: Pick<Sheet, 'picture' | 'title'>): Box {
  const { x, y, width, height } = boxOf(picture);
  const unit = Math.max(14, Math.max(width, height * 1.4) / 90);
  const margin = unit * 1.6;
  const head = title === '' ? margin : unit * 5;
  return { left: x - margin, top: y - head, width: width + 2 * margin, height: height + head + unit * 4, unit };
}

/** Draws title, map and legend. */
export function drawSheet(pen: Pen, { picture, colours, scale, folding, title, about, ports }: Sheet): void {
  const { left, top, width, height, unit } = sheetBox({ picture, title });
  const window = { left, top, right: left + width, bottom: top + height };
  pen.box(left, top, width, height, 0, colours.ground, null);
  pen.text(title, left + unit * 1.6, top + unit * 2.2, { size: unit * 1.3, weight: 600, colour: colours.ink });
  pen.text(about, left + unit * 1.6, top + unit * 3.6, { size: unit * 0.8, colour: colours.ink2 });
  draw(pen, picture, colours, { scale, window, folding, chosen: null, ...(ports && { ports }) });
  const { solid, dashed, dotted, rests, wrong, silent, colours: tints, ports: looks } = inSightOf(picture, window, scale, folding, ports);
  const y = top + height - unit * 1.5;
  let x = left + unit * 1.6;
  const size = unit * 0.75;
  const word = (words: string) => {
    pen.text(words, x + unit * 2.4, y + size * 0.35, { size, colour: colours.ink2 });
    x += unit * 3.6 + words.length * size * 0.52;
  };
  const line = (words: string, colour: string, dash: number[]) => {
    pen.curve([0, 1 / 3, 2 / 3, 1].map((part) => ({ x: x + part * unit * 2, y })) as Parameters<Pen['curve']>[0], { colour, width: unit * 0.18, dash: dash.map((length) => (length * unit) / 14) });
    word(words);
  };
  if (solid) line('both ends say so', colours.ink3, []);
  if (dashed) line('one end says so', colours.ink3, [9, 5]);
  if (dotted) line('concluded', colours.ink3, [1.5, 4]);
  if (rests) {
    pen.box(x + unit * 0.6, y - unit * 0.12, unit * 0.9, unit * 0.25, 1, colours.caution, null);
    word('rests');
  }
  if (wrong) {
    pen.wedge(x + unit * 0.8, y - unit * 0.4, unit * 0.8, colours.bad);
    word('something is wrong');
  }
  if (silent) {
    pen.ring(x + unit * 1.2, y, unit * 0.35, { colour: colours.caution, width: unit * 0.12, dash: [unit * 0.15, unit * 0.18] });
    word('silent');
  }
  for (const { words, tint, shape } of looks) {
    const colour = colours[tint];
    pen.cells([{ x: x + unit * 0.9, y: y - unit * 0.35 }], unit * 0.7, shape === 'full' ? colour : null, { colour, width: unit * 0.08 });
    word(words);
  }
  for (const { words, tint, line: isLine } of tints) {
    const colour = colours[tint as keyof Palette];
    if (isLine) line(words, colour, []);
    else {
      pen.box(x + unit * 0.9, y - unit * 0.35, unit * 0.7, unit * 0.7, unit * 0.12, colour, null);
      word(words);
    }
  }
}

/** The sheet as SVG with real text. */
export function writeSvg(sheet: Sheet): string {
  const { left, top, width, height } = sheetBox(sheet);
  const pen = new SvgPen();
  drawSheet(pen, sheet);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${left} ${top} ${width} ${height}" width="${Math.round(width)}" height="${Math.round(height)}" font-family="'Archivo Variable', Archivo, sans-serif"><title>${escapeXml([sheet.title, sheet.about].filter(Boolean).join(', '))}</title>${pen.parts.join('')}</svg>`;
}
