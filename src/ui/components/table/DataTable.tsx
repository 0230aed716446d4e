'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type CSSProperties, type KeyboardEvent, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { ThingName } from '@/core/things/things';
import { thingPath, type ThingRequest, type ThingRow } from '../../lib/api';
import { namedText } from '../../lib/format';
import { useFieldsOf } from '../../lib/ownFields';
import { Glyph } from '../Glyph';
import { TextButton } from '../TextButton';
import { ProblemNote } from '../ProblemNote';
import { CellBlock } from './cellBlock';
import { leastWidth, widerForComparison, widthOf } from './columnWidths';
import { GroupLine } from './GroupLine';
import { GroupTools } from './GroupTools';
import { rowHeights, type Column, type TableLayout } from './layout';
import { lineId } from './lineId';
import { groupKey, Lines } from './lines';
import { useMarkedRows } from './markedRows';
import { RowLine, type RowDrawing } from './RowLine';
import { TableHead } from './TableHead';
import { actOfKey } from './tableKeys';
import { useFirstPage } from './thingPages';
import { useTableLine } from './useTableLine';
import { useTableRows } from './useTableRows';

/** The heads stay at the top of what scrolls, above the rows. */
const headHeight = 27;

const none: string[] = [];

interface DataTableProps extends RowDrawing {
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
  empty: ReactNode;
  label: string;
}

/** A virtualised grid over one thing of the API: only the pages in sight are asked for. Its keys stand in `tableKeys.ts`. */
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
  const fields = useFieldsOf()(thing);
  const scroller = useRef<HTMLDivElement>(null);
  const rowHeight = rowHeights[layout?.density ?? 'roomy'];
  const columns = useMemo(() => (request.against ? widerForComparison(asked) : asked), [asked, request.against]);
  const isGrouped = group.length > 0;
  const first = useFirstPage(thing, { ...request, ...(isGrouped && { group }) }, sort, count);
  const total = first.data?.total ?? 0;
  const groups = first.data?.groups;
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const lines = useMemo(
    () => new Lines(isGrouped ? (groups ?? []) : null, group.length, total, (key) => open.has(key)),
    [isGrouped, group.length, groups, total, open],
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
  const { rowAt, rowFor } = useTableRows({ thing, request, sort, group }, first, lines, items);
  const { marked, toggle: toggleMark, clear } = useMarkedRows(thing);
  const [block, setBlock] = useState<CellBlock | null>(null);
  const loaded = isGrouped ? [] : (first.data?.rows ?? []);
  const { line, setLine, current, goTo, choose } = useTableLine({
    selected,
    onSelect,
    indexOfLoaded: loaded.findIndex(({ id }) => id === selected),
    inSight: items,
    rowAt,
    rowFor,
    scrollTo: (index) => virtual.scrollToIndex(index, { align: 'auto' }),
    order: `${request.where ?? ''} ${sort} ${group.join()}`,
    onOtherOrder: () => setBlock(null),
  });
  const toggleGroup = (key: string, wanted?: boolean) =>
    setOpen((before) => {
      const next = new Set(before);
      if (wanted ?? !before.has(key)) next.add(key);
      else next.delete(key);
      return next;
    });

  useHotkeys('down, up', (event) => {
    // where nothing else has the keys, they go to the rows
    const nobody = document.activeElement === document.body || document.activeElement?.tagName === 'MAIN';
    if (!nobody || lines.length === 0) return;
    event.preventDefault();
    scroller.current?.focus();
    goTo(Math.max(0, current()));
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const at = current();
    const now = lines.at(at);
    const hasBlock = block !== null && (event.key === 'Escape' || !window.getSelection()?.toString());
    const done = actOfKey(event, { onGroup: now?.kind === 'group', onLine: at >= 0, hasBlock, lines: lines.length });
    if (!done && event.key === 'Enter' && event.target === event.currentTarget && lines.length > 0) {
      // whoever comes from the filter means the first
      event.preventDefault();
      return goTo(0);
    }
    if (!done) return;
    if (done.act === 'leave block') event.stopPropagation();
    else if (done.act !== 'mark' && done.act !== 'open') event.preventDefault();
    const row = rowAt(at);
    switch (done.act) {
      case 'grow block':
        setBlock((before) => (before ?? CellBlock.at(at, 0)).grown(done.key, lines.length, columns.length));
        break;
      case 'copy':
        void block?.text(columns, rowFor).then((text) => navigator.clipboard?.writeText(text));
        break;
      case 'leave block':
        setBlock(null);
        break;
      case 'go':
        setBlock(null);
        goTo(Math.max(0, Math.min(lines.length - 1, Math.max(at, done.by > 0 ? -1 : 0) + done.by)));
        break;
      case 'toggle group':
        if (now?.kind === 'group') toggleGroup(now.key, done.open);
        break;
      case 'mark':
        if (row) toggleMark(row.id);
        break;
      case 'open':
        if (row) onOpen?.(row);
        break;
    }
  };

  if (first.error) return <ProblemNote problem={first.error} />;
  const width = columns.reduce((sum, column) => sum + leastWidth(column), 26 + (glyph ? 22 : 0));
  const waiting = first.isPlaceholderData && (first.fetchStatus === 'paused' || first.failureCount > 0);
  const active = lines.at(line);
  const activeId =
    active?.kind === 'group'
      ? lineId(active.key)
      : selected && items.some(({ index }) => rowAt(index)?.id === selected)
        ? lineId(selected)
        : null;
  const labelOf = (name: string) => fields.find((field) => field.name === name)?.label ?? name;
  return (
    <>
      {waiting && (
        <p className="waiting" role="status">
          <Glyph name="silent" /> The application does not answer: these rows are those of before. Trying again.
        </p>
      )}
      {isGrouped && first.data && (
        <GroupTools
          levels={group.map(labelOf)}
          onOpenAll={() => setOpen(new Set((groups ?? []).map(({ path }) => groupKey(path))))}
          onCloseAll={() => setOpen(new Set())}
        />
      )}
      <div
        ref={scroller}
        className={`table ${layout?.density === 'close' ? 'close' : ''}`}
        role={isGrouped ? 'treegrid' : 'grid'}
        aria-label={label}
        aria-rowcount={lines.length + 1}
        aria-busy={first.isFetching}
        tabIndex={0}
        onKeyDown={onKeyDown}
        data-total={total}
        // the question its rows answer, none while they are still those of another
        data-answers={first.isPlaceholderData || !first.data ? undefined : thingPath(thing, request)}
        {...(activeId && { 'aria-activedescendant': activeId })}
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
              if (own?.kind === 'group')
                return (
                  <GroupLine
                    key={own.key}
                    line={own}
                    // the value of its level as a cell would show it
                    label={namedText(
                      own.group.path.at(-1) ?? '',
                      fields.find(({ name }) => name === group[own.level - 1]),
                    )}
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
              const row = rowAt(index);
              return (
                <RowLine
                  key={row ? `${row.id} ${own?.path.join() ?? ''}` : `blank ${index}`}
                  row={row}
                  index={index}
                  {...(isGrouped && { level: group.length + 1 })}
                  columns={columns}
                  place={place}
                  isSelected={row !== undefined && row.id === selected}
                  isMarked={row !== undefined && marked.has(row.id)}
                  block={block}
                  {...(glyph && { glyph })}
                  {...(cell && { cell })}
                  onChoose={() => {
                    setLine(index);
                    if (row) choose(row);
                  }}
                  onOpen={() => row && onOpen?.(row)}
                  onCell={(at, how) =>
                    setBlock((before) => {
                      if (how === 'begin') return CellBlock.at(index, at);
                      if (how === 'reach') return (before ?? CellBlock.at(index, at)).to(index, at);
                      return before?.to(index, at) ?? null;
                    })
                  }
                />
              );
            })}
          </div>
        )}
      </div>
      {marked.size > 0 && (
        <p className="marksnote small" role="status">
          {marked.size === 1 ? '1 row is marked' : `${marked.size.toLocaleString('en')} rows are marked`}{' '}
          <TextButton onClick={clear}>Unmark all</TextButton>
        </p>
      )}
    </>
  );
}
