'use client';

import { useMemo, useState } from 'react';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { Glyph } from '../../components/Glyph';
import { Panel } from '../../components/Panel';
import { useMayEdit } from '../../lib/person';
import { PlanCanvas } from './PlanCanvas';
import { PlanList } from './PlanList';
import { shownMarks } from './planMarks';
import type { FloorPlan } from './useFloorPlans';
import { TextButton } from '../../components/TextButton';
import { fetched } from '../../lib/fetched';

const OutletsDialog = fetched(() =>
  import('../../features/outlets/OutletsDialog').then((module) => module.OutletsDialog),
);

export const pictureOf = ({ plan }: Pick<FloorPlan, 'plan'>): string =>
  `/api/v1/plans/${plan.id}/picture?revision=${plan.revision}`;
const labelOf = ({ plan }: Pick<FloorPlan, 'plan'>): string =>
  `Floor plan ${plan.name} of ${plan.site}. Arrow keys go from mark to mark, + and − zoom, 0 shows all of it. The list beside it says the same.`;

function Canvas({ found }: { found: FloorPlan }) {
  const view = useView();
  const marks = useMemo(() => shownMarks(found.plan.layout.marks, found), [found]);
  return (
    <PlanCanvas
      source={pictureOf(found)}
      width={found.plan.width}
      height={found.plan.height}
      rooms={found.plan.layout.rooms}
      marks={marks}
      chosen={view.sel}
      onChoose={(mark) => view.set({ sel: mark?.sel ?? null })}
      drawn={null}
      label={labelOf(found)}
    />
  );
}

/** Beside the plan: what stands on it, or the dossier of what is chosen. */
function Side({ found }: { found: FloorPlan }) {
  const view = useView();
  const marks = useMemo(() => shownMarks(found.plan.layout.marks, found), [found]);
  const [, kind, id] = /^(device|port|outlet):(.+)$/s.exec(view.sel ?? '') ?? [];
  const back = (
    <p className="small">
      <TextButton onClick={() => view.set({ sel: null })}>all that stands on the plan</TextButton>
    </p>
  );
  if (kind === 'device' && id)
    return (
      <Panel label="Device">
        {back}
        <AnyDossier thing="devices" id={id} />
      </Panel>
    );
  if (kind === 'port' && id)
    return (
      <Panel label="Port">
        {back}
        <AnyDossier thing="ports" id={id} />
      </Panel>
    );
  const outlet = kind === 'outlet' ? found.outlets.find((one) => String(one.id) === id) : undefined;
  if (outlet)
    return (
      <Panel label="Outlet">
        {back}
        <LooseOutlet outlet={outlet} />
      </Panel>
    );
  return (
    <Panel label="On the plan">
      <h2>On the plan</h2>
      {marks.length === 0 && (
        <p className="quiet">Nothing stands on it yet: draw on it to place devices and outlets.</p>
      )}
      <PlanList
        rooms={found.plan.layout.rooms}
        marks={marks}
        chosen={view.sel}
        onChoose={({ sel }) => view.set({ sel })}
      />
    </Panel>
  );
}

/** An outlet that is patched to nothing. */
function LooseOutlet({ outlet }: { outlet: FloorPlan['outlets'][number] }) {
  const mayEdit = useMayEdit();
  const view = useView();
  const [open, setOpen] = useState(false);
  return (
    <>
      <div className="small quiet">outlet of {outlet.site}</div>
      <h2>{outlet.label}</h2>
      <dl className="facts">
        <dt>State</dt>
        <dd>
          <span className="state">
            <Glyph name="unknown" />
            {outlet.port ? 'its port is not in this survey' : 'patched to nothing'}
          </span>
        </dd>
        <dt>Room</dt>
        <dd>{outlet.room || '–'}</dd>
        <dt>Patch panel</dt>
        <dd>{outlet.way || '–'}</dd>
        {outlet.note && (
          <>
            <dt>Note</dt>
            <dd>{outlet.note}</dd>
          </>
        )}
      </dl>
      {mayEdit && (
        <p style={{ marginTop: 8 }}>
          <TextButton onClick={() => setOpen(true)}>Change</TextButton>
        </p>
      )}
      <p className="small quiet" style={{ marginTop: 8 }}>
        Free ports are found under{' '}
        <Link href={view.href('/ports', { of: null, where: 'oper!=up', sel: null })}>Ports</Link>.
      </p>
      {open && <OutletsDialog editing={outlet} onClose={() => setOpen(false)} />}
    </>
  );
}

export const PlanView = { Canvas, Side };
