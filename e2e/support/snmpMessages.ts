/** Community messages of SNMP taken apart and put together again, for what no agent of ours would send. */

/** One element of BER. */
export const element = (tag: number, ...parts: Buffer[]): Buffer => {
  const inner = Buffer.concat(parts);
  return Buffer.concat([Buffer.from(inner.length < 128 ? [tag, inner.length] : [tag, 0x81, inner.length]), inner]);
};

/** The elements that stand in a row of octets: tag, and what is in each, with its head. */
export function elementsIn(octets: Buffer): { tag: number; whole: Buffer; inner: Buffer }[] {
  const found = [];
  for (let at = 0; at < octets.length;) {
    const first = octets[at + 1] ?? 0;
    const more = first < 128 ? 0 : first - 128;
    const length = more === 0 ? first : octets.readUIntBE(at + 2, more);
    const start = at + 2 + more;
    found.push({
      tag: octets[at] ?? 0,
      whole: octets.subarray(at, start + length),
      inner: octets.subarray(start, start + length),
    });
    at = start + length;
  }
  return found;
}

const long = (tag: number, inner: Buffer): Buffer => {
  const length = Buffer.alloc(2);
  length.writeUInt16BE(inner.length);
  return Buffer.concat([Buffer.from([tag, 0x82]), length, inner]);
};

/** A v2c answer with other variables, or with an error and none. */
export function withVariables(
  answer: Buffer,
  change: (variables: Buffer[]) => Buffer[],
  [status, index]: [number, number] = [0, 0],
): Buffer {
  const [version, name, pdu] = elementsIn(elementsIn(answer)[0]?.inner ?? answer);
  const [id, , , list] = elementsIn(pdu?.inner ?? answer);
  const variables = change(elementsIn(list?.inner ?? answer).map(({ whole }) => whole));
  const changed = Buffer.concat([
    id?.whole ?? answer,
    Buffer.from([2, 1, status, 2, 1, index]),
    long(0x30, Buffer.concat(variables)),
  ]);
  return long(0x30, Buffer.concat([version?.whole ?? answer, name?.whole ?? answer, long(0xa2, changed)]));
}

/** How many variables a v2c message has. */
export function countIn(message: Buffer): number {
  let count = 0;
  withVariables(message, (variables) => {
    count = variables.length;
    return variables;
  });
  return count;
}

/** What a v2c message is: 0xa0 GET, 0xa1 GETNEXT, 0xa5 GETBULK. */
export const kindOf = (message: Buffer): number => elementsIn(elementsIn(message)[0]?.inner ?? message)[2]?.tag ?? 0;

/** The names of a v2c message, as their octets. */
export function namesIn(message: Buffer): Buffer[] {
  const names: Buffer[] = [];
  withVariables(message, (variables) => {
    for (const variable of variables) {
      const [name] = elementsIn(elementsIn(variable)[0]?.inner ?? variable);
      if (name) names.push(name.inner);
    }
    return variables;
  });
  return names;
}
