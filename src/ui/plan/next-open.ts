"use client";

import { useEffect } from "react";

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName));

/** The key N goes to the first way out of the next decision that is open, from wherever the focus stands, round and round. */
export function useNextOpen(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "n" || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target))
        return;
      const open = [...document.querySelectorAll<HTMLElement>('main tr [role="group"]')].filter(
        (group) => group.querySelector('[aria-pressed="true"]') === null,
      );
      const at = document.activeElement;
      const after = open.find(
        (group) => at === null || (at.compareDocumentPosition(group) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0,
      );
      const next = (after ?? open[0])?.querySelector<HTMLButtonElement>("button:enabled");
      if (!next) return;
      event.preventDefault();
      next.focus();
      next.scrollIntoView({ block: "center" });
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
}
