import { recentContractEdits } from '../../store/contracts';
import { route } from '../access/route';

const shownEdits = 20;

export const GET = route('operator', null, ({ store }) => {
  const rows = recentContractEdits(store.db, shownEdits);
  return { rows, total: rows.length };
});
