import { draw } from './drawing';
import { escapeXml, SvgPen, type Pen } from './pen';
import { boxOf } from './picture';
import { drawLegend, legendOf, lineHeight, type Drawn, type SheetLegend } from './sheetLegend';

/** What stands on a sheet beside the map itself. */
export interface SheetWords {
  title: string;
  /** survey, date, what it is coloured by; neither stands there where the title is empty */
  about: string;
}

export type Sheet = SheetWords & Drawn;

interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
  unit: number;
  legend: SheetLegend;
}

/** at the sides of the map */
const sideUnits = 1.6;

/** The size of a sheet, in units of the plane, and the legend that stands below the map. */
export function sheetBox(sheet: Sheet): Box {
  const { x, y, width, height } = boxOf(sheet.picture);
  const unit = Math.max(14, Math.max(width, height * 1.4) / 90);
  const margin = unit * sideUnits;
  const head = sheet.title === '' ? margin : unit * 5;
  const legend = legendOf(sheet, Math.max(width, unit * 20), unit);
  const foot = unit * (4 + Math.max(0, legend.lines.length - 1) * lineHeight);
  return {
    left: x - margin,
    top: y - head,
    width: Math.max(width, unit * 20) + 2 * margin,
    height: height + head + foot,
    unit,
    legend,
  };
}

/** Draws title, map and legend. */
export function drawSheet(pen: Pen, sheet: Sheet): void {
  const { picture, colours, scale, folding, title, about, ports } = sheet;
  const { left, top, width, height, unit, legend } = sheetBox(sheet);
  const window = { left, top, right: left + width, bottom: top + height };
  pen.box(left, top, width, height, 0, colours.ground, null);
  pen.text(title, left + unit * sideUnits, top + unit * 2.2, { size: unit * 1.3, weight: 600, colour: colours.ink });
  pen.text(about, left + unit * sideUnits, top + unit * 3.6, { size: unit * 0.8, colour: colours.ink2 });
  draw(pen, picture, colours, { scale, window, folding, chosen: null, ...(ports && { ports }) });
  drawLegend(
    pen,
    legend,
    left + unit * sideUnits,
    top + height - unit * (1.5 + (legend.lines.length - 1) * lineHeight),
    unit,
    colours,
  );
}

/** The sheet as SVG with real text. */
export function writeSvg(sheet: Sheet): string {
  const { left, top, width, height } = sheetBox(sheet);
  const pen = new SvgPen();
  drawSheet(pen, sheet);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${left} ${top} ${width} ${height}" width="${Math.round(width)}" height="${Math.round(height)}" font-family="'Archivo Variable', Archivo, sans-serif"><title>${escapeXml([sheet.title, sheet.about].filter(Boolean).join(', '))}</title>${pen.parts.join('')}</svg>`;
}
