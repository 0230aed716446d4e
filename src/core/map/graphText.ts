import type { MapData, MapDevice, MapLink } from './mapData';

/** What of a map is written down: all of it, or what is looked at. */
export type Graph = Pick<MapData, 'survey'> & { devices: readonly MapDevice[]; links: readonly MapLink[] };

export const graphFormats = ['graphml', 'dot', 'json'] as const;
export type GraphFormat = (typeof graphFormats)[number];
export const graphTypes: Record<GraphFormat, string> = {
  graphml: 'application/graphml+xml',
  dot: 'text/plain',
  json: 'application/json',
};

/** Characters that XML 1.0 knows no way to write are left out. */
const xml = (value: unknown): string =>
  String(value)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/[<>&"\t\n\r]/g, (character) => `&#${character.charCodeAt(0)};`);

const deviceFields = ['name', 'role', 'site', 'state', 'model', 'endpoints', 'faults'] as const;
const typeOf = (field: string): string =>
  field === 'endpoints' || field === 'faults'
    ? 'int'
    : field === 'speedBps'
      ? 'long'
      : field === 'blocked'
        ? 'boolean'
        : 'string';
const linkFields = ['fromPort', 'toPort', 'kind', 'confidence', 'speedBps', 'blocked', 'issues'] as const;
const linkValues = ({
  a,
  b,
  kind,
  confidence,
  speedBps,
  blocked,
  issues,
}: MapLink): Record<(typeof linkFields)[number], unknown> => ({
  fromPort: a.port,
  toPort: b.port,
  kind,
  confidence,
  speedBps,
  blocked,
  issues: issues.join('; '),
});

/** GraphML (http://graphml.graphdrawing.org): devices as nodes, links as edges without direction, what is known of each as typed data. */
export function graphMl({ survey, devices, links }: Graph): string {
  const key = (field: string, of: 'node' | 'edge') =>
    `  <key id="${of}-${field}" for="${of}" attr.name="${field}" attr.type="${typeOf(field)}"/>\n`;
  const data = (of: 'node' | 'edge', field: string, value: unknown) =>
    value === null || value === undefined || value === '' ? '' : `<data key="${of}-${field}">${xml(value)}</data>`;
  const node = (device: MapDevice) =>
    `    <node id="n${device.id}">${deviceFields.map((field) => data('node', field, device[field])).join('')}</node>\n`;
  const edge = (link: MapLink, at: number) =>
    `    <edge id="e${at}" source="n${link.a.device}" target="n${link.b.device}">${linkFields.map((field) => data('edge', field, linkValues(link)[field])).join('')}</edge>\n`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<graphml xmlns="http://graphml.graphdrawing.org/xmlns">\n${deviceFields.map((field) => key(field, 'node')).join('')}${linkFields.map((field) => key(field, 'edge')).join('')}  <graph id="survey-${survey}" edgedefault="undirected">\n${devices.map(node).join('')}${links.map(edge).join('')}  </graph>\n</graphml>\n`;
}

const quoted = (value: string): string =>
  `"${value.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replace(/\r?\n/g, '\\n')}"`;

/** A graph as a text that people read and programs lay out: a line a device, within its site, and a line a link. */
export function dotText({ survey, devices, links }: Graph): string {
  const sites = new Map<string, MapDevice[]>();
  for (const device of devices) sites.set(device.site, [...(sites.get(device.site) ?? []), device]);
  const node =
    (indent: string) =>
    ({ id, name, role, model }: MapDevice) =>
      `${indent}n${id} [label=${quoted(name)}, role=${quoted(role)}, model=${quoted(model)}];\n`;
  const cluster = ([site, members]: [string, MapDevice[]], at: number) =>
    site === ''
      ? members.map(node('  ')).join('')
      : `  subgraph cluster_${at} {\n    label=${quoted(site)};\n${members.map(node('    ')).join('')}  }\n`;
  const styles: Record<MapLink['confidence'], string> = { confirmed: 'solid', claimed: 'dashed', concluded: 'dotted' };
  const edge = ({ a, b, confidence, kind, blocked }: MapLink) =>
    `  n${a.device} -- n${b.device} [taillabel=${quoted(a.port)}, headlabel=${quoted(b.port)}, kind=${quoted(kind)}, style=${styles[confidence]}${blocked ? ', blocked=true' : ''}];\n`;
  return `graph ${quoted(`survey ${survey}`)} {\n${[...sites].map(cluster).join('')}${links.map(edge).join('')}}\n`;
}

export function writeGraph(graph: Graph, format: GraphFormat): string {
  if (format === 'graphml') return graphMl(graph);
  if (format === 'dot') return dotText(graph);
  return `${JSON.stringify({ survey: graph.survey, devices: graph.devices, links: graph.links }, null, 1)}\n`;
}
