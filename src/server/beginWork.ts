import { webStore } from './access/store';
import { keepJudging } from './checks/keepJudging';

/** Begins what the application does unasked: it judges checks whenever a survey was sealed. */
export function beginWork(): void {
  keepJudging(webStore());
}
