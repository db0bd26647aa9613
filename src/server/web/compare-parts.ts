import { findTarget, releaseTitle } from "@/core/catalog";
import { compareTwo } from "@/core/compare";
import type { PartName } from "@/core/part";
import { backupById } from "@/server/repositories/backups";
import { isSpoilt } from "@/server/repositories/blobs";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import type { Side } from "@/server/repositories/sides";
import { keptTogether } from "@/server/web/kept-together";

/** A part as one side of a comparison was read out with it; or why it was not. */
export type PartSide =
  | { readonly backupId: number; readonly firmware: string; readonly target: string; readonly sha256: string }
  | { readonly why: string };

/** One part of both sides. */
export interface PartPair {
  readonly name: PartName;
  readonly title: string;
  readonly place: string;
  readonly left: PartSide;
  readonly right: PartSide;
  /** How many of its values differ; undefined: nothing is said of it. */
  readonly differs: number | undefined;
  /** Of one release and target, with equal values; undefined: nothing is said of it. */
  readonly alike: boolean | undefined;
  /** The same in words. */
  readonly says: string;
}

export interface ComparedParts {
  /** Which part makes a difference, and which nothing is said of; empty where neither side has parts. */
  readonly sentence: string;
  readonly pairs: readonly PartPair[];
}

/** What is said of a pair: alike, how many values differ, or that nothing is known. */
function saysOfPair(alike: boolean | undefined, differs: number | undefined): string {
  if (alike === undefined) return "nothing is said of it";
  if (alike) return "alike";
  if (differs === undefined) return "no way between them";
  return differs === 1 ? "1 value" : `${differs} values`;
}

/** A part of a side. */
export interface Held {
  readonly title: string;
  readonly place: string;
  readonly side: PartSide;
}

/** What a side was read out with, by the names of its parts. */
export async function partsOfSide({ backupId }: Side): Promise<Map<PartName, Held>> {
  const found = new Map<PartName, Held>();
  if (backupId === null) return found;
  const { read, missed } = await keptTogether((await backupById(backupId)).row);
  const catalogue = await loadCatalogue();
  for (const row of read) {
    const release = catalogue.parts.get(row.release_id ?? "");
    if (row.part === null) continue;
    found.set(row.part as PartName, {
      title: release?.part ?? row.part,
      place: row.place ?? "",
      side: {
        backupId: row.id,
        firmware: release ? releaseTitle(release) : "not known",
        target: (release && findTarget(release, row.target ?? "")?.id) ?? row.target ?? "not known",
        sha256: row.sha256,
      },
    });
  }
  for (const { part, why } of missed) found.set(part.name, { title: part.part, place: part.place, side: { why } });
  return found;
}

/** What a text says; undefined where its bytes are gone or are others: then nothing is said of it. */
export const readOrGone = (sha256: string) =>
  readingOf(sha256).catch((error: unknown) => {
    if (isSpoilt(error)) return undefined;
    throw error;
  });

export const ABSENT: PartSide = { why: "Not read with it" };

async function pairOf(name: PartName, left: Held | undefined, right: Held | undefined): Promise<PartPair> {
  const { title = "", place = "" } = left ?? right ?? {};
  const sides = { left: left?.side ?? ABSENT, right: right?.side ?? ABSENT };
  const pair = (alike: boolean | undefined, differs?: number): PartPair => ({
    ...{ name, title, place, ...sides, alike, differs },
    says: saysOfPair(alike, differs),
  });
  if ("why" in sides.left || "why" in sides.right) return pair(undefined);
  const [mine, theirs] = [await readOrGone(sides.left.sha256), await readOrGone(sides.right.sha256)];
  if (!mine || !theirs) return pair(undefined);
  const compared = compareTwo(mine, theirs, await loadCatalogue());
  if (!compared.ok) return pair(false);
  const { differences, unsure, behaviour } = compared.value;
  const differs = differences.length;
  const same = sides.left.firmware === sides.right.firmware && sides.left.target === sides.right.target;
  return pair(same && differs + unsure.length + behaviour.length === 0, differs);
}

/** “rear left (one release against another)”: what makes the difference. */
function differenceOf({ place, left, right, differs }: PartPair): string {
  if ("why" in left || "why" in right) return place;
  const [mine, theirs] =
    left.firmware === right.firmware ? [left.target, right.target] : [left.firmware, right.firmware];
  return `${place} (${mine === theirs ? `${differs ?? "some"} ${differs === 1 ? "value" : "values"}` : `${mine} against ${theirs}`})`;
}

function sentenceOf(pairs: readonly PartPair[]): string {
  const other = pairs.filter(({ alike }) => alike === false);
  const open = pairs.filter(({ alike }) => alike === undefined);
  const said = pairs.length - open.length;
  return [
    other.length > 0 ? `Behind the boards they are not alike: ${other.map(differenceOf).join(", ")}.` : "",
    other.length === 0 && said > 0
      ? `Behind the boards ${said === 1 ? "one part is" : `${said} parts are`} alike.`
      : "",
    open.length > 0
      ? `Nothing is said of ${open.length === 1 ? "one part" : `${open.length} parts`} that a side was read out without.`
      : "",
  ]
    .filter((each) => each !== "")
    .join(" ");
}

/** What is behind the boards of two sides, part by part, by what was read out with each. */
export async function compareParts(left: Side, right: Side): Promise<ComparedParts> {
  const [mine, theirs] = [await partsOfSide(left), await partsOfSide(right)];
  const names = [...new Set([...mine.keys(), ...theirs.keys()])];
  const pairs: PartPair[] = [];
  for (const name of names) pairs.push(await pairOf(name, mine.get(name), theirs.get(name)));
  return { sentence: sentenceOf(pairs), pairs };
}
