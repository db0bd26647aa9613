import {
  equalValues,
  rowsById,
  settingsByAddress,
  showValue,
  addressId,
  type Configuration,
  type Value,
} from "@/core/config";
import { columnsOf, indexOf, type Release } from "@/core/catalog";
import type { ScriptLine } from "@/core/carryover/settle";

export type ProofResult = "took" | "adjusted" | "refused" | "missing" | "uninvited";

/** What the board answered to one line of the restore. */
export interface LineAnswer {
  readonly line: number;
  readonly answer: "accepted" | "adjusted" | "refused" | "none";
  readonly cause?: string;
  readonly text?: string;
}

/** One value on the board after the job, held against the plan. */
export interface ProvedValue {
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
  readonly flies: boolean;
}

export interface Proof {
  readonly values: readonly ProvedValue[];
  readonly counts: Readonly<Record<ProofResult, number>>;
  readonly activeAsPlanned: boolean;
}

interface ProofInput {
  readonly release: Release;
  readonly planned: Configuration;
  readonly script: readonly ScriptLine[];
  readonly answers: readonly LineAnswer[];
  readonly readBack: Configuration;
}

const CAUSES: Readonly<Record<string, string>> = {
  "unknown-name": "The firmware does not know this name",
  "not-here": "The hardware for it is missing on this board",
  "out-of-range": "The value is outside what the firmware allows",
  garbled: "The line arrived garbled",
  full: "The board has no room for it",
  unkept: "The board did not keep it",
};

export const causeSentence = (cause: string | undefined): string | undefined =>
  cause === undefined ? undefined : (CAUSES[cause] ?? `The board says: ${cause}`);

/** Holds what was read back against what was planned, value by value. */
export function proveRestore({ release, planned, script, answers, readBack }: ProofInput): Proof {
  const index = indexOf(release);
  const sentAt = new Map(
    script.flatMap((line, i) => (line.itemId === undefined ? [] : [[line.itemId, i + 1] as const])),
  );
  const answerAt = new Map(answers.map((answer) => [answer.line, answer]));
  const found = settingsByAddress(readBack);
  const wanted = settingsByAddress(planned);
  const values: ProvedValue[] = [];
  const judge = (equal: boolean, present: boolean, sentLine: number): ProofResult => {
    if (equal) return "took";
    if (answerAt.get(sentLine)?.answer === "refused") return "refused";
    return present ? (sentLine > 0 ? "adjusted" : "uninvited") : "missing";
  };
  for (const entry of planned.settings) {
    const setting = index.settings.get(entry.key);
    if (!setting) continue;
    const id = addressId(entry);
    const back = found.get(id);
    const sentLine = sentAt.get(id) ?? 0;
    const result = judge(
      back !== undefined && equalValues(back.value, entry.value, setting.type),
      back !== undefined,
      sentLine,
    );
    const cause = result === "refused" ? causeSentence(answerAt.get(sentLine)?.cause) : undefined;
    values.push({
      id,
      title: setting.title,
      area: setting.area,
      result,
      planned: showValue(entry.value, setting.type),
      ...(back ? { found: showValue(back.value, setting.type) } : {}),
      sentLine,
      readLine: back?.line ?? 0,
      ...(cause === undefined ? {} : { cause }),
      flies: setting.flies,
    });
  }
  for (const back of readBack.settings) {
    const setting = index.settings.get(back.key);
    if (!setting || setting.housekeeping || wanted.has(addressId(back)) || back.line === 0) continue;
    const fallback =
      (readBack.identity.target === undefined ? undefined : setting.defaultByTarget?.[readBack.identity.target]) ??
      setting.default;
    if (equalValues(back.value, fallback, setting.type)) continue;
    const shown = { planned: showValue(fallback, setting.type), found: showValue(back.value, setting.type) };
    values.push({
      id: addressId(back),
      title: setting.title,
      area: setting.area,
      result: "uninvited",
      ...shown,
      sentLine: 0,
      readLine: back.line,
      flies: setting.flies,
    });
  }
  values.push(...proveRows(release, planned, readBack, sentAt, answerAt, judge));
  const counts: Record<ProofResult, number> = { took: 0, adjusted: 0, refused: 0, missing: 0, uninvited: 0 };
  for (const value of values) counts[value.result]++;
  const activeAsPlanned = Object.entries(planned.active).every(
    ([kind, number]) => (readBack.active[kind] ?? 1) === number,
  );
  return { values, counts, activeAsPlanned };
}

const showCells = (cells: Readonly<Record<string, Value>>, table: Release["tables"][number]) =>
  table.columns.map((c) => `${c.title} ${showValue(cells[c.name] ?? c.default, c.type)}`).join(", ");

function proveRows(
  release: Release,
  planned: Configuration,
  readBack: Configuration,
  sentAt: ReadonlyMap<string, number>,
  answerAt: ReadonlyMap<number, LineAnswer>,
  judge: (equal: boolean, present: boolean, sentLine: number) => ProofResult,
): ProvedValue[] {
  const index = indexOf(release);
  const wanted = rowsById(planned);
  const found = rowsById(readBack);
  return [...new Set([...wanted.keys(), ...found.keys()])].flatMap((id): ProvedValue[] => {
    const want = wanted.get(id);
    const back = found.get(id);
    const table = index.tables.get((want ?? back)?.table ?? "");
    if (!table) return [];
    const sentLine = sentAt.get(`row ${id}`) ?? 0;
    const equal =
      want !== undefined &&
      back !== undefined &&
      columnsOf(table)
        .filter((c) => !table.keys.includes(c))
        .every((c) => equalValues(want.cells[c.name] ?? c.default, back.cells[c.name] ?? c.default, c.type));
    const result = judge(equal, back !== undefined, sentLine);
    const cause = result === "refused" ? causeSentence(answerAt.get(sentLine)?.cause) : undefined;
    return [
      {
        id: `row ${id}`,
        title: `${table.title}, ${(want ?? back)?.key ?? ""}`,
        area: table.area,
        result,
        ...(want ? { planned: showCells(want.cells, table) } : {}),
        ...(back ? { found: showCells(back.cells, table) } : {}),
        sentLine,
        readLine: back?.line ?? 0,
        ...(cause === undefined ? {} : { cause }),
        flies: false,
      },
    ];
  });
}

/** How it went, in one sentence. */
export function proofSentence(proof: Proof): string {
  const { counts, values } = proof;
  const off = values.length - counts.took;
  if (off === 0 && proof.activeAsPlanned) return `All ${values.length} values took, read back from the board.`;
  const parts = [
    counts.adjusted > 0 ? `${counts.adjusted} adjusted by the board` : "",
    counts.refused > 0 ? `${counts.refused} refused` : "",
    counts.missing > 0 ? `${counts.missing} missing` : "",
    counts.uninvited > 0 ? `${counts.uninvited} changed uninvited` : "",
    proof.activeAsPlanned ? "" : "another profile is active than planned",
  ].filter(Boolean);
  return `${counts.took} of ${values.length} values took; ${parts.join(", ")}.`;
}
