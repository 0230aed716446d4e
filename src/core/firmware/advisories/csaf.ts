import { severityOf, type Advisory, type AffectedProduct, type Severity } from './advisory';
import { DocumentError, Shape } from './shape';
import { parseVers, RangeError } from './versRange';

const deepestTree = 60;
const most = 20_000;

/** What a leaf of the tree of products names. */
interface Named {
  vendor: string;
  family: string;
  product: string;
  /** one release, or a range of them; null for all */
  release: string | null;
  range: string | null;
}

/**
 * Reads a security advisory in the Common Security Advisory Framework, version 2.0 (OASIS, JSON): who published it, which products it affects by the tree of products, how bad it is, what mends it. Of several vulnerabilities in it the worst score counts.
 * @throws DocumentError
 */
export function readCsaf(content: unknown): Advisory {
  const whole = new Shape(content);
  const document = whole.at('document');
  const version = document.at('csaf_version').text();
  if (version !== '2.0') throw new DocumentError('document.csaf_version', `“${version}” is not 2.0`);
  const tracking = document.at('tracking');
  const products = productsOf(whole.at('product_tree'));
  const vulnerabilities = whole.at('vulnerabilities').items();
  const affected = new Map<string, AffectedProduct>();
  for (const one of vulnerabilities) {
    const status = one.at('product_status');
    for (const name of ['known_affected', 'first_affected', 'last_affected'])
      for (const id of status.at(name).items()) addTo(affected, named(products, id), 'affected', id.path);
    for (const name of ['fixed', 'first_fixed', 'recommended'])
      for (const id of status.at(name).items()) addTo(affected, named(products, id), 'fixed', id.path);
  }
  const affects = [...affected.values()].filter(({ ranges, releases }) => ranges.length + releases.length > 0);
  const scores = vulnerabilities.flatMap((one) =>
    one
      .at('scores')
      .items()
      .flatMap((score) => {
        const base = score.at('cvss_v3').at('baseScore').number() ?? score.at('cvss_v2').at('baseScore').number();
        return base === null || base < 0 || base > 10 ? [] : [base];
      }),
  );
  const score = scores.length > 0 ? Math.max(...scores) : null;
  const said = document.at('aggregate_severity').at('text').textOr().toLowerCase();
  return {
    number: tracking.at('id').text(),
    publisher: document.at('publisher').at('name').text(),
    title: document.at('title').text(),
    published: tracking.at('initial_release_date').day(),
    updated: tracking.at('current_release_date').isThere
      ? tracking.at('current_release_date').day()
      : tracking.at('initial_release_date').day(),
    severity: saidSeverities[said] ?? severityOf(score),
    score,
    summary: noteOf(document.at('notes').items(), ['summary', 'description', 'general']),
    others: unique(vulnerabilities.map((one) => one.at('cve').textOr())),
    remedy: unique(
      vulnerabilities.flatMap((one) =>
        one
          .at('remediations')
          .items()
          .map((own) => own.at('details').textOr()),
      ),
    ).join(' '),
    format: 'CSAF 2.0',
    affects,
  };
}

const saidSeverities: Readonly<Record<string, Severity>> = {
  critical: 'critical',
  high: 'high',
  important: 'high',
  medium: 'medium',
  moderate: 'medium',
  low: 'low',
};

const unique = (texts: readonly string[]): string[] => [...new Set(texts.filter(Boolean))];

function noteOf(notes: readonly Shape[], wanted: readonly string[]): string {
  for (const category of wanted) {
    const note = notes.find((one) => one.at('category').textOr() === category);
    if (note) return note.at('text').textOr();
  }
  return '';
}

/** By their numbers: what branches, full names and relationships name. */
function productsOf(tree: Shape): Map<string, Named> {
  const found = new Map<string, Named>();
  const keep = (product: Shape, named: Named) => {
    if (found.size >= most) throw new DocumentError(product.path, `more than ${most} products`);
    found.set(product.at('product_id').text(), named);
  };
  const walk = (branch: Shape, above: Named, depth: number) => {
    if (depth > deepestTree) throw new DocumentError(branch.path, 'branches are too deep');
    const category = branch.at('category').textOr();
    const name = branch.at('name').textOr();
    const own = { ...above };
    if (category === 'vendor') own.vendor = name;
    else if (category === 'product_family') own.family = name;
    else if (category === 'product_name') own.product = name;
    else if (category === 'product_version') own.release = name;
    else if (category === 'product_version_range') own.range = name;
    const product = branch.at('product');
    if (product.isThere) keep(product, own);
    for (const one of branch.at('branches').items()) walk(one, own, depth + 1);
  };
  const nothing: Named = { vendor: '', family: '', product: '', release: null, range: null };
  for (const branch of tree.at('branches').items()) walk(branch, nothing, 0);
  for (const product of tree.at('full_product_names').items())
    keep(product, { ...nothing, product: product.at('name').text() });
  for (const relation of tree.at('relationships').items()) {
    const product = relation.at('full_product_name');
    const part = found.get(relation.at('product_reference').text());
    const base = found.get(relation.at('relates_to_product_reference').text());
    // a part on a device: it is the part that has the release
    if (product.isThere && part) keep(product, { ...part, vendor: part.vendor || (base?.vendor ?? '') });
  }
  return found;
}

function named(products: ReadonlyMap<string, Named>, id: Shape): Named {
  const known = products.get(id.text());
  if (!known) throw new DocumentError(id.path, `“${id.text()}” is not in the tree of products`);
  return known;
}

function addTo(
  affected: Map<string, AffectedProduct>,
  { vendor, family, product, release, range }: Named,
  as: 'affected' | 'fixed',
  path: string,
): void {
  const key = [vendor, family, product].join('\t');
  const own = affected.get(key) ?? { vendor, family, product: product || family, ranges: [], releases: [], fixed: [] };
  affected.set(key, own);
  const put = (list: string[], one: string) => void (list.includes(one) || list.push(one));
  if (release !== null) put(as === 'affected' ? own.releases : own.fixed, release);
  else if (as === 'affected') {
    const { ranges, releases, leftOut } = rangeOf(range ?? '*', path);
    own.ranges.push(
      ...ranges.filter((one) => !own.ranges.some((known) => JSON.stringify(known) === JSON.stringify(one))),
    );
    for (const one of releases) put(own.releases, one);
    for (const one of leftOut) put(own.fixed, one);
  } else if (range !== null) {
    // mended from a release on: what begins it is the first that is
    for (const { from } of rangeOf(range, path).ranges) if (from !== null) put(own.fixed, from);
  }
}

function rangeOf(text: string, path: string): ReturnType<typeof parseVers> {
  try {
    return parseVers(text);
  } catch (error) {
    if (error instanceof RangeError) throw new DocumentError(path, `the range “${text}”: ${error.message}`);
    throw error;
  }
}
