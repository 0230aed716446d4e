import { fates } from '../../core/dependency/rehearse';
import { isSameLine, type CatalogueRelease } from '../../core/firmware/catalogue';
import { imagesByName, imageStanding, mayBeSent } from '../../core/firmware/image';
import type { WantedCourse } from '../../core/firmware/doing/course';
import type { ReadinessReason, Verdict } from '../../core/firmware/readiness';
import type { Steps } from '../../core/steps';
import type { Store } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { readImages } from '../../store/images';
import { readSignatures } from '../../store/programFiles';
import { updateKind } from '../../store/updateKind';
import { dependenceAt } from '../dependencies/dependence';
import { fittingRows } from '../query/query';

/** A component that would be changed, as it is before anybody decides. */
export interface LookedAt {
  deviceId: number;
  device: string;
  site: string;
  component: string;
  name: string;
  from: string;
  to: string;
  image: WantedCourse['image'];
  imageBefore: WantedCourse['image'];
  verdict: Verdict;
  /** by which interface; empty where there is none */
  by: string;
  /** why it stays; empty for one that may go */
  stays: string;
  /** what would be lost while it alone is away, beside itself */
  lost: string[];
  /** applications of these, by their names */
  stopped: string[];
}

/** More are no one upgrade. */
export const mostLooked = 500;
const mostTold = 12;

/** What an upgrade of the components that a filter of readiness means would do. @throws FilterError */
export function* upgradeLook(
  store: Store,
  survey: number,
  where: string,
): Steps<{ survey: number; looked: LookedAt[]; more: number }> {
  const { table, rows } = fittingRows(store, 'readiness', { survey, against: null, where });
  const catalogue = readCatalogue(store.db);
  const files = imagesByName(readImages(store.db));
  const { prepared, rehearsals, numberOf } = dependenceAt(store, survey);
  const signatures = readSignatures(store.folder);
  const looked: LookedAt[] = [];
  for (const row of table.rows(rows.subarray(0, mostLooked))) {
    // each is rehearsed: others are answered in between
    yield;
    const deviceId = Number(row.deviceId);
    const [vendor, family, component] = [String(row.vendor), String(row.family), String(row.component)];
    const entryOf = (release: string) =>
      catalogue.find(
        (one) =>
          isSameLine(one, { vendor, family, component: component as CatalogueRelease['component'] }) &&
          one.release === release,
      );
    const [from, to] = [String(row.current), String(row.target)];
    const entry = entryOf(to);
    const standing = entry ? imageStanding(entry, files) : null;
    const way = updateKind(store, deviceId, () => signatures);
    const number = numberOf({ kind: 'device', id: String(deviceId) });
    // a management controller restarts by itself: its server goes on
    const fate =
      number < 0 || component === 'management controller' ? [] : rehearsals.rehearse({ things: [number] }).fate;
    const gone = prepared.things.filter((_, thing) => thing !== number && fates[fate[thing] ?? 0] === 'lost');
    looked.push({
      ...{ deviceId, component, from, to, verdict: row.verdict as Verdict },
      device: String(row.device),
      site: String(row.site),
      name: String(row.name),
      image: imageOf(entry),
      imageBefore: imageOf(entryOf(from)),
      by: 'kind' in way ? way.kind : '',
      stays:
        whyItStays(row.verdict as Verdict, row.reasons as ReadinessReason[]) ||
        ('reason' in way ? way.reason : '') ||
        (standing === null ? `the catalogue names no image of ${to}` : mayBeSent(standing.state) ? '' : standing.words),
      lost: lostWords(gone),
      stopped: gone.filter(isApplication).map(({ name }) => name),
    });
  }
  return { survey, looked, more: rows.length - looked.length };
}

/** Applications first; of endpoints only how many. */
function lostWords(gone: readonly { kind: string; name: string }[]): string[] {
  const named = gone.filter(({ kind }) => kind !== 'endpoint');
  const told = [...named.filter(isApplication), ...named.filter((one) => !isApplication(one))].slice(0, mostTold);
  const [more, endpoints] = [named.length - told.length, gone.length - named.length];
  return [
    ...told.map(({ kind, name }) => `${kind} ${name}`),
    ...(more > 0 ? [`${more} more`] : []),
    ...(endpoints > 0 ? [`${endpoints} ${endpoints === 1 ? 'endpoint' : 'endpoints'}`] : []),
  ];
}

const isApplication = ({ kind }: { kind: string }): boolean => kind === 'application';

/** Only who is ready goes: what is to be done first is done first. */
function whyItStays(verdict: Verdict, reasons: readonly ReadinessReason[]): string {
  if (verdict === 'ready') return '';
  const telling = reasons.filter(({ kind }) => kind !== 'fits' && !kind.startsWith('target') && kind !== 'advisory');
  return `${verdict}: ${telling.map(({ words }) => words).join('; ')}`;
}

const imageOf = (entry: CatalogueRelease | undefined): WantedCourse['image'] => ({
  file: entry?.image ?? '',
  bytes: entry?.imageBytes ?? null,
  hash: entry?.imageHash ?? '',
});
