import { severityOf, type Advisory, type AffectedProduct, type ReleaseRange, type Severity } from './advisory';
import { DocumentError, Shape } from './shape';

const all: ReleaseRange = { from: null, after: null, before: null, upTo: null };

/**
 * Reads an entry in the Open Source Vulnerability format (OSV schema 1.x, JSON). Its ecosystem is taken for the vendor, its package for the product; a range runs from `introduced` (0 for the beginning) to `fixed` or `last_affected`.
 * @throws DocumentError
 */
export function readOsv(content: unknown): Advisory {
  const whole = new Shape(content);
  const number = whole.at('id').text();
  const own = whole.at('database_specific');
  const score = scoreOf(whole.at('severity').items()) ?? own.at('cvss').at('score').number();
  const said = own.at('severity').textOr().toLowerCase();
  const modified = whole.at('modified').day();
  const details = whole.at('details').textOr();
  return {
    number,
    publisher: own.at('publisher').textOr(number.split('-')[0] ?? number),
    title: whole.at('summary').textOr(details.split('\n')[0]?.slice(0, 200) || number),
    published: whole.at('published').isThere ? whole.at('published').day() : modified,
    updated: modified,
    severity: saidSeverities[said] ?? severityOf(score),
    score,
    summary: details,
    others: whole
      .at('aliases')
      .items()
      .map((one) => one.text()),
    remedy: '',
    format: 'OSV',
    affects: whole.at('affected').items().map(affectedOf),
  };
}

const saidSeverities: Readonly<Record<string, Severity>> = {
  critical: 'critical',
  high: 'high',
  moderate: 'medium',
  medium: 'medium',
  low: 'low',
};

function affectedOf(affected: Shape): AffectedProduct {
  const product = affected.at('package');
  const ranges: ReleaseRange[] = [];
  const fixed: string[] = [];
  for (const range of affected.at('ranges').items()) {
    // commits name no releases
    if (range.at('type').textOr() === 'GIT') continue;
    let open: ReleaseRange | null = null;
    for (const event of range.at('events').items()) {
      const [introduced, mended, last] = ['introduced', 'fixed', 'last_affected'].map((name) =>
        event.at(name).isThere ? event.at(name).text() : null,
      );
      if (introduced) {
        if (open) ranges.push(open);
        open = { ...all, from: introduced === '0' ? null : introduced };
      } else if (mended || last) {
        if (!open) throw new DocumentError(event.path, 'ends a range that was not begun');
        ranges.push({ ...open, before: mended ?? null, upTo: last ?? null });
        if (mended) fixed.push(mended);
        open = null;
      }
    }
    if (open) ranges.push(open);
  }
  return {
    vendor: product.at('ecosystem').textOr().split(':')[0] ?? '',
    family: '',
    product: product.at('name').text(),
    ranges,
    releases: affected
      .at('versions')
      .items()
      .map((one) => one.text()),
    fixed,
  };
}

/** Weights of the metrics of CVSS version 3 (FIRST, specification 3.1, section 7.4). */
const weights = {
  AV: { N: 0.85, A: 0.62, L: 0.55, P: 0.2 },
  AC: { L: 0.77, H: 0.44 },
  UI: { N: 0.85, R: 0.62 },
  impact: { H: 0.56, L: 0.22, N: 0 },
} as const;
const rights = { U: { N: 0.85, L: 0.62, H: 0.27 }, C: { N: 0.85, L: 0.68, H: 0.5 } } as const;

/** The base score of the first CVSS 3 vector among severities; null where there is none. */
function scoreOf(severities: readonly Shape[]): number | null {
  const vector = severities
    .find((one) => one.at('type').textOr() === 'CVSS_V3')
    ?.at('score')
    .textOr();
  return vector ? cvssScore(vector) : null;
}

/** The base score of a CVSS 3 vector (`CVSS:3.1/AV:N/AC:L/…`), 0 to 10; null where it is none. */
export function cvssScore(vector: string): number | null {
  if (!/^CVSS:3\.[01]\//.test(vector)) return null;
  const metrics = Object.fromEntries(
    vector
      .split('/')
      .slice(1)
      .map((part) => part.split(':')),
  ) as Record<string, string>;
  const weight = (of: Readonly<Record<string, number>>, name: string) => of[metrics[name] ?? ''];
  const scope = metrics.S === 'C' ? 'C' : metrics.S === 'U' ? 'U' : null;
  if (scope === null) return null;
  const found = [
    weight(weights.AV, 'AV'),
    weight(weights.AC, 'AC'),
    weight(rights[scope], 'PR'),
    weight(weights.UI, 'UI'),
    ...['C', 'I', 'A'].map((name) => weight(weights.impact, name)),
  ];
  if (found.some((one) => one === undefined)) return null;
  const [av = 0, ac = 0, pr = 0, ui = 0, c = 0, i = 0, a = 0] = found as number[];
  const base = 1 - (1 - c) * (1 - i) * (1 - a);
  const impact = scope === 'U' ? 6.42 * base : 7.52 * (base - 0.029) - 3.25 * (base - 0.02) ** 15;
  if (impact <= 0) return 0;
  const ease = 8.22 * av * ac * pr * ui;
  return roundedUp(Math.min(scope === 'U' ? impact + ease : 1.08 * (impact + ease), 10));
}

/** To one decimal, upwards, as the specification does it in whole numbers. */
function roundedUp(value: number): number {
  const whole = Math.round(value * 100_000);
  return whole % 10_000 === 0 ? whole / 100_000 : (Math.floor(whole / 10_000) + 1) / 10;
}
