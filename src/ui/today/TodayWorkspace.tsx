'use client';

import { silentToken } from '@/core/dependency/silentToken';
import { useQuery } from '@tanstack/react-query';
import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';
import { call, standsInTheWay, type ApiProblem } from '../lib/api';
import { Ago } from '../components/Ago';
import { moment } from '../lib/format';
import { Glyph } from '../components/Glyph';
import { ProblemNote } from '../components/ProblemNote';
import { useWatches, type WatchedRow } from '../features/watch/useWatches';

interface Today {
  survey: number;
  before: number;
  startedAt: string | null;
  sealedAt: string | null;
  beforeAt: string | null;
  numbers: {
    devices: number;
    answering: number;
    partial: number;
    newDevices: number;
    replaced: number;
    changedDevices: number;
    newlySilent: number;
    silent: number;
  };
  /** the survey before it, by whatever scope; 0 for none */
  previous: number;
  covered: {
    scopeName: string;
    isCutShort: boolean;
    addresses: number;
    devices: number;
    others: number;
    oldestAt: string | null;
  } | null;
  inMaintenance: number;
  checks: { on: number; failing: number; newly: string[] } | null;
  attention: { kind: string; words: string; remedy: string; href: string }[];
  changes: {
    survey: number;
    thing: string;
    subject: string;
    deviceId: number;
    kind: string;
    field: string;
    words: string;
    before: string;
    after: string;
  }[];
}

const changeMarks: Record<string, string> = { added: '+', removed: '−', changed: '~', replaced: '~', silent: '~' };

/** What is new, changed or silent since the survey before, and what needs a person. */
export function TodayWorkspace() {
  const view = useView();
  const parameters = new URLSearchParams({
    ...(view.survey && { survey: view.survey }),
    ...(view.against && { against: view.against }),
  }).toString();
  const { data, error } = useQuery<Today, ApiProblem>({
    queryKey: ['today', parameters],
    queryFn: () => call<Today>(`today${parameters && `?${parameters}`}`),
  });
  if (standsInTheWay(error, data))
    return (
      <main className="work">
        <ProblemNote problem={error} />
      </main>
    );
  if (!data)
    return (
      <main className="work">
        <div className="empty quiet">reading…</div>
      </main>
    );
  if (data.survey === 0) {
    return (
      <main className="work">
        <div className="empty">
          <h1>Nothing is known yet</h1>
          <p className="quiet" style={{ margin: '8px 0 14px' }}>
            Bolide asks the equipment itself. Give it a credential and the address ranges of your network; the first
            list stands here minutes later.
          </p>
          <Link href={view.href('/begin')}>Set up the first survey</Link>
        </div>
      </main>
    );
  }
  const { numbers } = data;
  /** null at the first survey: there is nothing to compare it with */
  const since = data.beforeAt ? `since ${moment(data.beforeAt)}` : null;
  /** the devices that differ so: the same ones as are counted */
  const marked = (change: string) =>
    view.href('/estate', { where: `change=${change}`, against: String(data.before), sel: null });
  const count = (value: number, words: string, href: string) => (
    <Link href={href}>
      <b>{value}</b>
      <span className="quiet">{words}</span>
    </Link>
  );
  return (
    <main className="work scrolls">
      <div className="titleline">
        <h1>{headingOf(data.attention.length, data.checks?.failing ?? 0)}</h1>
        <span className="quiet">
          {numbers.answering} of {numbers.devices} devices answer{numbers.partial > 0 && `, ${numbers.partial} in part`}
          <Covered of={data} />
        </span>
      </div>
      <div className="numbers">
        {since === null ? (
          count(
            numbers.devices,
            data.previous === 0 ? 'devices in the first survey' : 'devices known',
            view.href('/estate', { sel: null }),
          )
        ) : (
          <>
            {count(numbers.newDevices, `new ${since}`, marked('added'))}
            {count(numbers.replaced, 'replaced', marked('replaced'))}
            {count(
              numbers.changedDevices,
              numbers.changedDevices === 1 ? 'device changed' : 'devices changed',
              marked('changed'),
            )}
            {count(
              data.changes.length,
              'changes in all',
              view.href('/estate', { of: 'changes', against: String(data.before), sel: null }),
            )}
          </>
        )}
        {count(numbers.silent, 'silent', view.href('/estate', { where: 'state=silent', sel: null }))}
        {data.checks &&
          count(
            data.checks.failing,
            `of ${data.checks.on} checks fail${data.checks.newly.length > 0 ? `, ${data.checks.newly.length} newly` : ''}`,
            view.href('/estate', { of: 'checks', sel: null }),
          )}
      </div>
      <div className="blocks">
        <section>
          <Watched />
          <h2 className="sub">Needs attention</h2>
          {data.attention.length === 0 && (
            <p className="quiet">
              Every known device answered whole, both ends of every link agree, and no target is out of reach.
            </p>
          )}
          {data.inMaintenance > 0 && (
            <p className="small quiet" style={{ paddingBottom: 4 }}>
              <Link href={view.href('/estate', { where: 'maintenance=yes', sel: null })}>
                {data.inMaintenance === 1 ? 'One device is' : `${data.inMaintenance} devices are`} in maintenance
              </Link>
              : what goes wrong there is left out here.
            </p>
          )}
          {numbers.silent > 1 && (
            <p className="small" style={{ paddingBottom: 4 }}>
              <Link href={view.href('/dependencies', { of: 'suspects', down: silentToken, sel: null })}>
                {numbers.silent} devices do not answer: what do they share?
              </Link>
            </p>
          )}
          <ul className="lines">
            {data.attention.map(({ kind, words, remedy, href }) => (
              <li key={words}>
                <Glyph
                  name={kind === 'silent' ? 'silent' : kind === 'cover' ? 'later' : 'fault'}
                  word={kind === 'silent' || kind === 'cover' || kind === 'backup' ? kind : 'fault'}
                />
                <div>
                  <Link href={view.href(href, { sel: null })}>{words}</Link>
                  <div className="small quiet">{remedy}</div>
                </div>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="sub">{since === null ? 'Changes' : `Changed ${since}`}</h2>
          {data.changes.length === 0 && (
            <p className="quiet">
              {since !== null
                ? 'Nothing is different from then.'
                : data.previous === 0
                  ? 'This is the first survey: the next one is compared with it.'
                  : `“${data.covered?.scopeName ?? ''}” was surveyed for the first time: there is nothing to compare it with.`}
              {since === null && data.previous > 0 && (
                <>
                  {' '}
                  <Link href={view.href('/today', { against: String(data.previous) })}>
                    Compare with the survey before
                  </Link>
                </>
              )}
            </p>
          )}
          <ul className="lines">
            {data.changes.slice(0, 40).map((change, at) => (
              <li key={at}>
                <b style={{ color: 'var(--lagoon)', width: 12 }} aria-label={change.kind}>
                  {changeMarks[change.kind]}
                </b>
                <div>
                  {change.deviceId > 0 ? (
                    <Link href={view.href('/estate', { sel: `device:${change.deviceId}` })}>{change.subject}</Link>
                  ) : (
                    change.subject
                  )}{' '}
                  <span className="quiet">{wordsOf(change)}</span>
                  {change.field && change.kind !== 'silent' && (
                    <span className="mono small">
                      {' '}
                      {change.before || 'nothing'} → {change.after || 'nothing'}
                    </span>
                  )}
                </div>
              </li>
            ))}
          </ul>
          {data.changes.length > 40 && (
            <p style={{ paddingTop: 8 }}>
              <Link href={view.href('/estate', { of: 'changes', sel: null, against: String(data.before) })}>
                all {data.changes.length} changes
              </Link>
            </p>
          )}
        </section>
      </div>
    </main>
  );
}

/** What the survey looked at covered: how old the answers of the others are is told where there are any. */
function Covered({ of: { covered, sealedAt, numbers } }: { of: Today }) {
  if (!covered || !sealedAt) return null;
  const { scopeName, isCutShort, addresses, devices, others, oldestAt } = covered;
  const when = <Ago at={sealedAt} />;
  if (!isCutShort && others === 0) return <>; surveyed {when}</>;
  const rest = others > 0 && oldestAt ? `; the others answered ${moment(oldestAt)} or later` : '';
  return (
    <>
      ; “{scopeName}” was {isCutShort ? 'cut short' : 'surveyed'} {when}: {devices} of {numbers.devices} devices among
      its {addresses} addresses{rest}
    </>
  );
}

/** The first thing to know: what needs a person, checks that fail included. */
function headingOf(things: number, checks: number): string {
  const failing = checks === 1 ? '1 check fails' : `${checks} checks fail`;
  if (things > 0) return `${things} ${things === 1 ? 'thing needs' : 'things need'} a look`;
  return checks > 0 ? failing : 'Nothing needs you';
}

/** What became of what one watches. */
function Watched() {
  const view = useView();
  const { data } = useWatches();
  if (!data || data.length === 0) return null;
  const changed = data.filter(({ changes }) => changes.length > 0);
  const href = ({ thing, rowId }: WatchedRow) =>
    thing === 'ports'
      ? view.href('/ports', { device: rowId.split(':')[0] ?? null, sel: `port:${rowId}` })
      : view.href('/ports', { of: 'find', find: rowId, sel: null });
  return (
    <div style={{ paddingBottom: 12 }}>
      <h2 className="sub">
        Watched{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {data.length}
        </span>
      </h2>
      {changed.length === 0 && <p className="quiet small">{data.length === 1 ? 'It is' : 'All are'} as before.</p>}
      <ul className="lines">
        {changed.map((row) => (
          <li key={row.id}>
            <Glyph name={row.there ? 'later' : 'silent'} word="changed" />
            <div>
              <Link href={href(row)}>{row.words}</Link> {row.changes.join('; ')}
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}

function wordsOf({ kind, thing, words }: Today['changes'][number]): string {
  switch (kind) {
    case 'added':
      return `${thing} is new`;
    case 'removed':
      return `${thing} is gone`;
    case 'replaced':
      return `${thing} replaced`;
    case 'silent':
      return 'does not answer any more';
    default:
      return words;
  }
}
