'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { PictureChoice } from './PictureChoice';
import { usePlansWritten, type FloorPlan } from './useFloorPlans';

/**
 * A new plan of a floor, or another name, site or picture for one that is there; what is drawn on it stays where it is.
 * @param site proposed
 * @param plan the one to be changed
 */
export function PlanDialog({
  site: proposed,
  plan,
  onClose,
}: {
  site: string;
  plan?: FloorPlan['plan'];
  onClose: (written: number | null) => void;
}) {
  const written = usePlansWritten();
  const [site, setSite] = useState(plan?.site ?? proposed);
  const [name, setName] = useState(plan?.name ?? '');
  const [picture, setPicture] = useState<{ make: () => Promise<Blob> } | null>(null);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const at = (path: string) => problem?.errors.find((error) => error.path === path)?.message;
  const add = async () =>
    (
      await call<{ id: number }>(`plans?${new URLSearchParams({ site: site.trim(), name: name.trim() }).toString()}`, {
        method: 'POST',
        body: await picture?.make(),
      })
    ).id;
  const change = async ({ id, revision, layout }: FloorPlan['plan']) => {
    // what cannot be made into a picture is found before anything is written
    const made = await picture?.make();
    await call(`plans/${id}`, { method: 'PUT', body: { site: site.trim(), name: name.trim(), revision, ...layout } });
    if (made) await call(`plans/${id}/picture`, { method: 'PUT', body: made });
    return id;
  };
  const save = async () => {
    setBusy(true);
    try {
      const id = plan ? await change(plan) : await add();
      await written();
      return onClose(id);
    } catch (error) {
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  return (
    <Dialog open onClose={() => onClose(null)} maxWidth="sm" fullWidth aria-labelledby="newplan-title">
      <DialogTitle id="newplan-title">{plan ? `Change the plan ${plan.name}` : 'Add a floor plan'}</DialogTitle>
      <DialogContent>
        <form
          id="new-plan"
          className="form"
          style={{ paddingTop: 8 }}
          onSubmit={(event) => {
            event.preventDefault();
            void save();
          }}
        >
          <div className="pair">
            <TextField
              label="Site"
              name="planSite"
              value={site}
              error={Boolean(at('site'))}
              helperText={at('site') ?? 'as devices name it'}
              onChange={(event) => setSite(event.target.value)}
            />
            <TextField
              label="Name"
              name="planName"
              value={name}
              error={Boolean(at('name'))}
              helperText={at('name') ?? 'such as “ground floor”'}
              onChange={(event) => setName(event.target.value)}
            />
          </div>
          {plan && (
            <p className="quiet small">
              Another picture of the same floor may be chosen; rooms, devices and outlets keep their places on it.
            </p>
          )}
          <PictureChoice disabled={busy} onPicture={(make) => setPicture(make && { make })} />
          {problem && problem.errors.length === 0 && (
            <p role="alert" className="bad">
              {problem.detail}
            </p>
          )}
        </form>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={() => onClose(null)}>
          Leave it
        </Button>
        <Button variant="contained" type="submit" form="new-plan" disabled={busy || (!plan && !picture)}>
          {plan ? 'Save' : 'Add the plan'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
