import { defaultOf, indexOf, releaseTitle, ruleIndex, scopesOf, type Firmware } from "@/core/catalog";
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
import type { Hop } from "@/core/carryover/roads";
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
    active: Object.fromEntries(
      to.profiles.map(({ kind, count }) => [kind, Math.min(source.active[kindBefore(kind, input)] ?? 1, count)]),
    ),
  };
}

/** What a kind of profile was called in a family without a common ancestor: the kind with most of its meanings. */
function kindBefore(kind: string, { from, to, way }: CarryoverInput): string {
  if (from.profiles.some((each) => each.kind === kind) || !way.some(({ by }) => by === "shared meanings")) return kind;
  const meant = new Set(to.settings.flatMap(({ scope, concept }) => (scope === kind && concept ? [concept.id] : [])));
  const shares = from.profiles.map((each) => ({
    kind: each.kind,
    n: from.settings.filter(({ scope, concept }) => scope === each.kind && concept && meant.has(concept.id)).length,
  }));
  const [most] = shares.toSorted((a, b) => b.n - a.n);
  return most && most.n > 0 ? most.kind : kind;
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

/** One value through a hop by which something happens to it. */
function passOne({ origin, traveller }: Travelling, hop: Hop, active: Configuration["active"]): Travelling[] {
  const definition = indexOf(hop.from).settings.get(traveller.key);
  if (!definition) return [{ origin, traveller }];
  const travellers =
    hop.by === "shared meanings"
      ? passByMeaning(definition, traveller, hop, active)
      : passValue(definition, traveller, hop, active);
  return travellers.map((passed) => ({ origin, traveller: newerStays(passed, hop) }));
}

/**
 * All values one hop further. Those that ended stay as they are; of those that came to one place one counts there. Most
 * values of most hops have no rule and the same name before and after: they are handed on as they are.
 */
function hopAll(all: readonly Travelling[], hop: Hop, active: Configuration["active"]): Travelling[] {
  const { bySetting } = ruleIndex(hop.rules);
  const later = indexOf(hop.to).settings;
  const still: Travelling[] = [];
  const moved: Travelling[] = [];
  const ended: Travelling[] = [];
  for (const one of all) {
    const { key, retired } = one.traveller;
    if (retired !== undefined) ended.push(one);
    else if (hop.by !== "shared meanings" && !bySetting.has(key) && later.has(key)) still.push(one);
    else for (const passed of passOne(one, hop, active)) (hasEnded(passed, hop.to) ? ended : moved).push(passed);
  }
  return [...joinAll(still, moved, hop), ...ended];
}

/** Values at their places after a hop; only where one has moved can there be two. */
function joinAll(still: readonly Travelling[], moved: readonly Travelling[], hop: Hop): readonly Travelling[] {
  if (moved.length === 0) return still;
  const arrived = new Set(moved.map(({ traveller }) => traveller.key));
  const [alone, together] = [still.filter((one) => !arrived.has(one.traveller.key)), new Map<string, Travelling[]>()];
  for (const one of [...still.filter((each) => arrived.has(each.traveller.key)), ...moved]) {
    const id = addressId(one.traveller);
    const there = together.get(id);
    if (there) there.push(one);
    else together.set(id, [one]);
  }
  return [...alone, ...[...together.values()].flatMap((candidates) => joined(candidates, hop))];
}

function joined(candidates: readonly Travelling[], hop: Hop): readonly Travelling[] {
  if (candidates.length === 1) return candidates;
  const travellers = candidates.map(({ traveller }) => traveller);
  // what is not known may have been the one that counts
  const counts = candidates.find(({ origin }) => origin.doubt)?.traveller ?? joinMerged(travellers, hop.rules);
  return candidates.map((one) =>
    counts === undefined || one.traveller === counts
      ? one
      : { ...one, traveller: aside(one.traveller, counts, hop.to) },
  );
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
