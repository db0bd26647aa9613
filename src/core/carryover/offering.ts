import type { SettingDefinition } from "@/core/catalog";
import { addressId, equalValues, showValue, type Value } from "@/core/config";
import type { Origin, Travelling } from "@/core/carryover/meeting";
import { fitted, type Fit, type Traveller } from "@/core/carryover/pass";
import type { Choice } from "@/core/carryover/plan";

/** A value that came to a place, as the destination can hold it; and the one that would feel as before. */
export interface Candidate {
  readonly origin: Origin;
  readonly traveller: Traveller;
  /** Absent where the destination has nothing like it. */
  readonly fit?: Fit;
  readonly felt?: Fit;
}

export function candidateOf(
  { origin, traveller }: Travelling,
  setting: SettingDefinition,
  processor: string,
): Candidate {
  const fit = traveller.lost ? undefined : fitted(setting, traveller.value, processor);
  const wanted = traveller.behaviour?.felt;
  const felt = wanted === undefined ? undefined : fitted(setting, wanted, processor);
  const other = felt && fit && !equalValues(felt.value, fit.value, setting.type);
  return { origin, traveller, ...(fit ? { fit } : {}), ...(other ? { felt } : {}) };
}

/** Whether two values are the same at their place, and would feel the same. */
export function holdAlike(a: Candidate, b: Candidate, { type }: SettingDefinition): boolean {
  const alike = (x: Fit | undefined, y: Fit | undefined) => (x && y ? equalValues(x.value, y.value, type) : x === y);
  return a.fit !== undefined && alike(a.fit, b.fit) && alike(a.felt, b.felt);
}

/** A suggestion that changes a number by more than this is said to. */
const MUCH = 2;

/** How what is suggested was worked out, and whether it is far from the number that stands there. */
function adaptMeans(
  { traveller, fit, felt }: Candidate,
  setting: SettingDefinition,
  shown: (v: Value) => string,
): string {
  const { sums = [] } = traveller.behaviour ?? {};
  const sumText = `${sums.join(" ")}${felt?.how === "limited" ? `, limited to ${shown(felt.value)}` : ""}`;
  const [now, next] = [fit?.value, felt?.value];
  const [a, b] = [Math.abs(Number(now)), Math.abs(Number(next))];
  const far = setting.type.kind === "number" && (a * b === 0 || Math.max(a, b) / Math.min(a, b) > MUCH);
  const much =
    far && now !== undefined ? ` It is ${b > a ? "more than twice" : "less than half of"} ${shown(now)}.` : "";
  return `${sumText === "" ? "" : `${sumText}.`}${much}`.trim();
}

const choice = (id: string, verb: string, value: Value, shown: string, means = ""): Choice => ({
  id,
  label: `${verb} ${shown}`,
  value,
  shown,
  ...(means === "" ? {} : { means }),
});

/** What tells values apart that came to one place: the names of their settings, their profiles, or both. */
function namesOf(candidates: readonly Candidate[]): ((origin: Origin) => string)[] {
  const distinct = (name: (origin: Origin) => string) =>
    new Set(candidates.map(({ origin }) => name(origin))).size === candidates.length;
  const byKey = ({ definition }: Origin) => definition.key;
  const byScope = ({ scope }: Origin) => scope;
  const id = distinct(byKey)
    ? byKey
    : distinct(byScope)
      ? byScope
      : ({ scope, definition }: Origin) => addressId({ scope, key: definition.key });
  const title = ({ definition, scope }: Origin) =>
    distinct(byKey) ? `“${definition.title}”` : distinct(byScope) ? scope : `“${definition.title}” of ${scope}`;
  return [id, title];
}

/** Of several values that were set, each, once; the same value of two places says both. */
function offerSeveral(candidates: readonly Candidate[], setting: SettingDefinition, shown: (v: Value) => string) {
  const [idOf, titleOf] = namesOf(candidates);
  const offered: { id: string; verb: string; value: Value; says: string[]; more: string }[] = [];
  const put = (candidate: Candidate, fit: Fit, verb: string, prefix: string, more: string) => {
    const { origin } = candidate;
    const was = showValue(origin.value, origin.definition.type);
    const set = origin.moved ? "" : ", set by nobody";
    const limited = fit.how === "limited" ? `, limited to ${shown(fit.value)}` : "";
    const says = `${titleOf?.(origin) ?? ""} was ${was}${set}${limited}`;
    const same = offered.find((each) => each.verb === verb && equalValues(each.value, fit.value, setting.type));
    if (same) same.says.push(says);
    else {
      const id = `${prefix} ${idOf?.(origin) ?? ""}`;
      // one setting can come by two ways
      const alike = offered.filter((each) => each.id === id || each.id.startsWith(`${id} by way `)).length;
      offered.push({ id: alike === 0 ? id : `${id} by way ${alike + 1}`, verb, value: fit.value, says: [says], more });
    }
  };
  for (const candidate of candidates) {
    const { fit, felt } = candidate;
    if (felt) put(candidate, felt, "Make it", "adapt", adaptMeans(candidate, setting, shown));
    if (fit) put(candidate, fit, "Take", "from", "");
  }
  return offered.map(({ id, verb, value, says, more }) =>
    choice(id, verb, value, shown(value), `${says.join("; ")}.${more === "" ? "" : ` ${more}`}`),
  );
}

export interface Offering {
  readonly setting: SettingDefinition;
  /** The value that goes there by itself, first; others that were set and came to its place. */
  readonly candidates: readonly Candidate[];
  readonly fallback: Value;
  readonly silent: boolean;
}

/** What a person may choose for a value that waits for one. */
export function offered({ setting, candidates, fallback, silent }: Offering): Choice[] {
  const shown = (value: Value) => showValue(value, setting.type);
  const [only] = candidates;
  const takeDefault = choice("take-default", silent ? "Take" : "Take the default,", fallback, shown(fallback));
  if (!only) return [takeDefault];
  if (candidates.length > 1) {
    const several = offerSeveral(candidates, setting, shown);
    const known = several.some(({ value }) => value !== undefined && equalValues(value, fallback, setting.type));
    const complete = only.origin.moved && candidates.every(({ fit }) => fit !== undefined);
    return complete || known ? several : [...several, takeDefault];
  }
  const { fit, felt, traveller } = only;
  if (!fit) return [choice("take-default", "Take", fallback, shown(fallback))];
  const choices: Choice[] = [];
  if (felt) choices.push(choice("adapt", "Make it", felt.value, shown(felt.value), adaptMeans(only, setting, shown)));
  if (silent || traveller.behaviour) choices.push(choice("keep", "Keep", fit.value, shown(fit.value)));
  else if (fit.how === "limited") choices.push(choice("accept", "Accept", fit.value, shown(fit.value)));
  if (silent) choices.push(takeDefault);
  return choices;
}
