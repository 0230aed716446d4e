import * as yup from 'yup';
import {
  aliasMistake,
  offSecondsRange,
  portActKinds,
  type PortAct,
  type PortSettings,
} from '../../core/acting/portAct';
import { invalid } from '../access/problem';

const actSchema = yup
  .object({
    kind: yup
      .string()
      .oneOf(
        [...portActKinds],
        ({ value }) => `“${String(value)}” cannot be done to a port: use ${portActKinds.join(', ')}`,
      )
      .required('Say what is to be done'),
    alias: yup.string().max(1000),
    offSeconds: yup.number().integer(),
  })
  .noUnknown();

const settingsSchema = yup
  .object({
    ifIndex: yup.number().integer().required(),
    admin: yup.string().required(),
    oper: yup.string().required(),
    alias: yup.string().defined(),
    power: yup
      .object({
        group: yup.number().integer().required(),
        port: yup.number().integer().required(),
        enabled: yup.boolean().required(),
        state: yup.string().required(),
      })
      .noUnknown()
      .nullable()
      .defined(),
  })
  .noUnknown();

export const portActSchema = yup
  .object({
    port: yup.string().required('Say which port').max(300),
    act: actSchema.required(),
    /** how the port was when somebody looked: it is not acted on if it is another one by now */
    seen: settingsSchema.required('Say how the port was when you looked'),
    name: yup.string().max(300),
    force: yup.boolean(),
    undoes: yup.number().integer().nullable(),
  })
  .noUnknown() as yup.Schema<{
  port: string;
  act: yup.InferType<typeof actSchema>;
  seen: PortSettings;
  name?: string;
  force?: boolean;
  undoes?: number | null;
}>;

/** What is asked for, with nothing that does not belong to it. @throws Problem with each mistake at its field */
export function actOf({ kind, alias, offSeconds }: yup.InferType<typeof actSchema>): PortAct {
  if (kind !== 'alias' && alias !== undefined)
    throw invalid([{ path: 'act.alias', message: `belongs to the act alias, not to ${kind}` }]);
  if (kind !== 'powerCycle' && offSeconds !== undefined)
    throw invalid([{ path: 'act.offSeconds', message: `belongs to the act powerCycle, not to ${kind}` }]);
  if (kind === 'alias') {
    const mistake = aliasMistake(alias ?? '');
    if (alias === undefined || mistake)
      throw invalid([{ path: 'act.alias', message: mistake ?? 'Give the alias; an empty one removes it' }]);
    return { kind, alias };
  }
  if (kind !== 'powerCycle') return { kind };
  const { least, most, usual } = offSecondsRange;
  const seconds = offSeconds ?? usual;
  if (seconds < least || seconds > most)
    throw invalid([{ path: 'act.offSeconds', message: `must be from ${least} to ${most}` }]);
  return { kind, offSeconds: seconds };
}
