import * as yup from 'yup';
import { starts, type Start } from '../../core/firmware/doing/course';
import { line } from '../../core/values/line';
import { recordAct } from '../../store/audit';
import { readImageSource, saveImageSource } from '../../store/imageSource';
import {
  addUpgrade,
  approveUpgrade,
  coursesOf,
  endingsOf,
  pauseUpgrade,
  readCourse,
  readUpgrade,
  readUpgrades,
  requestsOf,
  resumeUpgrade,
  stopUpgrade,
  UpgradeBusyError,
  type KeptCourse,
  type KeptUpgrade,
  type WantedUpgrade,
} from '../../store/upgrades';
import type { Db, Store } from '../../store/base/database';
import { invalid, notFound, Problem } from '../access/problem';
import { route } from '../api/route';
import { newestSurvey } from '../query/momentsAsked';
import { longestFilter } from '../query/tablePage';
import { tableAnswers } from '../query/thread/tableAnswers';

const count = (words: string) =>
  yup.number().integer('A whole number').min(1, 'At least 1').max(200, 'At most 200').meta({ description: words });
const momentWords = 'Write a moment like 2026-12-05T22:00:00+01:00';
const where = () =>
  yup
    .string()
    .required('Say which devices')
    .max(longestFilter)
    .meta({ description: 'which of what has a target, in the filter language' });

const wishSchema = yup
  .object({
    name: line('The name').required('Give it a name').max(80, 'At most 80 letters'),
    where: where(),
    start: yup.string().oneOf(starts, `One of ${starts.join(', ')}`),
    from: yup.string().max(40).meta({ description: 'when its window begins, for start=window' }),
    until: yup.string().max(40).meta({ description: 'when its window is over' }),
    atOnce: count('so many devices at the same time; 1'),
    stopAfter: count('after so many that did not end well no more are begun; 1'),
    rollsBack: yup.boolean().meta({ description: 'whether one goes back where something is not as it was' }),
    typed: yup
      .string()
      .max(200)
      .meta({ description: 'the name of an application that would be stopped, as a look asks for it' }),
  })
  .noUnknown();

const sourceSchema = yup
  .object({
    reachedAs: yup
      .string()
      .required('Say how devices reach this machine')
      .matches(/^[\w.:-]{1,253}$/, 'A name or an address'),
    listenOn: yup.string().matches(/^[\d.:a-fA-F]{2,45}$/, 'An address of this machine; 0.0.0.0 for all'),
    port: yup.number().integer('A whole number').min(1, 'From 1').max(65_535, 'Up to 65535'),
    needsApproval: yup.boolean(),
  })
  .noUnknown();

/** How upgrades stand, in numbers. */
function told(db: Db, upgrades: readonly KeptUpgrade[]) {
  const all = endingsOf(
    db,
    upgrades.map(({ id }) => id),
  );
  return upgrades.map((kept) => {
    const own = all.filter(({ upgradeId }) => upgradeId === kept.id);
    const ended = own.flatMap(({ ending }) => ending ?? []);
    return {
      ...kept,
      devices: own.length,
      done: ended.filter((ending) => ending === 'done').length,
      failed: ended.filter((ending) => ending !== 'done').length,
      underWay: own.filter(({ begunAt, ending }) => begunAt !== null && ending === null).length,
    };
  });
}

/** @throws Problem where there is none */
function knownUpgrade(db: Db, id: string): KeptUpgrade {
  const kept = /^\d{1,12}$/.test(id) ? readUpgrade(db, Number(id)) : null;
  if (!kept) throw notFound(`upgrade ${id}`);
  return kept;
}

/** @throws Problem where there is none */
function knownCourse(db: Db, params: { id: string; course: string }): KeptCourse {
  const { id } = knownUpgrade(db, params.id);
  const course = /^\d{1,12}$/.test(params.course) ? readCourse(db, id, Number(params.course)) : null;
  if (!course) throw notFound(`course ${params.course}`);
  return course;
}

/** @throws Problem where one of its devices is in another upgrade */
function begun(db: Db, wanted: WantedUpgrade): number {
  try {
    return addUpgrade(db, wanted);
  } catch (error) {
    if (!(error instanceof UpgradeBusyError)) throw error;
    throw new Problem(409, 'Under way already', `${error.message}.`);
  }
}

/** Several at the same time, and all in a window, which restart as it opens, go only where none stands in for another. @throws Problem with what would be lost */
async function refuseTogether(
  store: Store,
  goes: readonly { deviceId: number; component: string }[],
  start: Start,
  atOnce: number,
): Promise<void> {
  // a management controller restarts by itself
  const away = [
    ...new Set(goes.filter(({ component }) => component !== 'management controller').map(({ deviceId }) => deviceId)),
  ];
  if (start === 'restart' || (start === 'now' && atOnce === 1) || away.length < 2) return;
  const { isSafe, words } = await tableAnswers(store).ask('waveChecked', newestSurvey(store), away);
  if (!isSafe)
    throw invalid([
      {
        path: start === 'window' ? 'start' : 'atOnce',
        message: `These may not be away at the same time (${words.slice(0, 3).join('; ')}): one at a time, or fewer devices`,
      },
    ]);
}

const nameToType = (looked: readonly { stays: string; stopped: string[] }[]): string | null =>
  looked.filter(({ stays }) => stays === '').flatMap(({ stopped }) => stopped)[0] ?? null;

const looked = async (store: Store, wanted: string) => {
  const found = await tableAnswers(store).ask('upgradeLook', newestSurvey(store), wanted);
  return { ...found, nameToType: nameToType(found.looked) };
};

function windowOf(start: Start, from: string | undefined, until: string | undefined) {
  if (start !== 'window') return null;
  const [first, last] = [Date.parse(from ?? ''), Date.parse(until ?? '')];
  if (Number.isNaN(first)) throw invalid([{ path: 'from', message: momentWords }]);
  if (Number.isNaN(last)) throw invalid([{ path: 'until', message: momentWords }]);
  if (last <= first) throw invalid([{ path: 'until', message: 'The window ends before it begins' }]);
  if (last <= Date.now()) throw invalid([{ path: 'until', message: 'The window is over' }]);
  return { from: first, until: last };
}

const state = (kept: KeptUpgrade, words: string) =>
  new Problem(409, 'Not now', `“${kept.name}” is ${kept.state}: ${words}`);

/** Upgrades that are done: looked at first, approved, watched, held. */
export const upgradeRoutes = [
  route({
    method: 'GET',
    path: '/upgrades',
    role: 'viewer',
    summary: 'Upgrades that were and are done, newest first',
    run: ({ store: { db } }) => {
      const rows = told(db, readUpgrades(db));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/upgrades/{id}',
    role: 'viewer',
    summary: 'One upgrade: how far each of its devices is',
    run: ({ store: { db }, params }) => {
      const kept = knownUpgrade(db, params.id);
      const [standing] = told(db, [kept]);
      // the word of an image is nobody's but its device's, and the rest of the record stands by itself
      const courses = coursesOf(db, kept.id).map(({ word: _, before: __, after: ___, lost: ____, ...one }) => one);
      return { ...kept, devices: 0, done: 0, failed: 0, underWay: 0, ...standing, courses };
    },
  }),
  route({
    method: 'GET',
    path: '/upgrades/{id}/courses/{course}',
    role: 'viewer',
    summary: 'What was done to one device of an upgrade: what it was, every request that changed something, what it is',
    run: ({ store: { db }, params }) => {
      const course = knownCourse(db, params);
      const { word: _, ...shown } = course;
      return { ...shown, requests: requestsOf(db, course.id) };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/{id}/courses/{course}/back',
    role: 'operator',
    summary: 'Bring one device back to the release that it ran before, as an upgrade of its own',
    run: ({ store: { db }, person, params }) => {
      const course = knownCourse(db, params);
      const { from, to, image, imageBefore, ending } = course.course;
      if (ending !== 'kept' && ending !== 'done')
        throw new Problem(
          409,
          'Nothing to bring back',
          `${course.device} is ${ending ?? 'under way'}: it does not run ${to}.`,
        );
      const { deviceId, device, component, name } = course;
      const { needsApproval } = readImageSource(db);
      const id = begun(db, {
        ...{ name: `${device} back to ${from}`, who: person.name, atOnce: 1, stopAfter: 1, needsApproval },
        devices: [
          {
            ...{ deviceId, device, component, name },
            wanted: {
              ...{ from: to, to: from, image: imageBefore, imageBefore: image },
              ...{ start: 'now', window: null, rollsBack: false },
            },
          },
        ],
      });
      recordAct(db, person.name, 'began to bring a device back', `${device} ${component} ${to} to ${from}`);
      return { id };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/look',
    role: 'operator',
    summary:
      'What an upgrade would do: which release each goes to, by what, what stays and why, what would be lost while it is away',
    body: yup.object({ where: where() }).noUnknown(),
    run: async ({ store, person, body }) => {
      recordAct(store.db, person.name, 'looked at an upgrade', body.where);
      return looked(store, body.where);
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades',
    role: 'operator',
    summary: 'Begin an upgrade of those that are ready; where a second person approves, it waits for that',
    body: wishSchema,
    run: async ({ store, person, body }) => {
      const { db } = store;
      const source = readImageSource(db);
      if (source.reachedAs === '')
        throw new Problem(
          409,
          'Nobody knows from where',
          'An administrator says first from where devices fetch images.',
        );
      const { name, start = 'now', atOnce = 1, stopAfter = 1, rollsBack = false } = body;
      const window = windowOf(start, body.from, body.until);
      const found = await looked(store, body.where);
      const goes = found.looked.filter(({ stays }) => stays === '');
      if (goes.length === 0)
        throw invalid([
          {
            path: 'where',
            message: found.looked[0]
              ? `None of these may go: ${found.looked[0].device} is ${found.looked[0].stays}`
              : 'Nothing that has a target fits',
          },
        ]);
      if (found.nameToType !== null && body.typed !== found.nameToType)
        throw invalid([{ path: 'typed', message: `“${found.nameToType}” would be stopped: type its name to go on` }]);
      await refuseTogether(store, goes, start, atOnce);
      const id = begun(db, {
        ...{ name, who: person.name, atOnce, stopAfter, needsApproval: source.needsApproval },
        devices: goes.map(({ deviceId, device, component, name: part, from, to, image, imageBefore }) => ({
          ...{ deviceId, device, component, name: part },
          wanted: { from, to, image, imageBefore, start, window, rollsBack },
        })),
      });
      recordAct(
        db,
        person.name,
        source.needsApproval ? 'asked for an upgrade' : 'began an upgrade',
        `${name}: ${goes.map(({ device, component, from, to }) => `${device} ${component} ${from} to ${to}`).join(', ')}`,
      );
      return { id };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/{id}/approve',
    role: 'operator',
    summary: 'Approve an upgrade that somebody else planned: it begins',
    run: ({ store: { db }, person, params }) => {
      const kept = knownUpgrade(db, params.id);
      if (kept.who === person.name)
        throw new Problem(403, 'Another person approves', `You planned “${kept.name}”: another person approves it.`);
      if (!approveUpgrade(db, kept.id, person.name)) throw state(kept, 'there is nothing to approve.');
      recordAct(db, person.name, 'approved an upgrade', kept.name);
      return { id: kept.id };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/{id}/pause',
    role: 'operator',
    summary: 'Begin no more devices of an upgrade; what is under way goes on to its end',
    run: ({ store: { db }, person, params }) => {
      const kept = knownUpgrade(db, params.id);
      if (!pauseUpgrade(db, kept.id)) throw state(kept, 'only what runs is held.');
      recordAct(db, person.name, 'held an upgrade', kept.name);
      return { id: kept.id };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/{id}/resume',
    role: 'operator',
    summary: 'Let an upgrade go on that was held, or stopped after failures: so many more may fail now',
    run: ({ store: { db }, person, params }) => {
      const kept = knownUpgrade(db, params.id);
      const failed = told(db, [kept])[0]?.failed ?? 0;
      // what nobody approved does not begin by being stopped and let go on
      const isToBeApproved = readImageSource(db).needsApproval && kept.approvedBy === null;
      if (!resumeUpgrade(db, kept.id, kept.state === 'stopped' ? { stopAfter: failed + 1 } : {}, isToBeApproved))
        throw state(kept, 'only what was held or stopped goes on.');
      recordAct(db, person.name, 'let an upgrade go on', kept.name);
      return { id: kept.id };
    },
  }),
  route({
    method: 'POST',
    path: '/upgrades/{id}/stop',
    role: 'operator',
    summary: 'End an upgrade: what is not begun stays as it is, what is under way goes on to its end',
    run: ({ store: { db }, person, params }) => {
      const kept = knownUpgrade(db, params.id);
      if (!stopUpgrade(db, kept.id, person.name)) throw state(kept, 'it is over.');
      recordAct(db, person.name, 'stopped an upgrade', kept.name);
      return { id: kept.id };
    },
  }),
  route({
    method: 'GET',
    path: '/image-source',
    role: 'viewer',
    summary: 'From where devices fetch images, and whether a second person approves upgrades',
    run: ({ store: { db } }) => readImageSource(db),
  }),
  route({
    method: 'PUT',
    path: '/image-source',
    role: 'administrator',
    summary: 'Say from where devices fetch images, and whether a second person approves upgrades',
    body: sourceSchema,
    run: ({ store: { db }, person, body }) => {
      const next = { ...readImageSource(db), ...body };
      saveImageSource(db, next);
      recordAct(
        db,
        person.name,
        'said from where images are fetched',
        `${next.reachedAs} port ${next.port}${next.needsApproval ? ', a second person approves' : ''}`,
      );
      return next;
    },
  }),
];
