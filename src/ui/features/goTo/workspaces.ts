/** The workspaces in the order of the work. */
export const workspaces = [
  { name: 'Today', path: '/today' },
  { name: 'Survey', path: '/survey' },
  { name: 'Estate', path: '/estate' },
  { name: 'Ports', path: '/ports' },
  { name: 'Map', path: '/map' },
  { name: 'Dependencies', path: '/dependencies' },
  { name: 'Firmware', path: '/firmware' },
  { name: 'Ledger', path: '/ledger' },
  { name: 'Settings', path: '/settings' },
] as const;
