"use client";

import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { send, useAsk } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";

/** As the server tells it; see the repository of release choices. */
export interface ReleaseChoice {
  readonly id: string;
  readonly title: string;
  readonly standing: string;
  readonly relation: "next" | "later" | "fork" | "older" | "other-family" | "same";
  readonly path: string;
  readonly silent: number;
  readonly blocked: number;
  readonly lost: number;
  readonly noWayBack?: string;
  readonly image: boolean;
}

const RELATION: Readonly<Record<ReleaseChoice["relation"], string>> = {
  next: "follows the one on it",
  later: "further on",
  fork: "another line",
  older: "older",
  "other-family": "no common ancestor",
  same: "runs now; would be written again",
};

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** “2 silent changes · 1 thing cannot be there · can go back”: what a release would mean for this board. */
function meaning({ silent, blocked, lost, noWayBack, relation }: ReleaseChoice): string {
  const parts = [
    silent > 0 ? count(silent, "silent change", "silent changes") : "no silent change",
    blocked > 0 ? count(blocked, "thing cannot be there", "things cannot be there") : "",
    lost > 0 ? `${count(lost, "value", "values")} set by hand would be lost` : "",
    relation === "same" ? "" : noWayBack === undefined ? "can go back" : `no way back: ${noWayBack}`,
  ];
  return parts.filter(Boolean).join(" · ");
}

interface Choices {
  readonly goal: "update" | "revive";
  readonly basis: string;
  readonly choices: readonly ReleaseChoice[];
  readonly lack?: string;
}

function useChoices(no: number, board: string) {
  const [loaded, setLoaded] = useState<Choices & { board: string }>();
  useEffect(() => {
    let gone = false;
    void send<Choices>(`/api/bench/${no}/releases`, undefined, "GET").then((answer) => {
      if (!gone)
        setLoaded({
          board,
          ...(answer.ok ? answer.value : { goal: "update", basis: "", choices: [], lack: answer.problem.message }),
        });
    });
    return () => {
      gone = true;
    };
  }, [no, board]);
  return loaded?.board === board ? loaded : undefined;
}

/** Every release that is built for the board in the bay, the nearest first, each with its path and what it would mean. */
export function OrderRelease({
  no,
  aircraftId,
  board,
}: {
  readonly no: number;
  readonly aircraftId: number;
  readonly board: string;
}) {
  const router = useRouter();
  const { ask, busy, problem } = useAsk();
  const loaded = useChoices(no, board);
  const [chosen, setChosen] = useState<string>();
  if (!loaded) return <p className="text-sm text-faded">Looking at the releases that are built for it.</p>;
  const { goal } = loaded;
  const possible = loaded.choices.filter((choice) => choice.image);
  const releaseId = chosen ?? possible[0]?.id;
  if (loaded.choices.length === 0)
    return (
      <p className="text-sm text-faded">
        {loaded.lack ?? "No release in the workshop is built for this board’s target."}
      </p>
    );
  return (
    <div className="grid gap-2">
      {goal === "revive" && (
        <p className="text-sm">
          It shows only its loader: what it holds does not start. Through the loader a release can be written to it;
          then it is set up as it was backed up last. If its boot button was held by mistake, plug it in again without
          it.
        </p>
      )}
      <fieldset className="grid max-h-80 gap-px overflow-y-auto border border-rule bg-rule">
        <legend className="sr-only">Release</legend>
        {loaded.choices.map((choice) => (
          <label
            key={choice.id}
            className={`grid grid-cols-[1.75rem_1fr] bg-sheet px-2.5 py-1.5 ${choice.image ? "cursor-pointer hover:bg-paper" : "text-faded"} ${choice.id === releaseId ? "bg-water-wash" : ""}`}
          >
            <input
              type="radio"
              name="release"
              className="mt-1.5 size-4"
              value={choice.id}
              checked={choice.id === releaseId}
              disabled={!choice.image}
              onChange={() => setChosen(choice.id)}
            />
            <span className="min-w-0">
              <b>{choice.title}</b>
              <span className="text-sm">
                {" "}
                {choice.standing === "stable" ? "" : `${choice.standing}, `}
                {goal === "revive" && choice.relation === "same"
                  ? "as it was backed up last"
                  : RELATION[choice.relation]}
              </span>
              <span className="block text-[13px] text-faded">
                {choice.blocked > 0 ? (
                  <StateShape shape="square" />
                ) : choice.silent > 0 ? (
                  <StateShape shape="triangle" />
                ) : null}{" "}
                {choice.path.includes("→") ? `${choice.path} · ` : ""}
                {choice.image ? meaning(choice) : "no image of it for this target is in the workshop"}
              </span>
            </span>
          </label>
        ))}
      </fieldset>
      <p className="text-sm text-faded">Counted {loaded.basis}.</p>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <button
          type="button"
          className={`${BUTTON_LOOK.main} disabled:opacity-50`}
          disabled={busy || releaseId === undefined}
          onClick={() => {
            void ask<{ id: number }>("/api/jobs", { bayNo: no, aircraftId, goal, releaseId }).then(
              (job) => job && router.push(`/jobs/${job.id}`),
            );
          }}
        >
          {goal === "revive" ? "Order its revival" : "Order this job"}
        </button>
        <span className="text-sm text-faded">Nothing starts yet: the card shows every step first.</span>
      </div>
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}
