import * as yup from 'yup';
import { isMailAddress } from '../../core/mail/mailServer';
import { MailError, sendMail } from '../../deliver/mail/sendMail';
import { mailPassword, readMailServer } from '../../store/mailServer';
import { recordAct } from '../../store/people';
import { Problem } from '../access/problem';
import { route } from '../access/route';

const schema = yup
  .object({
    to: yup
      .string()
      .required('Say to whom')
      .test('address', 'must be one address like you@example.net', (text) => isMailAddress(text ?? '')),
  })
  .noUnknown();

/** Sends a message that says it is a test, and tells what the server said. */
export const POST = route('administrator', schema, async ({ store, person, request, body: { to } }) => {
  const mail = readMailServer(store);
  if (!mail) throw new Problem(409, 'No mail server', 'Save the mail server first.');
  const text = `This is a test message of Bolide, sent by ${person.name}.\n\nMail about surveys, checks and reports will come from this address.\n${new URL(request.url).origin}\n`;
  try {
    const said = await sendMail(mail.server, mailPassword(store), { to: [to], subject: 'Bolide: test message', text });
    recordAct(store.db, person.name, 'sent a test message', to);
    return { said };
  } catch (error) {
    if (error instanceof MailError) throw new Problem(502, 'Mail was not taken', `${error.message}. ${error.remedy}`);
    throw error;
  }
});
