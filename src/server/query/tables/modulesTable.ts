import type { ModuleFacts } from '../../../core/estate/facts';
import { slotKinds } from '../../../core/estate/slotKinds';
import { valueAt, type Column } from '../../../core/tables/column';
import { Dictionary } from '../../../core/tables/dictionary';
import type { Db } from '../../../store/base/database';
import type { ThingRow } from '../rows/rowBuilder';
import { FactVersions } from './factVersions';
import { PartsTable } from './partsTable';
import type { SurveyContext } from './surveyContext';

export const moduleVersions = (db: Db): FactVersions<ModuleFacts> =>
  new FactVersions<ModuleFacts>(
    db,
    'module',
    {
      path: ({ path }) => path,
      class: (module) => module.class,
      name: ({ name }) => name,
      description: ({ description }) => description,
      vendor: ({ vendor }) => vendor,
      model: ({ model }) => model,
      serial: ({ serial }) => serial,
      assetId: ({ assetId }) => assetId ?? '',
      alias: ({ alias }) => alias ?? '',
      madeOn: ({ madeOn }) => madeOn ?? '',
      uuid: ({ uuid }) => uuid ?? '',
      hardwareRevision: ({ hardwareRevision }) => hardwareRevision,
      firmwareRevision: ({ firmwareRevision }) => firmwareRevision,
      softwareRevision: ({ softwareRevision }) => softwareRevision,
      replaceable: ({ replaceable }) => replaceable,
      position: ({ position }) => position,
      parent: ({ parent }) => parent,
      empty: ({ empty }) => empty,
      order: ({ order }) => order,
      deviceId: (_, deviceId) => deviceId,
    },
    [
      { field: 'deviceId', kind: 'number' },
      { field: 'order', kind: 'number' },
    ],
  );

/** Modules as of a survey, device by device, each as its agent lists them. */
export class ModulesTable extends PartsTable<ModuleFacts> {
  #holds: Map<number, Map<string, string>> | null = null;

  constructor(facts: FactVersions<ModuleFacts>, context: SurveyContext) {
    super(facts, context, 'path');
  }

  protected row(content: ModuleFacts, deviceId: number): ThingRow {
    return {
      id: `${deviceId}:${content.path}`,
      deviceId,
      device: this.context.nameOf(deviceId),
      holds: this.#slotsOf(deviceId).get(content.path) ?? '',
      assetId: '',
      alias: '',
      madeOn: '',
      uuid: '',
      ...content,
    };
  }

  protected make(field: string): Column {
    if (field !== 'holds') throw new Error(`modules have no column “${field}”`);
    const paths = this.column('path');
    const dictionary = new Dictionary();
    return {
      dictionary,
      codes: this.owners().map((owner, row) =>
        dictionary.codeOf(this.#slotsOf(owner).get(String(valueAt(paths, row))) ?? ''),
      ),
    };
  }

  /** What the empty slots of a device are for, by their paths. */
  #slotsOf(deviceId: number): Map<string, string> {
    if (!this.#holds) {
      this.#holds = new Map();
      const [path, name, partClass, parent, empty] = (['path', 'name', 'class', 'parent', 'empty'] as const).map(
        (field) => this.column(field),
      );
      if (!path || !name || !partClass || !parent || !empty) return new Map();
      const owners = this.owners();
      for (let first = 0; first < this.size;) {
        const owner = owners[first] ?? 0;
        const parts = [];
        for (; first < this.size && owners[first] === owner; first++) {
          parts.push({
            path: String(valueAt(path, first)),
            name: String(valueAt(name, first)),
            class: String(valueAt(partClass, first)),
            parent: valueAt(parent, first) as string | null,
            empty: valueAt(empty, first) === true,
          });
        }
        if (parts.some((part) => part.empty)) this.#holds.set(owner, slotKinds(parts));
      }
    }
    return this.#holds.get(deviceId) ?? none;
  }
}

const none = new Map<string, string>();
