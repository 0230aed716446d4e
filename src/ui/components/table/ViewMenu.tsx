'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@/ui/components/Link';
import { useState } from 'react';
import { type ApiProblem, call } from '../../lib/api';

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

/** Views of a page: what somebody saved under a name, and how to save what is shown. Each is a link that another person can open. */
export function ViewMenu({ path, columns, pictures }: { path: string; columns: string[]; pictures?: string }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const list = useQuery<{ rows: SavedView[] }, ApiProblem>({
    queryKey: ['views'],
    queryFn: () => call<{ rows: SavedView[] }>('views'),
    enabled: open,
  });
  const [name, setName] = useState('');
  const [shared, setShared] = useState(false);
  const [mistake, setMistake] = useState('');
  const [removed, setRemoved] = useState<SavedView | null>(null);
  const views = (list.data?.rows ?? []).filter((view) => view.path === path);
  const save = async (view: { name: string; query: string; shared: boolean }) => {
    try {
      await call('views', { method: 'POST', body: { path, ...view } });
      setMistake('');
      setRemoved(null);
      await client.invalidateQueries({ queryKey: ['views'] });
    } catch (error) {
      setMistake((error as ApiProblem).words);
    }
  };
  const saveShown = async () => {
    const now = new URLSearchParams(window.location.search);
    const query = new URLSearchParams(
      kept.flatMap((parameter) => (now.get(parameter) ? [[parameter, now.get(parameter) ?? '']] : [])),
    );
    if (columns.length > 0) query.set('columns', columns.join(','));
    if (pictures !== undefined) query.set('pictures', pictures);
    await save({ name, query: query.toString(), shared });
    setName('');
  };
  const remove = async (view: SavedView) => {
    await call(`views/${view.id}`, { method: 'DELETE' });
    setRemoved(view);
    await client.invalidateQueries({ queryKey: ['views'] });
  };
  return (
    <>
      <button type="button" className="textlink" onClick={() => setOpen(true)}>
        Views
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="sm" aria-labelledby="views-title">
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
                      <Link href={`${path}?${view.query}`} onClick={() => setOpen(false)}>
                        {view.name}
                      </Link>
                    </td>
                    <td>{view.own ? 'you' : view.by}</td>
                    <td>{view.shared ? 'everybody' : 'you alone'}</td>
                    <td>
                      {view.own && (
                        <button type="button" className="textlink" onClick={() => void remove(view)}>
                          Remove
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {removed && (
            <p role="status" className="quiet">
              “{removed.name}” is removed.{' '}
              <button
                type="button"
                className="textlink"
                onClick={() => void save({ name: removed.name, query: removed.query, shared: removed.shared })}
              >
                Undo
              </button>
            </p>
          )}
          <form
            className="form"
            style={{ marginTop: 16 }}
            onSubmit={(event) => {
              event.preventDefault();
              void saveShown();
            }}
          >
            <TextField
              label="Save what is shown as"
              name="viewName"
              autoComplete="off"
              value={name}
              error={mistake !== ''}
              helperText={mistake || 'one of the same name is taken the place of'}
              onChange={(event) => setName(event.target.value)}
            />
            <FormControlLabel
              label="Everybody may see it"
              control={<Checkbox size="small" checked={shared} onChange={(event) => setShared(event.target.checked)} />}
            />
            <div>
              <Button type="submit" variant="outlined" disabled={name.trim() === ''}>
                Save the view
              </Button>
            </div>
          </form>
        </DialogContent>
        <DialogActions>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
