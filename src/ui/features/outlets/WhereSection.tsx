'use client';

import { useState } from 'react';
import { panelWords } from '@/core/floor/outlet';
import { useView } from '../../lib/useView';
import { Link } from '../../components/Link';
import { useMayEdit } from '../../lib/person';
import { useOutlets, useWhereabouts } from './useOutlets';
import type { OutletDraft } from './OutletForm';
import { TextButton } from '../../components/TextButton';
import { fetched } from '../../lib/fetched';

const OutletsDialog = fetched(() => import('./OutletsDialog').then((module) => module.OutletsDialog));

/** Where a device stands, or where the wire of a port ends: room, outlet, patch panel, and the plan that shows it. @param sel as it is selected on the plan */
export function WhereSection({ what, sel, proposed }: { what: string; sel: string; proposed?: Partial<OutletDraft> }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const [open, setOpen] = useState<'new' | 'change' | null>(null);
  const where = useWhereabouts(what).data;
  const outlet = where?.outlet ?? null;
  const editing = useOutlets(open === 'change').data?.find(({ id }) => id === outlet?.id) ?? null;
  if (!where || (!outlet && where.plans.length === 0 && !(mayEdit && proposed))) return null;
  return (
    <section className="section">
      <h3>Where it is</h3>
      {outlet && (
        <p>
          Outlet <b style={{ fontWeight: 600 }}>{outlet.label}</b>
          {outlet.room && `, ${outlet.room}`}
          {panelWords(outlet) && <span className="quiet">, panel {panelWords(outlet)}</span>}
        </p>
      )}
      {where.plans.map(({ id, site, name, room, kind, markId }) => (
        <p key={id}>
          <Link
            href={view.href('/ports', {
              of: 'plan',
              plan: String(id),
              sel: kind === 'outlet' && !proposed ? `outlet:${markId}` : sel,
            })}
          >
            on the plan {name} of {site}
          </Link>
          {room && room !== outlet?.room && <span className="quiet">, {room}</span>}
        </p>
      ))}
      {mayEdit && proposed && (
        <p>
          <TextButton onClick={() => setOpen(outlet ? 'change' : 'new')}>
            {outlet ? 'Change the outlet' : 'Enter its outlet'}
          </TextButton>
        </p>
      )}
      {(open === 'new' || (open === 'change' && editing !== null)) && (
        <OutletsDialog
          editing={open === 'new' ? null : editing}
          {...(proposed && { proposed })}
          onClose={() => setOpen(null)}
        />
      )}
    </section>
  );
}
