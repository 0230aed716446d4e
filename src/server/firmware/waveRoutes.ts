import * as yup from 'yup';
import { calendarOf, readWindows, WindowsError } from '../../core/firmware/waves/windows';
import { line } from '../../core/values/line';
import { isTimeZone } from '../../core/values/zonedTime';
import { tableParts } from '../../deliver/table';
import type { Store } from '../../store/base/database';
import { readApplications } from '../../store/applications';
import { workEdits } from '../../store/edits/works';
import { invalid } from '../access/problem';
import { megabytes, route } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import type { ToldWaves, WavesAsked } from './waves';

const mostCrew = 1000;
const mostMinutes = 24 * 60;
const longest = 2_000_000;

const momentWords = 'Write a moment like 2026-12-05T22:00:00+01:00';
const window = yup
  .object({ start: yup.string().required(momentWords).max(40), end: yup.string().required(momentWords).max(40) })
  .noUnknown();

/** What is asked of a plan of waves. */
export const wavesSchema = yup
  .object({
    where: yup.string().max(16_000).meta({ description: 'a filter of devices; without it all that have a target' }),
    windows: yup.array(window).max(1000, 'At most 1000 windows'),
    calendar: yup
      .string()
      .max(longest)
      .meta({ description: 'the text of a file of windows, instead of them: iCalendar (RFC 5545) or a list in JSON' }),
    zone: yup.string().max(60).meta({ description: 'the time zone of times that name none; UTC' }),
    crew: yup.number().integer('A whole number').min(1, 'At least 1').max(mostCrew, `At most ${mostCrew}`),
    perSite: yup.number().integer('A whole number').min(1, 'At least 1').max(mostCrew, `At most ${mostCrew}`),
    minutes: yup.number().integer('A whole number').min(1, 'At least 1').max(mostMinutes, `At most ${mostMinutes}`),
    mayStop: yup.array(yup.string().required()).max(200).meta({ description: 'applications that may be stopped' }),
    survey: yup.string().max(20),
    format: yup.string().oneOf(['json', 'ics', 'csv']),
  })
  .noUnknown();

export const usualCrew = 5;
export const usualMinutes = 30;

/** @throws Problem where an application is not known, there are no windows, or they cannot be read */
function wavesAsked(store: Store, body: yup.InferType<typeof wavesSchema>): WavesAsked {
  const { where = '', windows, calendar, zone = 'UTC', crew = usualCrew, minutes = usualMinutes } = body;
  const { perSite = crew, mayStop = [] } = body;
  if (!isTimeZone(zone)) throw invalid([{ path: 'zone', message: `There is no time zone “${zone}”` }]);
  if ((windows === undefined) === (calendar === undefined))
    throw invalid([{ path: 'windows', message: 'Give windows, as a list or as a calendar' }]);
  const names = new Set(readApplications(store.db).map(({ name }) => name.toLowerCase()));
  mayStop.forEach((name, at) => {
    if (!names.has(name.toLowerCase()))
      throw invalid([{ path: `mayStop[${at}]`, message: `There is no application “${name}”` }]);
  });
  const asked = {
    ...{ where, zone, crew, perSite, minutes, mayStop, from: Date.now() },
    windows: calendar ?? JSON.stringify(windows),
  };
  try {
    readWindows(asked.windows, { ...asked, until: Infinity });
  } catch (error) {
    if (!(error instanceof WindowsError)) throw error;
    throw invalid([{ path: calendar === undefined ? 'windows' : 'calendar', message: error.message }]);
  }
  return asked;
}

const mostWorks = 500;

/** @throws Problem where it is none */
function momentAt(text: string, path: string): string {
  const moment = Date.parse(text);
  if (Number.isNaN(moment)) throw invalid([{ path, message: momentWords }]);
  return new Date(moment).toISOString();
}

/** A line for each device of each wave. */
const linesOf = ({ waves, unplaced }: ToldWaves): Record<string, unknown>[] => [
  ...waves.flatMap(({ start, end, placed }, nth) =>
    placed.map(({ device, site, target, minutes, first, why }) => ({
      ...{ wave: nth + 1, start, end, device, site, target, minutes },
      first: first.join('; '),
      why: why.join('; '),
    })),
  ),
  ...unplaced.map(({ device, why }) => ({
    ...{ wave: '', start: '', end: '', device, site: '', target: '', minutes: '', first: '', why },
  })),
];

/** Which devices may be away at the same time, and when. */
export const waveRoutes = [
  route({
    method: 'POST',
    path: '/waves/works',
    role: 'operator',
    summary:
      'Write waves down as planned works, all in one edit: they are seen from every thing that rests on their devices',
    body: yup
      .object({
        name: line('The name').required('Give it a name').max(80, 'At most 80 letters'),
        waves: yup
          .array(
            yup
              .object({
                start: yup.string().required(momentWords).max(40),
                end: yup.string().required(momentWords).max(40),
                devices: yup.array(yup.number().integer().positive().required()).required().min(1).max(mostCrew),
              })
              .noUnknown(),
          )
          .required()
          .min(1, 'There are no waves')
          .max(mostWorks, `At most ${mostWorks} waves`),
      })
      .noUnknown(),
    largest: megabytes(3),
    versioned: true,
    run: (call) => {
      const { person, body } = call;
      const changes = body.waves.map(({ start, end, devices }, nth) => {
        const after = {
          ...{ kind: 'planned work' as const, title: `${body.name}, wave ${nth + 1}`, who: person.name },
          ...{ from: momentAt(start, `waves[${nth}].start`), until: momentAt(end, `waves[${nth}].end`) },
          ...{ things: devices.map((id) => `device:${id}`), note: '', source: '', number: '' },
        };
        if (after.until <= after.from)
          throw invalid([{ path: `waves[${nth}].end`, message: 'It ends before it begins' }]);
        return { key: null, before: null, after };
      });
      const words = `${body.name}: ${changes.length} ${changes.length === 1 ? 'wave' : 'waves'}`;
      const { edit, version } = written(call, workEdits, { act: 'wrote waves down', words, changes });
      return { edit, version, works: changes.length };
    },
  }),
  route({
    method: 'POST',
    path: '/waves/check',
    role: 'viewer',
    summary: 'What stands against some devices being away at the same time. Nothing is written',
    body: yup
      .object({
        devices: yup.array(yup.number().integer().required()).required().min(1, 'Name a device').max(mostCrew),
        survey: yup.string().max(20),
      })
      .noUnknown(),
    run: async ({ store, body }) => tableAnswers(store).ask('waveChecked', surveyAsked(store, body), body.devices),
  }),
  route({
    method: 'POST',
    path: '/waves',
    role: 'viewer',
    beside: true,
    summary:
      'Put devices into waves within windows: no wave takes away what none of its devices takes away by itself. Nothing is written',
    body: wavesSchema,
    largest: megabytes(3),
    file: { mediaTypes: ['text/calendar', 'text/csv'], description: 'as a calendar, or a line for each device' },
    run: async ({ store, body }) => {
      const survey = surveyAsked(store, body);
      const asked = wavesAsked(store, body);
      const told = await tableAnswers(store).ask('wavesAt', survey, asked);
      const named = (type: string, file: string) => ({
        'content-type': type,
        'content-disposition': `attachment; filename="bolide-waves-survey-${survey}.${file}"`,
        'cache-control': 'no-store',
      });
      switch (body.format) {
        case 'ics': {
          const waves = told.waves.map(({ start, end, devices }, nth) => ({
            ...{ start: Date.parse(start), end: Date.parse(end), devices },
            name: `Wave ${nth + 1}: ${devices.length} ${devices.length === 1 ? 'device' : 'devices'}`,
          }));
          return new Response(calendarOf(waves, Date.now()), { headers: named('text/calendar; charset=utf-8', 'ics') });
        }
        case 'csv': {
          const columns = ['wave', 'start', 'end', 'device', 'site', 'target', 'minutes', 'first', 'why'];
          let text = '';
          for await (const part of tableParts('csv', linesOf(told), 'Waves', columns)) text += part.toString();
          return new Response(text, { headers: named('text/csv; charset=utf-8', 'csv') });
        }
        default:
          return told;
      }
    },
  }),
];
