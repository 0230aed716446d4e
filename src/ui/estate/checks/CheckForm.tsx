'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { mayBeChecked, severities, type Check } from '@/core/checks/check';
import { checkSchema } from '@/core/checks/checkSchema';
import { thingNames, things } from '@/core/things/things';
import { FilterInput } from '../../components/form/FilterInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';
import { bodyOf, type CheckRow } from './useChecks';

type Draft = Omit<Check, 'key'>;

const blank: Draft = {
  name: '',
  thing: 'devices',
  where: '',
  scope: '',
  severity: 'moderate',
  why: '',
  remedy: '',
  on: true,
};
const labels = {
  name: 'What must be true',
  thing: 'Looks at',
  severity: 'Severity',
  where: 'What must not be there',
  scope: 'Only of these devices',
  why: 'Why it matters',
  remedy: 'What to do',
  on: 'On',
};
const checked = thingNames
  .filter(mayBeChecked)
  .map((thing) => ({ value: thing, words: things[thing].title.toLowerCase() }));

interface Trial {
  failing: number;
  excused: number;
}

/** Makes a check, or changes one; it can be tried before. */
export function CheckForm({ editing, onDone }: { editing: CheckRow | null; onDone: (id?: string) => void }) {
  const written = useWritten();
  const [tried, setTried] = useState<Trial | null>(null);
  const saving = useSavingForm<Draft, { id: string; version: number }>({
    values: editing ? bodyOf(editing) : blank,
    schema: checkSchema,
    version: editing?.version ?? null,
    keep: `check ${editing?.id ?? 'new'}`,
    fromKept: (kept: Check) => bodyOf(kept),
    save: (body, seen) =>
      editing ? call(`checks/${editing.id}`, { method: 'PUT', body, seen }) : call('checks', { method: 'POST', body }),
    done: async ({ id }) => {
      await written();
      onDone(id);
      return undefined;
    },
  });
  const { form } = saving;
  const { thing, where, name } = form.watch();
  const trial = useSavingForm<Draft, Trial>({
    values: blank,
    save: () => {
      const { thing: of, where: rule, scope } = form.getValues();
      const body = { thing: of, where: rule.trim(), scope: scope.trim() };
      return call('checks/trial', { method: 'POST', body });
    },
    done: (answer) => {
      setTried(answer);
      return undefined;
    },
  });
  return (
    <div onChange={() => setTried(null)}>
      <SavingForm of={saving} prefix="check" labels={labels}>
        <h2>{editing ? 'Change the check' : 'Make a check'}</h2>
        <TextInput name="name" label="What must be true" help="like “Every uplink is described”" />
        <div className="pair">
          <SelectInput name="thing" label="Looks at" choices={checked} />
          <SelectInput name="severity" label="Severity" choices={severities} />
        </div>
        <FilterInput
          name="where"
          label="What must not be there, as a filter"
          about={{ thing }}
          hint={'kind=uplink alias=""'}
        />
        <FilterInput
          name="scope"
          label="Only of these devices, as a filter; empty for all"
          about={{ thing: 'devices' }}
          hint="site={site}, or a group"
        />
        <TextInput name="why" label="Why it matters" multiline minRows={2} />
        <TextInput name="remedy" label="What to do" multiline minRows={2} />
        {tried && <TrialWords trial={tried} />}
        <TrialMistakes errors={trial.form.formState.errors} words={trial.problem} />
        <SaveLine
          of={saving}
          words={editing ? 'Save' : 'Make the check'}
          disabled={name.trim() === '' || where.trim() === ''}
        >
          <Button variant="outlined" disabled={where.trim() === '' || trial.isBusy} onClick={trial.submit}>
            Try it
          </Button>
          <Button color="secondary" onClick={() => onDone()}>
            Leave it
          </Button>
        </SaveLine>
      </SavingForm>
    </div>
  );
}

function TrialWords({ trial: { failing, excused } }: { trial: Trial }) {
  return (
    <p role="status">
      {failing === 0 ? 'It would hold now.' : `It would fail now: ${failing.toLocaleString('en')} found.`}
      {excused > 0 && ` ${excused} more in maintenance.`}
    </p>
  );
}

/** Why a rule cannot be tried. */
function TrialMistakes({ errors, words }: { errors: Record<string, { message?: string } | undefined>; words: string }) {
  const all = [words, ...Object.values(errors).map((error) => error?.message ?? '')].filter(Boolean);
  return all.map((one) => (
    <p key={one} className="bad small" role="alert">
      {one}
    </p>
  ));
}
