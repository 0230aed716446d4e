'use client';

import { useQuery } from '@tanstack/react-query';
import { backupPlanSchema, type BackupPlan } from '@/core/backup/backupPlan';
import { formatBytes } from '@/core/values/quantity';
import { CheckInput } from '../components/form/CheckInput';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { ProblemNote } from '../components/ProblemNote';
import { TextButton } from '../components/TextButton';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';
import { ago, moment } from '../lib/format';
import { useTold } from './useTold';

interface BackupState {
  rows: { name: string; madeAt: string; octets: number }[];
  plan: BackupPlan;
  last: { jobId: number; state: string; error: string | null; endedAt: string | null } | null;
  octets: number;
}

const isUnderWay = (state: BackupState | undefined) =>
  state?.last?.state === 'queued' || state?.last?.state === 'running';

/** Copies of the data: which there are, and when they are made. */
export function Backups() {
  const { data, error, refetch } = useQuery<BackupState, ApiProblem>({
    queryKey: ['backups'],
    queryFn: () => call<BackupState>('backups'),
    refetchInterval: ({ state }) => (isUnderWay(state.data) ? 700 : 30_000),
  });
  const { told, tell } = useTold();
  const make = () =>
    tell(async () => {
      await call('backups', { method: 'POST' });
      await refetch();
      return '';
    });
  if (error) return <ProblemNote problem={error} />;
  if (!data) return null;
  const [newest] = data.rows;
  return (
    <div className="blocks">
      <section>
        <p className="quiet small">
          The data have {formatBytes(data.octets)}. A copy is made while they are in use, opened, and looked at as a
          whole. The key of stored secrets is in none of them: keep its file apart.
        </p>
        {data.last?.state === 'failed' && (
          <p className="bad small" role="alert" style={{ paddingTop: 8 }}>
            The last copy failed{data.last.endedAt ? `, ${ago(data.last.endedAt)}` : ''}: {data.last.error}
          </p>
        )}
        <p style={{ padding: '10px 0' }}>
          {isUnderWay(data) ? (
            <span role="status">It is being copied…</span>
          ) : (
            <TextButton onClick={() => void make()}>Copy the data now</TextButton>
          )}{' '}
          {told}
        </p>
        {newest ? (
          <table className="plain" aria-label="Copies of the data">
            <thead>
              <tr>
                <th>Made</th>
                <th>Age</th>
                <th>Size</th>
                <th>File, in the folder “backups” of the data</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map(({ name, madeAt, octets }) => (
                <tr key={name}>
                  <td>{moment(madeAt)}</td>
                  <td>{ago(madeAt)}</td>
                  <td>{formatBytes(octets)}</td>
                  <td className="mono">{name}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <p className="quiet">There is no copy yet.</p>
        )}
        <p className="quiet small" style={{ paddingTop: 10 }}>
          To put one in the place of the data: <span className="mono">bolide restore FILE --data DIR</span>
        </p>
      </section>
      <section>
        <PlanForm plan={data.plan} />
      </section>
    </div>
  );
}

function PlanForm({ plan }: { plan: BackupPlan }) {
  const written = useWritten();
  const saving = useSavingForm<BackupPlan, unknown>({
    values: plan,
    schema: backupPlanSchema,
    save: (body) => call('backups/plan', { method: 'PUT', body }),
    done: async () => {
      await written();
      return { told: 'Kept.' };
    },
  });
  return (
    <SavingForm of={saving} prefix="backup" style={{ maxWidth: 420 }}>
      <h2 className="sub">By the clock</h2>
      <CheckInput name="on" label="Copy the data each day" />
      <TextInput name="at" label="At" help="by the clock of the machine; made up for if nobody was there" />
      <TextInput name="keep" label="Copies kept" type="number" help="the oldest go" />
      <SaveLine of={saving} words="Keep this" variant="outlined" />
    </SavingForm>
  );
}
