import { compareThree } from "@/core/compare";
import type { PartName } from "@/core/part";
import { loadCatalogue } from "@/server/repositories/catalogue";
import type { Side } from "@/server/repositories/sides";
import { ABSENT, partsOfSide, readOrGone, type Held, type PartSide } from "@/server/web/compare-parts";

/** One part of three configurations: what it is in each, and who changed it since the base. */
export interface PartTriple {
  readonly name: PartName;
  readonly title: string;
  readonly place: string;
  readonly base: PartSide;
  readonly mine: PartSide;
  readonly theirs: PartSide;
  /** How many of its values were changed, and how many on both sides and differently; undefined: nothing is said of it. */
  readonly changed: number | undefined;
  readonly conflicts: number;
  /** They run other firmware, or are built for something else: equal values do not make them alike. */
  readonly otherBuild: boolean;
}

export interface ThreeParts {
  /** Empty where no side has parts. */
  readonly sentence: string;
  readonly triples: readonly PartTriple[];
}

async function tripleOf(name: PartName, held: Readonly<Record<"base" | "mine" | "theirs", Held | undefined>>) {
  const { title = "", place = "" } = held.mine ?? held.theirs ?? held.base ?? {};
  const [base, mine, theirs] = [held.base, held.mine, held.theirs].map((each) => each?.side ?? ABSENT) as [
    PartSide,
    PartSide,
    PartSide,
  ];
  const triple = { name, title, place, base, mine, theirs, changed: undefined, conflicts: 0, otherBuild: false };
  if ("why" in base || "why" in mine || "why" in theirs) return triple;
  const [from, here, there] = [
    await readOrGone(base.sha256),
    await readOrGone(mine.sha256),
    await readOrGone(theirs.sha256),
  ];
  if (!from || !here || !there) return triple;
  const compared = compareThree(from, here, there, await loadCatalogue());
  const otherBuild = new Set([base, mine, theirs].map(({ firmware, target }) => `${firmware} ${target}`)).size > 1;
  if (!compared.ok) return { ...triple, otherBuild };
  const items = compared.value.items.filter(({ belongsTo }) => belongsTo === "type");
  const conflicts = items.filter(({ change }) => change === "conflict").length;
  return { ...triple, otherBuild, changed: items.length, conflicts };
}

function sentenceOf(triples: readonly PartTriple[]): string {
  if (triples.length === 0) return "";
  const changed = triples.filter((each) => (each.changed ?? 0) > 0 || each.otherBuild);
  const open = triples.filter((each) => each.changed === undefined && !each.otherBuild).length;
  const unsaid = open === 0 ? "" : ` Nothing is said of ${open === 1 ? "one part" : `${open} parts`}.`;
  if (changed.length === 0)
    return open === triples.length
      ? "Of what is behind the boards nothing is said."
      : `Behind the boards nothing was changed.${unsaid}`;
  const said = changed.map(({ place, conflicts }) => (conflicts > 0 ? `${place} (on both sides)` : place));
  return `Behind the boards changed: ${said.join(", ")}.${unsaid}`;
}

/** What is behind three boards, part by part, by what was read out with each. */
export async function compareThreeParts(base: Side, mine: Side, theirs: Side): Promise<ThreeParts> {
  const [from, here, there] = [await partsOfSide(base), await partsOfSide(mine), await partsOfSide(theirs)];
  const names = [...new Set([...here.keys(), ...there.keys(), ...from.keys()])];
  const triples: PartTriple[] = [];
  for (const name of names)
    triples.push(await tripleOf(name, { base: from.get(name), mine: here.get(name), theirs: there.get(name) }));
  return { sentence: sentenceOf(triples), triples };
}
