import { zipSync } from "fflate";
import { resolve } from "@/core/compare";
import { indexOf, releaseTitle } from "@/core/catalog";
import { formatValue, type Spelling } from "@/core/config";
import type { Recital } from "@/core/idiom";
import { ProblemError } from "@/core/problem";
import { csvOf } from "@/server/csv";
import { getBlob, isSpoilt } from "@/server/repositories/blobs";
import { getDb } from "@/server/db";
import { list } from "@/server/sql";

/** Values in files for other programs: decimal point, true and false, flags joined by a bar. */
const PLAIN: Spelling = { decimalMark: ".", on: "true", off: "false", listMark: "|", empty: "" };

/** Every value of a read-out as CSV (RFC 4180), implicit ones included; tables follow in rows of their own. */
export function toCsv(recital: Recital): string {
  const resolved = resolve(recital.configuration, recital.release);
  const values = [...resolved.values.values()].map(({ setting, scope, value, explicit, line }) => ({
    scope,
    key: setting.key,
    title: setting.title,
    area: setting.area,
    value: formatValue(value, setting.type, PLAIN),
    unit: setting.type.kind === "number" ? (setting.type.unit ?? "") : "",
    written: explicit ? "yes" : "no, default",
    line: line || "",
  }));
  const open = [...resolved.open.values.values()].map(({ scope, key, reason, line }) => ({
    scope,
    key,
    title: indexOf(recital.release).settings.get(key)?.title ?? "",
    area: indexOf(recital.release).settings.get(key)?.area ?? "",
    value: "",
    unit: "",
    written: `not known: ${reason}`,
    line: line || "",
  }));
  const openRows = [...resolved.open.rows.values()].map(({ table, key, reason, line }) => ({
    scope: `table ${table}`,
    key: key ?? "",
    title: "",
    area: "",
    value: "",
    unit: "",
    written: `not known: ${reason}`,
    line: line || "",
  }));
  const cells = [...resolved.rows.values()].flatMap((row) =>
    Object.entries(row.cells).map(([column, value]) => ({
      scope: `table ${row.table}`,
      key: `${row.key} ${column}`,
      title: "",
      area: "",
      value: Array.isArray(value) ? value.join("|") : String(value),
      unit: "",
      written: row.explicit ? "yes" : "no, default",
      line: row.line || "",
    })),
  );
  return csvOf([...values, ...open, ...cells, ...openRows]);
}

/** A read-out as JSON: what it says it is, every value with its line, rows, active profiles, lines not understood. */
export function toJson(recital: Recital, sha256: string): string {
  const { configuration, completeness, release } = recital;
  const resolved = resolve(configuration, release);
  return JSON.stringify(
    {
      sha256,
      release: releaseTitle(release),
      identity: configuration.identity,
      completeness: completeness.verdict,
      active: resolved.active,
      settings: [...resolved.values.values()].map(({ setting, scope, value, explicit, line }) => ({
        scope,
        key: setting.key,
        value,
        ...(setting.type.kind === "number" && setting.type.unit !== undefined ? { unit: setting.type.unit } : {}),
        ...(explicit ? { line } : { implicit: true }),
      })),
      rows: [...resolved.rows.values()].map(({ table, key, cells, line }) => ({ table, key, cells, line })),
      unknown: configuration.unknown,
      ...(configuration.doubts ? { notKnown: configuration.doubts } : {}),
    },
    null,
    2,
  );
}

const safeName = (name: string) => name.replace(/[^A-Za-z0-9 ._-]/g, "-");
const MOST = 400;

/** Stored bytes that have been damaged keep nothing else from being had. */
async function bytesIfWhole(name: string): Promise<Uint8Array | undefined> {
  try {
    return await getBlob(name);
  } catch (error) {
    if (isSpoilt(error)) return undefined;
    throw error;
  }
}

/**
 * The backups of an aircraft as they were received, in one archive with a list of their hashes; one that is damaged is named
 * there and left out.
 */
export async function toZip(tag: string): Promise<Uint8Array> {
  const found = await list(getDb().Backup.unscoped(), {
    include: [{ association: "aircraft", attributes: [], where: { tag }, required: true }],
    order: [["taken_at", "asc"]],
    limit: MOST,
  });
  if (found.length === 0) throw new ProblemError({ code: "backup-none", message: `No backup of ${tag} is on file` });
  const files: Record<string, Uint8Array> = {};
  const contents: { file: string; sha256: string; judged: string; taken: string; stored: string }[] = [];
  for (const row of found) {
    const file = `${safeName(row.name)} (${row.id}).${row.verdict === "raw" ? "bin" : "txt"}`;
    const raw = await bytesIfWhole(row.sha256);
    if (raw) files[file] = raw;
    const stored = raw ? "whole" : "damaged; not in here";
    contents.push({ file, sha256: row.sha256, judged: row.verdict, taken: row.taken_at.toISOString(), stored });
  }
  files["list.csv"] = new TextEncoder().encode(csvOf(contents));
  return zipSync(files, { level: 6 });
}
