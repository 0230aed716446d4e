'use client';

import { useEffect, useRef, useState } from 'react';
import type { ThingRow } from '../../lib/api';

interface TableLineSetup {
  selected: string | null;
  onSelect: (row: ThingRow) => void;
  /** where the selected row stands among those of the first page; -1 where it does not */
  indexOfLoaded: number;
  inSight: readonly { index: number }[];
  rowAt: (index: number) => ThingRow | undefined;
  rowFor: (index: number) => Promise<ThingRow | undefined>;
  scrollTo: (index: number) => void;
  /** changes when other rows are shown, or in another order */
  order: string;
  onOtherOrder: () => void;
}

/** The line that keys go from: a head of a group is no row that could be selected, and a selection comes back through the address of the page a moment late. */
export function useTableLine({
  selected,
  onSelect,
  indexOfLoaded,
  inSight,
  rowAt,
  rowFor,
  scrollTo,
  order,
  onOtherOrder,
}: TableLineSetup) {
  const [line, setLine] = useState(-1);
  const awaited = useRef<string | null>(null);
  const indexOfSelected = () => inSight.find(({ index }) => rowAt(index)?.id === selected)?.index ?? indexOfLoaded;
  useEffect(() => {
    if (awaited.current !== null && awaited.current !== selected) return;
    awaited.current = null;
    const index = indexOfSelected();
    if (index >= 0) setLine(index);
    if (indexOfLoaded >= 0) scrollTo(indexOfLoaded);
    // only when another row is chosen, not at every new page
    // oxlint-disable-next-line react/exhaustive-deps
  }, [selected, indexOfLoaded >= 0]);
  useEffect(() => {
    // the line is another one
    setLine(-1);
    onOtherOrder();
    // oxlint-disable-next-line react/exhaustive-deps
  }, [order]);
  const choose = (row: ThingRow) => {
    if (row.id === selected) return;
    awaited.current = row.id;
    onSelect(row);
  };
  return {
    line,
    setLine,
    current: () => (line >= 0 ? line : indexOfSelected()),
    choose,
    goTo: (next: number) => {
      setLine(next);
      scrollTo(next);
      const row = rowAt(next);
      if (row) choose(row);
      // of a group that was opened just now they are on their way
      else void rowFor(next).then((late) => late && choose(late));
    },
  };
}
