import { padsOfRow, rowsOf, type Release, type ReleaseTarget } from "@/core/catalog";
import { planUpdate, type RowItem } from "@/core/carryover";
import { defaultConfiguration } from "@/core/idiom";
import { compareTargets } from "@/core/identify";
import { valueOf } from "@/core/problem";
import { demoCatalogue } from "../../demo/documents";

const catalogue = demoCatalogue();

/** Two targets of one processor in one release. */
interface Pair {
  readonly release: Release;
  readonly here: ReleaseTarget;
  readonly there: ReleaseTarget;
}

const all = [...catalogue.releases.values()];
const targets = new Map(
  all.flatMap((release) => release.targets.map((here) => [`${release.family} ${here.id}`, { release, here }])),
);
/** Each target of a family as each other of its processor in the family's newest release; wirings, not releases, are what is tried. */
const pairs: Pair[] = [...targets.values()].flatMap(({ release: { family }, here }) => {
  const release = all.findLast((each) => each.family === family);
  if (!release) return [];
  return release.targets
    .filter(({ id, processor }) => id !== here.id && processor === here.processor)
    .map((there) => ({ release, here, there }));
});

/** Everything that a board can have wired: each output drives something, each port is used, lights are on. */
function wiredUp({ release, here }: Pair) {
  const known = release.targets.some(({ id }) => id === here.id) ? release : undefined;
  const from =
    known ?? all.find(({ family, targets }) => family === release.family && targets.includes(here)) ?? release;
  const { pins } = from;
  const configuration = defaultConfiguration(from, here.id, { target: here.id, family: from.family });
  const output = pins && from.tables.find(({ name }) => name === pins.outputs.table);
  const use = output?.columns.find(({ name }) => name === pins?.outputs.use)?.type;
  const word = use?.kind === "choice" ? use.options.find((each) => !pins?.nothing.includes(each)) : undefined;
  const outputs = Object.keys(here.pads)
    .filter((pad) => !(here.pads[pad] ?? "").startsWith("port") && pins?.tables?.[pad] === undefined)
    .map((key) => ({ table: output?.name ?? "", key, cells: { [pins?.outputs.use ?? ""]: word ?? "" }, line: 1 }));
  const others = rowsOf(configuration, from).filter(({ table }) => table !== output?.name);
  const lights = Object.entries(pins?.tables ?? {}).flatMap(([pad, table]) =>
    here.pads[pad] === undefined || others.some((row) => row.table === table)
      ? []
      : [{ table, key: "1", cells: {}, line: 1 }],
  );
  return { from, pins, configuration: { ...configuration, rows: [...outputs, ...others, ...lights] } };
}

describe("a board that is to run another target's firmware", () => {
  it("there are such pairs in the demo's catalogue", () => {
    expect(pairs.length).toBeGreaterThan(4);
  });

  it.each(pairs.map((pair) => [`${pair.release.id}: ${pair.here.id} as ${pair.there.id}`, pair] as const))(
    "%s: what it has wired to a pad that is driven otherwise is a decision, and nothing else is",
    (_name, pair) => {
      const { from, pins, configuration } = wiredUp(pair);
      const plan = valueOf(planUpdate({ configuration, release: from }, pair.release, pair.there.id, catalogue));
      const served = new Set([...Object.keys(pair.here.pads), ...pair.here.ports.map((port) => `port ${port}`)]);
      const changed = new Set(compareTargets(pair.here, pair.there).pads.map(({ pad }) => pad));
      const rows = plan.items.filter((item): item is RowItem => item.kind === "row");
      for (const { table, from: place, outcome, reason } of rows) {
        if (!pins || !place || outcome === "left-out") continue;
        // a pad that the board does not have has nothing wired to it, whatever the release's own rows say
        const pads = padsOfRow(pins, pair.here, table, place.key).filter((pad) => served.has(pad));
        if (pads.length === 0) continue;
        const touches = pads.some((pad) => changed.has(pad));
        expect([table, place.key, outcome === "cannot-be-here", reason]).toEqual([table, place.key, touches, reason]);
      }
    },
  );
});
