import type { Firmware } from "@/core/catalog";
import { rowId, type Configuration, type ScopeId, type SettingEntry, type TableRow } from "@/core/config";
import {
  choiceOf,
  openItems,
  type Decisions,
  type LineItem,
  type Plan,
  type PlanItem,
  type RowItem,
  type SettingItem,
} from "@/core/carryover/plan";
import { ok, refuse, type Result } from "@/core/problem";

/** What becomes of one item of a plan under the decisions: the one answer that script and proof both rest on. */
export type Destined =
  | { readonly kind: "value"; readonly item: SettingItem; readonly entry: SettingEntry }
  | { readonly kind: "row"; readonly item: RowItem; readonly row: TableRow }
  | { readonly kind: "line"; readonly item: LineItem }
  /** Nothing is sent: somebody chose so, or the rules, or the releases leave no other way. */
  | { readonly kind: "left"; readonly item: PlanItem; readonly chosen: boolean }
  | { readonly kind: "gone"; readonly item: PlanItem };

export function destinedBy(plan: Plan, decisions: Decisions): Destined[] {
  const moved = new Map<string, string>();
  for (const item of plan.items) {
    const moves = choiceOf(item, decisions)?.moves;
    if (moves) moved.set(moves.itemId, moves.key);
  }
  return plan.items.map((item): Destined => {
    const choice = choiceOf(item, decisions);
    switch (item.kind) {
      case "setting": {
        const value = choice ? choice.value : item.choices.length === 0 ? item.to?.value : undefined;
        if (value !== undefined)
          return { kind: "value", item, entry: { ...addressOf(item.id), value, raw: "", line: 0 } };
        break;
      }
      case "row": {
        const place = choice ? choice.row : item.choices.length === 0 ? item.to : undefined;
        if (place) {
          const key = moved.get(item.id) ?? place.key;
          return { kind: "row", item, row: { table: item.table, key, cells: place.cells, line: 0 } };
        }
        break;
      }
      case "line":
        if (choice?.id === "send") return { kind: "line", item };
    }
    if (choice) return { kind: "left", item, chosen: true };
    return item.outcome === "left-out" ? { kind: "left", item, chosen: false } : { kind: "gone", item };
  });
}

/** What the board shall hold when the job is done, and the foreign lines that go with it. */
export interface Settled {
  readonly configuration: Configuration;
  readonly lines: readonly { readonly text: string; readonly scope: ScopeId; readonly itemId: string }[];
}

/** The configuration that a plan and its decisions make. Refuses while a decision is open, or when two make the same row. */
export function settlePlan(plan: Plan, decisions: Decisions, release: Firmware): Result<Settled> {
  const open = openItems(plan, decisions);
  if (open.length > 0)
    return refuse({
      code: "plan-open",
      message: `${open.length} ${open.length === 1 ? "decision is" : "decisions are"} open`,
      detail: open
        .slice(0, 6)
        .map((item) => item.title)
        .join("; "),
      hint: "Take them on the plan; the job waits",
    });
  const destined = destinedBy(plan, decisions);
  const settings = destined.flatMap((each) => (each.kind === "value" ? [each.entry] : []));
  const rows = destined.flatMap((each) => (each.kind === "row" ? [each.row] : []));
  const lines = destined.flatMap((each) =>
    each.kind === "line" ? [{ text: each.item.from.text, scope: each.item.from.scope, itemId: each.item.id }] : [],
  );
  const twice = rows.find((row, i) => rows.some((other, j) => j < i && rowId(other) === rowId(row)));
  if (twice)
    return refuse({
      code: "plan-rows",
      message: `Two decisions put a row on ${twice.table} ${twice.key}`,
      hint: "Choose another place for one of them",
    });
  const identity = { family: release.family, release: release.version, target: plan.to.target };
  return ok({ configuration: { identity, settings, rows, active: plan.active, unknown: [] }, lines });
}

function addressOf(id: string): { scope: ScopeId; key: string } {
  const slash = id.indexOf("/");
  return { scope: id.slice(0, slash) as ScopeId, key: id.slice(slash + 1) };
}
