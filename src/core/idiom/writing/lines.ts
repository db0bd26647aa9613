import { defaultOf, indexOf, type Firmware } from "@/core/catalog";
import { addressId, profileOf, profileScope, type ScopeId, type Value } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition/definition";
import { formWriter } from "@/core/idiom/writing/form-writer";
import type { LineWriter } from "@/core/idiom/writing/line-writer";
import { recordWriter } from "@/core/idiom/writing/record-writer";

export type { LineWriter, WrittenValue } from "@/core/idiom/writing/line-writer";

/** Writes what a console of the idiom reads, for a release. */
export function lineWriter(release: Firmware, idiom: Idiom): LineWriter {
  return idiom.style === "record" ? recordWriter(release, idiom) : formWriter(release, idiom);
}

/** Whether all profiles of a scope's kind say a value in one line: then nothing is entered before it. */
export function isAcross(write: LineWriter, release: Firmware, scope: ScopeId): boolean {
  const profile = profileOf(scope);
  if (!profile || !write.saysAcross(profile.kind)) return false;
  return release.profiles.some(({ kind, count }) => kind === profile.kind && count > 1);
}

/**
 * The lines that give one value, on a board where the other values stand or will stand as `others` says, by address: a
 * language may say those of all profiles in one line. What `others` does not hold is at its default.
 */
export function linesOfValue(
  write: LineWriter,
  release: Firmware,
  { scope, key, value }: { readonly scope: ScopeId; readonly key: string; readonly value: Value },
  area: string,
  others: ReadonlyMap<string, Value>,
): string[] {
  const profile = profileOf(scope);
  const setting = indexOf(release).settings.get(key);
  if (!profile || !setting || !isAcross(write, release, scope)) return write.set(scope, area, [{ key, value }]);
  const count = release.profiles.find(({ kind }) => kind === profile.kind)?.count ?? 1;
  const all = Array.from({ length: count }, (_, i) =>
    i + 1 === profile.number
      ? value
      : (others.get(addressId({ scope: profileScope(profile.kind, i + 1), key })) ?? defaultOf(setting, undefined)),
  );
  return write.across(profile.kind, key, all);
}
