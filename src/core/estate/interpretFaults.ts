import type { PhysicalRow } from '../mib/entity';
import type { FaultFacts } from './facts';
import type { Harvest } from './harvest';

const subsystemOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'power', fan: 'cooling', sensor: 'sensors', cpu: 'processor', port: 'ports', chassis: 'chassis', stack: 'stack', module: 'modules', backplane: 'chassis', container: 'chassis',
};

/** What to do about a part of a class, where the standard has no word for it. */
const actionOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'Check the feed of this supply; replace the supply if the feed is good.',
  fan: 'Replace the fan before the device gets too warm.',
  module: 'Reseat the module; replace it if the state stays.',
  port: 'Check the transceiver and the cable.',
};

/** Faults by ENTITY-STATE (alarms, disabled parts) and by sensors that are broken (RFC 4268, RFC 3433). */
export function faultsOf(harvest: Pick<Harvest, 'moduleStates' | 'sensors'>, modules: Map<number, PhysicalRow>, pathByIndex: Map<number, string>): FaultFacts[] {
  const partOf = (entPhysicalIndex: number) => pathByIndex.get(entPhysicalIndex) ?? `entity ${entPhysicalIndex}`;
  const states = harvest.moduleStates.flatMap(({ entPhysicalIndex, oper, alarms, changedAt }): FaultFacts[] => {
    const partClass = modules.get(entPhysicalIndex)?.class ?? 'unknown';
    const raised = alarms.filter((alarm) => alarm !== 'unknown' && alarm !== 'indeterminate');
    // an empty slot may well be disabled
    if (raised.length === 0 && (oper !== 'disabled' || partClass === 'container')) return [];
    const critical = oper === 'disabled' || raised.includes('critical') || raised.includes('major');
    const words = [oper === 'disabled' ? 'does not work' : '', raised.length > 0 ? `alarm: ${raised.map(alarmWords).join(', ')}` : ''].filter(Boolean).join('; ');
    return [{ subsystem: subsystemOf[partClass] ?? 'modules', part: partOf(entPhysicalIndex), severity: critical ? 'critical' : 'warning', message: words, action: actionOf[partClass] ?? 'Look at the device’s own log for this part.', since: changedAt }];
  });
  const sensors = harvest.sensors.flatMap(({ entPhysicalIndex, state }): FaultFacts[] =>
    state === 'nonoperational' ? [{ subsystem: 'sensors', part: partOf(entPhysicalIndex), severity: 'warning', message: 'the sensor is broken', action: 'Its value is not watched any more: replace the part that holds it.', since: null }] : [],
  );
  return [...states, ...sensors];
}

const alarmWords = (alarm: string) => (alarm === 'underRepair' ? 'under repair' : alarm);
