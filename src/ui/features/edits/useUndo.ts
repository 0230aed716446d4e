'use client';

import { call, type ApiProblem } from '../../lib/api';
import { useWritten } from './useWritten';

/** Takes an edit back. @returns what became of it, in words */
export function useUndo(): (edit: number) => Promise<string> {
  const written = useWritten();
  return async (edit) => {
    try {
      const answer = await call<{ back: number; stay: number; why: string[] }>(`edits/${edit}/undo`, {
        method: 'POST',
        body: {},
      });
      await written();
      return undoneWords(answer);
    } catch (error) {
      await written();
      return (error as ApiProblem).words;
    }
  };
}

function undoneWords({ back, stay, why }: { back: number; stay: number; why: string[] }): string {
  const others = stay - why.length;
  const reasons = [...(others > 0 ? [`${others} stay, since somebody wrote over them`] : []), ...why];
  return `${back} taken back${reasons.length > 0 ? `, ${reasons.join('; ')}` : ''}.`;
}
