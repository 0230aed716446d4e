/** Made-up makers of Ostermere's equipment: enterprise numbers and locally administered MAC prefixes of their own. */
export const makers = {
  Kestrane: { enterprise: 59101, mac: '02:4b:45' },
  Orrery: { enterprise: 59102, mac: '02:4f:52' },
  Brannick: { enterprise: 59103, mac: '02:42:52' },
  Tessaly: { enterprise: 59104, mac: '02:54:45' },
  Calivex: { enterprise: 59105, mac: '02:43:41' },
  Fenmoor: { enterprise: 59106, mac: '02:46:45' },
} as const;
export type MakerName = keyof typeof makers;

/** The list the demo loads, since such prefixes are in no published one. */
export const makerList = Object.entries(makers).map(([name, { mac }]) => ({ prefix: mac.replaceAll(':', ''), name }));
