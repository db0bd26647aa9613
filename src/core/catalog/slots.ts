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

/** What entries are held against: keys and scopes side by side, so that a look at them touches no setting. */
interface Sequence {
  readonly keys: readonly string[];
  readonly scopes: readonly ScopeId[];
  /** For each place and, first, for the beginning: which place came next in the last configuration that was read. */
  readonly follows: Int32Array;
}
const sequences = new WeakMap<Firmware, Sequence>();

function sequenceOf(release: Firmware): Sequence {
  let known = sequences.get(release);
  if (!known) {
    const slots = slotsOf(release);
    known = {
      keys: slots.map(({ setting }) => setting.key),
      scopes: slots.map(({ scope }) => scope),
      follows: new Int32Array(slots.length + 1),
    };
    sequences.set(release, known);
  }
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
  const { keys, scopes, follows } = sequenceOf(release);
  const entries = new Array<Configuration["settings"][number] | undefined>(keys.length).fill(undefined);
  let before = 0;
  for (const entry of configuration.settings) {
    let place = follows[before] ?? 0;
    if (keys[place] !== entry.key || scopes[place] !== entry.scope) {
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
