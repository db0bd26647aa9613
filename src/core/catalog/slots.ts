import { scopesOf } from "@/core/catalog/catalogue";
import { type Release, type SettingDefinition } from "@/core/catalog/release";
import { addressId, type Configuration, type ScopeId } from "@/core/config";

/** One place for a value: a setting in a scope. */
export interface Slot {
  readonly id: string;
  readonly setting: SettingDefinition;
  readonly scope: ScopeId;
}
const slots = new WeakMap<Release, readonly Slot[]>();

/** Every address of a release, in its order; made once for each release object. */
export function slotsOf(release: Release): readonly Slot[] {
  let known = slots.get(release);
  if (!known) {
    known = release.settings.flatMap((setting) =>
      scopesOf(release, setting).map((scope) => ({ id: addressId({ scope, key: setting.key }), setting, scope })),
    );
    slots.set(release, known);
  }
  return known;
}

const places = new WeakMap<Release, ReadonlyMap<string, number>>();

/** Where each address stands among the release's slots. */
export function placesOf(release: Release): ReadonlyMap<string, number> {
  let known = places.get(release);
  if (!known) places.set(release, (known = new Map(slotsOf(release).map((slot, i) => [slot.id, i]))));
  return known;
}

/** The entries of a configuration by the place of their address; of two for one address the last counts. */
export function entriesByPlace(
  configuration: Pick<Configuration, "settings">,
  release: Release,
): (Configuration["settings"][number] | undefined)[] {
  const at = placesOf(release);
  const entries = new Array<Configuration["settings"][number] | undefined>(at.size);
  for (const entry of configuration.settings) {
    const place = at.get(addressId(entry));
    if (place !== undefined) entries[place] = entry;
  }
  return entries;
}
