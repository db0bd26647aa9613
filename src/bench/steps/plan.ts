import {
  countOutcomes,
  isUntuned,
  measuredElsewhere,
  openDecisions,
  routeBetween,
  scriptOf,
  settlePlan,
  withValue,
  writerFor,
  writtenDown,
  type Plan,
  type ScriptLine,
} from "@/core/carryover";
import { findTarget, releaseTitle, type Release } from "@/core/catalog";
import { wantsOfParts } from "@/core/part";
import { idiomOf, lackOf, lineWriter, type Idiom } from "@/core/idiom";
import { rehearseRegion, twinLooks, type TwinEnd } from "@/core/job/twin";
import { ProblemError, valueOf } from "@/core/problem";
import {
  carriedBy,
  currentStep,
  ofOnePart,
  planOfJobParts,
  releaseFor,
  handsAhead,
  althoughOf,
  scopeOf,
  fittedOf,
  sourceIds,
  type Part,
  wishFor,
  type Need,
  type JobState,
  resultOf,
  backupOf,
  modelOf,
  targetOf,
} from "@/core/job";
import {
  count,
  done,
  firmwareWanted,
  releaseWanted,
  waits,
  type StepContext,
  type StepRunner,
} from "@/bench/steps/context";
import type { JobStore } from "@/bench/store";

export async function storedPlan(store: JobStore, state: JobState): Promise<Plan | undefined> {
  const { planSha } = resultOf(state, "plan");
  return planSha === undefined ? undefined : ((await store.getJson(planSha)) as Plan);
}

/** The plan of this job, of all its parts. The same inputs give the same plan, so it may be asked for again. */
export async function planOf({ store, state, job }: Pick<StepContext, "store" | "state" | "job">): Promise<Plan> {
  const plan = await planOfJobParts(job.goal, state, (order) => store.plan(order));
  if (!plan) throw new Error("the plan needs a target and a backup");
  return plan;
}

/** What a console must be able to be told after the old firmware is gone. */
const WORDS = ["recite", "declare", "sense", "forget", "keep", "restart"] as const;

export function planSentence(plan: Plan): string {
  const counts = countOutcomes(plan);
  const parts = [
    `${counts["as-it-was"]} as they were`,
    `${counts.renamed + counts.converted} renamed or converted`,
    `${counts.limited} limited`,
    `${counts["new-default"]} new`,
    `${counts.retired + counts["left-out"] + counts.unknown} retired or left out`,
  ];
  if (counts["cannot-be-here"] > 0) parts.push(`${counts["cannot-be-here"]} cannot be here`);
  const scoped = plan.items.filter((item) => item.kind !== "line" && item.scoped).length;
  if (scoped > 0) parts.push(`${scoped} left behind on purpose`);
  if (counts["your-call"] > 0) parts.push(`${counts["your-call"]} decided`);
  return parts.filter((part) => !part.startsWith("0 ")).join(", ");
}

/** The starter set that the console is told of; a console without a word for it gets its values alone. */
const starterWord = (goal: StepContext["job"]["goal"], idiom: Idiom) =>
  idiom.starter === undefined ? undefined : scopeOf(goal).starter;

/** What speaks against a release whoever plans for it: how far it was tested, and whether there is a way back. */
async function reasonsToThink({ state, store, catalogue }: StepContext, to: Release): Promise<string[]> {
  const title = releaseTitle(to);
  const { fromRelease } = resultOf(state, "know-board");
  const [target = "", taken] = [targetOf(state), backupOf(state)];
  const from = fromRelease === undefined ? undefined : catalogue.releases.get(fromRelease);
  // it runs already: nothing is left behind
  if (from?.id === to.id) return [];
  const standing =
    to.standing === "stable"
      ? []
      : [
          `${title} is ${to.standing === "candidate" ? "a candidate" : "experimental"}: its maker has not called it done.`,
        ];
  if (!from) return standing;
  const back = routeBetween(catalogue, to, from);
  if (!back.ok) return [...standing, `There is no way back: no passage leads from ${title} to ${releaseTitle(from)}.`];
  // it may be given another target than the one that it would go back to
  const read = taken === undefined ? undefined : await store.recitalOf(taken);
  const before = read?.configuration.identity.target ?? target;
  const own = findTarget(from, before)?.id;
  const kept =
    own !== undefined &&
    (await store.image(from.id, own).then(
      () => true,
      () => false,
    ));
  return kept
    ? standing
    : [...standing, `There is no way back: the workshop holds no image of ${releaseTitle(from)} for ${before}.`];
}

const looksOtherwise = (twin: TwinEnd) => twinLooks(twin).length > 0;

interface Written {
  readonly plan: Plan;
  readonly script: readonly ScriptLine[];
  readonly scriptSha: string;
  readonly release: Release;
  /** What is to be looked at of the parts behind the board. */
  readonly ofParts: readonly string[];
}

/** What a person is to know before they take the plan: how it comes out on a twin, what has changed, what speaks against it. */
async function toTake(context: StepContext, { plan, script, scriptSha, release, ofParts }: Written): Promise<Need> {
  const { store, state, catalogue } = context;
  await context.progress({ say: "A twin of the board plays it" });
  const [target = plan.to.target, model = "", taken] = [targetOf(state), modelOf(state), backupOf(state)];
  const { decisions } = state;
  const from = resultOf(state, "know-board").fromRelease;
  const read = taken === undefined ? undefined : await store.recitalOf(taken);
  const before = read?.configuration.identity.target ?? target;
  const writes = state.steps.some(({ kind, subject }) => kind === "flash" && subject === "main") && from !== undefined;
  const twin = await store.playTwin({
    ...{ releaseId: release.id, target, modelId: model, plan, decisions, script },
    ...(writes ? { before: { releaseId: from, target: before } } : {}),
  });
  const changed = await store.changedSince();
  const elsewhere = measuredElsewhere(plan, release);
  const chosen = sourceIds(context.job.goal, taken)?.chosen;
  const source = chosen === undefined ? undefined : await store.recitalOf(chosen);
  const although = althoughOf(context.job.goal)?.replace(/\.$/, "");
  const along = fittedOf(context.job.goal).flatMap(({ name, part }) =>
    releaseFor(context.job.goal, name) ? [part] : [],
  );
  const looks = [
    ...(source?.completeness.verdict === "incomplete"
      ? [
          `The read-out that this plan comes from is not complete: ${source.completeness.findings
            .filter(({ against }) => against)
            .map(({ text }) => text)
            .join("; ")}.${although === undefined ? "" : ` It was ordered all the same: ${although}.`}`,
        ]
      : []),
    ...(elsewhere === undefined ? [] : [elsewhere]),
    ...wantsOfParts(release, catalogue.releases.get(from ?? ""), model, catalogue, along),
    ...(twin.ok
      ? twinLooks(twin.value)
      : [`Not played on a twin: ${[twin.problem.message, twin.problem.detail].filter(Boolean).join(": ")}.`]),
    ...ofParts,
    ...changed,
  ];
  const end = twin.ok
    ? ` On its twin ${twin.value.flashS === undefined ? "" : `the release was written in ${Math.max(1, twin.value.flashS)} s, then `}${count(twin.value.lines, "line")} went over in ${Math.max(1, twin.value.seconds)} s${looksOtherwise(twin.value) ? "" : ", and everything came out as planned"}.`
    : "";
  const { processor } = catalogue.models.get(model) ?? {};
  const ahead = state.steps.filter(({ status }) => status === "to-do").map(({ id }) => id);
  const hands = handsAhead(ahead, wishFor(context.job, release, processor, catalogue));
  return {
    kind: "take",
    say: `${partsWritten(context)}${planSentence(plan)}.${end}${hands === 0 ? "" : ` Your hands are needed ${hands === 1 ? "once" : `${hands} times`}.`}`,
    asks: await reasonsToThink(context, release),
    ...(looks.length === 0 ? {} : { looks }),
    script: scriptSha,
    ...(twin.ok ? { twin: await store.putJson(twin.value) } : {}),
  };
}

/**
 * The plan that was taken with one value put right after a check, and the lines that write it, stored both. Throws a problem
 * where the plan has no such value.
 */
export async function amendedPlan(
  context: Pick<StepContext, "store" | "state" | "catalogue" | "job">,
  { itemId, value }: { readonly itemId: string; readonly value: number },
  account: string,
): Promise<{ readonly planSha: string; readonly scriptSha: string }> {
  const { store, state, catalogue, job } = context;
  const plan = await storedPlan(store, state);
  const release = releaseWanted({ catalogue, job });
  const document = catalogue.idioms.get(release.idiom);
  if (!plan || !document) throw new Error("there is no plan to amend");
  const next = valueOf(withValue(plan, itemId, value, release, `Set by ${account} after a check`));
  const settled = valueOf(settlePlan(next, state.decisions, release));
  const script = scriptOf(
    settled,
    release,
    writerFor(release, idiomOf(document), starterWord(job.goal, idiomOf(document))),
  );
  return { planSha: await store.putJson(next), scriptSha: await store.putJson(script) };
}

interface Scripted {
  readonly part: Part;
  readonly plan: Plan;
  /** What is to be looked at before it is taken, where it goes over as a settings region. */
  readonly looks: readonly string[];
  readonly to: Plan["to"];
  readonly script: readonly ScriptLine[];
  readonly scriptSha: string;
}

/** The lines that one part's plan comes to, and whether they can be told to it. Throws the problem that they cannot. */
async function scriptOfPart(context: StepContext, all: Plan, part: Part): Promise<Scripted> {
  const { catalogue, job, state, store } = context;
  const firmware = firmwareWanted({ catalogue, job, part });
  const { plan, decisions } = ofOnePart(all, state.decisions, part, job.goal);
  const settled = valueOf(settlePlan(plan, decisions, firmware));
  const document = catalogue.idioms.get(firmware.idiom);
  const idiom = document && idiomOf(document);
  if (!idiom)
    throw new ProblemError({
      code: "idiom-none",
      message: `The catalogue has no idiom “${firmware.idiom}”`,
      hint: "Import it under Firmware",
    });
  const spoken = !fittedOf(job.goal).some(({ name }) => name === part);
  const lack = spoken ? lackOf(idiom, WORDS) : undefined;
  if (lack) throw new ProblemError(lack);
  const script = spoken
    ? scriptOf(settled, firmware, writerFor(firmware, idiom, starterWord(job.goal, idiom)))
    : writtenDown(settled, firmware, lineWriter(firmware, idiom));
  const to = { release: firmware.id, title: releaseTitle(firmware), target: targetOf(state, part) ?? "" };
  const looks = spoken
    ? []
    : valueOf(rehearseRegion({ plan: { ...plan, to }, decisions, script }, firmware, catalogue));
  const { place } = fittedOf(job.goal).find(({ name }) => name === part) ?? { place: "" };
  return {
    ...{ part, plan: { ...plan, to }, to, script, scriptSha: await store.putJson(script) },
    looks: looks.map((look) => `${place}: ${look}`),
  };
}

/** Which release is for how many parts, and where those are; nothing where no part behind the board is written. */
function partsWritten({ job, catalogue }: StepContext): string {
  const written = fittedOf(job.goal).filter(({ name }) => carriedBy(job.goal).includes(name));
  if (written.length === 0) return "";
  const to = [...new Set(written.map(({ name }) => releaseFor(job.goal, name)))].map((id) => {
    const firmware = catalogue.parts.get(id ?? "");
    return firmware ? releaseTitle(firmware) : (id ?? "");
  });
  return `${to.join(" and ")} for ${count(written.length, "part")}: ${written.map(({ place }) => place).join(", ")}. `;
}

/** What a person is to know before they take a plan for parts behind the board. */
function takeOfParts(context: StepContext, plan: Plan, scriptSha: string, looks: readonly string[]): Need {
  const { job, state, catalogue } = context;
  const ahead = state.steps.filter(({ status }) => status === "to-do").map(({ id }) => id);
  const hands = handsAhead(ahead, wishFor(job, releaseWanted(context), undefined, catalogue));
  return {
    kind: "take",
    say: `${partsWritten(context)}${planSentence(plan)}.${looks.length > 0 ? "" : " Tried as they will be kept, all values come out as planned."}${hands === 0 ? "" : ` Your hands are needed ${hands === 1 ? "once" : `${hands} times`}.`}`,
    asks: [],
    ...(looks.length === 0 ? {} : { looks }),
    script: scriptSha,
  };
}

export const planStep: StepRunner = async (context) => {
  const plan = await planOf(context);
  const open = openDecisions(plan, context.state.decisions);
  if (open > 0)
    return waits({
      kind: "decisions",
      open,
      say: `${count(open, "decision waits", "decisions wait")} for you before anything changes.`,
    });
  // nothing is erased before it is certain that what was decided can be written down
  const scripts: Scripted[] = [];
  for (const part of carriedBy(context.job.goal)) scripts.push(await scriptOfPart(context, plan, part));
  const own = scripts.find(({ part }) => part === "main");
  const parts = scripts.flatMap(({ part, scriptSha, to }) => (part === "main" ? [] : [{ part, scriptSha, to }]));
  const planSha = await context.store.putJson(plan);
  const scriptSha = own?.scriptSha ?? (await context.store.putJson(parts.map((each) => each.scriptSha)));
  const before = currentStep(context.state)?.need;
  const played = before?.kind === "take" && before.script === scriptSha ? before : undefined;
  if (!context.state.taken) {
    const release = releaseWanted(context);
    const looks = scripts.flatMap((each) => each.looks);
    const need = own
      ? await toTake(context, { plan: own.plan, script: own.script, scriptSha, release, ofParts: looks })
      : takeOfParts(context, plan, scriptSha, looks);
    return waits(played ?? need);
  }
  const deciders = [...new Set(Object.values(context.state.decidedBy).map((d) => d.account))];
  const decided = deciders.length > 0 ? ` Decided by ${deciders.join(", ")}.` : "";
  return done(`${planSentence(plan)}.${decided} Taken by ${context.state.taken.account}.`, {
    planSha,
    scriptSha,
    ...(parts.length === 0 ? {} : { parts }),
    ...(own && isUntuned(own.plan, scopeOf(context.job.goal)) ? { untuned: true } : {}),
    ...(played?.twin === undefined ? {} : { twinSha: played.twin }),
  });
};
