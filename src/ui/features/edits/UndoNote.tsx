'use client';

import { useEffect, useRef, useState } from 'react';
import { TextButton } from '../../components/TextButton';
import { useUndo } from './useUndo';

/** What was just done, and the way back. */
export interface Done {
  words: string;
  /** the edit it is, where it can be taken back */
  edit?: number | undefined;
}

const mostEarlier = 9;

/** What was done here since one came, the last first: each has its own way back, whatever was done after it. */
export function UndoNote({ done, onDone }: { done: Done | null; onDone: (done: Done | null) => void }) {
  const undo = useUndo();
  const [earlier, setEarlier] = useState<Done[]>([]);
  const before = useRef<Done | null>(null);
  const takenBack = useRef(new Set<number>());
  useEffect(() => {
    const last = before.current;
    before.current = done;
    if (!last || last === done || last.edit === undefined || takenBack.current.has(last.edit)) return;
    setEarlier((list) => [last, ...list].slice(0, mostEarlier));
  }, [done]);
  const takeBack = async (edit: number) => {
    takenBack.current.add(edit);
    const words = await undo(edit);
    setEarlier((list) => list.filter((one) => one.edit !== edit));
    onDone({ words });
  };
  if (!done) return null;
  return (
    <>
      {[done, ...earlier].map(({ words, edit }, at) => (
        <p key={edit ?? `told ${at}`} role="status" className="small">
          {words} {edit !== undefined && <TextButton onClick={() => void takeBack(edit)}>Undo</TextButton>}
        </p>
      ))}
    </>
  );
}
