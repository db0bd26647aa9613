"use client";

import { ReasonField } from "@/ui/base/reason-field";
import { useState } from "react";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { useAsk } from "@/ui/base/ask";

/** Another key signs from now on: for a reason, by a lead's name. */
export function ReplaceKey() {
  const asking = useAsk();
  const [reason, setReason] = useState("");
  return (
    <DisclosedForm
      opens="Replace the key"
      does="Sign with a new key from now on"
      asking={asking}
      onSubmit={() => asking.ask("/api/keeping", { ask: "key", reason })}
    >
      <p>Papers that were signed before stay valid: earlier keys stay in the record.</p>
      <ReasonField label="Why another key shall sign" value={reason} onReason={setReason} />
    </DisclosedForm>
  );
}
