import type { SensorRow } from '../mib/sensor';
import type { SensorReading } from './facts';

/** Sensor rows under the path of their entity; a row whose entity is not listed keeps its number. */
export function sensorReadings(rows: SensorRow[], pathByIndex: Map<number, string>): SensorReading[] {
  return rows.map(({ entPhysicalIndex, type, unit, value, state }) => ({
    name: pathByIndex.get(entPhysicalIndex) ?? `sensor ${entPhysicalIndex}`,
    type,
    unit,
    value,
    state,
  }));
}
