"use client";

import { ReasonField } from "@/ui/base/reason-field";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";

/** Takes a document out of use, with a reason; it is kept, and can be used again. */
export function Withdraw({ kind, id }: { readonly kind: string; readonly id: string }) {
  const router = useRouter();
  const asking = useAsk();
  const [reason, setReason] = useState("");
  return (
    <DisclosedForm
      opens="Withdraw it"
      does="Withdraw the document"
      asking={asking}
      onSubmit={async () => {
        const done = await asking.ask("/api/documents/standing", { kind, id, does: "withdraw", reason });
        if (done !== undefined) router.push("/firmware#withdrawn");
        return done;
      }}
    >
      <p>It is kept with all its versions, and no longer used. What stands on it holds it back, and is named.</p>
      <ReasonField label="Why" value={reason} onReason={setReason} />
    </DisclosedForm>
  );
}
