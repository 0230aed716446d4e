import type {
  AddressFacts,
  DeviceFacts,
  MachineFacts,
  NeighbourFacts,
  PortFacts,
  ToldLinkFacts,
  VirtualRouterFacts,
} from '../../core/estate/facts';
import type { SightedDevice } from '../../core/switching/heardTables';
import type { AttachmentFacts } from '../../core/switching/placement';
import type { Earlier } from '../../core/switching/settled';
import { unlisted, type Unlisted } from '../../core/switching/unlisted';
import type { Conclusion } from '../../core/topology/conclude';
import { linkKey } from '../../core/topology/links';
import { macOfNumber } from '../../core/values/mac';
import { latestOutcomes } from '../../store/base/latestOutcomes';
import { heardReader } from '../../store/sightings';
import type { Db } from '../../store/base/database';
import { byDevice, factsAsOf, openFact, writeEstateFacts, writeFacts, type FactText } from '../../store/base/facts';

/** All devices with the facts that conclusions need, as of a survey. */
export function readKnownEstate(db: Db, surveyId: number): SightedDevice[] {
  const ports = byDevice(factsAsOf<PortFacts>(db, 'port', surveyId));
  const neighbours = byDevice(factsAsOf<NeighbourFacts>(db, 'neighbour', surveyId));
  const machines = byDevice(factsAsOf<MachineFacts>(db, 'machine', surveyId));
  const subnets = byDevice(factsAsOf<AddressFacts>(db, 'address', surveyId));
  const toldLinks = byDevice(factsAsOf<ToldLinkFacts>(db, 'toldLink', surveyId));
  const virtualRouters = byDevice(factsAsOf<VirtualRouterFacts>(db, 'virtualRouter', surveyId));
  const heardBy = heardReader(db);
  const outcomes = latestOutcomes(db, surveyId);
  return factsAsOf<DeviceFacts>(db, 'device', surveyId).map(({ deviceId, content }) => ({
    id: deviceId,
    device: content,
    ports: ports.get(deviceId) ?? [],
    neighbours: neighbours.get(deviceId) ?? [],
    machines: machines.get(deviceId) ?? [],
    subnets: subnets.get(deviceId) ?? [],
    toldLinks: toldLinks.get(deviceId) ?? [],
    virtualRouters: virtualRouters.get(deviceId) ?? [],
    answered: outcomes.get(deviceId)?.outcome !== 'silent',
    // read when they are needed, a device at a time: together they would fill the memory
    get heard() {
      return heardBy(deviceId);
    },
  }));
}

/** Where a MAC was found the last time. */
export function earlierPlaces(db: Db): Earlier {
  return (mac) => {
    const known = openFact<AttachmentFacts>(db, 'attachment', 0, macOfNumber(mac));
    return known?.deviceId && known.port ? { deviceId: known.deviceId, port: known.port } : null;
  };
}

/** A conclusion with its attachments as they are kept, in the order of their MACs. */
export interface WrittenConclusion extends Pick<Conclusion, 'links' | 'portKinds'> {
  attachments: Iterable<FactText>;
}

/** Machines that their own switch ought to list and does not. */
export function* unlistedOf(attachments: Iterable<FactText>): Generator<Unlisted> {
  for (const { text } of attachments) {
    // of a hundred thousand only those few are read
    if (!text.includes('"among":') && !text.includes('"basis":')) continue;
    const found = unlisted(JSON.parse(text) as AttachmentFacts);
    if (found) yield found;
  }
}

/** Writes links, attachments and kinds of ports. */
export function writeConclusion(db: Db, surveyId: number, { links, attachments, portKinds }: WrittenConclusion): void {
  writeFacts(
    db,
    'link',
    surveyId,
    0,
    links.map((link) => ({ key: linkKey(link.a, link.b), content: link })),
    true,
  );
  writeEstateFacts(db, 'attachment', surveyId, attachments);
  for (const [deviceId, kinds] of portKinds)
    writeFacts(db, 'portKind', surveyId, deviceId, [{ key: 'kinds', content: Object.fromEntries(kinds) }], true);
}
