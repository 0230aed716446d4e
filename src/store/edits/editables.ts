import { ownedThings } from '../../core/own/ownField';
import { advisoryEdits } from './advisories';
import { applicationEdits } from './applications';
import { checkEdits } from './checks';
import { contractEdits } from './contracts';
import { credentialEdits } from './credentials';
import type { Editable } from './editable';
import { groupEdits } from './groups';
import { maintenanceEdits } from './maintenance';
import { makerEdits } from './makers';
import { outletEdits } from './outlets';
import { ownFieldEdits } from './ownFields';
import { ownValueEdits } from './ownValues';
import { saidNeedEdits } from './saidNeeds';
import { scopeEdits } from './scopes';
import { serviceRuleEdits } from './serviceRules';
import { releaseEdits } from './releases';
import { deviceSiteEdits, siteRuleEdits } from './sites';
import { targetEdits } from './targets';
import { viewEdits } from './views';
import { workEdits } from './works';

/** Everything that people write and can take back. What is put here is in the log, can be undone, and is guarded against two writing at once. */
export const editables: readonly Editable<unknown>[] = [
  contractEdits,
  outletEdits,
  ...ownedThings.map((thing) => ownValueEdits[thing]),
  ownFieldEdits,
  groupEdits,
  maintenanceEdits,
  checkEdits,
  scopeEdits,
  credentialEdits(),
  targetEdits,
  releaseEdits,
  advisoryEdits,
  viewEdits,
  makerEdits,
  siteRuleEdits,
  deviceSiteEdits,
  serviceRuleEdits,
  applicationEdits,
  workEdits,
  saidNeedEdits,
];

export const editableKinds = editables.map(({ kind }) => kind);
