'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { writes } from '@/core/estate/credential';
import { readScope, scopeDefaults, type FieldMistake, type ScopeText } from '@/core/estate/scope';
import { scopeSchema } from '@/core/estate/scopeSchema';
import { LinesInput } from '../../components/form/LinesInput';
import { OrderedChoice } from '../../components/form/OrderedChoice';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import { useMayConfigure } from '../../lib/person';
import { useWritten } from '../edits/useWritten';
import type { SavedScope, ShownCredential } from './savedRows';
import { approveAll, missingApprovals, ScopeApprovals } from './ScopeApprovals';
import { ScopeFolds, scopeLabels } from './ScopeFolds';
import { SaveFoot } from '../../components/dialogFeet';

function mistakesOf(scope: ScopeText) {
  const read = readScope(scope);
  return [
    ...('mistakes' in read ? read.mistakes : []),
    ...(scope.credentials.length === 0 ? [{ path: 'credentials', message: 'Choose at least one credential' }] : []),
  ];
}

const withDefaults = (scope: Partial<ScopeText>): ScopeText => ({ ...scopeDefaults, ...scope });

/** What a survey asks: a name, ranges and credentials; what else can be said of it is folded. */
export function ScopeDialog({
  initial,
  credentials: saved,
  collectors,
  onClose,
}: {
  initial: Pick<SavedScope, 'id' | 'scope' | 'version'> | null;
  credentials: ShownCredential[];
  collectors: string[];
  onClose: () => void;
}) {
  const written = useWritten();
  const mayConfigure = useMayConfigure();
  // who writes a new one knows where it asks; who changes another's looks first
  const [approve, setApprove] = useState(initial === null);
  const namesOf = (some: ShownCredential[]) => some.map(({ name }) => name);
  const reading = namesOf(saved.filter((one) => !writes(one)));
  // others keep what an administrator gave, and are offered no more
  const writing = mayConfigure ? namesOf(saved.filter(writes)) : (initial?.scope.writeCredentials ?? []);
  const saving = useSavingForm<ScopeText, { version: number }>({
    // a new scope tries every credential until somebody chooses
    values: withDefaults(initial?.scope ?? { credentials: reading }),
    schema: scopeSchema,
    mistakes: mistakesOf,
    exact: ['schedule'],
    version: initial?.version ?? null,
    keep: `scope ${initial?.id ?? 'new'}`,
    fromKept: withDefaults,
    save: (body, seen) =>
      initial ? call(`scopes/${initial.id}`, { method: 'PUT', body, seen }) : call('scopes', { method: 'POST', body }),
    judge: async ({ name, schedule, credentials, writeCredentials, group, collectors: by, authorities }) => {
      const body = { id: initial?.id ?? null, name, schedule, credentials, writeCredentials, group, authorities };
      const asked = { method: 'POST', body: { ...body, collectors: by } };
      return (await call<{ rows: FieldMistake[] }>('scopes/mistakes', asked)).rows;
    },
    done: async (_answer, scope) => {
      if (approve && mayConfigure) await approveAll(missingApprovals(scope, saved));
      await written();
      onClose();
      return undefined;
    },
  });
  const { form } = saving;
  const scope = form.watch();
  const { ranges } = scope;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" aria-labelledby="scope-title">
      <DialogTitle id="scope-title">{initial ? `Change ${initial.scope.name}` : 'Add a scope'}</DialogTitle>
      <DialogContent>
        <SavingForm of={saving} id="scope" labels={scopeLabels} style={{ paddingTop: 8 }}>
          <TextInput name="name" label="Name" autoFocus={!initial} />
          <div>
            <LinesInput
              name="ranges"
              label="Ranges"
              rows={3}
              help="one a line: 10.72.4.0/24, 10.72.4.1-40 or a single address"
            />
            <OwnNetworks
              taken={ranges}
              onTake={(range) => form.setValue('ranges', [...ranges, range], { shouldValidate: true })}
            />
          </div>
          <OrderedChoice
            name="credentials"
            label="Credentials, tried in this order"
            choices={reading}
            empty="There is none yet: add a credential first."
          />
          <ScopeApprovals missing={missingApprovals(scope, saved)} approve={approve} onApprove={setApprove} />
          <ScopeFolds saving={saving} writing={writing} collectors={collectors} />
        </SavingForm>
      </DialogContent>
      <SaveFoot form="scope" disabled={saving.isBusy} onLeave={onClose}>
        Save the scope
      </SaveFoot>
    </Dialog>
  );
}

/** Networks this machine stands in, to be taken as ranges. */
function OwnNetworks({ taken, onTake }: { taken: readonly string[]; onTake: (range: string) => void }) {
  const { data } = useQuery({
    queryKey: ['scopes', 'proposal'],
    queryFn: async () => (await call<{ ranges: string[] }>('scopes/proposal')).ranges,
    staleTime: Infinity,
  });
  const left = (data ?? []).filter((range) => !taken.includes(range));
  if (left.length === 0) return null;
  return (
    <p className="small quiet">
      {left.length === 1 ? 'The network of this machine: ' : 'Networks of this machine: '}
      {left.map((range) => (
        <TextButton key={range} className="mono" onClick={() => onTake(range)}>
          {range}
        </TextButton>
      ))}
    </p>
  );
}
