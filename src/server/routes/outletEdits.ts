import { recentOutletEdits } from '../../store/outlets';
import { route } from '../access/route';

const shown = 50;

export const GET = route('operator', null, ({ store }) => {
  const rows = recentOutletEdits(store.db, shown);
  return { rows, total: rows.length };
});
