import { isAsPlanned, proveRestore, settlePlan, type Decisions, type Plan, type ScriptLine } from "@/core/carryover";
import type { Catalogue, Firmware } from "@/core/catalog";
import { readRescued } from "@/core/diagnose";
import { idiomOf, readRecital } from "@/core/idiom";
import { twinLooks, twinValue } from "@/core/job/twin";
import { regionHolding } from "@/core/part";
import { startedOn } from "@/core/sim";
import { ok, refuse, type Result } from "@/core/problem";

/** What is decided of a part that has no console: its plan goes over as a settings region. */
export interface RegionPlan {
  readonly plan: Plan;
  readonly decisions: Decisions;
  readonly script: readonly ScriptLine[];
}

/** The settings region that a plan comes to, as the release keeps it. Refuses what cannot be kept. */
export function regionOfPlan(
  { plan, decisions }: Pick<RegionPlan, "plan" | "decisions">,
  firmware: Firmware,
  catalogue: Catalogue,
): Result<Uint8Array> {
  const settled = settlePlan(plan, decisions, firmware);
  if (!settled.ok) return settled;
  const { configuration } = settled.value;
  const identity = { ...configuration.identity, target: plan.to.target };
  return regionHolding({ ...configuration, identity }, firmware, catalogue);
}

/**
 * The region that a plan comes to, as a simulated firmware keeps it once it has started on it, read again as one that comes out
 * of a part, before anything is erased: what is to be looked at, in sentences; none, where everything comes out as planned.
 * Refuses what cannot be kept, or not be read again.
 */
export function rehearseRegion(
  { plan, decisions, script }: RegionPlan,
  firmware: Firmware,
  catalogue: Catalogue,
): Result<string[]> {
  const region = regionOfPlan({ plan, decisions }, firmware, catalogue);
  if (!region.ok) return region;
  const kept = startedOn(region.value, firmware, plan.to.target, catalogue) ?? region.value;
  const rescued = readRescued(kept, catalogue, { target: plan.to.target });
  if (!rescued.ok) return rescued;
  const document = catalogue.idioms.get(firmware.idiom);
  if (!document) return refuse({ code: "idiom-none", message: `The catalogue has no idiom “${firmware.idiom}”` });
  const read = readRecital(rescued.value.text, idiomOf(document), catalogue, firmware);
  if (!read.ok) return read;
  const { configuration: readBack } = read.value;
  const proof = proveRestore({ release: firmware, plan, decisions, script, answers: [], readBack });
  const otherwise = proof.values.filter((value) => !isAsPlanned(value)).map(twinValue);
  return ok(twinLooks({ otherwise, activeAsPlanned: proof.activeAsPlanned }));
}
