'use client';

import { keepPreviousData, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useHotkeys } from 'react-hotkeys-hook';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type CSSProperties, type KeyboardEvent, type ReactNode } from 'react';
import type { ThingField } from '@/core/things/thing';
import type { ThingName } from '@/core/things/things';
import { filterOfGroup } from '@/core/things/grouping';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRequest, type ThingRow } from '../../lib/api';
import { cellText, fieldText, monoKinds, namedText } from '../../lib/format';
import { Glyph } from '../Glyph';
import { useFieldsOf } from '../../lib/ownFields';
import { ProblemNote } from '../ProblemNote';
import { CellBlock } from './cellBlock';
import { rowHeights, type Column, type TableLayout } from './layout';
import { Lines, type Line } from './lines';
import { TableHead } from './TableHead';
import { useMarkedRows } from './markedRows';

/** The heads stay at the top of what scrolls, above the rows. */
const headHeight = 27;
const comparedWide = new Set(['release', 'serial']);
const pageSize = 100;
const marks = { added: '+', gone: '−', changed: '~', replaced: '~', silent: '~' } as const;

const none: string[] = [];

interface DataTableProps {
  thing: ThingName;
  request: ThingRequest;
  /** fields whose values are counted with the first page */
  count?: string[];
  columns: Column[];
  sort: string;
  onSort: (next: (sort: string) => string) => void;
  selected: string | null;
  onSelect: (row: ThingRow) => void;
  onOpen?: (row: ThingRow) => void;
  /** how the columns lie; where it is absent they cannot be moved */
  layout?: TableLayout;
  /** fields to group by, the outermost first */
  group?: string[];
  /** glyph column before the first */
  glyph?: (row: ThingRow) => ReactNode;
  /** a cell drawn otherwise than as its text */
  cell?: (row: ThingRow, field: ThingField) => ReactNode | undefined;
  empty: ReactNode;
  label: string;
}

/**
 * A virtualised grid over one thing of the API: only the pages in sight are asked for. Arrow keys go from line to line, Enter opens, Right and Left open and close
 * groups, M marks a row, Shift and arrows choose a block of cells, Ctrl+C copies it.
 */
export function DataTable({
  thing,
  request,
  count = none,
  columns: asked,
  sort,
  onSort,
  selected,
  onSelect,
  onOpen,
  layout,
  group = none,
  glyph,
  cell,
  empty,
  label,
}: DataTableProps) {
  const client = useQueryClient();
  const fields = useFieldsOf()(thing);
  const scroller = useRef<HTMLDivElement>(null);
  const rowHeight = rowHeights[layout?.density ?? 'roomy'];
  // old and new value stand side by side when two surveys are compared
  const columns = useMemo(
    () =>
      request.against
        ? asked.map((field) =>
            comparedWide.has(field.name) && !field.fixed ? { ...field, width: field.width + 55 } : field,
          )
        : asked,
    [asked, request.against],
  );
  const first = useFirstPage(thing, { ...request, ...(group.length > 0 && { group }) }, sort, count);
  const total = first.data?.total ?? 0;
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const lines = useMemo(
    () => new Lines(group.length > 0 ? (first.data?.groups ?? []) : null, group.length, total, (key) => open.has(key)),
    [group.length, first.data?.groups, total, open],
  );
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    scrollMargin: headHeight,
    scrollPaddingStart: headHeight,
  });
  useEffect(() => virtual.measure(), [rowHeight, virtual]);
  const items = virtual.getVirtualItems();
  const by = useMemo(() => group.map((name) => ({ name })), [group]);
  const pageOf = (line: Line & { kind: 'row' }) =>
    `${Math.floor(line.at / pageSize) + 1} ${line.path.length > 0 ? filterOfGroup(by, line.path) : ''}`;
  const pages = useMemo(() => {
    const wanted = new Set(
      items.flatMap(({ index }) => {
        const line = lines.at(index);
        return line?.kind === 'row' ? [pageOf(line)] : [];
      }),
    );
    // the first page of all rows came with the counts
    wanted.delete('1 ');
    return [...wanted];
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [items, lines, by]);
  const pageQuery = (key: string) => {
    const at = key.indexOf(' ');
    const within = key.slice(at + 1);
    return thingQuery(thing, {
      ...request,
      where: within ? [request.where && `(${request.where})`, within].filter(Boolean).join(' ') : (request.where ?? ''),
      sort,
      page: Number(key.slice(0, at)),
      size: pageSize,
    });
  };
  const others = useQueries({ queries: pages.map(pageQuery) });
  const rowOf = (line: Line | undefined): ThingRow | undefined => {
    if (line?.kind !== 'row') return undefined;
    const key = pageOf(line);
    const answer = key === '1 ' ? first.data : others[pages.indexOf(key)]?.data;
    return answer?.rows[line.at % pageSize];
  };
  const rowAt = (index: number) => rowOf(lines.at(index));
  /** also of a line that is not in sight */
  const rowFor = async (index: number): Promise<ThingRow | undefined> => {
    const own = lines.at(index);
    if (own?.kind !== 'row') return undefined;
    return (
      rowOf(own) ?? (await client.fetchQuery({ ...pageQuery(pageOf(own)), staleTime: 60_000 })).rows[own.at % pageSize]
    );
  };
  const loaded = group.length > 0 ? none : (first.data?.rows ?? []);
  const selectedIndex = (loaded as ThingRow[]).findIndex(({ id }) => id === selected);
  /** the line the keys go from: a head of a group is no row that could be selected, and a selection comes back through the address of the page a moment late */
  const [line, setLine] = useState(-1);
  const [block, setBlock] = useState<CellBlock | null>(null);
  const awaited = useRef<string | null>(null);
  const indexOfSelected = () => items.find(({ index }) => rowAt(index)?.id === selected)?.index ?? selectedIndex;
  useEffect(() => {
    if (awaited.current !== null && awaited.current !== selected) return;
    awaited.current = null;
    const index = indexOfSelected();
    if (index >= 0) setLine(index);
    if (selectedIndex >= 0) virtual.scrollToIndex(selectedIndex, { align: 'auto' });
    // only when another row is chosen, not at every new page
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected, selectedIndex >= 0]);
  const order = `${request.where ?? ''} ${sort} ${group.join()}`;
  useEffect(() => {
    // other rows, or in another order: the line is another one
    setLine(-1);
    setBlock(null);
  }, [order]);
  const choose = (row: ThingRow) => {
    if (row.id === selected) return;
    awaited.current = row.id;
    onSelect(row);
  };
  const { marked, toggle: toggleMark } = useMarkedRows(thing);

  const toggleGroup = (key: string, wanted?: boolean) =>
    setOpen((before) => {
      const next = new Set(before);
      if (wanted ?? !before.has(key)) next.add(key);
      else next.delete(key);
      return next;
    });
  const goTo = (next: number) => {
    setLine(next);
    virtual.scrollToIndex(next, { align: 'auto' });
    const row = rowAt(next);
    if (row) choose(row);
    // of a group that was opened just now they are on their way
    else void rowFor(next).then((late) => late && choose(late));
  };
  useHotkeys('down, up', (event) => {
    // where nothing else has the keys, they go to the rows
    if (document.activeElement !== document.body || lines.length === 0) return;
    event.preventDefault();
    scroller.current?.focus();
    goTo(Math.max(0, line >= 0 ? line : indexOfSelected()));
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const current = line >= 0 ? line : indexOfSelected();
    const now = lines.at(current);
    const steps: Record<string, number> = {
      ArrowDown: 1,
      ArrowUp: -1,
      PageDown: 15,
      PageUp: -15,
      Home: -lines.length,
      End: lines.length,
    };
    const step = steps[event.key];
    if (event.shiftKey && event.key.startsWith('Arrow') && current >= 0) {
      event.preventDefault();
      setBlock((before) => (before ?? CellBlock.at(current, 0)).grown(event.key, lines.length, columns.length));
    } else if ((event.ctrlKey || event.metaKey) && event.key === 'c' && block && !window.getSelection()?.toString()) {
      event.preventDefault();
      void block.text(columns, rowFor).then((text) => navigator.clipboard?.writeText(text));
    } else if (event.key === 'Escape' && block) {
      event.stopPropagation();
      setBlock(null);
    } else if (step !== undefined) {
      event.preventDefault();
      setBlock(null);
      goTo(Math.max(0, Math.min(lines.length - 1, Math.max(current, step > 0 ? -1 : 0) + step)));
    } else if (now?.kind === 'group' && (event.key === 'Enter' || event.key === ' ')) {
      event.preventDefault();
      toggleGroup(now.key);
    } else if (now?.kind === 'group' && (event.key === 'ArrowRight' || event.key === 'ArrowLeft')) {
      event.preventDefault();
      toggleGroup(now.key, event.key === 'ArrowRight');
    } else if (event.key === 'm' && !event.ctrlKey && !event.metaKey) {
      const row = rowAt(current);
      if (row) toggleMark(row.id);
    } else if (event.key === 'Enter' && current >= 0) {
      const row = rowAt(current);
      if (row) onOpen?.(row);
    }
  };
  const width = columns.reduce((sum, column) => sum + leastWidth(column), 26 + (glyph ? 22 : 0));

  if (first.error) return <ProblemNote problem={first.error} />;
  const waiting = first.isPlaceholderData && (first.fetchStatus === 'paused' || first.failureCount > 0);
  const active = lines.at(line);
  return (
    <>
      {waiting && (
        <p className="waiting" role="status">
          <Glyph name="silent" /> The application does not answer: these rows are those of before. Trying again.
        </p>
      )}
      {group.length > 0 && first.data && (
        <p className="small quiet groupline">
          by{' '}
          {group.map((name) => (fields.find((field) => field.name === name)?.label ?? name).toLowerCase()).join(' › ')}
          <button
            type="button"
            className="textlink"
            onClick={() => setOpen(new Set((first.data.groups ?? []).map(({ path }) => JSON.stringify(path))))}
          >
            Open all
          </button>
          <button type="button" className="textlink" onClick={() => setOpen(new Set())}>
            Close all
          </button>
        </p>
      )}
      <div
        ref={scroller}
        className={`table ${layout?.density === 'close' ? 'close' : ''}`}
        role={group.length > 0 ? 'treegrid' : 'grid'}
        aria-label={label}
        aria-rowcount={lines.length + 1}
        aria-busy={first.isFetching}
        tabIndex={0}
        onKeyDown={onKeyDown}
        data-total={total}
        {...(active?.kind === 'group'
          ? { 'aria-activedescendant': domId(active.key) }
          : selected &&
            items.some(({ index }) => rowAt(index)?.id === selected) && { 'aria-activedescendant': domId(selected) })}
      >
        <TableHead
          columns={columns}
          sort={sort}
          onSort={onSort}
          layout={layout}
          widthOf={widthOf}
          minWidth={width}
          withGlyph={glyph !== undefined}
        />
        {total === 0 && first.data ? (
          <div role="row">
            <div role="gridcell" className="empty">
              {empty}
            </div>
          </div>
        ) : (
          <div className="body" role="rowgroup" style={{ height: virtual.getTotalSize(), minWidth: width }}>
            {items.map(({ index, start }) => {
              const own = lines.at(index);
              const place: CSSProperties = { transform: `translateY(${start - headHeight}px)`, height: rowHeight };
              if (own?.kind === 'group') {
                return (
                  <GroupLine
                    label={groupLabel(fields, group, own.group.path)}
                    key={own.key}
                    line={own}
                    columns={columns}
                    place={place}
                    index={index}
                    active={index === line}
                    withGlyph={glyph !== undefined}
                    onToggle={() => {
                      setLine(index);
                      toggleGroup(own.key);
                    }}
                  />
                );
              }
              const row = rowAt(index);
              return (
                <div
                  key={row ? `${row.id} ${own?.path.join() ?? ''}` : `blank ${index}`}
                  id={row ? domId(row.id) : undefined}
                  role="row"
                  aria-rowindex={index + 2}
                  aria-selected={row !== undefined && row.id === selected}
                  {...(group.length > 0 && { 'aria-level': group.length + 1 })}
                  className={`row ${row?.change ?? ''} ${row && marked.has(row.id) ? 'marked' : ''}`}
                  style={place}
                  onClick={() => {
                    setLine(index);
                    if (row) choose(row);
                  }}
                  onDoubleClick={() => row && onOpen?.(row)}
                >
                  <div role="gridcell" className="cell markcell">
                    {row?.change ? (
                      <span title={row.change}>{marks[row.change]}</span>
                    ) : row && marked.has(row.id) ? (
                      <span title="marked; M takes the mark away">▪</span>
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
                      onMouseDown={(event) =>
                        setBlock((before) =>
                          event.shiftKey ? (before ?? CellBlock.at(index, at)).to(index, at) : CellBlock.at(index, at),
                        )
                      }
                      onMouseEnter={(event) =>
                        event.buttons === 1 && setBlock((before) => before?.to(index, at) ?? null)
                      }
                    >
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

/** The head of a group: its value, how many rows it has, and sums under the columns that add up. */
/** What a group is called: the value of its level as a cell would show it. */
const groupLabel = (fields: ThingField[], by: string[], path: string[]): string =>
  namedText(
    path.at(-1) ?? '',
    fields.find(({ name }) => name === by[path.length - 1]),
  );

function GroupLine({
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
      id={domId(key)}
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
          style={at === 0 ? { ...widthOf(column), paddingLeft: 8 + (level - 1) * 16 } : widthOf(column)}
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
            <span className="quiet" title={`together ${cellText(sums[column.name], column.kind)}`}>
              {cellText(sums[column.name], column.kind)}
            </span>
          ) : null}
        </div>
      ))}
    </div>
  );
}

/** Columns share the room by their width: long ones give way where it is short, short ones stop growing before a row falls apart. */
const widthOf = (field: Column): CSSProperties =>
  field.fixed
    ? { width: field.width, flex: 'none' }
    : {
        width: field.width,
        minWidth: leastWidth(field),
        flexShrink: 1,
        flexGrow: field.width,
        ...(field.width <= 160 && { maxWidth: field.width * 1.6 }),
      };
const leastWidth = ({ width, fixed }: Column) =>
  fixed ? width : width > 160 ? Math.max(140, Math.round(width * 0.4)) : Math.round(width * 0.94);

const domId = (id: string) => `row-${id.replace(/[^A-Za-z0-9]/g, '_')}`;

/** The text of a cell; with a comparison on, the former value stands before it. */
export function CellText({ row, field }: { row: ThingRow; field: ThingField }) {
  const text = fieldText(row[field.name], field);
  // a change has a field of this name itself
  const before =
    row.change !== undefined && row.before && typeof row.before === 'object' && field.name in row.before
      ? cellText(row.before[field.name], field.kind)
      : null;
  const title =
    field.kind === 'date' || field.isDay
      ? String(row[field.name] ?? '')
      : before === null
        ? text
        : `${before || 'nothing'} → ${text || 'nothing'}`;
  return (
    <span title={title}>
      {before !== null && <span className="was">{before || '·'} → </span>}
      {text}
    </span>
  );
}

function thingQuery(thing: ThingName, request: ThingRequest) {
  const path = thingPath(thing, request);
  return {
    queryKey: ['thing', path],
    queryFn: ({ signal }: { signal: AbortSignal }) => call<ThingPage>(path, { signal }),
    placeholderData: keepPreviousData,
    retry: retryUnlessRefused,
  };
}

const retryUnlessRefused = (count: number, error: ApiProblem) => error.status === 0 && count < 20;

/** The page a table begins with, and the counts beside it: one request for both, however many ask. */
export function useFirstPage(
  thing: ThingName,
  request: ThingRequest,
  sort: string,
  count: string[] = none,
  enabled = true,
) {
  return useThingPage(thing, { ...request, sort, page: 1, size: pageSize, count }, enabled);
}

/** Sends the question for a first page at once, before the page is drawn anew for it. */
export function useAskAhead() {
  const client = useQueryClient();
  return (thing: ThingName, request: ThingRequest, sort: string, count: string[] = none) =>
    void client.prefetchQuery(thingQuery(thing, { ...request, sort, page: 1, size: pageSize, count }));
}

/** One page of a thing. */
export function useThingPage(thing: ThingName, request: ThingRequest, enabled = true) {
  return useQuery<ThingPage, ApiProblem>({ ...thingQuery(thing, request), enabled });
}
