import type { Value } from "@/core/config";
import type { ColumnDefinition } from "@/core/catalog/definition";
import { rulesOn } from "@/core/catalog/passing";
import { kindOf, type PassageRule } from "@/core/catalog/rules";
import type { Problem } from "@/core/problem";

/** What a word or number of a column is called after the rules; `column` is its name before them. */
export function laterCell(
  table: string,
  column: string,
  value: Value,
  rules: readonly PassageRule[],
  context: { readonly before: ColumnDefinition | undefined; readonly after: ColumnDefinition | undefined },
): Value {
  return rulesOn(table, rules).reduce<Value>(
    (now, rule) => kindOf(rule).table?.cell?.(rule, column, now, context)?.value ?? now,
    value,
  );
}

export const laterRow = (table: string, key: string, rules: readonly PassageRule[]): string =>
  rulesOn(table, rules).reduce((now, rule) => kindOf(rule).table?.key?.(rule, now) ?? now, key);

/** Where nothing is known of the columns before and after. */
export const NO_WAY = { before: undefined, after: undefined };

/** A release that contradicts itself; `path`: where in its document. */
export const inconsistent = (message: string, path: string, detail: string): Problem => ({
  code: "release-inconsistent",
  message,
  detail,
  where: { path },
});
