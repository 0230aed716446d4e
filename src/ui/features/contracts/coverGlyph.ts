import type { GlyphName } from '../../components/Glyph';

export type CoverState = 'covered' | 'ending' | 'ended' | 'coming' | 'none';

const glyphs: Record<CoverState, GlyphName> = {
  covered: 'up',
  ending: 'later',
  ended: 'fault',
  coming: 'down',
  none: 'unknown',
};

/** The glyph of a state of cover. */
export const coverGlyph = (state: unknown): GlyphName => glyphs[state as CoverState] ?? 'unknown';
