import type { CSSProperties } from 'react';
import { cellText } from '../../lib/format';
import { CellHint } from './CellHint';
import { widthOf } from './columnWidths';
import { lineId } from './lineId';
import type { Column } from './layout';
import type { Line } from './lines';

const indentPerLevel = 16;

/** The head of a group: its value, how many rows it has, and sums under the columns that add up. */
export function GroupLine({
  line: {
    group: { count, sums },
    level,
    key,
    open,
  },
  label,
  columns,
  place,
  index,
  active,
  withGlyph,
  onToggle,
}: {
  line: Line & { kind: 'group' };
  label: string;
  columns: Column[];
  place: CSSProperties;
  index: number;
  active: boolean;
  withGlyph: boolean;
  onToggle: () => void;
}) {
  return (
    <div
      id={lineId(key)}
      role="row"
      aria-rowindex={index + 2}
      aria-level={level}
      aria-expanded={open}
      aria-selected={active}
      className={`row grouphead level${level}`}
      style={place}
      onClick={onToggle}
    >
      <div role="gridcell" className="cell markcell" />
      {withGlyph && <div role="gridcell" className="cell" style={{ width: 22 }} />}
      {columns.map((column, at) => (
        <div
          key={column.name}
          role="gridcell"
          className={`cell ${at === 0 ? 'value' : ''}`}
          style={at === 0 ? { ...widthOf(column), paddingLeft: 8 + (level - 1) * indentPerLevel } : widthOf(column)}
        >
          {at === 0 ? (
            <>
              <span aria-hidden className="turn">
                {open ? '▾' : '▸'}
              </span>
              <b>{label}</b>
              <span className="quiet">{count.toLocaleString('en')}</span>
            </>
          ) : sums[column.name] ? (
            <CellHint className="quiet" words={`together ${cellText(sums[column.name], column.kind)}`}>
              {cellText(sums[column.name], column.kind)}
            </CellHint>
          ) : null}
        </div>
      ))}
    </div>
  );
}
