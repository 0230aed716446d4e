import { thingNames, things, type ThingName } from '@/core/things/things';

/** The tables of the Estate: those that answer a question a person has of it. */
export const estateTables: ThingName[] = thingNames.filter((name) => things[name].question);
