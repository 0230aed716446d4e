'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  aliasMistake,
  interrupts,
  offSecondsRange,
  plannedSets,
  type PortAct,
  type PortSettings,
} from '@/core/acting/portAct';
import { judgeAct } from '@/core/acting/portGuard';
import { CheckInput } from '../../components/form/CheckInput';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { ApiProblem } from '../../lib/api';
import { Glyph, portGlyph } from '../../components/Glyph';
import { useMayConfigure } from '../../lib/person';
import { ActOutcome } from './ActOutcome';
import { HangingList } from './HangingList';
import { SentTable } from './SentTable';
import { lookAtPort, useSendPortAct, type PortActRow } from './usePortActs';

const headings = {
  shut: 'Shut',
  enable: 'Enable',
  powerOff: 'Power off at',
  powerOn: 'Power on at',
  powerCycle: 'Power-cycle',
  alias: 'Alias of',
} as const;
const deeds = {
  shut: 'Shut it',
  enable: 'Enable it',
  powerOff: 'Switch the power off',
  powerOn: 'Switch the power on',
  powerCycle: 'Take the power away and give it back',
  alias: 'Set the alias',
} as const;

interface Draft {
  alias: string;
  offSeconds: number | string;
  /** the name of the port, typed where much hangs on it */
  name: string;
  force: boolean;
}

/** The act as it is meant by now. */
function actOf(wanted: PortAct, { alias, offSeconds }: Draft): PortAct {
  if (wanted.kind === 'alias') return { kind: 'alias', alias };
  return wanted.kind === 'powerCycle' ? { kind: 'powerCycle', offSeconds: Number(offSeconds) } : wanted;
}

function mistakesOf(wanted: PortAct, { alias, offSeconds }: Draft) {
  if (wanted.kind === 'alias') {
    const message = aliasMistake(alias);
    return message === null ? [] : [{ path: 'alias', message }];
  }
  const { least, most } = offSecondsRange;
  const seconds = Number(offSeconds);
  const fits = Number.isInteger(seconds) && seconds >= least && seconds <= most;
  if (wanted.kind !== 'powerCycle' || fits) return [];
  return [{ path: 'offSeconds', message: `a whole number from ${least} to ${most}` }];
}

/** An act on a port: how the port is now, what hangs on it, what exactly will be sent, and then what came of it. */
export function PortActDialog({
  port,
  device,
  name,
  act: wanted,
  undoes,
  onClose,
}: {
  port: string;
  device: string;
  name: string;
  act: PortAct;
  undoes: number | null;
  onClose: () => void;
}) {
  const mayForce = useMayConfigure();
  const send = useSendPortAct(port);
  const [going, setGoing] = useState<PortActRow | 'asked' | null>(null);
  // asked anew each time the dialog opens: nobody acts on what was so a while ago
  const looked = useQuery({
    queryKey: ['look', port, wanted.kind],
    queryFn: () => lookAtPort(port),
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
    refetchOnWindowFocus: false,
  });
  const found = looked.data;
  const saving = useSavingForm<Draft, PortActRow>({
    values: {
      alias: wanted.kind === 'alias' ? wanted.alias : '',
      offSeconds: wanted.kind === 'powerCycle' ? wanted.offSeconds : offSecondsRange.least,
      name: '',
      force: false,
    },
    exact: ['alias'],
    isToldAtOnce: true,
    mistakes: (draft) => mistakesOf(wanted, draft),
    save: async (draft) => {
      if (!settings) throw new ApiProblem(409, 'Not known', 'How the port is now is not known yet.', []);
      setGoing('asked');
      try {
        return await send(
          {
            act: actOf(wanted, draft),
            seen: settings,
            ...(verdict?.nameToType && { name: draft.name }),
            ...(verdict?.refused && { force: draft.force }),
            ...(undoes !== null && { undoes }),
          },
          setGoing,
        );
      } catch (error) {
        setGoing(null);
        throw error instanceof ApiProblem ? error : new ApiProblem(500, 'Failed', (error as Error).message, []);
      }
    },
    done: (row) => {
      setGoing(row);
      return undefined;
    },
  });
  const draft = saving.form.watch();
  const act = actOf(wanted, draft);
  const settings = found && 'settings' in found.look ? found.look.settings : null;
  const hindrance = found && 'reason' in found.look ? found.look : null;
  const verdict = found ? judgeAct(act, found.there, `${device} ${name}`) : null;
  const planned = settings && plannedSets(act, settings);
  const over = going !== null && going !== 'asked' && going.state !== 'queued' && going.state !== 'sending';
  const held =
    !settings ||
    !verdict ||
    !planned ||
    'reason' in planned ||
    (verdict.nameToType !== null && draft.name !== verdict.nameToType) ||
    (verdict.refused !== null && !(mayForce && draft.force)) ||
    mistakesOf(wanted, draft).length > 0;
  return (
    <Dialog
      open
      onClose={over || going === null ? onClose : undefined}
      maxWidth="sm"
      fullWidth
      aria-labelledby="act-title"
    >
      <DialogTitle id="act-title">
        {headings[act.kind]} port {name} of {device}
      </DialogTitle>
      <DialogContent>
        <SavingForm of={saving} id="port-act" style={{ paddingTop: 8, minHeight: 190 }}>
          <div aria-live="polite">
            {looked.isPending && <p className="quiet">asking {device} how the port is now…</p>}
            {looked.error && (
              <p role="alert" className="bad">
                {(looked.error as ApiProblem).words ?? looked.error.message}
              </p>
            )}
            {hindrance && (
              <div role="alert">
                <p className="bad">
                  {device} cannot be acted on: {hindrance.reason}.
                </p>
                <p>{hindrance.remedy}</p>
              </div>
            )}
            {settings && going === null && <Now settings={settings} />}
          </div>
          {settings && verdict && found && going === null && (
            <>
              {interrupts(act) && <HangingList there={found.there} losing={act.kind === 'shut' ? 'link' : 'power'} />}
              {act.kind === 'alias' && (
                <TextInput
                  name="alias"
                  label="Alias"
                  help="what people call the port; empty to remove it"
                  autoFocus
                  slotProps={{ htmlInput: { spellCheck: false } }}
                />
              )}
              {act.kind === 'powerCycle' && (
                <TextInput name="offSeconds" label="Without power for, seconds" type="number" />
              )}
              {planned && 'sets' in planned ? (
                <SentTable
                  sets={planned.sets}
                  credential={found.look && 'credential' in found.look ? found.look.credential : ''}
                  device={device}
                />
              ) : (
                planned && act.kind !== 'alias' && <p role="status">{planned.reason} Nothing would be sent.</p>
              )}
              {verdict.refused !== null && (
                <p role="alert" className="bad">
                  <Glyph name="fault" /> {verdict.refused}
                </p>
              )}
              {verdict.refused !== null && mayForce && (
                <CheckInput name="force" label="I know that this is an uplink, and want it all the same" />
              )}
              {verdict.nameToType !== null && (verdict.refused === null || mayForce) && (
                <TextInput name="name" label={`Type ${verdict.nameToType} to go on`} mono />
              )}
            </>
          )}
          {going !== null && <ActOutcome going={going} device={device} />}
        </SavingForm>
      </DialogContent>
      <DialogActions>
        {!over && (
          <Button color="secondary" disabled={going !== null} onClick={onClose}>
            Leave it
          </Button>
        )}
        {hindrance && (
          <Button variant="outlined" onClick={() => void looked.refetch()}>
            Ask again
          </Button>
        )}
        {over ? (
          <Button variant="contained" autoFocus onClick={onClose}>
            Close
          </Button>
        ) : (
          !hindrance && (
            <Button
              variant="contained"
              color={interrupts(act) ? 'error' : 'primary'}
              type="submit"
              form="port-act"
              disabled={held || going !== null}
            >
              {deeds[act.kind]}
            </Button>
          )
        )}
      </DialogActions>
    </Dialog>
  );
}

/** How the port is at this moment, as the device itself says. */
function Now({ settings }: { settings: PortSettings }) {
  const { admin, oper, alias, power } = settings;
  return (
    <p>
      <span className="state">
        <Glyph name={portGlyph({ admin, oper })} />
        now {admin === 'down' ? 'switched off' : oper}
      </span>
      {power && (
        <span>
          ,{' '}
          {power.enabled
            ? power.state === 'delivering'
              ? 'delivering power'
              : `may give power (${power.state})`
            : 'power switched off'}
        </span>
      )}
      {alias ? <span>, alias “{alias}”</span> : <span className="quiet">, no alias</span>}
    </p>
  );
}
