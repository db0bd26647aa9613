import type { Problem } from "@/core/problem";
import { stepOf, type AnyResult, type Results, type StepId, type StepName } from "@/core/job/actions";
import type { StepSpec } from "@/core/job/plan-job";
import { isBehind } from "@/core/job/subject";
import type { Entered, Entry, Need, NoteCode } from "@/core/job/journal";

export type StepStatus = "to-do" | "running" | "waiting" | "failed" | "done";

export interface StepState extends StepId {
  /** Its name in the record. */
  readonly id: StepName;
  /** What it found out when it was done last, as its kind keeps it. */
  readonly result?: AnyResult | undefined;
  /** What it is, where it came in after the job was ordered. */
  readonly spec?: StepSpec;
  readonly status: StepStatus;
  readonly evidence?: string;
  readonly need?: Need;
  readonly problem?: Problem;
  readonly startedAt?: number;
  readonly endedAt?: number;
  readonly confirmedBy?: string;
  /** Asks of a check that were seen to hold, with what was seen. */
  readonly passed: Readonly<Record<string, string>>;
  /** Asks that were done as asked, by somebody's word, and that the board felt otherwise; with what was seen. */
  readonly wrong?: Readonly<Record<string, string>> | undefined;
  /** How the board stood at each ask, in degrees. */
  readonly poses?: Readonly<Record<string, { readonly roll: number; readonly pitch: number }>> | undefined;
  readonly notes: readonly { readonly at: number; readonly text: string; readonly code?: NoteCode }[];
  /** Lines of its script that are stored on the board, with the answers to them: it goes on behind these. */
  readonly stored?: { readonly lines: number; readonly answers: string; readonly started: boolean } | undefined;
}

/** A step that was planned and is not needed any more. */
export interface StruckStep extends Pick<StepState, "id" | "spec"> {
  readonly at: number;
  readonly because: string;
}

/** Who decided something, when (ms since 1970), and after whose word for all. */
export interface Decided {
  readonly account: string;
  readonly at: number;
  readonly after?: string;
}

/** A sign that contradicts, by the word that names it; who goes on all the same, when (ms since 1970), and why. */
export interface Accepted {
  readonly sign: string;
  readonly account: string;
  readonly at: number;
  readonly reason: string;
}

export interface JobState {
  readonly phase: "open" | "finished" | "stopped";
  readonly steps: readonly StepState[];
  readonly struck: readonly StruckStep[];
  readonly decisions: Readonly<Record<string, string>>;
  readonly decidedBy: Readonly<Record<string, Decided>>;
  /** Signs of the board that contradict what it is taken for, and were taken all the same. */
  readonly accepted: readonly Accepted[];
  /** Whose word took the plan. */
  readonly taken?: { readonly account: string; readonly at: number } | undefined;
  readonly signed?: {
    readonly account: string;
    /** What they are called by; the account's name where nobody said. */
    readonly person: string;
    readonly at: number;
    readonly statement: string;
  };
}

const freshStep = (id: string): StepState => ({
  id: id as StepName,
  ...stepOf(id),
  status: "to-do",
  passed: {},
  notes: [],
});

/** Steps that have begun stay; of the others those that are planned now, in their new order. */
function planAnew(state: JobState, { steps, because }: Extract<Entry, { kind: "planned" }>, at: number): JobState {
  const begun = state.steps.filter(({ status }) => status !== "to-do");
  // what has begun is not begun a second time beside itself
  const fresh = steps.filter((spec) => !begun.some(({ id }) => id === spec.id));
  const coming = fresh.map((spec): StepState => {
    const known = state.steps.find(({ id, status }) => id === spec.id && status === "to-do");
    return known ?? { ...freshStep(spec.id), spec };
  });
  const struck = state.steps.filter(({ id, status }) => status === "to-do" && !steps.some((spec) => spec.id === id));
  return {
    ...state,
    steps: [...begun, ...coming],
    struck: [
      ...state.struck,
      ...struck.map(({ id, spec }) => ({ id, ...(spec === undefined ? {} : { spec }), at, because })),
    ],
  };
}

export const newJob = (actions: readonly Pick<StepSpec, "id">[]): JobState => ({
  phase: "open",
  steps: actions.map((action) => freshStep(action.id)),
  struck: [],
  decisions: {},
  decidedBy: {},
  accepted: [],
});

const noteOf = ({ text, code }: Extract<Entry, { kind: "noted" }>, at: number) => ({
  at,
  text,
  ...(code === undefined ? {} : { code }),
});

function inStep(state: JobState, id: StepName, change: (step: StepState) => StepState): JobState {
  return { ...state, steps: state.steps.map((step) => (step.id === id ? change(step) : step)) };
}

const bare = ({
  id,
  kind,
  subject,
  result,
  spec,
  passed,
  wrong,
  poses,
  notes,
  startedAt,
  confirmedBy,
  evidence,
  stored,
}: StepState): StepState => ({
  id,
  kind,
  subject,
  ...(result === undefined ? {} : { result }),
  ...(spec === undefined ? {} : { spec }),
  passed,
  ...(wrong === undefined ? {} : { wrong }),
  ...(poses === undefined ? {} : { poses }),
  notes,
  status: "to-do",
  ...(startedAt === undefined ? {} : { startedAt }),
  ...(confirmedBy === undefined ? {} : { confirmedBy }),
  ...(evidence === undefined ? {} : { evidence }),
  ...(stored === undefined ? {} : { stored }),
});

/** Whoever begins a step once more begins it at its first line. */
const afresh = (step: StepState): StepState => {
  const fresh = bare(step);
  const begun = { ...fresh, ...(fresh.stored === undefined ? {} : { stored: undefined }) };
  // a check that failed is done over from its first ask
  return step.need?.kind === "check" ? unseen(begun) : begun;
};

/** A check of which nothing was seen yet. */
const unseen = (step: StepState): StepState => ({ ...step, passed: {}, wrong: undefined, poses: undefined });

/** Nothing has played the other plan. */
function amendedResult(
  result: Results["plan"],
  { planSha, scriptSha }: Extract<Entry, { kind: "amended" }>,
): Results["plan"] {
  return { planSha, scriptSha, ...(result.untuned === undefined ? {} : { untuned: result.untuned }) };
}

/** What is sent is another plan now: all that was restored, proved and checked is done over. */
function amended(
  state: JobState,
  entry: Extract<Entry, { kind: "amended" }>,
  at: number,
  account: string | null,
): JobState {
  const from = state.steps.findIndex(({ kind }) => kind === "restore");
  const text = `${account ?? "bench"} had ${entry.shown} written after the check: ${entry.why}`;
  return {
    ...state,
    steps: state.steps.map((step, i) => {
      if (step.kind === "plan")
        return { ...step, result: amendedResult((step.result ?? {}) as Results["plan"], entry) };
      if (i < from || from < 0) return step;
      const fresh = { ...unseen(bare(step)), stored: undefined };
      return step.id === entry.step ? { ...fresh, notes: [...step.notes, { at, text }] } : fresh;
    }),
  };
}

/** What was played and could be taken is another plan now: nobody takes it before its twin has played it as well. */
const takenAnew = (step: StepState): StepState =>
  step.need?.kind === "take" ? { ...bare(step), status: "waiting" } : step;

/** The plan is to be taken anew, and what stood after it begins again. */
function planReopened(state: JobState): JobState {
  const plan = state.steps.findIndex(({ kind }) => kind === "plan");
  return {
    ...state,
    taken: undefined,
    steps: state.steps.map((step, i) => {
      if (i < plan || step.status === "to-do") return step;
      return i === plan ? { ...bare(step), result: undefined } : bare(step);
    }),
  };
}

/** Whether the plan can be laid open again: it was taken, and nothing was written to the board since. */
export function mayReopen(ordered: readonly StepSpec[], state: JobState): boolean {
  const plan = state.steps.findIndex(({ kind }) => kind === "plan");
  return (
    state.taken !== undefined &&
    state.steps[plan]?.status === "done" &&
    state.steps.slice(plan + 1).every((step) => step.status === "to-do" || stepSpec(ordered, step).writes !== true)
  );
}

/** The job after one more line of its journal. Pure; the whole state is the fold of all lines. */
export function applyEntry(state: JobState, { entry, at, account }: Entered): JobState {
  switch (entry.kind) {
    case "ordered":
      return state;
    case "planned":
      return planAnew(state, entry, at);
    case "started":
      return inStep(state, entry.step, (step) => ({
        ...bare(step),
        status: "running",
        startedAt: step.startedAt ?? at,
      }));
    case "noted":
      return inStep(state, entry.step, (step) => ({ ...step, notes: [...step.notes, noteOf(entry, at)] }));
    case "stored":
      return inStep(state, entry.step, (step) => ({
        ...step,
        stored: { lines: entry.lines, answers: entry.answers, started: entry.started === true },
      }));
    case "waits":
      return inStep(state, entry.step, (step) => ({ ...bare(step), status: "waiting", need: entry.need }));
    case "done":
      return inStep(state, entry.step, (step) => ({
        ...bare(step),
        status: "done",
        result: entry.data,
        evidence: entry.evidence,
        endedAt: at,
      }));
    case "failed":
      return inStep(state, entry.step, (step) => ({
        ...bare(step),
        status: "failed",
        problem: entry.problem,
        endedAt: at,
      }));
    case "interrupted":
      return inStep(state, entry.step, (step) => ({
        ...bare(step),
        status: "running",
        notes: [...step.notes, { at, text: entry.text }],
      }));
    case "decided":
      return {
        ...inStep(state, "plan", takenAnew),
        taken: undefined,
        decisions: { ...state.decisions, ...entry.choices },
        decidedBy: {
          ...state.decidedBy,
          ...Object.fromEntries(
            Object.keys(entry.choices).map((id) => [
              id,
              { account: account ?? "bench", at, ...(entry.after === undefined ? {} : { after: entry.after }) },
            ]),
          ),
        },
      };
    case "taken":
      return { ...state, taken: { account: account ?? "bench", at } };
    case "reopened":
      return planReopened(state);
    case "confirmed": {
      const { signs = [], reason = "" } = entry;
      const confirmed = inStep(state, entry.step, (step) => ({
        ...bare(step),
        status: "running",
        confirmedBy: account ?? "bench",
      }));
      if (signs.length === 0) return confirmed;
      const accepted = signs.map((sign) => ({ sign, account: account ?? "bench", at, reason }));
      return { ...confirmed, accepted: [...state.accepted, ...accepted] };
    }
    case "passed":
      return inStep(state, entry.step, (step) => ({
        ...step,
        ...(entry.wrong
          ? { wrong: { ...step.wrong, [entry.ask]: entry.seen } }
          : { passed: { ...step.passed, [entry.ask]: entry.seen } }),
        ...(entry.pose ? { poses: { ...step.poses, [entry.ask]: entry.pose } } : {}),
      }));
    case "amended":
      return amended(state, entry, at, account);
    case "again":
      return inStep(state, entry.step, afresh);
    case "signed":
      return {
        ...state,
        signed: {
          account: account ?? "bench",
          person: entry.person ?? account ?? "bench",
          at,
          statement: entry.statement,
        },
      };
    case "finished":
      return { ...state, phase: "finished" };
    case "stopped":
      return { ...state, phase: "stopped" };
  }
}

export const foldJob = (actions: readonly Pick<StepSpec, "id">[], entries: readonly Entered[]): JobState =>
  entries.reduce(applyEntry, newJob(actions));

/** What a step is: as it came in later, or as it was ordered. */
export const stepSpec = (ordered: readonly StepSpec[], { id, spec }: Pick<StepState, "id" | "spec">): StepSpec =>
  spec ?? ordered.find((each) => each.id === id) ?? { id, title: id, why: "" };

/**
 * The step that the job stands at; undefined when all are done. What has failed on one of several parts behind the board holds
 * up that part and whatever comes after all of them; the others are gone on with first.
 */
export function currentStep({ steps }: Pick<JobState, "steps">): StepState | undefined {
  const at = steps.findIndex(({ status }) => status !== "done");
  const first = steps[at];
  if (first?.status !== "failed" || !isBehind(first.subject)) return first;
  const held = new Set<string>();
  for (const step of steps.slice(at)) {
    if (!isBehind(step.subject)) break;
    if (step.status === "failed") held.add(step.subject);
    if (step.status !== "done" && !held.has(step.subject)) return step;
  }
  return first;
}

/** Who signed, as papers say it: the person, and the account where that is another word. */
export const signerOf = ({ person, account }: NonNullable<JobState["signed"]>): string =>
  person === account ? account : `${person} (${account})`;
