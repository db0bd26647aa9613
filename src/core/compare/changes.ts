import {
  alikeKey,
  planCarryover,
  routeBetween,
  routeTitle,
  type Plan,
  type PlanItem,
  type SettingItem,
} from "@/core/carryover";
import {
  findTarget,
  indexOf,
  releaseTitle,
  type Catalogue,
  type FirmwareTarget,
  type Firmware,
  type Requirement,
} from "@/core/catalog";
import { scopesText, showValue, type Configuration } from "@/core/config";
import type { Compared } from "@/core/compare/carry";
import { HOWS, type How, type ReleaseChange } from "@/core/compare/release-change";
import { rowChange, rowHow, tableChanges } from "@/core/compare/table-changes";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

export interface ReleaseChanges {
  readonly route: string;
  readonly changes: readonly ReleaseChange[];
  readonly counts: Readonly<Record<How, number>>;
  /** What other parts must run for the new release, where it is not what the old one wanted. */
  readonly requirements: readonly Requirement[];
}

const isUsed = (item: PlanItem) => item.kind !== "setting" || (item.from?.moved ?? false);

/** How a plan's item is touched; undefined when it goes over as it is. */
function howOf(item: PlanItem): How | undefined {
  if (item.kind === "line") return "lost";
  if (item.kind === "row") return rowHow(item);
  if (item.outcome === "cannot-be-here") return "blocked";
  switch (item.call) {
    case "silent":
      return "silent";
    case "behaviour":
      return "behaviour";
    case "limit":
      return "limit";
    case "several":
    case "no-counterpart":
    case "doubtful":
    case "unexplained":
      return "lost";
    case undefined:
    case "unknown-line":
      break;
  }
  switch (item.outcome) {
    case "new-default":
      return item.restricts === undefined ? "new" : "restricts";
    case "retired":
      return "retired";
    case "unknown":
      return "lost";
    case "converted":
      return "converted";
    case "renamed":
      return "renamed";
    case "limited":
      return "limit";
    case "as-it-was":
    case "left-out":
    case "your-call":
      return undefined;
  }
}

const keysOf = (item: SettingItem): string => {
  const [from, to] = [item.from?.key, item.to?.key ?? item.id.slice(item.id.indexOf("/") + 1)];
  if (from === undefined) return to;
  return item.outcome === "retired" || item.outcome === "unknown" || from === to ? from : `${from} → ${to}`;
};

function changeOf(item: PlanItem, how: How, from: Firmware, to: Firmware): ReleaseChange {
  const why = item.trail.filter((step) => step.rule !== "new").map((step) => step.why);
  if (item.kind === "line")
    return {
      id: item.id,
      how,
      title: item.title,
      place: `line ${item.from.line}`,
      area: "housekeeping",
      flies: false,
      says: "",
      why,
    };
  if (item.kind === "row") return rowChange(item, how, from, to);
  const fresh = indexOf(to).settings.get(item.id.slice(item.id.indexOf("/") + 1));
  const after =
    how === "silent"
      ? item.choices.find((choice) => choice.id === "take-default")?.shown
      : (item.to?.shown ??
        (how === "new" || how === "restricts" ? fresh && showValue(fresh.default, fresh.type) : undefined));
  return {
    id: item.id,
    how,
    title: item.title,
    place: keysOf(item),
    area: item.area,
    flies: item.flies,
    says: item.says,
    ...(item.from ? { before: item.from.shown } : {}),
    ...(after === undefined ? {} : { after }),
    why: item.restricts === undefined ? why : [`${item.restricts}.`, ...why],
  };
}

/** Ranges that became narrower though no value was touched: what can no longer be set. */
function narrowed(plan: Plan, from: Firmware, to: Firmware): ReleaseChange[] {
  return plan.items.flatMap((item): ReleaseChange[] => {
    if (item.kind !== "setting" || !item.from || item.trail.some((step) => step.effect === "converted")) return [];
    const [old, now] = [indexOf(from).settings.get(item.from.key), indexOf(to).settings.get(item.to?.key ?? "")];
    if (old?.type.kind !== "number" || now?.type.kind !== "number" || howOf(item) === "limit") return [];
    // a range that was guessed from a read-out says nothing of less
    if (now.guessed === true) return [];
    if (now.type.min <= old.type.min && now.type.max >= old.type.max) return [];
    const range = (t: typeof old.type) => `${t.min} to ${t.max}${t.unit === undefined ? "" : ` ${t.unit}`}`;
    return [
      {
        id: `range ${item.id}`,
        how: "limit",
        title: item.title,
        place: keysOf(item),
        area: item.area,
        flies: item.flies,
        says: item.says,
        before: range(old.type),
        after: range(now.type),
        why: [`${releaseTitle(to)} allows less.`],
      },
    ];
  });
}

const scopesOfItem = (item: PlanItem) =>
  item.kind === "setting" ? [item.to?.scope ?? item.from?.scope ?? "system"] : [];

/** One change for what reads alike in several profiles, with which. */
function distinct(
  plan: Plan,
  from: Firmware,
  to: Firmware,
  seen: Set<string>,
  wanted: (item: PlanItem, from: Firmware, to: Firmware) => boolean,
): ReleaseChange[] {
  const groups = new Map<string, { how: How; items: PlanItem[] }>();
  for (const item of plan.items) {
    const how = howOf(item);
    if (how === undefined || !wanted(item, from, to)) continue;
    const key = `${how} ${alikeKey(item)}`;
    if (seen.has(key)) continue;
    const group = groups.get(key);
    if (group) group.items.push(item);
    else groups.set(key, { how, items: [item] });
  }
  for (const key of groups.keys()) seen.add(key);
  return [...groups.values()].flatMap(({ how, items }) => {
    const [first] = items;
    if (!first) return [];
    const change = changeOf(first, how, from, to);
    const profiles = scopesText(items.flatMap((item) => scopesOfItem(item)));
    return [profiles === "" ? change : { ...change, place: `${change.place} · ${profiles}` }];
  });
}

const byHow = (a: ReleaseChange, b: ReleaseChange) =>
  HOWS.indexOf(a.how) - HOWS.indexOf(b.how) ||
  Number(b.flies) - Number(a.flies) ||
  (a.title < b.title ? -1 : a.title > b.title ? 1 : 0);

/** A board of this target on which nobody has set anything. */
const untouched = ({ id }: FirmwareTarget): Configuration => ({
  identity: { target: id },
  settings: [],
  rows: [],
  active: {},
  unknown: [],
});

/** Targets that both releases are built for; where there are none, those of the new one. The plainest comes first. */
function targetsOfBoth(from: Firmware, to: Firmware): FirmwareTarget[] {
  const both = to.targets.filter(({ id }) => from.targets.some((target) => target.id === id));
  const own = (id: string) => to.settings.filter(({ defaultByTarget }) => defaultByTarget?.[id] !== undefined).length;
  return (both.length > 0 ? both : to.targets).toSorted((a, b) => own(a.id) - own(b.id));
}

const isByTarget = (item: PlanItem, from: Firmware, to: Firmware): boolean =>
  item.kind === "setting" &&
  [
    indexOf(from).settings.get(item.from?.key ?? ""),
    indexOf(to).settings.get(item.to?.key ?? item.from?.key ?? ""),
  ].some((setting) => setting?.defaultByTarget !== undefined);

const onlyOn = ({ id }: FirmwareTarget, changes: readonly ReleaseChange[]): ReleaseChange[] =>
  changes.map((change) => ({ ...change, id: `${id} ${change.id}`, why: [`On ${id}.`, ...change.why] }));

/**
 * What changes between two releases along the lineage; with `used`, for that configuration only: what it has set, and
 * what it left at its default and would find moved.
 */
export function changesBetween(
  from: Firmware,
  to: Firmware,
  catalogue: Catalogue,
  used?: Compared,
): Result<ReleaseChanges> {
  const route = routeBetween(catalogue, from, to);
  if (!route.ok) return route;
  const targets = used ? [findTarget(to, used.configuration.identity.target ?? "")] : targetsOfBoth(from, to);
  const target = targets[0] ?? to.targets[0];
  if (!target) return refuse({ code: "target-missing", message: `${releaseTitle(to)} is built for no target` });
  const planFor = (source: Configuration, on: FirmwareTarget) =>
    planCarryover({ source, from, to, target: on, route: route.value, whose: "this-board" });
  const plan = planFor(used?.configuration ?? untouched(target), target);
  const quiet = new Set<How>(["converted", "renamed", "retired"]);
  const seen = new Set<string>();
  const changes = distinct(plan, from, to, seen, (item) => !used || isUsed(item) || !quiet.has(howOf(item) ?? "new"));
  if (!used) {
    for (const other of targets.slice(1))
      if (other) changes.push(...onlyOn(other, distinct(planFor(untouched(other), other), from, to, seen, isByTarget)));
    changes.push(...narrowed(plan, from, to), ...tableChanges(from, to, route.value));
  }
  changes.sort(byHow);
  const counts = Object.fromEntries(HOWS.map((how) => [how, changes.filter((c) => c.how === how).length])) as Record<
    How,
    number
  >;
  const wanted = (r: Requirement) => `${r.part} ${r.family} ${r.least} ${r.most ?? ""}`;
  const before = new Set(from.requires.map(wanted));
  return ok({
    route: routeTitle(from, route.value),
    changes,
    counts,
    requirements: to.requires.filter((requirement) => !before.has(wanted(requirement))),
  });
}

/** What a release would do to one setting of some aircraft. */
export interface Impact extends Omit<ReleaseChange, "before" | "after"> {
  readonly aircraft: readonly { readonly tag: string; readonly before?: string; readonly after?: string }[];
}

export interface FleetImpact {
  /** What other parts must run, and on which aircraft that is asked anew. */
  readonly requirements: readonly { readonly requirement: Requirement; readonly tags: readonly string[] }[];
  readonly impacts: readonly Impact[];
  readonly aircraft: readonly {
    readonly tag: string;
    readonly from: string;
    /** How many settings are touched, by how. */
    readonly counts: Readonly<Partial<Record<How, number>>>;
    readonly problem?: Problem;
  }[];
}

/** What a release would do to a fleet, before anyone flashes: silent changes first. Aircraft that run it already are left out. */
export function fleetImpact(
  fleet: readonly ({ readonly tag: string } & Compared)[],
  to: Firmware,
  catalogue: Catalogue,
): FleetImpact {
  const impacts = new Map<string, Impact & { aircraft: Impact["aircraft"][number][] }>();
  const asked = new Map(to.requires.map((requirement) => [requirement, [] as string[]]));
  const aircraft = fleet
    .filter(({ release }) => release.id !== to.id)
    .map(({ tag, release, configuration }) => {
      const from = releaseTitle(release);
      const targetName = configuration.identity.target ?? "";
      if (!findTarget(to, targetName))
        return {
          tag,
          from,
          counts: {},
          problem: {
            code: "target-missing",
            message: `${releaseTitle(to)} is not built for ${targetName || "its board"}`,
            hint: "Another release, or another board",
          },
        };
      const found = changesBetween(release, to, catalogue, { configuration, release });
      if (!found.ok) return { tag, from, counts: {}, problem: found.problem };
      for (const requirement of found.value.requirements) asked.get(requirement)?.push(tag);
      for (const { before, after, ...change } of found.value.changes) {
        const id = `${change.how} ${change.id}`;
        const impact = impacts.get(id) ?? { ...change, aircraft: [] };
        impact.aircraft.push({
          tag,
          ...(before === undefined ? {} : { before }),
          ...(after === undefined ? {} : { after }),
        });
        impacts.set(id, impact);
      }
      const counts = Object.fromEntries(Object.entries(found.value.counts).filter(([, n]) => n > 0));
      return { tag, from, counts };
    });
  return {
    requirements: [...asked].flatMap(([requirement, tags]) => (tags.length === 0 ? [] : [{ requirement, tags }])),
    impacts: [...impacts.values()].toSorted((a, b) => byHow(a, b) || b.aircraft.length - a.aircraft.length),
    aircraft,
  };
}
