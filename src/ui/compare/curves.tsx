"use client";

import { CartesianGrid, Line, LineChart, XAxis, YAxis } from "recharts";
import type { CurvePicture } from "@/core/compare";

const WIDTH = 300;
const HEIGHT = 190;
const TICK = { fontSize: 12, fill: "var(--faded)" };

/** Two curves over each other: the left drawn through, the right dashed. The sentence below says what they mean. */
export function Curves({ picture }: { readonly picture: CurvePicture }) {
  const xs = (picture.left ?? picture.right ?? []).map((point) => point.x);
  const data = xs.map((x, i) => ({ x, left: picture.left?.[i]?.y, right: picture.right?.[i]?.y }));
  const logarithmic = picture.kind === "smoothing";
  return (
    <figure>
      <figcaption className="flex items-baseline justify-between gap-2 text-[15px] font-semibold">
        {picture.title}
        <span className="text-[13px] font-normal text-faded">
          {picture.yLabel} over {picture.xLabel}
        </span>
      </figcaption>
      <div aria-hidden="true">
        <LineChart
          accessibilityLayer={false}
          width={WIDTH}
          height={HEIGHT}
          style={{ maxWidth: "100%" }}
          data={data}
          margin={{ top: 8, right: 8, bottom: 0, left: -12 }}
        >
          <CartesianGrid stroke="var(--rule)" vertical={false} />
          <XAxis
            dataKey="x"
            type="number"
            scale={logarithmic ? "log" : "linear"}
            domain={logarithmic ? [10, 1000] : [0, 100]}
            ticks={logarithmic ? [10, 100, 1000] : [0, 25, 50, 75, 100]}
            tick={TICK}
            stroke="var(--edge)"
          />
          <YAxis tick={TICK} stroke="var(--edge)" tickCount={5} />
          <Line
            dataKey="right"
            stroke="var(--ink)"
            strokeDasharray="5 4"
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
          />
          <Line dataKey="left" stroke="var(--water)" strokeWidth={2.5} dot={false} isAnimationActive={false} />
        </LineChart>
      </div>
      <p className="text-sm">{picture.says}</p>
      <p className="mt-0.5 flex gap-4 text-[13px] text-faded" aria-hidden="true">
        <span>
          <svg width="22" height="8" className="mr-1 inline">
            <path d="M0 4h22" stroke="var(--water)" strokeWidth="2.5" />
          </svg>
          left
        </span>
        <span>
          <svg width="22" height="8" className="mr-1 inline">
            <path d="M0 4h22" stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 4" />
          </svg>
          right
        </span>
      </p>
    </figure>
  );
}
