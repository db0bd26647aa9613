import { choiceOf, destinedBy, type Destined, type Plan, type PlanItem } from "@/core/carryover";
import { csvOf } from "@/server/csv";
import { onBoardOfJob, type JobView } from "@/server/web/job-view";
import { paperTime } from "@/server/web/paper-time";
import { linesOfPlan } from "@/server/web/plan-lines";

/** One line of a plan as other programs and people without the product read it. */
export interface PlanLine {
  readonly area: string;
  readonly title: string;
  readonly place: string;
  /** Where the value comes from. */
  readonly before: string;
  /** What the board held; the same, where the plan is made from its own read-out. */
  readonly onBoard: string;
  readonly outcome: string;
  /** What the plan makes of it; whether it came to that, the proof says. */
  readonly becomes: string;
  readonly why: string;
  readonly decided: string;
  readonly by: string;
  readonly at: string;
  readonly means: string;
  /** The line that it sends, if any. */
  readonly sends: string;
}

const cellsOf = (place: { readonly key: string; readonly cells: Readonly<Record<string, unknown>> }): string =>
  `${place.key}: ${Object.values(place.cells).map(String).join(", ")}`;

function beforeOf(item: PlanItem): string {
  switch (item.kind) {
    case "setting":
      return item.from?.shown ?? "";
    case "row":
      return item.from ? cellsOf(item.from) : "";
    case "line":
      return item.from.text;
  }
}

function writtenOf(each: Destined, shown: string | undefined): string {
  switch (each.kind) {
    case "value":
      return shown ?? each.item.to?.shown ?? "";
    case "row":
      return cellsOf(each.row);
    case "line":
      return each.item.from.text.trim();
    case "left":
    case "gone":
      return "";
  }
}

/** Every item of a plan, in its order: what was, what becomes of it, why, and whose decision it is. */
export async function planExport(view: JobView, plan: Plan): Promise<PlanLine[]> {
  const { decisions, decidedBy } = view.state;
  const sent = await linesOfPlan(view, plan);
  const board = await onBoardOfJob(view, plan);
  return destinedBy(plan, decisions).map((each): PlanLine => {
    const { item } = each;
    const choice = choiceOf(item, decisions);
    const decided = choice && decidedBy[item.id];
    const open = item.choices.length > 0 && !choice;
    const place = board?.places[item.id];
    return {
      area: item.kind === "line" ? "" : item.area,
      title: item.title,
      place: item.id,
      before: beforeOf(item),
      onBoard: board ? (place?.now ?? "") : beforeOf(item),
      outcome: item.outcome.replaceAll("-", " "),
      // a row reads alike on both sides
      becomes: open ? "" : each.kind === "row" && place ? place.then : writtenOf(each, choice?.shown),
      why: [item.reason, ...item.trail.map(({ why }) => why)]
        .filter((text, i, all) => text !== "" && all.indexOf(text) === i)
        .join(" "),
      decided: open ? "waits for a decision" : (choice?.label ?? ""),
      by: decided ? (decided.after === undefined ? decided.account : `${decided.account}, after ${decided.after}`) : "",
      at: decided ? paperTime(decided.at) : "",
      means: choice?.means ?? "",
      sends: sent[item.id] ?? "",
    };
  });
}

export const planCsv = (lines: readonly PlanLine[]): string => csvOf(lines.map((line) => ({ ...line })));

/** Only what somebody decided, or has to. */
export const decidedLines = (lines: readonly PlanLine[]): PlanLine[] => lines.filter(({ decided }) => decided !== "");

/** From which release to which; the one, where it stays. */
export const releasesText = ({ from, to }: Plan): string =>
  from.title === to.title ? to.title : `${from.title} to ${to.title}`;

/** A plan in plain text: what changes and what was decided, line by line; what stays as it was only in number. */
export function planText({ job }: JobView, plan: Plan, lines: readonly PlanLine[]): string {
  const same = lines.filter(
    ({ outcome, decided, onBoard, becomes }) =>
      outcome === "as it was" && decided === "" && (onBoard === becomes || onBoard === ""),
  );
  const changedLines = lines
    .filter((line) => !same.includes(line))
    .map((line) =>
      [
        `${line.title} (${line.place})`,
        `  was      ${line.onBoard === "" ? "not there" : line.onBoard}`,
        ...(line.before === line.onBoard ? [] : [`  source   ${line.before === "" ? "nothing" : line.before}`]),
        `  becomes  ${line.decided === "waits for a decision" ? line.decided : line.becomes === "" ? "not written" : line.becomes}  [${line.outcome}]`,
        ...(line.why === "" ? [] : [`  why      ${line.why}`]),
        ...(line.by === ""
          ? []
          : [`  decided  ${line.decided}, by ${line.by}, ${line.at}${line.means === "" ? "" : `. ${line.means}`}`]),
      ].join("\n"),
    );
  return [
    `${job.tag}: ${releasesText(plan)}, target ${plan.to.target}`,
    `Visit ${job.id}: ${job.headline}`,
    `${lines.length} values, ${same.length} of them as they were.`,
    "",
    changedLines.join("\n\n"),
    "",
  ].join("\n");
}
