'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { approvalWords } from '@/core/estate/approval';
import { fetched } from '../lib/fetched';
import { TextButton } from '../components/TextButton';
import { UndoNote, type Done } from '../features/edits/UndoNote';
import { useWritten } from '../features/edits/useWritten';
import type { ShownCredential } from '../features/survey/savedRows';
import { useCredentials } from '../features/survey/useScopes';
import { call, type ApiProblem } from '../lib/api';
import { useMayConfigure, useMayEdit } from '../lib/person';

const ApprovalDialog = fetched(() =>
  import('../features/survey/ApprovalDialog').then((module) => module.ApprovalDialog),
);

const kindWords: Record<string, string> = {
  snmp2c: 'SNMP v2c community',
  snmp1: 'SNMP v1 community',
  snmp3: 'SNMP v3',
  redfish: 'Redfish',
  restconf: 'RESTCONF',
  controller: 'controller',
};

/** With what equipment is asked. */
export function CredentialList({
  isNext,
  onTest,
  onAdd,
}: {
  /** to add one is what is to be done next */
  isNext: boolean;
  onTest: (credential: ShownCredential) => void;
  onAdd: () => void;
}) {
  const mayEdit = useMayEdit();
  const mayConfigure = useMayConfigure();
  const written = useWritten();
  const { data: credentials, error } = useCredentials(mayEdit);
  const [done, setDone] = useState<Done | null>(null);
  const [approving, setApproving] = useState<ShownCredential | null>(null);
  const remove = async ({ id, name }: ShownCredential) => {
    try {
      const { edit } = await call<{ edit: number }>(`credentials/${id}`, { method: 'DELETE' });
      setDone({ words: `Deleted the credential “${name}”.`, edit });
    } catch (problem) {
      setDone({ words: (problem as ApiProblem).words });
    }
    await written();
  };
  return (
    <section>
      <h2 className="sub">Credentials: with what</h2>
      {!mayEdit && (
        <p className="quiet">
          Scopes and devices say by name with which credential they are asked. The list of all, with their users, is for
          those who run surveys; nobody is shown a secret.
        </p>
      )}
      {error && <p className="quiet">{error.detail}</p>}
      {credentials?.length === 0 && (
        <p className="quiet">No credential yet. Secrets are encrypted and never shown again.</p>
      )}
      <ul className="lines">
        {credentials?.map((credential) => (
          <li key={credential.id} style={{ justifyContent: 'space-between' }}>
            <div>
              <b style={{ fontWeight: 600 }}>{credential.name}</b>{' '}
              <span className="quiet small">
                {kindWords[credential.kind] ?? credential.kind}
                {credential.user && `, user ${credential.user}`}
                {credential.auth && `, ${credential.auth}`}
                {credential.priv && `, ${credential.priv}`}
                {credential.purpose === 'write' && ', for acting on ports'}
              </span>
              <div className="small quiet">may be sent to {approvalWords(credential.approved)}</div>
            </div>
            <span style={{ display: 'flex', gap: 10, flex: 'none' }}>
              {(mayConfigure || credential.purpose !== 'write') && (
                <TextButton aria-label={`Test the credential ${credential.name}`} onClick={() => onTest(credential)}>
                  Test
                </TextButton>
              )}
              {mayConfigure && (
                <TextButton
                  aria-label={`Where the credential ${credential.name} may be sent`}
                  onClick={() => setApproving(credential)}
                >
                  Where
                </TextButton>
              )}
              {mayConfigure && (
                <TextButton
                  aria-label={`Delete the credential ${credential.name}`}
                  onClick={() => void remove(credential)}
                >
                  Delete
                </TextButton>
              )}
            </span>
          </li>
        ))}
      </ul>
      <UndoNote done={done} onDone={setDone} />
      {approving && <ApprovalDialog credential={approving} onClose={() => setApproving(null)} />}
      {mayConfigure && (
        <p style={{ marginTop: 10 }}>
          <Button variant={isNext ? 'contained' : 'outlined'} onClick={onAdd}>
            Add a credential
          </Button>
        </p>
      )}
    </section>
  );
}
