import { isBehind } from "@/core/job/subject";
import type { StepState } from "@/core/job";
import { Mark } from "@/ui/base/mark";
import { Folded } from "@/ui/base/folded";
import { Table } from "@/ui/base/table";
import { clockTime } from "@/ui/base/time";
import type { CardStep } from "@/ui/job/card-step";

/** What a step comes to for a part, in a word. */
const HEADS: Readonly<Record<string, string>> = {
  "know-loader": "Known",
  "know-target": "Target",
  rescue: "Read out",
  "decode-rescue": "Settings",
  flash: "Written",
  "first-start": "Starts",
  restore: "Set up",
  prove: "Proved",
};

/** A step with its number on the card, or steps that are done to several parts one after the other. */
export type Stretch =
  | { readonly kind: "step"; readonly at: number }
  | { readonly kind: "parts"; readonly from: number; readonly to: number };

/** They name a part of a kind, and are of none alone. */
const OF_ALL: readonly StepState["kind"][] = ["open-line", "close-line"];

/** The steps of a card in their order; those on parts behind the board that follow each other stand together. */
export function stretchesOf(steps: readonly { readonly state: Pick<StepState, "subject" | "kind"> }[]): Stretch[] {
  const grouped = (i: number) => {
    const { subject, kind } = steps[i]?.state ?? {};
    return subject !== undefined && kind !== undefined && isBehind(subject) && !OF_ALL.includes(kind);
  };
  const found: Stretch[] = [];
  for (let at = 0; at < steps.length; at++) {
    let to = at;
    while (grouped(at) && grouped(to + 1)) to++;
    found.push(to > at ? { kind: "parts", from: at, to } : { kind: "step", at });
    at = to;
  }
  return found;
}

const STANDS = {
  done: { mark: "ok", say: "done", look: "text-reed" },
  failed: { mark: "no", say: "failed", look: "font-semibold text-clay" },
  running: { mark: "half", say: "at it", look: "text-water" },
  waiting: { mark: "call", say: "waits", look: "text-heather" },
  "to-do": { mark: "none", say: "to do", look: "text-faded" },
} as const;

function Cell({ step }: { readonly step: CardStep | undefined }) {
  if (!step) return null;
  const { mark, say, look } = STANDS[step.state.status];
  return (
    <span className={look}>
      <Mark mark={mark} /> {say}
    </span>
  );
}

/** Steps on several parts: a row for each by its place, a column for each thing that is done to it. */
export function PartGrid({
  steps,
  places,
}: {
  readonly steps: readonly CardStep[];
  readonly places: Readonly<Record<string, string>>;
}) {
  const subjects = [...new Set(steps.map(({ state }) => state.subject))];
  const kinds = [...new Set(steps.map(({ state }) => state.kind))];
  const told = steps.filter(({ state }) => state.evidence !== undefined || state.notes.length > 0);
  return (
    <>
      <Table
        label="The parts and what is done to them"
        rows={subjects}
        keyOf={(subject) => subject}
        columns={[
          { head: "Part", names: true, cell: (subject) => places[subject] ?? subject },
          ...kinds.map((kind) => ({
            head: HEADS[kind] ?? kind,
            look: "text-sm whitespace-nowrap",
            cell: (subject: string) => (
              <Cell step={steps.find(({ state }) => state.kind === kind && state.subject === subject)} />
            ),
          })),
        ]}
      />
      {told.length > 0 && (
        <Folded className="px-3.5 py-1.5 text-sm" look="link" head="What was found">
          <ul className="mt-1 grid gap-1">
            {told.map(({ title, state }) => (
              <li key={state.id}>
                <b>{title}</b>{" "}
                <span className="text-faded">
                  {state.evidence} {state.endedAt === undefined ? "" : clockTime(state.endedAt)}
                </span>
                {state.notes.map((note) => (
                  <span key={`${note.at} ${note.text}`} className="block">
                    {clockTime(note.at)} {note.text}
                  </span>
                ))}
              </li>
            ))}
          </ul>
        </Folded>
      )}
    </>
  );
}
