import { defaultOf, findTarget, indexOf, scopesOf, typeOn, type Firmware, type StarterSet } from "@/core/catalog";
import {
  addressId,
  equalValues,
  FEEL_AREAS,
  limitValue,
  showValue,
  WIRING_AREAS,
  withAreas,
  type ScopeId,
  type Value,
} from "@/core/config";
import type { Plan, PlanItem, RowItem, SettingItem } from "@/core/carryover/plan";
import type { Advice, Scope, ScopeKind } from "@/core/carryover/scope";

const WHY: Readonly<Record<Exclude<ScopeKind, "everything">, string>> = {
  "without-feel": "Tune and stick feel stay behind on purpose",
  wiring: "Only wiring, airframe and calibration were to come along",
  own: "Nobody set it, and only what was set by hand was to come along",
  chosen: "It was chosen to stay behind",
};

type Placed = SettingItem | RowItem;

const belongingOf = (item: Placed, to: Firmware) =>
  item.kind === "row"
    ? indexOf(to).tables.get(item.table)?.belongsTo
    : indexOf(to).settings.get(item.to?.key ?? item.id.slice(item.id.indexOf("/") + 1))?.belongsTo;

/** The places of an item, as `leave` names them: its area, itself, its profile, its setting in all of them. */
const namesOf = (item: Placed): readonly string[] => [
  item.area,
  item.id,
  ...(item.kind === "setting" ? splitAt(item.id) : []),
];

const splitAt = (id: string) => [id.slice(0, id.indexOf("/")), id.slice(id.indexOf("/") + 1)];

/** Which of the names that shall stay behind a release does not know: they would come along in silence. */
export function unknownNames({ leave = [] }: Scope, to: Firmware): string[] {
  const known = new Set<string>([
    ...to.settings.flatMap((setting) => [
      setting.area,
      setting.key,
      ...scopesOf(to, setting).flatMap((scope) => [scope, `${scope}/${setting.key}`]),
    ]),
    ...to.tables.map(({ area }) => area),
    ...withAreas(to.areas.map(({ name }) => name)),
  ]);
  const tables = to.tables.map(({ name }) => `row ${name}/`);
  return leave.filter((name) => !known.has(name) && !tables.some((table) => name.startsWith(table)));
}

/** Somebody set it, or one of the values that came to its place. */
const isSet = ({ from, others = [] }: SettingItem) => from?.moved === true || others.some(({ moved }) => moved);

/** Whether an item stays behind. Lines that nobody understands are never dropped unseen. */
function stays(item: Placed, { kind, leave = [] }: Scope, to: Firmware): boolean {
  switch (kind) {
    case "everything":
      return false;
    case "without-feel":
      return FEEL_AREAS.has(item.area);
    case "wiring":
      return (belongingOf(item, to) ?? "type") === "type" && !WIRING_AREAS.has(item.area);
    case "own":
      return item.kind === "setting" ? !isSet(item) : (item.from?.line ?? 0) === 0;
    case "chosen":
      return namesOf(item).some((name) => leave.includes(name));
  }
}

interface Fill {
  readonly to: Firmware;
  readonly target: string;
  readonly starter: ReadonlyMap<string, Value>;
  readonly name: string | undefined;
}

const starterValues = (starter: StarterSet | undefined) =>
  new Map<string, Value>(starter?.values.map((each) => [addressId(each), each.value]));

/** What stands in a place whose value stays behind: the starter set's, else the release's default. */
function filled(item: SettingItem, why: string, { to, target, starter, name }: Fill): SettingItem {
  const [scope, key] = [item.id.slice(0, item.id.indexOf("/")), item.id.slice(item.id.indexOf("/") + 1)];
  const setting = indexOf(to).settings.get(key);
  if (!setting || setting.housekeeping) return item;
  const given = starter.get(item.id);
  const processor = findTarget(to, target)?.processor;
  const value =
    (given === undefined ? undefined : limitValue(given, typeOn(setting, processor))) ?? defaultOf(setting, target);
  const { kind, title, area, says, flies, id } = item;
  const from = given === undefined ? "its default" : `starter set ${name ?? ""}`;
  return {
    ...{ kind, title, area, says, flies, id },
    ...(item.from ? { from: item.from } : {}),
    ...(item.others ? { others: item.others } : {}),
    ...(item.restricts === undefined ? {} : { restricts: item.restricts }),
    outcome: item.from ? "left-out" : "new-default",
    ...(item.from ? { scoped: true as const } : {}),
    loss: isSet(item) && !equalValues(value, item.to?.value ?? value, setting.type) ? "lost" : "none",
    reason: item.from ? why : `From ${from}`,
    to: { scope: scope as ScopeId, key, value, shown: showValue(value, setting.type) },
    trail: [
      ...item.trail,
      {
        rule: "scope",
        why: item.from ? `${why}; it gets ${from}` : `From ${from}`,
        after: showValue(value, setting.type),
      },
    ],
    choices: [],
  };
}

/** Rows that a freshly erased board has in tables of which something stays behind. */
function erasedRows(left: readonly RowItem[], kept: readonly PlanItem[], to: Firmware): RowItem[] {
  const taken = new Set(kept.map(({ id }) => id));
  return [...new Set(left.map(({ table }) => table))].flatMap((name) => {
    const table = indexOf(to).tables.get(name);
    const [first] = left.filter((row) => row.table === name);
    if (!table || !first || kept.some((item) => item.kind === "row" && item.table === name)) return [];
    return table.rows
      .map(({ key, cells }): RowItem => {
        const why = "A freshly erased board holds it";
        const { area, flies } = first;
        const common = { kind: "row" as const, table: name, title: table.title, area, flies, choices: [] };
        return {
          ...common,
          id: `row ${name}/${key}`,
          outcome: "new-default",
          loss: "none",
          reason: why,
          to: { key, cells },
          trail: [{ rule: "new", why }],
        };
      })
      .filter(({ id }) => !taken.has(id));
  });
}

/**
 * A plan of which only a part comes along: what stays behind gets the starter set's values, else the release's defaults, and
 * so does what is new. Values that come along are sent after the starter set, so they count.
 */
export function withScope(plan: Plan, scope: Scope, to: Firmware): Plan {
  if (scope.kind === "everything" && scope.starter === undefined) return plan;
  const starter = to.starters.find(({ name }) => name === scope.starter);
  const fill: Fill = { to, target: plan.to.target, starter: starterValues(starter), name: starter?.airframe };
  const why = scope.kind === "everything" ? "" : WHY[scope.kind];
  const left: RowItem[] = [];
  const kept = plan.items.flatMap((item): PlanItem[] => {
    if (item.kind === "line") return [item];
    const leaves = stays(item, scope, to);
    if (item.kind === "row") {
      if (!leaves) return [item];
      left.push(item);
      return [];
    }
    if (item.fixed) return [item];
    if (item.outcome === "retired" || item.outcome === "unknown") return [leaves ? { ...item, choices: [] } : item];
    // what is new has no value that could come along
    return [leaves || (!item.from && fill.starter.has(item.id)) ? filled(item, why, fill) : item];
  });
  const gone = left.map((row): RowItem => ({
    kind: "row",
    table: row.table,
    title: row.title,
    area: row.area,
    flies: row.flies,
    ...(row.from ? { from: row.from } : {}),
    id: `left ${row.id}`,
    outcome: "left-out",
    scoped: true,
    loss: "lost",
    reason: why,
    trail: [...row.trail, { rule: "scope", why }],
    choices: [],
  }));
  const active = Object.fromEntries(
    Object.entries(plan.active).map(([kind, number]) => [kind, leavesKind(kind, kept) ? 1 : number]),
  );
  return { ...plan, active, items: [...kept, ...erasedRows(left, kept, to), ...gone] };
}

/** All profiles of a kind are filled: the first one is what flies then. */
const leavesKind = (kind: string, items: readonly PlanItem[]) => {
  const own = items.filter((item) => item.kind === "setting" && item.id.startsWith(`${kind} `));
  return own.length > 0 && own.every(({ outcome }) => outcome === "left-out" || outcome === "new-default");
};

/**
 * Whether nobody tuned what the aircraft flies on after a plan: of tune and stick feel, in the profiles that are active,
 * nothing came along, and no starter set stands in its place.
 */
export function isUntuned({ items, active }: Plan, scope: Scope): boolean {
  if (scope.kind === "everything" || scope.starter !== undefined) return false;
  const flown = new Set(["system", ...Object.entries(active).map(([kind, number]) => `${kind} ${number}`)]);
  const feel = items.filter(
    (item): item is SettingItem =>
      item.kind === "setting" &&
      FEEL_AREAS.has(item.area) &&
      item.to !== undefined &&
      flown.has(item.id.slice(0, item.id.indexOf("/"))),
  );
  return feel.length > 0 && feel.every(({ scoped, from }) => scoped === true || from === undefined);
}

const WORTH_IT = 0.5;

/** Advice by a plan of everything: where half of what was tuned means something else now, it is tuned anew. */
export function adviceOn({ items }: Plan, joinedByMeaning: boolean): Advice {
  const tuned = items.filter(
    (item): item is SettingItem => item.kind === "setting" && FEEL_AREAS.has(item.area) && item.from?.moved === true,
  );
  const changed = tuned.filter(({ loss }) => loss !== "none" && loss !== "rounding").length;
  const n = tuned.length;
  if (n === 0) return { scope: "everything", because: "Nothing of tune and feel was set by hand." };
  if (joinedByMeaning)
    return {
      scope: "without-feel",
      because: `Tune anew: the families have no common ancestor, so ${n === 1 ? "the value" : `the ${n} values`} of tune and feel were made for other arithmetic.`,
    };
  if (changed / n >= WORTH_IT)
    return {
      scope: "without-feel",
      because: `Tune anew: ${changed} of ${n} values of tune and feel changed meaning, were limited or have no place.`,
    };
  return {
    scope: "everything",
    because: `Tune and feel can come along: ${n - changed} of ${n} values that were set mean what they meant.`,
  };
}
