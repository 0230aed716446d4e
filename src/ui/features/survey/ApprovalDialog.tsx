'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { approvalMistake, type Approval } from '@/core/estate/approval';
import { LinesInput } from '../../components/form/LinesInput';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { useWritten } from '../edits/useWritten';
import type { ShownCredential } from './savedRows';
import { SaveFoot } from '../../components/dialogFeet';

interface Draft {
  prefixes: string[];
  ports: string;
}
const portsOf = (text: string): number[] =>
  text
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number);
const isPort = (port: number): boolean => Number.isInteger(port) && port >= 1 && port <= 65_535;

function mistakesOf({ prefixes, ports }: Draft) {
  const lines = prefixes.flatMap((line, at) => {
    const message = approvalMistake(line);
    return message === null ? [] : [{ path: 'prefixes', message: `line ${at + 1}: ${message}` }];
  });
  const wrong = ports.split(/[\s,]+/).find((word) => word !== '' && !isPort(Number(word)));
  return [
    ...lines,
    ...(wrong === undefined ? [] : [{ path: 'ports', message: `“${wrong}” is no port: they go from 1 to 65535` }]),
  ];
}

/** Where the secret of a credential may be sent. */
export function ApprovalDialog({
  credential: { id, name, approved, version },
  onClose,
}: {
  credential: ShownCredential;
  onClose: () => void;
}) {
  const written = useWritten();
  const saving = useSavingForm<Draft, { version: number }>({
    values: { prefixes: approved.prefixes, ports: approved.ports.join(', ') },
    mistakes: mistakesOf,
    version,
    save: ({ prefixes, ports }, seen) => {
      const body: Approval = { prefixes, ports: portsOf(ports) };
      return call(`credentials/${id}/approved`, { method: 'PUT', body, seen });
    },
    done: async () => {
      await written();
      onClose();
      return undefined;
    },
  });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="approval-title">
      <DialogTitle id="approval-title">Where {name} may be sent</DialogTitle>
      <DialogContent>
        <p className="quiet small">
          No survey, test, collector or act sends its secret anywhere else, whatever a scope says. Addresses are those
          that packets carry, behind every translation.
        </p>
        <SavingForm of={saving} id="approval" prefix="approved" style={{ paddingTop: 12 }}>
          <LinesInput
            name="prefixes"
            label="Addresses"
            rows={4}
            help="one a line: 10.72.0.0/16, 10.72.4.1-40 or a single address"
          />
          <TextInput name="ports" label="Ports" mono help="with commas between: 161, 443" />
        </SavingForm>
      </DialogContent>
      <SaveFoot form="approval" disabled={saving.isBusy} onLeave={onClose}>
        Approve them
      </SaveFoot>
    </Dialog>
  );
}
