'use client';

import { useView } from '../lib/useView';
import type { ApiProblem } from '../lib/api';

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
          <button type="button" className="textlink" onClick={() => view.set({ survey: null, against: null })}>
            View the latest
          </button>
        )}
        {wrong.has('sort') && (
          <button type="button" className="textlink" onClick={() => view.set({ sort: null })}>
            Sort as usual
          </button>
        )}
        {wrong.has('where') && (
          <button type="button" className="textlink" onClick={() => view.set({ where: null })}>
            Empty the filter
          </button>
        )}
      </p>
    </div>
  );
}
