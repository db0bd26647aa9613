import {
  countOutcomes,
  openItems,
  planUpdate,
  proofSentence,
  proveRestore,
  routeBetween,
  routeTitle,
  scriptOf,
  settlePlan,
  writerFor,
  type Decisions,
  type PlanItem,
} from "@/core/carryover";
import { idiomOf } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { expectGolden, linesOf } from "../../../tests/support/golden";
import { catalogue, release } from "../../../tests/support/workshop";
import { worn } from "../../../tests/support/worn";

/** A way of each kind; what is planned, sent and proved on it was read through once and stays as it is. */
const WAYS = [
  ["heddle-22", "heddle-23", "CSLATE-B", 0],
  ["heddle-24", "heddle-19", "CSLATE-B", 1],
  ["heddle-22", "weft-9", "PWEIR", 2],
  ["treadle-71", "bobbin-41", "FGULL", 3],
] as const;

describe("what a carry-over gives, held against what was read through", () => {
  it.each(WAYS)("from %s to %s", (fromId, toId, target, seed) => {
    const [from, to] = [release(fromId), release(toId)];
    const document = catalogue().idioms.get(to.idiom);
    const on = to.targets.some(({ id }) => id === target) ? target : (to.targets[0]?.id ?? "");
    if (!document) throw new Error(to.idiom);
    const identity = { family: from.family, release: from.version, target, chipId: "AA01-BB02" };
    const plan = valueOf(planUpdate({ configuration: worn(from, identity, seed), release: from }, to, on, catalogue()));
    const decisions: Decisions = Object.fromEntries(
      openItems(plan, {}).map((item, i) => [item.id, item.choices[i % item.choices.length]?.id ?? ""]),
    );
    const settled = settlePlan(plan, decisions, to);
    const script = settled.ok ? scriptOf(settled.value, to, writerFor(to, idiomOf(document))) : [];
    const readBack = worn(to, { family: to.family, release: to.version, target: on }, seed + 4);
    const proof = proveRestore({
      release: to,
      plan,
      decisions,
      deciders: Object.fromEntries(Object.keys(decisions).map((id) => [id, "lead"])),
      script,
      answers: script.map((_, i) => ({
        line: i + 1,
        answer: i % 13 === 5 ? "refused" : "accepted",
        ...(i % 13 === 5 ? { cause: "out-of-range" } : {}),
      })),
      readBack,
    });
    const ofNote = ({ outcome, choices }: PlanItem) =>
      choices.length > 0 || outcome === "converted" || outcome === "limited";
    expectGolden(`carry-over/${fromId}-to-${toId}`, {
      way: [routeTitle(from, valueOf(routeBetween(catalogue(), from, to))), JSON.stringify(countOutcomes(plan))],
      items: linesOf(plan.items, ofNote),
      refusal: settled.ok ? [] : [JSON.stringify(settled.problem)],
      script: linesOf(script, () => false),
      proof: [proofSentence(proof), JSON.stringify(proof.counts), ...linesOf(proof.values, () => false)],
    });
  });
});
