'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  mailSecurities,
  mailServerSchema,
  usualPorts,
  type MailSecurity,
  type MailServer,
} from '@/core/mail/mailServer';
import { call, type ApiProblem } from '../../lib/api';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { Glyph } from '../../components/Glyph';
import { useWritten } from '../edits/useWritten';

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

const blank = {
  host: '',
  port: usualPorts.starttls as number | string,
  security: 'starttls' as MailSecurity,
  user: '',
  from: '',
  password: '',
};
const securityChoices = mailSecurities.map((security) => ({ value: security, words: securityWords[security] }));

/** The mail server, and a message to see that it takes ours. */
export function MailForm({ state }: { state: MailState }) {
  const written = useWritten();
  const saving = useSavingForm<typeof blank, unknown>({
    values: { ...blank, ...state.server },
    schema: mailServerSchema,
    exact: ['password'],
    save: ({ password, ...server }) =>
      call('mail', { method: 'PUT', body: { ...server, ...(password && { password }) } }),
    done: async (_, values) => {
      await written();
      return { told: 'Saved.', values: { ...values, password: '' } };
    },
  });
  const { form } = saving;
  return (
    <>
      <SavingForm of={saving} prefix="mail">
        <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 2fr) minmax(0, 1.4fr) 90px', gap: 10 }}>
          <TextInput name="host" label="Mail server" />
          <SelectInput
            name="security"
            label="Security"
            choices={securityChoices}
            onChosen={(security) => form.setValue('port', usualPorts[security as MailSecurity])}
          />
          <TextInput name="port" label="Port" type="number" />
        </div>
        <div className="pair">
          <TextInput name="user" label="User" help="empty where the server asks for none" />
          <TextInput
            name="password"
            label="Password"
            type="password"
            autoComplete="new-password"
            help={state.hasPassword ? 'one is kept; write another to change it' : 'encrypted, never shown'}
          />
        </div>
        <TextInput name="from" label="From" help="like bolide@example.net" />
        <SaveLine of={saving} words="Save the mail server" variant="outlined" />
      </SavingForm>
      {state.server && <TestForm />}
    </>
  );
}

function TestForm() {
  const [said, setSaid] = useState('');
  const saving = useSavingForm<{ to: string }, { said: string }>({
    values: { to: '' },
    save: (body) => {
      setSaid('');
      return call('mail/test', { method: 'POST', body });
    },
    done: (answer) => {
      setSaid(answer.said);
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} prefix="mail" style={{ marginTop: 14 }}>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 10, alignItems: 'start' }}>
        <TextInput name="to" label="Test message to" />
        <SaveLine
          of={saving}
          words="Send a test message"
          busyWords="Sending…"
          variant="outlined"
          disabled={saving.form.watch('to').trim() === ''}
        />
      </div>
      {said && (
        <p role="status">
          <Glyph name="up" word="taken" /> The server took it: <span className="mono">{said}</span>. Look whether it
          arrived.
        </p>
      )}
    </SavingForm>
  );
}
