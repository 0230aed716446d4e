import { selfSigned, type SelfSigned } from './certificate';
import { JsonService } from './jsonService';

/** A machine that answers HTTPS with a page of its own and none of the interfaces that anybody could read. */
export class UnknownService {
  readonly service: JsonService;

  constructor(
    readonly address: string,
    port: number,
  ) {
    this.service = new JsonService(address, port, ({ path }) =>
      path === '/'
        ? { status: 200, headers: { 'content-type': 'text/html' }, body: '<!doctype html><title>display</title>' }
        : { status: 404 },
    );
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('display', this.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }
}
