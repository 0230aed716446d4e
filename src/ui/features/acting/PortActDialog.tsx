'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
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
import type { ApiProblem } from '../../lib/api';
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
  const [act, setAct] = useState<PortAct>(wanted);
  const [typed, setTyped] = useState('');
  const [force, setForce] = useState(false);
  const [going, setGoing] = useState<PortActRow | 'asked' | null>(null);
  const [problem, setProblem] = useState('');
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
    (verdict.nameToType !== null && typed !== verdict.nameToType) ||
    (verdict.refused !== null && !(mayForce && force));
  const go = async () => {
    if (held || !verdict) return;
    setProblem('');
    setGoing('asked');
    try {
      setGoing(
        await send(
          {
            act,
            seen: settings,
            ...(verdict.nameToType !== null && { name: typed }),
            ...(verdict.refused !== null && { force }),
            ...(undoes !== null && { undoes }),
          },
          setGoing,
        ),
      );
    } catch (error) {
      setProblem((error as ApiProblem).words ?? (error as Error).message);
      setGoing(null);
    }
  };
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
        <form
          id="port-act"
          className="form"
          style={{ paddingTop: 8, minHeight: 190 }}
          onSubmit={(event) => {
            event.preventDefault();
            void go();
          }}
        >
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
                <TextField
                  label="Alias"
                  name="alias"
                  autoFocus
                  value={act.alias}
                  error={aliasMistake(act.alias) !== null}
                  helperText={aliasMistake(act.alias) ?? 'what people call the port; empty to remove it'}
                  onChange={(event) => setAct({ kind: 'alias', alias: event.target.value })}
                  slotProps={{ htmlInput: { spellCheck: false } }}
                />
              )}
              {act.kind === 'powerCycle' && (
                <OffSeconds
                  seconds={act.offSeconds}
                  onChange={(offSeconds) => setAct({ kind: 'powerCycle', offSeconds })}
                />
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
                <FormControlLabel
                  label="I know that this is an uplink, and want it all the same"
                  control={
                    <Checkbox size="small" checked={force} onChange={(event) => setForce(event.target.checked)} />
                  }
                />
              )}
              {verdict.nameToType !== null && (verdict.refused === null || mayForce) && (
                <TextField
                  label={`Type ${verdict.nameToType} to go on`}
                  name="name"
                  autoComplete="off"
                  value={typed}
                  onChange={(event) => setTyped(event.target.value)}
                  slotProps={{
                    htmlInput: { spellCheck: false, style: { fontFamily: "'JetBrains Mono Variable', monospace" } },
                  }}
                />
              )}
            </>
          )}
          {going !== null && <ActOutcome going={going} device={device} />}
          {problem && (
            <p role="alert" className="bad">
              {problem}
            </p>
          )}
        </form>
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

function OffSeconds({ seconds, onChange }: { seconds: number; onChange: (seconds: number) => void }) {
  const [text, setText] = useState(String(seconds));
  const { least, most } = offSecondsRange;
  const fits = (value: string) => /^\d+$/.test(value) && Number(value) >= least && Number(value) <= most;
  return (
    <TextField
      label="Without power for, seconds"
      name="offSeconds"
      value={text}
      error={!fits(text)}
      helperText={fits(text) ? undefined : `a whole number from ${least} to ${most}: until then it stays ${seconds}`}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      onChange={(event) => {
        setText(event.target.value);
        if (fits(event.target.value)) onChange(Number(event.target.value));
      }}
    />
  );
}
