import { planCarryover, routeBetween, routeTitle, type Plan, type SettingItem } from "@/core/carryover";
import { findTarget, indexOf, releaseTitle, type Catalogue, type Firmware, type Slot } from "@/core/catalog";
import { addressId, doubtsOf, type Configuration, type RowDoubt, type ScopeId, type ValueDoubt } from "@/core/config";
import type { Difference } from "@/core/compare/difference";
import { resolve, type Resolved, type ResolvedValue } from "@/core/compare/resolved";
import { ok, refuse, type Result } from "@/core/problem";

/** A configuration with the release that it is read by. */
export interface Compared {
  readonly configuration: Configuration;
  readonly release: Firmware;
}

/** What the other side becomes on this release: values with the sentences that explain how they came here. */
export interface Arrived {
  readonly resolved: Resolved;
  readonly why: ReadonlyMap<string, readonly string[]>;
  /** Address here → address on the release that it came from, where they are not the same. */
  readonly origin: ReadonlyMap<string, string>;
  readonly behaviour: ReadonlyMap<string, string>;
  readonly lost: readonly Difference[];
  readonly fresh: ReadonlySet<string>;
  readonly route: string | undefined;
}

export const placeText = (scope: ScopeId, key: string): string => (scope === "system" ? key : `${key} · ${scope}`);

/** What is told of a setting wherever it stands in a comparison. */
export function settingHead({ id, setting, scope }: Slot) {
  const { title, area, says, flies, belongsTo } = setting;
  return { id, kind: "setting" as const, title, place: placeText(scope, setting.key), area, says, flies, belongsTo };
}

const asItIs = ({ configuration, release }: Compared): Arrived => ({
  resolved: resolve(configuration, release),
  why: new Map(),
  origin: new Map(),
  behaviour: new Map(),
  lost: [],
  fresh: new Set(),
  route: undefined,
});

/** Carries a configuration to a release: onto the target named, else its own, else the release's first. */
export function arrive(
  side: Compared,
  to: Firmware,
  catalogue: Catalogue,
  targetName: string | undefined,
): Result<Arrived> {
  const { configuration: source, release: from } = side;
  if (from.id === to.id) return ok(asItIs(side));
  const route = routeBetween(catalogue, from, to);
  if (!route.ok) return route;
  const target = findTarget(to, targetName ?? "") ?? findTarget(to, source.identity.target ?? "") ?? to.targets[0];
  if (!target) return refuse({ code: "target-missing", message: `${releaseTitle(to)} is built for no target` });
  // full values, so that an implicit one arrives as the number that flies
  const plan = planCarryover({ source, from, to, target, route: route.value, whose: "this-board" });
  return ok(fromPlan(plan, side, to, routeTitle(from, route.value)));
}

function fromPlan(plan: Plan, side: Compared, to: Firmware, route: string): Arrived {
  const values = new Map<string, ResolvedValue>();
  const why = new Map<string, readonly string[]>();
  const behaviour = new Map<string, string>();
  const origin = new Map<string, string>();
  const fresh = new Set<string>();
  const lost: Difference[] = [];
  const open = { values: new Map<string, ValueDoubt>(), rows: new Map<string, RowDoubt>(), active: new Set<string>() };
  const index = indexOf(to);
  for (const item of plan.items) {
    if (item.kind !== "setting") continue;
    const setting = index.settings.get(keyOf(item.id));
    if (item.outcome === "retired" || item.outcome === "unknown" || !setting) {
      if (item.from?.moved && item.loss === "lost") lost.push(lostSetting(item));
      continue;
    }
    if (item.doubt) {
      open.values.set(item.id, item.doubt);
      continue;
    }
    if (item.outcome === "new-default" || !item.from) {
      fresh.add(item.id);
      continue;
    }
    const value = item.to?.value ?? item.from.value;
    const scope = scopeOf(item.id);
    values.set(item.id, {
      setting,
      scope,
      value,
      explicit: item.from.line > 0 && item.from.moved,
      line: item.from.line,
    });
    const came = addressId(item.from);
    if (came !== item.id) origin.set(item.id, came);
    const reasons = item.trail
      .filter((step) => step.effect !== "behaviour")
      .map((step) => `${step.why}${step.before === undefined ? "" : `: ${step.before} → ${step.after ?? ""}`}`);
    if (reasons.length > 0) why.set(item.id, reasons);
    if (item.behaviour !== undefined) behaviour.set(item.id, item.behaviour);
  }
  const rows = new Map<string, Resolved["rows"] extends ReadonlyMap<string, infer Row> ? Row : never>();
  for (const item of plan.items) {
    if (item.kind !== "row") continue;
    if (item.doubt !== undefined) {
      const { key, line } = item.from ?? {};
      open.rows.set(key === undefined ? item.table : `${item.table}/${key}`, {
        table: item.table,
        ...(key === undefined ? {} : { key }),
        cause: "misplaced",
        reason: item.doubt,
        raw: "",
        line: line ?? 0,
      });
    } else if (!item.to) lost.push(lostRow(item));
    else {
      const id = `${item.table}/${item.to.key}`;
      rows.set(id, {
        table: item.table,
        key: item.to.key,
        cells: item.to.cells,
        line: item.from?.line ?? 0,
        explicit: true,
      });
      if (item.trail.length > 0)
        why.set(
          `row ${id}`,
          item.trail.map((step) => step.why),
        );
    }
  }
  const { identity, unknown } = side.configuration;
  const active = Object.fromEntries(
    Object.entries(plan.active).filter(([kind]) => !doubtsOf(side.configuration).active.includes(kind)),
  );
  for (const kind of doubtsOf(side.configuration).active) open.active.add(kind);
  return {
    resolved: { release: to, identity, values, rows, active, unknown, open },
    why,
    origin,
    behaviour,
    lost,
    fresh,
    route,
  };
}

const keyOf = (id: string) => id.slice(id.indexOf("/") + 1);
const scopeOf = (id: string) => id.slice(0, id.indexOf("/")) as ScopeId;

const lostSetting = (item: SettingItem): Difference => ({
  id: `right ${item.from ? addressId(item.from) : item.id}`,
  kind: "setting",
  title: item.title,
  place: item.from ? placeText(item.from.scope, item.from.key) : item.id,
  area: item.area,
  says: item.says,
  flies: item.flies,
  belongsTo: "type",
  cause: "only-right",
  ...(item.from
    ? { right: { value: item.from.value, shown: item.from.shown, explicit: true, line: item.from.line } }
    : {}),
  why: item.trail.map((step) => step.why),
});

const lostRow = (item: Extract<Plan["items"][number], { kind: "row" }>): Difference => ({
  id: `right ${item.id}`,
  kind: "row",
  title: `${item.title} ${item.from?.key ?? ""}`,
  place: `table ${item.table}`,
  area: item.area,
  says: "",
  flies: item.flies,
  belongsTo: "type",
  cause: "only-right",
  why: item.trail.map((step) => step.why),
});
