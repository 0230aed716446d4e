/** By what both ends of a conversation are put together. */
export const matrixGroups = ['host', 'site', 'network', 'kind', 'application', 'circle', 'group'] as const;
export type MatrixGroup = (typeof matrixGroups)[number];
