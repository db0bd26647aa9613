import fc from "fast-check";
import {
  isAsPlanned,
  openItems,
  passesIn,
  planUpdate,
  proveRestore,
  scriptOf,
  settlePlan,
  writerFor,
  type LineAnswer,
} from "@/core/carryover";
import { layoutOf, processorOf, type Catalogue, type Release } from "@/core/catalog";
import type { Value } from "@/core/config";
import { ask, askCommand, keepSettings, sendScript } from "@/core/console";
import { idiomOf, readRecital } from "@/core/idiom";
import { lineAnswers } from "@/core/job/answers";
import { playOnTwin } from "@/core/job/twin";
import { valueOf } from "@/core/problem";
import { buildImage, linkTo, SimBoard, virtualClock } from "@/core/sim";
import { demoDocuments } from "../../demo/documents";
import { faultyConsole, type Mischief } from "../support/faulty-console";
import { madeCatalogue, nextRelease, number, releaseIn, setting, wholeRelease, writtenValues } from "../support/made";

const TARGET = { id: "T1", processor: "Nettle 20", gyro: "G", ports: [1, 2, 3, 4], pads: { M1: "timer 2 channel 1" } };
const KEYS = ["a", "b", "c", "d", "e", "f", "g", "h"] as const;

/** What becomes of one setting between two drawn releases. */
type Fate = "stays" | "renamed" | "finer" | "retired" | "behaves" | "narrower" | "locked" | "started";
const FATES: readonly Fate[] = ["stays", "renamed", "finer", "retired", "behaves", "narrower", "locked", "started"];

interface Drawn {
  readonly fates: readonly Fate[];
  readonly defaults: readonly number[];
  readonly moved: readonly number[];
  readonly values: readonly number[];
  readonly rows: readonly number[];
  readonly tune: readonly number[];
  readonly active: number;
  /** By lot for each line that carries out an item. */
  readonly mischief: readonly ("none" | Mischief["kind"])[];
}

const numbers = (n: number) => fc.array(fc.nat(100), { minLength: n, maxLength: n });
const drawn: fc.Arbitrary<Drawn> = fc.record({
  fates: fc.array(fc.constantFrom(...FATES), { minLength: KEYS.length, maxLength: KEYS.length }),
  defaults: numbers(KEYS.length),
  moved: numbers(KEYS.length),
  values: numbers(KEYS.length),
  rows: fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { maxLength: 4 }),
  tune: numbers(3),
  active: fc.integer({ min: 1, max: 3 }),
  mischief: fc.array(
    fc.oneof(
      { weight: 4, arbitrary: fc.constant("none" as const) },
      { weight: 1, arbitrary: fc.constantFrom("refuse" as const, "adjust" as const, "drop" as const) },
    ),
    { minLength: 7, maxLength: 23 },
  ),
});

const OURS = new Set(["idiom", "processor"]);
const shared = demoDocuments()
  .map(({ document }) => document)
  .filter(({ document, id }) => OURS.has(document) && !id.startsWith("section") && !id.startsWith("record"));
const model = demoDocuments().find(({ document }) => document.id === "corsley-slate")?.document;

/** Two releases of a firmware that nobody wrote, and the catalogue in which a board can run it. */
function lineage({ fates, defaults, moved }: Drawn): { catalogue: Catalogue; from: Release; to: Release } {
  const lamps = {
    ...{ name: "lamps", title: "Lamp", area: "lights", maxRows: 6, rows: [{ key: "1", cells: { level: 5 } }] },
    keys: [{ name: "lamp", title: "Lamp", type: number(1, 6), default: 1 }],
    columns: [{ name: "level", title: "Level", type: number(0, 100), default: 0 }],
  };
  const first = wholeRelease(
    "five-1",
    [
      setting("key", { switch: true }, false),
      ...KEYS.map((key, i) => setting(key, number(0, 100), defaults[i] ?? 0)),
      setting("deep", number(0, 100), 50, { scope: "tune" }),
    ],
    { targets: [TARGET], tables: [lamps] },
  );
  const rules = KEYS.flatMap((key, i): object[] => {
    switch (fates[i]) {
      case "renamed":
        return [{ rule: "rename", key, to: `${key}.new` }];
      case "finer":
        return [{ rule: "rescale", key, factor: 10, why: "Counted finer." }];
      case "retired":
        return [{ rule: "retire", key, why: "Not any more." }];
      case "behaves":
        return [{ rule: "behaviour", key, why: "Means more now." }];
      default:
        return [];
    }
  });
  const change = KEYS.flatMap((key, i): object[] => {
    switch (fates[i]) {
      case "finer":
        return [{ key, type: number(0, 1000), default: 10 * (moved[i] ?? 0) }];
      case "narrower":
        return [{ key, type: number(0, 60), default: Math.min(60, moved[i] ?? 0) }];
      case "locked":
        return [{ key, wants: { key: "key", is: true } }];
      case "started":
        return [{ key, wants: { key: "key", is: true, sinceStart: true } }];
      case "stays":
        return [{ key, default: moved[i] ?? 0 }];
      default:
        return [];
    }
  });
  const catalogue = madeCatalogue(
    ...shared,
    { ...model, id: "test-board", target: "T1", parts: [] },
    first,
    nextRelease("five-2", "five-1", rules, { change }),
  );
  return { catalogue, from: releaseIn(catalogue, "five-1"), to: releaseIn(catalogue, "five-2") };
}

function restoreOf(each: Drawn) {
  const { catalogue, from, to } = lineage(each);
  const source = writtenValues(
    {
      ...Object.fromEntries(KEYS.map((key, i): [string, Value] => [key, each.values[i] ?? 0])),
      ...Object.fromEntries(each.tune.map((value, i): [string, Value] => [`tune ${i + 1}/deep`, value])),
    },
    {
      identity: { family: from.family, release: from.version, target: "T1" },
      rows: each.rows.map((key, i) => ({ table: "lamps", key: String(key), cells: { level: 10 * i + 1 }, line: 1 })),
      active: { tune: each.active },
    },
  );
  const plan = valueOf(planUpdate({ configuration: source, release: from }, to, "T1", catalogue));
  const decisions = Object.fromEntries(openItems(plan, {}).map(({ id, choices }) => [id, choices[0]?.id ?? ""]));
  const document = catalogue.idioms.get(to.idiom);
  if (!document) throw new Error(to.idiom);
  const idiom = idiomOf(document);
  const script = scriptOf(valueOf(settlePlan(plan, decisions, to)), to, writerFor(to, idiom));
  return { catalogue, to, plan, decisions, idiom, script };
}

type Restore = ReturnType<typeof restoreOf>;

/** Plays a restore on a board that does mischief to the lines of some items; gives the proof of what it holds then. */
async function played(
  { catalogue, to, plan, decisions, idiom, script }: Restore,
  mischief: ReadonlyMap<string, Mischief>,
) {
  const kind = catalogue.models.get("test-board");
  const [target] = to.targets;
  if (!kind || !target) throw new Error("no board");
  const board = new SimBoard({ model: kind, chipId: "T", firstPort: 1 }, catalogue);
  board.manufacture(buildImage(to, target, processorOf(catalogue, target.processor), layoutOf(catalogue, to)));
  const link = linkTo(board, virtualClock());
  const woken = async () => {
    while (link.presence().kind !== "console") await link.clock.waitUntil(link.clock.nowUs() + 100_000);
    valueOf(await ask(link.console, idiom.words.quiet ?? "", idiom, 2_000));
  };
  board.plug(link.clock.nowUs());
  await woken();
  const port = faultyConsole(link.console, (line) => mischief.get(line));
  const answers: LineAnswer[] = [];
  for (const { lines, from } of passesIn(script)) {
    // each line on its own: how they are paced is not what is asked here
    const sent = await sendScript(port, lines, idiom, { windowBytes: 1, quietUs: 1_000_000, maxRestarts: 40 });
    expect(sent.problem).toBeUndefined();
    answers.push(...lineAnswers(sent, from));
    valueOf(await keepSettings(link.console, idiom));
    valueOf(await askCommand(link.console, idiom, "restart"));
    await link.clock.waitUntil(link.clock.nowUs() + 100_000);
    await woken();
  }
  const reply = valueOf(await askCommand(link.console, idiom, "recite"));
  const read = valueOf(readRecital(new TextDecoder().decode(reply.raw), idiom, catalogue));
  return proveRestore({ release: to, plan, decisions, script, answers, readBack: read.configuration });
}

describe("a restore of a firmware that nobody wrote", () => {
  it("on a sound board the proof is the plan, and so is its twin", async () => {
    await fc.assert(
      fc.asyncProperty(drawn, async (each) => {
        const restore = restoreOf(each);
        const proof = await played(restore, new Map());
        expect(proof.values.filter((value) => !isAsPlanned(value))).toEqual([]);
        expect(proof.activeAsPlanned).toBe(true);
        const { plan, decisions, script } = restore;
        const input = { releaseId: "five-2", target: "T1", modelId: "test-board", plan, decisions, script };
        const twin = valueOf(await playOnTwin(input, restore.catalogue));
        expect([twin.otherwise, twin.activeAsPlanned, twin.took]).toEqual([[], true, proof.counts.took]);
      }),
      { numRuns: 15 },
    );
  }, 120_000);

  it("on one that refuses, adjusts and loses lines, the proof names what came out otherwise, and nothing else", async () => {
    await fc.assert(
      fc.asyncProperty(drawn, async (each) => {
        const restore = restoreOf(each);
        const done = new Map<string, Mischief["kind"]>();
        const mischief = new Map<string, Mischief>();
        restore.script.forEach(({ text, itemId }, i) => {
          const what = each.mischief[i % each.mischief.length] ?? "none";
          // settings of the system alone: their lines are told apart by their text
          if (what === "none" || !itemId?.startsWith("system/") || itemId === "system/key") return;
          const [word = "", key = "", value = ""] = text.split(" ");
          if (what === "adjust")
            mischief.set(text, { kind: what, line: `${word} ${key} ${value === "0" ? "1" : "0"}` });
          else mischief.set(text, { kind: what });
          done.set(itemId, what);
        });
        const proof = await played(restore, mischief);
        for (const value of proof.values) {
          const what = done.get(value.id);
          if (what === undefined || what === "drop") {
            expect([value.id, what, value.result, isAsPlanned(value)]).toEqual([value.id, what, value.result, true]);
            continue;
          }
          // what was refused may stand as planned all the same: the wiped board holds it
          if (isAsPlanned(value)) expect([value.id, what]).toEqual([value.id, "refuse"]);
          else expect([value.id, value.result]).toEqual([value.id, what === "refuse" ? "refused" : "adjusted"]);
        }
        expect(proof.activeAsPlanned).toBe(true);
      }),
      { numRuns: 15 },
    );
  }, 120_000);
});
