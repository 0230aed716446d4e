import { sql } from 'drizzle-orm';
import { portActStates, type PlannedSet, type PortAct, type PortSettings } from '../../core/acting/portAct';
import type { PlanLayout } from '../../core/floor/floorPlan';
import type { Outlet } from '../../core/floor/outlet';
import type { Area } from '../../core/people/areas';
import { watchedThings } from '../../core/watch/watchedChanges';
import { contractKinds } from '../../core/cover/contract';
import { packedPhases, packedWords } from './visitCodec';
import { blob, index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';

/** Settings of the whole installation, by key, as JSON. */
export const setting = sqliteTable('setting', {
  key: text().primaryKey(),
  value: text({ mode: 'json' }).notNull(),
});

export const person = sqliteTable('person', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  passwordHash: text().notNull(),
  role: text({ enum: ['viewer', 'operator', 'administrator'] }).notNull(),
  createdAt: text().notNull(),
  /** since when they may not sign in; null while they may */
  disabledAt: text(),
  /** the password was given by an administrator: the next sign-in begins with another one */
  mustChange: integer({ mode: 'boolean' }).notNull().default(false),
});

/** Somebody who is signed in, in one browser. */
export const session = sqliteTable(
  'session',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    hash: text().notNull().unique(),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    createdAt: text().notNull(),
    /** when somebody was last at it, to ten minutes */
    usedAt: text().notNull(),
    /** the address they signed in from */
    source: text().notNull(),
  },
  (table) => [index('session_person').on(table.personId)],
);

export const preference = sqliteTable(
  'preference',
  {
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    key: text().notNull(),
    value: text({ mode: 'json' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.personId, table.key] })],
);

/** A view that somebody saved under a name: a page with its filter, order, groups and columns, as they stand in its address. */
export const savedView = sqliteTable(
  'saved_view',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    path: text().notNull(),
    query: text().notNull(),
    /** shown to everybody, not only to whom it belongs */
    shared: integer({ mode: 'boolean' }).notNull(),
    savedAt: text().notNull(),
  },
  (table) => [uniqueIndex('saved_view_name').on(table.personId, table.path, table.name)],
);

/** Tokens for scripts; only a hash is kept. */
export const token = sqliteTable('token', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  hash: text().notNull().unique(),
  role: text({ enum: ['viewer', 'operator', 'administrator', 'collector'] }).notNull(),
  createdAt: text().notNull(),
  /** the last day on which it opens anything; null for ever */
  expiresOn: text(),
  /** when it was used last, to the hour */
  usedAt: text(),
  /** the parts of the API it opens; null for all */
  areas: text({ mode: 'json' }).$type<Area[]>(),
});

export const audit = sqliteTable('audit', {
  id: integer().primaryKey({ autoIncrement: true }),
  at: text().notNull(),
  who: text().notNull(),
  act: text().notNull(),
  subject: text().notNull(),
});

/** `sealed` holds the secret part, encrypted under the key file. */
export const credential = sqliteTable('credential', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  kind: text().notNull(),
  position: integer().notNull(),
  /** what may be shown: user and protocols, never a secret */
  shown: text({ mode: 'json' }).notNull(),
  sealed: blob({ mode: 'buffer' }).notNull(),
  /** deleted, but can still be brought back for an hour */
  deletedAt: text(),
});

export const scope = sqliteTable('scope', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  body: text({ mode: 'json' }).notNull(),
});

/** One round of asking. Its id is the survey number by which facts are versioned. */
export const survey = sqliteTable('survey', {
  id: integer().primaryKey({ autoIncrement: true }),
  scopeName: text().notNull(),
  /** which of the saved scopes it was; null of files, and of what was asked from the command line */
  scopeId: integer(),
  /** the scope as it was when the survey ran */
  scope: text({ mode: 'json' }).notNull(),
  /** `thinned`: nobody looks back at it any more; its moment stays, for what was first seen in it */
  state: text({ enum: ['running', 'sealed', 'cancelled', 'failed', 'thinned'] }).notNull(),
  startedAt: text().notNull(),
  sealedAt: text(),
  asked: integer().notNull().default(0),
  phase: text().notNull().default('probe'),
  summary: text({ mode: 'json' }),
});

/**
 * What happened at one address in one survey. `seq` grows with every write, so that readers can tail the survey that runs; when the next one begins it is 0.
 * Every survey adds a row for every address, changed or not: the table has no row number beside its key (a migration says so, the builder has no word for it).
 */
export const visit = sqliteTable(
  'visit',
  {
    surveyId: integer()
      .notNull()
      .references(() => survey.id),
    address: text().notNull(),
    seq: integer().notNull(),
    state: text({ enum: ['waiting', 'asking', 'done'] }).notNull(),
    outcome: text(),
    deviceId: integer(),
    credential: text(),
    reason: packedWords(),
    remedy: packedWords(),
    missing: text({ mode: 'json' }),
    phases: packedPhases(),
    milliseconds: integer(),
    /** by which neighbours the address was found, where no range names it */
    path: text(),
  },
  (table) => [
    primaryKey({ columns: [table.surveyId, table.address] }),
    index('visit_seq')
      .on(table.surveyId, table.seq)
      .where(sql`seq > 0`),
    index('visit_device').on(table.deviceId, table.surveyId),
  ],
);

/** What became of each time a scope was to be surveyed by its calendar. */
export const scheduledRun = sqliteTable(
  'scheduled_run',
  {
    scopeId: integer().notNull(),
    dueAt: text().notNull(),
    /** `ran`, or why not: `missed` (nobody was there to start it), `quiet`, `busy` (another survey was still at work) */
    outcome: text({ enum: ['ran', 'missed', 'quiet', 'busy'] }).notNull(),
    jobId: integer(),
  },
  (table) => [primaryKey({ columns: [table.scopeId, table.dueAt] })],
);

/** Devices that a controller told of in a survey: they answered through it, whether or not they answered themselves. */
export const told = sqliteTable(
  'told',
  {
    surveyId: integer()
      .notNull()
      .references(() => survey.id),
    deviceId: integer().notNull(),
    /** address of the controller */
    by: text().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.surveyId, table.deviceId] }),
    index('told_device').on(table.deviceId, table.surveyId),
  ],
);

/** Devices at whose address another one answered in a survey: they are silent there, and moved or replaced. */
export const displaced = sqliteTable(
  'displaced',
  {
    surveyId: integer()
      .notNull()
      .references(() => survey.id),
    deviceId: integer().notNull(),
    address: text().notNull(),
    /** who answered there */
    by: integer().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.surveyId, table.deviceId] }),
    index('displaced_device').on(table.deviceId, table.surveyId),
  ],
);

/** A collector at another site, as it was last heard. Its name is that of its token. */
export const collector = sqliteTable('collector', {
  name: text().primaryKey(),
  version: text().notNull(),
  lastHeardAt: text().notNull(),
  /** addresses in hand, harvests in its spool, memory and processor */
  load: text({ mode: 'json' }).notNull(),
  /** why it gets no work; empty where it may */
  fault: text().notNull().default(''),
});

/** A part of a survey's addresses that one collector asks. */
export const share = sqliteTable(
  'share',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    surveyId: integer().notNull(),
    kind: text({ enum: ['wake', 'ask'] }).notNull(),
    addresses: text({ mode: 'json' }).$type<string[]>().notNull(),
    state: text({ enum: ['open', 'leased', 'done'] }).notNull(),
    collector: text(),
  },
  (table) => [index('share_survey').on(table.surveyId, table.state)],
);

/** What a collector delivered. The row stays when its body was taken into the survey: the same delivery is never taken twice. */
export const delivery = sqliteTable(
  'delivery',
  {
    id: text().primaryKey(),
    surveyId: integer().notNull(),
    shareId: integer().notNull(),
    collector: text().notNull(),
    arrivedAt: text().notNull(),
    state: text({ enum: ['waiting', 'taken', 'dropped'] }).notNull(),
    addresses: text({ mode: 'json' }).$type<string[]>().notNull(),
    /** gzipped JSON, until it was taken */
    body: blob({ mode: 'buffer' }),
  },
  (table) => [index('delivery_survey').on(table.surveyId, table.state)],
);

export const job = sqliteTable('job', {
  id: integer().primaryKey({ autoIncrement: true }),
  kind: text().notNull(),
  body: text({ mode: 'json' }).notNull(),
  state: text({ enum: ['queued', 'running', 'done', 'failed', 'cancelled'] }).notNull(),
  surveyId: integer(),
  cancelRequested: integer({ mode: 'boolean' }).notNull().default(false),
  /** who works on it, or did last */
  worker: text(),
  /** until when it is that worker’s, in milliseconds since the epoch; each beat of its heart moves it on */
  leaseUntil: integer(),
  /** how often it was begun */
  attempts: integer().notNull().default(0),
  error: text(),
  /** what the job found out, for jobs that answer a question */
  result: text({ mode: 'json' }),
  createdAt: text().notNull(),
  endedAt: text(),
});

/** A role in the network. What it is made of, and every fact about it, lies in the versioned tables. */
export const device = sqliteTable('device', {
  id: integer().primaryKey({ autoIncrement: true }),
  firstSurvey: integer()
    .notNull()
    .references(() => survey.id),
  credential: text(),
});

/**
 * A versioned fact: holds from `fromSurvey` until `untilSurvey` (null while it holds).
 * `deviceId` is 0 where the fact belongs to no single device (links, endpoints).
 */
function versioned(name: string) {
  return sqliteTable(
    name,
    {
      id: integer().primaryKey(),
      deviceId: integer('device_id').notNull(),
      key: text('key').notNull(),
      fromSurvey: integer('from_survey').notNull(),
      untilSurvey: integer('until_survey'),
      content: text('content', { mode: 'json' }).$type<Record<string, unknown>>().notNull(),
    },
    (table) => [
      uniqueIndex(`${name}_open`)
        .on(table.deviceId, table.key)
        .where(sql`until_survey is null`),
      index(`${name}_from`).on(table.fromSurvey),
      index(`${name}_until`)
        .on(table.untilSurvey)
        .where(sql`until_survey is not null`),
      index(`${name}_closed`)
        .on(table.deviceId, table.untilSurvey)
        .where(sql`until_survey is not null`),
    ],
  );
}

export const deviceFact = versioned('device_fact');
export const moduleFact = versioned('module_fact');
export const portFact = versioned('port_fact');
export const addressFact = versioned('address_fact');
export const vlanFact = versioned('vlan_fact');
export const neighbourFact = versioned('neighbour_fact');
export const linkFact = versioned('link_fact');
export const attachmentFact = versioned('attachment_fact');
export const portKindFact = versioned('port_kind_fact');
export const serviceFact = versioned('service_fact');
export const softwareFact = versioned('software_fact');
export const machineFact = versioned('machine_fact');
export const routeFact = versioned('route_fact');
export const peerFact = versioned('peer_fact');
export const faultFact = versioned('fault_fact');
export const wlanFact = versioned('wlan_fact');
export const learnedRouteFact = versioned('learned_route_fact');
export const hostNetworkFact = versioned('host_network_fact');
export const toldLinkFact = versioned('told_link_fact');
export const fabricFact = versioned('fabric_fact');
export const fabricEndpointFact = versioned('fabric_endpoint_fact');
export const conversationFact = versioned('conversation_fact');
export const virtualRouterFact = versioned('virtual_router_fact');

export const factTables = {
  device: deviceFact,
  module: moduleFact,
  port: portFact,
  address: addressFact,
  vlan: vlanFact,
  neighbour: neighbourFact,
  link: linkFact,
  attachment: attachmentFact,
  portKind: portKindFact,
  service: serviceFact,
  software: softwareFact,
  machine: machineFact,
  route: routeFact,
  peer: peerFact,
  fault: faultFact,
  wlan: wlanFact,
  learnedRoute: learnedRouteFact,
  hostNetwork: hostNetworkFact,
  toldLink: toldLinkFact,
  fabric: fabricFact,
  fabricEndpoint: fabricEndpointFact,
  conversation: conversationFact,
  virtualRouter: virtualRouterFact,
};
export type FactKind = keyof typeof factTables;

/** Volatile values as last read in each survey: uptime, fill levels, ages of port states. */
export const volatile = sqliteTable(
  'volatile',
  {
    deviceId: integer().notNull(),
    surveyId: integer().notNull(),
    body: text({ mode: 'json' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.deviceId, table.surveyId] })],
);

/** Since when a device's ports have been in their state, in seconds since the epoch; a row only where that moved. */
export const portMoment = sqliteTable(
  'port_moment',
  {
    deviceId: integer().notNull(),
    surveyId: integer().notNull(),
    body: text({ mode: 'json' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.deviceId, table.surveyId] })],
);

/** The newest forwarding and address tables of a device, compressed: input of the conclusions. */
export const sighting = sqliteTable('sighting', {
  deviceId: integer().primaryKey(),
  surveyId: integer().notNull(),
  body: blob({ mode: 'buffer' }).notNull(),
});

/**
 * The newest report of each way in to a device that has several (its system by SNMP, its management controller by Redfish),
 * compressed: what one of them does not tell this time is taken from its last good answer.
 */
export const interfaceReport = sqliteTable(
  'interface_report',
  {
    deviceId: integer().notNull(),
    /** `snmp`, `redfish`, `restconf` or an adapter's name */
    interface: text().notNull(),
    surveyId: integer().notNull(),
    body: blob({ mode: 'buffer' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.deviceId, table.interface] })],
);

/** Certificates that devices showed when they were first asked; another one is not trusted until somebody says so. */
export const pinnedCertificate = sqliteTable(
  'pinned_certificate',
  {
    address: text().notNull(),
    port: integer().notNull(),
    /** SHA-256 of the certificate, as colons-separated hex */
    fingerprint: text().notNull(),
    subject: text().notNull(),
    pinnedAt: text().notNull(),
    /** another one that was shown since, and is not trusted */
    offered: text(),
    offeredAt: text(),
  },
  (table) => [primaryKey({ columns: [table.address, table.port] })],
);

export const catalogueRelease = sqliteTable(
  'catalogue_release',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    vendor: text().notNull(),
    family: text().notNull(),
    release: text().notNull(),
    body: text({ mode: 'json' }).notNull(),
    /** which part of a device it is for */
    component: text().notNull().default('system'),
  },
  (table) => [uniqueIndex('catalogue_release_named').on(table.vendor, table.family, table.component, table.release)],
);

/** What makers say is wrong with their releases. */
export const advisory = sqliteTable('advisory', {
  /** its publisher and its number there */
  key: text().primaryKey(),
  body: text({ mode: 'json' }).notNull(),
  takenAt: text().notNull(),
});

/** Images that lie in the folder of images, as they were when it was looked at last. */
export const imageFile = sqliteTable('image_file', {
  name: text().primaryKey(),
  bytes: integer().notNull(),
  /** milliseconds since the epoch, as the file system tells it */
  changedAt: real().notNull(),
  /** SHA-256; empty until it is read */
  hash: text().notNull(),
  /** why it could not be read */
  mistake: text().notNull(),
});

/** Upgrades that somebody had done, each of some devices. */
export const upgrade = sqliteTable('upgrade', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull(),
  who: text().notNull(),
  at: text().notNull(),
  state: text({ enum: ['to be approved', 'running', 'paused', 'stopped', 'ended'] }).notNull(),
  /** why it stopped */
  reason: text().notNull().default(''),
  /** devices that are away at the same time, and failures after which no more are begun */
  atOnce: integer().notNull(),
  stopAfter: integer().notNull(),
  approvedBy: text(),
  approvedAt: text(),
  endedAt: text(),
});

/** What is done to one component of a device, and how far that is. */
export const upgradeCourse = sqliteTable(
  'upgrade_course',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    upgradeId: integer().notNull(),
    deviceId: integer().notNull(),
    device: text().notNull(),
    component: text().notNull(),
    /** which part, where there are several of the kind */
    name: text().notNull(),
    /** by which its image is fetched: nobody guesses it */
    word: text().notNull().unique(),
    course: text({ mode: 'json' }).notNull(),
    /** what it was held against, and what of that was not there any more */
    before: text({ mode: 'json' }),
    after: text({ mode: 'json' }),
    lost: text({ mode: 'json' }),
    begunAt: text(),
    endedAt: text(),
  },
  (table) => [index('upgrade_course_of').on(table.upgradeId)],
);

/** Every request that changed something, written down before it went out. */
export const upgradeRequest = sqliteTable(
  'upgrade_request',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    courseId: integer().notNull(),
    at: text().notNull(),
    method: text().notNull(),
    path: text().notNull(),
    /** as it went out, but for the word of its image */
    body: text({ mode: 'json' }),
    /** null where nothing was heard of it */
    answer: text(),
    answeredAt: text(),
  },
  (table) => [index('upgrade_request_of').on(table.courseId)],
);

/** The releases that should run. */
export const releaseTarget = sqliteTable('release_target', {
  /** for what it is */
  key: text().primaryKey(),
  body: text({ mode: 'json' }).notNull(),
});

/** MAC prefixes of makers that the published list does not have. */
export const maker = sqliteTable('maker', {
  prefix: text().primaryKey(),
  name: text().notNull(),
});

/** A field that people fill in. One that was removed keeps its values until it is brought back. */
export const ownField = sqliteTable(
  'own_field',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    thing: text().notNull(),
    name: text().notNull(),
    label: text().notNull(),
    kind: text().notNull(),
    choices: text({ mode: 'json' }).$type<string[]>().notNull(),
    removedAt: text(),
  },
  (table) => [uniqueIndex('own_field_name').on(table.thing, table.name)],
);

/** What people wrote, as it stands now. `rowId` is the id of the row in the thing's table. */
export const ownValue = sqliteTable(
  'own_value',
  {
    thing: text().notNull(),
    rowId: text().notNull(),
    field: text().notNull(),
    value: text({ mode: 'json' }).notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.thing, table.field, table.rowId] }),
    index('own_value_row').on(table.thing, table.rowId),
  ],
);

/** What people wrote together: what is taken back, is taken back together. */
export const edit = sqliteTable(
  'edit',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    at: text().notNull(),
    who: text().notNull(),
    /** what it was written of: `contracts` */
    kind: text().notNull(),
    act: text().notNull(),
    words: text().notNull(),
    /** the edit that takes this one back */
    undoneBy: integer(),
  },
  (table) => [index('edit_kind').on(table.kind, table.id)],
);

/** A value before and after an edit; null where it was not there. */
export const editChange = sqliteTable(
  'edit_change',
  {
    editId: integer()
      .notNull()
      .references(() => edit.id),
    /** of the thing */
    key: text().notNull(),
    /** which value of it, where each is written by itself */
    field: text().notNull(),
    before: text({ mode: 'json' }),
    after: text({ mode: 'json' }),
  },
  (table) => [primaryKey({ columns: [table.editId, table.key, table.field] }), index('edit_change_key').on(table.key)],
);

/** Where a device stands, where somebody set it by hand. */
export const deviceSite = sqliteTable('device_site', {
  deviceId: integer().primaryKey(),
  site: text().notNull(),
});

/** Ports and endpoints that somebody wants to be told of. */
export const watch = sqliteTable(
  'watch',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    thing: text({ enum: watchedThings }).notNull(),
    /** id of the row in the thing's table */
    rowId: text().notNull(),
    /** what it was called then, for when it is not there any more */
    name: text().notNull(),
    since: text().notNull(),
  },
  (table) => [uniqueIndex('watch_row').on(table.personId, table.thing, table.rowId)],
);

/** What is promised for which serials, as it stands now. */
export const contract = sqliteTable(
  'contract',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    number: text().notNull(),
    kind: text({ enum: contractKinds }).notNull(),
    supplier: text().notNull(),
    level: text().notNull(),
    contact: text().notNull(),
    /** days of the calendar; null where it has no beginning or end */
    from: text('from_day'),
    until: text('until_day'),
    parts: integer({ mode: 'boolean' }).notNull(),
    note: text().notNull(),
    serials: text({ mode: 'json' }).$type<string[]>().notNull(),
  },
  (table) => [uniqueIndex('contract_number').on(sql`lower(${table.number})`)],
);

/** Rows that people put together: named one by one, or by a filter. */
export const estateGroup = sqliteTable('estate_group', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  thing: text({ enum: ['devices', 'ports'] }).notNull(),
  kind: text({ enum: ['fixed', 'filter'] }).notNull(),
  where: text().notNull(),
  members: text({ mode: 'json' }).$type<string[]>().notNull(),
  /** name of the group it lies in */
  within: text(),
  note: text().notNull(),
});

/** Times in which somebody works at devices. */
export const maintenance = sqliteTable('maintenance', {
  id: integer().primaryKey({ autoIncrement: true }),
  where: text().notNull(),
  reason: text().notNull(),
  from: text().notNull(),
  until: text(),
  by: text().notNull(),
});

/** Checks of one's own, and those of the library that somebody changed. */
export const checkRule = sqliteTable('check_rule', {
  key: text().primaryKey(),
  name: text().notNull(),
  thing: text().notNull(),
  where: text().notNull(),
  scope: text().notNull(),
  severity: text().notNull(),
  why: text().notNull(),
  remedy: text().notNull(),
  on: integer({ mode: 'boolean' }).notNull(),
});

/** How each check stood at each survey. */
export const checkResult = sqliteTable(
  'check_result',
  {
    key: text().notNull(),
    surveyId: integer().notNull(),
    failing: integer().notNull(),
    excused: integer().notNull(),
    /** what was judged */
    filter: text().notNull(),
    fault: text().notNull(),
  },
  (table) => [primaryKey({ columns: [table.key, table.surveyId] })],
);

/** What people decided about which devices are one: two that were one, or one that was taken for two. */
export const identityDecision = sqliteTable('identity_decision', {
  id: integer().primaryKey({ autoIncrement: true }),
  at: text().notNull(),
  who: text().notNull(),
  kind: text({ enum: ['split', 'join'] }).notNull(),
  /** the device that stays, and the one that came or went */
  keptId: integer().notNull(),
  otherId: integer().notNull(),
  /** from which survey on */
  surveyId: integer().notNull(),
  words: text().notNull(),
  undone: integer({ mode: 'boolean' }).notNull().default(false),
});

/** By this name on this address a device is meant, whatever else it tells: so that a decision holds at the next survey too. */
export const identityPin = sqliteTable(
  'identity_pin',
  {
    name: text().notNull(),
    address: text().notNull(),
    deviceId: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.name, table.address] })],
);

/** What somebody did to a port: what was sent to it, what it said, and how it was read back. */
export const portAct = sqliteTable(
  'port_act',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    at: text().notNull(),
    endedAt: text(),
    who: text().notNull(),
    deviceId: integer().notNull(),
    /** name of the device as it was then */
    device: text().notNull(),
    port: text().notNull(),
    act: text({ mode: 'json' }).$type<PortAct>().notNull(),
    /** an administrator said that it may be done to an uplink */
    forced: integer({ mode: 'boolean' }).notNull(),
    /** how the port was when the person looked */
    seen: text({ mode: 'json' }).$type<PortSettings>().notNull(),
    state: text({ enum: portActStates }).notNull(),
    /** what was sent, each with the time it was */
    sent: text({ mode: 'json' }).$type<(PlannedSet & { at: string })[]>().notNull(),
    /** how the port was read back */
    after: text({ mode: 'json' }).$type<PortSettings>(),
    credential: text().notNull().default(''),
    /** what came of it, where that is not what was wanted */
    reason: text().notNull().default(''),
    remedy: text().notNull().default(''),
    /** the act that this one takes back */
    undoes: integer(),
  },
  (table) => [index('port_act_port').on(table.deviceId, table.port, table.id)],
);

/** A socket in a wall, and the way to it. */
export const outlet = sqliteTable(
  'outlet',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    site: text().notNull(),
    label: text().notNull(),
    room: text().notNull(),
    panel: text().notNull(),
    position: text().notNull(),
    port: text({ mode: 'json' }).$type<Outlet['port']>(),
    note: text().notNull(),
  },
  (table) => [uniqueIndex('outlet_label').on(sql`lower(${table.site})`, sql`lower(${table.label})`)],
);

/** The picture of a floor, and what people drew on it. */
export const floorPlan = sqliteTable('floor_plan', {
  id: integer().primaryKey({ autoIncrement: true }),
  site: text().notNull(),
  name: text().notNull(),
  mediaType: text().notNull(),
  /** of the picture, in its own points */
  width: integer().notNull(),
  height: integer().notNull(),
  picture: blob({ mode: 'buffer' }).notNull(),
  layout: text({ mode: 'json' }).$type<PlanLayout>().notNull(),
  /** grows with everything that is written, so that nobody writes over what they have not seen */
  revision: integer().notNull(),
  changedAt: text().notNull(),
  changedBy: text().notNull(),
  /** deleted, but can still be brought back */
  deletedAt: text(),
});

/** A capture that was taken in, or is being: what it told counts once it is whole. */
export const capture = sqliteTable(
  'capture',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    /** where it was captured: several files of one place add up */
    point: text().notNull(),
    file: text().notNull(),
    /** SHA-256 of all its octets: the same file counts once */
    digest: text().notNull(),
    takenAt: text().notNull(),
    isWhole: integer({ mode: 'boolean' }).notNull(),
    packets: integer().notNull(),
    /** of them no IP, or cut within their heads */
    passedOver: integer().notNull(),
    /** seconds since the epoch; null where no packet tells a time */
    firstSeen: real(),
    lastSeen: real(),
    /** why it could not be read to its end; empty where it could */
    brokenOff: text().notNull(),
  },
  (table) => [uniqueIndex('capture_digest').on(table.digest)],
);

/** Addresses that talk, each once: there are far fewer of them than conversations. */
export const talkAddress = sqliteTable('talk_address', {
  id: integer().primaryKey(),
  address: text().notNull().unique(),
});

/** Who talks to whom: one client, one port of one server, one protocol. */
export const conversation = sqliteTable(
  'conversation',
  {
    id: integer().primaryKey(),
    /** numbers of addresses */
    client: integer().notNull(),
    server: integer().notNull(),
    port: integer().notNull(),
    protocol: integer().notNull(),
    basis: text().notNull(),
    /** in which write more was heard of it */
    changed: integer().notNull(),
  },
  (table) => [
    uniqueIndex('conversation_ends').on(table.client, table.server, table.port, table.protocol),
    index('conversation_changed').on(table.changed),
  ],
);

/** What a capture heard of a conversation. In the file it is ordered by conversation (without rowid). */
export const heard = sqliteTable(
  'heard',
  {
    conversationId: integer().notNull(),
    captureId: integer().notNull(),
    events: integer().notNull(),
    packetsToServer: integer().notNull(),
    packetsToClient: integer().notNull(),
    octetsToServer: integer().notNull(),
    octetsToClient: integer().notNull(),
    firstSeen: real().notNull(),
    lastSeen: real().notNull(),
    /** hours since the epoch in which anything was said */
    hours: text({ mode: 'json' }).$type<number[]>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.conversationId, table.captureId] }),
    index('heard_capture').on(table.captureId),
  ],
);

/** Rules by which services are recognised, as people write them. */
export const serviceRule = sqliteTable('service_rule', {
  id: text().primaryKey(),
  content: text({ mode: 'json' }).notNull(),
});

/** Talk that capture agents sent, so that each batch counts once however often it arrives. */
export const talkBatch = sqliteTable('talk_batch', {
  id: text().primaryKey(),
  at: text().notNull(),
});

/** Those who capture at hosts and mirror ports, by where: what each told of itself last. */
export const captureAgent = sqliteTable('capture_agent', {
  point: text().primaryKey(),
  lastHeardAt: text().notNull(),
  everySeconds: integer().notNull(),
  /** packets since it began, and conversations that were too many to be counted */
  packets: integer().notNull(),
  overflowed: integer().notNull(),
  /** conversations that no known listener explains, which were not sent */
  heldBack: integer().notNull(),
});

/** What people put together as one application. */
export const application = sqliteTable('application', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull().unique(),
  content: text({ mode: 'json' }).notNull(),
});

/** What people say rests on what. */
export const saidNeed = sqliteTable('said_need', {
  id: integer().primaryKey({ autoIncrement: true }),
  content: text({ mode: 'json' }).notNull(),
});

/** Planned works and incidents. */
export const work = sqliteTable('work', {
  id: integer().primaryKey({ autoIncrement: true }),
  from: text().notNull(),
  until: text(),
  content: text({ mode: 'json' }).notNull(),
});
