'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { things } from '@/core/things/things';
import { CheckInput } from '../../components/form/CheckInput';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import type { KeptOwnField } from '../../lib/person';
import { useWritten } from '../edits/useWritten';
import { ChangeList } from './ChangeList';
import type { EditAnswer } from './editAnswer';
import type { EditedRows } from './editedRows';
import { OwnInput } from './OwnInput';
import { RowsChoice, type RowsMeant } from './RowsChoice';

interface Draft {
  /** fields that become another */
  change: Record<string, boolean>;
  own: Record<string, string>;
  add: Record<string, string>;
  remove: Record<string, string>;
}

const wordsOf = (lists: Record<string, string>): Record<string, string[]> =>
  Object.fromEntries(
    Object.entries(lists)
      .map(([field, text]) => [
        field,
        text
          .split(',')
          .map((word) => word.trim())
          .filter(Boolean),
      ])
      .filter(([, words]) => (words?.length ?? 0) > 0),
  );

/** What own fields of many rows become: shown first, then written. */
export function RowsForm({ thing, request, total, selected, marked, fields }: EditedRows & { fields: KeptOwnField[] }) {
  const written = useWritten();
  const [meant, setMeant] = useState<RowsMeant>(marked.length > 0 ? 'marked' : 'shown');
  const [answer, setAnswer] = useState<EditAnswer | null>(null);
  const empty = (value: string) => Object.fromEntries(fields.map(({ name }) => [name, value]));
  const rows =
    meant === 'marked'
      ? { ids: marked }
      : meant === 'selected'
        ? { ids: [selected] }
        : { where: request.where ?? '', survey: request.survey ?? null };
  const bodyOf = ({ change, own, add, remove }: Draft) => ({
    thing,
    ...rows,
    set: Object.fromEntries(
      fields.flatMap(({ name, kind }) => (kind !== 'tags' && change[name] ? [[name, own[name] ?? '']] : [])),
    ),
    add: wordsOf(add),
    remove: wordsOf(remove),
  });
  // what was looked at is what is written: whoever wrote in between is told of
  const shown = answer && answer.edit === undefined ? answer : null;
  const saving = useSavingForm<Draft, EditAnswer>({
    values: {
      change: Object.fromEntries(fields.map(({ name }) => [name, false])),
      own: empty(''),
      add: empty(''),
      remove: empty(''),
    },
    save: (draft, over) => {
      const seen = over ?? shown?.version ?? null;
      return call('values', { method: 'POST', body: { ...bodyOf(draft), preview: seen === null }, seen });
    },
    done: async (told) => {
      setAnswer(told);
      if (told.edit !== undefined) await written();
      return undefined;
    },
  });
  const { form, isBusy } = saving;
  const draft = form.watch();
  const body = bodyOf(draft);
  const isNothing = [body.set, body.add, body.remove].every((part) => Object.keys(part).length === 0);
  const name = things[thing].title.toLowerCase();
  return (
    <div onChange={() => setAnswer(null)}>
      <SavingForm of={saving}>
        <RowsChoice
          {...{ thing, total, selected, marked, meant }}
          onChoose={(next) => {
            setMeant(next);
            setAnswer(null);
          }}
        />
        <ul className="editfields" aria-label="Fields">
          {fields.map((field) => {
            const { name: own, label, kind } = field;
            if (kind === 'tags') {
              return (
                <li key={own}>
                  <span>{label}</span>
                  <span className="two">
                    <TextInput name={`add.${own}`} label="put these to them" help="separated by commas" />
                    <TextInput name={`remove.${own}`} label="take these away" />
                  </span>
                </li>
              );
            }
            return (
              <li key={own}>
                <CheckInput name={`change.${own}`} label={label} />
                {draft.change[own] ? (
                  <OwnInput field={field} name={`own.${own}`} called="becomes" autoFocus />
                ) : (
                  <span className="quiet small">stays as it is</span>
                )}
              </li>
            );
          })}
        </ul>
        {answer && <ChangeList answer={answer} fields={fields} of={name} />}
        <div style={{ display: 'flex', gap: 10 }}>
          {shown && shown.total > 0 ? (
            <Button type="submit" variant="contained" disabled={isBusy}>
              Write {shown.total.toLocaleString('en')} {shown.total === 1 ? 'value' : 'values'}
            </Button>
          ) : (
            <Button type="submit" variant="outlined" disabled={isBusy || isNothing}>
              Show what changes
            </Button>
          )}
        </div>
      </SavingForm>
    </div>
  );
}
