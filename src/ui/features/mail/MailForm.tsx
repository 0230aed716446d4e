'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { mailSecurities, usualPorts, type MailSecurity, type MailServer } from '@/core/mail/mailServer';
import { call, type ApiProblem } from '../../lib/api';
import { Glyph } from '../../components/Glyph';

export interface MailState {
  server: MailServer | null;
  hasPassword: boolean;
}

const securityWords: Record<MailSecurity, string> = {
  starttls: 'STARTTLS',
  tls: 'TLS from the start',
  none: 'none: in the clear',
};

export const useMail = (enabled = true) =>
  useQuery<MailState, ApiProblem>({ queryKey: ['mail'], queryFn: () => call<MailState>('mail'), enabled });

/** The mail server, and a message to see that it takes ours. */
export function MailForm({ state }: { state: MailState }) {
  const client = useQueryClient();
  const [form, setForm] = useState({
    host: '',
    security: 'starttls' as MailSecurity,
    user: '',
    from: '',
    ...state.server,
    port: String(state.server?.port ?? usualPorts.starttls),
    password: '',
  });
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [saved, setSaved] = useState(false);
  const [to, setTo] = useState('');
  const [busy, setBusy] = useState(false);
  const [sent, setSent] = useState<{ said?: string; problem?: ApiProblem } | null>(null);
  const at = (path: string) => problem?.errors.find((mistake) => mistake.path === path)?.message;
  const change = (part: Partial<typeof form>) => {
    setSaved(false);
    setForm((before) => ({ ...before, ...part }));
  };
  const save = async () => {
    try {
      await call('mail', {
        method: 'PUT',
        body: {
          host: form.host.trim(),
          port: Number(form.port),
          security: form.security,
          user: form.user.trim(),
          from: form.from.trim(),
          ...(form.password && { password: form.password }),
        },
      });
      setProblem(null);
      setSaved(true);
      setForm((before) => ({ ...before, password: '' }));
      await client.invalidateQueries({ queryKey: ['mail'] });
    } catch (error) {
      setProblem(error as ApiProblem);
    }
  };
  const test = async () => {
    setBusy(true);
    setSent(null);
    try {
      setSent(await call<{ said: string }>('mail/test', { method: 'POST', body: { to: to.trim() } }));
    } catch (error) {
      setSent({ problem: error as ApiProblem });
    }
    setBusy(false);
  };
  return (
    <>
      <form
        className="form"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 2fr) minmax(0, 1.4fr) 90px', gap: 10 }}>
          <TextField
            label="Mail server"
            name="mailHost"
            autoComplete="off"
            value={form.host}
            error={Boolean(at('host'))}
            helperText={at('host')}
            onChange={(event) => change({ host: event.target.value })}
          />
          <TextField
            select
            label="Security"
            name="mailSecurity"
            value={form.security}
            onChange={(event) =>
              change({
                security: event.target.value as MailSecurity,
                port: String(usualPorts[event.target.value as MailSecurity]),
              })
            }
          >
            {mailSecurities.map((name) => (
              <MenuItem key={name} value={name}>
                {securityWords[name]}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Port"
            name="mailPort"
            autoComplete="off"
            value={form.port}
            error={Boolean(at('port'))}
            helperText={at('port')}
            onChange={(event) => change({ port: event.target.value })}
          />
        </div>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
          <TextField
            label="User"
            name="mailUser"
            autoComplete="off"
            value={form.user}
            helperText="empty where the server asks for none"
            onChange={(event) => change({ user: event.target.value })}
          />
          <TextField
            label="Password"
            name="mailPassword"
            type="password"
            autoComplete="new-password"
            value={form.password}
            helperText={state.hasPassword ? 'one is kept; write another to change it' : 'encrypted, never shown'}
            onChange={(event) => change({ password: event.target.value })}
          />
        </div>
        <TextField
          label="From"
          name="mailFrom"
          autoComplete="off"
          value={form.from}
          error={Boolean(at('from'))}
          helperText={at('from') ?? 'like bolide@example.net'}
          onChange={(event) => change({ from: event.target.value })}
        />
        {problem && problem.errors.length === 0 && (
          <p role="alert" className="bad">
            {problem.detail}
          </p>
        )}
        <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
          <Button type="submit" variant="outlined">
            Save the mail server
          </Button>
          {saved && (
            <span role="status" className="quiet small">
              Saved.
            </span>
          )}
        </div>
      </form>
      {state.server && (
        <form
          className="form"
          noValidate
          style={{ marginTop: 14 }}
          onSubmit={(event) => {
            event.preventDefault();
            void test();
          }}
        >
          <div style={{ display: 'flex', gap: 10, alignItems: 'flex-start' }}>
            <TextField
              label="Test message to"
              name="mailTo"
              autoComplete="off"
              value={to}
              error={Boolean(sent?.problem?.errors.length)}
              helperText={sent?.problem?.errors[0]?.message}
              onChange={(event) => setTo(event.target.value)}
              sx={{ flex: 1 }}
            />
            <Button type="submit" variant="outlined" disabled={busy || to.trim() === ''} sx={{ mt: '3px' }}>
              {busy ? 'Sending…' : 'Send a test message'}
            </Button>
          </div>
          {sent?.said && (
            <p role="status">
              <Glyph name="up" word="taken" /> The server took it: <span className="mono">{sent.said}</span>. Look
              whether it arrived.
            </p>
          )}
          {sent?.problem && sent.problem.errors.length === 0 && (
            <p role="alert" className="bad">
              {sent.problem.detail}
            </p>
          )}
        </form>
      )}
    </>
  );
}
