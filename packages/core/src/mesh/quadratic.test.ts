import { describe, expect, it } from "@jest/globals";
import { cellTypes } from "./cell-types.js";
import { interpolate, locate } from "./locate.js";
import { cellMeasures } from "./measures.js";
import { meshOf } from "./tests/box-mesh.js";
import { brick, pyramid, quad, wedge } from "./tests/corners.js";

type P = readonly [number, number, number];
const mid = (nodes: readonly P[], groups: readonly (readonly number[])[]): P[] =>
  groups.map((g) => [0, 1, 2].map((d) => g.reduce((s, v) => s + nodes[v]![d]! / g.length, 0)) as unknown as P);
const brickEdges = [
  [0, 1],
  [1, 2],
  [2, 3],
  [3, 0],
  [4, 5],
  [5, 6],
  [6, 7],
  [7, 4],
  [0, 4],
  [1, 5],
  [2, 6],
  [3, 7],
];
const wedgeEdges = [
  [0, 1],
  [1, 2],
  [2, 0],
  [3, 4],
  [4, 5],
  [5, 3],
  [0, 3],
  [1, 4],
  [2, 5],
];
const sides = [
  [0, 3, 7, 4],
  [1, 2, 6, 5],
  [0, 1, 5, 4],
  [2, 3, 7, 6],
];
const turned = (n: number, z: number): P[] =>
  Array.from({ length: n }, (_, k) => [Math.cos((2 * Math.PI * k) / n), Math.sin((2 * Math.PI * k) / n), z]);

/** The nodes of each kind in the order in which files list them, and whether it holds every quadratic field. */
const kinds: [number, P[], boolean][] = [
  [15, [...turned(5, 0), ...turned(5, 1)], false],
  [16, [...turned(6, 0), ...turned(6, 1)], false],
  [25, [...brick, ...mid(brick, brickEdges)], true],
  [26, [...wedge, ...mid(wedge, wedgeEdges)], true],
  [
    27,
    [
      ...pyramid,
      ...mid(pyramid, [
        [0, 1],
        [1, 2],
        [2, 3],
        [3, 0],
        [0, 4],
        [1, 4],
        [2, 4],
        [3, 4],
      ]),
    ],
    false,
  ],
  [
    28,
    [
      ...quad,
      ...mid(quad, [
        [0, 1],
        [1, 2],
        [2, 3],
        [3, 0],
        [0, 1, 2, 3],
      ]),
    ],
    true,
  ],
  [
    29,
    [...brick, ...mid(brick, [...brickEdges, ...sides, [0, 1, 2, 3], [4, 5, 6, 7], [0, 1, 2, 3, 4, 5, 6, 7]])],
    true,
  ],
  [
    30,
    [
      ...quad,
      ...mid(quad, [
        [0, 1],
        [2, 3],
      ]),
    ],
    false,
  ],
  [31, [...wedge, ...mid(wedge, wedgeEdges.slice(0, 6))], false],
  [32, [...wedge, ...mid(wedge, [...wedgeEdges, [0, 1, 4, 3], [1, 2, 5, 4], [2, 0, 3, 5]])], true],
  [33, [...brick, ...mid(brick, [...brickEdges, ...sides])], true],
  [
    34,
    [
      ...wedge.slice(0, 3),
      ...mid(wedge, [
        [0, 1],
        [1, 2],
        [2, 0],
        [0, 1, 2],
      ]),
    ],
    true,
  ],
  [
    36,
    [
      ...quad,
      ...mid(quad, [
        [0, 1],
        [1, 2],
        [2, 3],
        [3, 0],
      ]),
    ],
    false,
  ],
];

describe("higher-order cells, laid slanted in space", () => {
  const map = ([x, y, z]: P): P => [
    2 + 1.5 * x + 0.2 * y - 0.1 * z,
    -1 + 0.3 * x + 0.8 * y + 0.2 * z,
    0.5 - 0.2 * x + 0.1 * y + 1.1 * z,
  ];
  it.each(kinds.map(([type, nodes, full]) => [cellTypes[type]!.name, type, nodes, full] as const))(
    "%s: linear fields to 1e-12, quadratic ones where it can",
    (_, type, nodes, full) => {
      const points = nodes.map(map);
      const mesh = meshOf(points.flat(), [{ type, nodes: nodes.map((__, k) => k) }]);
      const inside: P[] = [];
      for (let k = 0; k < 60; k++) {
        const [r, s, t] = [1, 2, 3].map((d) => (Math.sin(k * 12.9898 * d + d) * 43758.5453) % 1).map(Math.abs) as [
          number,
          number,
          number,
        ];
        const flat = mesh.dimension === 2;
        // Somewhere between the corners: shares of them that add up to one.
        const w = nodes
          .slice(0, cellTypes[type]!.corners?.length ?? (type === 36 ? 4 : nodes.length))
          .map((__, i) => Math.abs(Math.sin(7.3 * i + 40 * r + 11 * s + (flat ? 0 : 5 * t))));
        const sum = w.reduce((a, b) => a + b, 0);
        inside.push(map([0, 1, 2].map((d) => w.reduce((m, v, i) => m + (v / sum) * nodes[i]![d]!, 0)) as unknown as P));
      }
      inside.push(...points);
      const found = locate(mesh, Float64Array.from(inside.flat()));
      expect(found.outside).toBe(0);
      const check = (f: (p: P) => number, digits: number): void => {
        const values = interpolate(found, Float64Array.from(points, f), 1);
        inside.forEach((p, i) => expect(values[i]!).toBeCloseTo(f(p), digits));
      };
      check(([x, y, z]) => 3 + 2 * x - 5 * y + 7 * z, 11);
      if (full) check(([x, y, z]) => x * x - 2 * x * y + 0.5 * z * z + y * z, 11);
    },
  );
  it("prisms have the volume of their base times their height", () => {
    for (const n of [5, 6]) {
      const points = [...turned(n, 0), ...turned(n, 1.5)];
      const mesh = meshOf(points.flat(), [{ type: n === 5 ? 15 : 16, nodes: points.map((_, k) => k) }]);
      expect(cellMeasures(mesh)[0]).toBeCloseTo(1.5 * (n / 2) * Math.sin((2 * Math.PI) / n), 12);
    }
  });
});
