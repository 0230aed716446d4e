'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState, type FormEvent } from 'react';
import { type ApiProblem, call } from '../lib/api';
import { Mark } from '../components/Mark';

export function SignIn({ to }: { to: string }) {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      await call('session', { method: 'POST', body: { name: name.trim(), password } });
      window.location.assign(to);
    } catch (error) {
      setProblem(error as ApiProblem);
      setBusy(false);
    }
  };
  return (
    <div className="entry">
      <main>
        <span className="brand">
          <Mark />
          Bolide
        </span>
        <h1>Sign in</h1>
        <form className="form" onSubmit={(event) => void submit(event)} style={{ marginTop: 16 }}>
          <TextField
            label="Name"
            name="name"
            autoComplete="username"
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <TextField
            label="Password"
            name="password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          {problem && (
            <div className="notice bad" role="alert">
              {problem.detail}
            </div>
          )}
          <Button type="submit" variant="contained" disabled={busy || !name || !password}>
            Sign in
          </Button>
        </form>
      </main>
    </div>
  );
}
