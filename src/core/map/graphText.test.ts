import { describe, expect, test } from '@jest/globals';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import fc from 'fast-check';
import { dotText, graphMl, writeGraph, type Graph } from './graphText';
import type { MapDevice, MapLink } from './mapData';

const device = (id: number, name: string, site = 'RPW'): MapDevice => ({
  id,
  name,
  role: 'switch',
  site,
  state: 'answering',
  model: 'K-Ring 12',
  endpoints: 3,
  faults: 0,
  root: false,
});
const link = (a: number, b: number, more: Partial<MapLink> = {}): MapLink => ({
  id: `${a} 1 | ${b} 2`,
  a: { device: a, port: '1' },
  b: { device: b, port: '2' },
  kind: 'ethernet',
  confidence: 'confirmed',
  speedBps: 1e9,
  blocked: false,
  issues: [],
  members: 0,
  segment: false,
  ...more,
});
const graph: Graph = {
  survey: 8,
  devices: [device(1, 'rpw-ring'), device(2, 'rpw-plat'), device(3, 'lost', '')],
  links: [link(1, 2), link(2, 3, { confidence: 'claimed', blocked: true, issues: ['MTU differs: 1 & 2'] })],
};

describe('a map as a graph', () => {
  test('is GraphML with typed data', () => {
    const { graphml } = new XMLParser({ ignoreAttributes: false, htmlEntities: true }).parse(graphMl(graph)) as {
      graphml: {
        key: unknown[];
        graph: {
          node: { '@_id': string; data: { '@_key': string; '#text': unknown }[] }[];
          edge: Record<string, unknown>[];
        };
      };
    };
    expect(graphml.key).toContainEqual({
      '@_id': 'edge-speedBps',
      '@_for': 'edge',
      '@_attr.name': 'speedBps',
      '@_attr.type': 'long',
    });
    expect(
      graphml.graph.node.map((node) => [
        node['@_id'],
        node.data.find((data) => data['@_key'] === 'node-name')?.['#text'],
      ]),
    ).toEqual([
      ['n1', 'rpw-ring'],
      ['n2', 'rpw-plat'],
      ['n3', 'lost'],
    ]);
    expect(graphml.graph.edge[1]).toMatchObject({
      '@_source': 'n2',
      '@_target': 'n3',
      data: expect.arrayContaining([{ '@_key': 'edge-issues', '#text': 'MTU differs: 1 & 2' }]),
    });
  });
  test('is a text with sites and ports', () => {
    expect(dotText(graph)).toBe(
      [
        'graph "survey 8" {',
        '  subgraph cluster_0 {',
        '    label="RPW";',
        '    n1 [label="rpw-ring", role="switch", model="K-Ring 12"];',
        '    n2 [label="rpw-plat", role="switch", model="K-Ring 12"];',
        '  }',
        '  n3 [label="lost", role="switch", model="K-Ring 12"];',
        '  n1 -- n2 [taillabel="1", headlabel="2", kind="ethernet", style=solid];',
        '  n2 -- n3 [taillabel="1", headlabel="2", kind="ethernet", style=dashed, blocked=true];',
        '}',
        '',
      ].join('\n'),
    );
  });
  test('is JSON', () => expect(JSON.parse(writeGraph(graph, 'json'))).toEqual(graph));
  test('whatever a device is called, the XML is well-formed and the text has its lines', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string(), (name, port) => {
        const odd = {
          ...graph,
          devices: [device(1, name, name), device(2, port)],
          links: [link(1, 2, { a: { device: 1, port } })],
        };
        expect(XMLValidator.validate(graphMl(odd))).toBe(true);
        expect(
          dotText(odd)
            .split('\n')
            .filter((line) => / -- /.test(line)).length,
        ).toBeGreaterThanOrEqual(1);
      }),
    );
  });
});
