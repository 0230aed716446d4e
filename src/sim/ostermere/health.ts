import type { SimDevice, SimSensor } from './model';

const failedAt = new Date(Date.UTC(2026, 10, 21, 3, 12));
const celsius = 8;
const rpm = 10;

/** States of modules and sensors. At step 8 two supplies have failed. */
export function applyHealth(device: SimDevice, step: number): void {
  if (device.maker !== 'Kestrane' && device.maker !== 'Orrery') return;
  const failed = step >= 8 && (device.name === 'sgh-core-1' || device.name === 'sgh-edge-2');
  device.moduleStates = failed ? [{ module: 'Supply 2', working: false, alarms: [2], at: failedAt }] : [];
  if (device.own && /K-Core|K-Access/.test(device.model)) {
    const own = [...device.name].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % 17;
    // the core works harder since the ring lost its spare
    device.own.loadPercent = device.name === 'sgh-core-2' ? 34 + step * 7 : 9 + own + (step % 3);
  }
  const chassis = device.modules.find(({ class: kind }) => kind === 3);
  if (!chassis || !/K-Core|K-Access|Orrery/.test(device.model)) return;
  const warmth = [...device.name].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % 9;
  const sensors: SimSensor[] = [
    {
      index: 5001,
      parent: chassis.index,
      name: 'Inlet temperature',
      type: celsius,
      scale: 8,
      precision: 0,
      value: 24_000 + warmth * 500,
    },
  ];
  if (device.model.startsWith('K-Core'))
    sensors.push({
      index: 5002,
      parent: chassis.index,
      name: 'Fan speed',
      type: rpm,
      scale: 9,
      precision: 0,
      value: 6200 + warmth * 40,
    });
  device.sensors = sensors;
}
