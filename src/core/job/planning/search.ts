import { Heap } from "heap-js";
import { branchesOf } from "@/core/job/planning/branches";
import { estimateOf, type Estimate, type Weight } from "@/core/job/planning/estimate";
import { leavingsOf } from "@/core/job/planning/leaving";
import { alikeKeyOf } from "@/core/job/planning/symmetry";
import { afterStep, areMet, type State, type Step, type Task } from "@/core/job/planning/task";

interface Node {
  readonly state: State;
  readonly key: string;
  /** What the way here costs. */
  readonly cost: number;
  /** What is still to be paid at least, as far as it is known. */
  readonly ahead: number;
  readonly before: Node | undefined;
  readonly step: Step | undefined;
  readonly no: number;
  /** Once its turn has come: what is to be paid, and why. */
  weight?: Weight;
}

/** No job has so many states; a goal that leads to more is refused instead of searched for ever. */
const MOST_STATES = 20_000;
/** Most jobs are planned within so many, by the estimate that costs least. */
const EASY_STATES = 600;

/** The dearest ways last; among equals what is nearest to its end, then what was found last, so that one way is followed. */
const order = (a: Node, b: Node) => a.cost + a.ahead - (b.cost + b.ahead) || a.ahead - b.ahead || b.no - a.no;

export interface Path {
  readonly steps: readonly Step[];
  readonly cost: number;
}

/**
 * The cheapest order of steps; undefined where there is none, or none was found among so many states. What has to be left
 * again is weighed where the search is not over soon.
 */
export function cheapestPath(
  task: Task,
  { mostStates = MOST_STATES, easyStates = EASY_STATES } = {},
): Path | undefined {
  const easy = search(task, estimateOf(task), easyStates);
  return easy === "not yet" ? pathIn(search(task, estimateOf(task, leavingsOf(task)), mostStates)) : easy;
}

const pathIn = (found: Path | undefined | "not yet") => (found === "not yet" ? undefined : found);

/**
 * A*, with ways to a known state that prove cheaper taken up again. A state is weighed when its turn comes, not when it is
 * found: most never come.
 */
function search(task: Task, estimate: Estimate, mostStates: number): Path | undefined | "not yet" {
  const branches = branchesOf(task);
  const best = new Map<string, number>();
  const keyOf = alikeKeyOf(task);
  /** What is to be paid from a state, or from one that is like it. */
  const weighed = new Map<string, number>();
  const open = new Heap<Node>(order);
  let found = 0;
  const put = (state: State, cost: number, ahead: number, before?: Node, step?: Step) => {
    const key = keyOf(state);
    if (cost >= (best.get(key) ?? Infinity)) return;
    best.set(key, cost);
    open.push({ state, key, cost, ahead: Math.max(ahead, weighed.get(key) ?? 0), before, step, no: found++ });
  };
  put(task.start, 0, 0);
  for (let node = open.pop(); node; node = open.pop()) {
    if (weighed.size > mostStates) return "not yet";
    if (node.cost > (best.get(node.key) ?? Infinity)) continue;
    let ahead = weighed.get(node.key);
    if (ahead === undefined) {
      node.weight = estimate(node.state, leading(node));
      ahead = node.weight.sum;
      weighed.set(node.key, ahead);
    }
    if (ahead === Infinity) continue;
    if (ahead > node.ahead) {
      open.push({ ...node, ahead });
      continue;
    }
    if (areMet(task.wanted, node.state, task)) return { steps: stepsTo(node), cost: node.cost };
    // found last is followed first: the first in the list
    for (const step of [...branches(node.state)].reverse())
      put(afterStep(step, node.state, task), node.cost + step.cost, node.ahead - step.cost, node, step);
  }
  return undefined;
}

/** What was known of the state before; nothing where that was weighed as one that is like it. */
function leading({ before, step }: Node) {
  const weight = before?.weight;
  return weight && step && { weight, step };
}

function stepsTo(end: Node): Step[] {
  const path: Step[] = [];
  for (let node: Node | undefined = end; node?.step !== undefined; node = node.before) path.unshift(node.step);
  return path;
}
