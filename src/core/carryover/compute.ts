import {
  columnsOf,
  defaultOf,
  findTarget,
  indexOf,
  releaseTitle,
  scopesOf,
  type Release,
  type ReleaseTarget,
  type SettingDefinition,
} from "@/core/catalog";
import {
  addressId,
  equalValues,
  settingsByAddress,
  showValue,
  type Configuration,
  type ScopeId,
  type Value,
} from "@/core/config";
import { fitValue, joinMerged, passValue, type Traveller } from "@/core/carryover/pass";
import {
  type Choice,
  type LineItem,
  type Outcome,
  type Plan,
  type RowItem,
  type SettingItem,
  type Side,
} from "@/core/carryover/plan";
import { ok, refuse, type Result } from "@/core/problem";

export interface CarryoverInput {
  readonly source: Configuration;
  readonly from: Release;
  readonly to: Release;
  readonly target: ReleaseTarget;
  /** False when the values go onto another board than they came from: what belongs to the board then stays behind. */
  readonly sameBoard: boolean;
}

interface Origin {
  readonly definition: SettingDefinition;
  readonly value: Value;
  readonly line: number;
  readonly moved: boolean;
  readonly scope: ScopeId;
}

/** Every value of the source, absent ones resolved to the default of its own release and target. */
function originsOf(source: Configuration, from: Release): Origin[] {
  const present = settingsByAddress(source);
  return from.settings.flatMap((definition) =>
    scopesOf(from, definition).map((scope) => {
      const entry = present.get(addressId({ scope, key: definition.key }));
      const fallback = defaultOf(definition, source.identity.target);
      const value = entry?.value ?? fallback;
      return {
        definition,
        scope,
        value,
        line: entry?.line ?? 0,
        moved: !equalValues(value, fallback, definition.type),
      };
    }),
  );
}

const sideOf = (scope: ScopeId, setting: SettingDefinition, value: Value): Side => ({
  scope,
  key: setting.key,
  value,
  shown: showValue(value, setting.type),
});

/** The plan for carrying a configuration over one passage, or onto the same release. Refuses releases without a passage. */
export function planCarryover(input: CarryoverInput): Result<Plan> {
  const { source, from, to, target } = input;
  if (from.id !== to.id && to.ancestor !== from.id)
    return refuse({
      code: "no-passage",
      message: `No passage is known from ${releaseTitle(from)} to ${releaseTitle(to)}`,
      detail: `${releaseTitle(to)} descends from ${to.ancestor ?? "no release in the catalogue"}`,
      hint: "Update release by release, or import the passage rules",
    });
  return ok({
    from: { release: from.id, title: releaseTitle(from) },
    to: { release: to.id, title: releaseTitle(to), target: target.id },
    items: [...settingItems(input), ...rowItems(input), ...lineItems(source, to)],
    active: Object.fromEntries(to.profiles.map((p) => [p.kind, Math.min(source.active[p.kind] ?? 1, p.count)])),
  });
}

function settingItems(input: CarryoverInput): SettingItem[] {
  const { source, from, to, target } = input;
  const arrived = new Map<string, { origin: Origin; traveller: Traveller }[]>();
  const ended: SettingItem[] = [];
  for (const origin of originsOf(source, from)) {
    const start = { scope: origin.scope, key: origin.definition.key, value: origin.value };
    for (const traveller of passValue(origin.definition, start, {
      from,
      to,
      processor: target.processor,
      active: source.active,
    })) {
      const id = addressId(traveller);
      if (traveller.retired !== undefined || !indexOf(to).settings.has(traveller.key))
        ended.push(endedItem(origin, traveller, to));
      else arrived.set(id, [...(arrived.get(id) ?? []), { origin, traveller }]);
    }
  }
  const carried = to.settings.flatMap((setting) =>
    scopesOf(to, setting).map((scope): SettingItem => {
      const candidates = arrived.get(addressId({ scope, key: setting.key })) ?? [];
      const joined = joinMerged(
        candidates.map((c) => c.traveller),
        to,
      );
      const found = candidates.find((c) => c.traveller === joined);
      return found ? carriedItem(input, setting, found.origin, found.traveller) : newItem(input, setting, scope);
    }),
  );
  return [...carried, ...ended];
}

const base = (setting: SettingDefinition) => ({
  kind: "setting" as const,
  title: setting.title,
  area: setting.area,
  says: setting.says,
  flies: setting.flies,
});

function endedItem(origin: Origin, traveller: Traveller, to: Release): SettingItem {
  const { definition, scope, value, line, moved } = origin;
  return {
    ...base(definition),
    id: addressId({ scope, key: definition.key }),
    outcome: traveller.retired === undefined ? "unknown" : "retired",
    from: { ...sideOf(scope, definition, value), line, moved },
    trail:
      traveller.retired === undefined
        ? [{ rule: "none", why: `${releaseTitle(to)} does not have it, and no rule says why` }]
        : traveller.trail,
    choices: [],
  };
}

function newItem({ to, target }: CarryoverInput, setting: SettingDefinition, scope: ScopeId): SettingItem {
  const value = defaultOf(setting, target.id);
  return {
    ...base(setting),
    id: addressId({ scope, key: setting.key }),
    outcome: setting.housekeeping ? "left-out" : "new-default",
    ...(setting.housekeeping ? {} : { to: sideOf(scope, setting, value) }),
    trail: [
      {
        rule: "new",
        why: `New in ${releaseTitle(to)}; it starts at its default`,
        after: showValue(value, setting.type),
      },
    ],
    choices: [],
    ...(setting.restricts === undefined ? {} : { restricts: setting.restricts }),
  };
}

/** Why a value that the rules let through still stays behind. */
function stayReason(setting: SettingDefinition, sameBoard: boolean): string | undefined {
  if (setting.housekeeping) return "The firmware keeps this for itself";
  if (setting.belongsTo === "board" && !sameBoard) return "It belongs to the board that it was measured on";
  return undefined;
}

function carriedItem(
  input: CarryoverInput,
  setting: SettingDefinition,
  origin: Origin,
  traveller: Traveller,
): SettingItem {
  const { to, target } = input;
  const { scope, value } = traveller;
  const id = addressId({ scope, key: setting.key });
  const from = { ...sideOf(origin.scope, origin.definition, origin.value), line: origin.line, moved: origin.moved };
  const stays = stayReason(setting, input.sameBoard);
  if (stays !== undefined)
    return {
      ...base(setting),
      id,
      outcome: "left-out",
      from,
      trail: [...traveller.trail, { rule: "left out", why: stays }],
      choices: [],
    };
  const fitted = traveller.lost ? undefined : fitValue(setting, value, target.processor);
  const fallback = defaultOf(setting, target.id);
  const shown = (v: Value) => showValue(v, setting.type);
  if (fitted === undefined) {
    const choices: Choice[] = [
      { id: "take-default", label: `Take ${shown(fallback)}`, value: fallback, shown: shown(fallback) },
    ];
    return {
      ...base(setting),
      id,
      outcome: "your-call",
      call: "no-counterpart",
      from,
      trail: traveller.trail,
      choices,
    };
  }
  const limited = !equalValues(fitted, value, setting.type);
  const silent = !origin.moved && !equalValues(fitted, fallback, setting.type);
  const trail = limited
    ? [
        ...traveller.trail,
        { rule: "limit", why: limitReason(setting, value, to, target), before: shown(value), after: shown(fitted) },
      ]
    : traveller.trail;
  const choices = choicesOf({ setting, fitted, fallback, silent, limited, traveller });
  const call = silent ? "silent" : traveller.behaviour ? "behaviour" : limited ? "limit" : undefined;
  return {
    ...base(setting),
    id,
    outcome: silent || traveller.behaviour ? "your-call" : limited ? "limited" : changedOutcome(traveller),
    ...(call === undefined ? {} : { call }),
    from,
    to: sideOf(scope, setting, fitted),
    trail,
    choices,
  };
}

function changedOutcome(traveller: Traveller): Outcome {
  const rules = new Set(traveller.trail.map((step) => step.rule));
  if (["rescale", "map", "merge", "split", "move"].some((rule) => rules.has(rule))) return "converted";
  return rules.has("rename") ? "renamed" : "as-it-was";
}

function limitReason(setting: SettingDefinition, value: Value, to: Release, target: ReleaseTarget): string {
  const byProcessor = setting.maxByProcessor?.[target.processor];
  if (setting.type.kind === "number" && byProcessor !== undefined && (value as number) > byProcessor)
    return `${target.processor} runs ${releaseTitle(to)} at ${showValue(byProcessor, setting.type)} at most`;
  return `${releaseTitle(to)} allows ${setting.type.kind === "number" ? `${showValue(setting.type.min, setting.type)} to ${showValue(setting.type.max, setting.type)}` : "less"}`;
}

interface Calling {
  readonly setting: SettingDefinition;
  readonly fitted: Value;
  readonly fallback: Value;
  readonly silent: boolean;
  readonly limited: boolean;
  readonly traveller: Traveller;
}

function choicesOf({ setting, fitted, fallback, silent, limited, traveller }: Calling): Choice[] {
  const choice = (id: string, verb: string, value: Value): Choice => {
    const shown = showValue(value, setting.type);
    return { id, label: `${verb} ${shown}`, value, shown };
  };
  if (limited && !silent && !traveller.behaviour) return [choice("accept", "All right,", fitted)];
  const choices: Choice[] = [];
  const { suggestion } = traveller.behaviour ?? {};
  if (suggestion !== undefined && !equalValues(suggestion, fitted, setting.type))
    choices.push(choice("adapt", "Make it", suggestion));
  if (silent || traveller.behaviour) choices.push(choice("keep", traveller.behaviour ? "Leave" : "Keep", fitted));
  if (silent) choices.push(choice("take-default", "Take", fallback));
  return choices;
}

function rowItems({ source, from, to }: CarryoverInput): RowItem[] {
  const rules = from.id === to.id ? [] : to.rules;
  return source.rows.map((row): RowItem => {
    const table = indexOf(to).tables.get(row.table);
    const common = {
      kind: "row" as const,
      id: `row ${row.table}/${row.key}`,
      table: row.table,
      from: { key: row.key, cells: row.cells, line: row.line },
    };
    if (!table)
      return {
        ...common,
        title: row.table,
        area: "housekeeping",
        outcome: "retired",
        trail: [{ rule: "retire", why: `${releaseTitle(to)} has no such table` }],
        choices: [],
      };
    const trail: RowItem["trail"][number][] = [];
    const cells: Record<string, Value> = {};
    let lost: string | undefined;
    for (const [name, value] of Object.entries(row.cells)) {
      const renamed = rules.find((r) => r.rule === "column" && r.table === row.table && r.column === name);
      const mapped = rules.find((r) => r.rule === "cells" && r.table === row.table && r.column === name);
      const column = renamed?.rule === "column" ? renamed.to : name;
      const word = mapped?.rule === "cells" ? mapped.words[String(value)] : undefined;
      if (renamed?.rule === "column") trail.push({ rule: "column", why: renamed.why, before: name, after: column });
      if (mapped?.rule === "cells" && word !== undefined && word !== value)
        trail.push({ rule: "cells", why: mapped.why, before: String(value), after: word });
      const definition = columnsOf(table).find((c) => c.name === column);
      const next = word ?? value;
      if (!definition || (definition.type.kind === "choice" && !definition.type.options.includes(next as string)))
        lost ??= `${column}: ${String(next)}`;
      else cells[column] = next;
    }
    if (lost !== undefined)
      return {
        ...common,
        title: table.title,
        area: table.area,
        outcome: "cannot-be-here",
        trail: [...trail, { rule: "none", why: `${releaseTitle(to)} does not offer ${lost}` }],
        choices: [],
      };
    return {
      ...common,
      title: table.title,
      area: table.area,
      outcome: trail.length > 0 ? "converted" : "as-it-was",
      to: { key: row.key, cells },
      trail,
      choices: [],
    };
  });
}

function lineItems(source: Configuration, to: Release): LineItem[] {
  return source.unknown.map((unknown) => ({
    kind: "line",
    id: `line ${unknown.line}`,
    title: unknown.text.trim().slice(0, 80),
    outcome: "your-call",
    from: { line: unknown.line, text: unknown.text, scope: unknown.scope },
    reason: unknown.reason,
    trail: [{ rule: "unknown", why: unknown.reason }],
    choices: [
      { id: "leave-out", label: "Leave it out" },
      { id: "send", label: `Send it to ${releaseTitle(to)} as it is` },
    ],
  }));
}

/** The plan for updating the board that a read-out came from. Refuses a release that does not build its target. */
export function planUpdate(
  recital: { readonly configuration: Configuration; readonly release: Release },
  to: Release,
  targetName: string,
): Result<Plan> {
  const target = findTarget(to, targetName);
  if (!target) return refuse({ code: "target-missing", message: `${releaseTitle(to)} is not built for ${targetName}` });
  return planCarryover({ source: recital.configuration, from: recital.release, to, target, sameBoard: true });
}
