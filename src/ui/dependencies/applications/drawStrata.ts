import type { Pen, Stroke } from '../../map/pen';
import { plateTall, titleRoom, type PlacedPlate, type StrataPlaces } from './strataPlaces';

/** Colours of a drawing: of the screen, or of paper. */
export interface StrataColours {
  ground: string;
  sunken: string;
  panel: string;
  line: string;
  ink: string;
  quiet: string;
  lagoon: string;
  ember: string;
}

export const screenColours: StrataColours = {
  ground: 'var(--ground)',
  sunken: 'var(--sunken)',
  panel: 'var(--panel)',
  line: 'var(--line)',
  ink: 'var(--ink)',
  quiet: 'var(--ink-3)',
  lagoon: 'var(--lagoon)',
  ember: 'var(--ember)',
};

const paleAlpha = 0.18;
const notch = 9;
const [nameLetter, noteLetter] = [6.7, 5.6];
const cut = (words: string, width: number, letter: number): string => {
  const most = Math.floor((width - 20) / letter);
  return words.length > most ? `${words.slice(0, Math.max(1, most - 1))}…` : words;
};

/** Draws an application like a cut through the ground: bands, plates, brackets around what stands in for each other, a notch at what stands alone. @param lit plates that are not pale; all where it is null */
export function drawStrata(
  pen: Pen,
  { width, strata, plates, brackets, lines }: StrataPlaces,
  colours: StrataColours,
  lit: ReadonlySet<string> | null = null,
): void {
  strata.forEach(({ title, y, tall }, at) => {
    pen.box(0, y, width, tall, 0, at % 2 === 0 ? colours.ground : colours.sunken, null);
    pen.text(title, 14, y + tall / 2 + 4, { size: 12, colour: colours.quiet, widest: titleRoom - 20 });
  });
  const isLit = (...all: PlacedPlate[]) => lit === null || all.every(({ key }) => lit.has(key));
  for (const { from, to, proof } of lines) {
    const stroke: Stroke = {
      colour: lit && isLit(from, to) ? colours.lagoon : colours.quiet,
      width: lit && isLit(from, to) ? 1.6 : 1,
      alpha: isLit(from, to) ? 0.75 : paleAlpha,
    };
    // what rests on something of its own stratum bends below it
    const isBeside = from.y === to.y;
    const [x0, y0] = [from.x + from.width / 2, from.y + plateTall];
    const [x1, y1] = [to.x + to.width / 2, isBeside ? to.y + plateTall : to.y];
    const bend = isBeside ? 16 : Math.max(14, (y1 - y0) / 2);
    pen.curve(
      [
        { x: x0, y: y0 },
        { x: x0, y: y0 + bend },
        { x: x1, y: isBeside ? y1 + bend : y1 - bend },
        { x: x1, y: y1 },
      ],
      stroke,
      `${from.name} to ${to.name}: ${proof}`,
    );
  }
  for (const { words, x, y, width: wide } of brackets) {
    pen.box(x, y, wide, plateTall + 12, 5, null, { colour: colours.lagoon, width: 1, dash: [2, 3] });
    pen.text(words, x + wide - 2, y + plateTall + 24, { size: 11, colour: colours.lagoon, align: 'right' });
  }
  for (const plate of plates) {
    const { x, y, width: wide, name, note, isAlone } = plate;
    const alpha = isLit(plate) ? 1 : 0.35;
    pen.box(
      x,
      y,
      wide,
      plateTall,
      3,
      colours.panel,
      { colour: isAlone ? colours.ember : colours.line, width: isAlone ? 1.5 : 1 },
      alpha,
    );
    // that is where it breaks
    if (isAlone) pen.wedge(x - 0.5, y + plateTall / 2 - notch / 2, notch, colours.ember, alpha);
    const left = x + (isAlone ? notch + 7 : 10);
    const middle = note ? y + 15 : y + plateTall / 2 + 4;
    pen.text(cut(name, wide - (isAlone ? 6 : 0), nameLetter), left, middle, {
      size: 12,
      weight: 600,
      colour: colours.ink,
      alpha,
    });
    if (note)
      pen.text(cut(note, wide - (isAlone ? 6 : 0), noteLetter), left, y + 28, {
        size: 10.5,
        colour: colours.quiet,
        alpha,
      });
  }
}
