/** The 4 or 16 octets of an address. */
export const addressOctets = (text: string): Buffer =>
  text.includes(':')
    ? Buffer.from(
        text
          .replace('::', `:${'0:'.repeat(8 - text.split(':').filter(Boolean).length)}`)
          .split(':')
          .filter(Boolean)
          .map((part) => part.padStart(4, '0'))
          .join(''),
        'hex',
      )
    : Buffer.from(text.split('.').map(Number));
