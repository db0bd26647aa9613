"use client";

import { isReason, ReasonField } from "@/ui/base/reason-field";
import { useEffect, useRef, useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

/** Stopping asks for a reason; where something was written, the press that stops names what is left on the board. */
export function StopJob({
  jobId,
  tag,
  left,
}: {
  readonly jobId: number;
  readonly tag: string;
  readonly left: string | undefined;
}) {
  const { ask, busy, problem } = useAsk();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (open) field.current?.focus();
  }, [open]);
  if (!open)
    return (
      <Press look={left === undefined ? "plain" : "loss"} onClick={() => setOpen(true)}>
        Stop this job
      </Press>
    );
  return (
    <form
      className="grid w-[24rem] max-w-full gap-2 border border-clay bg-sheet p-3 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void ask(`/api/jobs/${jobId}`, { kind: "stop", reason: reason.trim(), writing: left !== undefined });
      }}
    >
      <p>
        {left === undefined
          ? `Nothing was written to the board of ${tag}: it stays as it was.`
          : `The board of ${tag} keeps ${left}. It stays out of service until another job is signed off.`}
      </p>
      <ReasonField ref={field} label="Why is it stopped?" value={reason} onReason={setReason} />
      {problem && <ProblemNote problem={problem} />}
      <div className="flex flex-wrap gap-2">
        <Press submit busy={busy} disabled={!isReason(reason)} look="loss">
          {left === undefined ? "Stop it" : "Stop it and leave it so"}
        </Press>
        <Press onClick={() => setOpen(false)}>Go on with the job</Press>
      </div>
    </form>
  );
}
