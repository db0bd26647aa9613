import {
  defaultOf,
  releaseTitle,
  worse,
  type Firmware,
  type FirmwareTarget,
  type SettingDefinition,
} from "@/core/catalog";
import {
  addressId,
  equalValues,
  limitValue,
  showValue,
  type Configuration,
  type ScopeId,
  type Value,
  type ValueDoubt,
} from "@/core/config";
import { fitValue, type Traveller, type Writable } from "@/core/carryover/pass";
import type { Choice, LineItem, SettingItem, Side, Whose } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/roads";

export interface CarryoverInput {
  readonly source: Configuration;
  readonly from: Firmware;
  readonly to: Firmware;
  readonly target: FirmwareTarget;
  /** The way from one to the other; empty within one release. */
  readonly way: readonly Hop[];
  /** What belongs to a board stays with that board; what names an aircraft, with that aircraft. */
  readonly whose: Whose;
  /** Other parts that the board carries. */
  readonly parts?: readonly string[];
}

export interface Origin {
  readonly definition: SettingDefinition;
  readonly value: Value;
  readonly line: number;
  readonly moved: boolean;
  readonly scope: ScopeId;
  /** The read-out leaves it open: `value` is what it would be, or the default. */
  readonly doubt?: ValueDoubt;
}

const sideOf = (scope: ScopeId, setting: SettingDefinition, value: Value): Side => ({
  scope,
  key: setting.key,
  value,
  shown: showValue(value, setting.type),
});

const NONE: readonly Choice[] = [];

const lastWhy = ({ trail }: Traveller) => trail.at(-1)?.why ?? "";

const base = (setting: SettingDefinition) => ({
  kind: "setting" as const,
  title: setting.title,
  area: setting.area,
  says: setting.says,
  flies: setting.flies,
});

/** It does not come along. Where no rule says why, somebody has to know of what was set by hand. */
export function endedItem(origin: Origin, traveller: Traveller, to: Firmware): SettingItem {
  const { definition, scope, value, line, moved, doubt } = origin;
  const unexplained = traveller.retired === undefined;
  return {
    ...base(definition),
    id: addressId({ scope, key: definition.key }),
    outcome: unexplained ? "unknown" : "retired",
    loss: unexplained ? "lost" : traveller.loss,
    reason: traveller.retired ?? `${releaseTitle(to)} does not have it, and no rule says why`,
    from: { ...sideOf(scope, definition, value), line, moved },
    ...(doubt ? { doubt } : {}),
    trail: unexplained
      ? [{ rule: "none", why: `${releaseTitle(to)} does not have it, and no rule says why` }]
      : traveller.trail,
    ...(unexplained && moved
      ? { call: "unexplained" as const, choices: [{ id: "leave-out", label: "Leave it behind" }] }
      : { choices: [] }),
  };
}

/** What a read-out leaves open is carried nowhere without a person's word. */
function doubtfulItem(
  setting: SettingDefinition,
  { doubt, value: origin }: Origin & { doubt: ValueDoubt },
  traveller: Traveller,
  from: NonNullable<SettingItem["from"]>,
  { fitted, fallback }: { readonly fitted: Value | undefined; readonly fallback: Value },
): SettingItem {
  const shown = (value: Value) => showValue(value, setting.type);
  const asRead: Choice[] =
    doubt.value === undefined || fitted === undefined
      ? []
      : [{ id: "as-read", label: `Take it as ${shown(fitted)}`, value: fitted, shown: shown(fitted) }];
  const why = doubt.line > 0 ? `${doubt.reason} (line ${doubt.line})` : doubt.reason;
  return {
    ...base(setting),
    id: addressId({ scope: traveller.scope, key: setting.key }),
    outcome: "your-call",
    loss: "look",
    call: "doubtful",
    reason: why,
    from: { ...from, value: origin, shown: "not known" },
    doubt,
    trail: [{ rule: "doubt", why }, ...traveller.trail],
    choices: [
      ...asRead,
      { id: "take-default", label: `Take the default, ${shown(fallback)}`, value: fallback, shown: shown(fallback) },
    ],
  };
}

export function newItem(
  { to, target, parts }: CarryoverInput,
  setting: SettingDefinition,
  scope: ScopeId,
): SettingItem {
  const elsewhere = doneElsewhere(setting, parts);
  const value = elsewhere?.value ?? defaultOf(setting, target.id);
  const why = elsewhere?.why ?? `New in ${releaseTitle(to)}; it starts at its default`;
  return {
    ...base(setting),
    id: addressId({ scope, key: setting.key }),
    outcome: setting.housekeeping ? "left-out" : "new-default",
    loss: "none",
    ...(elsewhere ? { fixed: true as const } : {}),
    reason: why,
    ...(setting.housekeeping ? {} : { to: sideOf(scope, setting, value) }),
    trail: [
      {
        rule: "new",
        why,
        after: showValue(value, setting.type),
      },
    ],
    choices: [],
    ...(setting.restricts === undefined ? {} : { restricts: setting.restricts }),
  };
}

/** What another part on the board does already, so that it is off here. */
const doneElsewhere = ({ doneBy }: SettingDefinition, parts: readonly string[] = []) =>
  doneBy && parts.includes(doneBy.part) ? doneBy : undefined;

/** Why a value that the rules let through still stays behind. */
function stayReason(setting: SettingDefinition, { whose }: Pick<CarryoverInput, "whose">): string | undefined {
  if (setting.housekeeping) return "The firmware keeps this for itself";
  if (setting.belongsTo === "board" && whose !== "this-board") return "It belongs to the board that it was measured on";
  // how the board is mounted and wired is alike on all of a type, and shown by the checks; its name is not
  if (setting.belongsTo === "airframe" && setting.area === "identity" && whose === "another")
    return "It names the aircraft that it came from";
  return undefined;
}

export function carriedItem(
  input: CarryoverInput,
  setting: SettingDefinition,
  origin: Origin,
  traveller: Traveller,
): SettingItem {
  const { to, target } = input;
  const { scope, value } = traveller;
  const id = addressId({ scope, key: setting.key });
  const from = {
    scope: origin.scope,
    key: origin.definition.key,
    value: origin.value,
    shown: showValue(origin.value, origin.definition.type),
    line: origin.line,
    moved: origin.moved,
  };
  const stays = stayReason(setting, input);
  if (stays !== undefined)
    return {
      ...base(setting),
      id,
      outcome: "left-out",
      loss: "none",
      reason: stays,
      from,
      trail: [...traveller.trail, { rule: "left out", why: stays }],
      choices: [],
    };
  const elsewhere = doneElsewhere(setting, input.parts);
  if (elsewhere && !equalValues(elsewhere.value, value, setting.type))
    return {
      ...base(setting),
      id,
      outcome: "converted",
      loss: "limit",
      fixed: true,
      reason: elsewhere.why,
      from,
      to: sideOf(scope, setting, elsewhere.value),
      trail: [
        ...traveller.trail,
        {
          rule: "part",
          effect: "limited",
          why: elsewhere.why,
          before: showValue(value, setting.type),
          after: showValue(elsewhere.value, setting.type),
        },
      ],
      choices: [],
    };
  const fitted = traveller.lost ? undefined : fitValue(setting, value, target.processor);
  const fallback = defaultOf(setting, target.id);
  const shown = (v: Value) => showValue(v, setting.type);
  const { doubt } = origin;
  if (doubt) return doubtfulItem(setting, { ...origin, doubt }, traveller, from, { fitted, fallback });
  if (fitted === undefined) {
    const choices: Choice[] = [
      { id: "take-default", label: `Take ${shown(fallback)}`, value: fallback, shown: shown(fallback) },
    ];
    return {
      ...base(setting),
      id,
      outcome: "your-call",
      loss: "lost",
      call: "no-counterpart",
      reason: lastWhy(traveller),
      from,
      trail: traveller.trail,
      choices,
    };
  }
  const limited = !equalValues(fitted, value, setting.type);
  const silent = !elsewhere && !origin.moved && !equalValues(fitted, fallback, setting.type);
  const limit = limited ? limitReason(setting, value, to, target) : undefined;
  const trail =
    limit === undefined
      ? traveller.trail
      : [
          ...traveller.trail,
          { rule: "limit", effect: "limited" as const, why: limit, before: shown(value), after: shown(fitted) },
        ];
  // a guessed range limits nothing, and where a value is outside of it, that is said
  const beyond = setting.guessed === true && limitValue(value, setting.type) !== value && !Array.isArray(value);
  const guess = beyond ? "Its range was only guessed from a read-out: the value goes as it is" : undefined;
  const choices =
    silent || limited || traveller.behaviour
      ? choicesOf({ setting, fitted, fallback, silent, limited, traveller })
      : NONE;
  const call = silent ? "silent" : traveller.behaviour ? "behaviour" : limited ? "limit" : undefined;
  const item: Writable<SettingItem> = {
    kind: "setting",
    title: setting.title,
    area: setting.area,
    says: setting.says,
    flies: setting.flies,
    id,
    outcome: silent || traveller.behaviour ? "your-call" : limited ? "limited" : (traveller.change ?? "as-it-was"),
    loss: limited || silent ? worse(traveller.loss, limited ? "limit" : "look") : traveller.loss,
    reason: silent
      ? "Nobody set it, and its default moved"
      : (traveller.behaviour?.why ?? limit ?? guess ?? lastWhy(traveller)),
    from,
    to: sideOf(scope, setting, fitted),
    trail,
    choices,
  };
  if (elsewhere) item.fixed = true;
  if (call !== undefined) item.call = call;
  if (traveller.behaviour) item.behaviour = traveller.behaviour.why;
  return item;
}

function limitReason(setting: SettingDefinition, value: Value, to: Firmware, target: FirmwareTarget): string {
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

export function lineItems(source: Configuration, to: Firmware): LineItem[] {
  return source.unknown.map((unknown) => ({
    kind: "line",
    id: `line ${unknown.line}`,
    title: unknown.text.trim().slice(0, 80),
    outcome: "your-call",
    loss: "look",
    from: { line: unknown.line, text: unknown.text, scope: unknown.scope },
    reason: unknown.reason,
    trail: [{ rule: "unknown", why: unknown.reason }],
    choices: [
      { id: "leave-out", label: "Leave it out" },
      { id: "send", label: `Send it to ${releaseTitle(to)} as it is` },
    ],
  }));
}
