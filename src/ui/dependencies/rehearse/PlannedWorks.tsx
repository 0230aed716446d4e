'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { workSchema, type Work, type WorkState } from '@/core/works/work';
import { MomentInput } from '../../components/form/MomentInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { call, type ApiProblem } from '../../lib/api';
import { moment } from '../../lib/format';
import { useMayEdit, usePerson } from '../../lib/person';
import { useView } from '../../lib/useView';

type KeptWork = Work & { id: number; state: WorkState };

const stateWords: Record<WorkState, string> = { planned: 'planned', now: 'now', over: 'over' };

/** Works that are planned or under way, each a rehearsal; and what is named, written down as one. */
export function PlannedWorks({ tokens }: { tokens: string[] }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const [writing, setWriting] = useState(false);
  const { data } = useQuery<{ rows: KeptWork[] }, ApiProblem>({
    queryKey: ['works'],
    queryFn: ({ signal }) => call('works', { signal }),
  });
  const open = (data?.rows ?? []).filter(({ state }) => state !== 'over').toReversed();
  return (
    <>
      {mayEdit && tokens.length > 0 && !writing && (
        <p className="small">
          <TextButton onClick={() => setWriting(true)}>Write it down as a planned work or incident</TextButton>
        </p>
      )}
      {writing && <WorkForm tokens={tokens} onDone={() => setWriting(false)} />}
      {open.length > 0 && (
        <section aria-label="Planned works and incidents">
          <h2 className="listhead">Planned works and incidents</h2>
          <ul className="works small">
            {open.map(({ id, kind, title, who, from, until, things, state }) => (
              <li key={id}>
                <TextButton onClick={() => view.set({ down: things.join(','), sel: null })}>{title}</TextButton>
                <div className="quiet">
                  {kind}, {stateWords[state]}; {moment(from)}
                  {until && ` to ${moment(until)}`}
                  {who && `; ${who}`}
                </div>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

const usualHours = 4;

function WorkForm({ tokens, onDone }: { tokens: string[]; onDone: () => void }) {
  const written = useWritten();
  const { name } = usePerson();
  const [now] = useState(() => new Date());
  const saving = useSavingForm<Work, { version: number }>({
    values: {
      kind: 'planned work',
      title: '',
      who: name,
      from: now.toISOString(),
      until: new Date(now.getTime() + usualHours * 3_600_000).toISOString(),
      things: tokens,
      note: '',
      source: '',
      number: '',
    },
    schema: workSchema as never,
    save: (work) => call('works', { method: 'POST', body: { ...work, things: tokens } }),
    done: async () => {
      await written();
      onDone();
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} prefix="work.">
      <SelectInput name="kind" label="Kind" choices={['planned work', 'incident']} />
      <TextInput name="title" label="What it is" />
      <TextInput name="who" label="Who" />
      <MomentInput name="from" label="From" />
      <MomentInput name="until" label="Until" help="empty: until somebody ends it" />
      <TextInput name="note" label="Note" multiline />
      <SaveLine of={saving} words="Write it down" variant="outlined">
        <Button color="secondary" onClick={onDone}>
          Leave it
        </Button>
      </SaveLine>
    </SavingForm>
  );
}
