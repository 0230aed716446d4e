'use client';

import { format } from 'date-fns';
import { useRef, useState } from 'react';
import { Glyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { Panel } from '../../components/Panel';
import { PlainSelect } from '../../components/PlainSelect';
import { TextButton } from '../../components/TextButton';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { call, type ApiProblem } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { saveFile } from '../../lib/takeAway';
import { useRoom } from '../../lib/useRoom';
import { useView } from '../../lib/useView';
import { FirmwareViews } from '../FirmwareViews';
import { WaveChart } from './WaveChart';
import { moved, type Wave } from './wavePlaces';
import { WavesForm, type WavesAnswer } from './WavesForm';

interface Checked {
  isSafe: boolean;
  words: string[];
}

const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
const hours = (minutes: number) => (minutes < 60 ? `${minutes} minutes` : `${Math.round(minutes / 6) / 10} hours`);

/** Which devices may be away at the same time, and when: worked out, moved by hand, taken away as a calendar. */
export function WavesView() {
  const view = useView();
  const [room, measured] = useRoom();
  const [plan, setPlan] = useState<WavesAnswer | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  /** what stands against waves that were changed by hand, by their first moment */
  const [against, setAgainst] = useState<ReadonlyMap<string, string[]>>(new Map());
  const [told, setTold] = useState('');
  const [done, setDone] = useState<Done | null>(null);
  const mayEdit = useMayEdit();
  const written = useWritten();
  const asked = useRef(0);
  const waves = plan?.waves ?? [];
  const nameOf = (deviceId: number) =>
    waves.flatMap(({ placed }) => placed).find((one) => one.deviceId === deviceId)?.device ?? '';
  const check = async (devices: number[]): Promise<Checked> => {
    try {
      return await call<Checked>('waves/check', {
        method: 'POST',
        body: { devices, ...(view.survey && { survey: view.survey }) },
      });
    } catch (error) {
      return { isSafe: false, words: [(error as ApiProblem).words] };
    }
  };
  const together = (wave: Wave | undefined, deviceId: number) => [
    ...(wave?.placed ?? []).map((one) => one.deviceId).filter((one) => one !== deviceId),
    deviceId,
  ];
  const look = async (deviceId: number, to: number | null) => {
    const own = ++asked.current;
    if (to === null) return setTold('');
    setTold(`${nameOf(deviceId)} in wave ${to + 1}: looking…`);
    const { isSafe, words } = await check(together(waves[to], deviceId));
    // somebody may have gone on to another wave meanwhile
    if (own === asked.current)
      setTold(
        isSafe
          ? `${nameOf(deviceId)} may go with wave ${to + 1}: nothing is lost`
          : `In wave ${to + 1}: ${words.join('; ')}`,
      );
  };
  const move = async (deviceId: number, to: number) => {
    const target = waves[to];
    if (!plan || !target) return;
    asked.current++;
    const { isSafe, words } = await check(together(target, deviceId));
    setPlan({ ...plan, waves: moved(waves, deviceId, to) });
    setAgainst((known) => {
      const next = new Map(known);
      if (isSafe) next.delete(target.start);
      else next.set(target.start, words);
      return next;
    });
    setTold(
      isSafe
        ? `${nameOf(deviceId)} goes with wave ${to + 1}: nothing is lost`
        : `${nameOf(deviceId)} goes with wave ${to + 1}, though ${words.join('; ')}`,
    );
  };
  const takeCalendar = async () => {
    const { calendarOf } = await import('@/core/firmware/waves/windows');
    const events = waves.map(({ start, end, placed }, nth) => ({
      ...{ start: Date.parse(start), end: Date.parse(end), devices: placed.map(({ device }) => device) },
      name: `Wave ${nth + 1}: ${placed.length} ${placed.length === 1 ? 'device' : 'devices'}`,
    }));
    saveFile(new Blob([calendarOf(events, Date.now())], { type: 'text/calendar' }), 'bolide-waves.ics');
  };
  const takeTable = async () => {
    const { unparse } = await import('papaparse');
    const lines = waves.flatMap(({ start, end, placed }, nth) =>
      placed.map(({ device, site, target, minutes, first, why }) => ({
        ...{ wave: nth + 1, start, end, device, site, target, minutes },
        first: first.join('; '),
        why: why.join('; '),
      })),
    );
    saveFile(new Blob([unparse(lines, { escapeFormulae: true })], { type: 'text/csv' }), 'bolide-waves.csv');
  };
  const writeDown = async () => {
    const name = `Firmware, from ${format(new Date(waves[0]?.start ?? 0), 'd MMM')}`;
    const body = {
      name,
      waves: waves.map(({ start, end, placed }) => ({ start, end, devices: placed.map(({ deviceId }) => deviceId) })),
    };
    try {
      const { edit } = await call<{ edit: number }>('waves/works', { method: 'POST', body });
      setDone({ words: `${counted(waves.length, 'planned work')} written down as “${name}”.`, edit });
    } catch (error) {
      setDone({ words: (error as ApiProblem).words });
    }
    await written();
  };
  const devices = waves.reduce((sum, { placed }) => sum + placed.length, 0);
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite">
            {plan &&
              `${counted(devices, 'device')} in ${counted(waves.length, 'wave')}, ${hours(plan.minutes)} of work, ${hours(plan.leastMinutes)} at the very least`}
          </span>
          {waves.length > 0 && (
            <>
              <TextButton onClick={() => void takeCalendar()}>As a calendar</TextButton>
              <TextButton onClick={() => void takeTable()}>As CSV</TextButton>
              {mayEdit && <TextButton onClick={() => void writeDown()}>Write them down as works</TextButton>}
            </>
          )}
        </div>
        <FirmwareViews current="waves" />
        <div className="waves">
          <div ref={measured} />
          <UndoNote done={done} onDone={setDone} />
          {!plan && (
            <div className="empty">
              <h2>Which devices may be away at the same time?</h2>
              <p className="quiet">
                Say which devices and when one may work. Each wave is rehearsed: none takes away what none of its
                devices takes away by itself, no application stops, try-outs go first, far ends before what leads to
                them.
              </p>
            </div>
          )}
          {plan && room !== null && waves.length > 0 && (
            <>
              <div className="wavebays">
                <WaveChart
                  windows={plan.windows}
                  waves={waves}
                  room={room}
                  chosen={chosen}
                  onChoose={setChosen}
                  onOver={(deviceId, to) => void look(deviceId, to)}
                  onMove={(deviceId, to) => void move(deviceId, to)}
                />
              </div>
              <p className="small" role="status" aria-live="polite">
                {told || (
                  <span className="quiet">
                    A bar is a device while it is away; brackets join those that must not meet. Draw it into another
                    wave, or choose one in the list: what that would take down is said at once.
                  </span>
                )}
              </p>
            </>
          )}
          {plan && (
            <WaveList
              plan={plan}
              against={against}
              chosen={chosen}
              onMove={(deviceId, to) => void move(deviceId, to)}
            />
          )}
        </div>
      </main>
      <Panel label="What is asked">
        <WavesForm
          survey={view.survey}
          onPlan={(answer) => {
            setPlan(answer);
            setAgainst(new Map());
            setTold('');
          }}
        />
      </Panel>
    </div>
  );
}

/** The same as a list: each wave with its devices, why each stands there, and what has no place. */
function WaveList({
  plan,
  against,
  chosen,
  onMove,
}: {
  plan: WavesAnswer;
  against: ReadonlyMap<string, string[]>;
  chosen: number | null;
  onMove: (deviceId: number, wave: number) => void;
}) {
  const view = useView();
  const { waves, unplaced } = plan;
  return (
    <>
      {waves.map((wave, nth) => {
        const words = against.get(wave.start) ?? [];
        const down = wave.placed.map(({ deviceId }) => `device:${deviceId}`).join(',');
        return (
          <section key={wave.start} aria-label={`Wave ${nth + 1}`}>
            <h2 className="listhead">
              Wave {nth + 1}: {format(new Date(wave.start), 'EEE d MMM, HH:mm')} to{' '}
              {format(new Date(wave.end), 'HH:mm')}{' '}
              <Link
                className="small"
                href={view.href('/dependencies', { of: 'rehearse', down, sel: null, where: null })}
              >
                rehearse it
              </Link>
            </h2>
            {words.length > 0 && (
              <p className="bad" role="alert">
                <Glyph name="fault" word="takes something down" /> {words.join('; ')}
              </p>
            )}
            <table className="plain">
              <tbody>
                {wave.placed.map(({ deviceId, device, site, target, first, why }) => (
                  <tr key={deviceId} className={chosen === deviceId ? 'chosen' : undefined}>
                    <td style={{ whiteSpace: 'nowrap' }}>
                      <Link href={view.href('/estate', { of: null, sel: `device:${deviceId}`, where: null })}>
                        {device}
                      </Link>
                    </td>
                    <td>{site}</td>
                    <td className="mono">{target}</td>
                    <td className="small">
                      {[...first.map((one) => `first: ${one}`), ...why].join('; ') || (
                        <span className="quiet">takes nothing away</span>
                      )}
                    </td>
                    <td>
                      <PlainSelect
                        aria-label={`Wave of ${device}`}
                        value={nth}
                        onChange={(event) => onMove(deviceId, Number(event.target.value))}
                      >
                        {waves.map((one, to) => (
                          <option key={one.start} value={to}>
                            wave {to + 1}
                          </option>
                        ))}
                      </PlainSelect>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
      {unplaced.length > 0 && (
        <section aria-label="No place for these">
          <h2 className="listhead">No place for {unplaced.length}</h2>
          <table className="plain">
            <tbody>
              {unplaced.map(({ deviceId, device, why }) => (
                <tr key={deviceId}>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    <Link href={view.href('/estate', { of: null, sel: `device:${deviceId}`, where: null })}>
                      {device}
                    </Link>
                  </td>
                  <td className="small">{why}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}
