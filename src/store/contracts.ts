import { asc } from 'drizzle-orm';
import type { Contract } from '../core/cover/contract';
import type { Db } from './base/database';
import { contract } from './base/schema';

export type KeptContract = Contract & { id: number };

/** Contracts in the order they were made. */
export const readContracts = (db: Db): KeptContract[] => db.select().from(contract).orderBy(asc(contract.id)).all();

/** A contract as it is written: without its number in the list. */
export const contractAlone = (of: Contract): Contract => {
  const { number, kind, supplier, level, contact, from, until, parts, note, serials } = of;
  return { number, kind, supplier, level, contact, from, until, parts, note, serials };
};
