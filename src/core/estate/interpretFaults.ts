import type { PhysicalRow } from '../mib/entity';
import type { FaultFacts, ReadingValue } from './facts';
import type { Harvest } from './harvest';

const subsystemOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'power',
  fan: 'cooling',
  sensor: 'sensors',
  cpu: 'processor',
  port: 'ports',
  chassis: 'chassis',
  stack: 'stack',
  module: 'modules',
  backplane: 'chassis',
  container: 'chassis',
  energyObject: 'power',
  battery: 'power',
  storageDrive: 'storage',
};

/** A clock that nobody set by the second may be off by so much. */
const tolerableSeconds = 60;

/** What to do about a part of a class, where the standard has no word for it. */
const actionOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'Check the feed of this supply; replace the supply if the feed is good.',
  fan: 'Replace the fan before the device gets too warm.',
  module: 'Reseat the module; replace it if the state stays.',
  port: 'Check the transceiver and the cable.',
};

/** Parts that may well be disabled: an empty slot, and a port nothing is plugged into, of which IF-MIB tells more. */
const restsAtTimes = new Set<PhysicalRow['class']>(['container', 'port']);

/**
 * Faults by ENTITY-STATE (alarms, disabled parts that nobody took out of use), by sensors that are broken (RFC 4268, RFC 3433), and by readings beyond their bounds.
 */
export function faultsOf(
  harvest: Pick<Harvest, 'moduleStates' | 'sensors' | 'readings' | 'clockAheadSeconds'>,
  modules: Map<number, PhysicalRow>,
  pathByIndex: Map<number, string>,
): FaultFacts[] {
  const partOf = (entPhysicalIndex: number) => pathByIndex.get(entPhysicalIndex) ?? `entity ${entPhysicalIndex}`;
  const states = harvest.moduleStates.flatMap(({ entPhysicalIndex, admin, oper, alarms, changedAt }): FaultFacts[] => {
    const partClass = modules.get(entPhysicalIndex)?.class ?? 'unknown';
    const raised = alarms.filter((alarm) => alarm !== 'unknown' && alarm !== 'indeterminate');
    const broken =
      oper === 'disabled' && admin !== 'locked' && admin !== 'shuttingDown' && !restsAtTimes.has(partClass);
    if (raised.length === 0 && !broken) return [];
    const critical = broken || raised.includes('critical') || raised.includes('major');
    const words = [
      broken ? 'does not work' : '',
      raised.length > 0 ? `alarm: ${raised.map(alarmWords).join(', ')}` : '',
    ]
      .filter(Boolean)
      .join('; ');
    return [
      {
        subsystem: subsystemOf[partClass] ?? 'modules',
        part: partOf(entPhysicalIndex),
        severity: critical ? 'critical' : 'warning',
        message: words,
        action: actionOf[partClass] ?? 'Look at the device’s own log for this part.',
        since: changedAt,
      },
    ];
  });
  const sensors = harvest.sensors.flatMap(({ entPhysicalIndex, state }): FaultFacts[] =>
    state === 'nonoperational'
      ? [
          {
            subsystem: 'sensors',
            part: partOf(entPhysicalIndex),
            severity: 'warning',
            message: 'the sensor is broken',
            action: 'Its value is not watched any more: replace the part that holds it.',
            since: null,
          },
        ]
      : [],
  );
  return [...states, ...sensors, ...harvest.readings.flatMap(beyondBounds), ...wrongClock(harvest.clockAheadSeconds)];
}

/** In whole minutes or hours, so that a clock that drifts is one fault and not another at every look. */
function wrongClock(aheadSeconds: number | null): FaultFacts[] {
  const off = Math.abs(aheadSeconds ?? 0);
  if (aheadSeconds === null || off < tolerableSeconds) return [];
  const far =
    off < 3600 ? 'minutes' : off < 86_400 ? `about ${Math.round(off / 3600)} h` : `about ${Math.round(off / 86_400)} d`;
  return [
    {
      subsystem: 'clock',
      part: 'clock',
      severity: 'warning',
      message: `is ${far} ${aheadSeconds > 0 ? 'ahead' : 'behind'}`,
      action: 'Look at its time source: logs and certificates are judged by this clock.',
      since: null,
    },
  ];
}

/** A reading beyond its bounds. The value itself is no part of the fault: it would be another one at every look. */
export function beyondBounds({ name, value, unit, above, below }: ReadingValue): FaultFacts[] {
  const words =
    above !== undefined && value > above
      ? `is above ${above} ${unit}`.trim()
      : below !== undefined && value < below
        ? `is below ${below} ${unit}`.trim()
        : null;
  return words === null
    ? []
    : [
        {
          subsystem: 'readings',
          part: name,
          severity: 'warning',
          message: words,
          action: 'See its line in the dossier; the bound stands with the reading, in Settings.',
          since: null,
        },
      ];
}

const alarmWords = (alarm: string) => (alarm === 'underRepair' ? 'under repair' : alarm);
