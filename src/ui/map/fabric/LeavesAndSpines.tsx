'use client';

import type { FabricNode, FabricTree } from '@/core/fabric/fabricTree';

const [plateWidth, plateHeight, gap, between] = [132, 34, 14, 74];

/** Spines above, leaves below, and how they are joined. A click on a leaf narrows the endpoints, a double click opens its dossier. */
export function LeavesAndSpines({
  fabric: { nodes, links, devices },
  chosen,
  onChoose,
  onOpen,
}: {
  fabric: Pick<FabricTree, 'nodes' | 'links'> & { devices: Record<string, number> };
  chosen: string | null;
  onChoose: (node: string) => void;
  onOpen: (id: number) => void;
}) {
  const rows = [nodes.filter((node) => node.function === 'spine'), nodes.filter((node) => node.function === 'leaf')];
  const widest = Math.max(...rows.map((row) => row.length), 1);
  const width = widest * (plateWidth + gap) - gap;
  const at = new Map(
    rows.flatMap((row, level) =>
      row.map((node, place): [string, { x: number; y: number }] => [
        node.node,
        {
          x: (width - (row.length * (plateWidth + gap) - gap)) / 2 + place * (plateWidth + gap),
          y: level * (plateHeight + between),
        },
      ]),
    ),
  );
  const without = rows[1]?.filter(({ node }) => links.filter((link) => link.leaf === node && link.up).length < 2) ?? [];
  return (
    <section aria-label="Leaves and spines" style={{ overflowX: 'auto' }}>
      <svg
        className="spines"
        width={width + 4}
        height={2 * plateHeight + between + 4}
        viewBox={`-2 -2 ${width + 4} ${2 * plateHeight + between + 4}`}
        role="group"
        aria-label="Leaves and spines and the links between them"
      >
        {links.map(({ leaf, leafPort, spine, spinePort, up }) => {
          const [low, high] = [at.get(leaf), at.get(spine)];
          if (!low || !high) return null;
          const [x1, y1, x2, y2] = [high.x + plateWidth / 2, high.y + plateHeight, low.x + plateWidth / 2, low.y];
          return (
            <path
              key={`${leaf} ${leafPort}`}
              className={`line${up ? '' : ' down'}${chosen === leaf || chosen === spine ? ' lit' : ''}`}
              d={`M${x1} ${y1} C${x1} ${y1 + 30} ${x2} ${y2 - 30} ${x2} ${y2}`}
            >
              <title>
                {leaf} {leafPort} – {spine} {spinePort}
                {up ? '' : ', down'}
              </title>
            </path>
          );
        })}
        {nodes.map((node) => (
          <Plate
            key={node.node}
            node={node}
            place={at.get(node.node) ?? { x: 0, y: 0 }}
            chosen={chosen === node.node}
            onChoose={() => onChoose(node.node)}
            onOpen={() => {
              const id = devices[node.node];
              if (id !== undefined) onOpen(id);
            }}
          />
        ))}
      </svg>
      {links.length > 0 && without.length > 0 && (
        <p className="small">
          {without.map(({ node }) => node).join(', ')}: {without.length === 1 ? 'has' : 'have'} no spare way to a spine.
        </p>
      )}
    </section>
  );
}

function Plate({
  node: { node, function: does, reachable, endpoints },
  place: { x, y },
  chosen,
  onChoose,
  onOpen,
}: {
  node: FabricNode;
  place: { x: number; y: number };
  chosen: boolean;
  onChoose: () => void;
  onOpen: () => void;
}) {
  const name = node.length > 17 ? `${node.slice(0, 16)}…` : node;
  const more = reachable
    ? does === 'leaf'
      ? `leaf, ${endpoints} ${endpoints === 1 ? 'endpoint' : 'endpoints'}`
      : 'spine'
    : 'not reached';
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${name} ${more}`}
      className="press"
      onClick={onChoose}
      onDoubleClick={onOpen}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onOpen();
        else if (event.key === ' ') {
          event.preventDefault();
          onChoose();
        }
      }}
    >
      <rect
        x={x}
        y={y}
        width={plateWidth}
        height={plateHeight}
        rx={4}
        className={`box${chosen ? ' chosen' : ''}${reachable ? '' : ' pale'}`}
      />
      <text x={x + 9} y={y + 15} className="name">
        {name}{' '}
      </text>
      <text x={x + 9} y={y + 28} className="more">
        {more}
      </text>
    </g>
  );
}
