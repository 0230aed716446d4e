import * as yup from 'yup';
import type { AddressFacts, FabricEndpointFacts, FabricFacts } from '../estate/facts';
import type { PartState } from '../estate/harvest';
import { addressOrNull } from '../values/ipAddress';
import { parseMac } from '../values/mac';
import { expectObject, expectRows } from './expectation';
import type { Json } from './json';
import { wholePart, type ResourceAnswer } from './resourceAnswer';
import { toldReport } from './toldReport';

/** Whose private interface this is. */
const vendor = 'Fenmoor';

/** What the interface of the fabric controller is expected to answer. */
const controllerSchema = yup.object({
  fabric: yup.string().required(),
  hostname: yup.string().required(),
  model: yup.string().required(),
  serial: yup.string().required(),
  software: yup.string().required(),
});
const nodeSchema = yup.object({
  node: yup.string().required(),
  function: yup.string().oneOf(['leaf', 'spine']).required(),
  model: yup.string().required(),
  serial: yup.string().required(),
  software: yup.string().required(),
  management: yup.string().required(),
  reachable: yup.boolean().required(),
});
const tenantSchema = yup.object({
  tenant: yup.string().required(),
  contexts: yup.array(yup.string().required()).required(),
  domains: yup
    .array(
      yup.object({
        domain: yup.string().required(),
        context: yup.string().required(),
        subnets: yup.array(yup.string().required()).required(),
      }),
    )
    .required(),
  groups: yup.array(yup.object({ group: yup.string().required(), domain: yup.string().required() })).required(),
});
const endpointSchema = yup.object({
  mac: yup.string().required(),
  addresses: yup.array(yup.string().required()).required(),
  tenant: yup.string().required(),
  group: yup.string().required(),
  node: yup.string().required(),
  interface: yup.string().required(),
  vlan: yup.number().required(),
});

const linkSchema = yup.object({
  from: yup.string().required(),
  fromInterface: yup.string().required(),
  to: yup.string().required(),
  toInterface: yup.string().required(),
  up: yup.boolean().required(),
});

export type FabricResource = { body: Json } | { missing: string };
export interface FabricAnswers {
  controller: Json;
  nodes: FabricResource;
  tenants: FabricResource;
  endpoints: FabricResource;
  links: FabricResource;
}

/**
 * The controller with the networks of its tenants (each virtual router as `tenant:context`, each bridge domain as the port its gateways are on), and its leaves and spines as
 * devices of their own, with the endpoints that each leaf has learned.
 */
export function interpretFabric(
  answers: FabricAnswers,
  { address, credential }: { address: string; credential: string },
): ResourceAnswer | { drift: string } {
  const { value: own, drift: unknown } = expectObject(controllerSchema, answers.controller, 'controller');
  if (!own) return { drift: unknown ?? 'this interface changed' };
  const read = <Row>(resource: FabricResource, schema: yup.Schema<Row>, field: string) =>
    'body' in resource
      ? expectRows(schema, resource.body, field, field)
      : { rows: [] as Row[], drift: resource.missing };
  const nodes = read(answers.nodes, nodeSchema, 'nodes');
  const tenants = read(answers.tenants, tenantSchema, 'tenants');
  const endpoints = read(answers.endpoints, endpointSchema, 'endpoints');
  const links = read(answers.links, linkSchema, 'links');
  const state = (drift: string | null): PartState =>
    drift === null ? wholePart : { state: 'failed', reason: drift, seconds: 0 };
  const gateways = tenants.rows.flatMap(({ tenant, domains }) =>
    domains.flatMap(({ domain, context, subnets }) =>
      subnets.flatMap((subnet): AddressFacts[] => {
        const [text = '', length] = subnet.split('/');
        const gateway = addressOrNull(text);
        return gateway && length && /^\d{1,3}$/.test(length)
          ? [{ address: gateway, prefixLength: Number(length), port: domain, vrf: `${tenant}:${context}` }]
          : [];
      }),
    ),
  );
  return {
    parts: {
      system: wholePart,
      addresses: state(tenants.drift),
      told: state(nodes.drift ?? links.drift ?? tenants.drift),
      neighbourAddresses: state(endpoints.drift),
    },
    report: toldReport(
      'fabric',
      {
        name: own.hostname,
        role: 'fabric-controller',
        address,
        credential,
        vendor,
        site: '',
        model: own.model,
        serial: own.serial,
        release: own.software,
        description: `controller of fabric ${own.fabric}`,
      },
      {
        addresses: gateways,
        toldLinks: links.rows.map(({ from, fromInterface, to, toInterface, up }) => ({
          a: { device: from, port: fromInterface },
          b: { device: to, port: toInterface },
          kind: 'l3' as const,
          up,
        })),
        fabric: [
          ...nodes.rows.map(({ node, function: does, reachable }): FabricFacts => ({
            kind: 'node',
            node,
            function: does,
            reachable,
          })),
          ...tenants.rows.map((tenant): FabricFacts => ({ kind: 'tenant', ...tenant })),
        ],
        fabricEndpoints: endpoints.rows.flatMap(
          ({ mac: text, addresses, tenant, group, node, interface: port, vlan }): FabricEndpointFacts[] => {
            const mac = parseMac(text);
            return mac
              ? [
                  {
                    mac,
                    addresses: addresses.flatMap((own) => addressOrNull(own) ?? []),
                    tenant,
                    group,
                    node,
                    port,
                    vlan,
                  },
                ]
              : [];
          },
        ),
      },
    ),
    others: nodes.rows
      .filter(({ reachable }) => reachable)
      .map((node) => {
        const learned = endpoints.rows.filter((endpoint) => endpoint.node === node.node);
        return {
          parts: {
            system: wholePart,
            ...(node.function === 'leaf' && {
              bridge: state(endpoints.drift),
              neighbourAddresses: state(endpoints.drift),
            }),
          },
          report: toldReport(
            'fabric',
            {
              name: node.node,
              role: 'switch',
              address: node.management,
              credential,
              vendor,
              site: '',
              model: node.model,
              serial: node.serial,
              release: node.software,
              description: node.function,
            },
            {
              sightings: {
                forwarding: learned.flatMap((endpoint) => {
                  const mac = parseMac(endpoint.mac);
                  return mac ? [{ mac, port: endpoint.interface, vlan: endpoint.vlan }] : [];
                }),
                addresses: learned.flatMap((endpoint) => {
                  const mac = parseMac(endpoint.mac);
                  return mac
                    ? endpoint.addresses.flatMap((text) => {
                        const known = addressOrNull(text);
                        return known ? [{ mac, address: known }] : [];
                      })
                    : [];
                }),
              },
            },
          ),
        };
      }),
  };
}
