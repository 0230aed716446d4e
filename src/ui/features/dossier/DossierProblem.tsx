import type { ApiProblem } from '../../lib/api';

/** Why there is no dossier, and where it may be. */
export function DossierProblem({ problem }: { problem: ApiProblem }) {
  return (
    <p role="alert">
      {problem.detail}
      {problem.status !== 0 && ' It may have come later, or be gone: look at another survey.'}
    </p>
  );
}
