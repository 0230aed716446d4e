import type { Harvest, HarvestPart } from '../../core/estate/harvest';
import { harvestOfAnswers } from '../../core/estate/harvestOfAnswers';
import { parseBridge } from '../../core/mib/bridge';
import { parsePhysical } from '../../core/mib/entity';
import { routeCount } from '../../core/mib/routes';
import { parseSystem, systemObjects, type SystemGroup } from '../../core/mib/system';
import { Answers } from '../../core/mib/table';
import type { Reading } from '../../core/signatures/reading';
import { chooseSignature, type Signature } from '../../core/signatures/signature';
import { inParallel } from '../inParallel';
import { SourceError, type VarbindSource } from '../source';
import { contextNames, logicalEntities, readContexts } from './contexts';
import { PartReading, type PartReadingOptions } from './partReading';
import { privateQuestions } from './privateQuestions';
import { mostRoutes, questions, type PartQuestions } from './questions';

export interface ReadOptions extends PartReadingOptions {
  address: string;
  credential: string;
  signatures: Signature[];
  /** parts asked at the same time */
  inFlight: number;
  /** our clock, milliseconds since the epoch, to hold the device's against; absent where its answers are of another time */
  wallClock?: () => number;
  /** values that somebody wants beside what the signature reads */
  readings?: Reading[];
}

const objectId = `${systemObjects.sysObjectID}.0`;
const systemInstances = Object.values(systemObjects).map((object) => `${object}.0`);

/**
 * The first question: who are you? Decides whether there is anything to read. Where it is not answered as a whole, what the device is is asked alone, and the rest object by object:
 * some agents drop a question for one object that they cannot tell.
 * @throws SourceError
 */
export async function readSystem(source: VarbindSource): Promise<SystemGroup | null> {
  const told = await source.get(systemInstances, [objectId]);
  if (told.length !== 1 || told[0]?.oid !== objectId) return parseSystem(told);
  const unheard: string[] = [];
  for (const instance of systemInstances) {
    if (instance === objectId) continue;
    try {
      told.push(...(await source.get([instance])));
    } catch (error) {
      if (!(error instanceof SourceError) || error.fault === 'cancelled') throw error;
      unheard.push(instance);
    }
  }
  const system = parseSystem(told);
  const names = Object.entries(systemObjects).flatMap(([name, object]) =>
    unheard.includes(`${object}.0`) ? [name] : [],
  );
  return system && names.length > 0 ? { ...system, unheard: names } : system;
}

const nothing = new Answers();

/**
 * Asks one device everything, part by part: first all single objects with one question and with another which tables there are, then the
 * tables. A part that breaks off is named as failed with what it gave so far left in the harvest; the others go on. After two
 * parts without any answer the rest is not asked any more.
 */
export async function readDevice(source: VarbindSource, system: SystemGroup, options: ReadOptions): Promise<Harvest> {
  const { readings = [], signatures } = options;
  const first = chooseSignature(signatures, system);
  const reading = new PartReading(source, options);
  if (system.unheard)
    reading.parts.system = {
      state: 'failed',
      reason: `asked for ${system.unheard.join(', ')}, the device does not answer`,
      seconds: 0,
    };
  const work = Object.entries(questions) as [HarvestPart, PartQuestions][];
  work.unshift(...ownQuestions(first, readings));
  await reading.prepare(work.map(([, asked]) => asked));
  const preparedAt = options.wallClock?.() ?? null;
  await inParallel(work, options.inFlight, ([part, asked]) => reading.read(part, asked));

  const answersOf = (part: HarvestPart) => reading.answers.get(part) ?? nothing;
  const signature = chooseSignature(signatures, system, chassisOf(answersOf('modules'))) ?? first;
  if (signature !== first) {
    reading.forgetPrepared();
    for (const [part, asked] of ownQuestions(signature, readings)) await reading.read(part, asked);
  }
  const contexts = signature?.contexts
    ? await readContexts(
        source,
        contextNames(signature.contexts, answersOf('contexts'), parseBridge(answersOf('bridge'))),
        reading,
      )
    : [];
  await reading.tellSilence();
  const routesTold = routeCount(answersOf('routing')) ?? 0;
  return {
    address: options.address,
    credential: options.credential,
    signature: signature?.id ?? '',
    system,
    ...harvestOfAnswers(reading.answers, signature, readings, preparedAt),
    ...(routesTold > mostRoutes && { routesLeft: routesTold }),
    contexts,
    parts: reading.parts,
  };
}

/** What is asked beside the standards, since a signature or a person wants it. */
function ownQuestions(signature: Signature | null, readings: Reading[]): [HarvestPart, PartQuestions][] {
  const own = privateQuestions(signature, readings);
  return [
    ...(own ? [['private', own] satisfies [HarvestPart, PartQuestions]] : []),
    ...(signature?.contexts?.of === 'logical entities'
      ? [['contexts', logicalEntities] satisfies [HarvestPart, PartQuestions]]
      : []),
  ];
}

/** What the chassis calls itself may name a better signature than was known before it was read. */
function chassisOf(modules: Answers): { model: string; vendor: string } {
  return parsePhysical(modules).find((row) => row.class === 'chassis') ?? { model: '', vendor: '' };
}
