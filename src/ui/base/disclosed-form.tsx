"use client";

import { useState, type ReactNode } from "react";
import type { useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

/** A form that a button opens; it closes when what it asks for was done. */
export function DisclosedForm({
  opens,
  does,
  disabled = false,
  asking,
  onSubmit,
  children,
}: {
  readonly opens: string;
  readonly does: string;
  readonly disabled?: boolean;
  readonly asking: ReturnType<typeof useAsk>;
  readonly onSubmit: () => Promise<unknown>;
  readonly children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Press onClick={() => setOpen(true)} disabled={disabled}>
        {opens}
      </Press>
    );
  return (
    <form
      className="grid max-w-md gap-2 border border-rule p-3 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void onSubmit().then((made) => made !== undefined && setOpen(false));
      }}
    >
      {children}
      {asking.problem && <ProblemNote problem={asking.problem} />}
      <div className="flex gap-2">
        <Press submit busy={asking.busy} look="main">
          {does}
        </Press>
        <Press onClick={() => setOpen(false)}>Not now</Press>
      </div>
    </form>
  );
}
