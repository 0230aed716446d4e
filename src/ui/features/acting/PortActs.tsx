'use client';

import { useState } from 'react';
import { actWords, offSecondsRange, reverseOf, type PortAct, type PortSettings } from '@/core/acting/portAct';
import { sealedOf, useSurveys } from '../../lib/useSurveys';
import { useView } from '../../lib/useView';
import type { ThingRow } from '../../lib/api';
import { Ago } from '../../components/Ago';
import { moment } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { useMayEdit } from '../../lib/person';
import { actGlyph, actHeadline } from './ActOutcome';
import { usePortActs, type PortActRow } from './usePortActs';
import { TextButton } from '../../components/TextButton';
import { Hint } from '../../components/Hint';
import { fetched } from '../../lib/fetched';

const PortActDialog = fetched(() => import('./PortActDialog').then((module) => module.PortActDialog));

const names = {
  shut: 'Shut',
  enable: 'Enable',
  powerOff: 'Power off',
  powerOn: 'Power on',
  powerCycle: 'Power-cycle',
  alias: 'Change alias',
} as const;
const shownActs = 5;

/** What one may do to a port, and what was done to it. */
export function PortActs({ port, device }: { port: ThingRow; device: string }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const newest = sealedOf(useSurveys().data).at(-1);
  const acts = usePortActs(port.id).data ?? [];
  const [open, setOpen] = useState<{ act: PortAct; undoes: number | null } | null>(null);
  const past = view.survey !== null && newest !== undefined && view.survey !== String(newest.id);
  const since = acts.filter(({ at, after }) => after !== null && at > (newest?.sealedAt ?? ''));
  const offered = past ? [] : offeredActs(port, since[0]?.after ?? null);
  if (!mayEdit && acts.length === 0) return null;
  return (
    <section className="section">
      <h3>Act on it</h3>
      {mayEdit && past && (
        <p className="small quiet">An earlier survey is shown: ports are acted on as they are now.</p>
      )}
      {mayEdit && !past && (
        <p>
          {offered.map((act, nth) => (
            <span key={act.kind}>
              {nth > 0 && ' · '}
              <TextButton onClick={() => setOpen({ act, undoes: null })}>{names[act.kind]}</TextButton>
            </span>
          ))}
        </p>
      )}
      {mayEdit && !past && poweringDoubt(port) && (
        <p className="small quiet">Its power is not switched from here: {poweringDoubt(port)}.</p>
      )}
      {acts.slice(0, shownActs).map((row, nth) => (
        <ActLine
          key={row.id}
          row={row}
          onUndo={nth === 0 && mayEdit && !past ? (act) => setOpen({ act, undoes: row.id }) : null}
        />
      ))}
      {acts.length > shownActs && <p className="small quiet">and {acts.length - shownActs} before</p>}
      {open && (
        <PortActDialog
          port={port.id}
          device={device}
          name={String(port.name)}
          act={open.act}
          undoes={open.undoes}
          onClose={() => setOpen(null)}
        />
      )}
    </section>
  );
}

function ActLine({ row, onUndo }: { row: PortActRow; onUndo: ((act: PortAct) => void) | null }) {
  const back = row.state === 'done' && !row.undoneBy ? reverseOf(row.act, row.seen) : null;
  return (
    <p className="small" style={{ padding: '2px 0' }}>
      <span className="state">
        <Glyph name={actGlyph(row.state)} />
        {actWords(row.act)}
      </span>{' '}
      <Hint words={moment(row.at)}>
        <span className="quiet">
          by {row.who}, <Ago at={row.at} />
        </span>
      </Hint>
      {row.state !== 'done' && (
        <span>
          : {actHeadline(row.state).toLowerCase()}
          {row.reason && `, ${row.reason}`}
        </span>
      )}
      {row.undoneBy && <span className="quiet">, taken back</span>}
      {back && onUndo && (
        <>
          {' '}
          <TextButton onClick={() => onUndo(back)}>Take it back</TextButton>
        </>
      )}
    </p>
  );
}

const poweringDoubt = (port: ThingRow): string => (port.poe as { doubt?: string } | null)?.doubt ?? '';

/** What makes sense for the port as it was read last. */
function offeredActs(port: ThingRow, after: PortSettings | null): PortAct[] {
  const admin = after?.admin ?? String(port.admin);
  const poe = port.poe as { enabled: boolean } | null;
  // what may be the power of another socket is not offered at all
  const feeds = poweringDoubt(port) ? undefined : after ? after.power?.enabled : poe?.enabled;
  return [
    ...(port.physical ? [{ kind: admin === 'down' ? ('enable' as const) : ('shut' as const) }] : []),
    ...(feeds === undefined
      ? []
      : feeds
        ? [{ kind: 'powerCycle' as const, offSeconds: offSecondsRange.usual }, { kind: 'powerOff' as const }]
        : [{ kind: 'powerOn' as const }]),
    { kind: 'alias' as const, alias: after?.alias ?? String(port.alias) },
  ];
}
