import { limitValue, type ValueType } from "@/core/config";
import { columnsOf, type SettingDefinition, type TableDefinition } from "@/core/catalog/definition";
import { laterColumn, laterKeys, ruleIndex, rulesFor } from "@/core/catalog/passing";
import type { Firmware } from "@/core/catalog/release";
import { applied, type Linear } from "@/core/catalog/rules/linear";
import { columnNamed, kindOf, tableOf, type PassageRule } from "@/core/catalog/rules";
import { refuse, type Problem, type Result } from "@/core/problem";

/** A passage with the releases on both sides of it. */
export interface Ruled {
  readonly rules: readonly PassageRule[];
  readonly before: Pick<Firmware, "id" | "settings" | "tables" | "profiles">;
  readonly after: Pick<Firmware, "id" | "settings" | "tables" | "profiles">;
}

/** One thing that a rule says and that cannot be. */
interface Fault {
  readonly message: string;
  readonly detail: string;
}

/** Both sides by name, so that a look costs nothing. */
class Sides {
  readonly before: ReadonlyMap<string, SettingDefinition>;
  readonly after: ReadonlyMap<string, SettingDefinition>;
  constructor(readonly of: Ruled) {
    this.before = new Map(of.before.settings.map((setting) => [setting.key, setting]));
    this.after = new Map(of.after.settings.map((setting) => [setting.key, setting]));
  }

  table(side: "before" | "after", name: string): TableDefinition | undefined {
    return this.of[side].tables.find((table) => table.name === name);
  }
}

const sayRule = (rule: PassageRule) => `${rule.rule}: ${kindOf(rule).sentence(rule)}`;

const wordsOf = (type: ValueType): readonly string[] | undefined =>
  type.kind === "choice" || type.kind === "flags"
    ? type.options
    : type.kind === "switch"
      ? ["true", "false"]
      : undefined;

const definedAs = (most: number, rule: Linear) => Number(applied(most, rule).toPrecision(12));

const partOf = (rule: PassageRule) => ("part" in rule ? rule.part : undefined);

/** Names of settings that a rule speaks of and that are not there. */
function nameFault(rule: PassageRule, { before, after, of }: Sides): Fault | undefined {
  const odd = kindOf(rule)
    .keys(rule)
    .find((key) => !before.has(key));
  if (odd !== undefined)
    return {
      message: `A passage rule of ${of.after.id} speaks of a setting that ${of.before.id} lacks`,
      detail: `${rule.rule}: ${odd}`,
    };
  const lacking = kindOf(rule)
    .becomes?.(rule)
    ?.find((key) => !after.has(key));
  if (lacking !== undefined)
    return {
      message: `A passage rule leads to a setting that ${of.after.id} lacks`,
      detail: `${rule.rule}: ${lacking}`,
    };
  const part = partOf(rule);
  if (part === undefined || rule.rule === "split") return undefined;
  const split = kindOf(rule)
    .keys(rule)
    .flatMap((key) => rulesFor(key, of.rules))
    .find((each) => each.rule === "split");
  return split?.rule === "split" && split.into.includes(part)
    ? undefined
    : { message: "A passage rule speaks of a part that no split makes", detail: `${sayRule(rule)}: ${part}` };
}

/** Where values go and what they are there: kinds, units, words, places. */
function valueFault(rule: PassageRule, sides: Sides): Fault | undefined {
  const { of, before, after } = sides;
  if (rule.rule === "move") {
    const known = ["system", ...of.after.profiles.map(({ kind }) => kind)];
    return known.includes(rule.to)
      ? undefined
      : {
          message: "A setting moves to where there is nothing",
          detail: `${sayRule(rule)}; there are ${known.join(", ")}`,
        };
  }
  const [key] = kindOf(rule).keys(rule);
  const origin = key === undefined ? undefined : before.get(key);
  if (!origin || key === undefined) return undefined;
  const arrived = laterKeys(key, of.rules)
    .filter((each) => partOf(rule) === undefined || partOf(rule) === each)
    .flatMap((each) => after.get(each) ?? []);
  if (rule.rule === "rescale" || (rule.rule === "behaviour" && rule.suggest)) {
    const odd = [origin, ...arrived].find(({ type, guessed }) => type.kind !== "number" && guessed !== true);
    if (odd) return { message: "A passage rule takes something for a number", detail: `${sayRule(rule)}: ${odd.key}` };
  }
  // what was the most is the least then: where the release does not state it anew, nothing is known of it
  const turned = arrived.some(({ maxByProcessor = {} }) =>
    Object.entries(origin.maxByProcessor ?? {}).some(
      ([processor, most]) => rule.rule === "rescale" && maxByProcessor[processor] === definedAs(most, rule),
    ),
  );
  if (rule.rule === "rescale" && rule.factor < 0 && turned)
    return {
      message: "A limit by processor cannot be turned round",
      detail: `${sayRule(rule)}: state maxByProcessor under change`,
    };
  if (rule.rule !== "map") return undefined;
  const [old, ...now] = [origin, ...arrived].map(({ type, guessed }) => (guessed === true ? undefined : wordsOf(type)));
  const wordless = [origin, ...arrived].find(({ type, guessed }) => guessed !== true && !wordsOf(type));
  if (wordless)
    return { message: "A passage rule maps words of what has none", detail: `${sayRule(rule)}: ${wordless.key}` };
  const odd =
    Object.keys(rule.words).find((word) => old?.includes(word) === false) ??
    Object.values(rule.words).find((word) => now.some((words) => words?.includes(word) === false));
  return odd === undefined
    ? undefined
    : { message: "A passage rule speaks of a word that there is not", detail: `${sayRule(rule)}: ${odd}` };
}

const unitOf = ({ type }: SettingDefinition) => (type.kind === "number" ? (type.unit ?? "") : "");

/** A setting that arrives as another kind, in another unit or in another place than it left, and no rule says how. */
function arrivalFault(setting: SettingDefinition, sides: Sides): Fault | undefined {
  const { of, after } = sides;
  const own = rulesFor(setting.key, of.rules);
  for (const key of laterKeys(setting.key, of.rules)) {
    const there = after.get(key);
    if (!there || setting.guessed === true || there.guessed === true) continue;
    const speaking = own.filter((rule) => partOf(rule) === undefined || partOf(rule) === key);
    const moved = speaking.find((rule) => rule.rule === "move");
    const scope = moved?.rule === "move" ? moved.to : setting.scope;
    if (scope !== there.scope)
      return {
        message: "A setting is kept elsewhere afterwards, and no rule moves it",
        detail: `${setting.key} (${scope}) → ${key} (${there.scope})`,
      };
    const changed = speaking.some(({ rule }) => rule === "rescale" || rule === "map");
    const several = own.some(({ rule }) => rule === "merge" || rule === "split");
    if (changed || !several) continue;
    if (setting.type.kind !== there.type.kind || unitOf(setting) !== unitOf(there))
      return {
        message: "What becomes one, or several, is of another kind or unit, and no rule converts it",
        detail: `${setting.key} (${unitOf(setting) || setting.type.kind}) → ${key} (${unitOf(there) || there.type.kind})`,
      };
  }
  return undefined;
}

/** Two rules that say one thing twice, or give it two names. */
function doubleFault({ rules }: Ruled): Fault | undefined {
  const { bySetting } = ruleIndex(rules);
  for (const [key, own] of bySetting) {
    const names = new Set(
      own.flatMap((rule) => {
        const becomes = partOf(rule) === undefined ? kindOf(rule).becomes?.(rule) : undefined;
        return becomes ? [JSON.stringify(becomes)] : [];
      }),
    );
    if (names.size > 1)
      return {
        message: "Two passage rules give one setting two names",
        detail: `${key}: ${own.map(sayRule).join("; ")}`,
      };
    const seen = new Set<string>();
    for (const rule of own) {
      const id = `${rule.rule} ${partOf(rule) ?? ""}`;
      if (seen.has(id) || (partOf(rule) !== undefined && seen.has(`${rule.rule} `)))
        return { message: "Two passage rules of one kind speak of one setting", detail: `${key}: ${rule.rule}` };
      seen.add(id);
    }
  }
  const seen = new Set<string>();
  for (const rule of rules) {
    const columns = rule.rule === "ranges" ? rule.columns : "column" in rule ? [rule.column] : [""];
    if (tableOf(rule) === undefined) continue;
    for (const column of columns) {
      const id = JSON.stringify([rule.rule, tableOf(rule), column, rule.rule === "restrict" ? rule.value : ""]);
      if (seen.has(id)) return { message: "Two passage rules of one kind speak of one column", detail: sayRule(rule) };
      seen.add(id);
    }
  }
  return undefined;
}

/** Two settings that arrive under one key, where no rule makes one of them. */
function meetingFault({ of, before, after }: Sides): Fault | undefined {
  const arrivals = new Map<string, string>();
  for (const key of before.keys()) {
    const merged = rulesFor(key, of.rules).some(({ rule }) => rule === "merge");
    for (const later of laterKeys(key, of.rules)) {
      const other = arrivals.get(later);
      const both = other !== undefined && rulesFor(other, of.rules).some(({ rule }) => rule === "merge");
      if (other !== undefined && !(merged && both) && after.has(later))
        return {
          message: "Two settings come to one name, and no rule makes one of them",
          detail: `${other}, ${key} → ${later}`,
        };
      arrivals.set(later, key);
    }
  }
  return undefined;
}

/** Whether the key columns of a table can say a key: its parts, joined by a blank. */
export function saysKey({ keys }: TableDefinition, key: string): boolean {
  const parts = keys.length === 1 ? [key] : key.split(" ");
  return (
    parts.length === keys.length &&
    keys.every(({ type }, i) => {
      const part = parts[i] ?? "";
      if (type.kind === "switch") return part === "true" || part === "false";
      const value = type.kind === "number" && part.trim() !== "" ? Number(part) : part;
      return limitValue(value, type) === value;
    })
  );
}

/** What a rule says of a table, its columns, words and keys, and is not there. */
function tableFault(rule: PassageRule, sides: Sides): Fault | undefined {
  const name = tableOf(rule);
  if (name === undefined) return undefined;
  const [table, later] = [sides.table("before", name), sides.table("after", name)];
  const fault = (message: string, detail: string): Fault => ({ message, detail: `${sayRule(rule)}: ${detail}` });
  if (!table || !later) return fault("A passage rule speaks of a table that there is not", name);
  const columns = rule.rule === "ranges" ? rule.columns : "column" in rule ? [rule.column] : [];
  const lacking = columns.find((each) => !columnNamed(table, each));
  if (lacking !== undefined) return fault("A passage rule speaks of a column that there is not", lacking);
  const [old] = columns.flatMap((each) => columnNamed(table, each) ?? []);
  const now = old && columnNamed(later, laterColumn(name, old.name, sides.of.rules));
  if (old && !now) return fault("A passage rule leads to a column that there is not", old.name);
  switch (rule.rule) {
    case "cells": {
      const [words, others] = [old && wordsOf(old.type), now && wordsOf(now.type)];
      const odd =
        Object.keys(rule.words).find((word) => words?.includes(word) === false) ??
        Object.values(rule.words).find((word) => others?.includes(word) === false);
      return odd === undefined ? undefined : fault("A passage rule speaks of a word that there is not", odd);
    }
    case "ranges": {
      const odd = rule.columns.find((each) => columnNamed(table, each)?.type.kind !== "number");
      return odd === undefined ? undefined : fault("A passage rule takes a column for numbers", odd);
    }
    case "restrict": {
      if (old && limitValue(rule.value, old.type) === undefined)
        return fault("A passage rule speaks of a word that there is not", String(rule.value));
      const odd = rule.on.find((key) => !saysKey(table, key));
      return odd === undefined ? undefined : fault("A passage rule speaks of a key that there cannot be", odd);
    }
    case "renumber": {
      const keys = Object.keys(rule.rows);
      const to = Object.values(rule.rows);
      const odd = keys.find((key) => !saysKey(table, key)) ?? to.find((key) => !saysKey(later, key));
      if (odd !== undefined) return fault("A passage rule speaks of a key that there cannot be", odd);
      const twice = to.find((key, i) => to.indexOf(key) !== i || (saysKey(table, key) && !keys.includes(key)));
      return twice === undefined ? undefined : fault("Two keys become one", twice);
    }
    default:
      return undefined;
  }
}

/** Default rows and columns that have two names afterwards. */
const columnClash = ({ of }: Sides): Fault | undefined =>
  of.before.tables.flatMap((table): Fault[] => {
    const names = columnsOf(table).map(({ name }) => laterColumn(table.name, name, of.rules));
    const twice = names.find((name, i) => names.indexOf(name) !== i);
    return twice === undefined ? [] : [{ message: "Two columns come to one name", detail: `${table.name}: ${twice}` }];
  })[0];

/** Refuses rules that say what cannot be, each on its own side of the passage. */
export function checkRules(ruled: Ruled): Result<undefined> {
  const sides = new Sides(ruled);
  const found: Fault | undefined =
    doubleFault(ruled) ??
    first(ruled.rules, (rule) => nameFault(rule, sides)) ??
    first(ruled.rules, (rule) => valueFault(rule, sides) ?? tableFault(rule, sides)) ??
    meetingFault(sides) ??
    first(ruled.before.settings, (setting) => arrivalFault(setting, sides)) ??
    columnClash(sides);
  if (!found) return { ok: true, value: undefined };
  const problem: Problem = {
    code: "release-rule",
    message: found.message,
    detail: found.detail,
    hint: `Mend the rules from ${ruled.before.id} to ${ruled.after.id}`,
    where: { path: "rules" },
  };
  return refuse(problem);
}

function first<T>(all: readonly T[], look: (one: T) => Fault | undefined): Fault | undefined {
  for (const one of all) {
    const found = look(one);
    if (found) return found;
  }
  return undefined;
}
