import type { ModuleFacts } from '../../core/estate/facts';
import { slotKinds } from '../../core/estate/slotKinds';
import { gather, pick, valueAt, type Column } from '../../core/tables/column';
import { Dictionary } from '../../core/tables/dictionary';
import type { Db } from '../../store/database';
import type { ThingRow } from '../things/asked';
import { columnByOwner } from './addedColumns';
import { inOrderOfDevices } from './deviceOrder';
import { FactVersions } from './factVersions';
import type { SurveyContext } from './surveyContext';
import type { ThingTable } from './thingTable';

export const moduleVersions = (db: Db): FactVersions<ModuleFacts> =>
  new FactVersions<ModuleFacts>(db, 'module', {
    path: ({ path }) => path, class: (module) => module.class, name: ({ name }) => name, description: ({ description }) => description, vendor: ({ vendor }) => vendor, model: ({ model }) => model, serial: ({ serial }) => serial,
    hardwareRevision: ({ hardwareRevision }) => hardwareRevision, firmwareRevision: ({ firmwareRevision }) => firmwareRevision, softwareRevision: ({ softwareRevision }) => softwareRevision, replaceable: ({ replaceable }) => replaceable,
    position: ({ position }) => position, parent: ({ parent }) => parent, empty: ({ empty }) => empty, order: ({ order }) => order, deviceId: (_, deviceId) => deviceId,
  }, [{ field: 'deviceId', kind: 'number' }, { field: 'order', kind: 'number' }]);

/** Modules as of a survey, device by device, each as its agent lists them. */
export class ModulesTable implements ThingTable {
  readonly size: number;
  readonly #versions: Uint32Array;
  readonly #owners: Uint32Array;
  readonly #columns = new Map<string, Column>();
  #places: Map<number, number> | null = null;
  #holds: Map<number, Map<string, string>> | null = null;

  constructor(readonly facts: FactVersions<ModuleFacts>, readonly context: SurveyContext) {
    const all = facts.owners();
    this.#versions = inOrderOfDevices(facts.asOf(context.survey), all, context.nameOf);
    this.size = this.#versions.length;
    this.#owners = pick(all, this.#versions);
  }

  column = (field: string): Column => {
    let column = this.#columns.get(field);
    if (!column) this.#columns.set(field, (column = this.#make(field)));
    return column;
  };

  /** A device has each path once. */
  keys(): Float64Array {
    const { codes } = this.column('path');
    return Float64Array.from(codes, (code, row) => keyOf(this.#owners[row] ?? 0, code));
  }

  rowOf(id: string): number {
    const [, deviceId, path] = /^(\d+):(.*)$/s.exec(id) ?? [];
    const code = this.column('path').dictionary.find(path);
    this.#places ??= new Map(Array.from(this.keys(), (key, row) => [key, row]));
    return code === undefined ? -1 : (this.#places.get(keyOf(Number(deviceId), code)) ?? -1);
  }

  owners(): Uint32Array {
    return this.#owners;
  }

  versions(): { facts: { has: (field: string) => boolean }; numbers: Uint32Array } {
    return { facts: this.facts, numbers: this.#versions };
  }

  rows(wanted: Iterable<number>): ThingRow[] {
    const places = [...wanted];
    return this.facts.contents(places.map((at) => this.#versions[at] ?? 0)).map((content, nth) => {
      const deviceId = this.#owners[places[nth] ?? 0] ?? 0;
      return { id: `${deviceId}:${content.path}`, deviceId, device: this.context.nameOf(deviceId), holds: this.#slotsOf(deviceId).get(content.path) ?? '', ...content };
    });
  }

  #make(field: string): Column {
    if (this.facts.has(field)) return gather(this.facts.column(field), this.#versions);
    if (field === 'device') return columnByOwner(this.#owners, this.context.nameOf);
    if (field !== 'holds') throw new Error(`modules have no column “${field}”`);
    const paths = this.column('path');
    const dictionary = new Dictionary();
    return { dictionary, codes: Uint32Array.from(this.#owners, (owner, row) => dictionary.codeOf(this.#slotsOf(owner).get(String(valueAt(paths, row))) ?? '')) };
  }

  /** What the empty slots of a device are for, by their paths. */
  #slotsOf(deviceId: number): Map<string, string> {
    if (!this.#holds) {
      this.#holds = new Map();
      const [path, name, partClass, parent, empty] = (['path', 'name', 'class', 'parent', 'empty'] as const).map((field) => this.column(field));
      if (!path || !name || !partClass || !parent || !empty) return new Map();
      for (let first = 0; first < this.size; ) {
        const owner = this.#owners[first] ?? 0;
        const parts = [];
        for (; first < this.size && this.#owners[first] === owner; first++) {
          parts.push({ path: String(valueAt(path, first)), name: String(valueAt(name, first)), class: String(valueAt(partClass, first)), parent: valueAt(parent, first) as string | null, empty: valueAt(empty, first) === true });
        }
        if (parts.some((part) => part.empty)) this.#holds.set(owner, slotKinds(parts));
      }
    }
    return this.#holds.get(deviceId) ?? none;
  }
}

const none = new Map<string, string>();
const keyOf = (deviceId: number, pathCode: number): number => deviceId * 2 ** 24 + pathCode;
