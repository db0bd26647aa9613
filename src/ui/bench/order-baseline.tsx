"use client";

import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { AreaDifference, Parts } from "@/core/carryover/baseline";
import { send, useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { changesOf, PartsTable } from "@/ui/bench/parts-table";
import { Press } from "@/ui/base/press";

/** As the server tells it; see the repository of baselines. */
interface BaselineChoice {
  readonly id: string;
  readonly title: string;
  readonly differences?: readonly AreaDifference[];
  readonly lack?: string;
}

const places = (n: number) => `${n} ${n === 1 ? "place" : "places"}`;

interface OrderBaselineProps {
  readonly no: number;
  readonly aircraftId: number;
  readonly tag: string;
  /** The board is there this moment; it may be restarting. */
  readonly seen: boolean;
}

/** Folded away: what is asked of the server only when somebody wants it. */
export function BackToBaseline(props: OrderBaselineProps) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-3 border-t border-rule pt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="min-h-6 cursor-pointer text-sm text-water">
        Set to the standard or defaults, same firmware
      </summary>
      <div className="mt-2">{open && <OrderBaseline {...props} />}</div>
    </details>
  );
}

/** Orders a job that takes the board back to what its type, or its release, is meant to be; chosen parts stay. */
function OrderBaseline({ no, aircraftId, tag, seen }: OrderBaselineProps) {
  const router = useRouter();
  const { ask, busy, problem } = useAsk();
  const [choices, setChoices] = useState<readonly BaselineChoice[]>();
  const [picked, setPicked] = useState<string>();
  const [parts, setParts] = useState<Parts>({});
  useEffect(() => {
    if (!seen) return undefined;
    let gone = false;
    void send<{ choices: readonly BaselineChoice[] }>(`/api/bench/${no}/baselines`, undefined, "GET").then((answer) => {
      if (!gone) setChoices(answer.ok ? answer.value.choices : []);
    });
    return () => {
      gone = true;
    };
  }, [no, seen]);
  if (!choices) return <p className="text-sm text-faded">Looking at what it can go back to.</p>;
  const base = choices.find(({ id }) => id === picked) ?? choices.find(({ lack }) => lack === undefined);
  if (!base) return <p className="text-sm text-faded">There is nothing that it could go back to.</p>;
  const total = changesOf(base.differences, parts);
  return (
    <div className="grid gap-3">
      <fieldset className="grid gap-1">
        <legend className="mb-1 text-sm text-faded">Back to</legend>
        {choices.map((choice) => (
          <label key={choice.id} className={`flex gap-2 ${choice.lack === undefined ? "" : "text-faded"}`}>
            <input
              type="radio"
              name="baseline"
              className="mt-1.5 size-4"
              checked={choice.id === base.id}
              disabled={choice.lack !== undefined}
              onChange={() => setPicked(choice.id)}
            />
            <span>
              <b>{choice.title}</b>
              {choice.lack !== undefined && <span className="text-sm"> {choice.lack}</span>}
            </span>
          </label>
        ))}
      </fieldset>
      <PartsTable differences={base.differences} parts={parts} theirs="Everything" onParts={setParts} />
      <p className="text-sm">
        Its own is what belongs to this board and airframe: calibration, wiring, its name.{" "}
        {base.differences
          ? total === 0
            ? `By its newest backup nothing of ${tag} would change.`
            : `By its newest backup ${places(total)} of ${tag} would change; the plan shows each before anything does.`
          : `No complete backup of ${tag} is on file; the plan shows what changes before anything does.`}
      </p>
      <div>
        <Press
          look="main"
          busy={busy}
          onClick={() => {
            void ask<{ id: number }>("/api/jobs", {
              bayNo: no,
              aircraftId,
              goal: "baseline",
              base: base.id,
              parts,
            }).then((job) => job && router.push(`/jobs/${job.id}`));
          }}
        >
          Order these settings
        </Press>
        {problem && <ProblemNote problem={problem} />}
      </div>
    </div>
  );
}
