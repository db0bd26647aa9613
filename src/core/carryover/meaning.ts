import {
  moveTo,
  releaseTitle,
  scopesOf,
  type ColumnDefinition,
  type Concept,
  type Firmware,
  type Loss,
  type SettingDefinition,
  type TableDefinition,
} from "@/core/catalog";
import { profileScope, quantize, showValue, type Value, type ValueType } from "@/core/config";
import { endedFor, afterRule, contextOf, type Active, type Traveller } from "@/core/carryover/pass";
import type { Hop } from "@/core/carryover/hop";

/** Something that says what it means whatever the family. */
interface Meant {
  readonly type: ValueType;
  readonly concept?: Concept;
}

interface Translated {
  readonly value: Value;
  readonly loss: Loss;
  /** A word without a counterpart: `value` is what it would be called. */
  readonly unmatched?: true;
}

/** A number in the unit of its concept. */
const inConcept = (value: number, concept: Concept) => value * (concept.factor ?? 1) + (concept.offset ?? 0);

/** A value of one family in the unit or the words of another. */
export function translated(value: Value, from: Meant, to: Meant): Translated {
  if (typeof value === "number" && to.type.kind === "number" && from.concept && to.concept) {
    const exact = (inConcept(value, from.concept) - (to.concept.offset ?? 0)) / (to.concept.factor ?? 1);
    const rounded = quantize(exact, to.type.step);
    return {
      value: rounded,
      loss: Math.abs(rounded - exact) < 1e-9 * Math.max(1, Math.abs(exact)) ? "none" : "rounding",
    };
  }
  const meaning = (word: string) => from.concept?.words?.[word] ?? word;
  const wordFor = (meant: string) =>
    Object.entries(to.concept?.words ?? {}).find(([, means]) => means === meant)?.[0] ?? meant;
  if (typeof value === "string" && to.type.kind === "choice") {
    const word = wordFor(meaning(value));
    return to.type.options.includes(word)
      ? { value: word, loss: "none" }
      : { value: word, loss: "lost", unmatched: true };
  }
  const { type } = to;
  if (Array.isArray(value) && type.kind === "flags") {
    const words = (value as readonly string[]).map((flag) => wordFor(meaning(flag)));
    const kept = words.filter((word) => type.options.includes(word));
    return { value: kept, loss: kept.length === words.length ? "none" : "lost" };
  }
  return { value, loss: "none" };
}

/**
 * Carries a value by what it means: to the setting of the other family that has the same concept, through the concept's
 * unit or words. Ends here when the other family has no such setting.
 */
export function passByMeaning(origin: SettingDefinition, start: Traveller, hop: Hop, active: Active): Traveller[] {
  const { concept } = origin;
  const setting = concept && hop.to.settings.find((s) => s.concept?.id === concept.id);
  if (!concept || setting?.type.kind !== origin.type.kind)
    return [endedFor(start, `${releaseTitle(hop.to)} has no setting of this meaning`)];
  const { value, loss, unmatched } = translated(start.value, origin, setting);
  const passed = afterRule(
    start,
    {
      scope: start.scope,
      key: setting.key,
      value,
      loss,
      ...(unmatched ? { unmatched } : {}),
      before: `${start.key} ${showValue(start.value, origin.type)}`,
      after: `${setting.key} ${unmatched ? "no counterpart" : showValue(value, setting.type)}`,
    },
    { rule: "meaning", effect: "converted", why: `Same meaning in both families: ${concept.id}` },
    () => ({
      type: setting.type,
      another: (other) => {
        const same = translated(other, origin, setting);
        return same.unmatched ? undefined : same.value;
      },
    }),
  );
  if (setting.scope === origin.scope)
    return scopesOf(hop.to, setting).includes(start.scope)
      ? [passed]
      : [endedFor(start, `${releaseTitle(hop.to)} has fewer profiles of this kind`)];
  const [from = "", no] = start.scope.split(" ");
  // what is kept in profiles of another name there: by their numbers
  if (no !== undefined && setting.scope !== "system" && hop.to.profiles.every(({ kind }) => kind !== from)) {
    const scope = profileScope(setting.scope, Number(no));
    return scopesOf(hop.to, setting).includes(scope)
      ? [{ ...passed, scope }]
      : [endedFor(start, `${releaseTitle(hop.to)} has fewer profiles of this kind`)];
  }
  return moveTo(setting.scope, passed, contextOf(hop, active)).map((next) =>
    afterRule(passed, next, { rule: "move", effect: "converted", why: "Kept in another place there" }, () => ({
      type: setting.type,
      another: (other) => other,
    })),
  );
}

/** The table of the other family that means the same: by its concept, else by its name. */
export const tableMeant = (table: TableDefinition, to: Firmware): TableDefinition | undefined =>
  to.tables.find((each) => (each.concept ?? each.name) === (table.concept ?? table.name));

const meaningOf = (column: ColumnDefinition) => column.concept?.id ?? column.name;

/** The column of a table of the other family that means the same. */
export const columnMeant = (
  column: ColumnDefinition,
  columns: readonly ColumnDefinition[],
): ColumnDefinition | undefined => columns.find((each) => meaningOf(each) === meaningOf(column));
