"use client";

import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState, type ComponentProps, type ReactNode } from "react";

const ROW_PX = 46;
const REACH = "fresh-start-reach";
/** How many frames a row that was scrolled to may take to be drawn. */
const FRAMES = 40;

/** What a row of a long table hands to its `tr`. */
export type RowProps = ComponentProps<"tr"> & { readonly "data-index": number };

interface LongTableProps {
  readonly label: string;
  readonly head: ReactNode;
  /** Of each row, the id of its element, by which links and keys reach it. */
  readonly ids: readonly string[];
  readonly row: (index: number, props: RowProps) => ReactNode;
  /** Up to so many rows all stand in the page, where the browser's own search and print find them; of more, those in sight. */
  readonly allRows?: number;
  readonly className?: string;
  readonly tableClass?: string;
  readonly children?: ReactNode;
}

/**
 * Scrolls to a row of a long table, drawn or not, and gives its element once it stands there; undefined where no table
 * of the page has it.
 */
export async function reachRow(id: string): Promise<HTMLElement | undefined> {
  window.dispatchEvent(new CustomEvent(REACH, { detail: id }));
  for (let i = 0; i < FRAMES; i++) {
    const row = document.getElementById(id);
    if (row) {
      row.scrollIntoView({ block: "center" });
      return row;
    }
    await new Promise(requestAnimationFrame);
  }
  return undefined;
}

/** Which rows to draw, and how much room the others take above and below. */
function useRowsInSight(ids: readonly string[], allRows: number) {
  const frame = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  const long = ids.length > allRows;
  const arrived = useRef(false);
  const virtual = useWindowVirtualizer({
    count: ids.length,
    enabled: long,
    estimateSize: () => ROW_PX,
    overscan: 20,
    scrollMargin: top,
    initialRect: { width: 1280, height: 900 },
  });
  useEffect(() => {
    if (!long) return undefined;
    // the frame's place is known once it stands; it moves when what is above it grows or folds
    const place = () => setTop(Math.round((frame.current?.getBoundingClientRect().top ?? 0) + window.scrollY));
    const watch = new ResizeObserver(place);
    watch.observe(document.body);
    const reach = (id: string) => {
      const at = ids.indexOf(id);
      if (at >= 0) virtual.scrollToIndex(at, { align: "center" });
    };
    const onReach = (event: Event) => reach((event as CustomEvent<string>).detail);
    const onHash = () => reach(window.location.hash.slice(1));
    window.addEventListener(REACH, onReach);
    window.addEventListener("hashchange", onHash);
    const first = requestAnimationFrame(() => {
      if (!arrived.current) onHash();
      arrived.current = true;
    });
    return () => {
      watch.disconnect();
      window.removeEventListener(REACH, onReach);
      window.removeEventListener("hashchange", onHash);
      cancelAnimationFrame(first);
    };
  }, [long, ids, virtual]);
  if (!long) return { frame, first: 0, last: ids.length, above: 0, below: 0, measure: undefined };
  const items = virtual.getVirtualItems();
  const [head, tail] = [items[0], items.at(-1)];
  return {
    frame,
    first: head?.index ?? 0,
    last: (tail?.index ?? -1) + 1,
    above: (head?.start ?? top) - top,
    below: virtual.getTotalSize() - ((tail?.end ?? top) - top),
    measure: virtual.measureElement,
  };
}

const Room = ({ px }: { readonly px: number }) =>
  px <= 0 ? null : (
    <tr aria-hidden="true">
      <td style={{ height: px, padding: 0, border: 0 }} />
    </tr>
  );

/** A table of any length: of a long one, only what is in sight is drawn. */
export function LongTable({
  label,
  head,
  ids,
  row,
  allRows = 150,
  className = "border border-rule bg-sheet",
  tableClass = "",
  children,
}: LongTableProps) {
  const { frame, first, last, above, below, measure } = useRowsInSight(ids, allRows);
  return (
    <div ref={frame} className={`relative overflow-x-auto ${className}`}>
      <table aria-label={label} aria-rowcount={ids.length + 1} className={tableClass}>
        {head}
        <tbody>
          <Room px={above} />
          {ids.slice(first, last).map((id, i) =>
            row(first + i, {
              id,
              key: id,
              "data-index": first + i,
              "aria-rowindex": first + i + 2,
              ...(measure ? { ref: measure } : {}),
            }),
          )}
          <Room px={below} />
        </tbody>
      </table>
      {children}
    </div>
  );
}
