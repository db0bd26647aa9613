import {
  defaultOf,
  releaseTitle,
  worse,
  type Firmware,
  type FirmwareTarget,
  type Loss,
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
import type { Origin, Travelling } from "@/core/carryover/meeting";
import { candidateOf, holdAlike, offered, type Candidate } from "@/core/carryover/offering";
import type { Traveller, Writable } from "@/core/carryover/pass";
import type { Choice, LineItem, SettingItem, Side, TrailStep, Whose } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/hop";

export interface CarryoverInput {
  readonly source: Configuration;
  readonly from: Firmware;
  readonly to: Firmware;
  readonly target: FirmwareTarget;
  /** The way from one to the other; empty within one release. */
  readonly route: readonly Hop[];
  /** What belongs to a board stays with that board; what names an aircraft, with that aircraft. */
  readonly whose: Whose;
  /** Other parts that the board carries. */
  readonly parts?: readonly string[];
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
      ? { call: "unexplained" as const, choices: [{ id: "leave-out", label: "Leave it out" }] }
      : { choices: [] }),
  };
}

/** What a read-out leaves open is carried nowhere without a person's word. */
function doubtfulItem(
  setting: SettingDefinition,
  [first, ...others]: readonly [Candidate, ...Candidate[]],
  common: Pick<SettingItem, "id"> & { readonly from: NonNullable<SettingItem["from"]> },
  fallback: Value,
  doubt: ValueDoubt,
): SettingItem {
  const shown = (value: Value) => showValue(value, setting.type);
  const { fit } = first;
  const asRead: Choice[] =
    doubt.value === undefined || !fit
      ? []
      : [{ id: "as-read", label: `Take it as ${shown(fit.value)}`, value: fit.value, shown: shown(fit.value) }];
  const why = doubt.line > 0 ? `${doubt.reason} (line ${doubt.line})` : doubt.reason;
  const rest = others.length > 0 ? offered({ setting, candidates: [first, ...others], fallback, silent: false }) : [];
  return {
    ...base(setting),
    id: common.id,
    outcome: "your-call",
    loss: "look",
    call: "doubtful",
    reason: why,
    from: { ...common.from, shown: "not known" },
    ...othersOf(others),
    doubt,
    trail: [{ rule: "doubt", why }, ...first.traveller.trail],
    choices: [
      ...asRead,
      ...rest.filter(({ value }) => value === undefined || asRead.every((read) => read.value !== value)),
      ...(rest.some(({ id }) => id === "take-default")
        ? []
        : [
            {
              id: "take-default",
              label: `Take the default, ${shown(fallback)}`,
              value: fallback,
              shown: shown(fallback),
            },
          ]),
    ],
  };
}

/** Set values that came to one place and wait there with another. */
const othersOf = (others: readonly Candidate[]): Pick<SettingItem, "others"> =>
  others.length === 0
    ? {}
    : {
        others: others.map(({ origin }) => ({
          ...sideOf(origin.scope, origin.definition, origin.value),
          line: origin.line,
          moved: origin.moved,
        })),
      };

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

export function carriedItem(input: CarryoverInput, setting: SettingDefinition, one: Travelling): SettingItem {
  const { to, target } = input;
  const { origin, traveller, rivals = [] } = one;
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
  const first = candidateOf(one, setting, target.processor);
  const waiting = rivals.map((rival) => candidateOf(rival, setting, target.processor));
  // what is the same there is one
  const others = waiting.filter((other) => !holdAlike(first, other, setting));
  const wasSet = origin.moved || (others.length === 0 && waiting.length > 0);
  const stays = stayReason(setting, input);
  if (stays !== undefined)
    return {
      ...base(setting),
      id,
      outcome: "left-out",
      loss: "none",
      reason: stays,
      from,
      ...othersOf(waiting),
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
      ...othersOf(waiting),
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
  const fallback = defaultOf(setting, target.id);
  if (origin.doubt) return doubtfulItem(setting, [first, ...others], { id, from }, fallback, origin.doubt);
  const { fit } = first;
  if (!fit)
    return {
      ...base(setting),
      id,
      outcome: "your-call",
      loss: "lost",
      call: "no-counterpart",
      reason: lastWhy(traveller),
      from,
      ...othersOf(waiting),
      trail: traveller.trail,
      choices: offered({ setting, candidates: [first, ...others], fallback, silent: false }),
    };
  const limited = fit.how === "limited";
  const silent = !elsewhere && !wasSet && !equalValues(fit.value, fallback, setting.type);
  const step = fitStep(first, { setting, to, target });
  // a guessed range limits nothing, and where a value is outside of it, that is said
  const beyond = setting.guessed === true && limitValue(value, setting.type) !== value && !Array.isArray(value);
  const guess = beyond ? "Its range was only guessed from a read-out: the value goes as it is" : undefined;
  const behaviour = traveller.behaviour ?? others.find((each) => each.traveller.behaviour)?.traveller.behaviour;
  const several = others.length > 0;
  const asks = silent || several || limited || traveller.behaviour !== undefined;
  const call = several ? "several" : silent ? "silent" : behaviour ? "behaviour" : limited ? "limit" : undefined;
  const change = fit.how === "rounded" ? "converted" : traveller.change;
  const item: Writable<SettingItem> = {
    kind: "setting",
    title: setting.title,
    area: setting.area,
    says: setting.says,
    flies: setting.flies,
    id,
    outcome: silent || several || traveller.behaviour ? "your-call" : limited ? "limited" : (change ?? "as-it-was"),
    loss: lossOf(first, silent || several),
    reason: several
      ? severalReason([first, ...others])
      : silent
        ? "Nobody set it, and its default moved"
        : (traveller.behaviour?.why ?? step?.why ?? guess ?? lastWhy(traveller)),
    from,
    to: sideOf(scope, setting, fit.value),
    trail: step ? [...traveller.trail, step] : traveller.trail,
    choices: asks ? offered({ setting, candidates: [first, ...others], fallback, silent }) : NONE,
  };
  if (waiting.length > 0) item.others = othersOf(waiting).others ?? [];
  if (elsewhere) item.fixed = true;
  if (call !== undefined) item.call = call;
  if (behaviour) item.behaviour = behaviour.why;
  return item;
}

function lossOf({ traveller, fit }: Candidate, look: boolean): Loss {
  const bySteps: Loss = fit?.how === "limited" ? "limit" : fit?.how === "rounded" ? "rounding" : "none";
  return worse(worse(traveller.loss, bySteps), look ? "look" : "none");
}

/** Several set values that meet: which, in a sentence. */
function severalReason(candidates: readonly Candidate[]): string {
  const keys = new Set(candidates.map(({ origin }) => origin.definition.key));
  const [first] = candidates;
  return keys.size > 1
    ? `${[...new Set(candidates.map(({ origin }) => `“${origin.definition.title}”`))].join(" and ")} become one, and they differ`
    : `It is kept once now, and its profiles differ; active was ${first?.origin.scope ?? ""}`;
}

/** What the destination's range or step did to a value, as the last of its trail. */
function fitStep(
  { traveller, fit }: Candidate,
  {
    setting,
    to,
    target,
  }: { readonly setting: SettingDefinition; readonly to: Firmware; readonly target: FirmwareTarget },
): TrailStep | undefined {
  if (!fit || fit.how === "same") return undefined;
  const { type } = setting;
  const exact = typeof traveller.value === "number" ? String(Number(traveller.value.toPrecision(12))) : undefined;
  const unit = type.kind === "number" && type.unit !== undefined ? ` ${type.unit}` : "";
  const sides = {
    before: exact === undefined ? showValue(traveller.value, type) : `${exact}${unit}`,
    after: showValue(fit.value, type),
  };
  return fit.how === "limited"
    ? { rule: "limit", effect: "limited", why: limitReason(setting, traveller.value, to, target), ...sides }
    : { rule: "round", effect: "converted", why: `${releaseTitle(to)} keeps it in coarser steps`, ...sides };
}

function limitReason(setting: SettingDefinition, value: Value, to: Firmware, target: FirmwareTarget): string {
  const byProcessor = setting.maxByProcessor?.[target.processor];
  if (setting.type.kind === "number" && byProcessor !== undefined && (value as number) > byProcessor)
    return `${target.processor} runs ${releaseTitle(to)} at ${showValue(byProcessor, setting.type)} at most`;
  return `${releaseTitle(to)} allows ${setting.type.kind === "number" ? `${showValue(setting.type.min, setting.type)} to ${showValue(setting.type.max, setting.type)}` : "less"}`;
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
