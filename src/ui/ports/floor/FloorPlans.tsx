'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { tellDone } from '../../features/edits/doneTray';
import { useView } from '../../lib/useView';
import { call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { ProblemNote } from '../../components/ProblemNote';
import { PlanDrawing } from './PlanDrawing';
import { PlanView } from './PlanView';
import { useFloorPlan, useFloorPlans, usePlansWritten } from './useFloorPlans';
import { TextButton } from '../../components/TextButton';
import { fetched } from '../../lib/fetched';

const PlanDialog = fetched(() => import('./PlanDialog').then((module) => module.PlanDialog));
const OutletsDialog = fetched(() =>
  import('../../features/outlets/OutletsDialog').then((module) => module.OutletsDialog),
);

/** Where on a floor is it, and how is it there? */
export function FloorPlans() {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = usePlansWritten();
  const plans = useFloorPlans();
  const [dialog, setDialog] = useState<'plan' | 'change' | 'outlets' | null>(null);
  const [drawing, setDrawing] = useState(false);
  const list = plans.data ?? [];
  const id = list.find((one) => String(one.id) === view.plan)?.id ?? list[0]?.id ?? null;
  const found = useFloorPlan(id);
  const plan = found.data?.plan.id === id ? found.data : undefined;
  const remove = async () => {
    if (id === null || !plan) return;
    const { name } = await call<{ name: string }>(`plans/${id}`, { method: 'DELETE' });
    tellDone(`Deleted the plan ${name}.`, async () => {
      await call(`plans/${id}/restore`, { method: 'POST', body: {} });
      await written();
      return `The plan ${name} is there again.`;
    });
    view.set({ plan: null, sel: null });
    await written();
  };
  const problem = plans.error ?? found.error;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>{plan ? plan.plan.name : 'Floor plans'}</h1>
          {plan && <span className="quiet">{plan.plan.site}</span>}
          {list.length > 1 && (
            <TextField
              select
              size="small"
              value={id ?? ''}
              disabled={drawing}
              sx={{ width: 220, '& .MuiOutlinedInput-root': { height: 28, fontSize: 13 } }}
              slotProps={{ htmlInput: { 'aria-label': 'Floor plan' } }}
              onChange={(event) => view.set({ plan: String(event.target.value), sel: null })}
            >
              {list.map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {one.site}, {one.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          {mayEdit && plan && !drawing && <TextButton onClick={() => setDrawing(true)}>Draw on it</TextButton>}
          {mayEdit && !drawing && <TextButton onClick={() => setDialog('outlets')}>Outlets</TextButton>}
          {mayEdit && !drawing && list.length > 0 && (
            <TextButton onClick={() => setDialog('plan')}>Add a plan</TextButton>
          )}
          {mayEdit && plan && !drawing && <TextButton onClick={() => setDialog('change')}>Change</TextButton>}
          {mayEdit && plan && !drawing && <TextButton onClick={() => void remove()}>Delete the plan</TextButton>}
          <Link href={view.href('/ports', { of: null })}>Ports</Link>
          {plan && (
            <span className="quiet small end">
              {plan.plan.layout.rooms.length} rooms, {plan.devices.length} devices, {plan.outlets.length} outlets
            </span>
          )}
        </div>
        {problem && <ProblemNote problem={problem} />}
        {plans.data && list.length === 0 && (
          <div className="empty">
            <h2>No floor plan is there yet</h2>
            <p className="quiet">
              Add the picture of a floor or a page of a PDF, place devices and outlets on it, and draw rooms: then every
              port says where its wire ends.
            </p>
            {mayEdit && (
              <p>
                <Button variant="contained" onClick={() => setDialog('plan')}>
                  Add a floor plan
                </Button>
              </p>
            )}
          </div>
        )}
        {plan &&
          (drawing ? (
            <PlanDrawing key={`${plan.plan.id} ${plan.plan.revision}`} found={plan} onDone={() => setDrawing(false)} />
          ) : (
            <PlanView.Canvas found={plan} />
          ))}
      </main>
      {plan && !drawing && <PlanView.Side found={plan} />}
      {dialog === 'change' && plan && (
        <PlanDialog site={plan.plan.site} plan={plan.plan} onClose={() => setDialog(null)} />
      )}
      {dialog === 'plan' && (
        <PlanDialog
          site={plan?.plan.site ?? ''}
          onClose={(made) => {
            setDialog(null);
            if (made !== null) {
              view.set({ plan: String(made), sel: null });
              setDrawing(true);
            }
          }}
        />
      )}
      {dialog === 'outlets' && (
        <OutletsDialog proposed={{ site: plan?.plan.site ?? '' }} onClose={() => setDialog(null)} />
      )}
    </div>
  );
}
