import { carryOver, carryOverPorts, portParts } from '../core/estate/carryOver';
import { toldKinds, type ToldList, type ToldRow } from '../core/estate/factKinds';
import type { DeviceFacts, DeviceReport, WayKind, PortFacts } from '../core/estate/facts';
import type { HarvestPart } from '../core/estate/harvest';
import { packSightings } from '../core/estate/sightingCodec';
import { compareAddresses } from '../core/values/ipAddress';
import { inTransaction, type Db } from './base/database';
import { factsAsOf, writeFacts, type Fact } from './base/facts';
import { writePortMoments } from './base/portMoments';
import type { FactKind as StoredKind } from './base/schema';
import { statements } from './base/statements';
import { writeVolatile } from './base/volatileValues';
import { toldNow, type Identities } from './identities';
import { besideOthers, type InterfaceAnswer } from './interfaceReports';
import { keepSightings } from './sightings';

export interface Committed {
  deviceId: number;
  kind: 'new' | 'known' | 'replaced';
}

const of = statements(({ $client }) => ({
  newDevice: $client.prepare<[number, string]>('insert into device (first_survey, credential) values (?, ?)'),
  firstSurvey: $client.prepare<[number], { firstSurvey: number }>(
    'select first_survey as firstSurvey from device where id = ?',
  ),
  keepCredential: $client.prepare<[string, number]>('update device set credential = ? where id = ?'),
}));

/**
 * Writes one device's report in one transaction: identity, versions, volatile values. A part that was not covered is written only
 * where nothing is known yet. What another way in to the same device told last stays beside it. Doing it again in the same survey changes nothing.
 */
export function commitReport(
  db: Db,
  surveyId: number,
  identities: Identities,
  answer: InterfaceAnswer,
  answeredBefore: (deviceId: number, kind: WayKind) => boolean,
): Committed {
  return inTransaction(db, () => {
    const { kind, covered, adding, asked } = answer;
    const askedOn = (id: number) => {
      const known = identities.latest(id);
      return known?.interfaces?.find((own) => own.kind === kind)?.address ?? known?.address;
    };
    const match = identities.match(
      answer.report,
      (id) => answeredBefore(id, kind) && askedOn(id) !== answer.report.device.address,
    );
    const deviceId =
      match?.id ?? Number(of(db).newDevice.run(surveyId, answer.report.device.credential).lastInsertRowid);
    const latest = identities.latest(deviceId);
    // asked again on another of its addresses in the same survey: it is counted once
    if (match && answeredBefore(deviceId, kind) && askedOn(deviceId) !== answer.report.device.address) {
      if (latest && !latest.interfaces && isLowerAtFirst(db, surveyId, deviceId, latest, answer.report.device))
        renamed(
          db,
          surveyId,
          deviceId,
          identities,
          { ...latest, address: answer.report.device.address },
          answer.report,
        );
      return { deviceId, kind: 'known' };
    }
    const report = besideOthers(db, surveyId, deviceId, answer, latest);
    const kept = carryOver(latest, report.device, covered, asked);
    const facts = { ...kept, address: addressOf(db, surveyId, deviceId, latest, kept) };
    if (kind === 'snmp') of(db).keepCredential.run(facts.credential, deviceId);
    const whole = (part: HarvestPart) => covered.has(part);
    const write = (name: StoredKind, list: Fact[], part: HarvestPart) => {
      // half a table may name its rows otherwise than the whole: it says something only where nothing better is known
      if (!whole(part) && !adding?.has(part) && factsAsOf(db, name, surveyId, [deviceId]).length > 0) return;
      writeFacts(db, name, surveyId, deviceId, list, whole(part));
    };
    // what of it comes from a part that broke off is already as it was
    writeFacts(db, 'device', surveyId, deviceId, [{ key: 'device', content: facts }], true);
    const ports = portsBesideKnown(db, surveyId, deviceId, report.ports, covered, asked);
    for (const { kind: name, list, part, snmpPart, also = [], key } of toldKinds) {
      const rows: readonly ToldRow<ToldList>[] | undefined = list === 'ports' ? ports : report[list];
      // few ways in tell of some: where none did, there is nothing to write and nothing to take away
      if (!rows) continue;
      const facts = rows.map((row) => ({ key: key(row, rows), content: row }));
      if (also.some((other) => asked.has(other) && !whole(other))) {
        writeFacts(db, name as StoredKind, surveyId, deviceId, facts, false);
        continue;
      }
      write(name as StoredKind, facts, kind === 'snmp' ? (snmpPart ?? part) : part);
    }
    writeVolatile(db, surveyId, deviceId, report.volatile);
    if (whole('interfaces')) writePortMoments(db, surveyId, deviceId, report.portAges);
    if (whole('bridge') || whole('neighbourAddresses')) {
      // a report that is put together with others holds its own
      const body = (report === answer.report ? answer.packedSightings : undefined) ?? packSightings(report.sightings);
      keepSightings(db, deviceId, surveyId, body);
    }
    identities.set(deviceId, facts, ports, toldNow(answer.report));
    return { deviceId, kind: match ? (match.replaced ? 'replaced' : 'known') : 'new' };
  });
}

/** Ports of a report, each with what is known of it beside where another part of the answer broke off. */
function portsBesideKnown(
  db: Db,
  surveyId: number,
  deviceId: number,
  found: PortFacts[],
  covered: Set<HarvestPart>,
  asked: Set<HarvestPart>,
): PortFacts[] {
  const isWhole = portParts.every((part) => covered.has(part) || !asked.has(part));
  const known = isWhole ? [] : factsAsOf<PortFacts>(db, 'port', surveyId, [deviceId]);
  return carryOverPorts(new Map(known.map(({ content }) => [content.name, content])), found, covered, asked);
}

/**
 * The address under which a device is known. It answers on all of its own, in whatever order they come: as long as it has the one it was known under, that stays; in the
 * survey that finds it, it is the lowest.
 */
function addressOf(
  db: Db,
  surveyId: number,
  deviceId: number,
  latest: DeviceFacts | undefined,
  found: DeviceFacts,
): string {
  if (
    !latest ||
    latest.interfaces ||
    found.interfaces ||
    latest.address === found.address ||
    !found.addresses.includes(latest.address)
  )
    return found.address;
  return isLowerAtFirst(db, surveyId, deviceId, latest, found) ? found.address : latest.address;
}

/** In the survey that finds a device, the lowest of its addresses that answer is the one it is known under. */
function isLowerAtFirst(db: Db, surveyId: number, deviceId: number, latest: DeviceFacts, found: DeviceFacts): boolean {
  return (
    of(db).firstSurvey.get(deviceId)?.firstSurvey === surveyId && compareAddresses(found.address, latest.address) < 0
  );
}

/** Nothing but the address under which it is known. */
function renamed(
  db: Db,
  surveyId: number,
  deviceId: number,
  identities: Identities,
  facts: DeviceFacts,
  { ports }: DeviceReport,
): void {
  writeFacts(db, 'device', surveyId, deviceId, [{ key: 'device', content: facts }], true);
  identities.set(deviceId, facts, ports);
}
