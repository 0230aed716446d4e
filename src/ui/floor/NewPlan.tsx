'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { call, type ApiProblem } from '../kit/api';
import { PictureChoice } from './PictureChoice';
import { usePlansWritten } from './useFloorPlans';

/** A new plan of a floor. @param site proposed */
export function NewPlan({ site: proposed, onClose }: { site: string; onClose: (made: number | null) => void }) {
  const written = usePlansWritten();
  const [site, setSite] = useState(proposed);
  const [name, setName] = useState('');
  const [picture, setPicture] = useState<{ make: () => Promise<Blob> } | null>(null);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const at = (path: string) => problem?.errors.find((error) => error.path === path)?.message;
  const save = async () => {
    if (!picture) return;
    setBusy(true);
    try {
      const { id } = await call<{ id: number }>(`plans?${new URLSearchParams({ site: site.trim(), name: name.trim() }).toString()}`, { method: 'POST', body: await picture.make() });
      await written();
      return onClose(id);
    } catch (error) {
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  return (
    <Dialog open onClose={() => onClose(null)} maxWidth="sm" fullWidth aria-labelledby="newplan-title">
      <DialogTitle id="newplan-title">Add a floor plan</DialogTitle>
      <DialogContent>
        <form id="new-plan" className="form" style={{ paddingTop: 8 }} onSubmit={(event) => { event.preventDefault(); void save(); }}>
          <div className="pair">
            <TextField label="Site" name="planSite" value={site} error={Boolean(at('site'))} helperText={at('site') ?? 'as devices name it'} onChange={(event) => setSite(event.target.value)} />
            <TextField label="Name" name="planName" value={name} error={Boolean(at('name'))} helperText={at('name') ?? 'such as “ground floor”'} onChange={(event) => setName(event.target.value)} />
          </div>
          <PictureChoice disabled={busy} onPicture={(make) => setPicture(make && { make })} />
          {problem && problem.errors.length === 0 && <p role="alert" className="bad">{problem.detail}</p>}
        </form>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={() => onClose(null)}>Leave it</Button>
        <Button variant="contained" type="submit" form="new-plan" disabled={busy || !picture}>Add the plan</Button>
      </DialogActions>
    </Dialog>
  );
}
