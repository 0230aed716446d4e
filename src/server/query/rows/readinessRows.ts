import { worstCover, type Cover, type CoverIndex } from '../../../core/cover/cover';
import type { DeviceFacts, FaultFacts } from '../../../core/estate/facts';
import { FilterError } from '../../../core/filter/filterNode';
import {
  judgeReadiness,
  targetFindings,
  type OpenAdvisory,
  type ReadinessReason,
} from '../../../core/firmware/readiness';
import { imagesByName, imageStanding, type ImageStanding } from '../../../core/firmware/image';
import { TargetIndex, targetKey, targetScope, type ReleaseTarget } from '../../../core/firmware/target';
import { naturalOrder } from '../../../core/firmware/scheme';
import { maintenanceState } from '../../../core/groups/maintenance';
import { daysBetween } from '../../../core/values/day';
import { compareNaturally } from '../../../core/values/naturalOrder';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import { latestVolatile } from '../../../store/base/volatileValues';
import { deviceFilter } from '../../../store/deviceFilter';
import { readImages } from '../../../store/images';
import { readMaintenance } from '../../../store/maintenance';
import { readTargets } from '../../../store/targets';
import { Calendar } from '../calendar';
import { componentsAt, ReleaseLines, type PlacedComponent } from './componentLines';
import { Exposures, type Exposure } from './exposures';
import type { Asked, Builder } from './rowBuilder';
import { TargetStages, type Aimed } from './targetStages';

/** May each component that has a target go to it, and why not. */
export const readiness: Builder = (asked) => readinessBy(asked, readTargets(asked.db));

/** As it would be with these targets. */
export function readinessBy(
  { db, survey, devices, cover, components }: Pick<Asked, 'db' | 'survey' | 'devices' | 'cover' | 'components'>,
  targets: readonly ReleaseTarget[],
): ReturnType<Builder> {
  if (targets.length === 0) return [];
  const meant = meaning(db);
  // whose turn it is follows from all that have the target
  const isStaged = targets.some(({ stages }) => stages.length > 0);
  const all = devices && !isStaged ? componentsAt(db, survey, devices) : components();
  const index = new TargetIndex(targets);
  const lines = new ReleaseLines(db, all);
  const aimed = all.flatMap((placed): Aimed[] => {
    const { vendor, product, kind } = placed.line;
    const subject = { vendor, family: product, component: kind, model: placed.device.model };
    const target = index.of(subject, ({ group, where }) => meant(group === '' ? where : `group="${group}"`, placed));
    return target ? [{ placed, target, order: lines.of(placed.line)?.order ?? naturalOrder }] : [];
  });
  const calendar = new Calendar(db);
  const stages = new TargetStages(db, survey, aimed, meant, calendar.momentOf);
  const around = new Around(db, survey, calendar, cover, meant);
  const exposures = new Exposures(db);
  const images = new TargetImages(db, lines);
  const volatiles = latestVolatile(db, survey, devices);
  const parts = partsByDevice(all);
  const wanted = devices ? new Set(devices) : null;
  return aimed
    .filter(({ placed }) => wanted === null || wanted.has(placed.deviceId))
    .map(({ placed, target, order }) => {
      const { deviceId, device, component, line } = placed;
      const { verdict, reasons } = judgeReadiness(
        {
          vendor: line.vendor,
          family: line.product,
          component: component.kind,
          model: component.model || device.model,
          release: component.release,
          bootRelease: device.bootRelease,
          memoryBytes: device.memoryBytes,
          flashBytes: device.flashBytes,
          flashFreeBytes: volatiles.get(deviceId)?.flashFreeBytes ?? null,
          hardwareRevision: placed.hardwareRevision,
          parts: parts.get(deviceId) ?? [],
          standbyRelease: component.standbyRelease,
        },
        target.release,
        lines.of(line)?.catalogue ?? [],
        order,
        {
          ...around.of(placed),
          image: images.of(line, target.release),
          waits: stages.waits(placed, target),
          reviewOn: target.reviewOn,
          advisories: {
            current: exposures.of(placed, component.release, order).map(openOf),
            target: exposures.of(placed, target.release, order).map(openOf),
          },
        },
      );
      const telling = reasons.filter(({ kind }) => kind !== 'fits');
      return {
        id: component.kind === 'system' ? String(deviceId) : placed.id,
        deviceId,
        device: device.name,
        site: device.site,
        model: device.model,
        vendor: line.vendor,
        family: line.product,
        component: component.kind,
        name: component.name,
        current: component.release,
        target: target.release,
        targetKey: targetKey(target),
        targetGroup: target.group,
        targetFor: targetScope(target) || 'all',
        stage: stages.stageOf(placed),
        waitsUntil: stages.until(placed, target),
        targetFinding: findingsOf(reasons),
        verdict,
        reasons,
        why: (telling.length > 0 ? telling : reasons).map(({ words }) => words).join('; '),
      };
    })
    .sort((x, y) => compareNaturally(x.device, y.device));
}

const openOf = ({ advisory, mendedIn }: Exposure): OpenAdvisory => ({
  number: advisory.number,
  severity: advisory.severity,
  mendedIn,
});

const findingsOf = (reasons: readonly ReadinessReason[]): string[] => [
  ...new Set(reasons.flatMap(({ kind }) => targetFindings[kind] ?? [])),
];

/** What else of each device has a release. */
function partsByDevice(all: readonly PlacedComponent[]): Map<number, PlacedComponent['component'][]> {
  const parts = new Map<number, PlacedComponent['component'][]>();
  for (const { deviceId, component } of all) {
    const own = parts.get(deviceId);
    if (own) own.push(component);
    else parts.set(deviceId, [component]);
  }
  return parts;
}

/** Whether a filter of devices means a device; nobody where it cannot be read any more. */
function meaning(db: Db): (where: string, placed: PlacedComponent) => boolean {
  const known = new Map<string, (deviceId: number, device: DeviceFacts) => boolean>();
  return (where, { deviceId, device }) => {
    let test = known.get(where);
    if (!test) known.set(where, (test = filterOf(db, where)));
    return test(deviceId, device);
  };
}

function filterOf(db: Db, where: string): ReturnType<typeof deviceFilter> {
  try {
    return deviceFilter(db, where);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return () => false;
  }
}

/** How the images of targets stand. Where there is none at all, nobody keeps them here, and they are not judged. */
class TargetImages {
  readonly #files: ReturnType<typeof imagesByName>;
  readonly #known = new Map<string, ImageStanding | null>();

  constructor(
    db: Db,
    readonly lines: ReleaseLines,
  ) {
    this.#files = imagesByName(readImages(db));
  }

  of(line: PlacedComponent['line'], release: string): ImageStanding | null {
    if (this.#files.size === 0) return null;
    const own = this.lines.of(line);
    const key = [line.vendor, line.product, line.kind, release].join('\t');
    let known = this.#known.get(key);
    if (known === undefined) {
      const entry = own?.catalogue.find((one) => own.order.compare(one.release, release) === 0);
      this.#known.set(key, (known = entry ? imageStanding(entry, this.#files) : null));
    }
    return known;
  }
}

/** What decides beside the device itself: cover, what is saved, when it answered, who works at it. */
class Around {
  readonly #day: string;
  readonly #answered: ReadonlyMap<number, number>;
  readonly #works: readonly { where: string; reason: string; until: string | null }[];
  /** how the clocks of devices are wrong */
  readonly #clocks: ReadonlyMap<number, string>;
  #index: CoverIndex | null = null;

  constructor(
    db: Db,
    survey: number,
    readonly calendar: Calendar,
    readonly cover: () => CoverIndex,
    readonly meant: (where: string, placed: PlacedComponent) => boolean,
  ) {
    const moment = calendar.momentOf(survey);
    this.#day = moment.slice(0, 10);
    this.#answered = lastAnswers(db, survey);
    this.#clocks = new Map(
      factsAsOf<FaultFacts>(db, 'fault', survey)
        .filter(({ content }) => content.subsystem === 'clock')
        .map(({ deviceId, content }) => [deviceId, content.message]),
    );
    this.#works = readMaintenance(db).filter((one) => maintenanceState(one, moment) === 'now');
  }

  of(placed: PlacedComponent) {
    const { deviceId, device, component } = placed;
    const answered = this.calendar.momentOf(this.#answered.get(deviceId) ?? 0).slice(0, 10);
    const work = this.#works.find(({ where }) => this.meant(where, placed));
    return {
      today: this.#day,
      cover: this.#coverOf(device, component.serial),
      unsaved:
        component.kind === 'system' && device.unsavedConfiguration === 'not saved' ? 'not all of it is saved' : '',
      clock: this.#clocks.get(deviceId) ?? '',
      answeredDaysAgo: answered === '' ? null : daysBetween(answered, this.#day),
      maintenance: work
        ? `${work.reason}${work.until ? `, until ${work.until.slice(0, 16).replace('T', ' ')} UTC` : ''}`
        : '',
    };
  }

  /** That of a part where contracts name it, else of its device. */
  #coverOf({ serial, units }: DeviceFacts, part: string): Cover | null {
    const index = (this.#index ??= this.cover());
    const own = part && part !== serial ? index.ofSerial(part) : null;
    if (own && own.state !== 'none') return own;
    const serials = [...new Set([serial, ...units.map((unit) => unit.serial)])].filter(Boolean);
    return serials.length === 0 ? null : worstCover(serials.map((one) => index.ofSerial(one)));
  }
}
