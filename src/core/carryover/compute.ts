import { defaultOf, indexOf, releaseTitle, scopesOf, type Firmware } from "@/core/catalog";
import {
  addressId,
  doubtsOf,
  equalValues,
  isOfKind,
  settingsByAddress,
  showValue,
  type Configuration,
} from "@/core/config";
import { carriedItem, endedItem, lineItems, newItem, type CarryoverInput, type Origin } from "@/core/carryover/items";
import { passByMeaning } from "@/core/carryover/meaning";
import { endedFor, joinMerged, passValue, type Traveller } from "@/core/carryover/pass";
import type { Plan, SettingItem } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/route";
import { rowItems } from "@/core/carryover/rows";

/** Every value of the source, absent ones resolved to the default of its own release and target. */
function originsOf(source: Configuration, from: Firmware): Origin[] {
  const present = settingsByAddress(source);
  const doubts = new Map(doubtsOf(source).values.map((doubt) => [addressId(doubt), doubt]));
  return from.settings.flatMap((definition) =>
    scopesOf(from, definition).map((scope) => {
      const id = addressId({ scope, key: definition.key });
      const [entry, doubt] = [present.get(id), doubts.get(id)];
      const fallback = defaultOf(definition, source.identity.target);
      const value = entry?.value ?? doubt?.value ?? fallback;
      return {
        definition,
        scope,
        value,
        line: entry?.line ?? doubt?.line ?? 0,
        moved: doubt !== undefined || !equalValues(value, fallback, definition.type),
        ...(doubt ? { doubt } : {}),
      };
    }),
  );
}

/** The plan for carrying a configuration along a way of passages, or onto the same release. */
export function planCarryover(input: CarryoverInput): Plan {
  const { source, from, to, target } = input;
  return {
    from: { release: from.id, title: releaseTitle(from) },
    to: { release: to.id, title: releaseTitle(to), target: target.id },
    items: [...settingItems(input), ...rowItems(source, from, input.way, to, target), ...lineItems(source, to)],
    active: Object.fromEntries(to.profiles.map((p) => [p.kind, Math.min(source.active[p.kind] ?? 1, p.count)])),
  };
}

interface Travelling {
  readonly origin: Origin;
  readonly traveller: Traveller;
}

const hasEnded = ({ traveller }: Travelling, release: Firmware) =>
  traveller.retired !== undefined || !indexOf(release).settings.has(traveller.key);

/** On the way back a value that no rule brought to the older release ends: it is newer than that. */
function newerStays(traveller: Traveller, hop: Hop): Traveller {
  if (hop.by !== "passage backwards" || traveller.retired !== undefined || indexOf(hop.to).settings.has(traveller.key))
    return traveller;
  return endedFor(traveller, `${releaseTitle(hop.from)} brought it; ${releaseTitle(hop.to)} does not have it`);
}

/** All values one hop further. Those that ended stay as they are; those that a merge brought together become one. */
function hopAll(all: readonly Travelling[], hop: Hop, active: Configuration["active"]): Travelling[] {
  const passed = all.flatMap((one): Travelling[] => {
    const definition = indexOf(hop.from).settings.get(one.traveller.key);
    if (one.traveller.retired !== undefined || !definition) return [one];
    const travellers =
      hop.by === "shared meanings"
        ? passByMeaning(definition, one.traveller, hop, active)
        : passValue(definition, one.traveller, hop, active);
    return travellers.map((traveller) => ({ origin: one.origin, traveller: newerStays(traveller, hop) }));
  });
  const ended = passed.filter((one) => hasEnded(one, hop.to));
  const byAddress = new Map<string, Travelling[]>();
  for (const one of passed) {
    if (hasEnded(one, hop.to)) continue;
    const id = addressId(one.traveller);
    byAddress.set(id, [...(byAddress.get(id) ?? []), one]);
  }
  const joined = [...byAddress.values()].flatMap((candidates) => {
    const travellers = candidates.map((c) => c.traveller);
    // what is not known may have been the one that counts
    const counts = candidates.find(({ origin }) => origin.doubt)?.traveller ?? joinMerged(travellers, hop.rules);
    return candidates.map((one) =>
      counts === undefined || one.traveller === counts
        ? one
        : { ...one, traveller: aside(one.traveller, counts, hop.to) },
    );
  });
  return [...joined, ...ended];
}

/** Of several values that came to one place, one that does not count there. Nothing is lost where they are the same. */
function aside(traveller: Traveller, counts: Traveller, release: Firmware): Traveller {
  const setting = indexOf(release).settings.get(counts.key);
  if (!setting) return traveller;
  const same = isOfKind(traveller.value, setting.type) && equalValues(traveller.value, counts.value, setting.type);
  const { title, type } = setting;
  return same
    ? { ...endedFor(traveller, `Another setting brings the same to “${title}”`), loss: traveller.loss }
    : endedFor(traveller, `“${title}” has one value for several that were: ${showValue(counts.value, type)}`);
}

function settingItems(input: CarryoverInput): SettingItem[] {
  const { source, from, to, way } = input;
  let all: Travelling[] = originsOf(source, from).map((origin) => ({
    origin,
    traveller: { scope: origin.scope, key: origin.definition.key, value: origin.value, trail: [], loss: "none" },
  }));
  for (const hop of way) all = hopAll(all, hop, source.active);
  const arrived = new Map(all.filter((one) => !hasEnded(one, to)).map((one) => [addressId(one.traveller), one]));
  const carried = to.settings.flatMap((setting) =>
    scopesOf(to, setting).map((scope): SettingItem => {
      const found = arrived.get(addressId({ scope, key: setting.key }));
      return found ? carriedItem(input, setting, found.origin, found.traveller) : newItem(input, setting, scope);
    }),
  );
  // a value that was to go to several places and ended in all of them is one value that ended
  const found = new Set([...arrived.values()].map(({ origin }) => origin));
  const ended = new Map(
    all.filter((one) => hasEnded(one, to) && !found.has(one.origin)).map((one) => [one.origin, one]),
  );
  const taken = new Set(carried.map(({ id }) => id));
  return [
    ...carried,
    ...[...ended.values()].map(({ origin, traveller }) => {
      const item = endedItem(origin, traveller, to);
      return taken.has(item.id) ? { ...item, id: `left ${item.id}` } : item;
    }),
  ];
}
