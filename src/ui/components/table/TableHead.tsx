'use client';

import { useState, type CSSProperties, type KeyboardEvent, type PointerEvent } from 'react';
import type { Column, TableLayout } from './layout';

interface TableHeadProps {
  columns: Column[];
  sort: string;
  onSort: (next: (sort: string) => string) => void;
  /** where absent, columns stay as they are */
  layout: TableLayout | undefined;
  widthOf: (column: Column) => CSSProperties;
  minWidth: number;
  withGlyph: boolean;
}

const step = 16;

/** Heads of columns: a press sorts, a drag moves, the edge changes the width. With the head in focus, Alt and arrows move it, Alt, Shift and arrows change its width. */
export function TableHead({ columns, sort, onSort, layout, widthOf, minWidth, withGlyph }: TableHeadProps) {
  const [over, setOver] = useState<string | null>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const sorted = sort.replace(/^-/, '');
  const onKey = (event: KeyboardEvent, column: Column, at: number, box: HTMLElement | null) => {
    if (!layout || !event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    event.stopPropagation();
    const right = event.key === 'ArrowRight';
    if (event.shiftKey) layout.resize(column.name, (box?.offsetWidth ?? column.width) + (right ? step : -step));
    else
      layout.move(column.name, (right ? columns[at + 2]?.name : columns[at - 1]?.name) ?? (right ? null : column.name));
  };
  return (
    <div className="head" role="row" aria-rowindex={1} style={{ minWidth }}>
      <div className="cell markcell" role="columnheader">
        <span className="unseen">Change</span>
      </div>
      {withGlyph && (
        <div className="cell" role="columnheader" style={{ width: 22, padding: 0 }}>
          <span className="unseen">State</span>
        </div>
      )}
      {columns.map((column, at) => (
        <div
          key={column.name}
          className={`cell ${over === column.name && dragged !== column.name ? 'dropping' : ''}`}
          role="columnheader"
          style={widthOf(column)}
          aria-sort={sorted === column.name ? (sort.startsWith('-') ? 'descending' : 'ascending') : 'none'}
          draggable={layout !== undefined}
          onDragStart={(event) => {
            event.dataTransfer.effectAllowed = 'move';
            event.dataTransfer.setData('text/plain', column.name);
            setDragged(column.name);
          }}
          onDragOver={(event) => {
            if (dragged === null) return;
            event.preventDefault();
            setOver(column.name);
          }}
          onDrop={(event) => {
            event.preventDefault();
            const from = columns.findIndex(({ name }) => name === dragged);
            // to the right it comes behind the one it is dropped on, to the left before it
            if (dragged !== null) layout?.move(dragged, from < at ? (columns[at + 1]?.name ?? null) : column.name);
            setOver(null);
            setDragged(null);
          }}
          onDragEnd={() => {
            setOver(null);
            setDragged(null);
          }}
        >
          <button
            type="button"
            title={layout && 'Press to sort, drag to move; Alt and arrows move it, with Shift they change its width'}
            onKeyDown={(event) => onKey(event, column, at, event.currentTarget.parentElement)}
            onClick={() =>
              onSort((now) => (now === column.name ? `-${column.name}` : now === `-${column.name}` ? '' : column.name))
            }
          >
            {column.label}
            {sorted === column.name ? (sort.startsWith('-') ? ' ↓' : ' ↑') : ''}
          </button>
          {layout && <Edge column={column} onResize={layout.resize} />}
        </div>
      ))}
    </div>
  );
}

/** The right edge of a head: dragging it changes the width, a double press gives it back. */
function Edge({ column, onResize }: { column: Column; onResize: TableLayout['resize'] }) {
  const begin = (event: PointerEvent<HTMLSpanElement>) => {
    event.preventDefault();
    event.stopPropagation();
    const edge = event.currentTarget;
    const from = edge.parentElement?.offsetWidth ?? column.width;
    const startX = event.clientX;
    edge.setPointerCapture(event.pointerId);
    const up = (end: globalThis.PointerEvent) => {
      edge.removeEventListener('pointerup', up);
      if (Math.abs(end.clientX - startX) > 2) onResize(column.name, from + end.clientX - startX);
    };
    edge.addEventListener('pointerup', up);
  };
  return (
    <span
      className="edge"
      aria-hidden
      draggable
      onDragStart={(event) => {
        event.preventDefault();
        event.stopPropagation();
      }}
      onPointerDown={begin}
      onDoubleClick={() => onResize(column.name, null)}
    />
  );
}
