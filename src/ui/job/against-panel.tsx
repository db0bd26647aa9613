"use client";

import { Table } from "@/ui/base/table";
import { isReason, ReasonField } from "@/ui/base/reason-field";
import { Link } from "@/ui/base/link";
import { useState } from "react";
import type { Need } from "@/core/job";
import { AskButton } from "@/ui/base/ask";

/** What the board says, beside what it is taken for; going on takes a reason, by name. */
export function AgainstPanel({
  need,
  step,
  path,
  bayNo,
  mayWork,
}: {
  readonly need: Extract<Need, { kind: "against" }>;
  readonly step: string;
  readonly path: `/api/jobs/${number}`;
  readonly bayNo: number;
  readonly mayWork: boolean;
}) {
  const [reason, setReason] = useState("");
  return (
    <div data-asks="" className="mt-2 grid gap-3">
      <p>{need.say}</p>
      <Table
        className="max-w-[46rem]"
        rows={need.readings}
        keyOf={({ sign }) => sign}
        columns={[
          { head: "Sign", names: true, cell: ({ sign }) => sign },
          { head: "Taken for", cell: ({ taken }) => taken },
          {
            head: "The board says",
            cell: ({ seen, speaksFor }) => (
              <>
                <b>{seen}</b>
                {speaksFor.length > 0 && `, as ${speaksFor.join(" or ")}`}
              </>
            ),
          },
        ]}
      />
      {need.readings.some(({ speaksFor }) => speaksFor.length > 0) && (
        <p className="text-sm">
          <Link href={`/boards/which?bay=${bayNo}`}>Which target does it take?</Link> weighs all signs of the board in
          bay {bayNo}.
        </p>
      )}
      {mayWork && (
        <div className="grid gap-2">
          <ReasonField label="Why you go on all the same" value={reason} onReason={setReason} />
          <div className="flex flex-wrap gap-2">
            <AskButton path={path} body={{ kind: "again", step }} look="main">
              Look at the board again
            </AskButton>
            <AskButton path={path} body={{ kind: "confirm", step, reason }} look="plain" disabled={!isReason(reason)}>
              Go on with this reason
            </AskButton>
          </div>
        </div>
      )}
    </div>
  );
}
