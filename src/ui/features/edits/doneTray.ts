import { useSyncExternalStore } from 'react';

/** Something that was done where nothing is left to tell of it, and the way back. */
export interface DoneElsewhere {
  key: number;
  words: string;
  /** takes it back; absent once that is done. @returns what became of it */
  undo?: () => Promise<string>;
}

const most = 5;
let list: readonly DoneElsewhere[] = [];
let next = 1;
const listeners = new Set<() => void>();

function change(to: readonly DoneElsewhere[]): void {
  list = to;
  for (const listener of listeners) listener();
}

/** Tells what was done at the foot of the frame, until somebody puts it away. */
export function tellDone(words: string, undo?: () => Promise<string>): void {
  change([{ key: next++, words, ...(undo && { undo }) }, ...list].slice(0, most));
}

export const putAway = (key: number): void => change(list.filter((one) => one.key !== key));

export async function takeBack({ key, undo }: DoneElsewhere): Promise<void> {
  if (!undo) return;
  const words = await undo();
  change(list.map((one) => (one.key === key ? { key, words } : one)));
}

const none: readonly DoneElsewhere[] = [];

export const useDoneElsewhere = (): readonly DoneElsewhere[] =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => list,
    () => none,
  );
