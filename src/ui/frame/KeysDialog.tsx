'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

const keys = [
  ['/', 'to the filter; ↓ shows what may be written, Enter goes to the rows, Escape empties it'],
  ['Ctrl K', 'go to anything'],
  ['↑ ↓', 'from row to row; Enter opens the dossier'],
  ['→ ←', 'open and close a group of rows'],
  ['M', 'mark a row, or take the mark away'],
  ['Shift ↓ →', 'choose a block of cells; Ctrl C copies it'],
  ['[ ]', 'survey before, survey after'],
  ['1 … 5', 'in the Estate: what we have, how it is connected, what runs, what is wrong, what changed'],
  ['.', 'compare with the survey before, or stop comparing'],
  [
    '+ − 0',
    'on the map: nearer, farther, everything; Enter goes to what is chosen, P to its ports and back, F folds or opens its site, Shift and arrows move it, A puts everything back',
  ],
  ['Escape', 'close the panel'],
  ['?', 'this list'],
] as const;

/** What the keyboard does. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="xs" aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <dl className="facts">
          {keys.map(([key, words]) => [
            <dt key={key}>
              <kbd>{key}</kbd>
            </dt>,
            <dd key={words}>{words}</dd>,
          ])}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
