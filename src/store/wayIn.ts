import { desc, eq } from 'drizzle-orm';
import type { DeviceFacts } from '../core/estate/facts';
import { wayNames } from '../core/estate/ways';
import type { ScopeText } from '../core/estate/scope';
import type { Db } from './base/database';
import { openFact } from './base/facts';
import { survey, visit } from './base/schema';
import { listScopes } from './scopes';

/** How a device is reached to be acted on. */
export interface WayIn {
  device: DeviceFacts;
  /** where what is asked for answers, as the network calls it */
  address: string;
  scope: ScopeText;
  scopeId: number;
}

/** The way by which a device can be acted on: its agent's address, and the newest of the saved scopes by which it was surveyed. @returns the way, or why there is none and what to do */
export function wayIn(
  db: Db,
  deviceId: number,
  kind: 'snmp' | 'redfish' | 'restconf' = 'snmp',
): WayIn | { reason: string; remedy: string } {
  const device = openFact<DeviceFacts>(db, 'device', deviceId, 'device');
  if (!device) return { reason: 'the device is not in the newest survey', remedy: 'Survey it again.' };
  const agent = device.interfaces?.find((one) => one.kind === kind);
  if ((device.interfaces || kind !== 'snmp') && !agent)
    return {
      reason: `${device.name} has no ${kind === 'snmp' ? 'SNMP agent' : wayNames[kind]}`,
      remedy:
        kind === 'snmp'
          ? 'Ports are acted on by SNMP: switch it on, and survey again.'
          : 'Switch it on, and survey again.',
    };
  const surveyed = db
    .selectDistinct({ scopeId: survey.scopeId, name: survey.scopeName, id: survey.id })
    .from(visit)
    .innerJoin(survey, eq(visit.surveyId, survey.id))
    .where(eq(visit.deviceId, deviceId))
    .orderBy(desc(survey.id))
    .limit(50)
    .all();
  const saved = listScopes(db);
  // a survey of before scopes were told apart by number has only its name
  const scopeOf = ({ scopeId, name }: (typeof surveyed)[number]) =>
    saved.find(({ id, scope }) => (scopeId === null ? scope.name === name : id === scopeId));
  const scopes = [...new Set(surveyed.flatMap((one) => scopeOf(one) ?? []))];
  const [newest] = scopes;
  if (!newest)
    return {
      reason: `${device.name} was surveyed by no scope that is kept`,
      remedy: 'Add a scope that has its address, with a credential for acting on ports, and survey it.',
    };
  const usable = scopes.find(({ scope }) => scope.writeCredentials.length > 0);
  if (!usable)
    return {
      reason: `the scope “${newest.scope.name}” has no credential for acting on ${kind === 'snmp' ? 'ports' : 'devices'}`,
      remedy: `An administrator adds ${kind === 'snmp' ? 'an SNMP v3 user that may write, used for acting on ports,' : `a ${wayNames[kind]} user that is used for acting on devices`} and chooses it in the scope.`,
    };
  const { scope, id: scopeId } = usable;
  if (scope.collectors.length > 0)
    return {
      reason: `${device.name} is asked by ${scope.collectors.length === 1 ? `the collector ${scope.collectors[0] ?? ''}` : 'collectors'}, and this machine may not reach it`,
      remedy: 'Ports can be acted on only where this machine asks the device itself.',
    };
  return { device, address: agent?.address ?? device.address, scope, scopeId };
}
