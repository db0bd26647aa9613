import { defaultOf, indexOf, releaseTitle, scopesOf, type Firmware } from "@/core/catalog";
import { addressId, doubtsOf, equalValues, settingsByAddress, type Configuration, type Value } from "@/core/config";
import { aloneOn, stillOn } from "@/core/carryover/alone";
import { carriedItem, endedItem, lineItems, newItem, type CarryoverInput } from "@/core/carryover/items";
import { passByMeaning } from "@/core/carryover/meaning";
import { met, rivalsAt, type Meeting, type Origin, type Travelling } from "@/core/carryover/meeting";
import { endedFor, passValue, type Traveller } from "@/core/carryover/pass";
import type { Plan, SettingItem } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/hop";
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
    items: [
      ...settingItems(input),
      ...rowItems(source, from, input.route, to, target, input.whose),
      ...lineItems(source, to),
    ],
    active: Object.fromEntries(
      to.profiles.map(({ kind, count }) => [kind, Math.min(source.active[kindBefore(kind, input)] ?? 1, count)]),
    ),
  };
}

/** What a kind of profile was called in a family without a common ancestor: the kind with most of its meanings. */
function kindBefore(kind: string, { from, to, route }: CarryoverInput): string {
  if (from.profiles.some((each) => each.kind === kind) || !route.some(({ by }) => by === "shared meanings"))
    return kind;
  const meant = new Set(to.settings.flatMap(({ scope, concept }) => (scope === kind && concept ? [concept.id] : [])));
  const shares = from.profiles.map((each) => ({
    kind: each.kind,
    n: from.settings.filter(({ scope, concept }) => scope === each.kind && concept && meant.has(concept.id)).length,
  }));
  const [most] = shares.toSorted((a, b) => b.n - a.n);
  return most && most.n > 0 ? most.kind : kind;
}

const hasEnded = ({ traveller }: Travelling, release: Firmware) =>
  traveller.retired !== undefined || !indexOf(release).settings.has(traveller.key);

/** On the way back a value that no rule brought to the older release ends: it is newer than that. */
function newerStays(traveller: Traveller, hop: Hop): Traveller {
  if (hop.by !== "passage backwards" || traveller.retired !== undefined || indexOf(hop.to).settings.has(traveller.key))
    return traveller;
  return endedFor(traveller, `${releaseTitle(hop.from)} brought it; ${releaseTitle(hop.to)} does not have it`);
}

/** A value whose scope is not there after the hop ends: there are fewer profiles of its kind. */
function homeless(traveller: Traveller, hop: Hop): Traveller {
  const setting = indexOf(hop.to).settings.get(traveller.key);
  if (!setting || traveller.retired !== undefined || scopesOf(hop.to, setting).includes(traveller.scope))
    return traveller;
  return endedFor(traveller, `${releaseTitle(hop.to)} has fewer profiles of this kind`);
}

/** One value through a hop by which something happens to it; what waits with it goes the same way. */
function passOne(one: Travelling, hop: Hop, active: Configuration["active"]): Travelling[] {
  const { origin, traveller } = one;
  const definition = indexOf(hop.from).settings.get(traveller.key);
  if (!definition) return [one];
  const travellers =
    hop.by === "shared meanings"
      ? passByMeaning(definition, traveller, hop, active)
      : passValue(definition, traveller, hop, active);
  const rivals = one.rivals?.flatMap((rival) => passOne(rival, hop, active)) ?? [];
  const passed = travellers.map((each): Travelling => {
    const there = homeless(newerStays(each, hop), hop);
    const beside = rivalsAt(rivals, there);
    return { origin, traveller: there, came: traveller.key, ...(beside.length > 0 ? { rivals: beside } : {}) };
  });
  // what waited with it and ended is told by itself
  return [...passed, ...rivals.filter((rival) => hasEnded(rival, hop.to))];
}

/** One value along a way on which it meets no other. */
function along(start: Travelling, route: readonly Hop[], active: Configuration["active"]): Travelling {
  let one = start;
  for (const hop of route) {
    if (one.traveller.retired !== undefined) break;
    if (!stillOn(hop)(one.traveller.key)) one = passOne(one, hop, active)[0] ?? one;
  }
  return one;
}

interface Known {
  readonly value: Value;
  readonly end: Traveller;
}
/** What becomes of defaults that go by themselves: the same for every aircraft. By address, for the value that it was last. */
const ofDefaults = new WeakMap<readonly Hop[], Map<string, Known>>();

function defaultAlong(start: Travelling, route: readonly Hop[], active: Configuration["active"]): Travelling {
  const known = ofDefaults.get(route) ?? new Map<string, Known>();
  ofDefaults.set(route, known);
  const id = addressId(start.traveller);
  const found = known.get(id);
  if (found?.value === start.origin.value) return { origin: start.origin, traveller: found.end };
  const one = along(start, route, active);
  known.set(id, { value: start.origin.value, end: one.traveller });
  return one;
}

/** All values one hop further. Those that ended stay as they are; those that came to one place meet there. */
function hopAll(all: readonly Travelling[], hop: Hop, source: Configuration): Travelling[] {
  const isStill = stillOn(hop);
  const same: Travelling[] = [];
  const moved: Travelling[] = [];
  const ended: Travelling[] = [];
  for (const one of all) {
    const { key, retired } = one.traveller;
    if (retired !== undefined) ended.push(one);
    else if (isStill(key)) same.push(one);
    else for (const passed of passOne(one, hop, source.active)) (hasEnded(passed, hop.to) ? ended : moved).push(passed);
  }
  return [...joinAll(same, moved, { rules: hop.rules, release: hop.to, openKinds: doubtsOf(source).active }), ...ended];
}

/** Values at their places after a hop; only where one has moved can there be two. */
function joinAll(same: readonly Travelling[], moved: readonly Travelling[], meeting: Meeting): readonly Travelling[] {
  if (moved.length === 0) return same;
  const arrived = new Set(moved.map(({ traveller }) => traveller.key));
  const [alone, together] = [[] as Travelling[], new Map<string, Travelling[]>()];
  const stand = (one: Travelling) => {
    const id = addressId(one.traveller);
    const there = together.get(id);
    if (there) there.push(one);
    else together.set(id, [one]);
  };
  for (const one of same)
    if (arrived.has(one.traveller.key)) stand(one);
    else alone.push(one);
  moved.forEach(stand);
  for (const candidates of together.values()) alone.push(...met(candidates, meeting));
  return alone;
}

function settingItems(input: CarryoverInput): SettingItem[] {
  const { source, from, to, route } = input;
  const start = originsOf(source, from).map((origin): Travelling => ({
    origin,
    traveller: { scope: origin.scope, key: origin.definition.key, value: origin.value, trail: [], loss: "none" },
  }));
  const alone = aloneOn(route, from);
  let all = start.filter(({ traveller }) => !alone.has(traveller.key));
  for (const hop of route) all = hopAll(all, hop, source);
  for (const one of start)
    if (alone.has(one.traveller.key))
      all.push(one.origin.moved ? along(one, route, source.active) : defaultAlong(one, route, source.active));
  const arrived = new Map(all.filter((one) => !hasEnded(one, to)).map((one) => [addressId(one.traveller), one]));
  const carried = to.settings.flatMap((setting) =>
    scopesOf(to, setting).map((scope): SettingItem => {
      const found = arrived.get(addressId({ scope, key: setting.key }));
      return found ? carriedItem(input, setting, found) : newItem(input, setting, scope);
    }),
  );
  // a value that was to go to several places and ended in all of them is one value that ended
  const found = new Set(
    [...arrived.values()].flatMap(({ origin, rivals = [] }) => [origin, ...rivals.map((r) => r.origin)]),
  );
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
