"use client";

import { useEffect } from "react";

/** Where letters are written, or find what begins with them. */
const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.closest("input, textarea, [role=combobox], [role=listbox]") !== null);

/** The key N goes to what waits next on this page, from wherever the focus stands. */
export function useNext(next: () => Promise<HTMLElement | undefined>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "n" || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target))
        return;
      event.preventDefault();
      void next().then((place) => {
        place?.focus({ preventScroll: true });
        place?.scrollIntoView({ block: "center" });
      });
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [next]);
}
