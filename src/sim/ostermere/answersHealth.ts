import type { ObjectWriter } from '../snmp/objects';
import { dateAndTimeOctets } from './answersHost';
import type { SimDevice } from './model';

const working = { oper: 3, alarms: 0 };

/** States of modules, and sensors as entities of their own. */
export function writeHealth(write: ObjectWriter, device: SimDevice): void {
  writeUps(write, device);
  if (device.moduleStates) {
    for (const part of device.modules) {
      const state = device.moduleStates.find(({ module }) => module === part.name);
      const { oper, alarms } = state
        ? { oper: state.working ? 3 : 2, alarms: state.alarms.reduce((bits, bit) => bits | (0x80 >> bit), 0) }
        : working;
      const base = '1.3.6.1.2.1.131.1.1.1';
      write.text(`${base}.1.${part.index}`, state ? dateAndTimeOctets(state.at) : Buffer.alloc(8));
      write.integer(`${base}.2.${part.index}`, 4);
      write.integer(`${base}.3.${part.index}`, oper);
      write.text(`${base}.5.${part.index}`, Buffer.from([alarms]));
      write.integer(`${base}.6.${part.index}`, part.name === 'Supervisor B' ? 2 : 4);
    }
  }
  for (const { index, parent, name, type, scale, precision, value, broken } of device.sensors ?? []) {
    const entity = '1.3.6.1.2.1.47.1.1.1.1';
    write.text(`${entity}.2.${index}`, name);
    write.integer(`${entity}.4.${index}`, parent);
    write.integer(`${entity}.5.${index}`, 8);
    write.integer(`${entity}.6.${index}`, index);
    write.text(`${entity}.7.${index}`, name);
    const sensor = '1.3.6.1.2.1.99.1.1.1';
    write.integer(`${sensor}.1.${index}`, type);
    write.integer(`${sensor}.2.${index}`, scale);
    write.integer(`${sensor}.3.${index}`, precision);
    write.integer(`${sensor}.4.${index}`, value);
    write.integer(`${sensor}.5.${index}`, broken ? 3 : 1);
  }
}

/** UPS-MIB: battery, input and output of one phase. */
function writeUps(write: ObjectWriter, { ups, model, release }: SimDevice): void {
  if (!ups) return;
  const base = '1.3.6.1.2.1.33.1';
  write.text(`${base}.1.1.0`, 'Fenmoor');
  write.text(`${base}.1.2.0`, model);
  write.text(`${base}.1.3.0`, release);
  write.integer(`${base}.2.1.0`, ups.chargePercent < 20 ? 3 : 2);
  write.integer(`${base}.2.3.0`, ups.minutesLeft);
  write.integer(`${base}.2.4.0`, ups.chargePercent);
  write.integer(`${base}.2.5.0`, 548);
  write.integer(`${base}.2.7.0`, 24);
  write.integer(`${base}.3.3.1.2.1`, 500);
  write.integer(`${base}.3.3.1.3.1`, ups.onBattery ? 0 : 231);
  write.integer(`${base}.4.1.0`, ups.onBattery ? 5 : 3);
  write.integer(`${base}.4.4.1.2.1`, 230);
  write.integer(`${base}.4.4.1.4.1`, ups.loadPercent * 27);
  write.integer(`${base}.4.4.1.5.1`, ups.loadPercent);
  write.gauge(`${base}.6.1.0`, 0);
}
