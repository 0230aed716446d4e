import { setImmediate as nextTurn, setTimeout as pause } from 'node:timers/promises';
import { parentPort, workerData, type MessagePort } from 'node:worker_threads';
import { latestSealed } from '../../../store/base/sealedSurveys';
import { openToRead, type Store } from '../../../store/base/database';
import { captureStamp } from '../../../store/talk/captures';
import { tablesOf } from '../tables/estateTables';
import { Calendar } from '../calendar';
import { answers, asksOfCircles, asksOfTalk, exportParts, momentOfTalk, ofTalk } from './answers';
import { tellError, type FromTables, type ToTables } from './messages';
import { readyTalk } from './readyTalk';
import { areSteps } from './steps';

/** Answers questions about the whole estate beside the process that talks to browsers, and reads ahead whenever a survey was sealed. */
const { folder } = workerData as { folder: string };
const parent = parentPort;
if (!parent) throw new Error('a thread of tables has no life of its own');
const store = openToRead(folder);
const lookAgainMs = 1000;
const tell = (message: FromTables) => parent.postMessage(message);

/** Answers whoever asks at a port: the process that talks to browsers, and threads of its. */
function serve(asker: Pick<MessagePort, 'postMessage' | 'on'>): void {
  const exports = new Map<number, AsyncGenerator<string | Buffer>>();
  const reply = (message: FromTables) => asker.postMessage(message);

  async function tellPart(number: number): Promise<void> {
    const next = await exports.get(number)?.next();
    if (!next || next.done) {
      exports.delete(number);
      return reply({ number, part: null });
    }
    reply({ number, part: next.value });
  }

  async function answer(message: ToTables): Promise<void> {
    if (message.kind === 'port') return serve(message.port);
    const { number } = message;
    try {
      switch (message.kind) {
        case 'question':
          if (message.name === 'find') await looksThrough(Number(message.with[0]));
          if (asksOfTalk(message.name, message.with)) await hearTalk();
          await makeCircles(asksOfCircles(message.name, message.with));
          reply({
            number,
            answer: await whole(
              (answers[message.name] as (store: Store, ...rest: unknown[]) => unknown)(store, ...message.with),
            ),
          });
          answeredAt = performance.now();
          if (asksOfTalk(message.name, message.with)) noteMoment(momentOfTalk(message.with));
          return;
        case 'export':
          if (ofTalk.has(message.export.thing)) await hearTalk();
          if (message.export.thing === 'circles') await makeCircles(message.export.wanted.survey);
          exports.set(number, exportParts(store, message.export));
          return await tellPart(number);
        case 'next':
          return await tellPart(number);
        case 'stop':
          await exports.get(number)?.return(undefined);
          exports.delete(number);
      }
    } catch (error) {
      exports.delete(number);
      reply({ number, error: tellError(error) });
    }
  }

  asker.on('message', (message: ToTables) => void answer(message));
}
serve(parent);

/** What is worked out in steps, with others answered in between. */
async function whole(answer: unknown): Promise<unknown> {
  if (!areSteps(answer)) return answer;
  for (;;) {
    const next = answer.next();
    if (next.done) return next.value;
    tell({ beat: true });
    await nextTurn();
  }
}

let hearing: Promise<void> | null = null;

/** Reads what was heard, a step at a time, while others are answered: there may be millions of conversations. */
async function hearTalk(): Promise<void> {
  if (tablesOf(store).hearsTalk) return;
  await (hearing ??= (async () => {
    for (const _ of tablesOf(store).readTalk()) {
      tell({ beat: true });
      await othersFirst();
    }
  })().finally(() => (hearing = null)));
}

const making = new Map<number, Promise<void>>();

/** Works out who belongs together by talk, a step at a time, once for all who ask. */
async function makeCircles(survey: number | null): Promise<void> {
  if (survey === null) return;
  const begun = making.get(survey);
  if (begun) return begun;
  const whole = (async () => {
    for (const _ of tablesOf(store).circles(survey)) {
      tell({ beat: true });
      await nextTurn();
    }
  })().finally(() => making.delete(survey));
  making.set(survey, whole);
  return whole;
}

/** Reads a step at a time, and lets whoever asks go first. */
async function readAhead(survey: number): Promise<void> {
  if (survey === 0) return;
  for (const _ of tablesOf(store).readAhead(survey)) {
    tell({ beat: true });
    if (waiting.size > 0 && tablesOf(store).finds(survey)) goOn();
    await othersFirst();
  }
  // what the first pages ask for
  await inSteps(asked([() => answers.today(store, survey, null), () => answers.mapData(store, survey, null, null)]));
  if (!tablesOf(store).hearsTalk) return;
  await inSteps(tablesOf(store).prepareTalk(survey));
  await inSteps(asked([...firstOfTalk(survey), ...moreOfTalk(survey)]));
  const before = new Calendar(store.db).comparable(survey);
  if (before === 0) return;
  await inSteps(tablesOf(store).makeTalk(before));
  await inSteps(asked([pageOfTalk(before, '', []), pageOfTalk(survey, '', [], before)]));
}

/** A step at a time, so that whoever asks is answered in between. */
async function inSteps(steps: Iterable<unknown>): Promise<void> {
  for (const _ of steps) {
    tell({ beat: true });
    await othersFirst();
  }
}

function* asked(questions: readonly (() => unknown)[]): Generator<unknown> {
  for (const ask of questions) yield ask();
}

const pageOfTalk =
  (survey: number, where: string, sort: string[], against: number | null = null) =>
  () =>
    answers.query(store, 'conversations', { survey, against, where, sort, page: 1, size: 200 });

/** What the page of talk asks for first. */
const firstOfTalk = (survey: number): (() => unknown)[] => [
  pageOfTalk(survey, '', []),
  () => answers.matrixOf(store, survey, 'site', '', null),
];

/** What is asked next of it: once made, it grows with what comes. */
const moreOfTalk = (survey: number): (() => unknown)[] => [
  () => answers.matrixOf(store, survey, 'network', '', null),
  () => answers.matrixOf(store, survey, 'kind', '', null),
  () => answers.talkDays(store, survey, ''),
  pageOfTalk(survey, '', ['-bytes']),
  pageOfTalk(survey, 'activeHours<=3 activeHours>0', []),
  pageOfTalk(survey, 'lastSeen>2020-01-01', ['-lastSeen']),
  // any word: what has it in it is looked for in all texts
  pageOfTalk(survey, 'tcp', []),
];

let readyFor = '';
const someoneAskedMs = 600_000;

/** The moment of the past of which somebody asked last, until it is made ready. */
let pastAsked: number | null = null;

function noteMoment(survey: number | null): void {
  if (survey !== null && survey > 0 && survey < read && survey !== pastReady) pastAsked = survey;
}
let pastReady = 0;

/** Live sources add talk each minute: while somebody asks now and then, the next one does not wait for it. Who looks at a moment of the past will ask more of it. */
async function keepTalkReady(): Promise<void> {
  if (read === 0 || !tablesOf(store).hearsTalk || performance.now() - answeredAt > someoneAskedMs) return;
  const stamp = captureStamp(store.db);
  const isMore = stamp !== readyFor;
  if (!isMore && pastAsked === null) return;
  const past = pastAsked;
  pastAsked = null;
  readyFor = stamp;
  if (isMore) await inSteps(readyTalk(store, read));
  if (past !== null) await inSteps(tablesOf(store).makeTalk(past));
  if (past !== null) pastReady = past;
}

const isAskingMs = 50;
const restMs = 5;
const mostMs = 100;
let answeredAt = -Infinity;

/** Who has just been answered often has the next question at once: it is waited for a little. */
async function othersFirst(): Promise<void> {
  await nextTurn();
  const began = performance.now();
  if (began - answeredAt > isAskingMs) return;
  while (performance.now() - answeredAt < restMs && performance.now() - began < mostMs) await pause(restMs);
}

const waiting = new Set<() => void>();
function goOn(): void {
  for (const resolve of waiting) resolve();
  waiting.clear();
}

/** Whoever looks for a word in all there is waits until it is read, and lets others ask meanwhile. */
async function looksThrough(survey: number): Promise<void> {
  if (survey <= read || tablesOf(store).finds(survey)) return;
  const whole = readNewest();
  await Promise.race([whole, new Promise<void>((resolve) => waiting.add(resolve))]);
}

let read = 0;
let reading: Promise<void> | null = null;

/** Reads what was sealed since, once for all who want it. */
function readNewest(): Promise<void> {
  const latest = latestSealed(store.db);
  if (latest === read) return Promise.resolve();
  return (reading ??= readAhead(latest)
    .then(() => {
      read = latest;
      if (latest > 0) tell({ read: latest });
    })
    .finally(() => {
      reading = null;
      goOn();
    }));
}

async function keepReading(): Promise<never> {
  for (;;) {
    tell({ beat: true });
    await readNewest();
    await keepTalkReady();
    await pause(lookAgainMs);
  }
}

// a thread that answers but reads nothing ahead any more would be half a thread: it ends, and is begun again
keepReading().catch((error: unknown) => {
  console.error('reading ahead:', error);
  process.exit(1);
});
