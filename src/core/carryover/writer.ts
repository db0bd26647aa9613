import type { Firmware } from "@/core/catalog";
import { lineWriter, requireCommand, type Idiom } from "@/core/idiom";
import type { ScriptWriter } from "@/core/carryover/script";

/** Writes script lines for a release in its idiom. */
export function writerFor(release: Firmware, idiom: Idiom, starter?: string): ScriptWriter {
  return {
    forget: requireCommand(idiom, "forget"),
    ...(starter === undefined
      ? {}
      : { starter: { line: requireCommand(idiom, "starter", { name: starter }), name: starter } }),
    lines: lineWriter(release, idiom),
  };
}
