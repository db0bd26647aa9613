import {
  defaultOf,
  findTarget,
  indexOf,
  releaseTitle,
  scopesOf,
  worse,
  type Catalogue,
  type Firmware,
  type FirmwareTarget,
  type SettingDefinition,
} from "@/core/catalog";
import {
  addressId,
  doubtsOf,
  equalValues,
  settingsByAddress,
  showValue,
  type Configuration,
  type ScopeId,
  type Value,
  type ValueDoubt,
} from "@/core/config";
import { passByMeaning } from "@/core/carryover/meaning";
import { endedFor, fitValue, joinMerged, passValue, type Traveller } from "@/core/carryover/pass";
import { routeBetween, type Hop } from "@/core/carryover/route";
import { rowItems } from "@/core/carryover/rows";
import type { Choice, LineItem, Plan, RowItem, SettingItem, Side } from "@/core/carryover/plan";
import { ok, refuse, type Result } from "@/core/problem";

export interface CarryoverInput {
  readonly source: Configuration;
  readonly from: Firmware;
  readonly to: Firmware;
  readonly target: FirmwareTarget;
  /** The way from one to the other; empty within one release. */
  readonly way: readonly Hop[];
  /** False when the values go onto another board than they came from: what belongs to the board then stays behind. */
  readonly sameBoard: boolean;
  /** The values go onto another aircraft of the same make: what names the one they came from stays behind as well. */
  readonly otherAircraft?: boolean;
}

interface Origin {
  readonly definition: SettingDefinition;
  readonly value: Value;
  readonly line: number;
  readonly moved: boolean;
  readonly scope: ScopeId;
  /** The read-out leaves it open: `value` is what it would be, or the default. */
  readonly doubt?: ValueDoubt;
}

/** Every value of the source, absent ones resolved to the default of its own release and target. */
function originsOf(source: Configuration, from: Firmware): Origin[] {
  const present = settingsByAddress(source);
  const doubts = new Map(doubtsOf(source).values.map((doubt) => [addressId(doubt), doubt]));
  return from.settings.flatMap((definition) =>
    scopesOf(from, definition).map((scope) => {
      const id = addressId({ scope, key: definition.key });
      const [entry, doubt] = [present.get(id), doubts.get(id)];
      const fallback = defaultOf(definition, source.identity.target);
      const value = entry?.value ?? doubt?.value ?? fallback;
      return {
        definition,
        scope,
        value,
        line: entry?.line ?? doubt?.line ?? 0,
        moved: doubt !== undefined || !equalValues(value, fallback, definition.type),
        ...(doubt ? { doubt } : {}),
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

/** The plan for carrying a configuration along a way of passages, or onto the same release. */
export function planCarryover(input: CarryoverInput): Plan {
  const { source, from, to, target } = input;
  return {
    from: { release: from.id, title: releaseTitle(from) },
    to: { release: to.id, title: releaseTitle(to), target: target.id },
    items: [...settingItems(input), ...rowItems(source, from, input.way, to, target), ...lineItems(source, to)],
    active: Object.fromEntries(to.profiles.map((p) => [p.kind, Math.min(source.active[p.kind] ?? 1, p.count)])),
  };
}

interface Travelling {
  readonly origin: Origin;
  readonly traveller: Traveller;
}

const hasEnded = ({ traveller }: Travelling, release: Firmware) =>
  traveller.retired !== undefined || !indexOf(release).settings.has(traveller.key);

/** On the way back a value that no rule brought to the older release ends: it is newer than that. */
function newerStays(traveller: Traveller, hop: Hop): Traveller {
  if (hop.by !== "passage backwards" || traveller.retired !== undefined || indexOf(hop.to).settings.has(traveller.key))
    return traveller;
  return endedFor(traveller, `${releaseTitle(hop.from)} brought it; ${releaseTitle(hop.to)} does not have it`);
}

/** All values one hop further. Those that ended stay as they are; those that a merge brought together become one. */
function hopAll(all: readonly Travelling[], hop: Hop, active: Configuration["active"]): Travelling[] {
  const passed = all.flatMap((one): Travelling[] => {
    const definition = indexOf(hop.from).settings.get(one.traveller.key);
    if (one.traveller.retired !== undefined || !definition) return [one];
    const travellers =
      hop.by === "shared meanings"
        ? passByMeaning(definition, one.traveller, hop, active)
        : passValue(definition, one.traveller, hop, active);
    return travellers.map((traveller) => ({ origin: one.origin, traveller: newerStays(traveller, hop) }));
  });
  const ended = passed.filter((one) => hasEnded(one, hop.to));
  const byAddress = new Map<string, Travelling[]>();
  for (const one of passed) {
    if (hasEnded(one, hop.to)) continue;
    const id = addressId(one.traveller);
    byAddress.set(id, [...(byAddress.get(id) ?? []), one]);
  }
  const joined = [...byAddress.values()].flatMap((candidates) => {
    // what is not known may have been the one that counts
    const doubtful = candidates.find(({ origin }) => origin.doubt);
    if (doubtful) return [doubtful];
    const best = joinMerged(
      candidates.map((c) => c.traveller),
      hop.rules,
    );
    return candidates.filter((c) => c.traveller === best);
  });
  return [...joined, ...ended];
}

function settingItems(input: CarryoverInput): SettingItem[] {
  const { source, from, to, way } = input;
  let all: Travelling[] = originsOf(source, from).map((origin) => ({
    origin,
    traveller: { scope: origin.scope, key: origin.definition.key, value: origin.value, trail: [], loss: "none" },
  }));
  for (const hop of way) all = hopAll(all, hop, source.active);
  const arrived = new Map(all.filter((one) => !hasEnded(one, to)).map((one) => [addressId(one.traveller), one]));
  const carried = to.settings.flatMap((setting) =>
    scopesOf(to, setting).map((scope): SettingItem => {
      const found = arrived.get(addressId({ scope, key: setting.key }));
      return found ? carriedItem(input, setting, found.origin, found.traveller) : newItem(input, setting, scope);
    }),
  );
  // a value that was to go to several places and ended in all of them is one value that ended
  const ended = new Map(all.filter((one) => hasEnded(one, to)).map((one) => [one.origin, one]));
  const taken = new Set(carried.map(({ id }) => id));
  return [
    ...carried,
    ...[...ended.values()].map(({ origin, traveller }) => {
      const item = endedItem(origin, traveller, to);
      return taken.has(item.id) ? { ...item, id: `left ${item.id}` } : item;
    }),
  ];
}

const base = (setting: SettingDefinition) => ({
  kind: "setting" as const,
  title: setting.title,
  area: setting.area,
  says: setting.says,
  flies: setting.flies,
});

/** It does not come along. Where no rule says why, somebody has to know of what was set by hand. */
function endedItem(origin: Origin, traveller: Traveller, to: Firmware): SettingItem {
  const { definition, scope, value, line, moved, doubt } = origin;
  const unexplained = traveller.retired === undefined;
  return {
    ...base(definition),
    id: addressId({ scope, key: definition.key }),
    outcome: unexplained ? "unknown" : "retired",
    loss: "lost",
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
    from: { ...from, value: origin, shown: "not known" },
    doubt,
    trail: [{ rule: "doubt", why }, ...traveller.trail],
    choices: [
      ...asRead,
      { id: "take-default", label: `Take the default, ${shown(fallback)}`, value: fallback, shown: shown(fallback) },
    ],
  };
}

function newItem({ to, target }: CarryoverInput, setting: SettingDefinition, scope: ScopeId): SettingItem {
  const value = defaultOf(setting, target.id);
  return {
    ...base(setting),
    id: addressId({ scope, key: setting.key }),
    outcome: setting.housekeeping ? "left-out" : "new-default",
    loss: "none",
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
function stayReason(
  setting: SettingDefinition,
  { sameBoard, otherAircraft = false }: Pick<CarryoverInput, "sameBoard" | "otherAircraft">,
): string | undefined {
  if (setting.housekeeping) return "The firmware keeps this for itself";
  if (setting.belongsTo === "board" && !sameBoard) return "It belongs to the board that it was measured on";
  // how the board is mounted and wired is alike on all of a type, and shown by the checks; its name is not
  if (setting.belongsTo === "airframe" && setting.area === "identity" && otherAircraft)
    return "It names the aircraft that it came from";
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
  const stays = stayReason(setting, input);
  if (stays !== undefined)
    return {
      ...base(setting),
      id,
      outcome: "left-out",
      loss: "none",
      from,
      trail: [...traveller.trail, { rule: "left out", why: stays }],
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
        {
          rule: "limit",
          effect: "limited" as const,
          why: limitReason(setting, value, to, target),
          before: shown(value),
          after: shown(fitted),
        },
      ]
    : traveller.trail;
  const choices = choicesOf({ setting, fitted, fallback, silent, limited, traveller });
  const call = silent ? "silent" : traveller.behaviour ? "behaviour" : limited ? "limit" : undefined;
  return {
    ...base(setting),
    id,
    outcome: silent || traveller.behaviour ? "your-call" : limited ? "limited" : (traveller.change ?? "as-it-was"),
    loss: worse(traveller.loss, limited ? "limit" : silent ? "look" : "none"),
    ...(call === undefined ? {} : { call }),
    from,
    to: sideOf(scope, setting, fitted),
    trail,
    choices,
    ...(traveller.behaviour ? { behaviour: traveller.behaviour.why } : {}),
  };
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

function lineItems(source: Configuration, to: Firmware): LineItem[] {
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

/** The plan for the board that a read-out came from, or, with `ofAnother`, for the board of another aircraft of its type; with the releases that take what this one does not. Refuses a release that does not build its target. */
export function planUpdate(
  recital: { readonly configuration: Configuration; readonly release: Firmware },
  to: Firmware,
  targetName: string,
  catalogue: Catalogue,
  ofAnother = false,
): Result<Plan> {
  const target = findTarget(to, targetName);
  if (!target) return refuse({ code: "target-missing", message: `${releaseTitle(to)} is not built for ${targetName}` });
  const way = routeBetween(catalogue, recital.release, to);
  if (!way.ok) return way;
  const { configuration: source, release: from } = recital;
  const plan = planCarryover({
    source,
    from,
    to,
    target,
    way: way.value,
    sameBoard: !ofAnother,
    otherAircraft: ofAnother,
  });
  return ok(withServers(plan, (item) => serversOf(item, { source, from, target: targetName }, catalogue)));
}

const withServers = (plan: Plan, servers: (item: RowItem) => readonly string[]): Plan => ({
  ...plan,
  items: plan.items.map((item) =>
    item.kind === "row" && item.outcome === "cannot-be-here" ? { ...item, servedBy: servers(item) } : item,
  ),
});

/** Releases built for the target on which a row can stay where it is, those of the shortest ways first. */
function serversOf(
  item: RowItem,
  { source, from, target: name }: { readonly source: Configuration; readonly from: Firmware; readonly target: string },
  catalogue: Catalogue,
): string[] {
  const found = [...catalogue.releases.values()].flatMap((release) => {
    const target = findTarget(release, name);
    const way = target && routeBetween(catalogue, from, release);
    if (!target || !way?.ok) return [];
    const there = rowItems(source, from, way.value, release, target);
    const same = there.find(({ table, from: row }) => table === item.table && row?.key === item.from?.key);
    return same?.to && same.outcome !== "cannot-be-here" && same.to.key === item.from?.key
      ? [{ title: releaseTitle(release), hops: way.value.length, builtOn: release.builtOn }]
      : [];
  });
  const nearest = found.toSorted((a, b) => a.hops - b.hops || (a.builtOn < b.builtOn ? 1 : -1));
  return nearest.map(({ title }) => title);
}
