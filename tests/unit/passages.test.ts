import fc from "fast-check";
import { planUpdate, type Plan } from "@/core/carryover";
import { indexOf, type Firmware, type Release } from "@/core/catalog";
import { addressId, type Configuration, type Value } from "@/core/config";
import { valueOf } from "@/core/problem";
import { drawnLineages, type DrawnSource } from "../support/drawn-lineage";
import { buildFrom, releaseIn, writtenValues } from "../support/made";
import { releaseOf, type AccountRelease, type ReleaseDoc } from "../support/account-releases";
import type { Expected } from "../support/account-rows";
import { account } from "../support/passage-account";

const RUNS = Number(process.env.SOAK ?? 250);

const configurationOf = ({ values, rows, begun, active }: DrawnSource): Configuration =>
  writtenValues(values as Record<string, Value>, {
    rows: rows.map((row, i) => ({ ...row, line: 500 + i })),
    begun,
    active,
  });

const plain = (value: unknown) => JSON.stringify(Array.isArray(value) ? (value as unknown[]).toSorted() : value);
const sorted = (values: readonly unknown[]) => [...new Set(values.map(plain))].toSorted();

/** What the product plans, in the words of the account. */
function planned(plan: Plan, to: Firmware): Expected {
  const places: Expected["places"] = new Map();
  const ended = new Set<string>();
  const rows = new Set<string>();
  const askedRows = new Map<string, string[]>();
  for (const item of plan.items) {
    if (item.kind === "setting") {
      if ((item.outcome === "retired" || item.outcome === "unknown") && item.from) {
        ended.add(addressId(item.from));
        continue;
      }
      if (item.choices.length > 0)
        places.set(item.id, { offered: item.choices.map(({ value }) => value ?? "nothing") });
      else if (item.to) places.set(item.id, { value: item.to.value });
    } else if (item.kind === "row") {
      const columns = indexOf(to).tables.get(item.table)?.columns ?? [];
      const text = (row: { key: string; cells: Readonly<Record<string, Value>> }) => {
        const whole = Object.fromEntries(columns.map((c) => [c.name, row.cells[c.name] ?? c.default]));
        return `${item.table} ${row.key} ${JSON.stringify(Object.entries(whole).toSorted(([a], [b]) => (a < b ? -1 : 1)))}`;
      };
      const from = `${item.table} ${item.from?.key ?? ""}`;
      if (item.outcome === "left-out") askedRows.set(from, ["left"]);
      else if (item.outcome === "cannot-be-here") askedRows.set(from, ["cannot"]);
      else if (item.choices.length > 0)
        askedRows.set(
          from,
          item.choices.flatMap(({ row }) => (row ? [text(row)] : [])),
        );
      else if (item.to) rows.add(text(item.to));
    }
  }
  return { places, ended, rows, askedRows };
}

/** Every place where the two do not say the same. */
function disagreements(a: Expected, b: Expected): string[] {
  const found: string[] = [];
  for (const [id, { value, offered }] of a.places) {
    const other = b.places.get(id);
    const mine = offered ? sorted(offered).join() : plain(value);
    const theirs = other?.offered ? sorted(other.offered).join() : plain(other?.value);
    if (mine !== theirs || (offered === undefined) !== (other?.offered === undefined))
      found.push(`${id}: product ${offered ? "asks " : ""}${mine}, page ${other?.offered ? "asks " : ""}${theirs}`);
  }
  for (const id of b.places.keys()) if (!a.places.has(id)) found.push(`${id}: only the page has it`);
  const sets = (name: string, left: Iterable<string>, right: Iterable<string>) => {
    const [l, r] = [new Set(left), new Set(right)];
    for (const each of l) if (!r.has(each)) found.push(`${name} ${each}: only the product`);
    for (const each of r) if (!l.has(each)) found.push(`${name} ${each}: only the page`);
  };
  sets("ended", a.ended, b.ended);
  sets("row", a.rows, b.rows);
  const asked = (all: ReadonlyMap<string, string[]>) =>
    [...all].map(([id, each]) => `${id}: ${sorted(each).join(" or ")}`);
  sets("asked row", asked(a.askedRows), asked(b.askedRows));
  return found;
}

describe("passage rules, by the page that says what they do", () => {
  it("case C06, case C85, case C86: every value and row of drawn chains, forwards and back, is what a second account makes of it", () => {
    let [chains, refused, compared] = [0, 0, 0];
    fc.assert(
      fc.property(drawnLineages, ({ documents, sources }) => {
        chains++;
        const built = buildFrom(...(documents as readonly object[]));
        if (!built.ok) {
          refused++;
          return;
        }
        const catalogue = built.value;
        const releases: AccountRelease[] = [];
        const written = documents as readonly ReleaseDoc[];
        for (const document of written) releases.push(releaseOf(document, releases.at(-1)));
        const at = (i: number): AccountRelease => {
          const found = releases[i];
          if (!found) throw new Error("no release");
          return found;
        };
        const ids = releases.map(({ id }) => id);
        const [first, last] = [ids[0] ?? "", ids.at(-1) ?? ""];
        const restricts = JSON.stringify(documents).includes('"restrict"');
        for (const [from, to, source] of [
          [first, last, sources[0]],
          ...(restricts ? [] : ([[last, first, sources[1]]] as const)),
        ] as const) {
          const forwards = from === first;
          const destination: Release = releaseIn(catalogue, to);
          const plan = valueOf(
            planUpdate(
              { configuration: configurationOf(source), release: releaseIn(catalogue, from) },
              destination,
              "T1",
              catalogue,
            ),
          );
          const steps = releases.slice(1).map((release, i) => ({
            to: forwards ? release : at(i),
            rules: written[i + 1]?.rules ?? [],
            forwards,
          }));
          const expected = account(
            { target: "T1", processor: "P", ...source },
            at(forwards ? 0 : releases.length - 1),
            forwards ? steps : steps.toReversed(),
          );
          const mine = planned(plan, destination);
          compared += mine.places.size + mine.rows.size + mine.askedRows.size + mine.ended.size;
          expect(disagreements(mine, expected)).toEqual([]);
        }
      }),
      { numRuns: RUNS },
    );
    // a generator whose documents are mostly refused would prove little
    expect(refused / chains).toBeLessThan(0.2);
    expect(compared).toBeGreaterThan(RUNS * 20);
    if (process.env.SOAK) process.stdout.write(`${chains} chains, ${refused} refused, ${compared} values and rows\n`);
  });
});
