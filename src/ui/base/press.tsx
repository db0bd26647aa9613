"use client";

import { useState, type ComponentProps, type ReactNode } from "react";
import { BUTTON_LOOK, type ButtonLook } from "@/ui/base/parts";

const LOOK = {
  ...BUTTON_LOOK,
  /** Reads as a link, where a button would weigh too much. */
  link: "min-h-6 text-sm text-water underline underline-offset-2",
  /** Says itself how it looks. */
  bare: "",
} as const;

interface PressProps extends Omit<ComponentProps<"button">, "type" | "disabled"> {
  readonly look?: ButtonLook | "link" | "bare";
  /** What it asked for is under way: it was heard, and is not heard twice. */
  readonly busy?: boolean;
  readonly disabled?: boolean;
  /** It ends the form that it stands in. */
  readonly submit?: boolean;
  readonly children: ReactNode;
}

/**
 * Every button. While what it asked for is under way it keeps the focus, shows at once that it was heard, and takes no
 * second press: a `disabled` button would drop the focus to the top of the page. Of several that wait for the same
 * thing, only the one that was pressed shows it.
 */
export function Press({
  look = "plain",
  busy = false,
  disabled = false,
  submit = false,
  className = "",
  onClick,
  children,
  ...rest
}: PressProps) {
  const [heard, setHeard] = useState(false);
  const [was, setWas] = useState(busy);
  if (was !== busy) {
    setWas(busy);
    if (!busy) setHeard(false);
  }
  return (
    <button
      {...rest}
      type={submit ? "submit" : "button"}
      disabled={disabled && !busy}
      {...(busy ? { "aria-disabled": true, "aria-busy": heard } : {})}
      className={`${LOOK[look]} disabled:cursor-not-allowed disabled:opacity-50 aria-busy:shadow-[inset_0_-3px_0_0_currentColor] aria-disabled:cursor-progress motion-safe:aria-busy:animate-pulse ${className}`}
      onClick={(event) => {
        if (busy) return event.preventDefault();
        setHeard(true);
        onClick?.(event);
      }}
    >
      {children}
    </button>
  );
}
