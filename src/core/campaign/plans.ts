import { alikeKey, isLost, type Choice, type Plan, type PlanItem, type Scope } from "@/core/carryover";
import type { Problem } from "@/core/problem";

/**
 * What is wanted of each aircraft of a type: a release, the type's standard on the release that it runs, or a release for each of
 * its parts of that kind.
 */
export type CampaignGoal =
  | { readonly kind: "update"; readonly releaseId: string; readonly scope?: Scope }
  | { readonly kind: "standard" }
  | { readonly kind: "parts"; readonly releaseId: string };

/** Something that a person decides, the same for all aircraft that share it. */
export interface Call {
  /** The same on each of them: title, value before, value after, what can be chosen. */
  readonly key: string;
  readonly title: string;
  readonly area: string;
  readonly reason: string;
  readonly from?: string;
  readonly choices: readonly Pick<Choice, "id" | "label" | "means" | "by">[];
}

/** What one aircraft would meet. */
export interface MemberPlan {
  readonly tag: string;
  readonly calls: readonly Call[];
  /** Values that nobody set and whose default moves: nobody would notice. */
  readonly silent: readonly string[];
  /** Same number, other effect. */
  readonly behaviour: readonly string[];
  /** Rows that cannot stand where they do. */
  readonly blocked: readonly string[];
  /** Values set by hand that do not come along. */
  readonly lost: readonly string[];
  /** How many values are otherwise afterwards than by their name and number before. */
  readonly changed: number;
  /** Where parts are that were never read out, beside others that were: nobody knows yet what they meet. */
  readonly unread: readonly string[];
  /** Why there is no plan. */
  readonly problem?: Problem;
}

const titles = (items: readonly PlanItem[], fits: (item: PlanItem) => boolean) => [
  ...new Set(items.filter(fits).map(({ title }) => title)),
];

const callOf = (item: PlanItem): Call => ({
  key: alikeKey(item),
  title: item.title,
  area: item.kind === "line" ? "lines" : item.area,
  reason: item.reason,
  ...(item.kind === "setting" && item.from ? { from: item.from.shown } : {}),
  choices: item.choices.map(({ id, label, means, by }) => ({
    id,
    label,
    ...(means === undefined ? {} : { means }),
    ...(by === undefined ? {} : { by }),
  })),
});

/** What of a plan a campaign shows. */
export function memberPlan(tag: string, plan: Plan, unread: readonly string[] = []): MemberPlan {
  const { items } = plan;
  const asked = items.filter(({ choices }) => choices.length > 0);
  const calls = new Map(asked.map((item) => [alikeKey(item), item]));
  return {
    tag,
    calls: [...calls.values()].map(callOf),
    silent: titles(items, (item) => item.kind !== "line" && item.call === "silent"),
    behaviour: titles(items, (item) => item.kind === "setting" && item.call === "behaviour"),
    blocked: titles(items, ({ outcome }) => outcome === "cannot-be-here"),
    lost: titles(items, isLost),
    changed: items.filter(({ outcome }) => outcome === "converted" || outcome === "limited").length,
    unread,
  };
}

export const noPlan = (tag: string, problem: Problem): MemberPlan => ({
  ...{ tag, calls: [], silent: [], behaviour: [], blocked: [], lost: [], changed: 0, unread: [] },
  problem,
});

/** Aircraft that meet the same, in words that fit all of them. */
export interface Group {
  readonly tags: readonly string[];
  readonly like: MemberPlan;
}

const sameWay = ({ calls, silent, behaviour, blocked, lost, unread, problem }: MemberPlan) =>
  JSON.stringify([calls.map(({ key }) => key).toSorted(), silent, behaviour, blocked, lost, unread, problem?.message]);

/** Which go the same way: the largest group first. */
export function groupsOf(plans: readonly MemberPlan[]): Group[] {
  const groups = new Map<string, MemberPlan[]>();
  for (const plan of plans) groups.set(sameWay(plan), [...(groups.get(sameWay(plan)) ?? []), plan]);
  return [...groups.values()]
    .flatMap((all): Group[] => (all[0] ? [{ tags: all.map(({ tag }) => tag), like: all[0] }] : []))
    .toSorted((a, b) => b.tags.length - a.tags.length);
}

/** A call with those whom it concerns. */
export interface SharedCall extends Call {
  readonly tags: readonly string[];
}

/** Everything that is to be decided, each once: what concerns most aircraft first. */
export function callsOf(plans: readonly MemberPlan[]): SharedCall[] {
  const calls = new Map<string, { call: Call; tags: string[] }>();
  for (const { tag, calls: own } of plans)
    for (const call of own) {
      const known = calls.get(call.key);
      if (known) known.tags.push(tag);
      else calls.set(call.key, { call, tags: [tag] });
    }
  return [...calls.values()]
    .map(({ call, tags }) => ({ ...call, tags }))
    .toSorted((a, b) => b.tags.length - a.tags.length || (a.title < b.title ? -1 : 1));
}

/** Stands where a decision was and was taken back: nothing is proposed then. */
export const TAKEN_BACK = "taken-back";

/** What somebody wants decided, and what stood there when they looked; empty: nothing did. */
export interface WantedDecision {
  readonly key: string;
  readonly choiceId: string;
  readonly before: string;
}

/** Why a wish cannot be kept: it is offered by nobody's plan, or somebody else was quicker. */
export function wishProblem(
  { key, choiceId, before }: WantedDecision,
  calls: readonly Call[],
  standing: CampaignDecision | undefined,
): Problem | undefined {
  const call = calls.find((each) => each.key === key);
  const named = (id: string) => call?.choices.find((choice) => choice.id === id)?.label ?? id;
  if ((standing?.choiceId ?? "") !== before)
    return {
      code: "campaign-meanwhile",
      message: standing
        ? `${standing.account} chose “${named(standing.choiceId)}” for ${call?.title ?? "this"} in the meantime`
        : `What was decided for ${call?.title ?? "this"} was taken back in the meantime`,
      hint: "The page shows it now; choose again if yours is to stand",
    };
  if (choiceId === TAKEN_BACK || call?.choices.some(({ id }) => id === choiceId)) return undefined;
  return {
    code: "campaign-choice",
    message: call ? `There is no such choice for ${call.title}` : "No aircraft of this campaign asks for this",
    detail: call ? `There are: ${call.choices.map(({ label }) => label).join("; ")}` : key.slice(0, 200),
    hint: "Open the campaign again: what its aircraft meet has changed",
  };
}

/** A decision for the whole campaign. Times in ms since 1970. */
export interface CampaignDecision {
  readonly key: string;
  readonly choiceId: string;
  readonly account: string;
  readonly at: number;
}

/** What the campaign proposes for a plan's items: only what they offer. A lead decided it, so whoever takes it over follows a lead’s word. */
export function campaignProposals(plan: Plan, decisions: readonly CampaignDecision[], title: string) {
  const byKey = new Map(decisions.map((decision) => [decision.key, decision]));
  return Object.fromEntries(
    plan.items.flatMap((item) => {
      const decision = byKey.get(alikeKey(item));
      const choice = item.choices.find(({ id }) => id === decision?.choiceId);
      return decision && choice
        ? [[item.id, { choiceId: choice.id, account: decision.account, at: decision.at, tag: title }] as const]
        : [];
    }),
  );
}
