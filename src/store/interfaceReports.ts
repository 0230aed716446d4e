import { gunzipSync, gzipSync } from 'node:zlib';
import { carryOverReport } from '../core/estate/carryOver';
import { toldKinds, type ToldList, type ToldRow } from '../core/estate/factKinds';
import type { DeviceFacts, DeviceReport, WayKind } from '../core/estate/facts';
import type { HarvestPart } from '../core/estate/harvest';
import { mergeInterfaces } from '../core/estate/mergeInterfaces';
import { unpackSightings } from '../core/estate/sightingCodec';
import type { Db } from './base/database';
import { factsAsOf } from './base/facts';
import type { FactKind as StoredKind } from './base/schema';
import { statements } from './base/statements';
import { serverRoles } from './identities';
import { sightingsOf } from './sightings';

const of = statements(({ $client }) => ({
  interfaceReports: $client.prepare<[number], { interface: string; surveyId: number; body: Buffer }>(
    'select interface, survey_id as surveyId, body from interface_report where device_id = ?',
  ),
  keepInterfaceReport: $client.prepare<[number, string, number, Buffer]>(
    'insert into interface_report (device_id, interface, survey_id, body) values (?, ?, ?, ?) on conflict (device_id, interface) do update set survey_id = excluded.survey_id, body = excluded.body',
  ),
}));

/** The answer of one way in to a device. */
export interface InterfaceAnswer {
  kind: WayKind;
  report: DeviceReport;
  /** the report's sightings where it holds none itself */
  packedSightings?: Uint8Array | undefined;
  /** parts that were asked and whole */
  covered: Set<HarvestPart>;
  /** parts of which pages are missing, and the rest is right */
  adding?: Set<HarvestPart>;
  asked: Set<HarvestPart>;
}

/** Together with what the other ways in to the device told last; alone where there is no other. */
export function besideOthers(
  db: Db,
  surveyId: number,
  deviceId: number,
  answer: InterfaceAnswer,
  latest: DeviceFacts | undefined,
): DeviceReport {
  const { kind, covered, adding = new Set<HarvestPart>(), asked, packedSightings } = answer;
  const stored = of(db).interfaceReports.all(deviceId);
  if (stored.length === 0 && kind === 'snmp' && !serverRoles.has(answer.report.device.role) && !latest?.interfaces)
    return answer.report;
  const sightings = packedSightings && unpackSightings(packedSightings);
  const found = sightings ? { ...answer.report, sightings } : answer.report;
  const opened = (row: (typeof stored)[number]) => JSON.parse(gunzipSync(row.body).toString('utf8')) as DeviceReport;
  const own = stored.find((row) => row.interface === kind);
  const report = carryOverReport(own && opened(own), found, { covered, adding, asked });
  const body = gzipSync(JSON.stringify(report));
  of(db).keepInterfaceReport.run(deviceId, kind, surveyId, body);
  const others = stored
    .filter((row) => row.interface !== kind)
    .map((row) => ({
      kind: row.interface as WayKind,
      report: withoutOldValues(opened(row), row.surveyId === surveyId),
    }));
  // a device that was seen by SNMP alone before ways in were kept apart
  if (others.length === 0 && stored.length === 0 && latest && kind !== 'snmp' && !latest.interfaces)
    others.push({ kind: 'snmp', report: knownReport(db, surveyId, deviceId, latest) });
  return others.length === 0 ? report : mergeInterfaces([...others, { kind, report }]);
}

/** An uptime, a sensor or a count of an earlier survey is true no more. */
const withoutOldValues = (report: DeviceReport, current: boolean): DeviceReport =>
  current
    ? report
    : {
        ...report,
        volatile: {
          uptimeSeconds: null,
          flashFreeBytes: report.volatile.flashFreeBytes,
          storage: report.volatile.storage,
        },
      };

/** A report made of what the store knows. */
function knownReport(db: Db, surveyId: number, deviceId: number, facts: DeviceFacts): DeviceReport {
  const lists = toldKinds.map(({ kind, list }) => [
    list,
    factsAsOf<ToldRow<ToldList>>(db, kind as StoredKind, surveyId, [deviceId]).map(({ content }) => content),
  ]);
  return {
    ...(Object.fromEntries(lists) as Pick<DeviceReport, ToldList>),
    device: facts,
    volatile: { uptimeSeconds: null, flashFreeBytes: null, storage: [] },
    portAges: {},
    sightings: sightingsOf(db, deviceId),
  };
}
