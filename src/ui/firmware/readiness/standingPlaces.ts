import { hierarchy, partition, type HierarchyRectangularNode } from 'd3';

/** How many there are of a verdict, of a family with it, at a site of these. */
export interface StandingGroup {
  path: string[];
  count: number;
}

interface Branch {
  name: string;
  path: string[];
  count?: number;
  children?: Branch[];
}

/** A part of the picture: as high as many it stands for. */
export interface StandingPart {
  path: string[];
  name: string;
  count: number;
  depth: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Verdict, family, site, and the devices where there is room for their names. */
export const standingLevels = ['verdict', 'family', 'site'] as const;
/** Lower parts have no words in them. */
export const leastForWords = 12;

/**
 * Verdicts at the left, their families beside them, then sites: each as high as many it stands for.
 * @param order which verdict comes first
 */
export function standingPlaces(
  groups: readonly StandingGroup[],
  order: readonly string[],
  width: number,
  height: number,
): StandingPart[] {
  const root: Branch = { name: '', path: [], children: [] };
  // sums of outer levels come with them: those follow from the innermost
  for (const { path, count } of groups.filter((one) => one.path.length === standingLevels.length)) {
    let branch = root;
    path.forEach((name, level) => {
      const children = (branch.children ??= []);
      let next = children.find((one) => one.name === name);
      if (!next) children.push((next = { name, path: path.slice(0, level + 1) }));
      branch = next;
    });
    branch.count = (branch.count ?? 0) + count;
  }
  const tree = hierarchy(root)
    .sum(({ count }) => count ?? 0)
    .sort((x, y) =>
      x.depth === 1
        ? order.indexOf(x.data.name) - order.indexOf(y.data.name)
        : (y.value ?? 0) - (x.value ?? 0) || (x.data.name < y.data.name ? -1 : 1),
    );
  const drawn = partition<Branch>()
    .size([height, width + width / standingLevels.length])
    .padding(1)(tree);
  const shift = width / standingLevels.length;
  return drawn.descendants().flatMap((node: HierarchyRectangularNode<Branch>): StandingPart[] =>
    node.depth === 0
      ? []
      : [
          {
            ...{ path: node.data.path, name: node.data.name, count: node.value ?? 0, depth: node.depth },
            ...{ x: node.y0 - shift, y: node.x0, width: node.y1 - node.y0, height: node.x1 - node.x0 },
          },
        ],
  );
}
