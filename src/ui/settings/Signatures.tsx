'use client';

import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@/ui/components/Link';
import { useState } from 'react';
import { readSignature } from '@/core/signatures/signatureSchema';
import type { Signature } from '@/core/signatures/signature';
import { type ApiProblem, call } from '../lib/api';
import { useMayConfigure, useMayEdit } from '../lib/person';
import { TextButton } from '../components/TextButton';

interface Listed {
  rows: { id: string; devices: number; signature: Signature }[];
  unknown: { deviceId: number; device: string; started: Signature }[];
}
interface Trial {
  rows: {
    deviceId: number;
    device: string;
    now: string;
    vendor: string;
    role: string;
    model: string;
    release: string;
    serial: string;
    differs: string[];
  }[];
  total: number;
}

const written = (signature: Signature) => JSON.stringify(signature, null, 2);

/** The rules by which devices are recognised: read, change, and try on what is known before saving. */
export function Signatures() {
  const mayConfigure = useMayConfigure();
  const mayEdit = useMayEdit();
  const client = useQueryClient();
  const list = useQuery<Listed, ApiProblem>({ queryKey: ['signatures'], queryFn: () => call<Listed>('signatures') });
  const [text, setText] = useState<string | null>(null);
  const [mistakes, setMistakes] = useState<string[]>([]);
  const [trial, setTrial] = useState<Trial | null>(null);
  const [saved, setSaved] = useState('');
  const open = (signature: Signature) => {
    setText(written(signature));
    setMistakes([]);
    setTrial(null);
    setSaved('');
  };
  const read = (): Signature | null => {
    let value: unknown;
    try {
      value = JSON.parse(text ?? '');
    } catch (error) {
      setMistakes([`This is no JSON: ${(error as Error).message}`]);
      return null;
    }
    const checked = readSignature(value);
    setMistakes(
      'mistakes' in checked
        ? checked.mistakes.map(({ path, message }) =>
            path && !message.startsWith(path) ? `${path}: ${message}` : message,
          )
        : [],
    );
    return 'signature' in checked ? checked.signature : null;
  };
  const send = async (act: (signature: Signature) => Promise<void>) => {
    setSaved('');
    const signature = read();
    if (!signature) return;
    try {
      await act(signature);
    } catch (error) {
      setMistakes([(error as ApiProblem).words]);
    }
  };
  const tryIt = () =>
    send(async (signature) => setTrial(await call<Trial>('signatures/try', { method: 'POST', body: signature })));
  const save = () =>
    send(async (signature) => {
      await call('signatures', { method: 'POST', body: signature });
      setSaved(`Saved. The next survey recognises devices by it.`);
      await client.invalidateQueries({ queryKey: ['signatures'] });
    });
  return (
    <section style={{ padding: '0 16px 24px' }} aria-label="Signatures">
      {list.error && <p className="quiet">{list.error.detail}</p>}
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(240px, 340px) minmax(0, 1fr)', gap: 24 }}>
        <div>
          <table className="plain">
            <thead>
              <tr>
                <th>Signature</th>
                <th>Devices</th>
              </tr>
            </thead>
            <tbody>
              {list.data?.rows.map(({ id, devices, signature }) => (
                <tr key={id}>
                  <td>
                    <TextButton onClick={() => open(signature)}>{id}</TextButton>
                  </td>
                  <td>{devices}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {list.data && list.data.unknown.length > 0 && (
            <>
              <h3 style={{ marginTop: 14 }}>Known by no signature of its own</h3>
              <ul className="small">
                {list.data.unknown.map(({ deviceId, device, started }) => (
                  <li key={deviceId} style={{ padding: '2px 0' }}>
                    <TextButton onClick={() => open(started)}>{device}: begin one</TextButton>
                  </li>
                ))}
              </ul>
            </>
          )}
        </div>
        <div>
          {text === null ? (
            <p className="quiet">
              {mayConfigure ? 'Choose a signature to read or change it.' : 'Choose a signature to read it.'} A changed
              one is kept beside your data and takes the place of the program’s own.
            </p>
          ) : (
            <>
              <TextField
                label="Signature"
                multiline
                fullWidth
                minRows={10}
                maxRows={24}
                value={text}
                error={mistakes.length > 0}
                helperText={mistakes.join('\n')}
                onChange={(event) => setText(event.target.value)}
                slotProps={{
                  input: { sx: { fontFamily: "'JetBrains Mono Variable', monospace", fontSize: 12 } },
                  htmlInput: { spellCheck: false, name: 'signature' },
                  formHelperText: { style: { whiteSpace: 'pre-line' } },
                }}
              />
              <div style={{ display: 'flex', gap: 10, padding: '10px 0', alignItems: 'center' }}>
                {mayEdit && (
                  <Button variant="outlined" onClick={() => void tryIt()}>
                    Try it
                  </Button>
                )}
                {mayConfigure && (
                  <Button variant="contained" onClick={() => void save()}>
                    Save the signature
                  </Button>
                )}
                {saved && (
                  <span role="status" className="quiet">
                    {saved}
                  </span>
                )}
              </div>
              {trial && (
                <div aria-live="polite">
                  <p>
                    {trial.total === 0
                      ? 'It would recognise no device that is known.'
                      : `It would recognise ${trial.total} ${trial.total === 1 ? 'device' : 'devices'}.`}
                  </p>
                  {trial.total > 0 && (
                    <table className="plain">
                      <thead>
                        <tr>
                          <th>Device</th>
                          <th>Maker</th>
                          <th>Role</th>
                          <th>Model</th>
                          <th>Release</th>
                          <th>Serial</th>
                          <th>Different from now</th>
                        </tr>
                      </thead>
                      <tbody>
                        {trial.rows.slice(0, 50).map((row) => (
                          <tr key={row.deviceId}>
                            <td>
                              <Link href={`/estate/${row.deviceId}`}>{row.device}</Link>
                            </td>
                            <td>{row.vendor}</td>
                            <td>{row.role}</td>
                            <td>{row.model}</td>
                            <td className="mono">{row.release}</td>
                            <td className="mono">{row.serial}</td>
                            <td>{row.differs.join(', ') || <span className="quiet">nothing</span>}</td>
                          </tr>
                        ))}
                      </tbody>
                    </table>
                  )}
                </div>
              )}
            </>
          )}
        </div>
      </div>
    </section>
  );
}
