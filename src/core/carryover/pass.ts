import {
  indexOf,
  releaseTitle,
  scopesOf,
  typeOn,
  type PassageRule,
  type Firmware,
  type SettingDefinition,
} from "@/core/catalog";
import {
  limitValue,
  profileScope,
  quantize,
  showValue,
  type Address,
  type ScopeId,
  type Value,
  type ValueType,
} from "@/core/config";
import type { TrailStep } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/route";

/** A value on its way through the rules of one passage. */
export interface Traveller extends Address {
  readonly value: Value;
  readonly trail: readonly TrailStep[];
  /** Set when the value ends here: why. */
  readonly retired?: string;
  /** Same number, other effect; with the value that would feel as before, where the rule knows it. */
  readonly behaviour?: { readonly why: string; readonly suggestion?: Value };
  /** A word that the new release has no counterpart for. */
  readonly lost?: boolean;
}

type Active = Readonly<Record<string, number>>;

const rescaled = (value: Value, factor: number, offset: number, type: ValueType): Value =>
  type.kind === "number" && typeof value === "number" ? quantize(value * factor + offset, type.step) : value;

/** The rules that speak of a setting, in the order of the document. */
export function rulesFor(key: string, rules: readonly PassageRule[]): PassageRule[] {
  return rules.filter((rule) => ("keys" in rule ? rule.keys.includes(key) : "key" in rule && rule.key === key));
}

/**
 * Runs one value through the rules of a hop. A split gives several travellers, a move into profiles one for each; a
 * merge gives one for each source, which `joinMerged` later joins. Rounding to the new step stands in the trail.
 */
export function passValue(
  origin: SettingDefinition,
  start: Address & { readonly value: Value },
  hop: Hop,
  active: Active,
): Traveller[] {
  const { to } = hop;
  const definition = (key: string) => indexOf(to).settings.get(key);
  let travellers: Traveller[] = [{ trail: [], ...start }];
  const each = (change: (t: Traveller) => Traveller[]) => {
    travellers = travellers.flatMap(change);
  };
  for (const rule of rulesFor(origin.key, hop.rules)) {
    switch (rule.rule) {
      case "rename":
        each((t) => [
          {
            ...t,
            key: rule.to,
            trail: [...t.trail, { rule: "rename", why: rule.why ?? "Renamed", before: t.key, after: rule.to }],
          },
        ]);
        break;
      case "rescale":
        each((t) => {
          const key = rule.to ?? t.key;
          const type = definition(key)?.type ?? origin.type;
          const value = rescaled(t.value, rule.factor, rule.offset ?? 0, type);
          const step = {
            rule: "rescale",
            why: rule.why,
            before: showValue(t.value, origin.type),
            after: showValue(value, type),
          };
          return [{ ...t, key, value, trail: [...t.trail, step] }];
        });
        break;
      case "map":
        each((t) => {
          const key = rule.to ?? t.key;
          const word = rule.words[String(t.value)];
          const step = { rule: "map", why: rule.why, before: String(t.value), after: word ?? "no counterpart" };
          return [
            {
              ...t,
              key,
              value: word ?? t.value,
              trail: [...t.trail, step],
              ...(word === undefined ? { lost: true } : {}),
            },
          ];
        });
        break;
      case "retire":
        each((t) => [{ ...t, retired: rule.why, trail: [...t.trail, { rule: "retire", why: rule.why }] }]);
        break;
      case "behaviour":
        each((t) => {
          const type = definition(t.key)?.type ?? origin.type;
          const suggestion =
            rule.suggest && limitValue(rescaled(t.value, rule.suggest.factor, rule.suggest.offset ?? 0, type), type);
          const behaviour = { why: rule.why, ...(suggestion === undefined ? {} : { suggestion }) };
          return [{ ...t, behaviour, trail: [...t.trail, { rule: "behaviour", why: rule.why }] }];
        });
        break;
      case "move":
        each((t) => moveScope(t, rule.to, rule.why, to, active));
        break;
      case "split":
        each((t) =>
          rule.into.map((key) => ({
            ...t,
            key,
            trail: [...t.trail, { rule: "split", why: rule.why, before: t.key, after: key }],
          })),
        );
        break;
      case "merge":
        each((t) => [
          { ...t, key: rule.to, trail: [...t.trail, { rule: "merge", why: rule.why, before: t.key, after: rule.to }] },
        ]);
        break;
      case "column":
      case "cells":
      case "renumber":
      case "restrict":
      case "ranges":
        break;
    }
  }
  return travellers;
}

function moveScope(traveller: Traveller, to: string, why: string, release: Firmware, active: Active): Traveller[] {
  const trail = (scope: ScopeId): TrailStep[] => [
    ...traveller.trail,
    { rule: "move", why, before: traveller.scope, after: scope },
  ];
  if (to !== "system")
    return scopesOf(release, { scope: to }).map((scope) => ({ ...traveller, scope, trail: trail(scope) }));
  // from profiles into the system: the active profile's value is the one that flies
  const kind = traveller.scope.split(" ")[0] ?? "";
  return traveller.scope === profileScope(kind, active[kind] ?? 1)
    ? [{ ...traveller, scope: "system", trail: trail("system") }]
    : [{ ...traveller, retired: "Only the active profile's value moves into the system", trail: trail("system") }];
}

/** Joins the travellers that a merge brought to one address: the first, the largest or the smallest, as the rule says. */
export function joinMerged(travellers: readonly Traveller[], rules: readonly PassageRule[]): Traveller | undefined {
  const [first, ...others] = travellers;
  if (!first || others.length === 0) return first;
  const rule = rules.find((r) => r.rule === "merge" && r.to === first.key);
  if (rule?.rule !== "merge" || rule.take === "first") return first;
  const better = (a: Value, b: Value) => (rule.take === "largest" ? a > b : a < b);
  return others.reduce((best, next) => (better(next.value, best.value) ? next : best), first);
}

/** What a destination can take of a value: the value limited to type and processor. */
export const fitValue = (setting: SettingDefinition, value: Value, processor: string): Value | undefined =>
  limitValue(value, typeOn(setting, processor));

/** A number in the unit of its concept. */
const inConcept = (value: number, concept: NonNullable<SettingDefinition["concept"]>) =>
  value * (concept.factor ?? 1) + (concept.offset ?? 0);

/**
 * Carries a value by what it means: to the setting of the other family that has the same concept, through the concept's
 * unit or words. Ends here when the other family has no such setting.
 */
export function passByMeaning(origin: SettingDefinition, start: Traveller, hop: Hop, active: Active): Traveller[] {
  const { concept } = origin;
  const setting = concept && hop.to.settings.find((s) => s.concept?.id === concept.id);
  if (!concept || setting?.type.kind !== origin.type.kind) {
    const why = `${releaseTitle(hop.to)} has no setting of this meaning`;
    return [{ ...start, retired: why, trail: [...start.trail, { rule: "retire", why }] }];
  }
  const { value, lost } = meantValue(start.value, origin, setting);
  const step = {
    rule: "rescale",
    why: `Same meaning in both families: ${concept.id}`,
    before: `${start.key} ${showValue(start.value, origin.type)}`,
    after: `${setting.key} ${lost ? "no counterpart" : showValue(value, setting.type)}`,
  };
  const passed: Traveller = {
    ...start,
    key: setting.key,
    value,
    trail: [...start.trail, step],
    ...(lost ? { lost: true } : {}),
  };
  if (setting.scope === origin.scope) {
    const fits = scopesOf(hop.to, setting).includes(start.scope);
    const why = `${releaseTitle(hop.to)} has fewer profiles of this kind`;
    return fits ? [passed] : [{ ...start, retired: why, trail: [...start.trail, { rule: "retire", why }] }];
  }
  return moveScope(passed, setting.scope, "Kept in another place there", hop.to, active);
}

function meantValue(
  value: Value,
  from: SettingDefinition,
  to: SettingDefinition,
): { readonly value: Value; readonly lost: boolean } {
  if (typeof value === "number" && to.type.kind === "number" && from.concept && to.concept) {
    const meant = inConcept(value, from.concept);
    return {
      value: quantize((meant - (to.concept.offset ?? 0)) / (to.concept.factor ?? 1), to.type.step),
      lost: false,
    };
  }
  const meaning = (word: string) => from.concept?.words?.[word] ?? word;
  const wordFor = (meant: string) =>
    Object.entries(to.concept?.words ?? {}).find(([, means]) => means === meant)?.[0] ?? meant;
  if (typeof value === "string" && to.type.kind === "choice") {
    const word = wordFor(meaning(value));
    return { value: word, lost: !to.type.options.includes(word) };
  }
  if (Array.isArray(value) && to.type.kind === "flags") {
    const words = (value as readonly string[]).map((flag) => wordFor(meaning(flag)));
    return { value: words.filter((word) => to.type.kind === "flags" && to.type.options.includes(word)), lost: false };
  }
  return { value, lost: false };
}
