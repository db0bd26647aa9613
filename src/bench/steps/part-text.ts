import { firmwareById } from "@/core/catalog";
import { readRescued } from "@/core/diagnose";
import { defaultConfiguration, idiomOf, reciteLines } from "@/core/idiom";
import { resultOf, targetOf } from "@/core/job";
import type { FittedPart } from "@/core/part";
import { partTitle } from "@/core/part";
import { ok, type Result } from "@/core/problem";
import type { StepContext } from "@/bench/steps/context";

/** The settings region of a part behind a line, written down as its release writes its values. */
export function textOfPart(
  { catalogue, state, part: name }: Pick<StepContext, "catalogue" | "state" | "part">,
  part: FittedPart,
  region: Uint8Array,
): Result<{ readonly text: string; readonly unread: readonly string[] }> {
  const { chipId } = resultOf(state, "know-loader", name);
  const identity = {
    target: targetOf({ steps: state.steps }, name) ?? "",
    board: partTitle(part),
    ...(chipId === undefined ? {} : { chipId }),
  };
  const { regionState } = resultOf(state, "rescue", name);
  const firmware = firmwareById(catalogue, resultOf(state, "know-target", name).fromRelease ?? "");
  const document = firmware && catalogue.idioms.get(firmware.idiom);
  if (regionState === "defaults" && firmware && document && region.every((byte) => byte === 0xff)) {
    const { family, version, builtOn } = firmware;
    const bare = defaultConfiguration(firmware, identity.target, { family, release: version, builtOn, ...identity });
    return ok({ text: `${reciteLines(bare, firmware, idiomOf(document), "all").join("\n")}\n`, unread: [] });
  }
  return readRescued(region, catalogue, identity);
}
