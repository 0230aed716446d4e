import { linkWords } from '../../core/dependency/linkWords';
import { restingsOf, type RestedOn, type RestKind } from '../../core/dependency/restsOn';
import { valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { dependenceAt, type Dependence } from './dependence';
import { chosenOf, type Asked, type NamedThing } from './rehearsal';

/** One of those that something rests on, with the evidence. */
export interface ToldRestedOn extends NamedThing {
  /** how it is known, each reason by itself */
  proof: string[];
  /** when who says so answered last, an ISO moment; empty where the proof says when, or a person says so */
  seen: string;
  isMutual: boolean;
}

export interface ToldResting {
  kind: RestKind;
  /** of a gateway its network, of an application its part */
  of: string;
  /** so many of them must go on; 0 where it goes on without for a while */
  atLeast: number;
  on: ToldRestedOn[];
}

/** What a thing rests on, one step far, and what the services on it rest on. */
export interface RestsOn {
  survey: number;
  of: NamedThing;
  rests: ToldResting[];
  services: { of: NamedThing; rests: ToldResting[] }[];
}

/** What a thing rests on, with the evidence of each edge; mistakes where its name means nothing. */
export function restsOnTold(store: Store, survey: number, of: string): Asked<RestsOn> {
  const dependence = dependenceAt(store, survey);
  const chosen = chosenOf(store, survey, dependence, [of]);
  if ('mistakes' in chosen) return chosen;
  const [thing] = chosen.things;
  if (thing === undefined || chosen.things.length > 1) return { mistakes: [`“${of}” is more than one thing`] };
  const { prepared, providers } = dependence;
  const seenOf = seenAt(store, survey, dependence);
  const told = (at: number): ToldResting[] =>
    restingsOf(prepared, providers, at).map(({ kind, of: part, atLeast, on }) => ({
      kind,
      of: part,
      atLeast,
      on: on.map((one) => toldOne(dependence, one, seenOf(at, kind, one))),
    }));
  const services = prepared.counted.fulfils
    .subarray(prepared.counted.starts[thing] ?? 0, prepared.counted.starts[thing + 1] ?? 0)
    .reduce<number[]>((found, need) => {
      const one = prepared.needs[need];
      if (one?.kind === 'runs on') found.push(one.of);
      return found;
    }, []);
  return {
    survey,
    of: named(dependence, thing),
    rests: told(thing),
    services: services
      .map((at) => ({ of: named(dependence, at), rests: told(at).filter(({ kind }) => kind !== 'runs on') }))
      .filter(({ rests }) => rests.length > 0)
      .sort((x, y) => compareNaturally(x.of.name, y.of.name)),
  };
}

const named = ({ prepared }: Dependence, at: number): NamedThing => {
  const { kind, id, name } = prepared.things[at] ?? { kind: 'device' as const, id: '', name: '' };
  return { kind, id, name };
};

function toldOne(dependence: Dependence, one: RestedOn, seen: string): ToldRestedOn {
  const { links, linkOf } = dependence;
  const cables = one.cables.flatMap((cable) => {
    const link = links[linkOf[cable] ?? -1];
    if (!link) return [];
    const [first] = link.evidence;
    return [`${linkWords(link)}, ${link.confidence}${first ? `: ${first.detail}` : ''}`];
  });
  return {
    ...named(dependence, one.thing),
    proof: [...one.proof, ...cables],
    seen,
    isMutual: one.isMutual,
  };
}

/** When what proves an edge was seen last: whoever tells it answered then. */
function seenAt(
  store: Store,
  survey: number,
  { prepared, providers, links, linkOf }: Dependence,
): (of: number, kind: RestKind, one: RestedOn) => string {
  const answered = (deviceId: number | string) => momentIn(store, survey, 'devices', 'lastAnswered', String(deviceId));
  const latest = (moments: string[]) => moments.reduce((last, moment) => (moment > last ? moment : last), '');
  const deviceAt = (at: number) => {
    const thing = prepared.things[at];
    return thing?.kind === 'device' ? answered(thing.id) : '';
  };
  return (of, kind, { thing, cables }) => {
    const own = prepared.things[of];
    switch (kind) {
      case 'attached to':
        if (own?.kind === 'endpoint') return momentIn(store, survey, 'endpoints', 'lastSeen', own.id);
        return latest(
          cables.flatMap((cable) => {
            const link = links[linkOf[cable] ?? -1];
            return link ? [answered(link.a.deviceId), answered(link.b.deviceId)] : [];
          }),
        );
      case 'gateway of':
      case 'powered by':
      case 'runs on':
        return deviceAt(thing);
      case 'hosted by':
        return deviceAt(providers.machineOf(of)?.host ?? -1);
      default:
        return '';
    }
  };
}

/** A moment that a table tells of one of its rows; empty where it has none. */
function momentIn(store: Store, survey: number, thing: 'devices' | 'endpoints', field: string, id: string): string {
  const table = tablesOf(store).table(thing, survey, null);
  const row = table.rowOf(id);
  return row < 0 ? '' : String(valueAt(table.column(field), row) ?? '');
}
