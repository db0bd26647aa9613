import {
  indexOf,
  kindOf,
  passThrough,
  ruleWhy,
  scopesOf,
  typeOn,
  worse,
  type Behaviour,
  type Effect,
  type Loss,
  type Passed,
  type PassageRule,
  type SettingDefinition,
  type ValueWay,
} from "@/core/catalog";
import { isOfKind, limitValue, type Address, type Value } from "@/core/config";
import type { TrailStep } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/roads";

/** A value on its way through the rules of one passage. */
export interface Traveller extends Address {
  readonly value: Value;
  readonly trail: readonly TrailStep[];
  /** What the way has cost it so far. */
  readonly loss: Loss;
  /** What became of it: its name, or the value itself. */
  readonly change?: Extract<Effect, "renamed" | "converted">;
  /** Set when the value ends here: why. */
  readonly retired?: string;
  readonly behaviour?: Behaviour;
  /** A word that the new release has no counterpart for. */
  readonly lost?: true;
}

/** What is made field by field, where spreading objects into each other would be slow. */
export type Writable<T> = { -readonly [K in keyof T]: T[K] };

export type Active = Readonly<Record<string, number>>;

export const changeBy = (effect: Effect, before: Traveller["change"]): Traveller["change"] =>
  effect === "converted" ? "converted" : (before ?? (effect === "renamed" ? "renamed" : undefined));

/** A traveller after one thing that happened to it; the trail tells it. */
export function told(
  traveller: Traveller,
  passed: Passed,
  step: Pick<TrailStep, "rule" | "why"> & { readonly effect: Effect },
): Traveller {
  const { scope, key, value, before, after, ended, unmatched } = passed;
  // assigned one by one: this runs for every rule of every value, and objects spread into each other are slow to make
  const happened: Writable<TrailStep> = { rule: step.rule, effect: step.effect, why: step.why };
  if (before !== undefined) happened.before = before;
  if (after !== undefined) happened.after = after;
  const next: Writable<Traveller> = {
    scope,
    key,
    value,
    trail: traveller.trail.concat(happened),
    loss: passed.loss === undefined ? traveller.loss : worse(traveller.loss, passed.loss),
  };
  const change = changeBy(step.effect, traveller.change);
  const retired = ended ?? traveller.retired;
  const behaviour = passed.behaviour ?? traveller.behaviour;
  if (change !== undefined) next.change = change;
  if (retired !== undefined) next.retired = retired;
  if (behaviour !== undefined) next.behaviour = behaviour;
  if (unmatched ?? traveller.lost) next.lost = true;
  return next;
}

/** The value ends here. */
export const endedFor = (traveller: Traveller, why: string): Traveller => ({
  ...traveller,
  retired: why,
  loss: "lost",
  trail: [...traveller.trail, { rule: "retire", effect: "retired", why }],
});

/** What a rule may ask about a hop; made once for all values that go over it. */
type AskedOfHop = Omit<ValueWay, "origin">;
const asked = new WeakMap<Hop, AskedOfHop>();

export function wayOf(hop: Hop, active: Active): AskedOfHop {
  const known = asked.get(hop);
  if (known?.active === active) return known;
  const { settings } = indexOf(hop.to);
  const way: AskedOfHop = {
    definition: (key) => settings.get(key),
    scopes: (scope) => scopesOf(hop.to, { scope }),
    active,
  };
  asked.set(hop, way);
  return way;
}

/**
 * Runs one value through the rules of a hop. A split gives several travellers, a move into profiles one for each; a
 * merge gives one for each source, which `joinMerged` later joins. Rounding to the new step stands in the trail.
 */
export const passValue = (origin: SettingDefinition, start: Traveller, hop: Hop, active: Active): Traveller[] =>
  passThrough(
    origin,
    start,
    hop.rules,
    wayOf(hop, active),
    (from, passed, rule) => told(from, passed, { rule: rule.rule, effect: kindOf(rule).effect, why: ruleWhy(rule) }),
    ({ retired }) => retired !== undefined,
  );

/** Joins the travellers that a rule brought to one address: the one that the rule lets count. */
export function joinMerged(travellers: readonly Traveller[], rules: readonly PassageRule[]): Traveller | undefined {
  const [first, ...others] = travellers;
  if (!first || others.length === 0) return first;
  for (const rule of rules) {
    const { join, becomes } = kindOf(rule);
    if (join && becomes?.(rule)?.includes(first.key))
      return travellers[
        join(
          rule,
          travellers.map(({ value }) => value),
        )
      ];
  }
  return first;
}

/**
 * What a destination can take of a value: the value limited to type and processor. A range that was only guessed from a
 * read-out limits nothing: the board will say.
 */
export function fitValue(setting: SettingDefinition, value: Value, processor: string): Value | undefined {
  const type = typeOn(setting, processor);
  if (setting.guessed === true) return isOfKind(value, type) ? value : undefined;
  return limitValue(value, type);
}
