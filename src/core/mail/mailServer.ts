import * as yup from 'yup';

export const mailSecurities = ['starttls', 'tls', 'none'] as const;
export type MailSecurity = (typeof mailSecurities)[number];

/** The server that takes our mail, and whom it is from. */
export interface MailServer {
  host: string;
  port: number;
  /** `starttls`: turned into TLS (RFC 3207), `tls`: TLS from the first octet (RFC 8314), `none`: in the clear */
  security: MailSecurity;
  /** empty where the server asks for none */
  user: string;
  from: string;
}

export const usualPorts: Record<MailSecurity, number> = { starttls: 587, tls: 465, none: 25 };

/** One address as RFC 5321 has it, without quoted parts and comments: what people have. */
export const isMailAddress = (text: string): boolean =>
  /^[A-Za-z0-9!#$%&'*+/=?^_`{|}~.-]{1,64}@(?:[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?\.)*[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?$/.test(
    text,
  ) && !/\.\.|^\.|\.@/.test(text);

const address = (what: string) =>
  yup
    .string()
    .test(
      'address',
      `${what} must be one address like bolide@example.net`,
      (text) => text === undefined || text === '' || isMailAddress(text),
    );

export const mailServerSchema = yup.object({
  host: yup
    .string()
    .required('Give the server’s name or address')
    .max(253)
    .matches(/^[A-Za-z0-9.:-]+$/, {
      message: 'A server’s name has letters, digits, dots and hyphens',
      excludeEmptyString: true,
    }),
  port: yup
    .number()
    .integer('A port is a whole number')
    .min(1, 'A port is from 1 to 65535')
    .max(65_535, 'A port is from 1 to 65535')
    .required('Give the port'),
  security: yup
    .string()
    .oneOf(mailSecurities, `must be one of ${mailSecurities.join(', ')}`)
    .required(),
  user: yup.string().max(200),
  from: address('The sender').required('Say whom the mail is from'),
});
