import type { CSSProperties } from 'react';
import type { Column } from './layout';

/** Above this a column holds prose, and gives way before the others do. */
const proseWidth = 160;

/** Columns share the room by their width: long ones give way where it is short, short ones stop growing before a row falls apart. */
export const widthOf = (field: Column): CSSProperties =>
  field.fixed
    ? { width: field.width, flex: 'none' }
    : {
        width: field.width,
        minWidth: leastWidth(field),
        flexShrink: 1,
        flexGrow: field.width,
        ...(field.width <= proseWidth && { maxWidth: field.width * 1.6 }),
      };

/** Words may be cut short before rows leave the window; of a number or a moment every letter counts. */
export const leastWidth = ({ width, fixed, kind }: Column): number =>
  fixed
    ? width
    : width > proseWidth
      ? Math.max(140, Math.round(width * 0.4))
      : Math.round(width * (kind === 'text' ? 0.82 : 0.94));

const comparedWide = new Set(['release', 'serial']);

/** Old and new value stand side by side where two surveys are compared. */
export const widerForComparison = (columns: Column[]): Column[] =>
  columns.map((field) =>
    comparedWide.has(field.name) && !field.fixed ? { ...field, width: field.width + 55 } : field,
  );
