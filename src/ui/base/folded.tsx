"use client";

import { useState, type ReactNode } from "react";

/**
 * What is folded until it is asked for. With `lazy` it is drawn only then: rows of a long table that nobody sees have no
 * height to go by.
 */
export function Folded({
  head,
  lazy,
  className = "",
  children,
}: {
  readonly head: ReactNode;
  readonly lazy: boolean;
  readonly className?: string;
  readonly children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className={className}>{head}</summary>
      {(open || !lazy) && children}
    </details>
  );
}
