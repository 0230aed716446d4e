'use client';

import { useQuery } from '@tanstack/react-query';
import { format } from 'date-fns';
import { useState } from 'react';
import { Panel } from '../../components/Panel';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { call, type ApiProblem } from '../../lib/api';
import { useMayConfigure, useMayEdit, usePerson } from '../../lib/person';
import { useView } from '../../lib/useView';
import { FirmwareViews } from '../FirmwareViews';
import { BeginForm } from './BeginForm';
import { CourseRecord } from './CourseRecord';
import { courseWords } from './courseWords';
import { lookAgainMs, partWords, type ImageSource, type ToldCourse, type ToldUpgrade } from './doingTypes';
import { SourceForm } from './SourceForm';
import { StepLine } from './StepLine';

const isUnderWay = ({ state, underWay }: ToldUpgrade) => state === 'running' || underWay > 0;

/** Upgrades that are done: how far each device is, what was sent to it, and what came of it. */
export function DoingView() {
  const view = useView();
  const [mayEdit, mayConfigure] = [useMayEdit(), useMayConfigure()];
  // whoever comes with a filter wants those upgraded
  const [writing, setWriting] = useState<'begin' | 'source' | null>(view.where && mayEdit ? 'begin' : null);
  const [course, setCourse] = useState<number | null>(null);
  const all = useQuery<ToldUpgrade[], ApiProblem>({
    queryKey: ['upgrades'],
    queryFn: async () => (await call<{ rows: ToldUpgrade[] }>('upgrades')).rows,
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? lookAgainMs : false),
  });
  const source = useQuery({ queryKey: ['image-source'], queryFn: () => call<ImageSource>('image-source') });
  const chosen = Number(/^upgrade:(\d+)$/.exec(view.sel ?? '')?.[1] ?? all.data?.[0]?.id ?? 0);
  const one = useQuery<ToldUpgrade & { courses: ToldCourse[] }, ApiProblem>({
    queryKey: ['upgrades', chosen],
    queryFn: () => call<ToldUpgrade & { courses: ToldCourse[] }>(`upgrades/${chosen}`),
    enabled: chosen > 0,
    refetchInterval: ({ state }) => (state.data && isUnderWay(state.data) ? lookAgainMs : false),
  });
  const rows = all.data ?? [];
  const shown = one.data?.courses.find(({ id }) => id === course) ?? null;
  const isSaid = source.data ? source.data.reachedAs !== '' : true;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite">
            {all.data && `${rows.length} ${rows.length === 1 ? 'upgrade' : 'upgrades'}`}
          </span>
          {mayEdit && isSaid && <TextButton onClick={() => setWriting('begin')}>Begin an upgrade</TextButton>}
          {mayConfigure && <TextButton onClick={() => setWriting('source')}>Where images are fetched</TextButton>}
        </div>
        <FirmwareViews current="doing" />
        <div className={writing !== null || shown ? 'targets doing beside' : 'targets doing'}>
          {all.error && <ProblemNote problem={all.error} />}
          {!isSaid && (
            <p>
              {mayConfigure ? 'Say first ' : 'An administrator says first '}
              from where devices fetch their images.
            </p>
          )}
          {all.data && rows.length === 0 && isSaid && (
            <div className="empty">
              <h2>No upgrade was done yet</h2>
              <p className="quiet">
                Choose what is ready; what it would do is shown before anything is sent.{' '}
                {mayEdit && <TextButton onClick={() => setWriting('begin')}>Begin an upgrade</TextButton>}
              </p>
            </div>
          )}
          {one.data && (
            <Upgrade
              of={one.data}
              mayEdit={mayEdit}
              chosen={course}
              onChoose={(id) => {
                setWriting(null);
                setCourse(id);
              }}
            />
          )}
          {rows.length > 1 && (
            <Others rows={rows} chosen={chosen} onChoose={(id) => view.set({ sel: `upgrade:${id}` })} />
          )}
        </div>
      </main>
      {(writing !== null || shown) && (
        <Panel label={writing === null ? 'Record' : 'Upgrade'}>
          <p className="small">
            <TextButton
              onClick={() => {
                setWriting(null);
                setCourse(null);
              }}
            >
              Close
            </TextButton>
          </p>
          {writing === 'source' && source.data && <SourceForm source={source.data} />}
          {writing === 'begin' && (
            <BeginForm
              where={view.where || 'verdict=ready'}
              onBegun={(id) => {
                setWriting(null);
                view.set({ sel: `upgrade:${id}`, where: null });
              }}
            />
          )}
          {writing === null && shown && one.data && (
            <CourseRecord upgrade={one.data.id} id={shown.id} isUnderWay={isUnderWay(one.data)} />
          )}
        </Panel>
      )}
    </div>
  );
}

function Upgrade({
  of,
  mayEdit,
  chosen,
  onChoose,
}: {
  of: ToldUpgrade & { courses: ToldCourse[] };
  mayEdit: boolean;
  chosen: number | null;
  onChoose: (id: number) => void;
}) {
  const written = useWritten();
  const person = usePerson();
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const act = async (what: 'approve' | 'pause' | 'resume' | 'stop') => {
    setProblem(null);
    try {
      await call(`upgrades/${of.id}/${what}`, { method: 'POST' });
    } catch (error) {
      setProblem(error as ApiProblem);
    }
    await written();
  };
  const { state, name, done, failed, devices, who, at, approvedBy, reason } = of;
  return (
    <section>
      <h2>{name}</h2>
      <p aria-live="polite">
        {state}: {done} of {devices} done{failed > 0 && `, ${failed} not well`}{' '}
        <span className="quiet small">
          {who}, {format(new Date(at), 'd MMM HH:mm')}
          {approvedBy && `; approved by ${approvedBy}`}; {of.atOnce} at a time, stops after {of.stopAfter}
        </span>
      </p>
      {reason && <p>{reason}</p>}
      {problem && <ProblemNote problem={problem} />}
      {mayEdit && (
        <p className="small">
          {state === 'to be approved' &&
            (who === person.name ? (
              <span className="quiet">Another person approves it. </span>
            ) : (
              <TextButton onClick={() => void act('approve')}>Approve and begin</TextButton>
            ))}{' '}
          {state === 'running' && <TextButton onClick={() => void act('pause')}>Hold</TextButton>}{' '}
          {(state === 'paused' || state === 'stopped') && (
            <TextButton onClick={() => void act('resume')}>Let it go on</TextButton>
          )}{' '}
          {['to be approved', 'running', 'paused'].includes(state) && (
            <TextButton onClick={() => void act('stop')}>Stop</TextButton>
          )}
        </p>
      )}
      <table className="plain">
        <thead>
          <tr>
            <th>Device</th>
            <th>What</th>
            <th>From</th>
            <th>To</th>
            <th>How far</th>
            <th>How it stands</th>
          </tr>
        </thead>
        <tbody>
          {of.courses.map((one) => (
            <tr key={one.id} className={one.id === chosen ? 'chosen' : undefined}>
              <td>
                <TextButton aria-expanded={one.id === chosen} onClick={() => onChoose(one.id)}>
                  {one.device}
                </TextButton>
              </td>
              <td>{partWords(one)}</td>
              <td className="mono">{one.course.isOnTheWayBack ? one.course.to : one.course.from}</td>
              <td className="mono">{one.course.isOnTheWayBack ? one.course.from : one.course.to}</td>
              <td>
                <StepLine course={one.course} hasBegun={one.begunAt !== null} />
              </td>
              <td className="small">{courseWords(one.course, one.begunAt !== null)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Others({ rows, chosen, onChoose }: { rows: ToldUpgrade[]; chosen: number; onChoose: (id: number) => void }) {
  return (
    <section style={{ marginTop: 20 }}>
      <h2>All upgrades</h2>
      <table className="plain">
        <thead>
          <tr>
            <th>Name</th>
            <th>How it stands</th>
            <th>Done</th>
            <th>Not well</th>
            <th>Who, when</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((one) => (
            <tr key={one.id} className={one.id === chosen ? 'chosen' : undefined}>
              <td>
                <TextButton aria-current={one.id === chosen} onClick={() => onChoose(one.id)}>
                  {one.name}
                </TextButton>
              </td>
              <td>{one.state}</td>
              <td>
                {one.done} of {one.devices}
              </td>
              <td>{one.failed}</td>
              <td className="small">
                {one.who}, {format(new Date(one.at), 'd MMM yyyy HH:mm')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
