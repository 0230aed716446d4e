import * as yup from 'yup';
import { outletSchema } from '../../core/floor/outletSchema';
import { outletMistakes, type Outlet } from '../../core/floor/outlet';
import { mediaTypes, tableParts } from '../../deliver/table';
import type { Db, Store } from '../../store/base/database';
import { outletEdits } from '../../store/edits/outlets';
import { editVersion } from '../../store/edits/log';
import { outletAlone, outletWords, readOutlets, type KeptOutlet } from '../../store/outlets';
import { invalid, notFound } from '../access/problem';
import { atSurvey, oneOf, text } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import type { OutletRow } from './outletRows';

export const outletRoutes = [
  route({
    method: 'GET',
    path: '/outlets',
    role: 'viewer',
    summary: 'Outlets with what is at the other end; as CSV in the shape in which they come in',
    query: yup.object({
      ...atSurvey,
      site: text('only of this site'),
      format: oneOf(['json', 'csv'], 'csv: the file that outlets/imports takes').default('json'),
    }),
    file: { mediaTypes: [mediaTypes.csv], description: 'the file that outlets/imports takes' },
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const version = editVersion(store.db);
      const site = query.site?.toLowerCase();
      const all = await tableAnswers(store).ask('outletRows', survey, null);
      const rows = all.filter((row) => site === undefined || row.site.toLowerCase() === site);
      return query.format === 'json' ? { rows, total: rows.length, survey, version } : csvOf(rows);
    },
  }),
  route({
    method: 'POST',
    path: '/outlets',
    role: 'operator',
    summary: 'Enter an outlet',
    body: outletSchema,
    versioned: true,
    run: async (call) => {
      const after = await outletOf(call.store, call.body);
      const changes = [{ key: null, before: null, after }];
      const words = outletWords(after);
      const { key, ...edit } = written(call, outletEdits, { act: 'entered an outlet', words, changes });
      return { id: Number(key), ...edit };
    },
  }),
  route({
    method: 'PUT',
    path: '/outlets/{id}',
    role: 'operator',
    summary: 'Change an outlet',
    body: outletSchema,
    versioned: true,
    run: async (call) => {
      const after = await outletOf(call.store, call.body);
      const known = outletNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(known.id), before: outletAlone(known), after }];
      const words = outletWords(after);
      const { edit, version } = written(call, outletEdits, { act: 'changed an outlet', words, changes });
      return { id: known.id, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/outlets/{id}',
    role: 'operator',
    summary: 'Delete an outlet',
    versioned: true,
    run: (call) => {
      const known = outletNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(known.id), before: outletAlone(known), after: null }];
      const words = outletWords(known);
      const { edit, version } = written(call, outletEdits, { act: 'deleted an outlet', words, changes });
      return { id: known.id, edit, version };
    },
  }),
];

/** @throws Problem where there is none */
function outletNumbered(db: Db, id: string): KeptOutlet {
  const found = readOutlets(db).find((one) => one.id === Number(id));
  if (!found) throw notFound(`outlet ${id}`);
  return found;
}

/** An outlet as it is kept, its port found by name. @throws Problem with each mistake at its field */
async function outletOf(store: Store, given: yup.InferType<typeof outletSchema>): Promise<Outlet> {
  const { site, label, room = '', panel = '', position = '', device = '', port = '', note = '' } = given;
  const outlet: Outlet = {
    site: site.trim(),
    label: label.trim(),
    room,
    panel,
    position,
    port: await portNamed(store, device, port),
    note: note.trim(),
  };
  const mistakes = outletMistakes(outlet);
  if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: field, message })));
  return outlet;
}

/** The port that is meant; null where none is. @throws Problem where it is not there */
async function portNamed(store: Store, device: string, port: string): Promise<Outlet['port']> {
  if (device === '' && port === '') return null;
  if (device === '') throw invalid([{ path: 'device', message: `On which device is port ${port}?` }]);
  if (port === '') throw invalid([{ path: 'port', message: `Which port of ${device}?` }]);
  const found = await tableAnswers(store).ask('findPortNamed', newestSurvey(store), device, port);
  if (found === 'no device') throw invalid([{ path: 'device', message: `No survey knows a device “${device}”` }]);
  if (found === 'no port') throw invalid([{ path: 'port', message: `${device} has no port “${port}”` }]);
  return found;
}

async function csvOf(rows: OutletRow[]): Promise<Response> {
  const columns = ['site', 'outlet', 'room', 'panel', 'position', 'device', 'port', 'note'];
  const plain = rows.map(({ site, label, room, panel, position, device, port, note }) => ({
    site,
    outlet: label,
    room,
    panel,
    position,
    device,
    port: port?.name ?? '',
    note,
  }));
  const parts: (string | Uint8Array)[] = [];
  for await (const part of tableParts('csv', plain, 'Outlets', columns)) parts.push(part);
  return new Response(parts.join(''), {
    headers: {
      'content-type': mediaTypes.csv,
      'content-disposition': 'attachment; filename="bolide-outlets.csv"',
      'cache-control': 'no-store',
    },
  });
}
