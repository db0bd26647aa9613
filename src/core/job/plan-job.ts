import { loadersFor, loaderWanted, releaseTitle, versionsOf, type Catalogue, type Release } from "@/core/catalog";
import { INVARIANTS, type Action, type JobMove, type Wish } from "@/core/job/action";
import { ACTIONS } from "@/core/job/actions";
import type { Facts } from "@/core/job/fact";
import { termsOf, type Goal } from "@/core/job/goals";
import { planMoves, type Planned } from "@/core/job/planner";

/** What people and the record keep of a step. */
export type StepSpec = Pick<JobMove, "title" | "why" | "writes" | "shows"> & { readonly id: string };

export const specOf = ({ kind, title, why, writes, shows }: JobMove): StepSpec => ({
  id: kind,
  title,
  why,
  ...(writes === undefined ? {} : { writes }),
  ...(shows === undefined ? {} : { shows }),
});

/** What a job is about, by the documents and by the processor of its board, where that is known. */
export function wishFor(tag: string, release: Release, processor: string | undefined, catalogue: Catalogue): Wish {
  const about = { tag, release: { id: release.id, title: releaseTitle(release) } };
  if (processor === undefined || loadersFor(catalogue, processor).length === 0) return about;
  const wanted = loaderWanted(catalogue, release, processor)?.requirement;
  if (!wanted) return { ...about, loader: {} };
  const wants = `${wanted.family} ${versionsOf(wanted)}`;
  return { ...about, loader: { wants, ...(wanted.why === undefined ? {} : { why: wanted.why }) } };
}

/** How often the steps of a job that are still to come ask for a person's hands. */
export const handsAhead = (ids: readonly string[], wish: Wish, actions: readonly Action[] = ACTIONS): number =>
  ids.reduce((sum, id) => sum + (actions.find(({ kind }) => kind === id)?.moveFor(wish).hands ?? 0), 0);

/** The steps from what is so to a goal; or what is missing for it. */
export function planJob(goal: Goal, wish: Wish, known: Facts, actions: readonly Action[] = ACTIONS): Planned<JobMove> {
  return planTerms(termsOf(goal), wish, known, actions);
}

/** The same for whatever is wanted, from what is given. */
export function planTerms(
  { given, wanted }: { readonly given: Facts; readonly wanted: Facts },
  wish: Wish,
  known: Facts,
  actions: readonly Action[] = ACTIONS,
): Planned<JobMove> {
  const moves = actions.map((each) => each.moveFor(wish));
  return planMoves({ ...given, ...known }, wanted, moves, INVARIANTS);
}
