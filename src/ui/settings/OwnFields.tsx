'use client';

import { useState } from 'react';
import { nameOfLabel, ownedThings, ownKinds, type OwnField, type OwnKind } from '@/core/own/ownField';
import { fieldSchema } from '@/core/own/ownFieldSchema';
import { things } from '@/core/things/things';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { SelectInput } from '../components/form/SelectInput';
import { LinesInput } from '../components/form/LinesInput';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { TextButton } from '../components/TextButton';
import { UndoNote, type Done } from '../features/edits/UndoNote';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';
import { useOwnFields } from '../lib/ownFields';
import { useMayConfigure, type KeptOwnField } from '../lib/person';

const kindWords: Record<OwnKind, string> = {
  text: 'one line of text',
  note: 'longer text',
  number: 'a number',
  date: 'a day',
  choice: 'one of some words',
  boolean: 'yes or no',
  tags: 'several short words',
};
const thingChoices = ownedThings.map((thing) => ({ value: thing, words: things[thing].title.toLowerCase() }));
const kindChoices = ownKinds.map((kind) => ({ value: kind, words: kindWords[kind] }));

/** Fields that people fill in: in dossiers, tables, filters and files. */
export function OwnFields() {
  const fields = useOwnFields();
  const administrator = useMayConfigure();
  const written = useWritten();
  const [done, setDone] = useState<Done | null>(null);
  const remove = async ({ id, label }: KeptOwnField) => {
    try {
      const { edit } = await call<{ edit: number }>(`fields/${id}`, { method: 'DELETE' });
      setDone({ words: `“${label}” is out of use; what was written in it is kept.`, edit });
    } catch (error) {
      setDone({ words: (error as ApiProblem).words });
    }
    await written();
  };
  return (
    <div className="blocks">
      <section>
        <p className="quiet small">
          What equipment does not tell: who owns it, what it cost, what to know before touching it. Filled in at a
          dossier, for many rows under Edit in a table, or from a CSV file.
        </p>
        <table className="plain" aria-label="Own fields">
          <thead>
            <tr>
              <th>Of</th>
              <th>Heading</th>
              <th>In filters</th>
              <th>Holds</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {fields.map((field) => (
              <tr key={field.id}>
                <td>{things[field.thing].title.toLowerCase()}</td>
                <td>{field.label}</td>
                <td className="mono">{field.name}</td>
                <td>
                  {kindWords[field.kind]}
                  {field.choices.length > 0 && <span className="quiet">: {field.choices.join(', ')}</span>}
                </td>
                <td>
                  {administrator && (
                    <TextButton
                      aria-label={`Remove the field ${field.label} of ${things[field.thing].title.toLowerCase()}`}
                      onClick={() => void remove(field)}
                    >
                      Remove
                    </TextButton>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <UndoNote done={done} onDone={setDone} />
      </section>
      {administrator && (
        <section>
          <AddField />
        </section>
      )}
    </div>
  );
}

type Draft = Omit<OwnField, 'name'>;

const blank: Draft = { thing: 'devices', label: '', kind: 'text', choices: [] };
const wordsOf = (text: string) =>
  text
    .split(/[,\n]/)
    .map((word) => word.trim())
    .filter(Boolean);

function AddField() {
  const written = useWritten();
  const saving = useSavingForm<Draft, unknown>({
    values: blank,
    schema: fieldSchema,
    keep: 'field new',
    save: (body) => call('fields', { method: 'POST', body }),
    done: async (_, { thing, label }) => {
      await written();
      return { told: `“${label}” can be filled in.`, values: { ...blank, thing } };
    },
  });
  const { label, kind } = saving.form.watch();
  return (
    <SavingForm of={saving} prefix="field" style={{ maxWidth: 420 }}>
      <h2 className="sub">Add an own field</h2>
      <SelectInput name="thing" label="Of" choices={thingChoices} />
      <TextInput
        name="label"
        label="Heading"
        help={label.trim() ? `in filters: ${nameOfLabel(label)}` : 'like “Cost centre”'}
      />
      <SelectInput name="kind" label="Holds" choices={kindChoices} />
      {kind === 'choice' && (
        <LinesInput name="choices" label="Words to choose from" help="separated by commas" split={wordsOf} />
      )}
      <SaveLine of={saving} words="Add the field" variant="outlined" disabled={label.trim() === ''} />
    </SavingForm>
  );
}
