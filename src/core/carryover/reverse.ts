import {
  indexOf,
  kindOf,
  laterColumn,
  laterPlaces,
  linearOf,
  type Backwards,
  type Firmware,
  type PassageRule,
} from "@/core/catalog";

/** One rule of a passage run backwards: as rules that name settings as the later release does, and how far they reach. */
export function reverseRule(rule: PassageRule, rules: readonly PassageRule[], from: Firmware): Backwards {
  return kindOf(rule).backwards(rule, {
    before: (key) => indexOf(from).settings.get(key),
    later: (key, part) => laterPlaces(key, rules, part),
    linear: (key, part) => linearOf(key, rules, part),
    laterColumn: (table, column) => laterColumn(table, column, rules),
  });
}

const reversed = new WeakMap<
  readonly PassageRule[],
  { readonly from: Firmware; readonly rules: readonly PassageRule[] }
>();

/**
 * The rules of a passage run backwards, the last one first. `from` is the release that the passage starts at. Made once
 * for each passage.
 */
export function reverseRules(rules: readonly PassageRule[], from: Firmware): readonly PassageRule[] {
  const known = reversed.get(rules);
  if (known?.from === from) return known.rules;
  const made = rules.toReversed().flatMap((rule) => reverseRule(rule, rules, from).rules);
  reversed.set(rules, { from, rules: made });
  return made;
}
