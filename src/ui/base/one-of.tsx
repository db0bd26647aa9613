"use client";

import { RadioGroup } from "radix-ui";
import { useId, type ReactNode } from "react";

export interface OneOfChoice {
  readonly value: string;
  readonly says: ReactNode;
  readonly disabled?: boolean;
  /** What it means, on pointing at it. */
  readonly title?: string | undefined;
}

interface OneOfProps {
  readonly label: string;
  /** The label is only heard: what is asked stands above. */
  readonly heard?: boolean;
  /** The chosen one; undefined: none yet. */
  readonly value: string | undefined;
  readonly choices: readonly OneOfChoice[];
  readonly onValue: (value: string) => void;
  readonly className?: string;
  /** How the row of a choice looks. */
  readonly row?: (choice: OneOfChoice, chosen: boolean) => string;
}

/** One of a few things that can all be seen. */
export function OneOf({
  label,
  heard = false,
  value,
  choices,
  onValue,
  className = "grid gap-1",
  row = () => "py-0.5",
}: OneOfProps) {
  const id = useId();
  return (
    <div>
      <span id={id} className={heard ? "sr-only" : "mb-1 block text-sm text-faded"}>
        {label}
      </span>
      <RadioGroup.Root aria-labelledby={id} value={value ?? ""} onValueChange={onValue} className={className}>
        {choices.map((choice, i) => (
          <div
            key={choice.value}
            className={`flex min-h-6 gap-2 ${choice.disabled ? "text-faded" : ""} ${row(choice, choice.value === value)}`}
            {...(choice.title === undefined ? {} : { title: choice.title })}
          >
            <RadioGroup.Item
              id={`${id}-${i}`}
              value={choice.value}
              disabled={choice.disabled ?? false}
              className="mt-[3px] grid size-[18px] shrink-0 place-items-center rounded-full border border-edge bg-sheet disabled:opacity-50 data-[state=checked]:border-ink"
            >
              <RadioGroup.Indicator className="size-2.5 rounded-full bg-ink" />
            </RadioGroup.Item>
            <label htmlFor={`${id}-${i}`} className={`min-w-0 grow ${choice.disabled ? "" : "cursor-pointer"}`}>
              {choice.says}
            </label>
          </div>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
