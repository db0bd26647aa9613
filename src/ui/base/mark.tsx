import type { Outcome, ProofResult } from "@/core/carryover";
import type { Mark as MarkName } from "@/core/job";

/** Each state has a shape of its own beside its colour, so that it can be told without colour. */
type Shape = "disc" | "half" | "triangle" | "square" | "ring" | "dashed" | "dash";

const SHAPES: Record<Shape, { readonly tone: string; readonly draw: React.ReactNode }> = {
  disc: { tone: "text-reed", draw: <circle cx="7" cy="7" r="5.4" fill="currentColor" /> },
  half: {
    tone: "text-water",
    draw: (
      <>
        <circle cx="7" cy="7" r="5.2" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <path d="M7 1.8a5.2 5.2 0 0 1 0 10.4z" fill="currentColor" />
      </>
    ),
  },
  triangle: { tone: "text-straw", draw: <path d="M7 1.2 13.2 12.4H.8z" fill="currentColor" /> },
  square: {
    tone: "text-clay",
    draw: (
      <>
        <rect x="1.5" y="1.5" width="11" height="11" fill="currentColor" />
        <rect x="3.6" y="6" width="6.8" height="2" fill="var(--sheet)" />
      </>
    ),
  },
  ring: {
    tone: "text-heather",
    draw: <circle cx="7" cy="7" r="4.8" fill="none" stroke="currentColor" strokeWidth="2.6" />,
  },
  dashed: {
    tone: "text-faded",
    draw: <circle cx="7" cy="7" r="5" fill="none" stroke="currentColor" strokeWidth="1.6" strokeDasharray="2.4 2" />,
  },
  dash: { tone: "text-faded", draw: <rect x="2" y="6" width="10" height="2" fill="currentColor" /> },
};

const OF_MARK: Record<MarkName, Shape> = {
  ok: "disc",
  half: "half",
  look: "triangle",
  no: "square",
  call: "ring",
  unknown: "dashed",
  none: "dash",
};

export const OUTCOME_SHAPE: Record<Outcome, Shape> = {
  "as-it-was": "disc",
  renamed: "half",
  converted: "half",
  "new-default": "half",
  limited: "triangle",
  "cannot-be-here": "square",
  "your-call": "ring",
  unknown: "dashed",
  retired: "dash",
  "left-out": "dash",
};

export const RESULT_SHAPE: Record<ProofResult, Shape> = {
  took: "disc",
  adjusted: "triangle",
  refused: "square",
  missing: "square",
  uninvited: "triangle",
  "left-behind": "dash",
  "could-not-come": "dash",
};

export function StateShape({ shape }: { readonly shape: Shape }) {
  const { tone, draw } = SHAPES[shape];
  return (
    <svg className={`inline size-3.5 flex-none ${tone}`} viewBox="0 0 14 14" aria-hidden="true">
      {draw}
    </svg>
  );
}

export const Mark = ({ mark }: { readonly mark: MarkName }) => <StateShape shape={OF_MARK[mark]} />;
