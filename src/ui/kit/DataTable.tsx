'use client';

import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, type KeyboardEvent, type ReactNode } from 'react';
import type { ThingField, ThingName } from '@/core/things/fields';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRequest, type ThingRow } from './api';
import { cellText, monoKinds } from './format';
import { Glyph } from './Glyph';
import { ProblemNote } from './ProblemNote';

const comparedWide = new Set(['release', 'serial']);
const rowHeight = 30;
const pageSize = 100;
const marks = { added: '+', gone: '−', changed: '~' } as const;

const none: string[] = [];

interface DataTableProps {
  thing: ThingName;
  request: ThingRequest;
  /** fields whose values are counted with the first page */
  count?: string[];
  columns: ThingField[];
  sort: string;
  onSort: (sort: string) => void;
  selected: string | null;
  onSelect: (row: ThingRow) => void;
  onOpen?: (row: ThingRow) => void;
  /** glyph column before the first */
  glyph?: (row: ThingRow) => ReactNode;
  /** a cell drawn otherwise than as its text */
  cell?: (row: ThingRow, field: ThingField) => ReactNode | undefined;
  empty: ReactNode;
  label: string;
}

/** A virtualised grid over one thing of the API: only the pages in sight are asked for. Arrow keys move the selection, Enter opens. */
export function DataTable({ thing, request, count = none, columns: asked, sort, onSort, selected, onSelect, onOpen, glyph, cell, empty, label }: DataTableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  // old and new value stand side by side when two surveys are compared
  const columns = useMemo(() => (request.against ? asked.map((field) => (comparedWide.has(field.name) ? { ...field, width: field.width + 55 } : field)) : asked), [asked, request.against]);
  const first = useFirstPage(thing, request, sort, count);
  const total = first.data?.total ?? 0;
  const virtual = useVirtualizer({ count: total, getScrollElement: () => scroller.current, estimateSize: () => rowHeight, overscan: 12 });
  const items = virtual.getVirtualItems();
  const pages = useMemo(() => {
    const wanted = new Set(items.map(({ index }) => Math.floor(index / pageSize) + 1));
    wanted.delete(1);
    return [...wanted];
  }, [items]);
  const others = useQueries({ queries: pages.map((page) => thingQuery(thing, { ...request, sort, page, size: pageSize })) });
  const rowAt = (index: number): ThingRow | undefined => {
    const page = Math.floor(index / pageSize) + 1;
    const answer = page === 1 ? first.data : others[pages.indexOf(page)]?.data;
    return answer?.rows[index % pageSize];
  };
  const loaded = first.data?.rows ?? [];
  const selectedIndex = loaded.findIndex(({ id }) => id === selected);
  useEffect(() => {
    if (selectedIndex >= 0) virtual.scrollToIndex(selectedIndex, { align: 'auto' });
    // only when another row is chosen, not at every new page
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected, selectedIndex >= 0]);

  const onKeyDown = (event: KeyboardEvent) => {
    const current = items.find(({ index }) => rowAt(index)?.id === selected)?.index ?? selectedIndex;
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: 15, PageUp: -15, Home: -total, End: total };
    const step = steps[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = Math.max(0, Math.min(total - 1, current < 0 ? 0 : current + step));
      const row = rowAt(next);
      virtual.scrollToIndex(next, { align: 'auto' });
      if (row) onSelect(row);
    } else if (event.key === 'Enter' && current >= 0) {
      const row = rowAt(current);
      if (row) onOpen?.(row);
    }
  };
  const width = columns.reduce((sum, column) => sum + leastWidth(column), 26 + (glyph ? 22 : 0));
  const sorted = sort.replace(/^-/, '');

  if (first.error) return <ProblemNote problem={first.error} />;
  const waiting = first.isPlaceholderData && (first.fetchStatus === 'paused' || first.failureCount > 0);
  return (
    <>
      {waiting && <p className="waiting" role="status"><Glyph name="silent" /> The application does not answer: these rows are those of before. Trying again.</p>}
      <div
        ref={scroller} className="table" role="grid" aria-label={label} aria-rowcount={total + 1} aria-busy={first.isFetching} tabIndex={0} onKeyDown={onKeyDown} data-total={total}
        {...(selected && items.some(({ index }) => rowAt(index)?.id === selected) && { 'aria-activedescendant': domId(selected) })}
      >
        <div className="head" role="row" aria-rowindex={1} style={{ minWidth: width }}>
          <div className="cell markcell" role="columnheader"><span className="unseen">Change</span></div>
          {glyph && <div className="cell" role="columnheader" style={{ width: 22, padding: 0 }}><span className="unseen">State</span></div>}
          {columns.map((column) => (
            <div key={column.name} className="cell" role="columnheader" style={widthOf(column)} aria-sort={sorted === column.name ? (sort.startsWith('-') ? 'descending' : 'ascending') : 'none'}>
              <button type="button" tabIndex={-1} onClick={() => onSort(sort === column.name ? `-${column.name}` : sort === `-${column.name}` ? '' : column.name)}>
                {column.label}{sorted === column.name ? (sort.startsWith('-') ? ' ↓' : ' ↑') : ''}
              </button>
            </div>
          ))}
        </div>
        {total === 0 && first.data ? (
          <div role="row"><div role="gridcell" className="empty">{empty}</div></div>
        ) : (
          <div className="body" role="rowgroup" style={{ height: virtual.getTotalSize(), minWidth: width }}>
            {items.map(({ index, start }) => {
              const row = rowAt(index);
              return (
                <div
                  key={row?.id ?? `blank ${index}`} id={row ? domId(row.id) : undefined} role="row" aria-rowindex={index + 2} aria-selected={row !== undefined && row.id === selected}
                  className={`row ${row?.change ?? ''}`} style={{ transform: `translateY(${start}px)` }}
                  onClick={() => row && onSelect(row)} onDoubleClick={() => row && onOpen?.(row)}
                >
                  <div role="gridcell" className="cell markcell">{row?.change ? <span title={row.change}>{marks[row.change]}</span> : null}</div>
                  {glyph && <div role="gridcell" className="cell" style={{ width: 22, padding: '0 0 0 4px' }}>{row && glyph(row)}</div>}
                  {columns.map((column, at) => (
                    <div key={column.name} role="gridcell" className={`cell ${at === 0 ? 'first' : ''} ${monoKinds.has(column.kind) || column.name === 'serial' ? 'mono' : ''}`} style={widthOf(column)}>
                      {row && (cell?.(row, column) ?? <CellText row={row} field={column} />)}
                    </div>
                  ))}
                </div>
              );
            })}
          </div>
        )}
      </div>
    </>
  );
}

/** Columns share the room by their width: long ones give way where it is short, short ones stop growing before a row falls apart. */
const widthOf = (field: ThingField) => ({ width: field.width, minWidth: leastWidth(field), flexShrink: 1, flexGrow: field.width, ...(field.width <= 160 && { maxWidth: field.width * 1.6 }) });
const leastWidth = ({ width }: ThingField) => (width > 160 ? Math.max(140, Math.round(width * 0.4)) : Math.round(width * 0.94));

const domId = (id: string) => `row-${id.replace(/[^A-Za-z0-9]/g, '_')}`;

/** The text of a cell; with a comparison on, the former value stands before it. */
export function CellText({ row, field }: { row: ThingRow; field: ThingField }) {
  const text = cellText(row[field.name], field.kind);
  const before = row.before && field.name in row.before ? cellText(row.before[field.name], field.kind) : null;
  const title = field.kind === 'date' ? String(row[field.name] ?? '') : before === null ? text : `${before || 'nothing'} → ${text || 'nothing'}`;
  return (
    <span title={title}>
      {before !== null && <span className="was">{before || '·'} → </span>}
      {text}
    </span>
  );
}

function thingQuery(thing: ThingName, request: ThingRequest) {
  const path = thingPath(thing, request);
  return { queryKey: ['thing', path], queryFn: ({ signal }: { signal: AbortSignal }) => call<ThingPage>(path, { signal }), placeholderData: keepPreviousData, retry: retryUnlessRefused };
}

const retryUnlessRefused = (count: number, error: ApiProblem) => error.status === 0 && count < 20;

/** The page a table begins with, and the counts beside it: one request for both, however many ask. */
export function useFirstPage(thing: ThingName, request: ThingRequest, sort: string, count: string[] = none, enabled = true) {
  return useThingPage(thing, { ...request, sort, page: 1, size: pageSize, count }, enabled);
}

/** One page of a thing. */
export function useThingPage(thing: ThingName, request: ThingRequest, enabled = true) {
  return useQuery<ThingPage, ApiProblem>({ ...thingQuery(thing, request), enabled });
}
