import * as yup from 'yup';
import { outletMistakes, type Outlet } from '../../core/floor/outlet';
import { mediaTypes, tableParts } from '../../deliver/table';
import type { Db, Store } from '../../store/database';
import { recordAct } from '../../store/people';
import { StaleOutletError, writeOutlets, type OutletWrite } from '../../store/outlets';
import { line } from '../access/line';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { surveyNumber } from '../things/moment';

export const outletSchema = yup
  .object({
    site: line('The site').required('Say at which site it is'),
    label: line('The label').required('An outlet needs its label'),
    room: line('The room'),
    panel: line('The panel'),
    position: line('The place'),
    device: line('The device'),
    port: line('The port'),
    note: yup.string(),
  })
  .noUnknown();

/** An outlet as it is kept, its port found by name. @throws Problem with each mistake at its field */
export async function outletOf(
  store: Store,
  {
    site,
    label,
    room = '',
    panel = '',
    position = '',
    device = '',
    port = '',
    note = '',
  }: yup.InferType<typeof outletSchema>,
): Promise<Outlet> {
  let patched: Outlet['port'] = null;
  if (device !== '' || port !== '') {
    if (device === '' || port === '')
      throw invalid([
        device === ''
          ? { path: 'device', message: `On which device is port ${port}?` }
          : { path: 'port', message: `Which port of ${device}?` },
      ]);
    const found = await tableAnswers(store).ask('findPortNamed', surveyNumber(store.db, 'latest') ?? 0, device, port);
    if (found === 'no device') throw invalid([{ path: 'device', message: `No survey knows a device “${device}”` }]);
    if (found === 'no port') throw invalid([{ path: 'port', message: `${device} has no port “${port}”` }]);
    patched = found;
  }
  const outlet: Outlet = {
    site: site.trim(),
    label: label.trim(),
    room,
    panel,
    position,
    port: patched,
    note: note.trim(),
  };
  const mistakes = outletMistakes(outlet);
  if (mistakes.length > 0) throw invalid(mistakes.map(({ field, message }) => ({ path: field, message })));
  return outlet;
}

/** @throws Problem where somebody was faster, or two would be at one place */
export function writtenOutlets(
  db: Db,
  who: string,
  words: string,
  writes: OutletWrite[],
): { edit: number; ids: number[] } {
  try {
    return writeOutlets(db, { who, words, writes });
  } catch (error) {
    if (error instanceof StaleOutletError)
      throw new Problem(409, 'Taken or changed', `${error.message}. Nothing was written.`, [
        { path: 'label', message: error.message },
      ]);
    throw error;
  }
}

const known = ['survey', 'site', 'format'];

/** Outlets with what is at the other end; as CSV in the shape in which they come in. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const survey = surveyNumber(store.db, url.searchParams.get('survey'));
  if (survey === null)
    throw invalid([{ path: 'survey', message: `There is no sealed survey “${url.searchParams.get('survey') ?? ''}”` }]);
  const format = url.searchParams.get('format') ?? 'json';
  if (format !== 'json' && format !== 'csv') throw invalid([{ path: 'format', message: 'use json or csv' }]);
  const site = url.searchParams.get('site');
  const rows = (await tableAnswers(store).ask('outletRows', survey, null)).filter(
    (row) => site === null || row.site.toLowerCase() === site.toLowerCase(),
  );
  if (format === 'json') return { rows, total: rows.length, survey };
  const columns = ['site', 'outlet', 'room', 'panel', 'position', 'device', 'port', 'note'];
  const plain = rows.map(({ site: at, label, room, panel, position, device, port, note }) => ({
    site: at,
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
});

export const POST = route('operator', outletSchema, async ({ store, person, body }) => {
  const after = await outletOf(store, body);
  const { edit, ids } = writtenOutlets(store.db, person.name, `outlet ${after.label} of ${after.site}`, [
    { before: null, after },
  ]);
  recordAct(store.db, person.name, 'entered an outlet', `${after.label} of ${after.site}`);
  return { id: ids[0], edit };
});
