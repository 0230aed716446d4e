import * as yup from 'yup';
import { line } from '../values/line';

/** An outlet as it is entered, its port by the names of a device and of the port. */
export const outletSchema = yup
  .object({
    site: line('The site').required('Say at which site it is'),
    label: line('The label').required('An outlet needs its label'),
    room: line('The room'),
    panel: line('The panel'),
    position: line('The place'),
    device: line('The device'),
    port: line('The port'),
    note: yup.string(),
  })
  .noUnknown();
