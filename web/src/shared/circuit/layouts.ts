/** Where each element of a circuit stands, and how the way of the current runs through it. */

export type Point = readonly [number, number];
export type DiodePlace = { at: Point; sideways: boolean; wires: string; way: Point[] };
export type Layout = {
  height: number;
  /** From one end of an element to the other; the way takes whichever direction fits. */
  ways: Record<string, Point[]>;
  wires: string;
  switches: { id: string; at: Point; name: "switch" | "upper"; bjt?: boolean }[];
  /** One diode beside the switches' own: at the rails, and where that is another place, across the motor. */
  diode?: { rails?: DiodePlace; motor: DiodePlace };
  motor: Point;
  /** Contacts that change over; one that only makes is open or closed in its line, one with a middle may be open. */
  contacts?: { id: string; at: Point; name?: string; makes?: boolean; middle?: boolean }[];
};

const SUPPLY: Record<string, Point[]> = {
  supply: [
    [60, 250],
    [60, 30],
  ],
  ground: [[60, 250]],
};

export const LAYOUTS: Record<string, Layout> = {
  "low side": {
    height: 280,
    ways: {
      ...SUPPLY,
      motor: [
        [240, 30],
        [240, 140],
      ],
      switch: [
        [240, 140],
        [240, 250],
      ],
    },
    wires: "M60 30H240V140M60 30V110M60 160V250H240V140",
    switches: [{ id: "switch", at: [240, 195], name: "switch" }],
    diode: {
      motor: {
        at: [360, 85],
        sideways: false,
        wires: "M240 30H360V140H240",
        way: [
          [360, 140],
          [360, 30],
        ],
      },
    },
    motor: [240, 85],
  },
  "high side": {
    height: 280,
    ways: {
      ...SUPPLY,
      switch: [
        [240, 30],
        [240, 140],
      ],
      motor: [
        [240, 140],
        [240, 250],
      ],
    },
    wires: "M60 30H240V140M60 30V110M60 160V250H240M240 140V250",
    switches: [{ id: "switch", at: [240, 85], name: "switch" }],
    diode: {
      motor: {
        at: [360, 195],
        sideways: false,
        wires: "M240 140H360V250H240",
        way: [
          [360, 250],
          [360, 140],
        ],
      },
    },
    motor: [240, 195],
  },
  "half bridge": {
    height: 280,
    ways: {
      ...SUPPLY,
      "A.high": [
        [230, 30],
        [230, 140],
      ],
      "A.low": [
        [230, 140],
        [230, 250],
      ],
      motor: [
        [230, 140],
        [420, 140],
        [420, 250],
      ],
    },
    wires: "M60 30H230V250M60 30V110M60 160V250H420V140H230",
    switches: [
      { id: "A.high", at: [230, 85], name: "switch" },
      { id: "A.low", at: [230, 195], name: "switch" },
    ],
    diode: {
      motor: {
        at: [500, 195],
        sideways: false,
        wires: "M420 140H500V250H420",
        way: [
          [500, 250],
          [500, 140],
        ],
      },
    },
    motor: [420, 195],
  },
  "full bridge": {
    height: 280,
    ways: {
      ...SUPPLY,
      "A.high": [
        [200, 30],
        [200, 140],
      ],
      "A.low": [
        [200, 140],
        [200, 250],
      ],
      "B.high": [
        [440, 30],
        [440, 140],
      ],
      "B.low": [
        [440, 140],
        [440, 250],
      ],
      motor: [
        [200, 140],
        [440, 140],
      ],
    },
    wires: "M60 30H440V250M200 30V250M60 30V110M60 160V250H440M200 140H440",
    switches: [
      { id: "A.high", at: [200, 85], name: "upper" },
      { id: "B.high", at: [440, 85], name: "upper" },
      { id: "A.low", at: [200, 195], name: "switch" },
      { id: "B.low", at: [440, 195], name: "switch" },
    ],
    diode: {
      motor: {
        at: [320, 80],
        sideways: true,
        wires: "M200 140V80H440V140",
        way: [
          [440, 140],
          [440, 80],
          [200, 80],
          [200, 140],
        ],
      },
    },
    motor: [320, 140],
  },
  "relay pair": {
    height: 300,
    ways: {
      supply: [
        [60, 270],
        [60, 30],
      ],
      ground: [[60, 270]],
      "K1.up": [
        [180, 30],
        [180, 110],
      ],
      "K1.down": [
        [180, 110],
        [180, 180],
      ],
      "K2.up": [
        [380, 30],
        [380, 110],
      ],
      "K2.down": [
        [380, 110],
        [380, 180],
      ],
      motor: [
        [180, 110],
        [380, 110],
      ],
      switch: [
        [280, 180],
        [280, 270],
      ],
    },
    wires:
      "M60 30H380V62M380 180H180M60 30V120M60 170V270H280V180M180 110H380M180 30V62M180 180V158M380 180V158M180 110H200M380 110H360",
    switches: [{ id: "switch", at: [280, 225], name: "switch" }],
    diode: {
      rails: {
        at: [470, 105],
        sideways: false,
        wires: "M380 30H470V180H380",
        way: [
          [470, 180],
          [470, 30],
        ],
      },
      motor: {
        at: [280, 62],
        sideways: true,
        wires: "M205 110V62H355V110",
        way: [
          [355, 110],
          [355, 62],
          [205, 62],
          [205, 110],
        ],
      },
    },
    motor: [280, 110],
    contacts: [
      { id: "K1", at: [180, 110] },
      { id: "K2", at: [380, 110] },
    ],
  },
};

const relays = LAYOUTS["relay pair"] as Layout;
const above = LAYOUTS["high side"] as Layout;
LAYOUTS["crossed relay"] = {
  ...relays,
  contacts: [
    { id: "K1", at: [180, 110], name: "pole 1" },
    { id: "K2", at: [380, 110], name: "pole 2" },
  ],
};
LAYOUTS["contacts"] = {
  ...relays,
  ways: {
    ...relays.ways,
    ground: [
      [280, 180],
      [280, 270],
      [60, 270],
    ],
  },
  switches: [],
};
LAYOUTS["reversing switch"] = {
  ...LAYOUTS["contacts"],
  contacts: [
    { id: "K1", at: [180, 110], name: "pole 1", middle: true },
    { id: "K2", at: [380, 110], name: "pole 2", middle: true },
  ],
};
LAYOUTS["single contact"] = {
  ...above,
  switches: [],
  contacts: [{ id: "switch", at: [240, 85], name: "contact", makes: true }],
};

const far = (a: Point, b: Point) => Math.abs(a[0] - b[0]) + Math.abs(a[1] - b[1]);
const end = (p: Point[]) => p[p.length - 1] as Point;

/** Where a diode beside the switches' own stands in a layout; nothing where none is fitted or each switch has one. */
export function diodeOf(layout: Layout, at: "none" | "rails" | "motor"): DiodePlace | undefined {
  if (at === "none") return undefined;
  if (at === "motor" || layout.diode?.rails) return layout.diode?.[at];
  return layout.switches.length === 1 ? layout.diode?.motor : undefined;
}

/** The corners of the current's way: each element turned so that it begins where the one before it ended. */
export function wayOf(ways: Record<string, Point[]>, elements: string[]): Point[] {
  const parts = elements.flatMap((e) => (ways[e] ? [ways[e]] : []));
  const [first, ...rest] = parts;
  if (!first) return [];
  const tries = [first, [...first].reverse()].map((start) => {
    let length = 0;
    const points = [...start];
    for (const part of rest) {
      const turned = far(end(points), part[0] as Point) <= far(end(points), end(part)) ? part : [...part].reverse();
      length += far(end(points), turned[0] as Point);
      points.push(...turned);
    }
    return { points, length: length + far(end(points), points[0] as Point) };
  });
  const best = tries.reduce((a, b) => (b.length < a.length ? b : a)).points;
  return [...best, best[0] as Point];
}
