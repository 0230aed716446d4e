'use client';

import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import type { ReactNode } from 'react';

/** The foot of a dialog in which all is done at once: what else may be pressed stands before the way out. */
export function DoneFoot({ onDone, children }: { onDone: () => void; children?: ReactNode }) {
  return (
    <DialogActions>
      {children}
      <Button variant="contained" onClick={onDone}>
        Done
      </Button>
    </DialogActions>
  );
}

/** The foot of a dialog that is left as it was, or sends the form of that name. @param children what sending is called */
export function SaveFoot({
  form,
  disabled,
  onLeave,
  children,
}: {
  form: string;
  disabled: boolean;
  onLeave: () => void;
  children: ReactNode;
}) {
  return (
    <DialogActions>
      <Button color="secondary" onClick={onLeave}>
        Leave it
      </Button>
      <Button variant="contained" type="submit" form={form} disabled={disabled}>
        {children}
      </Button>
    </DialogActions>
  );
}

/** The foot of a dialog whose acts stand where they are about. */
export function CloseFoot({ onClose }: { onClose: () => void }) {
  return (
    <DialogActions>
      <Button color="secondary" onClick={onClose}>
        Close
      </Button>
    </DialogActions>
  );
}
