'use client';

import { useView } from '../lib/useView';
import type { ApiProblem } from '../lib/api';
import { TextButton } from './TextButton';

/** What went wrong, in words, and the way out where it lies in the address of the page. */
export function ProblemNote({ problem }: { problem: ApiProblem }) {
  const view = useView();
  const wrong = new Set(problem.errors.map(({ path }) => path));
  return (
    <div className="empty" role="alert">
      <h2>{problem.title}</h2>
      <p className="quiet">
        {problem.words}{' '}
        {(wrong.has('survey') || wrong.has('against')) && (
          <TextButton onClick={() => view.set({ survey: null, against: null })}>View the latest</TextButton>
        )}
        {wrong.has('sort') && <TextButton onClick={() => view.set({ sort: null })}>Sort as usual</TextButton>}
        {wrong.has('where') && <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>}
      </p>
    </div>
  );
}
