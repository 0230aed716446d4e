/** What is told of one thing, by the names of its fields. */
export type ThingRow = Record<string, unknown> & { id: string };
