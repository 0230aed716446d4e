import type { DrawnSite } from './picture';

/** What is wrong or new within a site, in words; nothing where all is as it was. */
export const newsOf = ({ broken, changed }: Pick<DrawnSite, 'broken' | 'changed'>): string[] => [
  ...(broken > 0 ? [`${broken} ${broken === 1 ? 'link' : 'links'} at fault`] : []),
  ...(changed > 0 ? [`${changed} changed`] : []),
];
