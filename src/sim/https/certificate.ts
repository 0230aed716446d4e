import { generate } from 'selfsigned';

export interface SelfSigned {
  key: string;
  cert: string;
}

/** A certificate of its own for a stand-in, as management controllers and small controllers ship with. */
export async function selfSigned(commonName: string, address: string): Promise<SelfSigned> {
  const { private: key, cert } = await generate([{ name: 'commonName', value: commonName }], {
    keyType: 'ec', algorithm: 'sha256',
    extensions: [{ name: 'basicConstraints', cA: true }, { name: 'subjectAltName', altNames: [{ type: 7, ip: address }] }],
  });
  return { key, cert };
}
