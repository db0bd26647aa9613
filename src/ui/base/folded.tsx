"use client";

import { ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import { useState, type ReactNode } from "react";

const HEAD = {
  /** As a link does, beside other text. */
  link: "min-h-6 text-sm text-water",
  /** As what stands in it looks. */
  bare: "min-h-6",
} as const;

interface FoldedProps {
  readonly head: ReactNode;
  /** Drawn only while it is open: rows of a long table that nobody sees have no height to go by. */
  readonly lazy?: boolean;
  /** Open from the first. */
  readonly opened?: boolean;
  readonly look?: keyof typeof HEAD;
  /** Without the arrow: its head says by itself that there is more. */
  readonly unmarked?: boolean;
  readonly headClass?: string;
  readonly className?: string;
  readonly children: ReactNode;
}

/** What is folded until it is asked for. What was written in it stays while it is folded again. */
export function Folded({
  head,
  lazy = false,
  opened = false,
  look = "bare",
  unmarked = false,
  headClass = "",
  className = "",
  children,
}: FoldedProps) {
  const [open, setOpen] = useState(opened);
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen} className={`group/fold ${className}`}>
      <Collapsible.Trigger className={`flex w-full items-baseline gap-1.5 text-left ${HEAD[look]} ${headClass}`}>
        {!unmarked && (
          <ChevronRight
            className="size-3.5 shrink-0 translate-y-0.5 group-data-[state=open]/fold:rotate-90 motion-safe:transition-transform"
            aria-hidden="true"
          />
        )}
        <span className="min-w-0 grow">{head}</span>
      </Collapsible.Trigger>
      {(open || !lazy) && (
        <Collapsible.Content forceMount className="data-[state=closed]:hidden">
          {children}
        </Collapsible.Content>
      )}
    </Collapsible.Root>
  );
}
