import {
  forPart,
  isA,
  linear,
  namesAfter,
  same,
  scopesIn,
  toStep,
  type AccountRelease,
  type Json,
  type Rule,
  type Setting,
  type Type,
} from "./account-releases";

/** A value on its way. */
export interface Going {
  origin: string;
  set: boolean;
  scope: string;
  key: string;
  value: Json;
  /** It has no counterpart. */
  lost?: boolean;
  /** Asked: same number, other meaning; `felt` while it is known. */
  means?: { felt?: number };
  /** Of a profile that is not the active one. */
  aside?: boolean;
  from?: string;
}
/** One place: the value that goes there, and those that wait with it. */
export interface Place {
  main: Going;
  beside: Going[];
}

/** A number that is rounded and would feel as before through one linear rule. */
const feltThrough = (going: Going, rule: { factor: number; offset?: number }, step: number | undefined): Going =>
  going.means?.felt === undefined || step === undefined
    ? going
    : { ...going, means: { felt: toStep(linear(going.means.felt, rule), step) } };

export const reversed = (words: Record<string, string>): Record<string, string> => {
  const all = Object.values(words);
  return Object.fromEntries(
    Object.entries(words).flatMap(([a, b]) => (all.filter((w) => w === b).length === 1 ? [[b, a]] : [])),
  );
};
export const undo = ({ factor, offset = 0 }: { factor: number; offset?: number }) => ({
  factor: 1 / factor,
  offset: -offset / factor,
});

function mapped(going: Going, words: Record<string, string>, type: Type | undefined): Going {
  if (Array.isArray(going.value))
    return { ...going, value: (going.value as string[]).map((flag) => words[flag] ?? flag) };
  const word = Object.hasOwn(words, String(going.value)) ? words[String(going.value)] : undefined;
  if (word === undefined) return { ...going, lost: true };
  return { ...going, value: type?.switch ? word === "true" : word };
}

function scaled(going: Going, rule: { factor: number; offset?: number }, type: Type | undefined): Going {
  if (typeof going.value !== "number" || !type?.number) return going;
  const { step } = type.number;
  return feltThrough({ ...going, value: toStep(linear(going.value, rule), step) }, rule, step);
}

function behaves(
  going: Going,
  suggest: { factor: number; offset?: number } | undefined,
  type: Type | undefined,
): Going {
  if (!suggest || typeof going.value !== "number" || !type?.number) return { ...going, means: {} };
  const basis = going.means ? going.means.felt : going.value;
  return {
    ...going,
    means: basis === undefined ? {} : { felt: toStep(linear(basis, suggest), type.number.step) },
  };
}

const into = (going: Going, scope: string, to: AccountRelease, active: Record<string, number>): Going[] => {
  const [kind, no] = going.scope.split(" ");
  const flies = no === undefined || Number(no) === (active[kind ?? ""] ?? 1);
  return scopesIn(to, scope).map((each) => ({ ...going, scope: each, ...(flies ? {} : { aside: true }) }));
};

/** One value through a passage, forwards. */
export function forth(going: Going, rules: Rule[], to: AccountRelease, active: Record<string, number>): Going[] {
  const { key } = going;
  return namesAfter(rules, key).flatMap((name) => {
    const type = to.settings.get(name)?.type;
    const own = rules.filter((rule) => rule.key === key && forPart(rule, name));
    const move = own.find(({ rule }) => rule === "move");
    const named = { ...going, key: name, from: key };
    return (move ? into(named, move.to, to, active) : [named]).map((placed) => {
      let now = placed;
      for (const rule of own)
        if (rule.rule === "rescale") now = scaled(now, rule, type);
        else if (rule.rule === "map") now = mapped(now, rule.words, type);
      for (const rule of own) if (rule.rule === "behaviour") now = behaves(now, rule.suggest, type);
      return now;
    });
  });
}

/** One value through a passage, backwards: `to` is the older release, whose names the rules speak. */
export function back(going: Going, rules: Rule[], to: AccountRelease, active: Record<string, number>): Going[] {
  const olds = [...to.settings.keys()].filter((old) => namesAfter(rules, old).includes(going.key));
  return olds.flatMap((old) => {
    const setting = to.settings.get(old);
    const own = rules.filter((rule) => rule.key === old && forPart(rule, going.key));
    const move = own.find(({ rule }) => rule === "move");
    const named = { ...going, key: old, from: going.key };
    const scales = own.filter(({ rule }) => rule === "rescale");
    const behaviours = own.filter(({ rule }) => rule === "behaviour");
    return (move ? into(named, setting?.scope ?? "system", to, active) : [named]).map((placed) => {
      let now = placed;
      for (const rule of own) if (rule.rule === "map") now = mapped(now, reversed(rule.words), setting?.type);
      // what would feel as before: the suggestion is undone first, in the later unit, then the unit
      for (const rule of [...scales].reverse()) now = scaled(now, undo(rule), setting?.type);
      for (const rule of [...behaviours].reverse()) {
        if (!rule.suggest || rule.suggest.factor === 0) {
          now = behaves(now, undefined, setting?.type);
          continue;
        }
        let [a, b] = [1, 0];
        for (const scale of scales) [a, b] = [a * scale.factor, b * scale.factor + (scale.offset ?? 0)];
        const { factor, offset = 0 } = rule.suggest;
        // x in the older unit → a·x + b → (… − offset) ÷ factor → (… − b) ÷ a
        now = behaves(now, { factor: 1 / factor, offset: ((b - offset) / factor - b) / a }, setting?.type);
      }
      return now;
    });
  });
}

const differ = (a: Going, b: Going, type: Type) =>
  Boolean(a.lost ?? b.lost) || !isA(a.value, type) || !isA(b.value, type) || !same(a.value, b.value, type);

/** Values that came to one place. */
export function meet(all: Going[], rules: Rule[], forwards: boolean, setting: Setting): { place: Place; out: Going[] } {
  const going = all.some(({ aside }) => !aside) ? all.filter(({ aside }) => !aside) : all;
  const rule = forwards
    ? rules.find((r) => r.rule === "merge" && r.to === setting.key && r.keys.includes(going[0]?.from ?? ""))
    : rules.find((r) => r.rule === "split" && r.key === setting.key);
  const keys: string[] = rule ? (forwards ? rule.keys : rule.into) : [];
  const ordered = rule ? [...going].sort((a, b) => keys.indexOf(a.from ?? "") - keys.indexOf(b.from ?? "")) : going;
  const set = ordered.filter((each) => each.set);
  const among = set.length > 0 ? set : ordered;
  const able = among.some(({ lost }) => !lost) ? among.filter(({ lost }) => !lost) : among;
  const take = rule ? (forwards ? rule.take : "first") : "first";
  const [first] = able;
  if (!first) throw new Error("nothing came there");
  const better = (a: Going, b: Going) => (take === "largest" ? a.value > b.value : a.value < b.value);
  const main = take === "first" ? first : able.reduce((best, each) => (better(each, best) ? each : best));
  const beside = all.filter((each) => each !== main && each.set && differ(each, main, setting.type));
  return { place: { main, beside }, out: all.filter((each) => each !== main && !beside.includes(each)) };
}
