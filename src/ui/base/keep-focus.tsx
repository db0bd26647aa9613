"use client";

import { useEffect } from "react";

const FIELD = "input, select, textarea";

const trailOf = (element: Element | null): Element[] => (element ? [element, ...trailOf(element.parentElement)] : []);

/** Where the work went on from something that is gone, or undefined where nothing of its page is left. */
function nextPlace(main: Element, trail: readonly Element[], added: readonly Node[]): HTMLElement | undefined {
  const left = trail.find((element) => element.isConnected);
  if (!left || !main.contains(left)) return undefined;
  // a form that opened in its place; not the first field of another page
  for (const node of added) {
    const field =
      node instanceof Element && left !== main && left.contains(node) ? node.querySelector<HTMLElement>(FIELD) : null;
    if (field) return field;
  }
  const step = main.querySelector<HTMLElement>('[aria-current="step"]');
  const region = left.closest<HTMLElement>("section, form, li, tr");
  return step ?? (region && main.contains(region) ? region : (main as HTMLElement));
}

/** Gives the focus to a place that is no control: the next Tab leads to what stands in it. */
function focusPlace(place: HTMLElement): void {
  if (!place.matches(`${FIELD}, button, a[href], [tabindex]`)) {
    place.tabIndex = -1;
    place.addEventListener("blur", () => place.removeAttribute("tabindex"), { once: true });
  }
  place.focus({ preventScroll: true });
}

/**
 * Keeps the focus where the work is. A press often removes its own button: without this the focus would fall to the top
 * of the page, and who works by keys or with a screen reader would begin there after every step.
 */
export function KeepFocus() {
  useEffect(() => {
    const main = document.getElementById("main");
    if (!main) return undefined;
    let trail: Element[] = [];
    const onFocus = ({ target }: FocusEvent) => {
      trail = target instanceof Element && main.contains(target) ? trailOf(target) : [];
    };
    const observer = new MutationObserver((records) => {
      const [last] = trail;
      if (!last || last.isConnected || document.activeElement !== document.body) return;
      const added = records.flatMap(({ addedNodes }) => [...addedNodes]);
      const place = nextPlace(main, trail, added);
      trail = [];
      if (place) focusPlace(place);
    });
    document.addEventListener("focusin", onFocus);
    observer.observe(main, { childList: true, subtree: true });
    return () => {
      document.removeEventListener("focusin", onFocus);
      observer.disconnect();
    };
  }, []);
  return null;
}
