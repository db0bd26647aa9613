import {
  indexOf,
  kindOf,
  laterKeys,
  LOSSES,
  ruleIndex,
  rulesFor,
  tableOf,
  worse,
  type Firmware,
  type Loss,
  type SettingDefinition,
} from "@/core/catalog";
import { columnMeant, tableMeant } from "@/core/carryover/meaning";
import type { Hop } from "@/core/carryover/hop";

/** How many settings, table rules and tables fare how on one hop, whatever their values. */
export type Losses = Readonly<Record<Loss, number>>;

/** How much longer a way is by one of these. A hop by itself is a little: of two equal ways the shorter is taken. */
const WEIGHT: Losses = { none: 0, rounding: 0.02, look: 0.3, limit: 0.2, lost: 1 };
const HOP = 0.1;

export const costOf = (losses: Losses): number => LOSSES.reduce((sum, loss) => sum + losses[loss] * WEIGHT[loss], HOP);

/** Whether the new definition takes less than the old one, where both count in one unit. */
function narrower(before: SettingDefinition, after: SettingDefinition): boolean {
  const [a, b] = [before.type, after.type];
  // what was guessed from a read-out says nothing of less
  if (after.guessed === true) return a.kind !== b.kind;
  if (a.kind === "number" && b.kind === "number") return b.min > a.min || b.max < a.max;
  if ((a.kind === "choice" && b.kind === "choice") || (a.kind === "flags" && b.kind === "flags"))
    return !a.options.every((word) => b.options.includes(word));
  return a.kind !== b.kind;
}

type Ends = Parameters<ReturnType<typeof kindOf>["loss"]>[1];
const endsOf = ({ from, to }: Hop): Ends => ({
  before: (key) => indexOf(from).settings.get(key),
  after: (key) => indexOf(to).settings.get(key),
});

type Concepts = ReadonlyMap<string, SettingDefinition>;
const conceptsOf = (release: Firmware): Concepts =>
  new Map(release.settings.flatMap((s) => (s.concept ? [[s.concept.id, s] as const] : [])));

interface After {
  readonly settings: readonly SettingDefinition[];
  readonly loss: Loss;
}

/** What a setting becomes on a hop, and what that costs it at worst: by the rules that speak of it, and by both definitions. */
function settingAfter(setting: SettingDefinition, hop: Hop, ends: Ends, concepts: Concepts): After {
  if (hop.by === "shared meanings") {
    const after = setting.concept && concepts.get(setting.concept.id);
    return after?.type.kind === setting.type.kind
      ? { settings: [after], loss: "rounding" }
      : { settings: [], loss: "lost" };
  }
  const own = rulesFor(setting.key, hop.rules);
  const settings = laterKeys(setting.key, hop.rules).flatMap((key) => ends.after(key) ?? []);
  if (settings.length === 0) return { settings, loss: "lost" };
  const start: Loss = own.length === 0 && settings.some((after) => narrower(setting, after)) ? "limit" : "none";
  const loss = own.reduce<Loss>((worst, rule) => worse(worst, kindOf(rule).loss(rule, ends, setting.key)), start);
  return { settings, loss };
}

function tableLoss(hop: Hop, ends: Ends): Loss[] {
  if (hop.by !== "shared meanings")
    return [
      ...hop.rules.flatMap((rule) => (tableOf(rule) === undefined ? [] : [kindOf(rule).loss(rule, ends, "")])),
      ...hop.from.tables.flatMap(({ name }): Loss[] => (indexOf(hop.to).tables.has(name) ? [] : ["lost"])),
    ];
  return hop.from.tables.map((table) => {
    const there = tableMeant(table, hop.to);
    if (!there) return "lost";
    return table.columns.every((column) => columnMeant(column, there.columns)) ? "none" : "limit";
  });
}

/** Values of one setting of a way's first release, wherever they are now. */
interface Travelling {
  readonly settings: readonly SettingDefinition[];
  readonly values: number;
  readonly loss: Loss;
}

/** How many values a release keeps of a setting: one, or one for each profile of its kind. */
const placesOn = ({ profiles }: Firmware, { scope }: SettingDefinition): number =>
  scope === "system" ? 1 : (profiles.find(({ kind }) => kind === scope)?.count ?? 0);

const NO_CONCEPTS: Concepts = new Map();

/** A hop as counting needs it. Made once for each. */
interface Crossing {
  readonly hop: Hop;
  readonly ends: Ends;
  readonly concepts: Concepts;
  /** What is on the other side perhaps not what it is here, or in fewer profiles; nearly all is, and needs no further look. */
  readonly changed: ReadonlySet<SettingDefinition>;
  readonly tables: readonly Loss[];
  length?: number;
}

/**
 * A release has from its ancestor, and as the same object, what it does not change: mostly at the place where it stood. A
 * search asks this of every passage of a lineage.
 */
function changedOn({ from, to, by, rules }: Hop): Set<SettingDefinition> {
  if (by === "shared meanings") return new Set(from.settings);
  const changed = new Set<SettingDefinition>();
  for (const key of ruleIndex(rules).bySetting.keys()) {
    const ruled = indexOf(from).settings.get(key);
    if (ruled) changed.add(ruled);
  }
  for (let at = 0; at < from.settings.length; at++) {
    const setting = from.settings[at];
    if (setting && to.settings[at] !== setting && indexOf(to).settings.get(setting.key) !== setting)
      changed.add(setting);
  }
  const fewer = from.profiles.filter(
    ({ kind, count }) => (to.profiles.find((other) => other.kind === kind)?.count ?? 0) < count,
  );
  for (const { kind } of fewer) for (const setting of from.settings) if (setting.scope === kind) changed.add(setting);
  return changed;
}

const crossings = new WeakMap<Hop, Crossing>();

function crossingOf(hop: Hop): Crossing {
  let crossing = crossings.get(hop);
  if (!crossing) {
    const ends = endsOf(hop);
    const concepts = hop.by === "shared meanings" ? conceptsOf(hop.to) : NO_CONCEPTS;
    crossing = { hop, ends, concepts, changed: changedOn(hop), tables: tableLoss(hop, ends) };
    crossings.set(hop, crossing);
  }
  return crossing;
}

/** One setting's values on the other side; none where nothing is left of them. */
function across({ hop, ends, concepts }: Crossing, one: Travelling): Travelling {
  const after = one.settings.map((setting) => settingAfter(setting, hop, ends, concepts));
  const settings = after.flatMap((each) => each.settings);
  const loss = after.reduce((worst, each) => worse(worst, each.loss), one.loss);
  const places = Math.max(0, ...settings.map((setting) => placesOn(hop.to, setting)));
  return { settings, values: Math.min(one.values, places), loss };
}

/** What became of one setting's values at the end of a way. */
function atEnd(setting: SettingDefinition, values: number, route: readonly Crossing[]): Travelling {
  let one: Travelling = { settings: [setting], values, loss: "none" };
  for (const crossing of route) {
    const { changed } = crossing;
    if (one.settings.some((each) => changed.has(each))) one = across(crossing, one);
    if (one.values === 0) break;
  }
  return one;
}

const values = new WeakMap<Firmware, number>();

/** How many values a release keeps of all its settings; what is the board's own housekeeping does not travel. */
function valuesOf(release: Firmware): number {
  let count = values.get(release);
  if (count === undefined) {
    count = 0;
    for (const setting of release.settings) if (!setting.housekeeping) count += placesOn(release, setting);
    values.set(release, count);
  }
  return count;
}

/**
 * What a way costs at worst, before any value is known: each value of its first release once, by the worst that happens to
 * it, and its tables. Its hops added up would say more: what one loses was perhaps lost before.
 */
export function lossesOfRoute(route: readonly Hop[]): Losses {
  const counts: Record<Loss, number> = { none: 0, rounding: 0, look: 0, limit: 0, lost: 0 };
  const [first] = route;
  if (!first) return counts;
  const each = route.map(crossingOf);
  const own = indexOf(first.from).settings;
  const touched = new Set<SettingDefinition>();
  for (const { changed } of each)
    for (const setting of changed) if (own.get(setting.key) === setting) touched.add(setting);
  counts.none = valuesOf(first.from);
  for (const setting of touched) {
    if (setting.housekeeping) continue;
    const before = placesOn(first.from, setting);
    const end = atEnd(setting, before, each);
    counts.none -= before;
    counts[end.loss] += end.values;
    counts.lost += before - end.values;
  }
  for (const { tables } of each) for (const loss of tables) counts[loss]++;
  return counts;
}

/** The length of a hop, worked out once. */
export function lengthOf(hop: Hop): number {
  const crossing = crossingOf(hop);
  return (crossing.length ??= costOf(lossesOfRoute([hop])));
}
