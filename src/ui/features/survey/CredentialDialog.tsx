'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { authProtocols, privProtocols } from '@/core/estate/credential';
import { readCredential } from '@/core/estate/credentialSchema';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { useWritten } from '../edits/useWritten';
import { SaveFoot } from '../../components/dialogFeet';

const blank = {
  name: '',
  kind: 'snmp3',
  purpose: 'read',
  community: '',
  user: '',
  password: '',
  auth: { protocol: 'SHA-256', password: '' },
  priv: { protocol: 'AES-128', password: '' },
};
type Draft = typeof blank;

const kinds = [
  { value: 'snmp3', words: 'SNMP v3 user' },
  { value: 'snmp2c', words: 'SNMP v2c community' },
  { value: 'snmp1', words: 'SNMP v1 community' },
  { value: 'redfish', words: 'Redfish (management controllers of servers)' },
  { value: 'restconf', words: 'RESTCONF (network devices)' },
  { value: 'controller', words: 'Controller (wireless, fabric, hypervisors)' },
];
const isLogin = (kind: string) => kind === 'redfish' || kind === 'restconf' || kind === 'controller';

/** A credential as it is sent: what its kind has. */
function credentialOf({ name, kind, purpose, community, user, password, auth, priv }: Draft) {
  if (isLogin(kind)) return { name, kind, user, password };
  if (kind !== 'snmp3') return { name, kind, community };
  return {
    name,
    kind,
    user,
    ...(purpose === 'write' && { purpose: 'write' as const }),
    ...(auth.protocol !== 'none' && { auth }),
    ...(priv.protocol !== 'none' && { priv }),
  };
}

/** Mistakes at the fields of the form; that privacy needs authentication is told at its protocol. */
function mistakesOf(draft: Draft) {
  const read = readCredential(credentialOf(draft));
  if (!('mistakes' in read)) return [];
  return read.mistakes.map(({ path, message }) => ({ path: path === 'priv' ? 'priv.protocol' : path, message }));
}

/** A new credential. Its secrets go to the vault and are never shown again. */
export function CredentialDialog({ onClose }: { onClose: () => void }) {
  const written = useWritten();
  const saving = useSavingForm<Draft, unknown>({
    values: blank,
    mistakes: mistakesOf,
    exact: ['community', 'password', 'auth.password', 'priv.password'],
    save: (draft) => call('credentials', { method: 'POST', body: credentialOf(draft) }),
    done: async () => {
      await written();
      onClose();
      return undefined;
    },
  });
  const { kind, purpose, auth, priv } = saving.form.watch();
  return (
    <Dialog open onClose={onClose} maxWidth="xs" aria-labelledby="credential-title">
      <DialogTitle id="credential-title">Add a credential</DialogTitle>
      <DialogContent>
        <SavingForm of={saving} id="credential" style={{ paddingTop: 8 }}>
          <TextInput name="name" label="Name" help="how you call it, such as “core switches read-only”" autoFocus />
          <SelectInput name="kind" label="Kind" choices={kinds} />
          {kind === 'snmp3' && (
            <>
              <SelectInput
                name="purpose"
                label="Used for"
                help={purpose === 'write' ? 'no survey ever uses it; scopes say where it may be used' : ''}
                choices={[
                  { value: 'read', words: 'reading, by surveys' },
                  { value: 'write', words: 'acting on ports' },
                ]}
              />
              <TextInput name="user" label="User" />
              <div className="pair">
                <SelectInput name="auth.protocol" label="Authentication" choices={[...authProtocols, 'none']} />
                {auth.protocol !== 'none' && <TextInput name="auth.password" label="Password" type="password" />}
              </div>
              <div className="pair">
                <SelectInput name="priv.protocol" label="Privacy" choices={[...privProtocols, 'none']} />
                {priv.protocol !== 'none' && <TextInput name="priv.password" label="Password" type="password" />}
              </div>
            </>
          )}
          {isLogin(kind) && (
            <>
              <TextInput name="user" label="User" />
              <TextInput name="password" label="Password" type="password" />
            </>
          )}
          {(kind === 'snmp1' || kind === 'snmp2c') && <TextInput name="community" label="Community" type="password" />}
        </SavingForm>
      </DialogContent>
      <SaveFoot form="credential" disabled={saving.isBusy} onLeave={onClose}>
        Save the credential
      </SaveFoot>
    </Dialog>
  );
}
