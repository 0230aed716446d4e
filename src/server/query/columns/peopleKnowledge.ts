import { maintenanceState, type Maintenance } from '../../../core/groups/maintenance';
import type { ThingField } from '../../../core/things/thing';
import type { ThingName } from '../../../core/things/things';
import { withOwnFields, type OwnField } from '../../../core/own/ownField';
import { readContracts, type KeptContract } from '../../../store/contracts';
import { latestSealed } from '../../../store/base/sealedSurveys';
import type { Db } from '../../../store/base/database';
import { listFloorPlans, planStamp, type KeptFloorPlan } from '../../../store/floorPlans';
import { readGroups, type KeptGroup } from '../../../store/groups';
import { readMaintenance } from '../../../store/maintenance';
import { readOutlets, type KeptOutlet } from '../../../store/outlets';
import { readOwnFields } from '../../../store/ownFields';
import { ownStamp } from '../../../store/ownValues';
import { editStamp } from '../../../store/edits/log';
import { listCredentials } from '../../../store/credentials';
import { readCatalogue } from '../../../store/catalogue';

/** What people say of the estate, as it stands now: their own fields, their groups, when they work at what, and what catalogue and credentials have. */
export class PeopleKnowledge {
  readonly own: OwnField[];
  readonly groups: KeptGroup[];
  readonly latest: number;
  /** another text wherever something else was written */
  readonly written: string;
  readonly #maintenance: Maintenance[];
  readonly #published: Map<string, string>;
  readonly #kinds: Map<string, string>;
  readonly #fields = new Map<ThingName, ThingField[]>();
  /** grows with every writing of contracts */
  readonly contractStamp: number;
  readonly #readContracts: () => KeptContract[];
  #contracts: KeptContract[] | null = null;
  readonly #readOutlets: () => KeptOutlet[];
  readonly #readPlans: () => KeptFloorPlan[];
  #outlets: KeptOutlet[] | null = null;
  #plans: KeptFloorPlan[] | null = null;

  constructor(db: Db) {
    this.own = readOwnFields(db);
    this.groups = readGroups(db);
    this.latest = latestSealed(db);
    this.#maintenance = readMaintenance(db);
    this.#published = new Map(
      readCatalogue(db)
        .filter(({ component }) => component === 'system')
        .map(({ vendor, family, release, published }) => [`${vendor}\n${family}\n${release}`, published]),
    );
    this.#kinds = new Map(listCredentials(db).map(({ name, kind }) => [name, kind]));
    this.contractStamp = editStamp(db, 'contracts');
    this.#readContracts = () => readContracts(db);
    this.#readOutlets = () => readOutlets(db);
    this.#readPlans = () => listFloorPlans(db);
    this.written = `${this.latest} ${this.contractStamp} ${editStamp(db, 'outlets')} ${planStamp(db)} ${ownStamp(db)} ${JSON.stringify([this.groups, this.#maintenance, [...this.#published], [...this.#kinds]])}`;
  }

  /** Read when somebody asks for them first. */
  get contracts(): KeptContract[] {
    return (this.#contracts ??= this.#readContracts());
  }

  get outlets(): KeptOutlet[] {
    return (this.#outlets ??= this.#readOutlets());
  }

  get plans(): KeptFloorPlan[] {
    return (this.#plans ??= this.#readPlans());
  }

  /** Another text after each beginning and end of maintenance, and each day. */
  momentsPassed(now: Date): string {
    const moment = now.toISOString();
    return moment.slice(0, 10) + this.#maintenance.map((row) => maintenanceState(row, moment)).join();
  }

  fieldsOf(name: ThingName): ThingField[] {
    let fields = this.#fields.get(name);
    if (!fields) this.#fields.set(name, (fields = withOwnFields(name, this.own)));
    return fields;
  }

  /** Times of maintenance that go on at a moment. */
  maintenanceAt(moment: string): Maintenance[] {
    return this.#maintenance.filter((row) => maintenanceState(row, moment) === 'now');
  }

  /** The day a release was published, as the catalogue knows it. */
  published = (vendor: string, family: string, release: string): string | null =>
    this.#published.get(`${vendor}\n${family}\n${release}`) ?? null;

  /** How a credential asks; empty for one that is not there any more. */
  kindOf = (credential: string): string => this.#kinds.get(credential) ?? '';
}
