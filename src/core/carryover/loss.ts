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
  type PassageRule,
  type SettingDefinition,
} from "@/core/catalog";
import { columnMeant, tableMeant } from "@/core/carryover/meaning";
import type { Hop } from "@/core/carryover/route";

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
function placesOn({ profiles }: Firmware): (setting: SettingDefinition) => number {
  const counts = new Map(profiles.map(({ kind, count }) => [kind, count]));
  return ({ scope }) => (scope === "system" ? 1 : (counts.get(scope) ?? 0));
}

const NO_CONCEPTS: Concepts = new Map();

/**
 * What a way costs at worst, before any value is known: each value of its first release once, by the worst that happens to
 * it, and its tables. Its hops added up would say more: what one loses was perhaps lost before.
 */
export function lossesOfWay(way: readonly Hop[]): Losses {
  const counts: Record<Loss, number> = { none: 0, rounding: 0, look: 0, limit: 0, lost: 0 };
  const [start] = way;
  const first = start && placesOn(start.from);
  let all = (start?.from.settings ?? []).flatMap((setting): Travelling[] =>
    first && !setting.housekeeping ? [{ settings: [setting], values: first(setting), loss: "none" }] : [],
  );
  for (const hop of way) {
    const [ends, places] = [endsOf(hop), placesOn(hop.to)];
    const concepts = hop.by === "shared meanings" ? conceptsOf(hop.to) : NO_CONCEPTS;
    all = all.flatMap((one): Travelling[] => {
      const after = one.settings.map((setting) => settingAfter(setting, hop, ends, concepts));
      const settings = after.flatMap((each) => each.settings);
      const loss = after.reduce((worst, each) => worse(worst, each.loss), one.loss);
      const values = Math.min(one.values, Math.max(0, ...settings.map(places)));
      counts.lost += one.values - values;
      return values === 0 ? [] : [{ settings, values, loss }];
    });
    for (const loss of tableLoss(hop, ends)) counts[loss]++;
  }
  for (const { loss, values } of all) counts[loss] += values;
  return counts;
}

/**
 * What one hop loses: as a way of it alone, but without following each value. Most settings have no rule and keep their
 * type: of these nothing but the count of places is looked at, for a search asks this of every passage of a lineage.
 */
function lossesOfHop(hop: Hop): Losses {
  if (hop.by === "shared meanings") return lossesOfWay([hop]);
  const counts: Record<Loss, number> = { none: 0, rounding: 0, look: 0, limit: 0, lost: 0 };
  const ends = endsOf(hop);
  const ruled = ruleIndex(hop.rules).bySetting;
  const there = indexOf(hop.to).settings;
  const [before, after] = [placesOn(hop.from), placesOn(hop.to)];
  for (const setting of hop.from.settings) {
    if (setting.housekeeping) continue;
    const values = before(setting);
    const same = ruled.has(setting.key) ? undefined : there.get(setting.key);
    const { settings, loss }: After = same
      ? { settings: [same], loss: same.type !== setting.type && narrower(setting, same) ? "limit" : "none" }
      : settingAfter(setting, hop, ends, NO_CONCEPTS);
    let most = 0;
    for (const each of settings) most = Math.max(most, after(each));
    counts[loss] += Math.min(values, most);
    counts.lost += values - Math.min(values, most);
  }
  for (const loss of tableLoss(hop, ends)) counts[loss]++;
  return counts;
}

const known = new WeakMap<readonly PassageRule[], WeakMap<Firmware, number>>();

/** The length of a hop, worked out once for each passage and direction. */
export function lengthOf(hop: Hop): number {
  let byRelease = known.get(hop.rules);
  if (!byRelease) known.set(hop.rules, (byRelease = new WeakMap()));
  let length = byRelease.get(hop.to);
  if (length === undefined) byRelease.set(hop.to, (length = costOf(lossesOfHop(hop))));
  return length;
}
