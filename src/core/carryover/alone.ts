import { indexOf, laterKeys, ruleIndex, type Firmware, type SettingDefinition } from "@/core/catalog";
import type { Hop } from "@/core/carryover/hop";

const profilesOf = (release: Firmware, scope: string): number =>
  scope === "system" ? 1 : (release.profiles.find(({ kind }) => kind === scope)?.count ?? 0);

/** Whether a setting has a value in the very same scopes on both sides of a hop. */
const scopesStay = ({ from, to }: Hop, before: SettingDefinition, after: SettingDefinition): boolean =>
  before.scope === after.scope && profilesOf(from, before.scope) === profilesOf(to, after.scope);

/** What is the same for all values of a hop; made once for each. */
const onHop = <T>(make: (hop: Hop) => T): ((hop: Hop) => T) => {
  const made = new WeakMap<Hop, T>();
  return (hop) => {
    let known = made.get(hop);
    if (known === undefined) made.set(hop, (known = make(hop)));
    return known;
  };
};

/** Settings without a rule that have not the same scopes on both sides of a hop. */
const narrowedOn = onHop((hop): ReadonlySet<string> => {
  const { from, to } = hop;
  const kinds = ["system", ...from.profiles.map(({ kind }) => kind)];
  const fewer = new Set(kinds.filter((kind) => profilesOf(to, kind) < profilesOf(from, kind)));
  return new Set(
    to.settings.flatMap(({ key, scope }) => {
      const before = indexOf(from).settings.get(key);
      return before && (before.scope !== scope || fewer.has(scope)) ? [key] : [];
    }),
  );
});

/** Whether nothing happens to a setting on a hop: no rule speaks of it, and it has the same name and scopes on both sides. */
export const stillOn = onHop((hop): ((key: string) => boolean) => {
  if (hop.by === "shared meanings") return () => false;
  const { bySetting } = ruleIndex(hop.rules);
  const later = indexOf(hop.to).settings;
  const narrowed = narrowedOn(hop);
  return (key) => !bySetting.has(key) && later.has(key) && !narrowed.has(key);
});

/** The names on the later side to which several settings of the earlier one come. */
const crowdedOn = onHop(({ from, rules }): ReadonlySet<string> => {
  const [seen, crowded] = [new Set<string>(), new Set<string>()];
  for (const { key } of from.settings)
    for (const name of laterKeys(key, rules)) {
      if (seen.has(name)) crowded.add(name);
      seen.add(name);
    }
  return crowded;
});

/** The one name that a setting has after a hop; undefined where it ends, parts, moves, or meets another. */
function oneNameAfter(key: string, hop: Hop): string | undefined {
  if (hop.by === "shared meanings") return undefined;
  const [name, ...more] = laterKeys(key, hop.rules);
  if (name === undefined || more.length > 0 || crowdedOn(hop).has(name)) return undefined;
  const [before, after] = [indexOf(hop.from).settings.get(key), indexOf(hop.to).settings.get(name)];
  return before && after && scopesStay(hop, before, after) ? name : undefined;
}

const alone = new WeakMap<readonly Hop[], ReadonlySet<string>>();

/**
 * Settings at a route's beginning whose values go the whole of it by themselves: each has one place on every release, and none
 * else comes there, whatever the values are. What becomes of such a value is known without the others.
 */
export function aloneOn(route: readonly Hop[], from: Firmware): ReadonlySet<string> {
  let keys = alone.get(route);
  if (!keys) {
    const isAlone = (key: string) => {
      let name: string | undefined = key;
      for (const hop of route) if (name !== undefined) name = oneNameAfter(name, hop);
      return name !== undefined;
    };
    keys = new Set(from.settings.flatMap(({ key }) => (isAlone(key) ? [key] : [])));
    alone.set(route, keys);
  }
  return keys;
}
