import type { KeyboardEvent } from 'react';

/** What a key does in a table. */
export type TableAct =
  | { act: 'go'; by: number }
  | { act: 'grow block'; key: string }
  | { act: 'copy' }
  | { act: 'leave block' }
  | { act: 'toggle group'; open?: boolean }
  | { act: 'mark' }
  | { act: 'open' };

const pageOfLines = 15;

type PressedKey = Pick<KeyboardEvent, 'key' | 'shiftKey' | 'ctrlKey' | 'metaKey'>;

/** Arrow keys go from line to line, Enter opens, Right and Left open and close groups, M marks, Shift and arrows choose a block of cells, Ctrl+C copies it. Null for keys of others. */
export function actOfKey(
  { key, shiftKey, ctrlKey, metaKey }: PressedKey,
  at: { onGroup: boolean; onLine: boolean; hasBlock: boolean; lines: number },
): TableAct | null {
  const command = ctrlKey || metaKey;
  if (shiftKey && key.startsWith('Arrow') && at.onLine) return { act: 'grow block', key };
  if (command && key === 'c' && at.hasBlock) return { act: 'copy' };
  if (key === 'Escape' && at.hasBlock) return { act: 'leave block' };
  const steps: Record<string, number> = {
    ArrowDown: 1,
    ArrowUp: -1,
    PageDown: pageOfLines,
    PageUp: -pageOfLines,
    Home: -at.lines,
    End: at.lines,
  };
  const by = steps[key];
  if (by !== undefined) return { act: 'go', by };
  if (at.onGroup) {
    if (key === 'Enter' || key === ' ') return { act: 'toggle group' };
    if (key === 'ArrowRight' || key === 'ArrowLeft') return { act: 'toggle group', open: key === 'ArrowRight' };
  }
  if (key === 'm' && !command) return { act: 'mark' };
  return key === 'Enter' && at.onLine ? { act: 'open' } : null;
}
