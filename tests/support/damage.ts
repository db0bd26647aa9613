import fc from "fast-check";
import { isDeepStrictEqual } from "node:util";
import type { Catalogue, Release } from "@/core/catalog";
import { addressId, doubtsOf, rowId, type Configuration } from "@/core/config";
import { readRecital, reciteLines, type Extent, type Idiom, type Recital } from "@/core/idiom";

/** One line of a damaged text; `hurt` when it is not as the console printed it, or stands where it did not stand. */
interface Line {
  readonly text: string;
  readonly hurt: boolean;
}
/** What can befall a text on its way, with every place drawn. */
export type Damage =
  | { readonly kind: "lost" | "doubled" | "joined"; readonly at: number }
  | { readonly kind: "swapped"; readonly at: number; readonly with: number }
  | { readonly kind: "cut"; readonly at: number; readonly keep: number }
  | { readonly kind: "flipped"; readonly at: number; readonly byte: number; readonly bit: number }
  | { readonly kind: "gap"; readonly at: number; readonly byte: number; readonly lines: number; readonly rest: number }
  | { readonly kind: "noise"; readonly at: number; readonly text: string }
  | { readonly kind: "block"; readonly at: number; readonly from: number; readonly lines: number }
  | { readonly kind: "interleaved"; readonly at: number; readonly from: number; readonly lines: number };

const place = fc.nat(1_000_000);
export const damages: fc.Arbitrary<Damage> = fc.oneof(
  fc.record({ kind: fc.constantFrom("lost" as const, "doubled" as const, "joined" as const), at: place }),
  fc.record({ kind: fc.constant("swapped" as const), at: place, with: fc.oneof(fc.constant(1), fc.nat(200)) }),
  fc.record({ kind: fc.constant("cut" as const), at: place, keep: fc.nat(40) }),
  fc.record({ kind: fc.constant("flipped" as const), at: place, byte: place, bit: fc.nat(7) }),
  fc.record({ kind: fc.constant("gap" as const), at: place, byte: place, lines: fc.nat(60), rest: place }),
  fc.record({
    kind: fc.constant("noise" as const),
    at: place,
    text: fc.string({ maxLength: 12 }).map((t) => `${t}\0`),
  }),
  fc.record({
    kind: fc.constantFrom("block" as const, "interleaved" as const),
    at: place,
    from: place,
    lines: fc.integer({ min: 1, max: 60 }),
  }),
);

const hurt = (text: string): Line => ({ text, hurt: true });

/** The lines under a damage. `other` is another read-out, from which blocks may come. */
export function damage(lines: readonly string[], other: readonly string[], { at: drawn, ...d }: Damage): Line[] {
  const all = lines.map((text): Line => ({ text, hurt: false }));
  const at = drawn % lines.length;
  const own = lines[at] ?? "";
  const put = (count: number, ...now: Line[]) => all.splice(at, count, ...now);
  switch (d.kind) {
    case "lost":
      put(1);
      break;
    case "doubled":
      put(1, hurt(own), hurt(own));
      break;
    case "joined":
      put(2, hurt(own + (lines[at + 1] ?? "")));
      break;
    case "swapped": {
      const to = (at + d.with) % lines.length;
      all[at] = hurt(lines[to] ?? "");
      all[to] = hurt(own);
      break;
    }
    case "cut":
      put(1, hurt(own.slice(0, Math.min(d.keep, Math.max(0, own.length - 1)))));
      break;
    case "flipped": {
      const bytes = new TextEncoder().encode(own);
      const byte = d.byte % Math.max(1, bytes.length);
      if (bytes.length > 0) bytes[byte] = (bytes[byte] ?? 0) ^ (1 << d.bit);
      put(1, ...new TextDecoder().decode(bytes).split("\n").map(hurt));
      break;
    }
    case "gap": {
      // a buffer that ran over: everything from the middle of one line to the middle of another is gone
      const end = lines[at + d.lines] ?? "";
      put(d.lines + 1, hurt(own.slice(0, d.byte % (own.length + 1)) + end.slice(d.rest % (end.length + 1))));
      break;
    }
    case "noise":
      put(0, hurt(d.text));
      break;
    case "block": {
      const from = d.from % other.length;
      put(0, ...other.slice(from, from + d.lines).map(hurt));
      break;
    }
    case "interleaved": {
      const from = d.from % other.length;
      const theirs = other.slice(from, from + d.lines);
      put(theirs.length, ...all.slice(at, at + theirs.length).flatMap((line, i) => [line, hurt(theirs[i] ?? "")]));
      break;
    }
  }
  return all;
}

/** A row's heading and its cells stand in so many lines at most. */
const ROW_LINES = 10;

/** Whether the read-out itself says that it is not to be relied on, or that nothing could tell. */
const saysSo = ({ completeness }: Recital) =>
  completeness.verdict === "incomplete" || completeness.findings.some(({ look }) => look === true);

/**
 * What a damaged read-out says that is not so, and does not say of itself: values under wrong names or in wrong profiles,
 * rows that were never there, defaults that were not left alone. Empty when it keeps its word.
 */
export function lies(
  told: Configuration,
  extent: Extent,
  text: readonly Line[],
  language: { readonly idiom: Idiom; readonly release: Release; readonly catalogue: Catalogue },
): string[] {
  const { idiom, release, catalogue } = language;
  const whole = readRecital(`${reciteLines(told, release, idiom, extent).join("\n")}\n`, idiom, catalogue);
  const result = readRecital(`${text.map((line) => line.text).join("\n")}\n`, idiom, catalogue);
  // a text that is refused says nothing
  if (!whole.ok || !result.ok || result.value.release.id !== release.id) return [];
  const [before, recital] = [whole.value.configuration, result.value];
  const { configuration, completeness } = recital;
  const wasHurt = (line: number, lines = 1) => text.slice(line - 1, line - 1 + lines).some((each) => each.hurt);
  const found: string[] = [];
  const same = isDeepStrictEqual;
  const truth = new Map(before.settings.map((entry) => [addressId(entry), entry.value]));
  const certain = new Set<string>();
  // what a whole read-out lacks can be told by its structure; of moved values only the whole text can tell
  // and of several read-outs in one text, none of them whole, nothing says whose the last lines are: that is said
  const several = completeness.findings.some(({ text: says }) => says.startsWith("The text holds"));
  const excused = extent === "all" && !(several && completeness.verdict === "incomplete") ? false : saysSo(recital);
  for (const entry of configuration.settings) {
    const id = addressId(entry);
    certain.add(id);
    if (!same(truth.get(id), entry.value) && !wasHurt(entry.line) && !excused)
      found.push(`${id} is ${JSON.stringify(entry.value)}, was ${JSON.stringify(truth.get(id))}`);
  }
  const doubts = doubtsOf(configuration);
  const open = new Set(doubts.values.map(addressId));
  for (const [id, value] of truth)
    if (!certain.has(id) && !open.has(id) && !saysSo(recital))
      found.push(`${id} counts as a default, was ${JSON.stringify(value)}`);
  const rows = new Map(before.rows.map((row) => [rowId(row), row.cells]));
  for (const row of configuration.rows)
    if (!same(rows.get(rowId(row)), row.cells) && !wasHurt(row.line, ROW_LINES) && !excused)
      found.push(`row ${rowId(row)} is ${JSON.stringify(row.cells)}, was ${JSON.stringify(rows.get(rowId(row)))}`);
  if (!saysSo(recital)) {
    if (configuration.rows.length !== before.rows.length) found.push("rows are lost");
    if (!same(configuration.active, before.active)) found.push("other profiles are active");
  }
  for (const doubt of doubts.values)
    if (certain.has(addressId(doubt))) found.push(`${addressId(doubt)} is certain and in doubt`);
  // a doubt is never a ground for a rescue
  if (completeness.verdict !== "incomplete" && (doubts.values.length > 0 || doubts.rows.length > 0))
    found.push(`judged ${completeness.verdict} with doubts`);
  return found;
}
