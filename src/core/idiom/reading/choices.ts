import { profileScope } from "@/core/config";
import { SYSTEM, type Building } from "@/core/idiom/reading/landing";

/** A profile is chosen, by a line or by a heading: what follows belongs to it. */
export function choose(building: Building, kind: string, number: number): void {
  noteSkipped(building, kind, building.highest.get(kind), number);
  for (const before of building.highest.keys())
    if (before !== kind || number <= (building.highest.get(kind) ?? 0)) building.followed.add(before);
  building.highest.set(kind, Math.max(number, building.highest.get(kind) ?? 0));
  if (!building.followed.has(kind)) building.reached.set(kind, number);
  building.selected[kind] = number;
  building.landings = { system: SYSTEM };
  building.sure.add(kind);
  building.table = undefined;
}

/**
 * A heading stands once, or twice where a line was printed twice: a second one further on is of another read-out, and so
 * may be the first.
 */
export function noteTwice(building: Building, kind: string, number: string, prefix: string, line: number): void {
  const { vouched, headed, outOfOrderFrom, mixed } = building;
  const id = [kind, number, prefix].join("\n");
  const before = headed.get(id);
  headed.set(id, line);
  if (vouched || before === undefined || before >= line - 1) return;
  outOfOrderFrom.set(kind, 1);
  mixed.add(kind);
}

/**
 * Consoles choose each profile in turn: where a choice is left out, a stretch of the text was lost, and what stands since
 * the choice before may be of either.
 */
export function noteSkipped(building: Building, kind: string, last: number | undefined, next: number): void {
  const { brokenAt, vouched, movedOnly, skippedAfter } = building;
  if (!vouched && !movedOnly && last !== undefined && next > last + 1)
    skippedAfter.set(profileScope(kind, last), { atLine: brokenAt });
}

/** Something that is of no profile: those that were chosen so far are over. */
export function follow({ highest, followed }: Building): void {
  for (const kind of highest.keys()) followed.add(kind);
}
