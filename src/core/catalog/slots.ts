import { scopesOf } from "@/core/catalog/definition";
import type { SettingDefinition } from "@/core/catalog/definition";
import type { Firmware } from "@/core/catalog/release";
import { addressId, type Configuration, type ScopeId } from "@/core/config";

/** One place for a value: a setting in a scope. */
export interface Slot {
  readonly id: string;
  readonly setting: SettingDefinition;
  readonly scope: ScopeId;
}
const slots = new WeakMap<Firmware, readonly Slot[]>();

/** Every address of a release, in its order; made once for each release object. */
export function slotsOf(release: Firmware): readonly Slot[] {
  let known = slots.get(release);
  if (!known) {
    known = release.settings.flatMap((setting) =>
      scopesOf(release, setting).map((scope) => ({ id: addressId({ scope, key: setting.key }), setting, scope })),
    );
    slots.set(release, known);
  }
  return known;
}

const places = new WeakMap<Firmware, ReadonlyMap<string, number>>();

/** Where each address stands among the release's slots. */
export function placesOf(release: Firmware): ReadonlyMap<string, number> {
  let known = places.get(release);
  if (!known) places.set(release, (known = new Map(slotsOf(release).map((slot, i) => [slot.id, i]))));
  return known;
}

const followers = new WeakMap<Firmware, Int32Array>();

/** For each place and, first, for the beginning: which place came next in the last configuration that was read. */
function followersOf(release: Firmware): Int32Array {
  let known = followers.get(release);
  if (!known) followers.set(release, (known = new Int32Array(slotsOf(release).length + 1)));
  return known;
}

/**
 * The entries of a configuration by the place of their address; of two for one address the last counts, and `onTwice` is
 * told the other. Read-outs of a
 * release give their values in one order, so the place that followed the last time is tried before an address is looked
 * up; what is found does not depend on it.
 */
export function entriesByPlace(
  configuration: Pick<Configuration, "settings">,
  release: Firmware,
  onTwice?: (earlier: Configuration["settings"][number]) => void,
): (Configuration["settings"][number] | undefined)[] {
  const slots = slotsOf(release);
  const follows = followersOf(release);
  const entries = new Array<Configuration["settings"][number] | undefined>(slots.length).fill(undefined);
  let before = 0;
  for (const entry of configuration.settings) {
    let place = follows[before] ?? 0;
    const guess = slots[place];
    if (guess?.setting.key !== entry.key || guess.scope !== entry.scope) {
      const found = placesOf(release).get(addressId(entry));
      if (found === undefined) continue;
      follows[before] = place = found;
    }
    if (onTwice !== undefined) {
      const earlier = entries[place];
      if (earlier !== undefined) onTwice(earlier);
    }
    entries[place] = entry;
    before = place + 1;
  }
  return entries;
}
