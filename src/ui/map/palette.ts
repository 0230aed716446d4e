import type { Tint } from '@/core/map/overlay';

/** The colours of a theme, by the names of its tokens. */
export type Palette = Record<Tint | 'ground' | 'panel' | 'sunken' | 'line' | 'ink' | 'ember', string>;

const tokens: Record<keyof Palette, string> = {
  ground: 'ground',
  panel: 'panel',
  sunken: 'sunken',
  line: 'line',
  ink: 'ink',
  ink2: 'ink-2',
  ink3: 'ink-3',
  ember: 'ember',
  lagoon: 'lagoon',
  moss: 'moss',
  plum: 'plum',
  sand: 'sand',
  slate: 'slate',
  good: 'good',
  caution: 'caution',
  bad: 'bad',
};

/** The colours of the theme that holds at an element. */
export function paletteOf(element: Element): Palette {
  const style = getComputedStyle(element);
  return Object.fromEntries(
    Object.entries(tokens).map(([name, token]) => [name, style.getPropertyValue(`--${token}`).trim()]),
  ) as Palette;
}
