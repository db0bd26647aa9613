"use client";

import { ReasonField } from "@/ui/base/reason-field";
import { useState } from "react";
import { AskButton, useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";

/** Why something is done, and then it is. */
export function WithReason({
  opens,
  does,
  path,
  body,
}: {
  readonly opens: string;
  readonly does: string;
  readonly path: string;
  readonly body: object;
}) {
  const asking = useAsk();
  const [reason, setReason] = useState("");
  return (
    <DisclosedForm opens={opens} does={does} asking={asking} onSubmit={() => asking.ask(path, { ...body, reason })}>
      <ReasonField label="Why" required value={reason} onReason={setReason} />
    </DisclosedForm>
  );
}

/** Pause, go on, end. What is on the bench goes on whatever is said here. */
export function CampaignControls({ id, state }: { readonly id: number; readonly state: "open" | "paused" }) {
  const path = `/api/campaigns/${id}`;
  return (
    <div className="flex flex-wrap gap-2">
      {state === "paused" ? (
        <AskButton path={path} body={{ kind: "open" }} look="main">
          Resume the campaign
        </AskButton>
      ) : (
        <WithReason opens="Pause it" does="Pause the campaign" path={path} body={{ kind: "paused" }} />
      )}
      <WithReason opens="End it" does="End the campaign" path={path} body={{ kind: "ended" }} />
    </div>
  );
}
