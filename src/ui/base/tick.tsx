"use client";

import { Check } from "lucide-react";
import { Checkbox } from "radix-ui";
import { useId, type ReactNode } from "react";

interface TickProps {
  readonly label: ReactNode;
  /** The label is only heard: what is ticked stands beside it. */
  readonly heard?: boolean;
  readonly checked: boolean;
  readonly onChecked: (checked: boolean) => void;
  readonly disabled?: boolean;
  /** What was ticked is on its way to the server. */
  readonly busy?: boolean;
}

/** Something that holds or does not. */
export function Tick({ label, heard = false, checked, onChecked, disabled = false, busy = false }: TickProps) {
  const id = useId();
  return (
    <div className="flex min-h-6 items-center gap-2 text-sm">
      <Checkbox.Root
        id={id}
        checked={checked}
        disabled={disabled}
        aria-busy={busy}
        onCheckedChange={(next) => onChecked(next === true)}
        className="grid size-[18px] shrink-0 place-items-center rounded-base border border-edge bg-sheet text-sheet disabled:opacity-50 data-[state=checked]:border-ink data-[state=checked]:bg-ink"
      >
        <Checkbox.Indicator>
          <Check className="size-3.5" strokeWidth={3} aria-hidden="true" />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id} className={heard ? "sr-only" : "cursor-pointer"}>
        {label}
      </label>
    </div>
  );
}
