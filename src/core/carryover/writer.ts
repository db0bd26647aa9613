import { type Release } from "@/core/catalog";
import { requireCommand, rowStatement, setStatement, writeStatement, type Idiom } from "@/core/idiom";
import { type ScriptWriter } from "@/core/carryover/settle";

/** Writes script lines for a release in its idiom. */
export function writerFor(release: Release, idiom: Idiom, starter?: string): ScriptWriter {
  return {
    forget: requireCommand(idiom, "forget"),
    ...(starter === undefined ? {} : { starter: requireCommand(idiom, "starter", { name: starter }) }),
    set: (key, value) => writeStatement(setStatement(key, value, release, idiom), idiom),
    clear: (table) => writeStatement({ kind: "clear", table }, idiom),
    row: (table, key, cells) => writeStatement(rowStatement(table, key, cells, release, idiom), idiom),
    select: (profile, number) => writeStatement({ kind: "select", profile, number }, idiom),
  };
}
