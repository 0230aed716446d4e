'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { passwordRule } from '@/core/values/password';
import { Link } from '@/ui/components/Link';
import { MailForm, useMail } from '../features/mail/MailForm';
import { type ApiProblem, call } from '../lib/api';
import { moment } from '../lib/format';
import { useMayConfigure, usePerson } from '../lib/person';
import { AuditList } from './AuditList';
import { OwnFields } from './OwnFields';
import { Readings } from './Readings';
import { Signatures } from './Signatures';
import { useThemeChoice } from '../theme/ThemeRegistry';

interface PersonRow {
  id: number;
  name: string;
  role: string;
  createdAt: string;
}

/** Appearance for oneself; people for administrators. */
export function SettingsWorkspace() {
  const { name, choose } = useThemeChoice();
  const person = usePerson();
  const administrator = useMayConfigure();
  const people = useQuery<{ rows: PersonRow[] }, ApiProblem>({
    queryKey: ['people'],
    queryFn: () => call<{ rows: PersonRow[] }>('people'),
    enabled: administrator,
  });
  return (
    <main className="work scrolls">
      <div className="titleline">
        <h1>Settings</h1>
      </div>
      <div className="blocks">
        <section>
          <h2 className="sub">Appearance</h2>
          <div role="radiogroup" aria-label="Theme" style={{ display: 'flex', gap: 16, padding: '8px 0' }}>
            {(['day', 'night'] as const).map((theme) => (
              <label key={theme}>
                <input type="radio" name="theme" checked={name === theme} onChange={() => choose(theme)} />{' '}
                {theme === 'day' ? 'Day' : 'Night'}
              </label>
            ))}
          </div>
          <p className="quiet small">Columns, panel width and theme are yours and stay.</p>
          {administrator && <MailSettings />}
          <h2 className="sub" style={{ marginTop: 22 }}>
            For scripts
          </h2>
          <p className="quiet">
            Every table shows the request that returns it, under Export. A token is made on the machine itself with{' '}
            <span className="mono">bolide token add NAME --data DIR</span>. The API is described at{' '}
            <a href="/api">/api</a>.
          </p>
        </section>
        <section>
          <h2 className="sub">People</h2>
          {!administrator ? (
            <p className="quiet">
              You are {person.name}, {person.role}. Administrators add people and say what they may.
            </p>
          ) : people.error ? (
            <p className="quiet">{people.error.detail}</p>
          ) : (
            <>
              <table className="plain">
                <thead>
                  <tr>
                    <th>Name</th>
                    <th>Role</th>
                    <th>Since</th>
                  </tr>
                </thead>
                <tbody>
                  {people.data?.rows.map((person) => (
                    <tr key={person.id}>
                      <td>{person.name}</td>
                      <td>{person.role}</td>
                      <td>{moment(person.createdAt)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              <AddPerson />
            </>
          )}
        </section>
      </div>
      <OwnFields />
      <Readings />
      <Signatures />
      {administrator && <AuditList />}
    </main>
  );
}

function MailSettings() {
  const { data } = useMail();
  return (
    <>
      <h2 className="sub" style={{ marginTop: 22 }}>
        Mail
      </h2>
      <p className="quiet small" style={{ paddingBottom: 10 }}>
        The server that takes what Bolide writes. All first steps stand on <Link href="/begin">one page</Link>.
      </p>
      {data && <MailForm state={data} />}
    </>
  );
}

function AddPerson() {
  const client = useQueryClient();
  const blank = { name: '', password: '', role: 'viewer' };
  const [form, setForm] = useState(blank);
  const [mistakes, setMistakes] = useState<{ path: string; message: string }[]>([]);
  const at = (path: string) => mistakes.find((mistake) => mistake.path === path)?.message;
  const save = async () => {
    try {
      await call('people', { method: 'POST', body: form });
      setForm(blank);
      setMistakes([]);
      await client.invalidateQueries({ queryKey: ['people'] });
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: 'name', message: problem.detail }]);
    }
  };
  return (
    <form
      className="form"
      style={{ marginTop: 14, maxWidth: 420 }}
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="sub">Add a person</h2>
      <TextField
        label="Name"
        name="name"
        autoComplete="off"
        value={form.name}
        error={Boolean(at('name'))}
        helperText={at('name')}
        onChange={(event) => setForm({ ...form, name: event.target.value })}
      />
      <TextField
        label="Password"
        name="password"
        type="password"
        autoComplete="new-password"
        value={form.password}
        error={Boolean(at('password'))}
        helperText={at('password') ?? passwordRule}
        onChange={(event) => setForm({ ...form, password: event.target.value })}
      />
      <TextField
        label="Role"
        name="role"
        select
        value={form.role}
        onChange={(event) => setForm({ ...form, role: event.target.value })}
      >
        <MenuItem value="viewer">viewer: sees everything but credentials</MenuItem>
        <MenuItem value="operator">operator: also runs surveys, sets targets</MenuItem>
        <MenuItem value="administrator">administrator: also people and credentials</MenuItem>
      </TextField>
      <div>
        <Button type="submit" variant="outlined">
          Add
        </Button>
      </div>
    </form>
  );
}
