/** The release a family should run, or the devices of it that are in a group. */
export interface FamilyTarget {
  vendor: string;
  family: string;
  release: string;
  /** empty for all of the family */
  group: string;
}

/**
 * The target of a device: one set for a group it is in goes before that of its family; of several groups, the first by name.
 * @param isIn whether the device is in a group
 */
export function targetOf<Target extends FamilyTarget>(
  targets: Target[],
  device: { vendor: string; family: string },
  isIn: (group: string) => boolean,
): Target | undefined {
  const own = targets.filter(({ vendor, family }) => vendor === device.vendor && family === device.family);
  const byGroup = own.filter(({ group }) => group !== '').sort((x, y) => (x.group < y.group ? -1 : 1));
  return byGroup.find(({ group }) => isIn(group)) ?? own.find(({ group }) => group === '');
}
