'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { ago, moment } from '../../lib/format';
import { useMayEdit } from '../../lib/person';
import { TextButton } from '../../components/TextButton';
import { CloseFoot } from '../../components/dialogFeet';

interface Identity {
  doubtful: { survey: number; at: string; words: string }[];
  candidates: { id: number; name: string; words: string; earlier: boolean }[];
  decisions: { id: number; at: string; who: string; kind: 'split' | 'join'; words: string; undone: boolean }[];
}

/** Is this one device? Where it may have become another, which others may be it, and what was decided; each decision can be taken back. */
export function IdentityDialog({ id, name, onClose }: { id: string; name: string; onClose: () => void }) {
  const client = useQueryClient();
  const view = useView();
  const mayEdit = useMayEdit();
  const [told, setTold] = useState('');
  const { data } = useQuery<Identity, ApiProblem>({
    queryKey: ['identity', id],
    queryFn: () => call<Identity>(`identities/${id}`),
  });
  const decide = async (words: string, path: string, body: object) => {
    try {
      const { device, other } = await call<{ device: number; other?: number }>(path, { method: 'POST', body });
      setTold(words);
      // what is there now is the later of two that were parted
      const now = 'kind' in body && body.kind === 'split' ? other : device;
      if (view.survey === null) view.set({ sel: `device:${now ?? device}` });
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await client.invalidateQueries();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="identity-title">
      <DialogTitle id="identity-title">Is {name} one device?</DialogTitle>
      <DialogContent>
        <p className="quiet">
          A device is known again by its serial, its management engine, or its name with its address. Where that was
          wrong, say so: what each survey found goes to the right one, for all surveys.
        </p>
        {!data ? (
          <p className="quiet">looking…</p>
        ) : (
          <>
            <section className="section">
              <h3>Taken for one, but two</h3>
              {data.doubtful.length === 0 ? (
                <p className="small quiet">Serial, name, model and address never changed.</p>
              ) : (
                <table className="plain">
                  <tbody>
                    {data.doubtful.map(({ survey, at, words }) => (
                      <tr key={survey}>
                        <td>{moment(at)}</td>
                        <td>{words}</td>
                        <td>
                          {mayEdit && (
                            <TextButton
                              onClick={() =>
                                void decide(
                                  'Parted: what came before and what came after are two devices.',
                                  'identities',
                                  { kind: 'split', device: Number(id), survey },
                                )
                              }
                            >
                              Another device from then on
                            </TextButton>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
            </section>
            <section className="section">
              <h3>Taken for two, but one</h3>
              {data.candidates.length === 0 ? (
                <p className="small quiet">
                  No other device shares anything with it and was never there at the same time.
                </p>
              ) : (
                <table className="plain">
                  <tbody>
                    {data.candidates.map(({ id: other, name: called, words, earlier }) => (
                      <tr key={other}>
                        <td>{called}</td>
                        <td className="quiet">{words}</td>
                        <td>
                          {mayEdit && (
                            <TextButton
                              onClick={() =>
                                void decide(
                                  'Put together.',
                                  'identities',
                                  earlier
                                    ? { kind: 'join', device: other, other: Number(id) }
                                    : { kind: 'join', device: Number(id), other },
                                )
                              }
                            >
                              {earlier ? 'It was this before' : 'It became this'}
                            </TextButton>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
            </section>
            {data.decisions.length > 0 && (
              <section className="section">
                <h3>Decided</h3>
                <table className="plain">
                  <tbody>
                    {data.decisions.map(({ id: decision, at, who, words, undone }) => (
                      <tr key={decision}>
                        <td>{words}</td>
                        <td className="quiet">
                          {who}, {ago(at)}
                        </td>
                        <td>
                          {undone ? (
                            <span className="quiet">taken back</span>
                          ) : (
                            mayEdit && (
                              <TextButton onClick={() => void decide('Taken back.', `identities/${decision}/undo`, {})}>
                                Undo
                              </TextButton>
                            )
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </section>
            )}
          </>
        )}
        {told && <p role="status">{told}</p>}
      </DialogContent>
      <CloseFoot onClose={onClose} />
    </Dialog>
  );
}
