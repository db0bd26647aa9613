import { MAIN_PART } from "@/core/catalog";
import type { FleetImpact, ReleaseChanges } from "@/core/compare";

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** “Family 1 to Family 2: 5 silent changes, 2 that behave otherwise, 2 that can limit flight.” */
export function changesSentence(found: ReleaseChanges, from: string, to: string, tag?: string): string {
  const { silent, behaviour, restricts, blocked } = found.counts;
  const parts = [
    silent > 0 ? count(silent, "silent change", "silent changes") : "",
    behaviour > 0 ? `${behaviour} that ${behaviour === 1 ? "behaves" : "behave"} otherwise` : "",
    restricts > 0 ? `${restricts} that can limit flight` : "",
    blocked > 0 ? `${blocked} that cannot be there` : "",
  ].filter(Boolean);
  const about = tag === undefined ? `${from} to ${to}` : `${tag} from ${from} to ${to}`;
  if (parts.length > 0) return `${about}: ${parts.join(", ")}.`;
  return found.changes.length === 0 ? `${about}: no setting changes.` : `${about}: nothing changes silently.`;
}

/** “Family 2 would touch 12 aircraft, 4 settings of them silently.” Of a release for parts, those are counted. */
export function impactSentence(
  found: Pick<FleetImpact, "impacts" | "aircraft">,
  to: string,
  part: string = MAIN_PART,
): string {
  const [one, many] = part === MAIN_PART ? ["aircraft", "aircraft"] : ["part", "parts"];
  const touched = found.aircraft.filter((a) => !a.problem).length;
  const cannot = found.aircraft.length - touched;
  const silent = found.impacts.filter((impact) => impact.how === "silent").length;
  if (found.aircraft.length === 0)
    return part === MAIN_PART
      ? `All run ${to} already.`
      : `Of the ${part} that were read out none runs another than ${to}.`;
  const tail = cannot === 0 ? "" : ` ${count(cannot, `${one} cannot`, `${many} cannot`)} take it.`;
  if (touched === 0) return `${to} suits none of them.${tail}`;
  return `${to} would touch ${count(touched, one, many)}: ${count(silent, "setting", "settings")} silently.${tail}`;
}
