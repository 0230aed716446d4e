import type { CSSProperties, ReactNode } from 'react';
import type { ThingField } from '@/core/things/thing';
import type { ThingRow } from '../../lib/api';
import { monoKinds } from '../../lib/format';
import type { CellBlock } from './cellBlock';
import { CellHint } from './CellHint';
import { CellText } from './CellText';
import { widthOf } from './columnWidths';
import type { Column } from './layout';
import { lineId } from './lineId';

const changeMarks = { added: '+', gone: '−', changed: '~', replaced: '~', silent: '~' } as const;

export interface RowDrawing {
  /** glyph column before the first */
  glyph?: (row: ThingRow) => ReactNode;
  /** a cell drawn otherwise than as its text */
  cell?: (row: ThingRow, field: ThingField) => ReactNode | undefined;
}

interface RowLineProps extends RowDrawing {
  /** not there yet while its page is on its way */
  row: ThingRow | undefined;
  index: number;
  /** how deep within groups; absent where nothing is grouped */
  level?: number;
  columns: Column[];
  place: CSSProperties;
  isSelected: boolean;
  isMarked: boolean;
  block: CellBlock | null;
  onChoose: () => void;
  onOpen: () => void;
  /** the mouse went down in a cell, or over it while it is down */
  onCell: (column: number, how: 'begin' | 'reach' | 'drag') => void;
}

/** One row of a virtual table. */
export function RowLine({
  row,
  index,
  level,
  columns,
  place,
  isSelected,
  isMarked,
  block,
  glyph,
  cell,
  onChoose,
  onOpen,
  onCell,
}: RowLineProps) {
  return (
    <div
      id={row ? lineId(row.id) : undefined}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={isSelected}
      {...(level !== undefined && { 'aria-level': level })}
      className={`row ${row?.change ?? ''} ${isMarked ? 'marked' : ''}`}
      style={place}
      onClick={onChoose}
      onDoubleClick={onOpen}
    >
      <div role="gridcell" className="cell markcell">
        {row?.change ? (
          <CellHint words={row.change}>{changeMarks[row.change]}</CellHint>
        ) : isMarked ? (
          <CellHint words="marked; M takes the mark away">▪</CellHint>
        ) : null}
      </div>
      {glyph && (
        <div role="gridcell" className="cell" style={{ width: 22, padding: '0 0 0 4px' }}>
          {row && glyph(row)}
        </div>
      )}
      {columns.map((column, at) => (
        <div
          key={column.name}
          role="gridcell"
          className={`cell ${at === 0 ? 'first' : ''} ${monoKinds.has(column.kind) || column.name === 'serial' ? 'mono' : ''} ${block?.holds(index, at) ? 'inblock' : ''}`}
          style={widthOf(column)}
          onMouseDown={(event) => onCell(at, event.shiftKey ? 'reach' : 'begin')}
          onMouseEnter={(event) => event.buttons === 1 && onCell(at, 'drag')}
        >
          {row && (cell?.(row, column) ?? <CellText row={row} field={column} />)}
        </div>
      ))}
    </div>
  );
}
