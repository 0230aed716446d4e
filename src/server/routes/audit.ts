import { listActs } from '../../store/people';
import { invalid } from '../access/problem';
import { route } from '../access/route';

const mostRows = 200;

/** What was done, by whom and when, newest first. */
export const GET = route('administrator', null, ({ store, url }) => {
  const known = ['text', 'before', 'size'];
  for (const name of url.searchParams.keys())
    if (!known.includes(name))
      throw invalid([{ path: name, message: `is no parameter: known are ${known.join(', ')}` }]);
  const number = (name: string, most: number): number | null => {
    const text = url.searchParams.get(name);
    if (text === null) return null;
    if (!/^\d+$/.test(text) || Number(text) < 1 || Number(text) > most)
      throw invalid([{ path: name, message: `must be a whole number from 1 to ${most}` }]);
    return Number(text);
  };
  return listActs(store.db, {
    text: url.searchParams.get('text') ?? '',
    before: number('before', Number.MAX_SAFE_INTEGER),
    most: number('size', mostRows) ?? 50,
  });
});
