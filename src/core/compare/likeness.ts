import { addressId, equalValues, profileScope } from "@/core/config";
import { assign } from "@/core/compare/assign";
import type { Resolved, ResolvedValue } from "@/core/compare/resolved";

/** How many settings of two profiles differ. */
function unlikeness(left: Resolved, right: Resolved, kind: string, mine: number, theirs: number): number {
  let odd = 0;
  for (const setting of left.release.settings) {
    if (setting.scope !== kind) continue;
    const a = left.values.get(addressId({ scope: profileScope(kind, mine), key: setting.key }));
    const b = right.values.get(addressId({ scope: profileScope(kind, theirs), key: setting.key }));
    if (!a || !b || !equalValues(a.value, b.value, setting.type)) odd++;
  }
  return odd;
}

/** Holds each profile of the left against the one of the right that is most like it; equals stay with their number. */
export function matchProfiles(left: Resolved, right: Resolved): { renumbered: Resolved; notes: string[] } {
  const notes: string[] = [];
  const values = new Map(right.values);
  const doubts = new Map(right.open.values);
  const active: Record<string, number> = { ...right.active };
  for (const { kind, count } of left.release.profiles) {
    const numbers = Array.from({ length: count }, (_, i) => i + 1);
    const found = assign(
      numbers.map((mine) =>
        numbers.map((theirs) => unlikeness(left, right, kind, mine, theirs) + (mine === theirs ? 0 : 0.01)),
      ),
    );
    const partner = new Map(found.map((column, i) => [i + 1, column + 1]));
    if ([...partner].every(([mine, theirs]) => mine === theirs)) continue;
    for (const [mine, theirs] of partner) {
      if (mine !== theirs) notes.push(`${kind} ${theirs} of the right is held against ${kind} ${mine} of the left`);
      for (const setting of left.release.settings.filter((s) => s.scope === kind)) {
        const there = addressId({ scope: profileScope(kind, theirs), key: setting.key });
        const scope = profileScope(kind, mine);
        const here = addressId({ scope, key: setting.key });
        const from = right.values.get(there);
        const moved: ResolvedValue | undefined = from && { ...from, scope };
        if (moved) values.set(here, moved);
        else values.delete(here);
        const doubt = right.open.values.get(there);
        if (doubt) doubts.set(here, { ...doubt, scope });
        else doubts.delete(here);
      }
    }
    const inUse = [...partner].find(([, theirs]) => theirs === (right.active[kind] ?? 1))?.[0];
    if (inUse !== undefined) active[kind] = inUse;
  }
  return { renumbered: { ...right, values, active, open: { ...right.open, values: doubts } }, notes };
}
