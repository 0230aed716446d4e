import type { Strata } from '@/core/applications/strata';
import { strataGraphMl } from '@/core/applications/strataText';
import { onPaper, pngOf, saveFile } from '../../lib/takeAway';
import { pagePdf } from '../../map/pdfPen';
import { escapeXml, SvgPen, type Pen } from '../../map/pen';
import { drawStrata, screenColours, type StrataColours } from './drawStrata';
import { strataPlaces } from './strataPlaces';

export const strataKinds = ['SVG', 'PNG', 'PDF', 'GraphML', 'JSON'] as const;
export type StrataKind = (typeof strataKinds)[number];

const head = 40;
const pngWidth = 2400;

/** Colours as they are on paper. */
const paperColours = (): StrataColours =>
  onPaper((paper) => {
    const style = getComputedStyle(paper);
    return Object.fromEntries(
      Object.entries(screenColours).map(([name, colour]: [string, string]) => [
        name,
        style.getPropertyValue(colour.slice('var('.length, -1)).trim(),
      ]),
    ) as unknown as StrataColours;
  });

/** An application as a picture, a graph or data. */
export async function takeStrata(kind: StrataKind, name: string, strata: Strata & { survey: number }): Promise<void> {
  const file = (ending: string) => `bolide-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.${ending}`;
  const title = `${name}, survey ${strata.survey}`;
  if (kind === 'JSON')
    return saveFile(
      new Blob([JSON.stringify({ name, ...strata }, null, 1)], { type: 'application/json' }),
      file('json'),
    );
  if (kind === 'GraphML')
    return saveFile(new Blob([strataGraphMl(title, strata)], { type: 'application/graphml+xml' }), file('graphml'));
  const places = strataPlaces(strata);
  const colours = paperColours();
  const draw = (pen: Pen) => {
    pen.text(title, 14, -14, { size: 16, weight: 600, colour: colours.ink });
    drawStrata(pen, places, colours);
  };
  const box = { left: 0, top: -head, width: places.width, height: places.height + head };
  if (kind === 'PDF') return saveFile(await pagePdf({ title, box, paper: 'A3' }, draw), file('pdf'));
  const pen = new SvgPen();
  draw(pen);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box.left} ${box.top} ${box.width} ${box.height}" width="${Math.round(box.width)}" height="${Math.round(box.height)}" font-family="'Archivo Variable', Archivo, sans-serif"><title>${escapeXml(title)}</title>${pen.parts.join('')}</svg>`;
  return kind === 'SVG'
    ? saveFile(new Blob([svg], { type: 'image/svg+xml' }), file('svg'))
    : saveFile(await pngOf(svg, pngWidth), file('png'));
}
