import * as yup from 'yup';
import { graphFormats, graphTypes, writeGraph } from '../../core/map/graphText';
import { isNetwork } from '../../core/map/overlay';
import { invalid, Problem } from '../access/problem';
import { atMoments, atSurvey, oneOf, text, whole } from '../api/parameters';
import { route } from '../api/route';
import { momentsAsked, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

/** more are never in sight at once */
const mostDevices = 500;
const vlan = whole('also tells what carries this VLAN', 1, 4094, 'must be a VLAN from 1 to 4094');
const notANetwork = 'must be a network like 10.72.4.0/24, before it its virtual router where it has one';

/** How devices are joined: the map, traces, hosts and fabrics. */
export const mapRoutes = [
  route({
    method: 'GET',
    path: '/map',
    role: 'viewer',
    summary:
      'Devices and links as the map draws them, and since when things are known, by which they keep their places',
    query: yup.object({
      ...atMoments,
      vlan,
      network: text('also tells what devices have to do with this network').test(
        'network',
        notANetwork,
        (value) => value === undefined || isNetwork(value),
      ),
      format: oneOf(graphFormats, 'the graph as JSON, as GraphML or as a text').default('json'),
    }),
    file: { mediaTypes: Object.values(graphTypes), description: 'the graph in another format' },
    run: async ({ store, query }) => {
      const { survey, against } = momentsAsked(store, query);
      const { format } = query;
      const graph = await tableAnswers(store).ask(
        'mapData',
        survey,
        against,
        query.vlan ?? null,
        query.network ?? null,
      );
      if (format === 'json') return graph;
      return new Response(writeGraph(graph, format), {
        headers: {
          'content-type': `${graphTypes[format]}; charset=utf-8`,
          'content-disposition': `attachment; filename="map-survey-${survey}.${format}"`,
          'cache-control': 'no-store',
        },
      });
    },
  }),
  route({
    method: 'GET',
    path: '/map/ports',
    role: 'viewer',
    summary: 'Ports of some devices as the map shows them on their plates',
    query: yup.object({
      ...atMoments,
      devices: text(`numbers of devices, with commas between them; ${mostDevices} at most`, 8000).default(''),
      vlan,
    }),
    run: async ({ store, query }) => {
      const devices = query.devices.split(',').map(Number);
      if (devices.some((device) => !Number.isInteger(device) || device < 1)) {
        throw invalid([{ path: 'devices', message: 'must be numbers of devices, with commas between them' }]);
      }
      if (devices.length > mostDevices)
        throw invalid([{ path: 'devices', message: `no more than ${mostDevices} at once` }]);
      const { survey, against } = momentsAsked(store, query);
      return { rows: await tableAnswers(store).ask('mapPorts', survey, against, devices, query.vlan ?? null), survey };
    },
  }),
  route({
    method: 'GET',
    path: '/trace',
    role: 'viewer',
    summary: 'From one thing to another, hop by hop on layer 2 and layer 3, and where knowledge ends',
    query: yup.object({
      ...atSurvey,
      from: text('device:NUMBER, a MAC, an address, the name of a device or host').default(''),
      to: text('the other end, likewise').default(''),
    }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const answer = await tableAnswers(store).ask('traceBetween', survey, query.from, query.to);
      if ('mistakes' in answer) throw invalid(answer.mistakes);
      return { ...answer, survey };
    },
  }),
  route({
    method: 'GET',
    path: '/hosts',
    role: 'viewer',
    summary: 'Hosts of virtual machines and bundles, with what is wrong between them and the network',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const rows = await tableAnswers(store).ask('hostList', survey);
      return { rows, total: rows.length, survey };
    },
  }),
  route({
    method: 'GET',
    path: '/hosts/{id}',
    role: 'viewer',
    summary:
      'From the virtual machines of a host down to the ports of switches; a name does where one alone is called so',
    query: yup.object(atSurvey),
    run: async ({ store, query, params }) => {
      const survey = surveyAsked(store, query);
      const ladder = await tableAnswers(store).ask('hostLadderOf', survey, params.id);
      if (!ladder)
        throw new Problem(404, 'Not found', `No host called “${params.id}” has machines or bundles at this survey.`);
      return { ...ladder, survey };
    },
  }),
  route({
    method: 'GET',
    path: '/fabrics',
    role: 'viewer',
    summary: 'Leaves and spines, tenants down to their groups, of every fabric whose controller was asked',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const rows = await tableAnswers(store).ask('fabrics', survey);
      return { rows, total: rows.length, survey };
    },
  }),
  route({
    method: 'GET',
    path: '/fabrics/{id}/endpoints',
    role: 'viewer',
    summary: 'Endpoints of a fabric that fit, the first five hundred, and where a subnet or an address belongs',
    query: yup.object({
      ...atSurvey,
      tenant: text('only of this tenant'),
      group: text('only of this group'),
      node: text('only at this leaf'),
      text: text('a MAC, an address, a network or a name'),
    }),
    run: async ({ store, query, params }) => {
      const controller = Number(params.id);
      if (!Number.isInteger(controller) || controller < 1) {
        throw invalid([{ path: 'id', message: 'must be the number of the controller’s device' }]);
      }
      const survey = surveyAsked(store, query);
      const { survey: _at, ...asked } = query;
      const given = Object.fromEntries(Object.entries(asked).filter(([, value]) => value));
      return { ...(await tableAnswers(store).ask('fabricEndpoints', survey, controller, given)), survey };
    },
  }),
];
