import { readRecital } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { language } from "../support/languages";

/**
 * Two read-outs whose lines a capture took alternately, each line with a check of its own that holds. The closing line of
 * the one fits the lines that stand before it.
 */
const BOTH = `66> version 4 on T1
31> count = +0
5b> mode = High
74> modes = none
c1> label = '
2a> [gain]
0c> base = +0.00
53> [arm]
80> hold = -
40> [[sockets]]
f0> 6, none, 0, -, -
4c> 5, ear, 0, +, +
e4> name = "*/Z; é"
ec> 2, none, 0, +, -
bf> flags = one
bb> [tune a *]
74> [roll]
fc> name = "\\""
3c> 1 = +0
1e> flags = none
a0> 2 = +0
74> [roll]
5d> 3 = +0
3c> 1 = +0
25> [pack a]
a0> 2 = +0
ac> cells = +0
5d> 3 = +0
91> [pack b *]
b8> [tune b]
ac> cells = +0
3f> name = ";#a !7Z="
34> in all 32
1e> flags = none
74> [roll]
02> 1 = +200
a0> 2 = +0
5d> 3 = +0
25> [pack a]
ac> cells = +0
91> [pack b *]
ac> cells = +0
02> in all 31
`;

it("case C75: where one heading of a profile stands twice, its values are not given out by their order", () => {
  const { idiom, catalogue } = language("front");
  const { configuration, completeness } = valueOf(readRecital(BOTH, idiom, catalogue));
  expect(configuration.settings.filter(({ scope, key }) => scope === "tune 2" && key === "roll.1")).toEqual([]);
  expect(completeness.verdict).toBe("incomplete");
});
