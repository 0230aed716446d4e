/** The element of a row or of the head of a group, by which the table says which line its keys act on. */
export const lineId = (id: string): string => `row-${id.replace(/[^A-Za-z0-9]/g, '_')}`;
