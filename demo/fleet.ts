/** The fleet of the Quillmere Wetland Survey, as far as its firmware is in the catalogue. Lines are typed on each board. */
export interface DemoAircraft {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly model: string;
  readonly chipId: string;
  readonly release: string;
  readonly lines: readonly string[];
  /** Read-outs that are on file, oldest first: how many days ago, and which kind. */
  readonly readouts: readonly {
    readonly daysAgo: number;
    readonly kind: "recite" | "reciteMoved";
    readonly before?: readonly string[];
  }[];
  readonly state?: { readonly state: "in-service" | "out-of-service"; readonly reason: string };
  readonly mountQuarters?: number;
}

const SEDGE_COMMON = [
  "starter sedge-7",
  "put mixer.frame quad-wide",
  "put board.turned 90",
  "put receiver.smoothing 30",
  "put return.height 40",
  "put fence.radius 1200",
  "put failsafe.does come-back",
  "put level.most 35",
  "row ports 3 use=position speed=57600",
  "row switches 1 does=arm channel=5 from=1700 to=2100",
  "row switches 2 does=level channel=6 from=1300 to=2100",
  "row switches 3 does=hold-place channel=7 from=1700 to=2100",
  "row switches 4 does=come-back channel=8 from=1700 to=2100",
  "use tune 2",
  'put tune.label "calm air"',
  "put roll.push 38",
  "put pitch.push 40",
  "use tune 1",
  'put tune.label "survey"',
  "put roll.memory 82",
  "use feel 1",
  "put yaw.turn-rate 2.79",
  "use battery 1",
  "put battery.cells 6",
  "put battery.low 34",
  "put battery.capacity 8000",
];
const SEDGE_22 = SEDGE_COMMON;
const SEDGE_23 = SEDGE_COMMON.map((line) =>
  line
    .replace("does=", "action=")
    .replace("yaw.turn-rate 2.79", "feel.yaw.rate 160")
    .replace("battery.low 34", "battery.cell.low 3.40"),
);
const calibrated = (x: string, y: string, trim: string) => [
  `put gyro.zero.x ${x}`,
  `put gyro.zero.y ${y}`,
  `put level.zero.roll ${trim}`,
  "put power.scale 11.04",
];
const WARBLER = [
  "put mixer.frame quad-square",
  "put motor.magnets 12",
  "put lights.count 2",
  "put gyro.smoothing 120",
  "use tune 1",
  'put tune.label "close"',
  "put roll.push 34",
];

const sedge = (no: string, rest: Partial<DemoAircraft> & Pick<DemoAircraft, "chipId" | "readouts">): DemoAircraft => ({
  tag: `QW-${no}`,
  label: "",
  type: "Sedge",
  model: "corsley-slate",
  release: "heddle-22",
  mountQuarters: 1,
  lines: SEDGE_22,
  ...rest,
});

export const DEMO_FLEET: readonly DemoAircraft[] = [
  sedge("01", {
    label: "North fen, bird counts",
    chipId: "4A17-0C22-91FE",
    lines: [
      ...SEDGE_22,
      ...calibrated("0.42", "-0.13", "0.6"),
      'put craft.label "QW-01"',
      "put craft.number 1",
      "put loop.rate 9",
      "put return.speed 18",
      "put motor.rest 6.2",
    ],
    readouts: [
      { daysAgo: 63, kind: "recite" },
      { daysAgo: 20, kind: "recite", before: ["put return.speed 18.5"] },
    ],
  }),
  sedge("02", {
    label: "South fen, bird counts",
    chipId: "4A17-0C22-93B0",
    lines: [...SEDGE_22, ...calibrated("0.07", "0.21", "-0.4"), 'put craft.label "QW-02"', "put craft.number 2"],
    readouts: [{ daysAgo: 12, kind: "recite" }],
  }),
  sedge("03", {
    label: "Reed bed maps",
    chipId: "4A17-0C25-0D41",
    release: "heddle-23",
    lines: [...SEDGE_23, ...calibrated("-0.31", "0.02", "0.1"), 'put aircraft.label "QW-03"', "put aircraft.number 3"],
    readouts: [{ daysAgo: 3, kind: "recite" }],
  }),
  sedge("04", {
    label: "Water gauges, east",
    chipId: "4A17-0C25-1177",
    lines: [...SEDGE_22, ...calibrated("0.11", "0.40", "1.2"), 'put craft.label "QW-04"', "put craft.number 4"],
    readouts: [
      { daysAgo: 90, kind: "recite" },
      {
        daysAgo: 41,
        kind: "recite",
        before: ["put gyro.smoothing 95", "put failsafe.after 3.0", "put fence.height 0"],
      },
    ],
  }),
  sedge("05", {
    label: "Spare",
    chipId: "4A17-0C2A-7C08",
    lines: [...SEDGE_22, ...calibrated("0.02", "-0.05", "-0.2"), 'put craft.label "QW-05"', "put craft.number 5"],
    readouts: [{ daysAgo: 30, kind: "reciteMoved" }],
  }),
  ...["06", "07", "08"].map((no, i): DemoAircraft => ({
    tag: `QW-${no}`,
    label: ["Culverts", "Bird hides", "Culverts, reserve"][i] ?? "",
    type: "Warbler",
    model: "tamsin-mote",
    chipId: ["71D0-5E03-AA14", "71D0-5E03-AA52", "71D0-5E04-0B9C"][i] ?? "",
    release: "heddle-22",
    lines: [...WARBLER, `put craft.label "QW-${no}"`],
    readouts: [{ daysAgo: [5, 8, 27][i] ?? 5, kind: "recite" }],
    ...(no === "08" ? { state: { state: "out-of-service", reason: "Waits for a new propeller guard" } as const } : {}),
  })),
];
