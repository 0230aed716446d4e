/** The id of a service: whose process it is, and what it is called; by its port where nobody tells the process. */
export const serviceId = (deviceId: number, process: string, protocol: string, port: number): string =>
  `${deviceId} ${process || `${protocol}/${port}`}`;
