'use client';

import { CheckInput } from '../../components/form/CheckInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';
import type { ImageSource } from './doingTypes';

/** From where devices fetch images, and whether a second person approves. */
export function SourceForm({ source }: { source: ImageSource }) {
  const written = useWritten();
  const saving = useSavingForm({
    values: { ...source, port: String(source.port) },
    mistakes: ({ reachedAs, port }) => [
      ...(reachedAs.trim() === '' ? [{ path: 'reachedAs', message: 'Say how devices reach this machine' }] : []),
      ...(/^\d{1,5}$/.test(port.trim()) ? [] : [{ path: 'port', message: 'A whole number' }]),
    ],
    save: ({ reachedAs, listenOn, port, needsApproval }) =>
      call<ImageSource>('image-source', {
        method: 'PUT',
        body: { reachedAs: reachedAs.trim(), listenOn: listenOn.trim(), port: Number(port), needsApproval },
      }),
    done: async () => {
      await written();
      return { told: 'Saved.' };
    },
  });
  return (
    <section className="section">
      <h2>Where devices fetch images</h2>
      <SavingForm of={saving} prefix="source." style={{ marginTop: 8 }}>
        <TextInput name="reachedAs" label="Devices reach this machine as" help="a name or an address, as 10.72.1.5" />
        <div className="pair">
          <TextInput name="port" label="Port" />
          <TextInput name="listenOn" label="It listens on" help="0.0.0.0: all" />
        </div>
        <CheckInput name="needsApproval" label="A second person approves each upgrade" />
        <SaveLine of={saving} words="Save" />
      </SavingForm>
    </section>
  );
}
