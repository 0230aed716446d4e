'use client';

import Button from '@mui/material/Button';
import type { Outlet } from '@/core/floor/outlet';
import { outletSchema } from '@/core/floor/outletSchema';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { tellDone } from '../edits/doneTray';
import { useUndo } from '../edits/useUndo';
import { useWritten } from '../edits/useWritten';
import type { OutletRow } from './useOutlets';

const blank = { site: '', label: '', room: '', panel: '', position: '', device: '', port: '', note: '' };
export type OutletDraft = typeof blank;

const draftOf = ({ site, label, room, panel, position, device, port, note }: OutletRow): OutletDraft => ({
  site,
  label,
  room,
  panel,
  position,
  device,
  port: port?.name ?? '',
  note,
});

const labels = {
  label: 'Label',
  site: 'Site',
  room: 'Room',
  panel: 'Patch panel',
  position: 'Place on it',
  device: 'Patched to the device',
  port: 'and its port',
  note: 'Note',
};

/** Enters an outlet, or changes one. */
export function OutletForm({
  editing,
  proposed = {},
  onDone,
}: {
  editing: OutletRow | null;
  proposed?: Partial<OutletDraft>;
  onDone: () => void;
}) {
  const written = useWritten();
  const undo = useUndo();
  const saving = useSavingForm<OutletDraft, { version: number }>({
    values: editing ? draftOf(editing) : { ...blank, ...proposed },
    schema: outletSchema,
    version: editing?.version ?? null,
    keep: `outlet ${editing?.id ?? 'new'}`,
    // the device of the port that stands there by now is known by its number alone: its name is that which was shown
    fromKept: ({ port, ...kept }: Outlet) => ({
      ...kept,
      device: port ? (editing?.device ?? '') : '',
      port: port?.name ?? '',
    }),
    save: (body, seen) =>
      editing
        ? call(`outlets/${editing.id}`, { method: 'PUT', body, seen })
        : call('outlets', { method: 'POST', body }),
    done: (_, { label, site, room, panel, device }) => {
      // who is done need not wait for what is read again
      void written();
      if (editing || proposed.port) {
        onDone();
        return undefined;
      }
      return { told: `${label} is entered.`, values: { ...blank, site, room, panel, device } };
    },
  });
  const remove = useSavingForm<Record<string, never>, { edit: number }>({
    values: {},
    version: editing?.version ?? null,
    save: (_, seen) => call(`outlets/${editing?.id ?? 0}`, { method: 'DELETE', seen }),
    done: ({ edit }) => {
      tellDone(`Deleted the outlet ${editing?.label ?? ''}.`, () => undo(edit));
      void written();
      onDone();
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} prefix="outlet." labels={labels} style={{ paddingTop: 6 }}>
      <div className="pair">
        <TextInput name="label" label="Label" help="as it stands on the wall" />
        <TextInput name="site" label="Site" />
      </div>
      <div className="pair">
        <TextInput name="room" label="Room" />
        <div className="pair">
          <TextInput name="panel" label="Patch panel" />
          <TextInput name="position" label="Place on it" />
        </div>
      </div>
      <div className="pair">
        <TextInput name="device" label="Patched to the device" help="empty: to nothing" />
        <TextInput name="port" label="and its port" />
      </div>
      <TextInput name="note" label="Note" multiline />
      {remove.problem && (
        <p className="bad" role="alert">
          {remove.problem}
        </p>
      )}
      <SaveLine of={saving} words={editing ? 'Save' : 'Enter the outlet'}>
        {editing && (
          <Button color="secondary" disabled={saving.isBusy || remove.isBusy} onClick={remove.submit}>
            Delete the outlet
          </Button>
        )}
      </SaveLine>
    </SavingForm>
  );
}
