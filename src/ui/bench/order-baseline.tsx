"use client";

import { useEffect, useState } from "react";
import type { Parts } from "@/core/carryover/baseline";
import { send } from "@/ui/base/ask";
import { useOrder } from "@/ui/bench/use-order";
import { ProblemNote } from "@/ui/base/parts";
import { changesOf, PartsTable } from "@/ui/bench/parts-table";
import { Press } from "@/ui/base/press";
import { OneOf } from "@/ui/base/one-of";
import { Folded } from "@/ui/base/folded";
import type { BaselineChoice } from "@/contracts/answers/choices";

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
  return (
    <Folded
      className="mt-3 border-t border-rule pt-2"
      look="link"
      lazy
      head="Set to the standard or defaults, same firmware"
    >
      <div className="mt-2">
        <OrderBaseline {...props} />
      </div>
    </Folded>
  );
}

/** Orders a job that takes the board back to what its type, or its release, is meant to be; chosen parts stay. */
function OrderBaseline({ no, aircraftId, tag, seen }: OrderBaselineProps) {
  const { order, busy, problem } = useOrder();
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
      <OneOf
        label="Back to"
        value={base.id}
        choices={choices.map(({ id, title, lack }) => ({
          value: id,
          disabled: lack !== undefined,
          says: (
            <>
              <b>{title}</b>
              {lack !== undefined && <span className="text-sm"> {lack}</span>}
            </>
          ),
        }))}
        onValue={setPicked}
      />
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
            void order({ bayNo: no, aircraftId, goal: { kind: "baseline", base: base.id, parts } });
          }}
        >
          Order these settings
        </Press>
        {problem && <ProblemNote problem={problem} />}
      </div>
    </div>
  );
}
