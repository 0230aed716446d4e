/** Stands for all devices that do not answer, where things are named that are down. */
export const silentToken = 'state:silent';
