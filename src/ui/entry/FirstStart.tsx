'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState, type FormEvent } from 'react';
import { nameMistake, passwordMistake, passwordRule } from '@/core/values/password';
import { type ApiProblem, call } from '../lib/api';
import { Mark } from '../components/Mark';

/** First start: the administrator is made here, once. */
export function FirstStart() {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [confirmation, setConfirmation] = useState('');
  const [tried, setTried] = useState(false);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const mistakes = {
    name: nameMistake(name),
    password: passwordMistake(password, name),
    confirmation: password === confirmation ? null : 'The two passwords differ',
  };
  const told = (field: keyof typeof mistakes) =>
    (tried ? mistakes[field] : null) ?? problem?.errors.find(({ path }) => path === field)?.message;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (Object.values(mistakes).some(Boolean)) return;
    try {
      await call('setup', { method: 'POST', body: { name, password, confirmation } });
      window.location.assign('/begin');
    } catch (error) {
      setProblem(error as ApiProblem);
    }
  };
  return (
    <div className="entry">
      <main>
        <span className="brand">
          <Mark />
          Bolide
        </span>
        <h1>Make the administrator</h1>
        <p className="quiet">
          Nobody can sign in yet. This person may configure everything and add others. Next come mail, credentials,
          ranges and the first survey.
        </p>
        <form className="form" noValidate onSubmit={(event) => void submit(event)} style={{ marginTop: 18 }}>
          <TextField
            label="Name"
            name="name"
            autoComplete="username"
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
            error={Boolean(told('name'))}
            helperText={told('name')}
          />
          <TextField
            label="Password"
            name="password"
            type="password"
            autoComplete="new-password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            error={Boolean(told('password'))}
            helperText={told('password') ?? passwordRule}
          />
          <TextField
            label="Password again"
            name="confirmation"
            type="password"
            autoComplete="new-password"
            value={confirmation}
            onChange={(event) => setConfirmation(event.target.value)}
            error={Boolean(told('confirmation'))}
            helperText={told('confirmation')}
          />
          {problem && problem.errors.length === 0 && (
            <div className="notice bad" role="alert">
              {problem.detail}
            </div>
          )}
          <Button type="submit" variant="contained">
            Make the administrator
          </Button>
        </form>
      </main>
    </div>
  );
}
