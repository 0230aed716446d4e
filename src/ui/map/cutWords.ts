/** “6 devices with 44 endpoints are”. */
export const cutWords = (devices: number, endpoints: number): string =>
  `${devices} ${devices === 1 ? 'device' : 'devices'}${endpoints > 0 ? ` with ${endpoints} ${endpoints === 1 ? 'endpoint' : 'endpoints'}` : ''} ${devices === 1 && endpoints === 0 ? 'is' : 'are'}`;
