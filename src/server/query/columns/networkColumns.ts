import { alikeDevices } from '../../../core/estate/alike';
import { cutsOf, type CutOff } from '../../../core/dependency/cuts';
import { forwardsOf, networkOf } from '../../../core/dependency/network';
import type { DeviceFacts, NeighbourFacts, Role } from '../../../core/estate/facts';
import { everyRow, valueAt } from '../../../core/tables/column';
import { lostSpares } from '../../../core/topology/lostSpares';
import { newNeighbours } from '../../../core/topology/newNeighbours';
import { linkKey, type LinkFacts } from '../../../core/topology/links';
import { latestOutcomes } from '../../../store/base/latestOutcomes';
import type { Db } from '../../../store/base/database';
import { factHistory, factsAsOf } from '../../../store/base/facts';
import { Calendar } from '../calendar';
import type { ThingTable } from '../tables/thingTable';

/** What the loss of each device and link would part, and what stood on a ring once and does not any more. */
export const cutFields = ['cutsDevices', 'cutsEndpoints'] as const;
export const spareFields = ['spareLostSince', 'spareLostBy'] as const;

export type Cuts = ReadonlyMap<string, { cutsDevices: number; cutsEndpoints: number }>;

interface JoinedLink {
  id: string;
  a: number;
  b: number;
  words: string;
}

const joined = ({ a, b }: LinkFacts): JoinedLink => ({
  id: linkKey(a, b),
  a: a.deviceId,
  b: b.deviceId,
  words: `${a.device} ${a.port} – ${b.device} ${b.port}`,
});

/** By id of links and of devices: how many devices and endpoints hang on it alone. Its own endpoints are lost with a device. @param hanging endpoints by device */
export function cutsIn(
  devices: ThingTable,
  links: ThingTable,
  hanging: ReadonlyMap<number, number>,
): { links: Cuts; devices: Cuts } {
  const facts = links.rows(everyRow(links.size)) as unknown as LinkFacts[];
  const all = facts.map(joined);
  const hangingOn = (id: number) => hanging.get(id) ?? 0;
  const roles = devices.column('role');
  const { cabling, standing, ids, linkOf } = networkOf(
    Array.from(devices.keys(), (id, row) => ({ id: Number(id), role: valueAt(roles, row) as Role })),
    all,
  );
  const cuts = cutsOf(cabling, standing, (place) => hangingOn(ids[place] ?? 0));
  // machines of a host start again elsewhere, or do not: that is no matter of links
  const hosts = new Set(facts.flatMap(({ kind, a }) => (kind === 'virtual' ? [a.deviceId] : [])));
  const told = ({ devices: count, hanging: endpoints }: CutOff, own = 0) => ({
    cutsDevices: count,
    cutsEndpoints: endpoints + own,
  });
  return {
    links: new Map([...cuts.cables].map(([cable, cut]) => [all[linkOf[cable] ?? 0]?.id ?? '', told(cut)])),
    devices: new Map(
      [...cuts.devices].flatMap(([place, cut]) => {
        const id = ids[place] ?? 0;
        return hosts.has(id) ? [] : [[String(id), told(cut, hangingOn(id))] as const];
      }),
    ),
  };
}

const lookedBack = 10;

/** By id of a link that lost its spare within the last surveys: since when, and with what it went. */
export function sparesLost(db: Db, survey: number): Map<string, { spareLostSince: string; spareLostBy: string }> {
  const calendar = new Calendar(db);
  const before = calendar
    .between(0, survey - 1)
    .slice(-lookedBack)
    .reverse();
  if (before.length === 0) return new Map();
  const history = factHistory<LinkFacts>(db, 'link').map(({ fromSurvey, untilSurvey, content }) => ({
    fromSurvey,
    untilSurvey,
    link: joined(content),
  }));
  const at = (then: number) =>
    history
      .filter(({ fromSurvey, untilSurvey }) => fromSurvey <= then && (untilSurvey === null || untilSurvey > then))
      .map(({ link }) => link);
  const now = at(survey);
  const passes = new Set(
    factsAsOf<DeviceFacts>(db, 'device', survey).flatMap(({ deviceId, content }) =>
      forwardsOf([content.role])[0] ? [deviceId] : [],
    ),
  );
  // a server on two switches has a spare, and is none between them
  const isWay = ({ a, b }: JoinedLink) => passes.has(a) && passes.has(b);
  const spares = (of: (link: JoinedLink) => boolean) => {
    const own = now.filter(of);
    const lost = lostSpares(
      survey,
      own,
      before.map((then) => ({ survey: then, links: at(then).filter(of) })),
    );
    return [...lost].flatMap(([place, spare]) => (own[place] ? [{ link: own[place], ...spare }] : []));
  };
  const lost = [...spares(isWay), ...spares(() => true).filter(({ link }) => !isWay(link))];
  return new Map(
    lost.map(({ link, since, gone }) => [
      link.id,
      {
        spareLostSince: calendar.momentOf(since),
        spareLostBy: gone ? `${gone.words} is gone` : 'the way around is gone',
      },
    ]),
  );
}

/** By id of a port at which another neighbour is heard than at the survey before: who, and who was there. Ports of devices that answered at both alone. */
export function neighboursThatAreNew(db: Db, survey: number): Map<string, string> {
  const before = new Calendar(db).before(survey);
  if (before === 0) return new Map();
  const [then, now] = [before, survey].map((at) => ({
    outcomes: latestOutcomes(db, at),
    neighbours: factsAsOf<NeighbourFacts>(db, 'neighbour', at),
  }));
  if (!then || !now) return new Map();
  const answered = ({ outcomes }: typeof now, deviceId: number) =>
    outcomes.has(deviceId) && outcomes.get(deviceId)?.outcome !== 'silent';
  const told = ({ neighbours }: typeof now) =>
    neighbours.map(({ deviceId, content }) => ({ deviceId, neighbour: content }));
  return new Map(
    newNeighbours(told(then), told(now), (deviceId) => answered(then, deviceId) && answered(now, deviceId)).map(
      ({ deviceId, port, words }) => [`${deviceId}:${port}`, words],
    ),
  );
}

/** By id of a device: with which others it has in common what should tell them apart. */
export const devicesAlike = (db: Db, survey: number): Map<string, string> =>
  new Map(
    [
      ...alikeDevices(
        factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => ({ id: deviceId, facts: content })),
      ),
    ].map(([id, words]) => [String(id), words]),
  );
