'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { applicationSchema, criticalities, type Application, type Criticality } from '@/core/applications/application';
import { LinesInput } from '../../components/form/LinesInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { ApiProblem, call } from '../../lib/api';
import { useView } from '../../lib/useView';
import type { KeptApplication } from './useApplications';

interface Draft {
  name: string;
  owner: string;
  criticality: string;
  contacts: string[];
  note: string;
}

const draftOf = ({ name, owner, criticality, contacts, note }: Application): Draft => ({
  name,
  owner,
  criticality,
  contacts,
  note,
});

/** Whose an application is and how much depends on it; what it is made of is said beside. */
export function ApplicationForm({ application, version }: { application: KeptApplication | null; version: number }) {
  const view = useView();
  const written = useWritten();
  const [problem, setProblem] = useState('');
  const whole = (draft: Draft): Application => ({
    ...draft,
    criticality: draft.criticality as Criticality,
    rules: application?.rules ?? [],
    needed: application?.needed ?? [],
  });
  const saving = useSavingForm<Draft, { version: number; id?: number }>({
    values: application
      ? draftOf(application)
      : { name: '', owner: '', criticality: 'moderate', contacts: [], note: '' },
    mistakes: (draft) => {
      try {
        applicationSchema.validateSync(whole(draft), { abortEarly: false });
        return [];
      } catch (error) {
        return (error as { inner: { path?: string; message: string }[] }).inner.map(({ path = '', message }) => ({
          path,
          message,
        }));
      }
    },
    version: application ? version : null,
    keep: `application ${application?.id ?? 'new'}`,
    fromKept: draftOf,
    save: (draft, seen) =>
      application
        ? call(`applications/${application.id}`, { method: 'PUT', body: whole(draft), seen })
        : call('applications', { method: 'POST', body: whole(draft) }),
    done: async ({ id }) => {
      await written();
      view.set({ sel: null, ...(id !== undefined && { host: String(id) }) });
      return undefined;
    },
  });
  const remove = async () => {
    if (!application) return;
    try {
      await call(`applications/${application.id}`, { method: 'DELETE', seen: version });
      await written();
      view.set({ sel: null, host: null });
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setProblem(error.words);
    }
  };
  return (
    <>
      <h2>{application ? application.name : 'Begin an application'}</h2>
      <SavingForm of={saving} prefix="application.">
        <TextInput name="name" label="Name" />
        <div className="pair">
          <TextInput name="owner" label="Owner" />
          <SelectInput name="criticality" label="Criticality" choices={criticalities} />
        </div>
        <LinesInput name="contacts" label="Whom to tell" help="one a line" />
        <TextInput name="note" label="Note" multiline minRows={2} />
        <SaveLine of={saving} words={application ? 'Save' : 'Begin'}>
          <Button color="secondary" onClick={() => view.set({ sel: null })}>
            Leave it
          </Button>
          {application && (
            <Button color="error" onClick={() => void remove()}>
              Remove
            </Button>
          )}
        </SaveLine>
      </SavingForm>
      {problem && (
        <p className="bad" role="alert">
          {problem}
        </p>
      )}
    </>
  );
}
