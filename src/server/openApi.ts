import { thingNames, things } from '../core/things/fields';
import { contractFields } from './things/contract';

const parameter = (name: string, description: string, schema: object = { type: 'string' }) => ({
  name,
  in: 'query',
  description,
  schema,
});

/** The API's description, OpenAPI 3.1, made from the same lists the API itself uses. */
export function openApi() {
  const problem = {
    description: 'RFC 9457 problem document',
    content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
  };
  const thingPaths = Object.fromEntries(
    thingNames.flatMap((name) => [
      [
        `/${name}`,
        {
          get: {
            summary: `${things[name].title} as of a survey`,
            parameters: [
              parameter('survey', 'number of a sealed survey, or latest'),
              parameter('against', 'survey to compare with: rows carry change and before'),
              parameter('where', 'filter'),
              parameter('columns', 'fields, separated by commas'),
              parameter('sort', 'fields, separated by commas; -field for descending'),
              parameter('first', 'only so many rows, in the order they are sorted', { type: 'integer', minimum: 1 }),
              parameter('page', 'page, from 1', { type: 'integer', minimum: 1 }),
              parameter('size', 'rows a page', { type: 'integer', minimum: 1, maximum: 1000 }),
              parameter('count', 'fields whose values are to be counted'),
              parameter('group', 'up to three fields, the outermost first: groups come with their counts and sums'),
              parameter('format', 'all rows as a file', { enum: ['json', 'ndjson', 'csv', 'xlsx', 'yaml'] }),
            ],
            responses: {
              200: { description: `{rows, total, survey, against}; a row has ${contractFields[name].join(', ')}` },
              401: problem,
              422: problem,
            },
          },
        },
      ],
      [
        `/${name}/{id}/dossier`,
        {
          get: {
            summary: `One of ${name} with what is near it and what happened to it`,
            parameters: [
              { name: 'id', in: 'path', required: true, schema: { type: 'string' } },
              parameter('survey', 'number of a sealed survey, or latest'),
            ],
            responses: {
              200: {
                description:
                  '{row, near: [{words, thing, where, total}], history: [{at, words, before, after}], failing: [{key, name, severity, why, remedy, of}]}',
              },
              404: problem,
            },
          },
        },
      ],
      [
        `/${name}/{id}`,
        {
          get: {
            summary: `One of ${name}`,
            parameters: [
              { name: 'id', in: 'path', required: true, schema: { type: 'string' } },
              parameter('survey', 'number of a sealed survey, or latest'),
            ],
            responses: { 200: { description: 'the thing' }, 404: problem },
          },
        },
      ],
    ]),
  );
  const write = (summary: string, role: string) => ({
    summary: `${summary} (${role})`,
    requestBody: { content: { 'application/json': { schema: { type: 'object' } } } },
    responses: { 200: { description: 'done' }, 403: problem, 422: problem },
  });
  const read = (summary: string, role: string) => ({
    summary: `${summary} (${role})`,
    responses: { 200: { description: 'the list' }, 401: problem },
  });
  return {
    openapi: '3.1.0',
    info: { title: 'Bolide', version: '1', description: 'Everything the interface shows comes through these calls.' },
    servers: [{ url: '/api/v1' }],
    paths: {
      ...thingPaths,
      '/surveys': {
        get: read('Surveys, newest first', 'viewer'),
        post: write('Run a survey of a scope: {scopeId}', 'operator'),
      },
      '/surveys/{id}': { get: read('How far a survey is', 'viewer') },
      '/surveys/{id}/events': { get: read('Progress as server-sent events', 'viewer') },
      '/surveys/{id}/cancel': { post: write('Cancel a running survey', 'operator') },
      '/scopes': { get: read('Scopes', 'viewer'), post: write('Save a scope', 'operator') },
      '/scopes/{id}': { delete: write('Delete a scope', 'operator') },
      '/credentials': {
        get: read('Credentials, without their secrets', 'operator'),
        post: write('Save a credential', 'administrator'),
      },
      '/credentials/{id}': { delete: write('Delete a credential; refused while a scope tries it', 'administrator') },
      '/credentials/{id}/restore': {
        post: write('Take the deletion of a credential back, within an hour', 'administrator'),
      },
      '/credentials/{id}/test': { post: write('Try a credential at an address: {address, scopeId}', 'operator') },
      '/jobs/{id}': { get: read('How a job stands, and what it found out', 'operator') },
      '/certificates': { get: read('Certificates that changed and are not trusted', 'operator') },
      '/certificates/trust': {
        post: write('Trust the certificate a device shows now: {address, port}', 'administrator'),
      },
      '/harvests': {
        post: {
          summary: 'Survey a zip archive of walks or Redfish trees (operator)',
          parameters: [
            parameter('format', 'walks or trees', { enum: ['walks', 'trees'] }),
            parameter('name', 'how the survey is called'),
          ],
          requestBody: { content: { 'application/zip': { schema: { type: 'string', format: 'binary' } } } },
          responses: { 200: { description: '{jobId}' }, 409: problem, 422: problem },
        },
      },
      '/collectors': {
        get: read('Collectors: when each was last heard, its version and load', 'operator'),
        post: write('Add a collector: {name}; its token is told once', 'administrator'),
      },
      '/collectors/{id}': { delete: write('Remove a collector: its token opens nothing any more', 'administrator') },
      '/collectors/work': { post: write('A collector reports and asks for a share of a survey', 'collector') },
      '/collectors/deliveries': {
        post: {
          summary: 'A collector delivers visits, each delivery taken once by its id (collector)',
          requestBody: { content: { 'application/gzip': { schema: { type: 'string', format: 'binary' } } } },
          responses: {
            200: { description: '{state}: stored, known (it had arrived before) or over (the survey was cancelled)' },
            409: problem,
            422: problem,
          },
        },
      },
      '/signatures': {
        get: read('Signatures, with how many devices each knows', 'viewer'),
        post: write('Save a signature', 'administrator'),
      },
      '/signatures/try': { post: write('What a signature would make of the devices that are known', 'operator') },
      '/readings': {
        get: read('Readings that people added, with how many devices answer them', 'viewer'),
        post: write('Save a reading: {name, where, oid or resource, unit, multiplyBy, above, below}', 'administrator'),
      },
      '/readings/{name}': { delete: write('Delete a reading; its past values stay', 'administrator') },
      '/catalogue': { get: read('Releases', 'viewer'), post: write('Add a release', 'operator') },
      '/targets': {
        get: read('Targets', 'viewer'),
        put: write(
          'Set the target of a family, or of its devices in a group, {vendor, family, release, group}, or take it away with null',
          'operator',
        ),
      },
      '/find': {
        get: {
          summary: 'Anything by a scrap of its name, address, MAC or serial, the closest first (viewer)',
          parameters: [
            parameter('text', 'what it is called'),
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('most', 'how many at most, 1 to 100'),
          ],
          responses: {
            200: {
              description:
                '{rows: [{thing, by, rank, row}], survey}; rank 0 is the text itself, 4 and more have letters wrong',
            },
            401: problem,
            422: problem,
          },
        },
      },
      '/reports/ports': {
        get: {
          summary:
            'Ports of the switches that fit: how many are used, free and idle, what is attached, and how it is known (viewer)',
          parameters: [
            parameter('where', 'which devices, in the filter language'),
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('idleDays', 'from how many days on a port that is down counts as idle'),
          ],
          responses: {
            200: { description: '{at, idleDays, total, left, switches, survey}' },
            401: problem,
            422: problem,
          },
        },
      },
      '/map': {
        get: {
          summary: 'Devices and links as the map draws them, and since when things are known (viewer)',
          parameters: [
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('against', 'survey to compare with'),
            parameter('vlan', 'also tells which devices and ends of links carry this VLAN', {
              type: 'integer',
              minimum: 1,
              maximum: 4094,
            }),
            parameter(
              'network',
              'also tells what devices have to do with this network: 10.72.4.0/24, before it its virtual router where it has one',
            ),
            parameter('format', 'json, or the graph as GraphML or as a text', { enum: ['json', 'graphml', 'dot'] }),
          ],
          responses: {
            200: { description: '{survey, against, devices, links, ever: {devices, joints}}' },
            422: problem,
          },
        },
      },
      '/map/ports': {
        get: {
          summary: 'Ports of some devices as the map shows them on their plates (viewer)',
          parameters: [
            parameter('devices', 'numbers of devices, with commas between them; 500 at most'),
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('against', 'survey to compare with'),
            parameter('vlan', 'also tells which ports carry this VLAN', { type: 'integer', minimum: 1, maximum: 4094 }),
          ],
          responses: { 200: { description: '{rows: [{device, plan, ports}], survey}' }, 422: problem },
        },
      },
      '/hosts': {
        get: {
          summary: 'Hosts of virtual machines and bundles, with what is wrong between them and the network (viewer)',
          parameters: [parameter('survey', 'number of a sealed survey, or latest')],
          responses: {
            200: {
              description:
                '{rows: [{host, hostId, machines, running, uplinks, findings: [{kind, part, words, remedy}]}], total, survey}',
            },
            401: problem,
          },
        },
      },
      '/hosts/{name}': {
        get: {
          summary: 'From the virtual machines of a host down to the ports of switches (viewer)',
          parameters: [parameter('survey', 'number of a sealed survey, or latest')],
          responses: {
            200: { description: '{host, hostId, machines, switches, adapters, findings, survey}' },
            404: problem,
          },
        },
      },
      '/fabrics': {
        get: {
          summary:
            'Leaves and spines, tenants with their virtual routers, bridge domains, groups and subnets, of every fabric (viewer)',
          parameters: [parameter('survey', 'number of a sealed survey, or latest')],
          responses: {
            200: { description: '{rows: [{controller, devices, nodes, links, tenants}], total, survey}' },
            401: problem,
          },
        },
      },
      '/fabrics/{id}/endpoints': {
        get: {
          summary: 'Endpoints of a fabric, and where a subnet or an address belongs (viewer)',
          parameters: [
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('tenant', 'only of this tenant'),
            parameter('group', 'only of this group'),
            parameter('node', 'only at this leaf'),
            parameter('text', 'a MAC, an address, a network or a name'),
          ],
          responses: {
            200: { description: '{rows, total, places: [{tenant, context, domain, subnet, groups}], survey}' },
            422: problem,
          },
        },
      },
      '/trace': {
        get: {
          summary: 'From one thing to another, hop by hop on layer 2 and layer 3, and where knowledge ends (viewer)',
          parameters: [
            parameter('from', 'device:NUMBER, a MAC, an address, the name of a device or host'),
            parameter('to', 'the other end, likewise'),
            parameter('survey', 'number of a sealed survey, or latest'),
          ],
          responses: {
            200: {
              description:
                '{from, to, hops: [{deviceId, device, does, in, out, vlan, link, route, notes}], gap, notes, survey}',
            },
            401: problem,
            422: problem,
          },
        },
      },
      '/places': {
        get: {
          summary:
            'On which ports something is and was: a MAC in any notation, an address, a host or a serial (viewer)',
          parameters: [
            parameter('text', 'what is looked for'),
            parameter('survey', 'number of a sealed survey, or latest'),
          ],
          responses: {
            200: {
              description:
                '{found: [{kind, id, words, mac, maker, spans: [{device, deviceId, port, vlan, via, basis, addresses, from, last, holds}], evidence}], surveys, survey}',
            },
            401: problem,
            422: problem,
          },
        },
      },
      '/today': { get: read('What needs attention', 'viewer') },
      '/plans': {
        get: read('Floor plans, without their pictures', 'viewer'),
        post: {
          summary: 'Add a floor plan; the body is its picture, PNG or JPEG (operator)',
          parameters: [parameter('site', 'at which site'), parameter('name', 'how it is called')],
          requestBody: {
            content: {
              'image/png': { schema: { type: 'string', format: 'binary' } },
              'image/jpeg': { schema: { type: 'string', format: 'binary' } },
            },
          },
          responses: { 200: { description: '{id}' }, 413: problem, 422: problem },
        },
      },
      '/plans/{id}': {
        get: read('A floor plan, and how what stands on it is at a survey', 'viewer'),
        put: write(
          'Draw on a floor plan: {site, name, revision, rooms: [{name, corners}], marks: [{kind, id, at}]}; places are parts of its width and height',
          'operator',
        ),
        delete: write('Delete a floor plan', 'operator'),
      },
      '/plans/{id}/restore': { post: write('Bring a deleted floor plan back', 'operator') },
      '/plans/{id}/picture': {
        get: {
          summary: 'The picture of a floor plan (viewer)',
          responses: { 200: { description: 'PNG or JPEG' }, 404: problem },
        },
        put: {
          summary: 'Another picture of the same floor, under what is drawn (operator)',
          responses: { 200: { description: '{revision}' }, 413: problem, 422: problem },
        },
      },
      '/plans/where': {
        get: {
          summary: 'The outlet a port leads to, and the plans on which it or the device stands (viewer)',
          parameters: [parameter('port', 'DEVICE:NAME'), parameter('device', 'number of a device')],
          responses: { 200: { description: '{outlet, plans: [{id, site, name, room, kind, markId}]}' }, 422: problem },
        },
      },
      '/outlets': {
        get: {
          summary: 'Outlets: label, room, patch panel, port and who is plugged in (viewer)',
          parameters: [
            parameter('site', 'only of this site'),
            parameter('survey', 'number of a sealed survey, or latest'),
            parameter('format', 'csv: the file that outlets/imports takes', { enum: ['json', 'csv'] }),
          ],
          responses: { 200: { description: '{rows, total, survey}' }, 422: problem },
        },
        post: write('Enter an outlet: {site, label, room, panel, position, device, port, note}', 'operator'),
      },
      '/outlets/{id}': { put: write('Change an outlet', 'operator'), delete: write('Delete an outlet', 'operator') },
      '/outlets/imports': {
        post: write(
          'Take outlets from a CSV file: {csv, name, preview}; nothing is taken if a line has a mistake',
          'operator',
        ),
      },
      '/outlets/edits': { get: read('Writings of outlets, newest first', 'operator') },
      '/outlets/edits/{id}/undo': {
        post: write('Take a writing of outlets back; what was written over since stays', 'operator'),
      },
      '/acts': {
        get: read('What people did to ports, newest first; ?port=DEVICE:NAME for one of them', 'viewer'),
        post: write(
          'Act on a port: {port, act: {kind: shut, enable, powerOff, powerOn, powerCycle or alias, alias, offSeconds}, seen, name, force, undoes}; seen is how a look found the port, name is typed where something hangs on it, force is for administrators and uplinks',
          'operator',
        ),
      },
      '/acts/look': {
        post: write('What hangs on a port, and a job that asks the device how the port is now: {port}', 'operator'),
      },
      '/acts/{id}': { get: read('One act: what was sent, how it was read back, what came of it', 'viewer') },
      '/watches': {
        get: read('What one watches, and what became of it since the survey before', 'viewer'),
        post: write('Watch a port or an endpoint: {thing, id}', 'viewer'),
      },
      '/watches/{id}': { delete: write('Watch it no more', 'viewer') },
      '/views': {
        get: read('Saved views: one’s own and those that are shared', 'viewer'),
        post: write('Save a view: {name, path, query, shared}; one of the same name is taken the place of', 'viewer'),
      },
      '/views/{id}': { delete: write('Delete a view of one’s own; an administrator any that is shared', 'viewer') },
      '/fields': {
        get: read('Own fields: what people fill in, beside what equipment tells', 'viewer'),
        post: write(
          'Make an own field, or change its heading and choices: {thing, label, kind, choices}',
          'administrator',
        ),
      },
      '/fields/{id}': { delete: write('Take an own field out of use; its values stay', 'administrator') },
      '/fields/{id}/restore': { post: write('Bring a removed own field back, with its values', 'administrator') },
      '/edits': {
        get: read('Edits of own fields, newest first', 'operator'),
        post: write(
          'Write own fields of many rows: {thing, ids or where, survey, set, add, remove, preview}; all or nothing',
          'operator',
        ),
      },
      '/edits/imports': {
        post: write(
          'Write own fields from a CSV file: {thing, csv, name, preview}; nothing is taken if a line has a mistake',
          'operator',
        ),
      },
      '/edits/{id}/undo': { post: write('Take an edit back; what was written over since stays', 'operator') },
      '/contracts': {
        get: read('Contracts, warranties and licences: what each covers, until when', 'viewer'),
        post: write(
          'Enter a contract: {number, kind, supplier, level, contact, from, until, parts, note, serials}',
          'operator',
        ),
      },
      '/contracts/{id}': {
        get: read('A contract', 'viewer'),
        put: write('Change a contract', 'operator'),
        delete: write('Delete a contract', 'operator'),
      },
      '/contracts/imports': {
        post: write(
          'Take contracts from a CSV file: {csv, name, preview}; nothing is taken if a line has a mistake',
          'operator',
        ),
      },
      '/contracts/edits': { get: read('Writings of contracts, newest first', 'operator') },
      '/contracts/edits/{id}/undo': {
        post: write('Take a writing of contracts back; what was written over since stays', 'operator'),
      },
      '/groups': {
        get: read('Groups with how many rows each has', 'viewer'),
        post: write('Make a group: {name, thing, kind, where, members, within, note}', 'operator'),
      },
      '/groups/{id}': {
        get: read('A group with its members', 'viewer'),
        put: write('Change a group', 'operator'),
        patch: write('Put rows into a fixed group or take them out: {add, remove}', 'operator'),
        delete: write('Delete a group; refused while another is built on it', 'operator'),
      },
      '/maintenance': {
        get: read('Times of maintenance, newest first', 'viewer'),
        post: write('Set maintenance: {where, reason, from, until}', 'operator'),
      },
      '/maintenance/{id}/end': { post: write('End maintenance now', 'operator') },
      '/checks': {
        get: read('Checks: rules that must hold nothing, how each stands, and how it stood', 'viewer'),
        post: write('Make a check: {name, thing, where, scope, severity, why, remedy, on}', 'operator'),
      },
      '/checks/{id}': {
        put: write('Change a check, of the library too', 'operator'),
        delete: write('Delete a check of one’s own, or put one of the library back as it was', 'operator'),
      },
      '/checks/trial': {
        post: write('How a rule would stand at the newest survey: {thing, where, scope}', 'operator'),
      },
      '/identities': {
        post: write(
          'Part a device at a survey, {kind: split, device, survey}, or put two together, {kind: join, device, other}',
          'operator',
        ),
      },
      '/identities/{id}': {
        get: read(
          'Where a device may be another one, which others may be it, and what was decided; id is that of the device',
          'viewer',
        ),
      },
      '/identities/{id}/undo': { post: write('Take a decision back; id is that of the decision', 'operator') },
      '/mail': {
        get: read('The mail server, without its password', 'administrator'),
        put: write('Set the mail server: {host, port, security, user, password, from}', 'administrator'),
        delete: write('Forget the mail server', 'administrator'),
      },
      '/mail/test': { post: write('Send a test message: {to}', 'administrator') },
      '/audit': {
        get: {
          summary: 'What was done, newest first (administrator)',
          parameters: [
            parameter('text', 'words that must be in it'),
            parameter('before', 'older than the act of this number'),
            parameter('size', 'how many, 1 to 200'),
          ],
          responses: { 200: { description: '{rows: [{id, at, who, act, subject}], total}' }, 403: problem },
        },
      },
      '/people': { get: read('People', 'administrator'), post: write('Add a person', 'administrator') },
      '/session': {
        get: read('Who am I', 'anyone'),
        post: write('Sign in', 'anyone'),
        delete: write('Sign out', 'anyone'),
      },
    },
    components: {
      securitySchemes: {
        bearer: { type: 'http', scheme: 'bearer' },
        cookie: { type: 'apiKey', in: 'cookie', name: 'bolide-session' },
      },
      schemas: {
        Problem: {
          type: 'object',
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            errors: { type: 'array', items: { type: 'object' } },
          },
        },
      },
    },
    security: [{ bearer: [] }, { cookie: [] }],
  };
}
