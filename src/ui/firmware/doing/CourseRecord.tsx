'use client';

import { useQuery } from '@tanstack/react-query';
import { format } from 'date-fns';
import { useState } from 'react';
import { Link } from '../../components/Link';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { useMayEdit } from '../../lib/person';
import { ProblemNote } from '../../components/ProblemNote';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { courseWords } from './courseWords';
import { lookAgainMs, partWords, type ToldRecord } from './doingTypes';

const standingWords = {
  portsUp: 'ports up',
  neighbours: 'neighbours heard',
  endpoints: 'endpoints learned',
  peers: 'routing peers',
} as const;

/** All that was done to a device: what it was, what was sent and what it said, what it is. */
export function CourseRecord({ upgrade, id, isUnderWay }: { upgrade: number; id: number; isUnderWay: boolean }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const { data: of, error } = useQuery<ToldRecord, ApiProblem>({
    queryKey: ['upgrades', upgrade, 'courses', id],
    queryFn: () => call<ToldRecord>(`upgrades/${upgrade}/courses/${id}`),
    refetchInterval: isUnderWay ? lookAgainMs : false,
  });
  const bringBack = async () => {
    setProblem(null);
    try {
      const begun = await call<{ id: number }>(`upgrades/${upgrade}/courses/${id}/back`, { method: 'POST' });
      await written();
      view.set({ sel: `upgrade:${begun.id}` });
    } catch (failure) {
      setProblem(failure as ApiProblem);
    }
  };
  if (error) return <ProblemNote problem={error} />;
  if (!of) return null;
  const { course, before, after, lost, requests } = of;
  return (
    <>
      <section className="section">
        <h2>
          {of.device}, {partWords(of)}
        </h2>
        <p>
          <span className="mono">{course.isOnTheWayBack ? course.to : course.from}</span> to{' '}
          <span className="mono">{course.isOnTheWayBack ? course.from : course.to}</span>
        </p>
        <p aria-live="polite">{courseWords(course, of.begunAt !== null)}</p>
        {course.remedy && <p className="quiet">{course.remedy}</p>}
        {mayEdit && (course.ending === 'kept' || course.ending === 'done') && !course.isOnTheWayBack && (
          <p className="small">
            <TextButton onClick={() => void bringBack()}>Bring it back to {course.from}</TextButton>
          </p>
        )}
        {problem && <ProblemNote problem={problem} />}
        <p className="small">
          <Link href={view.href('/estate', { of: 'devices', sel: `device:${of.deviceId}`, where: null })}>
            Its dossier
          </Link>
        </p>
      </section>
      <section className="section">
        <h2>Before and after</h2>
        {before === null ? (
          <p className="quiet">It was not looked at yet.</p>
        ) : (
          <table className="plain">
            <thead>
              <tr>
                <td />
                <th>Before</th>
                <th>After</th>
              </tr>
            </thead>
            <tbody>
              {(Object.keys(standingWords) as (keyof typeof standingWords)[]).map((kind) => (
                <tr key={kind}>
                  <th scope="row">{standingWords[kind]}</th>
                  <td>{before[kind].length}</td>
                  <td>{after ? after[kind].length : <span className="quiet">not yet</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {lost && lost.length > 0 && (
          <ul className="plainlist">
            {lost.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
        {lost?.length === 0 && <p className="small">All that was there is there.</p>}
      </section>
      <section className="section">
        <h2>What was sent</h2>
        {requests.length === 0 && <p className="quiet">Nothing was sent.</p>}
        <ol className="plainlist">
          {requests.map(({ id, at, method, path, body, answer }) => (
            <li key={id}>
              <div className="small">
                <span className="quiet">{format(new Date(at), 'd MMM HH:mm:ss')}</span> {method}{' '}
                <span className="mono">{path}</span>
              </div>
              <pre className="small sentbody">{JSON.stringify(body, null, 1)}</pre>
              <div className="small">{answer === null ? 'nothing was heard of it' : answer}</div>
            </li>
          ))}
        </ol>
      </section>
    </>
  );
}
