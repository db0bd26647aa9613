import type { Entered, Entry } from "@/core/job";

/** One entry of a visit's record as a sentence; nothing for what only the product goes by. `title` names a step. */
function sentenceOf(entry: Entry, title: (step: string) => string): string {
  switch (entry.kind) {
    case "ordered":
      return `Ordered: ${entry.headline}.`;
    case "planned":
      return `The steps were planned anew: ${entry.because}`;
    case "started":
      return `${title(entry.step)}: begun.`;
    case "noted":
      return `${title(entry.step)}: ${entry.text}`;
    case "stored":
      return `${title(entry.step)}: ${entry.lines} lines are stored on the board.`;
    case "waits":
      return `${title(entry.step)} waits: ${entry.need.say}`;
    case "done":
      return `${title(entry.step)}: done. ${entry.evidence}`;
    case "failed":
      return `${title(entry.step)} failed: ${entry.problem.message}${entry.problem.detail === undefined ? "" : `. ${entry.problem.detail}`}`;
    case "interrupted":
      return `${title(entry.step)} was interrupted: ${entry.text}`;
    case "decided": {
      const many = Object.keys(entry.choices).length;
      return `${many} ${many === 1 ? "value was" : "values were"} decided${entry.after === undefined ? "" : `, after ${entry.after}`}.`;
    }
    case "taken":
      return "The plan was taken.";
    case "reopened":
      return "The plan was laid open again.";
    case "confirmed":
      return `${title(entry.step)}: confirmed${entry.signs ? `, though ${entry.signs.join("; ")}` : ""}${entry.reason === undefined ? "" : `. Reason: ${entry.reason}`}.`;
    case "passed":
      return `${title(entry.step)}: asked for “${entry.ask}”, ${entry.wrong === true ? "and it was wrong: " : "seen: "}${entry.seen}`;
    case "amended":
      return `${title(entry.step)}: the plan was put right: ${entry.shown}. ${entry.why}`;
    case "again":
      return `${title(entry.step)}: once more.`;
    case "signed":
      return `Signed off: “${entry.statement}”`;
    case "finished":
      return "The visit is finished.";
    case "stopped":
      return `The visit was stopped: ${entry.reason}`;
  }
}

export interface ToldEntry {
  readonly at: number;
  readonly by: string;
  readonly says: string;
}

/** How a visit went, in sentences, in the order in which it happened. */
export const toldEntries = (entries: readonly Entered[], title: (step: string) => string): ToldEntry[] =>
  entries.map(({ at, account, entry }) => ({
    at,
    by: entry.kind === "signed" && entry.person !== undefined ? entry.person : (account ?? "the bench"),
    says: sentenceOf(entry, title),
  }));
