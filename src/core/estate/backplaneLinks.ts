import type { ModuleFacts, ToldLinkFacts } from './facts';

/**
 * Cards that meet on the backplane of their chassis (ENTITY-MIB, RFC 6933, class backplane): modules in slots of the chassis or of the backplane itself. What sits in a card sits on the card. A device that tells of no
 * backplane tells of no such links.
 */
export function backplaneLinks(device: string, modules: readonly ModuleFacts[]): ToldLinkFacts[] {
  const byPath = new Map(modules.map((module) => [module.path, module]));
  const backplanes = modules.filter((module) => module.class === 'backplane');
  return backplanes.flatMap((backplane) =>
    modules.flatMap((card): ToldLinkFacts[] => {
      const slot = byPath.get(card.parent ?? '');
      if (card.class !== 'module' || slot?.class !== 'container') return [];
      const holder = byPath.get(slot.parent ?? '');
      // of several chassis each has its own
      const here = holder?.path === backplane.path || (holder?.class === 'chassis' && holder.path === backplane.parent);
      return here
        ? [{ a: { device, port: backplane.name }, b: { device, port: card.name }, kind: 'stack', up: true }]
        : [];
    }),
  );
}
