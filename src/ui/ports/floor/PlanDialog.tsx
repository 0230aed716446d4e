'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { PictureChoice } from './PictureChoice';
import { usePlansWritten, type FloorPlan } from './useFloorPlans';
import { SaveFoot } from '../../components/dialogFeet';

interface Draft {
  site: string;
  name: string;
}

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
  const [picture, setPicture] = useState<{ make: () => Promise<Blob> } | null>(null);
  const add = async ({ site, name }: Draft) => {
    const body = await picture?.make();
    const query = new URLSearchParams({ site, name }).toString();
    return (await call<{ id: number }>(`plans?${query}`, { method: 'POST', body })).id;
  };
  const change = async ({ site, name }: Draft, { id, revision, layout }: FloorPlan['plan']) => {
    // what cannot be made into a picture is found before anything is written
    const made = await picture?.make();
    await call(`plans/${id}`, { method: 'PUT', body: { site, name, revision, ...layout } });
    if (made) await call(`plans/${id}/picture`, { method: 'PUT', body: made });
    return id;
  };
  const saving = useSavingForm<Draft, number>({
    values: { site: plan?.site ?? proposed, name: plan?.name ?? '' },
    save: (draft) => (plan ? change(draft, plan) : add(draft)),
    done: async (id) => {
      await written();
      onClose(id);
      return undefined;
    },
  });
  return (
    <Dialog open onClose={() => onClose(null)} maxWidth="sm" fullWidth aria-labelledby="newplan-title">
      <DialogTitle id="newplan-title">{plan ? `Change the plan ${plan.name}` : 'Add a floor plan'}</DialogTitle>
      <DialogContent>
        <SavingForm of={saving} prefix="plan" id="new-plan" style={{ paddingTop: 8 }}>
          <div className="pair">
            <TextInput name="site" label="Site" help="as devices name it" />
            <TextInput name="name" label="Name" help="such as “ground floor”" />
          </div>
          {plan && (
            <p className="quiet small">
              Another picture of the same floor may be chosen; rooms, devices and outlets keep their places on it.
            </p>
          )}
          <PictureChoice disabled={saving.isBusy} onPicture={(make) => setPicture(make && { make })} />
        </SavingForm>
      </DialogContent>
      <SaveFoot form="new-plan" disabled={saving.isBusy || (!plan && !picture)} onLeave={() => onClose(null)}>
        {plan ? 'Save' : 'Add the plan'}
      </SaveFoot>
    </Dialog>
  );
}
