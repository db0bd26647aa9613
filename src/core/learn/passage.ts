import type { PassageRule, Release, SettingDefinition } from "@/core/catalog";
import { equalValues } from "@/core/config";
import { assign } from "@/core/compare";
import { lettersAlike, namesAlike } from "@/core/learn/likeness";

/** A rule that two releases suggest, and how sure that is, 0 to 1. */
export interface ProposedRule {
  readonly rule: PassageRule;
  readonly confidence: number;
  /** What speaks for it, in words. */
  readonly because: readonly string[];
}

/** Settings that are in one release only. `fresh` need no rule: what is new is found by itself. */
export interface ProposedPassage {
  readonly rules: readonly ProposedRule[];
  readonly fresh: readonly string[];
}

const LEAST_ALIKE = 0.42;

interface Pairing {
  readonly name: number;
  readonly value: number;
  readonly place: number;
  readonly kind: number;
}

/** What speaks for two settings being the same: name, kind of value, default, and what stands beside them. */
function pairing(old: SettingDefinition, now: SettingDefinition, from: Release, to: Release): Pairing {
  const kind = old.type.kind === now.type.kind ? 1 : 0;
  const value =
    kind === 1 && equalValues(old.default, now.default, now.type) ? 1 : ratioOf(old, now) !== undefined ? 0.6 : 0;
  const neighbours = (release: Release, setting: SettingDefinition) => {
    const at = release.settings.indexOf(setting);
    return [release.settings[at - 1]?.key ?? "", release.settings[at + 1]?.key ?? ""] as const;
  };
  const [[before, after], [nowBefore, nowAfter]] = [neighbours(from, old), neighbours(to, now)];
  const beside = (a: string, b: string) => (a !== "" && a === b ? 1 : a !== "" && b !== "" ? namesAlike(a, b) : 0);
  return {
    name: namesAlike(old.key, now.key),
    value,
    place: (beside(before, nowBefore) + beside(after, nowAfter)) / 2,
    kind,
  };
}

/** How much a lead in likeness tells; held against truth in the benchmark. */
const STEEPNESS = 12;

/** How sure one thing is whose likeness is ahead of the next best by so much: 0.5 when they are equal. */
const surenessOf = (lead: number): number => 1 / (1 + Math.exp(-STEEPNESS * lead));

/** The likeness of what comes nearest beside the pair that was chosen: in its row, in its column, or to be nothing's heir. */
function rivalOf(likenesses: readonly (readonly number[])[], row: number, column: number): number {
  let rival = LEAST_ALIKE;
  likenesses[row]?.forEach((likeness, j) => {
    if (j !== column) rival = Math.max(rival, likeness);
  });
  likenesses.forEach((others, i) => {
    if (i !== row) rival = Math.max(rival, others[column] ?? 0);
  });
  return rival;
}

const alikeness = ({ name, value, place, kind }: Pairing) =>
  kind === 0 ? 0 : 0.55 * name + 0.2 * value + 0.25 * place;

/** A round factor between two defaults, as a change of unit would make it. */
function ratioOf(old: SettingDefinition, now: SettingDefinition): number | undefined {
  const [a, b] = [old.default, now.default];
  if (typeof a !== "number" || typeof b !== "number" || a === 0 || b === 0 || a === b) return undefined;
  const ratio = b / a;
  const exact = [1e3, 1e2, 1e1, 1e-1, 1e-2, 1e-3, 60, 1 / 60, 180 / Math.PI, Math.PI / 180].find(
    (factor) => Math.abs(ratio / factor - 1) < 0.01,
  );
  return exact;
}

/** Words of a choice that became other words, each held against the one that is most like it, else by its place. */
function wordsMap(old: readonly string[], now: readonly string[]): Record<string, string> {
  const found = assign(
    old.map((word, i) => now.map((other, j) => 1 - lettersAlike(word, other) + Math.abs(i - j) * 0.15)),
  );
  return Object.fromEntries(
    old.flatMap((word, i) => (now[found[i] ?? -1] === undefined ? [] : [[word, now[found[i] ?? 0] ?? ""]])),
  );
}

function ruleFor(old: SettingDefinition, now: SettingDefinition, sure: number, because: string[]): ProposedRule[] {
  const renamed = old.key === now.key ? {} : { to: now.key };
  const rules: ProposedRule[] = [];
  const factor = ratioOf(old, now);
  const choices =
    old.type.kind === "choice" && now.type.kind === "choice"
      ? ([old.type.options, now.type.options] as const)
      : undefined;
  const words = choices?.[0].some((word) => !choices[1].includes(word)) ? wordsMap(...choices) : undefined;
  const otherUnit = old.type.kind === "number" && now.type.kind === "number" && old.type.unit !== now.type.unit;
  if (factor !== undefined && (otherUnit || sure < 1 || old.type.kind !== "number"))
    rules.push({
      rule: { rule: "rescale", key: old.key, ...renamed, factor, why: "Its default is the same in another unit" },
      confidence: Math.min(sure, otherUnit ? 0.9 : 0.6),
      because: [...because, `default ${String(old.default)} became ${String(now.default)}`],
    });
  else if (words)
    rules.push({
      rule: { rule: "map", key: old.key, ...renamed, words, why: "Its words changed" },
      confidence: sure * 0.7,
      because: [...because, `words ${Object.keys(words).join(", ")} became ${Object.values(words).join(", ")}`],
    });
  else if (old.key !== now.key)
    rules.push({ rule: { rule: "rename", key: old.key, to: now.key, why: "Renamed" }, confidence: sure, because });
  if (old.scope !== now.scope)
    rules.push({
      rule: { rule: "move", key: old.key, to: now.scope, why: "Kept in another place" },
      confidence: sure,
      because: [...because, `${old.scope} became ${now.scope}`],
    });
  return rules;
}

/**
 * The rules between two releases that nobody wrote down, as proposals: same names are the same settings; the others are
 * paired so that the likeness of all pairs together is greatest, by name, default and neighbours. What finds no partner
 * was retired or is new.
 */
export function proposePassage(from: Release, to: Release): ProposedPassage {
  const [old, now] = [new Map(from.settings.map((s) => [s.key, s])), new Map(to.settings.map((s) => [s.key, s]))];
  const gone = from.settings.filter((setting) => !now.has(setting.key));
  const fresh = to.settings.filter((setting) => !old.has(setting.key));
  const rules: ProposedRule[] = [];
  for (const setting of from.settings) {
    const partner = now.get(setting.key);
    if (partner) rules.push(...ruleFor(setting, partner, 1, ["the name is the same"]));
  }
  const pairs = gone.map((a) => fresh.map((b) => pairing(a, b, from, to)));
  const likenesses = pairs.map((row) => row.map(alikeness));
  const found = assign(likenesses.map((row) => row.map((likeness) => 1 - likeness)));
  const taken = new Set<string>();
  gone.forEach((setting, i) => {
    const column = found[i] ?? -1;
    const partner = fresh[column];
    const pair = pairs[i]?.[column];
    const likeness = likenesses[i]?.[column] ?? 0;
    if (!partner || !pair || likeness < LEAST_ALIKE) {
      rules.push({
        rule: { rule: "retire", key: setting.key, why: "Not in the new release" },
        confidence: surenessOf(LEAST_ALIKE - likeness),
        because: [`nothing in the new release is like it${partner ? `; nearest ${partner.key}` : ""}`],
      });
      return;
    }
    taken.add(partner.key);
    const because = [
      `names ${Math.round(pair.name * 100)} % alike`,
      ...(pair.value === 1 ? ["the same default"] : []),
      ...(pair.place > 0.8 ? ["the same neighbours"] : []),
    ];
    const sure = surenessOf(likeness - rivalOf(likenesses, i, column));
    rules.push(...ruleFor(setting, partner, Math.min(0.99, sure), because));
  });
  return {
    rules: rules.toSorted((a, b) => b.confidence - a.confidence),
    fresh: fresh.filter((setting) => !taken.has(setting.key)).map((setting) => setting.key),
  };
}
