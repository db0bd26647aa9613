"use client";

import { Link } from "@/ui/base/link";
import { waysOf, type Choice, type PlanItem, type RowPlace } from "@/core/carryover/plan";
import type { OnBoard, PlaceOnBoard } from "@/core/carryover/on-board";
import type { Proposal } from "@/core/carryover/proposals";
import { useAsk } from "@/ui/base/ask";
import type { RowProps as TableRowProps } from "@/ui/base/long-table";
import { ProblemNote } from "@/ui/base/parts";
import { keyText, takenChoice, type PlanRow } from "@/ui/plan/groups";
import { Press } from "@/ui/base/press";
import { Folded } from "@/ui/base/folded";

/** Of the plan, what every row needs. */
export interface RowContext {
  readonly jobId: number;
  readonly backupId: number;
  /** The parts behind the board: what their items begin with, where they are, and what they come from. */
  readonly parts: readonly { readonly prefix: string; readonly place: string; readonly backupId: number }[];
  /** The read-out that the job took of the board, where values come from there as well. */
  readonly boardBackupId: number;
  readonly decisions: Readonly<Record<string, string>>;
  readonly deciders: Readonly<Record<string, string>>;
  /** Decisions can be taken now. */
  readonly open: boolean;
  /** Whoever looks may decide what only a lead may. */
  readonly mayLead: boolean;
  /** What was decided before of the same thing, item by item. */
  readonly proposals: Readonly<Record<string, Proposal>>;
  /** The line that each item sends, as far as it is decided. */
  readonly lines: Readonly<Record<string, string>>;
  /** What each place holds on the board now, where the plan comes from elsewhere. */
  readonly board?: OnBoard | undefined;
}

const rowText = ({ cells }: RowPlace) =>
  Object.values(cells)
    .map((cell) => (Array.isArray(cell) ? cell.join(", ") : String(cell)))
    .join(", ");

/** A value; where several were set and become one, all of them. */
function Values({ item }: { readonly item: PlanItem }) {
  if (item.kind === "line") return <code className="key wrap-anywhere">{item.from.text}</code>;
  if (item.kind === "row") {
    const [from, to] = [item.from, item.to].map((place) => place && rowText(place));
    return (
      <span className="key text-[13.5px]">
        {from}
        {to !== undefined && from !== undefined && from !== to && <span className="px-1.5 text-faded">→</span>}
        {to !== from && to}
      </span>
    );
  }
  const [from, to] = [item.from?.shown, item.to?.shown];
  // a silent change: what it flies on now, and what the new release would make of it
  const moved = item.call === "silent" ? item.choices.find((c) => c.id === "take-default")?.shown : undefined;
  const next = moved ?? to;
  return (
    <span className="key text-[13.5px]">
      {from}
      {item.others?.map((other) => (
        <span key={`${other.scope}/${other.key}`} className="block">
          <span className="text-faded">or</span> {other.shown}
        </span>
      ))}
      {item.call !== "several" && next !== undefined && from !== undefined && from !== next && (
        <span className="px-1.5 text-faded">{moved === undefined ? "→" : "or"}</span>
      )}
      {item.call !== "several" && next !== from && next}
      {from !== undefined && from === next && item.call === "behaviour" && (
        <span className="text-faded"> stays {next}</span>
      )}
    </span>
  );
}

type RowProps = RowContext & {
  readonly row: PlanRow;
  /** Where it stands in its table. */
  readonly place: Omit<TableRowProps, "key">;
};

/** What is on the board now, and what will be. */
function NowAndThen({ place }: { readonly place: PlaceOnBoard }) {
  return (
    <span className="key text-[13.5px]">
      {place.now}
      <span className="px-1.5 text-faded">→</span>
      <b>{place.then}</b>
    </span>
  );
}

export function Row({ row, place: at, backupId, parts, boardBackupId, lines, board, ...rest }: RowProps) {
  const { first } = row;
  const line = first.from?.line ?? 0;
  const of = parts.filter(({ prefix }) => row.items.some(({ id }) => id.startsWith(prefix)));
  const source = of.find(({ prefix }) => first.id.startsWith(prefix))?.backupId ?? backupId;
  const where = [row.places, of.map(({ place: each }) => each).join(", ")].filter((each) => each !== "").join(" · ");
  const place = board?.places[first.id];
  const taken = takenChoice(row, rest.decisions);
  // where the meaning changed or the value was limited, that is what has to be read; else what the setting does
  const asksWhy =
    first.outcome === "limited" ||
    (first.kind === "setting" && (first.wanted === true || (first.call !== undefined && first.call !== "silent")));
  const reason = first.kind === "line" || !asksWhy ? undefined : first.reason;
  const shownAbove = first.kind === "row" ? first.reason : reason;
  const rules = first.trail.filter((step) => step.why !== shownAbove && step.rule !== "new");
  return (
    <tr {...at}>
      <td className="w-[28%]">
        {first.kind === "row" ? `${first.title} ${first.from?.key ?? ""}` : first.title}
        <span className="block key wrap-anywhere text-faded">
          {first.kind === "setting"
            ? keyText(first)
            : first.kind === "row"
              ? `table ${first.table}`
              : `line ${first.from.line}`}
          {where !== "" && ` · ${where}`}
        </span>
      </td>
      <td className="w-[17%]">
        {place?.same === false ? <NowAndThen place={place} /> : <Values item={first} />}
        {place === undefined && taken?.shown !== undefined && (
          <span className="block key text-[13px]">
            <span className="text-faded">will be</span> {taken.shown}
          </span>
        )}
        {lines[first.id] !== undefined && (
          <code className="block key text-[12.5px] wrap-anywhere text-faded" title="The line that is sent">
            {lines[first.id]}
          </code>
        )}
      </td>
      <td>
        {first.kind === "setting" && (reason ?? first.says)}
        {first.kind === "line" && `${first.reason}.`}
        {first.kind === "row" && first.reason}
        {first.kind === "row" && first.servedBy !== undefined && (
          <span className="block">
            {first.servedBy.length === 0
              ? "No release in the workshop takes it as it is wired."
              : `As it is wired it works on ${first.servedBy.slice(0, 3).join(", ")}: to take one of these, stop this job and order that.`}
          </span>
        )}
        {first.kind === "setting" && first.restricts !== undefined && <b className="block">{first.restricts}.</b>}
        {rules.length > 0 && (
          <Folded
            className="text-sm text-faded"
            look="link"
            head={`${rules.length} ${rules.length === 1 ? "rule" : "rules"}`}
          >
            <ol className="grid gap-0.5">
              {rules.map((step, i) => (
                <li key={i}>
                  {step.why.replace(/\.$/, "")}
                  {step.before !== undefined && step.after !== undefined
                    ? `: ${step.before} → ${step.after}`
                    : ""}.{" "}
                  <Link href={`?q=${encodeURIComponent(step.why)}`} className="text-water">
                    All by this rule
                  </Link>
                </li>
              ))}
            </ol>
          </Folded>
        )}
        {line > 0 && (
          <a
            className="block min-h-6 text-sm leading-6"
            href={`/backups/${first.ofBoard ? boardBackupId : source}#line-${line}`}
          >
            line {line} of the backup
          </a>
        )}
      </td>
      <td className="w-[17rem]">
        {first.choices.length > 0 ? <Choices row={row} {...rest} /> : <Spare row={row} {...rest} />}
      </td>
    </tr>
  );
}

function Choices({
  row,
  jobId,
  decisions,
  deciders,
  open,
  mayLead,
  proposals,
}: Omit<RowProps, "backupId" | "parts" | "boardBackupId" | "lines" | "board" | "place">) {
  const { ask, busy, problem } = useAsk();
  const taken = takenChoice(row, decisions);
  const before = proposals[row.first.id];
  const isProposed = ({ id }: Choice) => row.items.every((item) => proposals[item.id]?.choiceId === id);
  // what a lead chose for a campaign, a technician may take over
  const isKept = (choice: Choice) => choice.by === "lead" && !mayLead && !isProposed(choice);
  const decide = (choice: Choice) =>
    void ask(`/api/jobs/${jobId}`, {
      kind: "decide",
      choices: Object.fromEntries(row.items.map((item) => [item.id, choice.id])),
    });
  const who = deciders[row.first.id];
  return (
    <div>
      <div className="flex flex-wrap gap-1.5" role="group" aria-label={row.first.title}>
        {row.first.choices.map((choice) => (
          <Press
            key={choice.id}
            busy={busy}
            disabled={!open || isKept(choice)}
            aria-pressed={taken?.id === choice.id}
            look={taken?.id === choice.id ? "taken" : "call"}
            className={isKept(choice) ? "" : "disabled:cursor-default disabled:opacity-100"}
            onClick={() => decide(choice)}
          >
            {choice.label}
          </Press>
        ))}
      </div>
      {row.first.choices
        .filter((choice) => choice.means !== undefined && (taken === undefined || taken === choice))
        .map((choice) => (
          <span key={choice.id} className="block text-[13px] text-faded">
            <b>{choice.label}:</b> {choice.means}
            {isKept(choice) && " Only a lead may decide this."}
          </span>
        ))}
      {!taken &&
        before &&
        row.first.choices.filter(isProposed).map((choice) => (
          <span key={choice.id} className="block text-[13px] text-faded">
            {before.tag}: {before.account} chose <b>{choice.label}</b>
          </span>
        ))}
      {taken && who !== undefined && <span className="text-[13px] text-faded">decided by {who}</span>}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}

/** Of what comes along unasked: it can be left behind after all, and taken along again. */
function Spare({
  row,
  jobId,
  decisions,
  deciders,
  open,
}: Pick<RowProps, "row" | "jobId" | "decisions" | "deciders" | "open">) {
  const { ask, busy, problem } = useAsk();
  const [stay, come] = waysOf(row.first);
  if (!stay || !come) return null;
  const stays = takenChoice(row, decisions)?.id === stay.id;
  const who = deciders[row.first.id];
  if (!open) return stays ? <span className="text-[13px] text-faded">left behind by {who}</span> : null;
  const next = stays ? come : stay;
  return (
    <div>
      <Press
        busy={busy}
        aria-label={`${stay.label}: ${row.first.title}`}
        aria-pressed={stays}
        title={next.means}
        look={stays ? "taken" : "link"}
        onClick={() =>
          void ask(`/api/jobs/${jobId}`, {
            kind: "decide",
            choices: Object.fromEntries(row.items.map((item) => [item.id, next.id])),
          })
        }
      >
        {stay.label}
      </Press>
      {stays && who !== undefined && <span className="block text-[13px] text-faded">decided by {who}</span>}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}
