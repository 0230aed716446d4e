'use client';

import {
  closestCenter,
  DndContext,
  DragOverlay,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useState, type CSSProperties, type KeyboardEvent, type PointerEvent } from 'react';
import { Hint } from '../Hint';
import { PlainButton } from '../PlainButton';
import type { Column, TableLayout } from './layout';
import { placeInSort, sortedAnew } from './sorting';

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
/** A press sorts; only what is moved so far, or held so long by a finger, is dragged. */
const mouse = { activationConstraint: { distance: 6 } };
const finger = { activationConstraint: { delay: 250, tolerance: 8 } };

/** Heads of columns: a press sorts, a drag moves, the edge changes the width. With the head in focus, Alt and arrows move it, Alt, Shift and arrows change its width. */
export function TableHead({ columns, layout, minWidth, withGlyph, ...heads }: TableHeadProps) {
  const [dragged, setDragged] = useState<string | null>(null);
  const sensors = useSensors(useSensor(MouseSensor, mouse), useSensor(TouchSensor, finger));
  const placeOf = (name: unknown) => columns.findIndex((column) => column.name === name);
  const drop = ({ active, over }: DragEndEvent) => {
    setDragged(null);
    const [from, to] = [placeOf(active.id), placeOf(over?.id)];
    if (from < 0 || to < 0 || from === to) return;
    // to the right it comes behind the one it is dropped on, to the left before it
    const before = from < to ? columns[to + 1]?.name : columns[to]?.name;
    layout?.move(String(active.id), before ?? null);
  };
  return (
    <DndContext
      sensors={sensors}
      // a grid holds rows and nothing else
      accessibility={typeof document === 'undefined' ? {} : { container: document.body }}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setDragged(String(active.id))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={drop}
    >
      <div className="head" role="row" aria-rowindex={1} style={{ minWidth }}>
        <div className="cell markcell" role="columnheader">
          <span className="unseen">Change</span>
        </div>
        {withGlyph && (
          <div className="cell" role="columnheader" style={{ width: 22, padding: 0 }}>
            <span className="unseen">State</span>
          </div>
        )}
        <SortableContext items={columns.map(({ name }) => name)} strategy={horizontalListSortingStrategy}>
          {columns.map((column, at) => (
            <Head
              key={column.name}
              column={column}
              neighbours={[columns[at - 1]?.name ?? null, columns[at + 2]?.name ?? null]}
              layout={layout}
              {...heads}
            />
          ))}
        </SortableContext>
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged !== null && <div className="liftedhead">{columns[placeOf(dragged)]?.label}</div>}
      </DragOverlay>
    </DndContext>
  );
}

/** @param neighbours before which it comes when it goes one to the left, and to the right */
function Head({
  column,
  neighbours: [left, right],
  sort,
  onSort,
  layout,
  widthOf,
}: Pick<TableHeadProps, 'sort' | 'onSort' | 'layout' | 'widthOf'> & {
  column: Column;
  neighbours: [string | null, string | null];
}) {
  const { name, label } = column;
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: name, disabled: !layout });
  const sorted = placeInSort(sort, name);
  const onKey = (event: KeyboardEvent, box: HTMLElement | null) => {
    if (!layout || !event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    event.stopPropagation();
    const isRight = event.key === 'ArrowRight';
    if (event.shiftKey) layout.resize(name, (box?.offsetWidth ?? column.width) + (isRight ? step : -step));
    else layout.move(name, isRight ? right : (left ?? name));
  };
  return (
    <div
      ref={setNodeRef}
      className={`cell ${layout ? 'movable' : ''} ${isDragging ? 'gone' : ''}`}
      role="columnheader"
      style={{ ...widthOf(column), transform: CSS.Translate.toString(transform), transition }}
      aria-sort={sorted ? (sorted.isDescending ? 'descending' : 'ascending') : 'none'}
      {...listeners}
    >
      <Hint
        words={
          layout &&
          'Press to sort, with Shift by several columns; drag to move; Alt and arrows move it, with Shift they change its width'
        }
      >
        <PlainButton
          onKeyDown={(event) => onKey(event, event.currentTarget.parentElement)}
          onClick={(event) => {
            const beside = event.shiftKey;
            onSort((now) => sortedAnew(now, name, beside));
          }}
        >
          {label}
          {sorted && ` ${sorted.isDescending ? '↓' : '↑'}${sorted.rank ?? ''}`}
        </PlainButton>
      </Hint>
      {layout && <Edge column={column} onResize={layout.resize} />}
    </div>
  );
}

/** The right edge of a head: dragging it changes the width, a double press gives it back. */
function Edge({ column, onResize }: { column: Column; onResize: TableLayout['resize'] }) {
  const begin = (event: PointerEvent<HTMLSpanElement>) => {
    event.preventDefault();
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
      // what begins here is no drag of the head
      onMouseDown={(event) => event.stopPropagation()}
      onTouchStart={(event) => event.stopPropagation()}
      onPointerDown={begin}
      onDoubleClick={() => onResize(column.name, null)}
    />
  );
}
