'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { approvalWords, placesAsked, together, unapproved, type Approval } from '@/core/estate/approval';
import { scopeDefaults } from '@/core/estate/scope';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { ApiProblem, call } from '../../lib/api';
import { useMayConfigure } from '../../lib/person';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../edits/useWritten';
import { Glyph, outcomeGlyph } from '../../components/Glyph';
import type { SavedScope, ShownCredential } from './savedRows';
import { useCredentials } from './useScopes';

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

interface Draft {
  address: string;
  scopeId: string;
}

/** What came of a test, once it is over. @throws ApiProblem */
async function resultOf(jobId: number): Promise<TestResult> {
  for (;;) {
    const job = await call<Job>(`jobs/${jobId}`);
    if (job.state === 'failed') throw new ApiProblem(500, 'Failed', job.error ?? 'the test failed', []);
    if (job.result) return job.result;
    await new Promise((resolve) => setTimeout(resolve, pollMs));
  }
}

const isAnything = ({ prefixes, ports }: Approval): boolean => prefixes.length + ports.length > 0;

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
  const [result, setResult] = useState<TestResult | null>(null);
  const own = scopes.find(({ scope }) => scope.credentials.includes(credential.name)) ?? scopes[0];
  const saving = useSavingForm<Draft, TestResult>({
    values: { address: '', scopeId: own ? String(own.id) : '' },
    save: async ({ address, scopeId }) => {
      setResult(null);
      const body = { address, scopeId: scopeId === '' ? null : Number(scopeId) };
      const { jobId } = await call<{ jobId: number }>(`credentials/${credential.id}/test`, { method: 'POST', body });
      return resultOf(jobId);
    },
    done: (answer) => {
      setResult(answer);
      return undefined;
    },
  });
  const { address, scopeId: chosen } = saving.form.watch();
  const mayConfigure = useMayConfigure();
  const now = useCredentials(true).data?.find(({ id }) => id === credential.id) ?? credential;
  const asked = scopes.find(({ id }) => String(id) === chosen)?.scope ?? scopeDefaults;
  const places = placesAsked({ ...asked, ranges: [address.trim()], neighbourSteps: 0 }, credential.kind);
  const isKeptBack = isAnything(unapproved(now.approved, places));
  const written = useWritten();
  const approve = async () => {
    const body = together(now.approved, places);
    try {
      await call(`credentials/${credential.id}/approved`, { method: 'PUT', body, seen: now.version });
      await written();
      saving.submit();
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setResult((before) => before && { ...before, reason: error.words, remedy: '' });
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="test-title">
      <DialogTitle id="test-title">Test {credential.name}</DialogTitle>
      <DialogContent>
        <SavingForm of={saving} id="credential-test" style={{ paddingTop: 8 }}>
          <TextInput name="address" label="Address" help="one device that should let it in" mono autoFocus />
          {scopes.length > 0 && (
            <SelectInput
              name="scopeId"
              label="Ports and translation of"
              choices={scopes.map(({ id, scope }) => ({ value: String(id), words: scope.name }))}
            />
          )}
          <div aria-live="polite" style={{ minHeight: 84 }}>
            {saving.isBusy && <p className="quiet">asking {address.trim()}…</p>}
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
                {isKeptBack && mayConfigure && result.outcome !== 'answered' && (
                  <TextButton onClick={() => void approve()}>Approve {approvalWords(places)} and ask again</TextButton>
                )}
                {result.name && (
                  <p className="small">
                    <b style={{ fontWeight: 600 }}>{result.name}</b> <span className="quiet">{result.description}</span>
                  </p>
                )}
                {result.tells.length > 0 && <p className="small quiet">It can tell: {result.tells.join(', ')}.</p>}
              </>
            )}
          </div>
        </SavingForm>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Close
        </Button>
        <Button
          variant="contained"
          type="submit"
          form="credential-test"
          disabled={saving.isBusy || address.trim() === ''}
        >
          Ask
        </Button>
      </DialogActions>
    </Dialog>
  );
}
