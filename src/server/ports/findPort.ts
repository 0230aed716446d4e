import { placeSpans, type PlaceSpan, type PlaceVersion } from '../../core/switching/placeSpans';
import type { AttachmentFacts } from '../../core/switching/placement';
import { placementWords } from '../../core/things/placementWords';
import type { LinkFacts } from '../../core/topology/links';
import { addressOrNull } from '../../core/values/ipAddress';
import { parseMac } from '../../core/values/mac';
import type { Store } from '../../store/base/database';
import { linkHistory } from '../../store/base/facts';
import { makerLookup } from '../query/rows/makerOf';
import { tablesOf } from '../query/tables/estateTables';
import { Calendar } from '../query/calendar';

/** A stay at a port as it is told. */
export interface ToldSpan extends Omit<PlaceSpan, 'fromSurvey' | 'lastSurvey'> {
  device: string;
  from: string;
  last: string;
}

/** Something that was asked for, and all the ports it was on, the newest first. */
export interface FoundPort {
  /** `endpoint` by its MAC, or an inventoried `device` */
  kind: 'endpoint' | 'device';
  id: string;
  words: string;
  mac: string;
  maker: string;
  spans: ToldSpan[];
  /** who says so of where it is now */
  evidence: string[];
}

export interface FoundPorts {
  found: FoundPort[];
  /** when surveys were, oldest first, up to the one looked at */
  surveys: string[];
}

const mostFound = 12;

/** On which port something is and was, by a MAC in any notation, an address, a host or a serial. */
export function findPort(store: Store, survey: number, wanted: string): FoundPorts {
  if (survey === 0 || wanted.trim() === '') return { found: [], surveys: [] };
  const calendar = new Calendar(store.db);
  const surveys = calendar.between(0, survey).map(calendar.momentOf);
  const search = new PortSearch(store, survey, calendar);
  return { found: search.find(wanted.trim()).slice(0, mostFound), surveys };
}

class PortSearch {
  readonly #tables;
  readonly #makerOf;

  constructor(
    readonly store: Store,
    readonly survey: number,
    readonly calendar: Calendar,
  ) {
    this.#tables = tablesOf(store);
    this.#makerOf = makerLookup(store.db);
  }

  find(wanted: string): FoundPort[] {
    const mac = parseMac(wanted);
    if (mac) return this.#ofMacs([mac]);
    const found: FoundPort[] = [];
    const seen = new Set<string>();
    const add = (list: FoundPort[]) => {
      for (const one of list) if (!seen.has(one.id) && seen.add(one.id)) found.push(one);
    };
    add(this.#ofMacs(this.#tables.macsWithAddress(this.survey, wanted)));
    // an address that is written in full is no beginning of another
    const whole = addressOrNull(wanted) !== null;
    if (whole && found.length > 0) return found;
    for (const { thing, by, row } of this.#tables.finder(this.survey).find(wanted, mostFound)) {
      // what was asked for itself is not mixed with what begins like it
      if ((found.length > 0 || whole) && by.toLowerCase() !== wanted.toLowerCase()) continue;
      if (thing === 'endpoints') add(this.#ofMacs([String(row.mac)]));
      else if (thing === 'devices') add(this.#ofDevice(Number(row.id), String(row.name)));
      else if (thing === 'ledger' && row.deviceId) add(this.#ofDevice(Number(row.deviceId), String(row.device)));
      else if (thing === 'machines') add(this.#ofMacs(row.macs as string[]));
    }
    return found;
  }

  #ofMacs(macs: readonly string[]): FoundPort[] {
    return macs.flatMap((mac) => {
      const versions = this.#tables.endpointVersions(mac, this.survey) as PlaceVersion[];
      const spans = placeSpans(versions, this.survey, this.calendar.before);
      if (spans.length === 0) return [];
      const newest = versions.filter(({ fromSurvey }) => fromSurvey <= this.survey).at(-1)?.content as
        | AttachmentFacts
        | undefined;
      const host = this.#hostOf(mac);
      return [
        {
          kind: 'endpoint' as const,
          id: `endpoint:${mac}`,
          words: host || newest?.addresses[0] || mac,
          mac,
          maker: this.#makerOf(mac),
          spans: this.#told(spans),
          evidence: newest && spans.at(-1)?.holds ? placementWords(newest, this.#nameOf, undefined) : [],
        },
      ];
    });
  }

  /** An inventoried device: the ports its own MACs were on, and the other ends of its links. */
  #ofDevice(id: number, name: string): FoundPort[] {
    const versions: (PlaceVersion & { evidence: string[] })[] = [];
    for (const { fromSurvey, untilSurvey, content } of linkHistory<LinkFacts>(this.store.db, id)) {
      const far = content.a.deviceId === id ? content.b : content.b.deviceId === id ? content.a : null;
      if (far)
        versions.push({
          fromSurvey,
          untilSurvey,
          content: { deviceId: far.deviceId, port: far.port, vlan: null, via: null, addresses: [] },
          evidence: content.evidence.map(({ detail }) => detail),
        });
    }
    const byPort = new Map<string, typeof versions>();
    for (const version of versions)
      byPort.set(`${version.content.deviceId} ${version.content.port}`, [
        ...(byPort.get(`${version.content.deviceId} ${version.content.port}`) ?? []),
        version,
      ]);
    const spans = [...byPort.values()].flatMap((own) => placeSpans(own, this.survey, this.calendar.before));
    if (spans.length === 0)
      return [{ kind: 'device', id: `device:${id}`, words: name, mac: '', maker: '', spans: [], evidence: [] }];
    const evidence = versions
      .filter(
        ({ fromSurvey, untilSurvey }) =>
          fromSurvey <= this.survey && (untilSurvey === null || untilSurvey > this.survey),
      )
      .flatMap((version) => version.evidence);
    return [
      {
        kind: 'device',
        id: `device:${id}`,
        words: name,
        mac: '',
        maker: '',
        spans: this.#told(spans),
        evidence: [...new Set(evidence)],
      },
    ];
  }

  #told(spans: PlaceSpan[]): ToldSpan[] {
    return spans
      .map(({ fromSurvey, lastSurvey, ...span }) => ({
        ...span,
        device: span.deviceId === null ? '' : this.#nameOf(span.deviceId),
        from: this.calendar.momentOf(fromSurvey),
        last: this.calendar.momentOf(lastSurvey),
      }))
      .sort(
        (x, y) => Number(y.holds) - Number(x.holds) || y.last.localeCompare(x.last) || y.from.localeCompare(x.from),
      );
  }

  #nameOf = (deviceId: number): string => {
    const devices = this.#tables.table('devices', this.survey, null);
    return String(devices.rows([devices.rowOf(String(deviceId))])[0]?.name ?? `device ${deviceId}`);
  };

  #hostOf(mac: string): string {
    const endpoints = this.#tables.table('endpoints', this.survey, null);
    const row = endpoints.rowOf(mac);
    return row < 0 ? '' : String(endpoints.rows([row])[0]?.host ?? '');
  }
}
