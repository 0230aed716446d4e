import type { DeviceFacts, NeighbourFacts, PortKind, VolatileFacts } from '../../../core/estate/facts';
import { shortName } from '../../../core/topology/nameIndex';
import { lostBetween, type CountersRead, type LostFrames } from '../../../core/switching/portErrors';
import { cabledPorts, type LinkFacts } from '../../../core/topology/links';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { portMomentsOf } from '../../../store/base/portMoments';
import { surveySeconds } from '../../../store/base/surveyMoment';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import { latestVolatile, volatileHistory } from '../../../store/base/volatileValues';
import { Calendar } from '../calendar';
import type { PortParts } from './portParts';

/** The other end of a link, as one of its ends sees it. */
export interface FarEnd {
  device: string;
  port: string;
  source: string;
  confidence: string;
}

/** What was read of the ports of a device at a survey, and at the one before. */
interface PortLooks {
  before: CountersRead | null;
  now: CountersRead | null;
  watts: Record<string, number> | null;
}

/** What rows of ports and endpoints need to know of everything else at a survey; each part is read when it is first needed. */
export class SurveyContext {
  readonly names: Map<number, string>;
  #calendar: Calendar | null = null;
  #neighbours: Map<string, NeighbourFacts> | null = null;
  #hosts: Map<string, string> | null = null;
  #farEnds: Map<string, FarEnd> | null = null;
  #kinds: Map<number, Record<string, PortKind>> | null = null;
  #moments: Map<number, Record<string, number>> | null = null;
  #startSeconds: number | null = null;
  #looks: ReadonlyMap<number, PortLooks> | null = null;
  readonly #looksOfSome = new Map<number, PortLooks>();
  readonly #kindsOfSome = new Map<number, Record<string, PortKind>>();
  readonly #momentsOfSome = new Map<number, Record<string, number>>();

  constructor(
    readonly db: Db,
    readonly survey: number,
    readonly parts: PortParts,
  ) {
    this.names = new Map(
      factsAsOf<DeviceFacts>(db, 'device', survey).map(({ deviceId, content }) => [deviceId, content.name]),
    );
  }

  nameOf = (deviceId: number): string => this.names.get(deviceId) ?? '';

  get calendar(): Calendar {
    return (this.#calendar ??= new Calendar(this.db));
  }

  /** By device and port: the first neighbour that is heard there. */
  get neighbours(): Map<string, NeighbourFacts> {
    if (this.#neighbours) return this.#neighbours;
    this.#neighbours = new Map();
    this.#hosts = new Map();
    for (const { deviceId, content } of factsAsOf<NeighbourFacts>(this.db, 'neighbour', this.survey)) {
      const place = `${deviceId} ${content.port}`;
      if (!this.#neighbours.has(place)) this.#neighbours.set(place, content);
      if (content.systemName && content.chassisIdSubtype === 'macAddress')
        this.#hosts.set(content.chassisId, shortName(content.systemName));
    }
    return this.#neighbours;
  }

  /** Names that phones and the like tell of themselves by LLDP, by their MAC. */
  get hosts(): Map<string, string> {
    void this.neighbours;
    return this.#hosts ?? new Map();
  }

  /** By device and port. */
  get farEnds(): Map<string, FarEnd> {
    if (this.#farEnds) return this.#farEnds;
    this.#farEnds = new Map();
    for (const { content: link } of factsAsOf<LinkFacts>(this.db, 'link', this.survey)) {
      // a port that leads through something nobody asked has nobody at its other end that is known
      if (link.segment || link.kind === 'stack') continue;
      for (const { deviceId, port, far } of cabledPorts(link)) {
        const place = `${deviceId} ${port}`;
        if (!this.#farEnds.has(place) || link.kind !== 'l3')
          this.#farEnds.set(place, {
            device: far.device,
            port: far.port,
            source: link.evidence[0]?.source ?? '',
            confidence: link.confidence,
          });
      }
    }
    return this.#farEnds;
  }

  /** Reads the kinds of all ports, where all are looked through. */
  readKinds(): void {
    this.#kinds ??= this.parts.kindsAsOf(this.survey);
  }

  /** Reads since when all ports have been as they are, where all are looked through. */
  readMoments(): void {
    this.#moments ??= this.parts.momentsAsOf(this.survey);
  }

  /** What kind a port is. */
  kindOf(deviceId: number, port: string): PortKind | undefined {
    let kinds = (this.#kinds ?? this.#kindsOfSome).get(deviceId);
    if (!kinds && !this.#kinds)
      this.#kindsOfSome.set(
        deviceId,
        (kinds = factsAsOf<Record<string, PortKind>>(this.db, 'portKind', this.survey, [deviceId])[0]?.content ?? {}),
      );
    return kinds?.[port];
  }

  /** For how many seconds a port had been in its state. */
  ageOf(deviceId: number, port: string): number | null {
    let moments = (this.#moments ?? this.#momentsOfSome).get(deviceId);
    if (!moments && !this.#moments)
      this.#momentsOfSome.set(deviceId, (moments = portMomentsOf(this.db, deviceId, this.survey)));
    const moment = moments?.[port];
    return moment === undefined ? null : Math.max(0, Math.round(this.#seconds - moment));
  }

  /** Reads what changes at every look of the ports of all devices, where all are looked through. */
  readLooks(): void {
    if (this.#looks) return;
    const before = this.calendar.before(this.survey);
    const [then, now, answered] = [
      latestVolatile(this.db, before),
      latestVolatile(this.db, this.survey),
      lastAnswers(this.db, this.survey),
    ];
    this.#looks = new Map(
      [...now].map(([deviceId, values]) => [
        deviceId,
        this.#looksAt(then.get(deviceId), before, answered.get(deviceId) === this.survey ? values : undefined),
      ]),
    );
  }

  /** What a port lost since the survey before; null where nobody counted. */
  lostAt(deviceId: number, port: string): LostFrames | null {
    const looks = this.#looksOf(deviceId);
    return looks ? lostBetween(looks.before, looks.now, port) : null;
  }

  /** The power that is drawn at a port; null where nobody measures it. */
  wattsAt(deviceId: number, port: string): number | null {
    return this.#looksOf(deviceId)?.watts?.[port] ?? null;
  }

  #looksOf(deviceId: number): PortLooks | undefined {
    let looks = (this.#looks ?? this.#looksOfSome).get(deviceId);
    if (!looks && !this.#looks) {
      const before = this.calendar.before(this.survey);
      const [now] = volatileHistory(this.db, deviceId, this.survey, 1);
      this.#looksOfSome.set(
        deviceId,
        (looks = this.#looksAt(
          latestVolatile(this.db, before, [deviceId]).get(deviceId),
          before,
          now?.surveyId === this.survey ? now.values : undefined,
        )),
      );
    }
    return looks;
  }

  /** Who was silent has lost nothing that anybody knows of. */
  #looksAt(then: VolatileFacts | undefined, before: number, now: VolatileFacts | undefined): PortLooks {
    return {
      before: this.#counters(then, before),
      now: this.#counters(now, this.survey),
      watts: now?.portWatts ?? null,
    };
  }

  #counters(values: VolatileFacts | undefined, survey: number): CountersRead | null {
    if (!values?.portLosses) return null;
    return {
      ports: values.portLosses,
      ...(values.portsCountedSince && { since: values.portsCountedSince }),
      startedAt:
        values.uptimeSeconds === null
          ? null
          : surveySeconds(this.db, survey) - values.uptimeSeconds + (values.agentLaterSeconds ?? 0),
    };
  }

  get #seconds(): number {
    return (this.#startSeconds ??= surveySeconds(this.db, this.survey));
  }
}
