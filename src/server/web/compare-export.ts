import { comparisonSentence, type Comparison, type Difference, type SideValue } from "@/core/compare";
import { csvOf } from "@/server/csv";
import type { ComparedParts, PartSide } from "@/server/web/compare-parts";

const GROUPS = [
  ["differences", "differs"],
  ["unsure", "cannot be told"],
  ["behaviour", "same number, other meaning"],
  ["personal", "personal"],
] as const satisfies readonly (readonly [keyof Comparison, string])[];

const CAUSES: Readonly<Record<Difference["cause"], string>> = {
  set: "set by somebody",
  "default-moved": "the default moved between the releases",
  "only-left": "only on the left",
  "only-right": "only on the right",
  behaviour: "the number is the same, what it does is not",
  unsure: "not known",
};

const shown = (side: SideValue | undefined): string =>
  side === undefined ? "" : side.doubt === undefined ? side.shown : `not known: ${side.doubt}`;
const written = (side: SideValue | undefined): string =>
  side === undefined || side.doubt !== undefined ? "" : side.explicit ? "yes" : "no, default";

const partSays = (side: PartSide): string => ("why" in side ? side.why : `${side.firmware}, ${side.target}`);

const differencesByGroup = (comparison: Comparison): (readonly [string, Difference])[] =>
  GROUPS.flatMap(([field, group]) => comparison[field].map((each) => [group, each] as const));

/** What is behind the boards, pair by pair, in the columns that differences have. */
const partRows = ({ pairs }: ComparedParts) =>
  pairs.map(({ title, place, left, right, says }) => ({
    group: "behind the boards",
    area: "",
    title,
    place,
    left: partSays(left),
    "left written": "",
    "left line": "",
    right: partSays(right),
    "right written": "",
    "right line": "",
    cause: says,
    "changes how it flies": "",
    why: "",
  }));

/** Every difference of a comparison as CSV (RFC 4180): what cannot be told, what is personal and what is behind the boards included. */
export const comparisonCsv = (comparison: Comparison, parts: ComparedParts): string =>
  csvOf([
    ...differencesByGroup(comparison).map(([group, { title, place, area, flies, cause, left, right, why }]) => ({
      group,
      area,
      title,
      place,
      left: shown(left),
      "left written": written(left),
      "left line": left && left.line > 0 ? left.line : "",
      right: shown(right),
      "right written": written(right),
      "right line": right && right.line > 0 ? right.line : "",
      cause: CAUSES[cause],
      "changes how it flies": flies ? "yes" : "no",
      why: why.join(" "),
    })),
    ...partRows(parts),
  ]);

/** The same in plain text. */
export function comparisonText(comparison: Comparison, parts: ComparedParts, left: string, right: string): string {
  const identity = comparison.identity.map((each) => `${each.what}: ${each.left} against ${each.right}`);
  const blocks = differencesByGroup(comparison).map(([group, each]) =>
    [
      `${each.title} (${each.place})  [${group}]`,
      `  left   ${shown(each.left) === "" ? "nothing" : shown(each.left)}`,
      `  right  ${shown(each.right) === "" ? "nothing" : shown(each.right)}`,
      ...(each.cause === "set" ? [] : [`  cause  ${CAUSES[each.cause]}`]),
      ...each.why.map((why) => `  why    ${why}`),
    ].join("\n"),
  );
  const pairs = parts.pairs.map((each) =>
    [
      `${each.title} (${each.place})  [behind the boards]`,
      `  left   ${partSays(each.left)}`,
      `  right  ${partSays(each.right)}`,
      `  so     ${each.says}`,
    ].join("\n"),
  );
  return [
    `Left: ${left}`,
    `Right: ${right}`,
    ...identity,
    ...(comparison.carried === undefined
      ? []
      : [`The right side was carried over to be compared: ${comparison.carried}`]),
    [comparisonSentence(comparison), parts.sentence].filter((each) => each !== "").join(" "),
    "",
    blocks.join("\n\n"),
    "",
    ...(pairs.length === 0 ? [] : [pairs.join("\n\n"), ""]),
  ].join("\n");
}
