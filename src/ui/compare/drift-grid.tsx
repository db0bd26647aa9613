"use client";

import { useVirtualizer } from "@tanstack/react-virtual";
import { Link } from "@/ui/base/link";
import { useMemo, useRef } from "react";
import { StateShape } from "@/ui/base/mark";
import type { DriftGridData } from "@/ui/compare/drift-grid-data";

const [ROW_PX, COLUMN_PX, HEAD_PX, LEFT_PX] = [46, 108, 34, 300];
const IN_SIGHT = { width: 1240, height: 560 };

/**
 * Aircraft across, differing settings down: only what is in sight is drawn, so it scrolls as lightly with a thousand
 * aircraft as with ten. Keys scroll it when it has the focus.
 */
export function DriftGrid({ data, standardRef }: { readonly data: DriftGridData; readonly standardRef: string }) {
  const frame = useRef<HTMLDivElement>(null);
  const held = useMemo(
    () =>
      data.cells.map((pairs) => {
        const bySetting = new Map<number, number>();
        for (let i = 0; i < pairs.length; i += 2) bySetting.set(pairs[i] ?? 0, pairs[i + 1] ?? 0);
        return bySetting;
      }),
    [data],
  );
  // eslint-disable-next-line react-hooks/incompatible-library -- what it gives is used in this component only
  const rows = useVirtualizer({
    count: data.settings.length,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
    scrollMargin: HEAD_PX,
    initialRect: IN_SIGHT,
  });
  const columns = useVirtualizer({
    horizontal: true,
    count: data.aircraft.length,
    getScrollElement: () => frame.current,
    estimateSize: () => COLUMN_PX,
    overscan: 3,
    scrollMargin: LEFT_PX,
    initialRect: IN_SIGHT,
  });
  const shown = columns.getVirtualItems();
  const width = LEFT_PX + data.aircraft.length * COLUMN_PX;
  return (
    <div
      ref={frame}
      tabIndex={0}
      role="table"
      aria-label="Aircraft against the standard"
      aria-rowcount={data.settings.length + 1}
      aria-colcount={data.aircraft.length + 1}
      className="relative max-h-[68vh] min-h-64 overflow-auto border border-rule bg-sheet text-sm"
    >
      <div role="rowgroup" className="sticky top-0 z-20 bg-sheet" style={{ width, height: HEAD_PX }}>
        <div role="row" aria-rowindex={1} className="relative h-full border-b-[1.5px] border-ink">
          <span
            role="columnheader"
            aria-colindex={1}
            className="sticky left-0 z-10 inline-block h-full bg-sheet px-2.5 py-1.5 font-semibold text-faded"
            style={{ width: LEFT_PX }}
          >
            Setting, and what the standard holds
          </span>
          {shown.map(({ index, start }) => (
            <span
              key={index}
              role="columnheader"
              aria-colindex={index + 2}
              className="absolute top-0 px-2 py-1.5 key"
              style={{ left: start, width: COLUMN_PX }}
            >
              <Link
                className="inline-block min-h-6"
                href={`/compare?left=aircraft:${data.aircraft[index] ?? ""}&right=${standardRef}`}
              >
                {data.aircraft[index]}
              </Link>
            </span>
          ))}
        </div>
      </div>
      <div role="rowgroup" className="relative" style={{ width, height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((row) => {
          const setting = data.settings[row.index];
          if (!setting) return null;
          return (
            <div
              key={row.index}
              role="row"
              aria-rowindex={row.index + 2}
              className="absolute left-0 border-b border-rule"
              style={{ top: row.start - HEAD_PX, width, height: ROW_PX }}
            >
              <span
                role="rowheader"
                className="sticky left-0 z-10 inline-flex h-full items-start gap-2 overflow-hidden bg-sheet px-2.5 py-1 leading-tight"
                style={{ width: LEFT_PX }}
                title={`${setting.title}, ${setting.place}: the standard holds ${setting.standard}, ${setting.count} hold something else`}
              >
                <StateShape shape={setting.flies ? "triangle" : "half"} />
                <span className="min-w-0">
                  <span className="block truncate">{setting.title}</span>
                  <span className="block truncate key text-faded">
                    {setting.standard} · {setting.place}
                  </span>
                </span>
              </span>
              {shown.map(({ index, start }) => {
                const text = held[index]?.get(row.index);
                return (
                  <span
                    key={index}
                    role="cell"
                    aria-colindex={index + 2}
                    className={`absolute top-0 h-full overflow-hidden border-l border-rule px-2 py-2.5 key text-ellipsis whitespace-nowrap ${text === undefined ? "text-faded" : "bg-straw-wash"}`}
                    style={{ left: start, width: COLUMN_PX }}
                    title={text === undefined ? undefined : data.texts[text]}
                  >
                    {text === undefined ? <span className="sr-only">as the standard</span> : data.texts[text]}
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}
