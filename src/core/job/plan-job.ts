import { loadersFor, loaderWanted, releaseTitle, versionsOf, type Catalogue, type Release } from "@/core/catalog";
import {
  calledFor,
  INVARIANTS,
  numbered,
  partsOfName,
  type Action,
  type JobMove,
  type PartWish,
  type Terms,
  type Wish,
} from "@/core/job/action";
import { loaderOfPart, type Part } from "@/core/job/subject";
import { ACTIONS } from "@/core/job/actions";
import type { Facts } from "@/core/job/fact";
import { batteriesIn, carriedBy, detourOf, fittedOf, releaseFor, termsOf, type Goal } from "@/core/job/goals";
import { wayTo, type FittedPart } from "@/core/part";
import { after, planMoves, type Planned } from "@/core/job/planner";

/** What people and the record keep of a step. */
export type StepSpec = Pick<JobMove, "title" | "why" | "writes" | "shows"> & { readonly id: string };

export const specOf = ({ id, title, why, writes, shows }: JobMove): StepSpec => ({
  id,
  title,
  why,
  ...(writes === undefined ? {} : { writes }),
  ...(shows === undefined ? {} : { shows }),
});

/** What a job is about, by its goal, by the documents and by the processor of its board, where that is known. */
export function wishFor(
  { tag, goal }: { readonly tag: string; readonly goal: Goal },
  release: Release,
  processor: string | undefined,
  catalogue: Catalogue,
  actions: readonly Action[] = ACTIONS,
): Wish {
  return {
    tag,
    owed: owedBy(termsOf(goal), actions),
    batteries: batteriesIn(goal),
    parts: {
      ...Object.fromEntries(partsOfGoal(goal).map((part) => [part, partWish(part, goal, release, catalogue)])),
      ...loaderOn(writtenMain(goal, release, catalogue), processor, catalogue),
    },
  };
}

/** The release that is written to the main part, if any is: on a detour the first of two. */
const writtenMain = (goal: Goal, release: Release, { releases }: Catalogue): Release | undefined =>
  goal.kind === "parts" ? releases.get(detourOf(goal)?.releaseId ?? "") : release;

const partsOfGoal = (goal: Goal): Part[] => [
  ...new Set([...(Object.keys(goal.runs) as Part[]), ...fittedOf(goal).map(({ name }) => name)]),
];

function partWish(part: Part, goal: Goal, release: Release, catalogue: Catalogue): PartWish {
  const wanted = releaseFor(goal, part);
  const fitted = fittedOf(goal).find(({ name }) => name === part);
  const detour = detourOf(goal)?.releaseId;
  const way = fitted && wayTo(catalogue.releases.get(detour ?? "") ?? release, fitted.part);
  return {
    ...(wanted === undefined ? {} : { release: titled(wanted, catalogue) }),
    ...(wanted === undefined || carriedBy(goal).includes(part) ? {} : { keeps: true }),
    ...(detour !== undefined && part === "main" ? { detour: titled(detour, catalogue) } : {}),
    ...(fitted && way ? { behind: { ...behindFrom(fitted), unfed: way.unfed } } : {}),
  };
}

const behindFrom = ({ part, title, place, supply }: FittedPart) => ({ part, title, place, supply });

function titled(id: string, { releases, parts }: Catalogue): { readonly id: string; readonly title: string } {
  const release = releases.get(id) ?? parts.get(id);
  return { id, title: release ? releaseTitle(release) : id };
}

/** What whoever signs answers for: all that is wanted but the signature, and the checks that it calls for. */
export const owedBy = (terms: Terms, actions: readonly Action[] = ACTIONS): Facts =>
  after(terms.wanted, { gives: calledFor(actions, terms), undoes: ["visit: signed off"] });

/** The loader of a board, where it lives in flash and can be another one. */
function loaderOn(release: Release | undefined, processor: string | undefined, catalogue: Catalogue): Wish["parts"] {
  if (!release || processor === undefined || loadersFor(catalogue, processor).length === 0) return {};
  const wanted = loaderWanted(catalogue, release, processor)?.requirement;
  if (!wanted) return { [loaderOfPart("main")]: {} };
  const wants = `${wanted.family} ${versionsOf(wanted)}`;
  return { [loaderOfPart("main")]: { wants, ...(wanted.why === undefined ? {} : { why: wanted.why }) } };
}

/** The move that a step's name stands for; undefined where its kind is not known here. */
export function moveOf(name: string, wish: Wish, actions: readonly Action[] = ACTIONS): JobMove | undefined {
  const { kind, subject } = partsOfName(name);
  const action = actions.find((each) => each.kind === kind);
  return action?.moveFor(wish, subject ?? action.home);
}

/** How often the steps of a job that are still to come ask for a person's hands. */
export const handsAhead = (names: readonly string[], wish: Wish, actions: readonly Action[] = ACTIONS): number =>
  names.reduce((sum, name) => sum + (moveOf(name, wish, actions)?.hands ?? 0), 0);

/** The steps from what is so to a goal; or what is missing for it. */
export function planJob(goal: Goal, wish: Wish, known: Facts, actions: readonly Action[] = ACTIONS): Planned<JobMove> {
  return planTerms(termsOf(goal), wish, known, actions);
}

/** The same for whatever is wanted, from what is given. */
export function planTerms(
  { given, wanted }: Terms,
  wish: Wish,
  known: Facts,
  actions: readonly Action[] = ACTIONS,
): Planned<JobMove> {
  const moves = actions.flatMap((each) => each.subjects(wish).map((subject) => each.moveFor(wish, subject)));
  const planned = planMoves({ ...given, ...known }, wanted, moves, INVARIANTS);
  return planned.kind === "plan" ? { ...planned, moves: numbered(planned.moves) } : planned;
}
