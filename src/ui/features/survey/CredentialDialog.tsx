'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { authProtocols, privProtocols } from '@/core/estate/credential';
import { readCredential } from '@/core/estate/credentialSchema';
import { type ApiProblem, call } from '../../lib/api';

const blank = {
  name: '',
  kind: 'snmp3',
  purpose: 'read',
  community: '',
  user: '',
  password: '',
  authProtocol: 'SHA-256',
  authPassword: '',
  privProtocol: 'AES-128',
  privPassword: '',
};

const isLogin = (kind: string) => kind === 'redfish' || kind === 'restconf' || kind === 'controller';

/** A new credential. Its secrets go to the vault and are never shown again. */
export function CredentialDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const [form, setForm] = useState(blank);
  const [mistakes, setMistakes] = useState<{ path: string; message: string }[]>([]);
  const at = (path: string) => mistakes.find((mistake) => mistake.path === path)?.message;
  const field = (
    name: keyof typeof blank,
    label: string,
    path: string = name,
    more: { type?: string; options?: readonly string[]; hint?: string } = {},
  ) => (
    <TextField
      label={label}
      name={name}
      type={more.type ?? 'text'}
      autoComplete="off"
      select={more.options !== undefined}
      value={form[name]}
      error={Boolean(at(path))}
      helperText={at(path) ?? more.hint}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
    >
      {more.options?.map((option) => (
        <MenuItem key={option} value={option}>
          {option}
        </MenuItem>
      ))}
    </TextField>
  );
  const save = async () => {
    const value =
      form.kind === 'snmp3'
        ? {
            name: form.name.trim(),
            kind: form.kind,
            user: form.user,
            ...(form.purpose === 'write' && { purpose: 'write' as const }),
            ...(form.authProtocol !== 'none' && { auth: { protocol: form.authProtocol, password: form.authPassword } }),
            ...(form.privProtocol !== 'none' && { priv: { protocol: form.privProtocol, password: form.privPassword } }),
          }
        : isLogin(form.kind)
          ? { name: form.name.trim(), kind: form.kind, user: form.user, password: form.password }
          : { name: form.name.trim(), kind: form.kind, community: form.community };
    const read = readCredential(value);
    if ('mistakes' in read) return setMistakes(read.mistakes);
    try {
      await call('credentials', { method: 'POST', body: value });
      await client.invalidateQueries({ queryKey: ['credentials'] });
      onClose();
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: 'name', message: problem.detail }]);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" aria-labelledby="credential-title">
      <DialogTitle id="credential-title">Add a credential</DialogTitle>
      <DialogContent>
        <div className="form" style={{ paddingTop: 8 }}>
          {field('name', 'Name', 'name', { hint: 'how you call it, such as “core switches read-only”' })}
          <TextField
            label="Kind"
            name="kind"
            select
            value={form.kind}
            onChange={(event) => setForm({ ...form, kind: event.target.value })}
          >
            <MenuItem value="snmp3">SNMP v3 user</MenuItem>
            <MenuItem value="snmp2c">SNMP v2c community</MenuItem>
            <MenuItem value="snmp1">SNMP v1 community</MenuItem>
            <MenuItem value="redfish">Redfish (management controllers of servers)</MenuItem>
            <MenuItem value="restconf">RESTCONF (network devices)</MenuItem>
            <MenuItem value="controller">Controller (wireless, fabric, hypervisors)</MenuItem>
          </TextField>
          {form.kind === 'snmp3' ? (
            <>
              <TextField
                label="Used for"
                name="purpose"
                select
                value={form.purpose}
                error={Boolean(at('purpose'))}
                helperText={
                  at('purpose') ??
                  (form.purpose === 'write' ? 'no survey ever uses it; scopes say where it may be used' : undefined)
                }
                onChange={(event) => setForm({ ...form, purpose: event.target.value })}
              >
                <MenuItem value="read">reading, by surveys</MenuItem>
                <MenuItem value="write">acting on ports</MenuItem>
              </TextField>
              {field('user', 'User')}
              <div className="pair">
                {field('authProtocol', 'Authentication', 'auth.protocol', { options: [...authProtocols, 'none'] })}
                {form.authProtocol !== 'none' &&
                  field('authPassword', 'Password', 'auth.password', { type: 'password' })}
              </div>
              <div className="pair">
                {field(
                  'privProtocol',
                  'Privacy',
                  form.privProtocol === 'none' ? 'none' : at('priv') ? 'priv' : 'priv.protocol',
                  { options: [...privProtocols, 'none'] },
                )}
                {form.privProtocol !== 'none' &&
                  field('privPassword', 'Password', 'priv.password', { type: 'password' })}
              </div>
            </>
          ) : isLogin(form.kind) ? (
            <>
              {field('user', 'User')}
              {field('password', 'Password', 'password', { type: 'password' })}
            </>
          ) : (
            field('community', 'Community', 'community', { type: 'password' })
          )}
        </div>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Leave it
        </Button>
        <Button variant="contained" onClick={() => void save()}>
          Save the credential
        </Button>
      </DialogActions>
    </Dialog>
  );
}
