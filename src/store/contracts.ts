import { asc, eq, isNull, sql, and } from 'drizzle-orm';
import { sameContract } from '../core/cover/planContracts';
import type { Contract } from '../core/cover/contract';
import { inTransaction, type Db } from './base/database';
import { contract, contractChange, contractEdit } from './base/schema';

export type KeptContract = Contract & { id: number };

/** Contracts in the order they were made. */
export const readContracts = (db: Db): KeptContract[] => db.select().from(contract).orderBy(asc(contract.id)).all();

/** Grows with everything that is written about contracts. */
export const contractStamp = (db: Db): number =>
  db
    .select({ last: sql<number>`coalesce(max(${contractEdit.id}), 0)` })
    .from(contractEdit)
    .get()?.last ?? 0;

/** Somebody wrote the contract meanwhile. */
export class StaleContractError extends Error {
  override name = 'StaleContractError';
}

/** What becomes of a contract: `before` null for a new one, `after` null for one that goes. */
export interface ContractWrite {
  /** which one it is, where it is not new */
  id?: number;
  before: Contract | null;
  after: Contract | null;
}

const plain = ({ number, kind, supplier, level, contact, from, until, parts, note, serials }: Contract): Contract => ({
  number,
  kind,
  supplier,
  level,
  contact,
  from,
  until,
  parts,
  note,
  serials,
});

/** Writes contracts, all or none. @returns the number of the edit and the ids of the contracts @throws StaleContractError where one is not any more what it was, or its number is taken */
export function writeContracts(
  db: Db,
  { who, words, writes }: { who: string; words: string; writes: ContractWrite[] },
  now = new Date(),
): { edit: number; ids: number[] } {
  return inTransaction(db, () => {
    const { id: editId } = db
      .insert(contractEdit)
      .values({ at: now.toISOString(), who, words })
      .returning({ id: contractEdit.id })
      .get();
    const ids = writes.map((write) => {
      const { before, after } = write;
      const known =
        before === null
          ? undefined
          : db
              .select()
              .from(contract)
              .where(write.id === undefined ? numbered(before.number) : eq(contract.id, write.id))
              .get();
      if (before !== null && (!known || !sameContract(known, before)))
        throw new StaleContractError(`${before.number} was changed meanwhile`);
      const taken =
        after === null ? undefined : db.select({ id: contract.id }).from(contract).where(numbered(after.number)).get();
      if (taken && taken.id !== known?.id)
        throw new StaleContractError(`There is a contract ${after?.number ?? ''} already`);
      let id = known?.id ?? write.id;
      if (after === null)
        db.delete(contract)
          .where(eq(contract.id, id ?? 0))
          .run();
      else if (known) db.update(contract).set(plain(after)).where(eq(contract.id, known.id)).run();
      else
        id = db
          .insert(contract)
          .values({ ...(id !== undefined && { id }), ...plain(after) })
          .returning({ id: contract.id })
          .get().id;
      db.insert(contractChange)
        .values({ editId, contractId: id ?? 0, before: before && plain(before), after: after && plain(after) })
        .run();
      return id ?? 0;
    });
    return { edit: editId, ids };
  });
}

const numbered = (number: string) => sql`lower(${contract.number}) = lower(${number})`;

/**
 * Takes an edit back by another one. What somebody has written over since stays.
 * @returns how many contracts came back and how many stay; null where there is no such edit, or it was taken back already
 */
export function undoContracts(
  db: Db,
  editId: number,
  who: string,
  now = new Date(),
): { id: number; back: number; stay: number } | null {
  return inTransaction(db, () => {
    const edit = db
      .select()
      .from(contractEdit)
      .where(and(eq(contractEdit.id, editId), isNull(contractEdit.undoneBy)))
      .get();
    if (!edit) return null;
    const made = db.select().from(contractChange).where(eq(contractChange.editId, editId)).all();
    const back = made.filter(({ contractId, before, after }) => {
      const now = db.select().from(contract).where(eq(contract.id, contractId)).get();
      const free =
        before === null ||
        !db
          .select({ id: contract.id })
          .from(contract)
          .where(and(numbered(before.number), sql`${contract.id} <> ${contractId}`))
          .get();
      return free && (after === null ? now === undefined : now !== undefined && sameContract(now, after));
    });
    const { edit: id } = writeContracts(
      db,
      {
        who,
        words: `took back: ${edit.words}`,
        writes: back.map(({ contractId, before, after }) => ({ id: contractId, before: after, after: before })),
      },
      now,
    );
    db.update(contractEdit).set({ undoneBy: id }).where(eq(contractEdit.id, editId)).run();
    return { id, back: back.length, stay: made.length - back.length };
  });
}

export interface KeptContractEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
  contracts: number;
}

/** Edits, newest first, with how many contracts each wrote; those that took others back are told with these. */
export function recentContractEdits(db: Db, most: number): KeptContractEdit[] {
  return db
    .select({
      edit: contractEdit,
      contracts: sql<number>`(select count(*) from contract_change where edit_id = ${contractEdit.id})`,
    })
    .from(contractEdit)
    .where(sql`${contractEdit.id} not in (select undone_by from contract_edit where undone_by is not null)`)
    .orderBy(sql`${contractEdit.id} desc`)
    .limit(most)
    .all()
    .map(({ edit, contracts }) => ({ ...edit, contracts }));
}

/** What was written of a contract, newest first. */
export function contractHistory(
  db: Db,
  contractId: number,
): { at: string; who: string; before: Contract | null; after: Contract | null }[] {
  return db
    .select({ at: contractEdit.at, who: contractEdit.who, before: contractChange.before, after: contractChange.after })
    .from(contractChange)
    .innerJoin(contractEdit, eq(contractChange.editId, contractEdit.id))
    .where(eq(contractChange.contractId, contractId))
    .orderBy(sql`${contractEdit.id} desc`)
    .all();
}
