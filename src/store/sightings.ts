import { gunzipSync } from 'node:zlib';
import type { PortFacts, SightingFacts } from '../core/estate/facts';
import { packSightings, unpackHeard, unpackSightings } from '../core/estate/sightingCodec';
import { heardTables, type HeardTables } from '../core/switching/heardTables';
import type { Db } from './base/database';
import { factsAsOf } from './base/facts';
import { statements } from './base/statements';

const of = statements(({ $client }) => ({
  sightings: $client.prepare<[number], { body: Buffer }>('select body from sighting where device_id = ?'),
  keepSightings: $client.prepare<[number, number, Uint8Array]>(
    'insert into sighting (device_id, survey_id, body) values (?, ?, ?) on conflict (device_id) do update set survey_id = excluded.survey_id, body = excluded.body',
  ),
}));

/** Keeps the forwarding and address tables of a device, packed, in the place of those before. */
export function keepSightings(db: Db, deviceId: number, surveyId: number, packed: Uint8Array): void {
  of(db).keepSightings.run(deviceId, surveyId, packed);
}

const nothingSighted: SightingFacts = { forwarding: [], addresses: [] };
/** As it was kept before it was packed. */
const unzipped = (body: Buffer) => JSON.parse(gunzipSync(body).toString('utf8')) as SightingFacts;

/** The newest forwarding and address tables of a device. */
export function sightingsOf(db: Db, deviceId: number): SightingFacts {
  const row = of(db).sightings.get(deviceId);
  return row ? (unpackSightings(row.body) ?? unzipped(row.body)) : nothingSighted;
}

/** Adds machines that a switch lists after all, by the numbers of its interfaces; those it told of before stay as they are. */
export function addHeard(
  db: Db,
  surveyId: number,
  deviceId: number,
  heard: readonly { mac: string; vlan: number | null; ifIndex: number }[],
): void {
  if (heard.length === 0) return;
  const names = new Map(
    factsAsOf<PortFacts>(db, 'port', surveyId, [deviceId]).map(({ content }) => [content.index, content.name]),
  );
  const sightings = sightingsOf(db, deviceId);
  const known = new Set(sightings.forwarding.map(({ mac, vlan }) => `${mac} ${vlan}`));
  const rows = heard.flatMap(({ mac, vlan, ifIndex }) => {
    const port = names.get(ifIndex);
    return port === undefined || known.has(`${mac} ${vlan}`) ? [] : [{ mac, port, vlan }];
  });
  if (rows.length > 0)
    of(db).keepSightings.run(
      deviceId,
      surveyId,
      packSightings({ ...sightings, forwarding: [...sightings.forwarding, ...rows] }),
    );
}

/** The same in columns of numbers, by the number of the device. */
export function heardReader(db: Db): (deviceId: number) => HeardTables {
  return (deviceId) => {
    const row = of(db).sightings.get(deviceId);
    return row ? (unpackHeard(row.body) ?? heardTables(unzipped(row.body))) : heardTables(nothingSighted);
  };
}
