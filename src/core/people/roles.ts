/** What people may: each role also what the one before it may. */
export const roleNames = ['viewer', 'operator', 'administrator'] as const;
export type PersonRole = (typeof roleNames)[number];
