import type { PartMount } from "@/core/catalog";
import type { Value } from "@/core/config";
import type { Ailment } from "@/core/sim";
import { SEDGE_22, SEDGE_23, WARBLER, calibrated } from "./lines/multirotor";
import { AVOCET, BULRUSH_71, BULRUSH_80, TEASEL_8, TEASEL_9 } from "./lines/others";

/** A read-out that is on file: how many days ago it was taken, and which kind it is. */
export interface DemoReadout {
  readonly daysAgo: number;
  readonly kind: "recite" | "reciteMoved" | "reciteActive";
  /** Lines that were typed just before. */
  readonly before?: readonly string[];
  readonly note?: string;
}

/** The fleet of the Quillmere Wetland Survey. Lines are typed on each board, as a technician would. */
export interface DemoAircraft {
  readonly tag: string;
  readonly label: string;
  readonly type: string;
  readonly model: string;
  readonly chipId: string;
  readonly release: string;
  readonly lines: readonly string[];
  /** Oldest first. */
  readonly readouts: readonly DemoReadout[];
  /** Why a person keeps it on the ground. */
  readonly grounded?: string;
  readonly mountQuarters?: number;
  /** What was done to its board before it came to the bench. */
  readonly ailment?: Ailment;
  /** Bay that its board lies in at the start; else it lies on the shelf. */
  readonly bay?: number;
  /** What is fitted beside its board, as the register holds it. */
  readonly fitted?: readonly PartMount[];
  /** Nobody has read them out yet. */
  readonly unreadParts?: true;
  /** What its other parts really are and run, by their kind, in the order of their places. */
  readonly runs?: Readonly<Record<string, readonly DemoPart[]>>;
}

/** A part as it came out of its bag, and what somebody set on it. */
export interface DemoPart {
  readonly release: string;
  readonly target: string;
  readonly values?: Readonly<Record<string, Value>>;
  /** What is written to its firmware does not stay. */
  readonly worn?: true;
}

const CONTROLLERS = "speed controllers";
/** Four controllers: alternate ways of turning, each with its number. */
const four = (
  one: DemoPart,
  otherwise: Readonly<Record<number, Partial<DemoPart>>> = {},
): Record<string, DemoPart[]> => ({
  [CONTROLLERS]: [1, 2, 3, 4].map((no) => {
    const turning = no === 1 || no === 4 ? "with-clock" : "against-clock";
    const { values, ...rest } = otherwise[no] ?? {};
    return { ...one, ...rest, values: { "turning way": turning, serial: no, ...one.values, ...values } };
  }),
});
const SEDGE_CONTROLLERS: readonly PartMount[] = [
  {
    part: CONTROLLERS,
    title: "speed controller",
    places: ["front left", "front right", "rear left", "rear right"],
    target: "RIDGE-35",
    supply: "battery",
  },
];
const BULRUSH_CONTROLLER: readonly PartMount[] = [
  { part: CONTROLLERS, title: "speed controller", places: ["pusher"], target: "RIDGE-35", supply: "battery" },
];
/** Two batteries share the load: neighbouring arms hang on different ones. */
const TEASEL_CONTROLLERS: readonly PartMount[] = [
  {
    part: CONTROLLERS,
    title: "speed controller",
    places: ["front left", "front right", "middle left", "middle right", "rear left", "rear right"],
    target: "RIDGE-35",
    supply: ["battery", "second battery", "second battery", "battery", "battery", "second battery"],
  },
];
const TEASEL_RUNS: readonly DemoPart[] = [1, 2, 3, 4, 5, 6].map((no) => ({
  release: "spindle-45",
  target: "RIDGE-35",
  values: { "turning way": no % 2 === 1 ? "with-clock" : "against-clock", serial: no, "lead angle": 18 },
}));
const SEDGE_RUNS: DemoPart = { release: "spindle-44", target: "RIDGE-35", values: { "lead angle": 20, voice: 60 } };

/** Boards that belong to no aircraft yet, as they came from their makers. */
export const DEMO_NEW_BOARDS: readonly Pick<DemoAircraft, "model" | "chipId" | "release">[] = [
  { model: "corsley-slate", chipId: "4A17-0C31-5E90", release: "heddle-22" },
  // without USB of its own: console and serial loader share one line
  { model: "pellow-rill", chipId: "2D90-4411-0B6F", release: "bobbin-40" },
];

/** Boards that came in without a word, or lie in a drawer: what is written on the bag they are in, and what was done to them. */
export interface DemoStray extends Pick<DemoAircraft, "model" | "chipId" | "release" | "mountQuarters" | "bay"> {
  readonly label: string;
  readonly ailment?: Ailment;
  /** Firmware that was written to it, though it is for another board. */
  readonly firmwareOf?: string;
}

export const DEMO_STRAYS: readonly DemoStray[] = [
  {
    label: "From a drawer, nobody knows whose",
    model: "corsley-slate",
    chipId: "5B20-0A11-7C33",
    release: "heddle-22",
    // it came out of a Sedge, and goes into one
    mountQuarters: 1,
    ailment: "disarmed",
    bay: 5,
  },
  {
    label: "Handed in, “all erased by mistake”",
    model: "corsley-slate",
    chipId: "4A17-0C3C-22D1",
    release: "heddle-22",
    ailment: "emptied",
  },
  {
    label: "Handed in, “twitches, no attitude”",
    model: "tamsin-reed-a",
    chipId: "71D0-7B01-0E55",
    release: "heddle-22",
    firmwareOf: "TREED-B",
  },
  {
    label: "Handed in, “dead after the update”",
    model: "fenwright-harrow-2",
    chipId: "4A17-0D02-6B18",
    release: "heddle-22",
    firmwareOf: "TMOTE",
  },
  {
    label: "Handed in, “lies on its side since the rain”",
    model: "pellow-weir",
    chipId: "9C40-0B07-31AA",
    release: "weft-9",
    ailment: "silent-part",
  },
];

/** Whose newest complete read-out a type is held against. */
export const DEMO_STANDARDS: readonly { readonly type: string; readonly tag: string; readonly note: string }[] = [
  { type: "Sedge", tag: "QW-02", note: "As flown since the spring survey" },
  { type: "Warbler", tag: "QW-06", note: "Tuned in the culverts" },
  { type: "Bulrush", tag: "QW-09", note: "As mapped last year" },
  { type: "Teasel", tag: "QW-13", note: "With the sampler fitted" },
];

const sedge = (no: string, rest: Partial<DemoAircraft> & Pick<DemoAircraft, "chipId" | "readouts">): DemoAircraft => ({
  tag: `QW-${no}`,
  label: "",
  type: "Sedge",
  model: "corsley-slate",
  release: "heddle-22",
  mountQuarters: 1,
  lines: SEDGE_22,
  fitted: SEDGE_CONTROLLERS,
  runs: four(SEDGE_RUNS),
  ...rest,
});

const SEDGES: readonly DemoAircraft[] = [
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
    readouts: [
      { daysAgo: 96, kind: "recite", before: ["use battery 1", "put battery.low 33", "put return.height 35"] },
      {
        daysAgo: 54,
        kind: "recite",
        before: ["use battery 1", "put battery.low 34"],
        note: "The cells sag in the cold mornings: warns at 3.4 V a cell from now on.",
      },
      { daysAgo: 12, kind: "recite", before: ["put return.height 40"] },
    ],
  }),
  sedge("03", {
    label: "Reed bed maps",
    chipId: "4A17-0C25-0D41",
    release: "heddle-23",
    lines: [...SEDGE_23, ...calibrated("-0.31", "0.02", "0.1"), 'put aircraft.label "QW-03"', "put aircraft.number 3"],
    readouts: [
      { daysAgo: 38, kind: "recite", before: ["put return.height 50"], note: "First flown on Heddle 23." },
      { daysAgo: 3, kind: "recite", before: ["put return.height 40"] },
    ],
  }),
  sedge("04", {
    // one came back from its maker as it left it
    runs: four(SEDGE_RUNS, { 3: { release: "spindle-41", values: { "lead angle": 15 } } }),
    label: "Water gauges, east",
    chipId: "4A17-0C25-1177",
    lines: [...SEDGE_22, ...calibrated("0.11", "0.40", "1.2"), 'put craft.label "QW-04"', "put craft.number 4"],
    readouts: [
      { daysAgo: 90, kind: "recite" },
      {
        daysAgo: 58,
        kind: "recite",
        before: [
          "use feel 1",
          "put roll.turn-rate 7.85",
          "put roll.bend 0.55",
          "use tune 1",
          "put pitch.hold-strength 52",
        ],
        note: "Livelier in roll, as the pilot wished. Receiver moved to the other side of the frame.",
      },
      {
        daysAgo: 41,
        kind: "recite",
        before: [
          "put gyro.smoothing 95",
          "put failsafe.after 3.0",
          "put fence.height 0",
          "row ports 4 use=telemetry speed=115200",
          "row switches 3 does=hold-place channel=7 from=1500 to=2100",
          "use tune 2",
        ],
        note: "Telemetry radio on port 4: yellow to pad T4, green to pad R4.",
      },
    ],
  }),
  sedge("05", {
    // one was replaced by what lay in the drawer
    runs: four(SEDGE_RUNS, { 2: { target: "RIDGE-20" } }),
    label: "Spare",
    unreadParts: true,
    chipId: "4A17-0C2A-7C08",
    lines: [...SEDGE_22, ...calibrated("0.02", "-0.05", "-0.2"), 'put craft.label "QW-05"', "put craft.number 5"],
    readouts: [{ daysAgo: 30, kind: "reciteMoved" }],
  }),
];

/** What was another on a Warbler at its first read-out, and how it came to be as it is. */
const WARBLER_CHANGES = [
  { first: ["use battery 1", "put battery.capacity 650"], then: ["use battery 1", "put battery.capacity 850"] },
  { first: [], then: [] },
  { first: ["put gyro.smoothing 90"], then: ["put gyro.smoothing 105"] },
] as const;

const WARBLERS: readonly DemoAircraft[] = ["06", "07", "08"].map((no, i): DemoAircraft => {
  const special = no === "08";
  return {
    tag: `QW-${no}`,
    label: ["Culverts", "Bird hides", "Culverts, reserve"][i] ?? "",
    type: "Warbler",
    model: special ? "pellow-sluice-special" : "tamsin-mote",
    chipId: ["71D0-5E03-AA14", "71D0-5E03-AA52", "4A18-5E04-0B9C"][i] ?? "",
    release: special ? "heddle-22-pellow" : "heddle-22",
    runs: four({ release: "spindle-44", target: "RIDGE-20" }, no === "07" ? { 4: { worn: true } } : {}),
    lines: [
      ...WARBLER,
      `put craft.label "QW-${no}"`,
      ...(special ? ["put gyro.smoothing 105", "put lights.count 6"] : []),
      // hides stand over water: it keeps its height by the ground sensor
      ...(no === "07" ? ["put ground.fitted yes", "put ground.most 12"] : []),
    ],
    readouts: [
      { daysAgo: 60 + 9 * i, kind: "recite", before: WARBLER_CHANGES[i]?.first ?? [] },
      { daysAgo: [5, 8, 27][i] ?? 5, kind: "recite", before: WARBLER_CHANGES[i]?.then ?? [] },
    ],
    ...(special ? { grounded: "Waits for a new propeller guard" } : {}),
  };
});

const BULRUSHES: readonly DemoAircraft[] = ["09", "10", "11", "12"].map((no, i): DemoAircraft => {
  const old = no === "12";
  return {
    tag: `QW-${no}`,
    label: ["Maps, north", "Maps, south", "Maps, reserve", "Training"][i] ?? "",
    type: "Bulrush",
    model: "fenwright-gull",
    chipId: `71D0-6A0${i}-1${i}F3`,
    release: old ? "treadle-71" : "treadle-80",
    lines: [
      ...(old ? BULRUSH_71 : BULRUSH_80),
      "[general identity]",
      `Name shown to the pilot: "QW-${no}"`,
      ...(no === "10" ? ["[general navigation]", "Cruise speed: 18,0 m/s", "Picture every: 12 m"].slice(0, 2) : []),
    ],
    readouts: [
      { daysAgo: 120 - 9 * i, kind: "recite" },
      { daysAgo: [9, 16, 22, 77][i] ?? 9, kind: "recite" },
    ],
    // what it is trained on was fitted lately, and its everyday firmware does not reach it
    ...(old
      ? {
          fitted: BULRUSH_CONTROLLER,
          runs: { [CONTROLLERS]: [{ release: "spindle-41", target: "RIDGE-35", values: { "lead angle": 12 } }] },
          unreadParts: true as const,
        }
      : {}),
    ...(no === "10" ? { ailment: "half-image", bay: 4 } : no === "11" ? { ailment: "looping", bay: 6 } : {}),
  };
});

const TEASELS: readonly DemoAircraft[] = ["13", "14", "15"].map((no, i): DemoAircraft => {
  const older = no === "15";
  return {
    tag: `QW-${no}`,
    label: ["Water samples", "Water samples", "Water samples, reserve"][i] ?? "",
    type: "Teasel",
    model: "pellow-weir",
    chipId: `9C40-00${i}1-77E${i}`,
    release: older ? "weft-8" : "weft-9",
    fitted: TEASEL_CONTROLLERS,
    runs: {
      [CONTROLLERS]: TEASEL_RUNS,
      "co-processor": [{ release: older ? "pirn-4" : "pirn-5", target: "PWEIR-CO" }],
    },
    lines: [...(older ? TEASEL_8 : TEASEL_9), `put ${older ? "craft" : "aircraft"}.label "QW-${no}"`],
    readouts: [
      { daysAgo: 70 + 12 * i, kind: "recite", before: ["put winch.lower 30"] },
      { daysAgo: [6, 14, 50][i] ?? 6, kind: "recite", before: ["put winch.lower 35"] },
    ],
  };
});

export const DEMO_FLEET: readonly DemoAircraft[] = [
  ...SEDGES,
  ...WARBLERS,
  ...BULRUSHES,
  ...TEASELS,
  {
    tag: "QW-16",
    label: "Wind work",
    type: "Avocet",
    model: "corsley-spire",
    chipId: "9C40-0A00-2B19",
    release: "sley-3",
    lines: [...AVOCET, 'put craft.label "QW-16"'],
    readouts: [
      { daysAgo: 71, kind: "recite" },
      { daysAgo: 18, kind: "recite", before: ["use tune 1", "put rotor.speed.wind 1700"] },
    ],
  },
];
