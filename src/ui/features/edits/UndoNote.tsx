'use client';

import { TextButton } from '../../components/TextButton';
import { useUndo } from './useUndo';

/** What was just done, and the way back. */
export interface Done {
  words: string;
  /** the edit it is, where it can be taken back */
  edit?: number | undefined;
}

export function UndoNote({ done, onDone }: { done: Done | null; onDone: (done: Done | null) => void }) {
  const undo = useUndo();
  if (!done) return null;
  const { words, edit } = done;
  return (
    <p role="status" className="small">
      {words}{' '}
      {edit !== undefined && (
        <TextButton onClick={() => void undo(edit).then((told) => onDone({ words: told }))}>Undo</TextButton>
      )}
    </p>
  );
}
