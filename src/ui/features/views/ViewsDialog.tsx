'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { Link } from '@/ui/components/Link';
import { useState } from 'react';
import { type ApiProblem, call } from '../../lib/api';
import { TextButton } from '../../components/TextButton';
import { CheckInput } from '../../components/form/CheckInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { UndoNote, type Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';
import { DoneFoot } from '../../components/dialogFeet';

interface SavedView {
  id: number;
  name: string;
  path: string;
  query: string;
  shared: boolean;
  by: string;
  own: boolean;
}

/** What of an address makes a view; the selection and the moments are where one is, not what one looks at. */
const kept = [
  'of',
  'where',
  'sort',
  'group',
  'columns',
  'pictures',
  'device',
  'past',
  'over',
  'near',
  'steps',
  'rest',
  'pins',
  'outline',
  'host',
  'from',
  'to',
  'find',
];

/** What is shown, as a view would keep it. */
export interface ViewsShown {
  path: string;
  columns: string[];
  pictures?: string;
}

const blank = { name: '', shared: false };

/** Views of a page: what somebody saved under a name, and how to save what is shown. Each is a link that another person can open. */
export function ViewsDialog({ path, columns, pictures, onClose }: ViewsShown & { onClose: () => void }) {
  const written = useWritten();
  const list = useQuery<{ rows: SavedView[] }, ApiProblem>({
    queryKey: ['views'],
    queryFn: () => call<{ rows: SavedView[] }>('views'),
  });
  const [done, setDone] = useState<Done | null>(null);
  const views = (list.data?.rows ?? []).filter((view) => view.path === path);
  const queryShown = () => {
    const now = new URLSearchParams(window.location.search);
    const query = new URLSearchParams(
      kept.flatMap((parameter) => (now.get(parameter) ? [[parameter, now.get(parameter) ?? '']] : [])),
    );
    if (columns.length > 0) query.set('columns', columns.join(','));
    if (pictures !== undefined) query.set('pictures', pictures);
    return query.toString();
  };
  const saving = useSavingForm<typeof blank, unknown>({
    values: blank,
    save: (draft) => call('views', { method: 'POST', body: { path, query: queryShown(), ...draft } }),
    done: async () => {
      setDone(null);
      await written();
      return { values: blank };
    },
  });
  const remove = async ({ id, name }: SavedView) => {
    const { edit } = await call<{ edit: number }>(`views/${id}`, { method: 'DELETE' });
    setDone({ words: `“${name}” is removed.`, edit });
    await written();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" aria-labelledby="views-title">
      <DialogTitle id="views-title">Views</DialogTitle>
      <DialogContent>
        {list.error && <p className="quiet">{list.error.detail}</p>}
        {list.data && views.length === 0 && (
          <p className="quiet">None is saved yet. A view keeps filter, order, groups and columns under a name.</p>
        )}
        {views.length > 0 && (
          <table className="plain" style={{ minWidth: 460 }}>
            <thead>
              <tr>
                <th>View</th>
                <th>Of</th>
                <th>Seen by</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {views.map((view) => (
                <tr key={view.id}>
                  <td>
                    <Link href={`${path}?${view.query}`} onClick={onClose}>
                      {view.name}
                    </Link>
                  </td>
                  <td>{view.own ? 'you' : view.by}</td>
                  <td>{view.shared ? 'everybody' : 'you alone'}</td>
                  <td>{view.own && <TextButton onClick={() => void remove(view)}>Remove</TextButton>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <UndoNote done={done} onDone={setDone} />
        <SavingForm of={saving} prefix="view" style={{ marginTop: 16 }}>
          <TextInput name="name" label="Save what is shown as" help="one of the same name is taken the place of" />
          <CheckInput name="shared" label="Everybody may see it" />
          <SaveLine
            of={saving}
            words="Save the view"
            variant="outlined"
            disabled={saving.form.watch('name').trim() === ''}
          />
        </SavingForm>
      </DialogContent>
      <DoneFoot onDone={onClose} />
    </Dialog>
  );
}
