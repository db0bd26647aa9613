"use client";

import { isReason, ReasonField } from "@/ui/base/reason-field";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Folded } from "@/ui/base/folded";

export interface GroundingView {
  readonly id: number;
  readonly reason: string;
  readonly account: string;
  readonly when: string;
  /** Only a person's reason is taken back by a person; the others wait for a signed-off job. */
  readonly byPerson: boolean;
}

/** Why an aircraft stays on the ground: each reason with its name, and the way to take it back or to add one. */
export function Groundings({
  tag,
  reasons,
  mayWork,
}: {
  readonly tag: string;
  readonly reasons: readonly GroundingView[];
  readonly mayWork: boolean;
}) {
  const { ask, busy, problem } = useAsk();
  const [reason, setReason] = useState("");
  const path = `/api/aircraft/${tag}/groundings`;
  return (
    <Sheet label="On the ground" className="px-4 py-3.5">
      <h2 className="mb-1.5">
        {reasons.length === 0 ? "Nothing keeps it on the ground" : "What keeps it on the ground"}
      </h2>
      <ul className="grid gap-2 text-sm">
        {reasons.map((each) => (
          <li key={each.id} className="flex items-start gap-2">
            <span className="pt-0.5">
              <StateShape shape="square" />
            </span>
            <span className="min-w-0">
              {each.reason}
              <span className="block text-faded">
                {each.account}, {each.when}
                {each.byPerson ? "" : " · ends with a signed-off job"}
              </span>
              {each.byPerson && mayWork && (
                <Press busy={busy} className="mt-1" onClick={() => void ask(`${path}/${each.id}`, {}, "DELETE")}>
                  Withdraw this reason
                </Press>
              )}
            </span>
          </li>
        ))}
      </ul>
      {mayWork && (
        <Folded className="mt-2 text-sm" look="link" head="Take out of service">
          <form
            className="mt-2 grid gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              void ask(path, { reason }).then((done) => done && setReason(""));
            }}
          >
            <ReasonField label="Why" value={reason} onReason={setReason} most={200} />
            <Press submit busy={busy} disabled={!isReason(reason)} look="loss" className="justify-self-start">
              Ground {tag} with my name
            </Press>
          </form>
        </Folded>
      )}
      {problem && <ProblemNote problem={problem} />}
    </Sheet>
  );
}
