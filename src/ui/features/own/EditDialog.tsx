'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { OwnedThing } from '@/core/own/ownField';
import { things } from '@/core/things/things';
import { call, type ApiProblem, type ThingRequest } from '../../lib/api';
import { WrittenLast } from '../edits/WrittenLast';
import { useOwnFields } from '../../lib/ownFields';
import { ChangeList } from './ChangeList';
import { GroupRows } from './GroupRows';
import { ImportForm } from './ImportForm';
import { RowsChoice, type RowsMeant } from './RowsChoice';
import { OwnInput } from './OwnInput';
import { useOwnWritten, type EditAnswer } from './useOwnEdits';

interface KeptEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
  values: number;
}

interface EditDialogProps {
  thing: OwnedThing;
  request: ThingRequest;
  total: number;
  selected: string | null;
  marked: string[];
  onClose: () => void;
}

/** Own fields of many rows at once: which rows, what they become, what that changes, then the writing, which can be taken back. */
export function EditDialog({ thing, request, total, selected, marked, onClose }: EditDialogProps) {
  const [way, setWay] = useState<'rows' | 'file' | 'group'>('rows');
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const name = things[thing].title.toLowerCase();
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="edit-title">
      <DialogTitle id="edit-title">Edit {name}</DialogTitle>
      <DialogContent>
        <nav className="subviews" aria-label="From where" style={{ marginBottom: 12 }}>
          <button
            type="button"
            className="textlink"
            aria-current={way === 'rows' ? 'page' : undefined}
            onClick={() => setWay('rows')}
          >
            Own fields
          </button>
          <button
            type="button"
            className="textlink"
            aria-current={way === 'file' ? 'page' : undefined}
            onClick={() => setWay('file')}
          >
            Own fields from a CSV file
          </button>
          {thing !== 'endpoints' && (
            <button
              type="button"
              className="textlink"
              aria-current={way === 'group' ? 'page' : undefined}
              onClick={() => setWay('group')}
            >
              Into a group
            </button>
          )}
        </nav>
        {way === 'group' && thing !== 'endpoints' ? (
          <GroupRows {...{ thing, request, total, selected, marked }} />
        ) : fields.length === 0 ? (
          <p className="quiet">There are no own fields of {name} yet: an administrator makes them in Settings.</p>
        ) : way === 'rows' ? (
          <RowsForm {...{ thing, request, total, selected, marked }} />
        ) : (
          <ImportForm thing={thing} />
        )}
        {way !== 'group' && <RecentEdits thing={thing} />}
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function RowsForm({ thing, request, total, selected, marked }: Omit<EditDialogProps, 'onClose'>) {
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const written = useOwnWritten();
  const name = things[thing].title.toLowerCase();
  const [meant, setMeant] = useState<RowsMeant>(marked.length > 0 ? 'marked' : 'shown');
  const [set, setSet] = useState<Record<string, string>>({});
  const [add, setAdd] = useState<Record<string, string>>({});
  const [remove, setRemove] = useState<Record<string, string>>({});
  const [answer, setAnswer] = useState<EditAnswer | null>(null);
  const [mistakes, setMistakes] = useState<ApiProblem['errors']>([]);
  const [busy, setBusy] = useState(false);
  const words = (lists: Record<string, string>) =>
    Object.fromEntries(
      Object.entries(lists)
        .filter(([, text]) => text.trim() !== '')
        .map(([field, text]) => [
          field,
          text
            .split(',')
            .map((word) => word.trim())
            .filter(Boolean),
        ]),
    );
  const send = async (preview: boolean) => {
    setBusy(true);
    try {
      const rows =
        meant === 'marked'
          ? { ids: marked }
          : meant === 'selected'
            ? { ids: [selected] }
            : { where: request.where ?? '', survey: request.survey ?? null };
      setAnswer(
        await call<EditAnswer>('edits', {
          method: 'POST',
          body: { thing, ...rows, set, add: words(add), remove: words(remove), preview },
        }),
      );
      setMistakes([]);
      if (!preview) await written();
    } catch (error) {
      const problem = error as ApiProblem;
      setAnswer(null);
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: '', message: problem.detail }]);
    }
    setBusy(false);
  };
  const changed =
    <Value,>(put: (value: Value) => void) =>
    (value: Value) => {
      put(value);
      setAnswer(null);
    };
  const nothing =
    Object.keys(set).length === 0 && Object.keys(words(add)).length === 0 && Object.keys(words(remove)).length === 0;
  const general = mistakes.filter(({ path }) => !fields.some((field) => path.endsWith(`.${field.name}`)));
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        void send(true);
      }}
    >
      <RowsChoice {...{ thing, total, selected, marked, meant }} onChoose={changed(setMeant)} />
      <ul className="editfields" aria-label="Fields">
        {fields.map((field) => {
          const { name: own, label, kind } = field;
          const mistake = mistakes.find(({ path }) => path.endsWith(`.${own}`))?.message;
          if (kind === 'tags') {
            return (
              <li key={own}>
                <span>{label}</span>
                <span className="two">
                  <TextField
                    size="small"
                    label="put these to them"
                    name={`add.${own}`}
                    value={add[own] ?? ''}
                    error={Boolean(mistake)}
                    helperText={mistake ?? 'separated by commas'}
                    onChange={(event) => changed(setAdd)({ ...add, [own]: event.target.value })}
                  />
                  <TextField
                    size="small"
                    label="take these away"
                    name={`remove.${own}`}
                    value={remove[own] ?? ''}
                    onChange={(event) => changed(setRemove)({ ...remove, [own]: event.target.value })}
                  />
                </span>
              </li>
            );
          }
          const taken = own in set;
          return (
            <li key={own}>
              <label>
                <input
                  type="checkbox"
                  name={`change.${own}`}
                  checked={taken}
                  onChange={() => {
                    const { [own]: _gone, ...others } = set;
                    changed(setSet)(taken ? others : { ...set, [own]: '' });
                  }}
                />{' '}
                {label}
              </label>
              {taken ? (
                <OwnInput
                  field={{ ...field, label: 'becomes' }}
                  value={set[own] ?? ''}
                  mistake={mistake}
                  autoFocus
                  onChange={(value) => changed(setSet)({ ...set, [own]: value })}
                />
              ) : (
                <span className="quiet small">stays as it is</span>
              )}
            </li>
          );
        })}
      </ul>
      {general.map(({ message }) => (
        <p key={message} role="alert" className="bad">
          {message}
        </p>
      ))}
      {answer && <ChangeList answer={answer} fields={fields} of={name} />}
      <div style={{ display: 'flex', gap: 10 }}>
        {answer && answer.edit === undefined && answer.total > 0 ? (
          <Button variant="contained" disabled={busy} onClick={() => void send(false)}>
            Write {answer.total.toLocaleString('en')} {answer.total === 1 ? 'value' : 'values'}
          </Button>
        ) : (
          <Button type="submit" variant="outlined" disabled={busy || nothing}>
            Show what changes
          </Button>
        )}
      </div>
    </form>
  );
}

function RecentEdits({ thing }: { thing: OwnedThing }) {
  const written = useOwnWritten();
  return (
    <WrittenLast<KeptEdit>
      queryKey={['edits', thing]}
      path="edits"
      query={`?thing=${thing}`}
      written={written}
      count={({ values }) => values}
      countWords={(values) => (values === 1 ? '1 value' : `${values} values`)}
    />
  );
}
