'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { DoneFoot } from '../../dialogFeet';

/** How a script gets what the table shows. @param path of the request below the API */
export function RequestDialog({ path, onClose }: { path: string; onClose: () => void }) {
  const request = `curl -H "Authorization: Bearer $BOLIDE_TOKEN" "${window.location.origin}/api/v1/${path}"`;
  return (
    <Dialog open onClose={onClose} maxWidth="md" aria-labelledby="request-title">
      <DialogTitle id="request-title">The request that returns this table</DialogTitle>
      <DialogContent>
        <p className="quiet">
          A token is made with <span className="mono">bolide token add NAME --data DIR</span>. All calls are described
          at <a href="/api">/api</a>.
        </p>
        <pre
          className="mono"
          style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', background: 'var(--sunken)', padding: 12 }}
        >
          {request}
        </pre>
      </DialogContent>
      <DoneFoot onDone={onClose}>
        <Button color="secondary" onClick={() => void navigator.clipboard?.writeText(request)}>
          Copy
        </Button>
      </DoneFoot>
    </Dialog>
  );
}
