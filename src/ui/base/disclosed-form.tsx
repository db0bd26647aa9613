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
  wide = false,
  asking,
  onSubmit,
  children,
}: {
  readonly opens: string;
  readonly does: string;
  readonly disabled?: boolean;
  /** On a line of its own, its fields beside each other. */
  readonly wide?: boolean;
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
      className={`grid gap-2 border border-rule text-sm ${wide ? "w-full grid-cols-4 items-end gap-x-4 bg-sheet p-4 max-lg:grid-cols-2 max-sm:grid-cols-1" : "max-w-md p-3"}`}
      onSubmit={(event) => {
        event.preventDefault();
        void onSubmit().then((made) => made !== undefined && setOpen(false));
      }}
    >
      {children}
      {asking.problem && (
        <div className="col-span-full">
          <ProblemNote problem={asking.problem} />
        </div>
      )}
      <div className="col-span-full flex gap-2">
        <Press submit busy={asking.busy} look="main">
          {does}
        </Press>
        <Press onClick={() => setOpen(false)}>Not now</Press>
      </div>
    </form>
  );
}
