/** What a map is coloured by, in words; nothing where it is by state, as it mostly is. */
export const colouredWords = (overlay: string, tracing: boolean): string =>
  tracing
    ? 'a trace'
    : overlay === 'state'
      ? ''
      : `coloured by ${overlay.replace(/^vlan:/, 'VLAN ').replace(/^net:/, 'network ')}`;
