'use client';

import { useState } from 'react';
import type { ThingKind } from '@/core/dependency/graph';
import { Glyph, type GlyphName } from '../../components/Glyph';
import { Hint } from '../../components/Hint';
import { TextButton } from '../../components/TextButton';
import { Link } from '../../components/Link';
import { useView } from '../../lib/useView';
import { ThingLink } from '../ThingLink';
import type { LostThing, Rehearsal } from './useRehearsal';

const words: Record<ThingKind, [one: string, many: string]> = {
  application: ['application', 'applications'],
  service: ['service', 'services'],
  device: ['device', 'devices'],
  machine: ['virtual machine', 'virtual machines'],
  endpoint: ['endpoint', 'endpoints'],
};
const kinds: ThingKind[] = ['application', 'service', 'machine', 'device', 'endpoint'];
const counted = (count: number, kind: ThingKind): string => `${count} ${words[kind][count === 1 ? 0 : 1]}`;

const joined = (parts: string[]): string =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;

/** What an outage would cost, as sentences: what is lost first, then what only loses its spare. */
export function Verdict({ rehearsal, against }: { rehearsal: Rehearsal; against: Rehearsal | undefined }) {
  const { lost, degraded, untouched, chosen, cut, endpoints, people } = rehearsal;
  const gone = [...chosen.map(({ name }) => name), ...new Set(cut.map(({ name }) => name))];
  const lostEndpoints = endpoints.reduce((sum, one) => sum + one.lost, 0);
  const counts = (rows: readonly LostThing[], more: number) =>
    kinds.flatMap((kind) => {
      const count = kind === 'endpoint' ? more : rows.filter((row) => row.kind === kind).length;
      return count > 0 ? [counted(count, kind)] : [];
    });
  const lostWords = counts(lost, lostEndpoints);
  const degradedWords = counts(degraded, 0);
  return (
    <section className="verdict" aria-label={`If ${joined(gone.slice(0, 3))} goes down`}>
      <h2 className="sentence" aria-live="polite">
        {lostWords.length > 0 ? (
          <>
            <Glyph name="fault" /> <b>{joined(lostWords)}</b> would be lost.
          </>
        ) : degradedWords.length > 0 ? (
          <>
            <Glyph name="later" /> Nothing else would be lost.
          </>
        ) : (
          <>
            <Glyph name="up" /> Nothing else would be lost, and nothing loses its spare.
          </>
        )}{' '}
        {degradedWords.length > 0 && (
          <>
            <b>{joined(degradedWords)}</b> would lose a spare.
          </>
        )}
      </h2>
      {people.length > 0 && <People rows={people} />}
      <Fates title="Lost" glyph="fault" rows={lost} against={against && new Set(against.lost.map(keyOf))} />
      {lostEndpoints > 0 && <Endpoints rows={endpoints} />}
      <Fates
        title="Degraded"
        glyph="later"
        rows={degraded}
        against={against && new Set([...against.lost, ...against.degraded].map(keyOf))}
      />
      <section>
        <h3>
          <Glyph name="up" /> Untouched
        </h3>
        <p className="quiet">
          {joined(
            kinds.flatMap((kind) => {
              const count = untouched[`${kind}s`];
              return count > 0 ? [counted(count, kind)] : [];
            }),
          ) || 'nothing'}
        </p>
      </section>
    </section>
  );
}

/** Whom to tell, by application. */
function People({ rows }: { rows: Rehearsal['people'] }) {
  const view = useView();
  return (
    <section>
      <h3>Whom to tell</h3>
      <ul className="sentences">
        {rows.map(({ application, id, criticality, owner, contacts, lost }) => (
          <li key={id}>
            <Glyph name={lost ? 'fault' : 'later'} size={9} word={lost ? 'lost' : 'loses a spare'} />{' '}
            <Link href={view.href('/dependencies', { of: 'applications', host: id, sel: null })}>{application}</Link>{' '}
            <span className="quiet">{criticality}</span>{' '}
            {[owner, ...contacts].filter(Boolean).join(', ') || <span className="quiet">nobody is named</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

const keyOf = ({ kind, id }: { kind: ThingKind; id: string }): string => `${kind} ${id}`;

/** Things of one fate, those with one reason together. */
function Fates({
  title,
  glyph,
  rows,
  against,
}: {
  title: string;
  glyph: GlyphName;
  rows: readonly LostThing[];
  /** what the other plan costs too */
  against: ReadonlySet<string> | undefined;
}) {
  if (rows.length === 0) return null;
  const groups = new Map<string, LostThing[]>();
  for (const row of rows) {
    const key = `${row.kind}\t${row.why}`;
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  return (
    <section>
      <h3>
        <Glyph name={glyph} /> {title}
      </h3>
      <ul className="sentences">
        {[...groups].map(([key, own]) => (
          <li key={key}>
            <Names rows={own} against={against} /> <span className="why">{sentenceOf(own)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Why, fit to one or to several. */
function sentenceOf(rows: readonly LostThing[]): string {
  const why = rows[0]?.why ?? '';
  if (rows.length === 1) return `${why}.`;
  const many: [RegExp, string][] = [
    [/^reaches /, 'reach '],
    [/^is /, 'are '],
    [/^runs /, 'run '],
    [/^asks /, 'ask '],
    [/^starts /, 'start '],
    [/^has /, 'have '],
    [/^needs /, 'need '],
    [/^replicates /, 'replicate '],
    [/^its other way /, 'have no other way any more: it '],
    [/^ran /, 'ran '],
  ];
  const found = many.find(([one]) => one.test(why));
  return `${found ? why.replace(found[0], found[1]) : why}.`;
}

const firstShown = 12;

function Names({ rows, against }: { rows: readonly LostThing[]; against: ReadonlySet<string> | undefined }) {
  const [all, setAll] = useState(false);
  const shown = all ? rows : rows.slice(0, firstShown);
  const left = rows.length - shown.length;
  return (
    <span className="names">
      {rows.length > 1 && <b>{counted(rows.length, rows[0]?.kind ?? 'device')} </b>}
      {shown.map((row, at) => (
        <span key={keyOf(row)}>
          {at > 0 && ', '}
          {against && !against.has(keyOf(row)) && (
            <Hint words="not in the other plan">
              <span className="mark" role="img" aria-label="not in the other plan:">
                +
              </span>
            </Hint>
          )}
          <ThingLink thing={row} />
        </span>
      ))}
      {left > 0 && (
        <>
          {' '}
          <TextButton onClick={() => setAll(true)}>and {left} more</TextButton>
        </>
      )}
    </span>
  );
}

/** Endpoints that are lost, by site and VLAN. */
function Endpoints({ rows }: { rows: Rehearsal['endpoints'] }) {
  const view = useView();
  const sites = new Map<string, Rehearsal['endpoints']>();
  for (const row of rows) sites.set(row.site, [...(sites.get(row.site) ?? []), row]);
  return (
    <ul className="sentences">
      {[...sites].map(([site, own]) => {
        const total = own.reduce((sum, { lost }) => sum + lost, 0);
        return (
          <li key={site}>
            <b>{counted(total, 'endpoint')}</b>{' '}
            {site ? (
              <>
                at{' '}
                <Link href={view.href('/estate', { of: 'endpoints', where: `site="${site}"`, sel: null })}>{site}</Link>
              </>
            ) : (
              'at no known site'
            )}
            <span className="quiet">
              : {joined(own.map(({ vlan, lost }) => `${lost} in ${vlan || 'no known VLAN'}`))}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
