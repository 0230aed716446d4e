import { scopeDefaults } from '../../core/estate/scope';

/** Silence costs a little memory and no packets: so many addresses are waited for at once where nobody says how many. */
const usual = 4096;

/** How many addresses are asked at once. A scope that says how many devices are read at once means the silent ones too; as usual there is no need to wait for silence one after another. */
export const probesAtOnce = (concurrency: number): number =>
  concurrency === scopeDefaults.concurrency ? usual : concurrency;
