import {
  addressId,
  equalValues,
  rowId,
  rowsById,
  settingsByAddress,
  showValue,
  type Configuration,
  type TableRow,
  type Value,
} from "@/core/config";
import { defaultOf, indexOf, rowsFly, type Firmware, type TableDefinition } from "@/core/catalog";
import type { Decisions, Plan, PlanItem } from "@/core/carryover/plan";
import type { ScriptLine } from "@/core/carryover/script";
import { destinedBy, type Destined } from "@/core/carryover/settle";

export const PROOF_RESULTS = [
  "took",
  "adjusted",
  "refused",
  "missing",
  "uninvited",
  "left-behind",
  "could-not-come",
] as const;
/**
 * `left-behind`: on purpose, by a person or by a rule that says so; `could-not-come`: the release has nothing that it
 * could become; `uninvited`: on the board though nobody planned it.
 */
export type ProofResult = (typeof PROOF_RESULTS)[number];

/** What the board answered to one line of the restore. */
export interface LineAnswer {
  readonly line: number;
  readonly answer: "accepted" | "adjusted" | "refused" | "none";
  readonly cause?: string;
  readonly text?: string;
}

/** One item of the plan, or one thing on the board that is in none, held against what was read back. */
export interface ProvedValue {
  /** The plan item's id; of what is in no plan, its place. */
  readonly id: string;
  readonly title: string;
  readonly area: string;
  readonly result: ProofResult;
  readonly planned?: string;
  readonly found?: string;
  /** Line in the restore script and in the read-back, from 1; 0 when there is none. */
  readonly sentLine: number;
  readonly readLine: number;
  readonly cause?: string;
  /** It was not to come along: the job's scope left it behind. */
  readonly scoped?: true;
  /** Whose decision left it behind. */
  readonly by?: string;
  readonly flies: boolean;
}

/** One line of a proof as people read it: from the backup over what was planned to the read-back. */
export interface ProofLine extends Pick<ProvedValue, "id" | "title" | "area" | "result" | "sentLine" | "readLine"> {
  readonly planned: string;
  readonly found: string;
  readonly before: string;
  readonly why: readonly string[];
  readonly backupLine: number;
  /** The backup that this line is of. */
  readonly backupId: number;
  readonly cause: string | null;
}

export interface Proof {
  readonly values: readonly ProvedValue[];
  readonly counts: Readonly<Record<ProofResult, number>>;
  readonly activeAsPlanned: boolean;
}

export interface ProofInput {
  readonly release: Firmware;
  readonly plan: Plan;
  readonly decisions: Decisions;
  /** Who took each decision. */
  readonly deciders?: Readonly<Record<string, string>>;
  readonly script: readonly ScriptLine[];
  readonly answers: readonly LineAnswer[];
  readonly readBack: Configuration;
}

interface Cause {
  readonly say: string;
  /** What is behind several of them most likely, by the areas that they are of. */
  readonly likely: (areas: string) => string;
}

/** The causes that a console's answers are told apart by, as idiom documents name them. */
export const CAUSES: Readonly<Record<string, Cause>> = {
  "unknown-name": {
    say: "The firmware does not know this name",
    likely: () =>
      "The build on the board is another than its document describes: hold what it says of itself against it.",
  },
  "not-here": {
    say: "The hardware for it is missing on this board",
    likely: (areas) => `What serves ${areas} is not fitted, or the firmware is of another target than the board.`,
  },
  "out-of-range": {
    say: "The value is outside what the firmware allows",
    likely: () =>
      "The document of the release gives wider limits than its firmware has: mend the document, then plan anew.",
  },
  garbled: {
    say: "The line arrived garbled",
    likely: () => "Characters were lost on the way: look at cable and plug, then send them again.",
  },
  full: {
    say: "The board has no room for it",
    likely: (areas) => `The board keeps fewer rows or profiles of ${areas} than the document says: leave some behind.`,
  },
  unkept: {
    say: "The board did not keep it",
    likely: () =>
      "It took the lines and had others after its restart: store once more; if that does not help, its memory is worn.",
  },
};

export const causeSentence = (cause: string | undefined): string | undefined =>
  cause === undefined ? undefined : (CAUSES[cause]?.say ?? `The board says: ${cause}`);

/** What was sent where, and what came back. */
interface Evidence {
  readonly release: Firmware;
  readonly target: string;
  readonly sentAt: ReadonlyMap<string, number>;
  readonly answerAt: ReadonlyMap<number, LineAnswer>;
  readonly settings: ReturnType<typeof settingsByAddress>;
  readonly rows: ReturnType<typeof rowsById>;
  readonly foreign: ReadonlySet<string>;
  readonly deciders: Readonly<Record<string, string>>;
}

/** Accounts for every item of the plan, each exactly once, and for whatever stands on the board besides. */
export function proveRestore(input: ProofInput): Proof {
  const { release, plan, decisions, script, answers, readBack } = input;
  const evidence: Evidence = {
    release,
    target: plan.to.target,
    sentAt: new Map(script.flatMap((line, i) => (line.itemId === undefined ? [] : [[line.itemId, i + 1] as const]))),
    answerAt: new Map(answers.map((answer) => [answer.line, answer])),
    settings: settingsByAddress(readBack),
    rows: rowsById(readBack),
    foreign: new Set(readBack.unknown.map(({ text }) => text.trim())),
    deciders: input.deciders ?? {},
  };
  const destined = destinedBy(plan, decisions);
  const planned = new Set(
    destined.flatMap((each) =>
      each.kind === "value" ? [addressId(each.entry)] : each.kind === "row" ? [`row ${rowId(each.row)}`] : [],
    ),
  );
  const values = [...destined.map((each) => proveItem(each, evidence)), ...uninvited(planned, evidence)];
  const counts = Object.fromEntries(PROOF_RESULTS.map((result) => [result, 0])) as Record<ProofResult, number>;
  for (const value of values) counts[value.result]++;
  const activeAsPlanned = Object.entries(plan.active).every(
    ([kind, number]) => (readBack.active[kind] ?? 1) === number,
  );
  return { values, counts, activeAsPlanned };
}

const fliesOf = (item: PlanItem) => item.kind !== "line" && item.flies;

const titleOf = (item: PlanItem) =>
  item.kind === "row" ? `${item.title}, ${(item.to ?? item.from)?.key ?? ""}` : item.title;

const about = (item: PlanItem) => ({
  id: item.id,
  title: titleOf(item),
  area: item.kind === "line" ? "lines" : item.area,
  flies: fliesOf(item),
});

function proveItem(each: Destined, evidence: Evidence): ProvedValue {
  const { item } = each;
  switch (each.kind) {
    case "value": {
      const proved = proveValue(each, evidence);
      // it holds what the plan put in the place of the value that was not to come
      return each.item.scoped && proved.result === "took"
        ? { ...proved, result: "left-behind", scoped: true, cause: each.item.reason }
        : proved;
    }
    case "row":
      return proveRow(each, evidence);
    case "line":
      return proveLine(each, evidence);
    case "left":
    case "gone": {
      const by = evidence.deciders[item.id];
      const why = item.trail.at(-1)?.why;
      return {
        ...about(item),
        result: each.kind === "left" ? "left-behind" : "could-not-come",
        sentLine: 0,
        readLine: 0,
        ...(why === undefined ? {} : { cause: why.replace(/\.$/, "") }),
        ...(item.kind !== "line" && item.scoped ? { scoped: true as const } : {}),
        ...(by === undefined ? {} : { by }),
      };
    }
  }
}

/** How something that was sent came out. */
function outcome(
  { answerAt }: Evidence,
  sentLine: number,
  found: { readonly equal: boolean; readonly line: number } | undefined,
): Pick<ProvedValue, "result" | "sentLine" | "readLine" | "cause"> {
  const answer = answerAt.get(sentLine);
  const refused = answer?.answer === "refused";
  const result = found?.equal
    ? "took"
    : refused
      ? "refused"
      : found
        ? sentLine > 0
          ? "adjusted"
          : "uninvited"
        : "missing";
  const cause = result === "refused" ? causeSentence(answer?.cause) : undefined;
  return { result, sentLine, readLine: found?.line ?? 0, ...(cause === undefined ? {} : { cause }) };
}

function proveValue({ item, entry }: Destined & { kind: "value" }, evidence: Evidence): ProvedValue {
  const id = addressId(entry);
  const type = indexOf(evidence.release).settings.get(entry.key)?.type;
  const back = evidence.settings.get(id);
  const shown = (value: Value) => (type ? showValue(value, type) : String(value));
  const equal = back !== undefined && type !== undefined && equalValues(back.value, entry.value, type);
  return {
    ...about(item),
    ...outcome(evidence, evidence.sentAt.get(id) ?? 0, back && { equal, line: back.line }),
    planned: shown(entry.value),
    ...(back ? { found: shown(back.value) } : {}),
  };
}

const showCells = (cells: TableRow["cells"], table: TableDefinition) =>
  table.columns.map((c) => `${c.title} ${showValue(cells[c.name] ?? c.default, c.type)}`).join(", ");

function proveRow({ item, row }: Destined & { kind: "row" }, evidence: Evidence): ProvedValue {
  const table = indexOf(evidence.release).tables.get(row.table);
  const back = evidence.rows.get(rowId(row));
  const equal =
    table !== undefined &&
    back !== undefined &&
    table.columns.every((c) => equalValues(row.cells[c.name] ?? c.default, back.cells[c.name] ?? c.default, c.type));
  return {
    ...about(item),
    title: `${item.title}, ${row.key}`,
    ...outcome(evidence, evidence.sentAt.get(`row ${rowId(row)}`) ?? 0, back && { equal, line: back.line }),
    ...(table ? { planned: showCells(row.cells, table) } : {}),
    ...(table && back ? { found: showCells(back.cells, table) } : {}),
  };
}

/** A line that nobody understands: the board's answer is all that can be told, unless it says the line again. */
function proveLine({ item }: Destined & { kind: "line" }, evidence: Evidence): ProvedValue {
  const sentLine = evidence.sentAt.get(item.id) ?? 0;
  const text = item.from.text.trim();
  const readBack = evidence.foreign.has(text) ? { equal: true, line: 0 } : undefined;
  return { ...about(item), ...outcome(evidence, sentLine, readBack), planned: text };
}

/** What the board holds though no item of the plan put it there, and its release does not hold it by itself. */
function uninvited(planned: ReadonlySet<string>, { release, target, settings, rows }: Evidence): ProvedValue[] {
  const index = indexOf(release);
  const values = [...settings].flatMap(([id, back]): ProvedValue[] => {
    const setting = index.settings.get(back.key);
    if (!setting || setting.housekeeping || planned.has(id)) return [];
    const fallback = defaultOf(setting, target);
    if (equalValues(back.value, fallback, setting.type)) return [];
    const { title, area, flies } = setting;
    return [
      {
        id: `on board ${id}`,
        title,
        area,
        flies,
        result: "uninvited",
        planned: showValue(fallback, setting.type),
        found: showValue(back.value, setting.type),
        sentLine: 0,
        readLine: back.line,
      },
    ];
  });
  const others = [...rows].flatMap(([id, back]): ProvedValue[] => {
    const table = index.tables.get(back.table);
    if (!table || planned.has(`row ${id}`)) return [];
    return [
      {
        id: `on board row ${id}`,
        title: `${table.title}, ${back.key}`,
        area: table.area,
        flies: rowsFly(table),
        result: "uninvited",
        found: showCells(back.cells, table),
        sentLine: 0,
        readLine: back.line,
      },
    ];
  });
  return [...values, ...others];
}

/** Results that stand as they were planned, or that no plan could have had otherwise. */
const SETTLED: ReadonlySet<ProofResult> = new Set<ProofResult>(["took", "left-behind", "could-not-come"]);

/** Whether a value ended as the plan says. */
export const isAsPlanned = ({ result }: Pick<ProvedValue, "result">): boolean => SETTLED.has(result);

/** What the board holds is what was planned; what was not carried is another question. */
export const asPlanned = ({ values, activeAsPlanned }: Proof): boolean => activeAsPlanned && values.every(isAsPlanned);

/** Values that the job leaves otherwise than the plan says. */
export const offPlan = ({ values }: Proof): number => values.filter((value) => !isAsPlanned(value)).length;

/** Values that somebody chose to leave behind: whoever signs has to know of them. */
export const leftByChoice = ({ values }: Proof): readonly ProvedValue[] =>
  values.filter(({ result, by }) => result === "left-behind" && by !== undefined);

/** How it went, in a sentence or two: of the values that the plan carries, and of those that it does not. */
export function proofSentence(proof: Proof): string {
  const { counts, values } = proof;
  const carried = values.length - counts["left-behind"] - counts["could-not-come"];
  const parts = [
    counts.adjusted > 0 ? `${counts.adjusted} adjusted by the board` : "",
    counts.refused > 0 ? `${counts.refused} refused` : "",
    counts.missing > 0 ? `${counts.missing} missing` : "",
    counts.uninvited > 0 ? `${counts.uninvited} changed uninvited` : "",
    proof.activeAsPlanned ? "" : "another profile is active than planned",
  ].filter(Boolean);
  const first = asPlanned(proof)
    ? `All ${carried} values took, read back from the board.`
    : `${counts.took} of ${carried} values took; ${parts.join(", ")}.`;
  const chosen = leftByChoice(proof);
  const deciders = [...new Set(chosen.map(({ by }) => by))].join(", ");
  const onPurpose = values.filter(
    ({ result, by, scoped }) => result === "left-behind" && by === undefined && scoped,
  ).length;
  const rest = counts["left-behind"] - chosen.length - onPurpose;
  const notCarried = [
    chosen.length > 0 ? `${chosen.length} left behind by ${deciders}` : "",
    onPurpose > 0 ? `${onPurpose} left behind on purpose` : "",
    rest > 0 ? `${rest} kept by the firmware itself` : "",
    counts["could-not-come"] > 0 ? `${counts["could-not-come"]} have no place in the new release` : "",
  ].filter(Boolean);
  return notCarried.length === 0 ? first : `${first} Not carried: ${notCarried.join(", ")}.`;
}
