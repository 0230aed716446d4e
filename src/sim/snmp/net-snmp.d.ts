/** The part of the net-snmp package used here. */
declare module 'net-snmp' {
  export interface RawVarbind {
    oid: string;
    type: number;
    value: unknown;
  }
  export interface SessionOptions {
    port?: number;
    retries?: number;
    timeout?: number;
    backoff?: number;
    version?: number;
    context?: string;
    backwardsGetNexts?: boolean;
  }
  export interface User {
    name: string;
    level: number;
    authProtocol?: string;
    authKey?: string;
    privProtocol?: string;
    privKey?: string;
  }
  export interface Session {
    get(
      oids: string[],
      done: (error: (Error & { code?: number; status?: number }) | null, varbinds: RawVarbind[]) => void,
    ): void;
    getBulk(
      oids: string[],
      nonRepeaters: number,
      maxRepetitions: number,
      done: (error: (Error & { code?: number; status?: number }) | null, varbinds: RawVarbind[][]) => void,
    ): void;
    getNext(
      oids: string[],
      done: (error: (Error & { code?: number; status?: number }) | null, varbinds: RawVarbind[]) => void,
    ): void;
    set(
      varbinds: RawVarbind[],
      done: (error: (Error & { code?: number; status?: number }) | null, varbinds: RawVarbind[]) => void,
    ): void;
    close(): void;
    on(event: 'error' | 'close', listener: (error: Error) => void): void;
  }
  const snmp: {
    createSession(target: string, community: string, options: SessionOptions): Session;
    createV3Session(target: string, user: User, options: SessionOptions): Session;
    Version1: number;
    Version2c: number;
    Version3: number;
    SecurityLevel: { noAuthNoPriv: number; authNoPriv: number; authPriv: number };
    AuthProtocols: Record<'sha' | 'sha224' | 'sha256' | 'sha384' | 'sha512', string>;
    PrivProtocols: Record<'aes' | 'aes256b' | 'aes256r', string>;
    ObjectType: { Integer: number; OctetString: number };
    ErrorStatus: { TooBig: number; NoSuchName: number };
  };
  export default snmp;
}
