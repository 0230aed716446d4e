import type { Strata } from './strata';

/** Characters that XML 1.0 knows no way to write are left out. */
const xml = (value: string): string =>
  value
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/[<>&"\t\n\r]/g, (character) => `&#${character.charCodeAt(0)};`);

const nodeFields = ['name', 'kind', 'note', 'stratum', 'standsInFor', 'alone'] as const;

/** GraphML (http://graphml.graphdrawing.org): plates as nodes with their stratum, what rests on what as directed edges with the evidence. */
export function strataGraphMl(name: string, { strata, lines }: Strata): string {
  const plates = strata.flatMap(({ title, brackets }) =>
    brackets.flatMap(({ words, plates: own }) =>
      own.map((plate) => ({
        key: plate.key,
        values: {
          name: plate.name,
          kind: plate.kind,
          note: plate.note,
          stratum: title,
          standsInFor: words,
          alone: plate.isAlone ? 'true' : '',
        },
      })),
    ),
  );
  const numbers = new Map(plates.map(({ key }, at) => [key, at]));
  const keys = [
    ...nodeFields.map(
      (field) =>
        `  <key id="${field}" for="node" attr.name="${field}" attr.type="${field === 'alone' ? 'boolean' : 'string'}"/>\n`,
    ),
    '  <key id="evidence" for="edge" attr.name="evidence" attr.type="string"/>\n',
  ];
  const nodes = plates.map(
    ({ values }, at) =>
      `    <node id="n${at}">${nodeFields.map((field) => (values[field] ? `<data key="${field}">${xml(values[field])}</data>` : '')).join('')}</node>\n`,
  );
  const edges = lines.flatMap(({ from, to, proof }, at) => {
    const [one, other] = [numbers.get(from), numbers.get(to)];
    return one === undefined || other === undefined
      ? []
      : [
          `    <edge id="e${at}" source="n${one}" target="n${other}"><data key="evidence">${xml(proof)}</data></edge>\n`,
        ];
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<graphml xmlns="http://graphml.graphdrawing.org/xmlns">\n${keys.join('')}  <graph id="${xml(name)}" edgedefault="directed">\n${nodes.join('')}${edges.join('')}  </graph>\n</graphml>\n`;
}
