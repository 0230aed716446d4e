'use client';

import { Link } from '@/ui/components/Link';
import { MailForm, useMail } from '../features/mail/MailForm';

/** The mail server. */
export function Mail() {
  const { data } = useMail();
  return (
    <div className="blocks">
      <section>
        <p className="quiet small" style={{ paddingBottom: 10 }}>
          The server that takes what Bolide writes. All first steps stand on <Link href="/begin">one page</Link>.
        </p>
        {data && <MailForm state={data} />}
      </section>
    </div>
  );
}
