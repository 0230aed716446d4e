'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { targetScope, type ReleaseTarget } from '@/core/firmware/target';
import { term } from '@/core/things/near';
import { Glyph, verdictGlyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { Panel } from '../../components/Panel';
import { PlainSelect } from '../../components/PlainSelect';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { call, type ApiProblem } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { FirmwareViews } from '../FirmwareViews';
import { DraftChanges } from './DraftChanges';
import { TargetForm } from './TargetForm';
import { placeOf, type StandingTarget } from './targetTypes';

interface Standing {
  rows: StandingTarget[];
  version: number;
}

/** What should run: each target with why, since when, how those it is for stand, and what is wrong with itself. */
export function TargetsView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const [draft, setDraft] = useState('');
  const [writing, setWriting] = useState<ReleaseTarget | 'new' | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const { data, error } = useQuery<Standing, ApiProblem>({
    queryKey: ['target-standing', view.survey, draft],
    queryFn: ({ signal }) =>
      call<Standing>(
        `target-standing?${new URLSearchParams({ ...(view.survey && { survey: view.survey }), ...(draft && { draft }) }).toString()}`,
        { signal },
      ),
  });
  const drafts = useQuery({
    queryKey: ['target-drafts'],
    queryFn: async () => (await call<{ rows: { name: string; targets: number }[] }>('target-drafts')).rows,
  });
  const act = async (words: string, asked: Promise<{ edit?: number }>) => {
    try {
      const { edit } = await asked;
      setDone({ words, edit });
    } catch (problem) {
      setDone({ words: (problem as ApiProblem).words });
    }
    await written();
  };
  const takeAway = (target: StandingTarget) =>
    act(
      `The target of ${target.family} is taken away.`,
      call('targets', { method: 'PUT', body: { ...placeOf(target), release: null }, seen: data?.version ?? null }),
    );
  const draftPath = `target-drafts/${encodeURIComponent(draft)}`;
  const apply = async () => {
    await act(`${draft} is in force.`, call(`${draftPath}/apply`, { method: 'POST' }));
    setDraft('');
  };
  const giveUp = async () => {
    await act(`${draft} is given up.`, call(draftPath, { method: 'DELETE' }));
    setDraft('');
  };
  const rows = data?.rows ?? [];
  const wrong = rows.filter(({ findings }) => findings.length > 0).length;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite">
            {data && `${rows.length} ${rows.length === 1 ? 'target' : 'targets'}, ${wrong} to look at`}
          </span>
          <label className="small">
            shown{' '}
            <PlainSelect aria-label="Which targets" value={draft} onChange={({ target }) => setDraft(target.value)}>
              <option value="">in force</option>
              {(drafts.data ?? []).map(({ name }) => (
                <option key={name} value={name}>
                  draft {name}
                </option>
              ))}
            </PlainSelect>
          </label>
          {mayEdit && <TextButton onClick={() => setWriting('new')}>Set a target</TextButton>}
        </div>
        <FirmwareViews current="targets" />
        <div className="targets">
          <UndoNote done={done} onDone={setDone} />
          {error && <ProblemNote problem={error} />}
          {data && rows.length === 0 && (
            <div className="empty">
              <h2>No target is set yet</h2>
              <p className="quiet">
                Choose the release a family should run; every device of it is then judged.{' '}
                {mayEdit && <TextButton onClick={() => setWriting('new')}>Set a target</TextButton>}
              </p>
            </div>
          )}
          {rows.length > 0 && (
            <table className="plain">
              <thead>
                <tr>
                  <th>What</th>
                  <th>Should run</th>
                  <th>For</th>
                  <th>How they stand</th>
                  <th>Wrong with the target</th>
                  <th>Why, since when</th>
                  {mayEdit && <td />}
                </tr>
              </thead>
              <tbody>
                {rows.map((target) => (
                  <TargetRow
                    key={target.key}
                    target={target}
                    mayEdit={mayEdit}
                    onChange={() => setWriting(target)}
                    onTakeAway={() => void takeAway(target)}
                  />
                ))}
              </tbody>
            </table>
          )}
          {draft && (
            <DraftChanges name={draft} mayEdit={mayEdit} onApply={() => void apply()} onGiveUp={() => void giveUp()} />
          )}
        </div>
      </main>
      {writing && (
        <Panel label="Target">
          <TargetForm
            key={writing === 'new' ? `new ${draft}` : JSON.stringify(placeOf(writing))}
            editing={writing === 'new' ? null : writing}
            draft={draft}
            version={data?.version ?? null}
            onDone={(words, edit) => {
              setWriting(null);
              if (words) setDone({ words, edit });
            }}
          />
        </Panel>
      )}
    </div>
  );
}

function TargetRow({
  target,
  mayEdit,
  onChange,
  onTakeAway,
}: {
  target: StandingTarget;
  mayEdit: boolean;
  onChange: () => void;
  onTakeAway: () => void;
}) {
  const view = useView();
  const { vendor, family, component, release, counts, total, findings, why, setBy, setAt, reviewOn, stages } = target;
  const called = `${family.startsWith(vendor) ? family : `${vendor} ${family}`}${component === 'system' ? '' : `, ${component}`}`;
  const scope = targetScope(target);
  const where = `${term('family', family)} ${term('component', component)} ${term('target', release)}${scope ? ` ${term('targetFor', scope)}` : ''}`;
  return (
    <tr>
      <td>{called}</td>
      <td className="mono">{release}</td>
      <td>{scope || <span className="quiet">all of it</span>}</td>
      <td>
        {total === 0 ? (
          <span className="quiet">nobody has it</span>
        ) : (
          counts
            .filter(({ count }) => count > 0)
            .map(({ verdict, count }) => (
              <span key={verdict} className="standing">
                <Glyph name={verdictGlyph(verdict)} word={verdict} />{' '}
                <Link
                  href={view.href('/firmware', { of: null, where: `${where} ${term('verdict', verdict)}`, sel: null })}
                >
                  {count} {verdict}
                </Link>
              </span>
            ))
        )}
      </td>
      <td>
        {findings.length > 0 ? (
          <>
            <Glyph name="fault" word="look at it" /> {findings.join(', ')}
          </>
        ) : (
          <span className="quiet">nothing</span>
        )}
      </td>
      <td className="small">
        {why && <div>{why}</div>}
        <div className="quiet">
          {setBy}, {setAt.slice(0, 10)}
          {reviewOn && `; again on ${reviewOn}`}
        </div>
        {stages.map(({ name, where: who, days }) => (
          <div key={name} className="quiet">
            {name}: {who}, {days} days
          </div>
        ))}
      </td>
      {mayEdit && (
        <td style={{ whiteSpace: 'nowrap' }}>
          <TextButton aria-label={`Change the target of ${called}${scope && ` ${scope}`}`} onClick={onChange}>
            Change
          </TextButton>{' '}
          ·{' '}
          <TextButton aria-label={`Take away the target of ${called}${scope && ` ${scope}`}`} onClick={onTakeAway}>
            Take away
          </TextButton>
        </td>
      )}
    </tr>
  );
}
