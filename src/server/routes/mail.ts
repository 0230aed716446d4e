import * as yup from 'yup';
import { mailServerSchema, type MailServer } from '../../core/mail/mailServer';
import { forgetMailServer, readMailServer, saveMailServer } from '../../store/mailServer';
import { recordAct } from '../../store/people';
import { route } from '../access/route';

/** `password` is written, never read; without it the one that is kept stays. */
const schema = mailServerSchema.concat(yup.object({ password: yup.string().max(500) })).noUnknown();

export const GET = route(
  'administrator',
  null,
  ({ store }) => readMailServer(store) ?? { server: null, hasPassword: false },
);

export const PUT = route('administrator', schema, ({ store, person, body: { password, user = '', ...rest } }) => {
  saveMailServer(store, { ...rest, user } as MailServer, password);
  recordAct(store.db, person.name, 'set the mail server', `${rest.host} port ${rest.port}`);
  return {};
});

export const DELETE = route('administrator', null, ({ store, person }) => {
  forgetMailServer(store);
  recordAct(store.db, person.name, 'forgot the mail server', '');
  return {};
});
