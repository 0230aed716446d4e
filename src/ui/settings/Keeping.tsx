'use client';

import { useQuery } from '@tanstack/react-query';
import { retentionSchema, type Retention } from '@/core/keeping/retention';
import { formatBytes } from '@/core/values/quantity';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { ProblemNote } from '../components/ProblemNote';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';

interface KeepingState {
  retention: Retention;
  sizes: { part: string; octets: number }[];
  growth: { survey: number; octets: number }[];
}

const partWords: Record<string, string> = {
  facts: 'what equipment is, survey by survey',
  visits: 'what became of each address',
  readings: 'readings and states over time',
  acts: 'what was done and written',
  jobs: 'jobs',
  collectors: 'what collectors delivered',
  talk: 'who talks to whom, as captures and exporters told',
  other: 'everything else',
  free: 'room that nothing lies in',
  copies: 'copies before changes of structure and before restores',
};

/** What is kept, for how long, and what it takes up. */
export function Keeping() {
  const { data, error } = useQuery<KeepingState, ApiProblem>({
    queryKey: ['keeping'],
    queryFn: () => call<KeepingState>('keeping'),
  });
  if (error) return <ProblemNote problem={error} />;
  if (!data)
    return (
      <p className="quiet" style={{ padding: '0 16px' }} aria-busy="true">
        reading…
      </p>
    );
  const total = data.sizes.reduce((sum, { octets }) => sum + octets, 0);
  return (
    <div className="blocks">
      <section>
        <h2 className="sub">What the data take up: {formatBytes(total)}</h2>
        <table className="plain" aria-label="What the data take up" style={{ marginTop: 8 }}>
          <thead>
            <tr>
              <th>What</th>
              <th style={{ textAlign: 'right' }}>Size</th>
            </tr>
          </thead>
          <tbody>
            {data.sizes.map(({ part, octets }) => (
              <tr key={part}>
                <td>{partWords[part] ?? part}</td>
                <td style={{ textAlign: 'right' }}>{formatBytes(octets)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="quiet small" style={{ paddingTop: 8 }}>
          {growthWords(data.growth)}
        </p>
      </section>
      <section>
        <RetentionForm retention={data.retention} />
      </section>
    </div>
  );
}

/** What a survey adds, as far as it was seen. */
function growthWords(growth: KeepingState['growth']): string {
  const [first, last, before] = [growth[0], growth.at(-1), growth.at(-2)];
  if (!first || !last || !before) return 'How much a survey adds is told with the next ones.';
  const each = (last.octets - first.octets) / (growth.length - 1);
  const signed = (octets: number) => (octets < 0 ? `−${formatBytes(-octets)}` : formatBytes(octets));
  return `Survey ${last.survey} added ${signed(last.octets - before.octets)}; on average of ${growth.length} surveys each added ${signed(Math.round(each))}.`;
}

function RetentionForm({ retention }: { retention: Retention }) {
  const written = useWritten();
  const saving = useSavingForm<Retention, unknown>({
    values: retention,
    schema: retentionSchema,
    save: (body) => call('keeping', { method: 'PUT', body }),
    done: async () => {
      await written();
      return { told: 'Kept. What is older goes in the next minutes.' };
    },
  });
  return (
    <SavingForm of={saving} prefix="keeping" style={{ maxWidth: 420 }}>
      <h2 className="sub">How long it is kept</h2>
      <TextInput
        name="surveysDays"
        label="All surveys, days"
        type="number"
        help="then the last of each week of a scope; 0: all of them for ever"
      />
      <TextInput name="readingsDays" label="Every reading, days" type="number" help="then the last of each hour" />
      <TextInput name="hourlyDays" label="Readings of each hour, days" type="number" help="then the last of each day" />
      <TextInput name="actsDays" label="What was done, days" type="number" />
      <TextInput name="jobsDays" label="Jobs that have ended, days" type="number" />
      <TextInput name="deliveriesDays" label="What collectors delivered, days" type="number" />
      <TextInput
        name="emptyVisitsDays"
        label="Addresses without a device, days"
        type="number"
        help="what became of addresses with one stays with its survey"
      />
      <TextInput
        name="talkDailyDays"
        label="Talk day by day, days"
        type="number"
        help="then month by month; in which hours it was heard stays"
      />
      <TextInput
        name="talkDays"
        label="Talk, days"
        type="number"
        help="what is asked once a year is forgotten before it is asked again, if this is shorter"
      />
      <TextInput
        name="copies"
        label="Copies of its own accord"
        type="number"
        help="before changes of structure, before restores"
      />
      <SaveLine of={saving} words="Keep it so" variant="outlined" />
    </SavingForm>
  );
}
