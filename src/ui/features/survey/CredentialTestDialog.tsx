'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { Glyph, outcomeGlyph } from '../../components/Glyph';
import type { SavedScope, ShownCredential } from './savedRows';

interface TestResult {
  outcome: string;
  reason: string;
  remedy: string;
  name: string;
  description: string;
  tells: string[];
  milliseconds: number;
}
interface Job {
  state: string;
  error: string | null;
  result: TestResult | null;
}

const pollMs = 250;

/** Tries one credential at one address and says what it opens, or what to do. */
export function CredentialTestDialog({
  credential,
  scopes,
  onClose,
}: {
  credential: ShownCredential;
  scopes: SavedScope[];
  onClose: () => void;
}) {
  const [address, setAddress] = useState('');
  const [scopeId, setScopeId] = useState(
    scopes.find(({ scope }) => scope.credentials.includes(credential.name))?.id ?? scopes[0]?.id ?? 0,
  );
  const [asking, setAsking] = useState(false);
  const [mistake, setMistake] = useState('');
  const [result, setResult] = useState<TestResult | null>(null);
  const ask = async () => {
    setMistake('');
    setResult(null);
    setAsking(true);
    try {
      const { jobId } = await call<{ jobId: number }>(`credentials/${credential.id}/test`, {
        method: 'POST',
        body: { address: address.trim(), scopeId: scopeId || null },
      });
      for (;;) {
        const job = await call<Job>(`jobs/${jobId}`);
        if (job.state === 'failed') throw new Error(job.error ?? 'the test failed');
        if (job.result) return setResult(job.result);
        await new Promise((resolve) => setTimeout(resolve, pollMs));
      }
    } catch (error) {
      setMistake((error as ApiProblem).words ?? (error as Error).message);
    } finally {
      setAsking(false);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="test-title">
      <DialogTitle id="test-title">Test {credential.name}</DialogTitle>
      <DialogContent>
        <form
          id="credential-test"
          className="form"
          style={{ paddingTop: 8 }}
          onSubmit={(event) => {
            event.preventDefault();
            void ask();
          }}
        >
          <TextField
            label="Address"
            name="address"
            autoFocus
            value={address}
            error={mistake !== ''}
            helperText={mistake || 'one device that should let it in'}
            onChange={(event) => setAddress(event.target.value)}
            slotProps={{
              htmlInput: { spellCheck: false, style: { fontFamily: "'JetBrains Mono Variable', monospace" } },
            }}
          />
          {scopes.length > 0 && (
            <TextField
              label="Ports and translation of"
              name="scope"
              select
              value={scopeId}
              onChange={(event) => setScopeId(Number(event.target.value))}
            >
              {scopes.map(({ id, scope }) => (
                <MenuItem key={id} value={id}>
                  {scope.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <div aria-live="polite" style={{ minHeight: 84 }}>
            {asking && <p className="quiet">asking {address.trim()}…</p>}
            {result && (
              <>
                <p>
                  <span className="state">
                    <Glyph name={outcomeGlyph(result.outcome)} />
                    <b style={{ fontWeight: 600 }}>
                      {result.outcome === 'answered' ? 'It lets this credential in' : result.reason}
                    </b>
                  </span>{' '}
                  <span className="quiet small">{result.milliseconds} ms</span>
                </p>
                {result.remedy && <p className="small">{result.remedy}</p>}
                {result.name && (
                  <p className="small">
                    <b style={{ fontWeight: 600 }}>{result.name}</b> <span className="quiet">{result.description}</span>
                  </p>
                )}
                {result.tells.length > 0 && <p className="small quiet">It can tell: {result.tells.join(', ')}.</p>}
              </>
            )}
          </div>
        </form>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Close
        </Button>
        <Button variant="contained" type="submit" form="credential-test" disabled={asking || address.trim() === ''}>
          Ask
        </Button>
      </DialogActions>
    </Dialog>
  );
}
