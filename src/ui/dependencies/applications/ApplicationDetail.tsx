'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Member, MemberVerdict } from '@/core/applications/application';
import { hostKey, hostOf, memberKey } from '@/core/applications/application';
import { memberWords } from '@/core/applications/difference';
import { tierWords } from '@/core/applications/strata';
import { memberOf, type Instance, type Part, type Proposal } from '@/core/applications/assemble';
import { Link } from '../../components/Link';
import { PlainInput } from '../../components/PlainInput';
import { PlainSelect } from '../../components/PlainSelect';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { ApiProblem, call } from '../../lib/api';
import { moment } from '../../lib/format';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { StrataView } from './StrataView';
import { useRound, useSaveApplication, withVerdict, type KeptApplication } from './useApplications';

/** A member as it is meant: a service wherever it talks with the rest, so that the application follows changes. Of a port at an address nobody knows whether another is the same. */
const meant = (member: Member): Member =>
  member.kind === 'service' && !member.address ? { ...member, deviceId: null } : member;

/** One application: its parts from those who are asked first down to what stands behind them, and what its next round may bring. */
export function ApplicationDetail({ application, version }: { application: KeptApplication; version: number }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const save = useSaveApplication();
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const { data, error } = useRound(application.id, view.survey);
  const write = async (next: KeptApplication) => {
    setProblem(null);
    try {
      await save(next, version);
    } catch (fault) {
      if (!(fault instanceof ApiProblem)) throw fault;
      setProblem(fault);
    }
  };
  const say = (member: Member, verdict: MemberVerdict | null) =>
    write({ ...application, rules: withVerdict(application.rules, member, verdict) });
  const need = (service: string, atLeast: number) =>
    write({
      ...application,
      needed: [
        ...application.needed.filter((one) => one.service !== service),
        ...(atLeast > 1 ? [{ service, atLeast }] : []),
      ],
    });
  const { name, owner, criticality, contacts, note, rules } = application;
  const parts = data?.parts ?? [];
  const own = parts.filter(({ verdict }) => verdict !== 'shared');
  const shared = parts.filter(({ verdict }) => verdict === 'shared');
  const left = rules.filter(({ verdict }) => verdict === 'out');
  const tiers = [...new Set(own.map(({ tier }) => tier))].sort((x, y) => x - y);
  const facts = [
    `${criticality} criticality`,
    owner && `owner ${owner}`,
    contacts.length > 0 && `tell ${contacts.join(', ')}`,
  ]
    .filter(Boolean)
    .join('; ');
  return (
    <section className="verdict" aria-label={name}>
      <h2 className="sentence">
        <b>{name}</b> <span className="quiet">{facts}</span>
      </h2>
      {note && <p>{note}</p>}
      <p className="small">
        {mayEdit && (
          <TextButton onClick={() => view.set({ sel: 'application:edit' })}>Owner, criticality, contacts</TextButton>
        )}{' '}
        <Link href={view.href('/dependencies', { of: 'rehearse', down: `application:${application.id}`, sel: null })}>
          Rehearse its loss
        </Link>
      </p>
      {parts.length > 0 && <StrataView id={application.id} name={name} />}
      {problem && <ProblemNote problem={problem} />}
      {error && <ProblemNote problem={error} />}
      {tiers.map((tier, at) => (
        <section key={tier}>
          <h3>{tierWords(at, tiers.length)}</h3>
          <PartList
            parts={own.filter((part) => part.tier === tier)}
            application={application}
            onSay={say}
            onNeed={need}
          />
        </section>
      ))}
      {shared.length > 0 && (
        <section>
          <h3>Shared with others</h3>
          <PartList parts={shared} application={application} onSay={say} onNeed={need} />
        </section>
      )}
      {mayEdit && <Seeds isFirst={rules.length === 0} taken={parts} onTake={(member) => say(member, 'in')} />}
      {data && data.proposals.length > 0 && (
        <section>
          <h3>The next round: what its parts talk with</h3>
          <Proposals rows={data.proposals} mayEdit={mayEdit} onSay={(member, verdict) => say(meant(member), verdict)} />
        </section>
      )}
      {data && own.length > 0 && data.proposals.length === 0 && (
        <p className="quiet">Everything its parts talk with has been decided.</p>
      )}
      {left.length > 0 && (
        <section>
          <h3>Left out</h3>
          <ul className="sentences">
            {left.map(({ member }) => (
              <li key={memberKey(member)}>
                {memberWords(member, (deviceId) => `host ${deviceId}`)}{' '}
                {mayEdit && <TextButton onClick={() => void say(member, null)}>Decide again</TextButton>}
              </li>
            ))}
          </ul>
        </section>
      )}
      <Versions id={application.id} version={version} />
    </section>
  );
}

/** Services of one process beside each other: any of them does, where nobody says otherwise. */
function PartList({
  parts,
  application,
  onSay,
  onNeed,
}: {
  parts: readonly Part[];
  application: KeptApplication;
  onSay: (member: Member, verdict: MemberVerdict | null) => Promise<void>;
  onNeed: (service: string, atLeast: number) => Promise<void>;
}) {
  const view = useView();
  const mayEdit = useMayEdit();
  const groups = new Map<string, Part[]>();
  for (const part of parts) {
    const key = part.service || part.device;
    groups.set(key, [...(groups.get(key) ?? []), part]);
  }
  const ruleOf = (part: Part) =>
    application.rules.find(({ member }) => {
      const host = hostOf(member);
      return (
        (host === null || hostKey(host) === hostKey(part)) &&
        (member.kind === 'device' || member.service === part.service)
      );
    });
  return (
    <ul className="sentences">
      {[...groups].map(([service, own]) => {
        const rule = own[0] ? ruleOf(own[0]) : undefined;
        const atLeast = application.needed.find((one) => one.service === service)?.atLeast ?? 1;
        return (
          <li key={service}>
            <b>{service}</b> <span className="quiet">{own[0]?.called}</span> on{' '}
            {own.map((part, at) => (
              <span key={hostKey(part)}>
                {at > 0 && ', '}
                {part.deviceId > 0 ? (
                  <TextButton onClick={() => view.set({ sel: `device:${part.deviceId}` })}>{part.device}</TextButton>
                ) : (
                  part.device
                )}
              </span>
            ))}{' '}
            {own.length > 1 && (
              <Share
                service={service}
                atLeast={atLeast}
                of={own.length}
                onNeed={mayEdit ? (wanted) => onNeed(service, wanted) : null}
              />
            )}
            {own.length === 1 && <span className="quiet small">stands alone</span>}{' '}
            {rule?.verdict === 'stop' && <span className="quiet small">not gone after further</span>}{' '}
            {mayEdit && rule && (
              <TextButton className="small" onClick={() => void onSay(rule.member, null)}>
                Take out
              </TextButton>
            )}
          </li>
        );
      })}
    </ul>
  );
}

const shareWords = (atLeast: number, of: number): string =>
  atLeast <= 1 ? `any of ${of}` : atLeast >= of ? `all ${of}` : `${atLeast} of ${of}`;

/** How many of those that do the same must go on. */
function Share({
  service,
  atLeast,
  of,
  onNeed,
}: {
  service: string;
  atLeast: number;
  of: number;
  onNeed: ((atLeast: number) => Promise<void>) | null;
}) {
  const own = Math.min(atLeast, of);
  if (!onNeed) return <span className="bracket">{shareWords(own, of)}</span>;
  return (
    <PlainSelect
      aria-label={`How many of ${service} must go on`}
      value={own}
      onChange={({ target }) => void onNeed(Number(target.value))}
    >
      {Array.from({ length: of }, (_, nth) => (
        <option key={nth} value={nth + 1}>
          {shareWords(nth + 1, of)}
        </option>
      ))}
    </PlainSelect>
  );
}

/** How it came to be what it is. */
function Versions({ id, version }: { id: number; version: number }) {
  const [open, setOpen] = useState(false);
  const { data, error } = useQuery<{ rows: { at: string; who: string; lines: string[] }[] }, ApiProblem>({
    queryKey: ['application-versions', id, version],
    enabled: open,
    queryFn: ({ signal }) => call(`applications/${id}/versions`, { signal }),
  });
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>How it came to be so</summary>
      {error && <ProblemNote problem={error} />}
      <ul className="sentences" aria-label="Versions">
        {data?.rows.map(({ at, who, lines }) => (
          <li key={at}>
            {moment(at)}, {who}: <span className="quiet">{lines.join('; ')}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

const verdictWords: { verdict: MemberVerdict; words: string }[] = [
  { verdict: 'in', words: 'Take in' },
  { verdict: 'stop', words: 'Take in, stop there' },
  { verdict: 'shared', words: 'Shared' },
  { verdict: 'out', words: 'Leave out' },
];

function Proposals({
  rows,
  mayEdit,
  onSay,
}: {
  rows: readonly Proposal[];
  mayEdit: boolean;
  onSay: (member: Member, verdict: MemberVerdict) => Promise<void>;
}) {
  return (
    <ul className="sentences">
      {rows.map(({ member, name, called, direction, suggested, evidence }) => (
        <li key={`${direction} ${memberKey(member)}`} aria-label={name}>
          <b>{name}</b> <span className="quiet">{called}</span>
          {mayEdit && (
            <span className="decisions">
              {verdictWords.map(({ verdict, words }) => (
                <TextButton
                  key={verdict}
                  className={verdict === suggested ? 'suggested' : ''}
                  aria-label={`${words}: ${name}`}
                  onClick={() => void onSay(member, verdict)}
                >
                  {words}
                </TextButton>
              ))}
            </span>
          )}
          <ul className="evidence quiet small">
            {evidence.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}

/** Something by a word of its owner, to begin with or to add. */
function Seeds({
  isFirst,
  taken,
  onTake,
}: {
  isFirst: boolean;
  taken: readonly Part[];
  onTake: (member: Member) => Promise<void>;
}) {
  const view = useView();
  const [text, setText] = useState('');
  const wanted = text.trim();
  const { data } = useQuery<{ rows: Instance[] }, ApiProblem>({
    queryKey: ['application-seeds', wanted, view.survey],
    enabled: wanted !== '',
    queryFn: ({ signal }) =>
      call(
        `application-seeds?${new URLSearchParams({ text: wanted, ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  const has = new Set(taken.map((part) => memberKey(memberOf(part))));
  const rows = wanted === '' ? [] : (data?.rows ?? []).filter((one) => !has.has(memberKey(memberOf(one))));
  return (
    <section>
      <h3>{isFirst ? 'What does it begin with?' : 'Add something'}</h3>
      <PlainInput
        aria-label="A word its owner gave"
        placeholder="a word its owner gave: a process, a host, what it is"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {wanted !== '' && data && rows.length === 0 && (
        <p className="quiet small">Nothing that serves or asks has “{wanted}” in it.</p>
      )}
      <ul className="sentences">
        {rows.map((one) => (
          <li key={memberKey(memberOf(one))}>
            <b>{one.service || one.device}</b>
            {one.service && ` on ${one.device}`} <span className="quiet">{one.called}</span>{' '}
            <TextButton
              aria-label={`Take in: ${one.service} on ${one.device}`}
              onClick={() => void onTake(memberOf(one))}
            >
              Take in
            </TextButton>
          </li>
        ))}
      </ul>
    </section>
  );
}
