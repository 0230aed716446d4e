import { outletRoutes } from './outletRoutes';
import { planRoutes } from './planRoutes';

/** Where the wire of a port ends: outlets, and the plans of floors they and devices stand on. */
export const floorRoutes = [...planRoutes, ...outletRoutes];
