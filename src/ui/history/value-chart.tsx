"use client";

import { CartesianGrid, Line, LineChart, XAxis, YAxis } from "recharts";
import { day } from "@/ui/base/time";

const TICK = { fontSize: 12, fill: "var(--faded)" };

/** A number over time: it holds from one read-out to the next. */
export function ValueChart({
  points,
}: {
  readonly points: readonly { readonly at: number; readonly value: number }[];
}) {
  return (
    <div aria-hidden="true" className="overflow-x-auto">
      <LineChart
        accessibilityLayer={false}
        width={600}
        height={180}
        data={[...points]}
        margin={{ top: 8, right: 24, bottom: 0, left: 0 }}
      >
        <CartesianGrid stroke="var(--rule)" vertical={false} />
        <XAxis
          dataKey="at"
          type="number"
          domain={["dataMin", "dataMax"]}
          tick={TICK}
          stroke="var(--edge)"
          tickFormatter={(at: number) => day(at)}
        />
        <YAxis tick={TICK} stroke="var(--edge)" domain={["auto", "auto"]} />
        <Line type="stepAfter" dataKey="value" stroke="var(--water)" strokeWidth={2.5} isAnimationActive={false} />
      </LineChart>
    </div>
  );
}
