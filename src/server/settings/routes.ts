import * as yup from 'yup';
import { isMailAddress, mailServerSchema, type MailServer } from '../../core/mail/mailServer';
import { readingRuleSchema, type ReadingRule } from '../../core/signatures/reading';
import type { Signature } from '../../core/signatures/signature';
import { signatureSchema } from '../../core/signatures/signatureSchema';
import { MailError, sendMail } from '../../deliver/mail/sendMail';
import { forgetMailServer, mailPassword, readMailServer, saveMailServer } from '../../store/mailServer';
import { recordAct } from '../../store/audit';
import { saveSignature } from '../../store/programFiles';
import { deleteReadingRule, meantBy, saveReadingRule } from '../../store/readingRules';
import { notFound, Problem } from '../access/problem';
import { route } from '../api/route';
import { readingList } from './readings';
import { signatureList, trySignature } from './signatures';

const asSignature = signatureSchema as unknown as yup.Schema<Signature>;
/** `password` is written, never read; without it the one that is kept stays. */
const mailSchema = mailServerSchema.concat(yup.object({ password: yup.string().max(500) })).noUnknown();
const isOneAddress = (text?: string) => isMailAddress(text ?? '');
const testSchema = yup
  .object({
    to: yup.string().required('Say to whom').test('address', 'must be one address like you@example.net', isOneAddress),
  })
  .noUnknown();

/** What holds for the whole installation: how devices are recognised and read, and the mail server. */
export const settingsRoutes = [
  route({
    method: 'GET',
    path: '/signatures',
    role: 'viewer',
    summary: 'Signatures, with how many devices each knows',
    run: ({ store }) => signatureList(store),
  }),
  route({
    method: 'POST',
    path: '/signatures',
    role: 'administrator',
    summary: 'Save a signature; it takes the place of the program’s own of that id, from the next survey on',
    body: asSignature,
    run: ({ store, person, body }) => {
      saveSignature(store.folder, body);
      recordAct(store.db, person.name, 'saved a signature', body.id);
      return { id: body.id };
    },
  }),
  route({
    method: 'POST',
    path: '/signatures/try',
    role: 'operator',
    summary: 'What a signature would make of the devices that are known; nothing is saved',
    body: asSignature,
    run: ({ store, body }) => trySignature(store, body),
  }),
  route({
    method: 'GET',
    path: '/readings',
    role: 'viewer',
    summary: 'Readings that people added, with how many devices answer them',
    run: ({ store }) => readingList(store),
  }),
  route({
    method: 'POST',
    path: '/readings',
    role: 'administrator',
    summary: 'Save a reading; one of the same name is taken the place of. Read from the next survey on',
    body: readingRuleSchema as unknown as yup.Schema<ReadingRule>,
    run: ({ store, person, body }) => {
      // a filter with a mistake is told at its place
      meantBy(store.db, body);
      saveReadingRule(store.db, body);
      recordAct(store.db, person.name, 'saved a reading', body.name);
      return { name: body.name };
    },
  }),
  route({
    method: 'DELETE',
    path: '/readings/{name}',
    role: 'administrator',
    summary: 'Delete a reading; its past values stay',
    run: ({ store, person, params: { name } }) => {
      if (!deleteReadingRule(store.db, name)) throw notFound(`reading “${name}”`);
      recordAct(store.db, person.name, 'deleted a reading', name);
      return {};
    },
  }),
  route({
    method: 'GET',
    path: '/mail',
    role: 'administrator',
    summary: 'The mail server, without its password',
    run: ({ store }) => readMailServer(store) ?? { server: null, hasPassword: false },
  }),
  route({
    method: 'PUT',
    path: '/mail',
    role: 'administrator',
    summary: 'Set the mail server; without a password the one that is kept stays',
    body: mailSchema,
    run: ({ store, person, body: { password, user = '', ...rest } }) => {
      saveMailServer(store, { ...rest, user } as MailServer, password);
      recordAct(store.db, person.name, 'set the mail server', `${rest.host} port ${rest.port}`);
      return {};
    },
  }),
  route({
    method: 'DELETE',
    path: '/mail',
    role: 'administrator',
    summary: 'Forget the mail server',
    run: ({ store, person }) => {
      forgetMailServer(store);
      recordAct(store.db, person.name, 'forgot the mail server', '');
      return {};
    },
  }),
  route({
    method: 'POST',
    path: '/mail/test',
    role: 'administrator',
    summary: 'Send a message that says it is a test, and tell what the server said',
    body: testSchema,
    run: async ({ store, person, url, body: { to } }) => {
      const mail = readMailServer(store);
      if (!mail) throw new Problem(409, 'No mail server', 'Save the mail server first.');
      const text = `This is a test message of Bolide, sent by ${person.name}.\n\nMail about surveys, checks and reports will come from this address.\n${url.origin}\n`;
      try {
        const message = { to: [to], subject: 'Bolide: test message', text };
        const said = await sendMail(mail.server, mailPassword(store), message);
        recordAct(store.db, person.name, 'sent a test message', to);
        return { said };
      } catch (error) {
        if (error instanceof MailError)
          throw new Problem(502, 'Mail was not taken', `${error.message}. ${error.remedy}`);
        throw error;
      }
    },
  }),
];
