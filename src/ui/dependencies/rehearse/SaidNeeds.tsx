'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { saidNeedSchema, shareWords, type SaidNeed, type SaidNeedBody } from '@/core/dependency/saidNeed';
import { DayInput } from '../../components/form/DayInput';
import { useField } from '../../components/form/fieldContext';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { Glyph } from '../../components/Glyph';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { ApiProblem, call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { dayBefore } from '../talk/heardDays';
import { ThingsField } from '../ThingsField';

type ToldNeed = SaidNeed & { id: number; names: { of: string; from: string[] }; isDue: boolean };

/** What is still so is asked again a year later. */
const reviewDays = 365;

/** What people say rests on what, and what is to be asked again; and of what is named, said anew. */
export function SaidNeeds({
  tokens,
  wordsOf,
}: {
  /** by number, as far as it is known what is meant */
  tokens: string[];
  wordsOf: (token: string) => string | undefined;
}) {
  const view = useView();
  const mayEdit = useMayEdit();
  const [saying, setSaying] = useState(false);
  const [told, setTold] = useState('');
  const written = useWritten();
  const { data } = useQuery<{ rows: ToldNeed[]; version: number }, ApiProblem>({
    queryKey: ['dependences', view.survey],
    queryFn: ({ signal }) => call(`dependences${view.survey ? `?survey=${view.survey}` : ''}`, { signal }),
  });
  const rows = data?.rows ?? [];
  const [only] = tokens.length === 1 ? tokens : [];
  const shown = only ? rows.filter(({ of, from }) => of === only || from.includes(only)) : rows;
  const write = async (act: () => Promise<unknown>) => {
    setTold('');
    try {
      await act();
      await written();
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setTold(error.words);
    }
  };
  const seen = data?.version ?? 0;
  const drop = ({ id }: ToldNeed) => write(() => call(`dependences/${id}`, { method: 'DELETE', seen }));
  const confirm = ({ id, of, from, atLeast, kind, note }: ToldNeed) => {
    const reviewOn = dayBefore(undefined, -reviewDays);
    return write(() =>
      call(`dependences/${id}`, { method: 'PUT', seen, body: { of, from, atLeast, kind, note, reviewOn } }),
    );
  };
  return (
    <>
      {mayEdit && only && !saying && (
        <p className="small">
          <TextButton onClick={() => setSaying(true)}>Say what it rests on</TextButton>
        </p>
      )}
      {saying && only && <NeedForm of={only} called={wordsOf(only) ?? only} onDone={() => setSaying(false)} />}
      {told && <p role="alert">{told}</p>}
      {shown.length > 0 && (
        <section aria-label="What people say">
          <h2 className="listhead">What people say</h2>
          <ul className="works small">
            {shown.map((need) => (
              <li key={need.id}>
                {need.isDue && <Glyph name="fault" size={9} />} {need.names.of}{' '}
                {need.kind === 'powered by' ? 'is powered by' : 'rests on'} {shareWords(need.atLeast, need.from.length)}
                {need.names.from.join(', ')}
                <div className="quiet">
                  {need.by}: {need.note}
                  {need.reviewOn &&
                    (need.isDue ? `; to be asked again since ${need.reviewOn}` : `; until ${need.reviewOn}`)}
                </div>
                {mayEdit && need.isDue && (
                  <>
                    <TextButton aria-label={`It is still so: ${need.names.of}`} onClick={() => void confirm(need)}>
                      It is still so
                    </TextButton>{' '}
                  </>
                )}
                {mayEdit && (
                  <TextButton aria-label={`Say it no more: ${need.names.of}`} onClick={() => void drop(need)}>
                    Say it no more
                  </TextButton>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** What is sent, with its number as it is written in its field. */
type Draft = Omit<SaidNeedBody, 'atLeast'> & { atLeast: string };
const bodyOf = (draft: Draft): SaidNeedBody => ({ ...draft, atLeast: Number(draft.atLeast) });

function NeedForm({ of, called, onDone }: { of: string; called: string; onDone: () => void }) {
  const written = useWritten();
  const saving = useSavingForm<Draft, { version: number }>({
    values: { of, from: [], atLeast: '1', kind: 'stated', note: '', reviewOn: null },
    mistakes: (draft) => {
      try {
        saidNeedSchema.validateSync(bodyOf(draft), { abortEarly: false });
        return [];
      } catch (error) {
        return (error as { inner: { path?: string; message: string }[] }).inner.map(({ path = '', message }) => ({
          path,
          message,
        }));
      }
    },
    save: (draft) => call('dependences', { method: 'POST', body: bodyOf(draft) }),
    done: async () => {
      await written();
      onDone();
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} prefix="need.">
      <h2 className="listhead">{called} rests on</h2>
      <FromInput />
      <div className="pair">
        <TextInput name="atLeast" label="So many of them" type="number" />
        <SelectInput name="kind" label="In which way" choices={['stated', 'powered by']} />
      </div>
      <TextInput name="note" label="How you know" />
      <DayInput name="reviewOn" label="Ask again on" help="empty: never" />
      <SaveLine of={saving} words="Say so" variant="outlined">
        <Button color="secondary" onClick={onDone}>
          Leave it
        </Button>
      </SaveLine>
    </SavingForm>
  );
}

/** Things as a field of a form: what is wrong with them stands there. */
function FromInput() {
  const view = useView();
  const { value, set, mistake } = useField<string[]>('from');
  return (
    <ThingsField
      label="What it rests on"
      tokens={value ?? []}
      survey={view.survey}
      mistake={mistake || null}
      wordsOf={() => undefined}
      onChange={set}
    />
  );
}
