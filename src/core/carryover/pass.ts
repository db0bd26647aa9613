import {
  anotherBy,
  indexOf,
  isNearly,
  kindOf,
  linearText,
  passThrough,
  ruleWhy,
  scaled,
  scopesOf,
  typeOn,
  worse,
  type Another,
  type Behaviour,
  type Effect,
  type Linear,
  type Loss,
  type Passed,
  type SettingDefinition,
  type PassingContext,
} from "@/core/catalog";
import {
  equalValues,
  isOfKind,
  limitValue,
  quantize,
  showValue,
  type Address,
  type Value,
  type ValueType,
} from "@/core/config";
import type { TrailStep } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/hop";

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
  /** Another value goes there; this one is told where it was set and differs. */
  readonly beside?: true;
}

/** What is made field by field, where spreading objects into each other would be slow. */
export type Writable<T> = { -readonly [K in keyof T]: T[K] };

export type Active = Readonly<Record<string, number>>;

export const changeBy = (effect: Effect, before: Traveller["change"]): Traveller["change"] =>
  effect === "converted" ? "converted" : (before ?? (effect === "renamed" ? "renamed" : undefined));

/** What happens to a value besides itself: the type that it has there, and what becomes of what would feel as before. */
interface Alongside {
  readonly type: ValueType | undefined;
  /** What the rule does to a number, as a formula. */
  readonly linear?: Linear | undefined;
  readonly another: Another;
}

/** Same number, other effect: what was said of it before, and this. */
function feltAfter(
  traveller: Traveller,
  { value, behaviour }: Passed,
  { type, linear, another }: Alongside,
): Behaviour | undefined {
  const before = traveller.behaviour;
  if (!behaviour) {
    if (before?.felt === undefined) return before;
    const felt = another(before.felt);
    const { why, sums } = before;
    if (felt === undefined) return { why, sums: [] };
    const formula = linear ? linearText(linear) : "";
    return { why, felt, sums: formula === "" || !type ? sums : [...sums, formula, `= ${showValue(felt, type)}`] };
  }
  const why = before === undefined ? behaviour.why : `${before.why} ${behaviour.why}`;
  const basis = before === undefined ? value : before.felt;
  if (!behaviour.suggest || typeof basis !== "number") return { why, sums: [] };
  const felt = scaled(basis, behaviour.suggest, type).value;
  const start = before === undefined && type ? [showValue(basis, type)] : (before?.sums ?? []);
  return {
    why,
    felt,
    sums: [...start, linearText(behaviour.suggest), ...(type ? [`= ${showValue(felt, type)}`] : [])],
  };
}

/** A traveller after one thing that happened to it; the trail tells it. */
export function afterRule(
  traveller: Traveller,
  passed: Passed,
  step: Pick<TrailStep, "rule" | "why"> & { readonly effect: Effect },
  alongside: () => Alongside,
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
    trail: [...traveller.trail, happened],
    loss: passed.loss === undefined ? traveller.loss : worse(traveller.loss, passed.loss),
  };
  const change = changeBy(step.effect, traveller.change);
  const retired = ended ?? traveller.retired;
  const behaviour = passed.behaviour || traveller.behaviour ? feltAfter(traveller, passed, alongside()) : undefined;
  if (change !== undefined) next.change = change;
  if (retired !== undefined) next.retired = retired;
  if (behaviour !== undefined) next.behaviour = behaviour;
  if (unmatched ?? traveller.lost) next.lost = true;
  if (passed.beside ?? traveller.beside) next.beside = true;
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
type HopContext = Omit<PassingContext, "origin" | "named">;
const asked = new WeakMap<Hop, HopContext>();

export function contextOf(hop: Hop, active: Active): HopContext {
  const known = asked.get(hop);
  if (known?.active === active) return known;
  const { settings } = indexOf(hop.to);
  const context: HopContext = {
    definition: (key) => settings.get(key),
    scopes: (scope) => scopesOf(hop.to, { scope }),
    active,
  };
  asked.set(hop, context);
  return context;
}

/**
 * Runs one value through the rules of a hop. A split gives several travellers, a move into profiles one for each; those
 * that come to one place meet there (see meeting.ts). Rounding to the new step stands in the trail.
 */
export const passValue = (origin: SettingDefinition, start: Traveller, hop: Hop, active: Active): Traveller[] => {
  const context = contextOf(hop, active);
  return passThrough(
    origin,
    start,
    hop.rules,
    context,
    (from, passed, rule, n, by) =>
      afterRule(from, passed, { rule: rule.rule, effect: kindOf(rule).effect, why: ruleWhy(rule) }, () => ({
        type: context.definition(passed.key)?.type,
        linear: kindOf(rule).linear?.(rule, passed.key),
        another: anotherBy(rule, from, by, n),
      })),
    ({ retired }) => retired !== undefined,
  );
};

/** What a destination can hold of a value, and what had to happen to it for that. */
export interface Fit {
  readonly value: Value;
  readonly how: "same" | "rounded" | "limited";
}

/**
 * A value on the step and within the range of a setting on a processor; undefined where nothing is like it. A range that was
 * only guessed from a read-out limits nothing: the board will say.
 */
export function fitted(setting: SettingDefinition, value: Value, processor: string): Fit | undefined {
  const type = typeOn(setting, processor);
  return setting.guessed === true ? (isOfKind(value, type) ? { value, how: "same" } : undefined) : fitTo(type, value);
}

/** The same for any type, a column's too. */
export function fitTo(type: ValueType, value: Value): Fit | undefined {
  const near = limitValue(value, type);
  if (near === undefined) return undefined;
  if (typeof value === "number" && type.kind === "number") {
    if (isNearly(near as number, value)) return { value: near, how: "same" };
    return { value: near, how: near === quantize(value, type.step) ? "rounded" : "limited" };
  }
  return { value: near, how: equalValues(near, value, type) ? "same" : "limited" };
}
