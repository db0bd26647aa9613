import { profileOf, type ScopeId } from "@/core/config/configuration";

/** 1, 2, 3, 5 → “1–3, 5”. */
function ranges(numbers: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const n of numbers) {
    const last = runs.at(-1);
    if (last?.[1] === n - 1) last[1] = n;
    else runs.push([n, n]);
  }
  return runs.map(([a, b]) => (a === b ? String(a) : `${a}–${b}`)).join(", ");
}

/** “tune 1–3, 5; pack 2”: profiles that share a kind named once; empty for what exists once. */
export function scopesText(scopes: Iterable<ScopeId>): string {
  const byKind = new Map<string, number[]>();
  for (const scope of scopes) {
    const profile = profileOf(scope);
    if (profile) byKind.set(profile.kind, [...(byKind.get(profile.kind) ?? []), profile.number]);
  }
  return [...byKind].map(([kind, numbers]) => `${kind} ${ranges(numbers.toSorted((a, b) => a - b))}`).join("; ");
}
