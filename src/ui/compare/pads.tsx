import type { Pad, PadsPicture } from "@/core/compare";
import { StateShape } from "@/ui/base/mark";

const ROW = 30;
const [BOARD_LEFT, BOARD_WIDTH, WIDTH] = [110, 92, 312];

/** One board from above: pads along its two long edges, what each serves written beside it. */
function Board({
  pads,
  against,
  side,
}: {
  readonly pads: readonly Pad[];
  readonly against: PadIndex;
  readonly side: string;
}) {
  const half = Math.ceil(pads.length / 2);
  const height = Math.max(2, half) * ROW + 16;
  return (
    <div className="min-w-0">
      <h3 className="text-[13px] text-faded">{side}</h3>
      {pads.length === 0 ? (
        <p className="text-sm text-faded">The release does not know this board.</p>
      ) : (
        <svg
          viewBox={`0 0 ${WIDTH} ${height}`}
          className="w-full max-w-[330px]"
          role="img"
          aria-label={boardText(side, pads)}
        >
          <rect
            x={BOARD_LEFT}
            y="1"
            width={BOARD_WIDTH}
            height={height - 2}
            rx="3"
            fill="var(--paper)"
            stroke="var(--edge)"
          />
          {pads.map((pad, i) => (
            <PadMark
              key={pad.pad}
              pad={pad}
              atLeft={i < half}
              y={8 + (i % half) * ROW + ROW / 2}
              changed={against.get(pad.pad) !== pad.does}
            />
          ))}
        </svg>
      )}
    </div>
  );
}

function PadMark({
  pad,
  atLeft,
  y,
  changed,
}: {
  readonly pad: Pad;
  readonly atLeft: boolean;
  readonly y: number;
  readonly changed: boolean;
}) {
  const edge = atLeft ? BOARD_LEFT : BOARD_LEFT + BOARD_WIDTH;
  const [anchor, inner] = atLeft ? (["end", "start"] as const) : (["start", "end"] as const);
  const out = atLeft ? -10 : 10;
  return (
    <g>
      {/* a pad is a plated half hole in the board's edge; filled where something uses it */}
      <circle
        cx={edge}
        cy={y}
        r="5"
        fill={pad.does === "" ? "var(--sheet)" : changed ? "var(--straw)" : "var(--ink)"}
        stroke="var(--ink)"
      />
      <text x={edge - out} y={y + 4} fontSize="11" textAnchor={inner} fontFamily="var(--font-key)" fill="var(--ink)">
        {pad.pad}
      </text>
      <text
        x={edge + out}
        y={y - 1}
        fontSize="12.5"
        textAnchor={anchor}
        fill={pad.does === "" ? "var(--faded)" : "var(--ink)"}
      >
        {changed ? "◐ " : ""}
        {pad.does === "" ? "free" : pad.does}
      </text>
      <text x={edge + out} y={y + 11} fontSize="10.5" textAnchor={anchor} fill="var(--faded)">
        {pad.wired}
      </text>
    </g>
  );
}

type PadIndex = ReadonlyMap<string, string>;
const indexOf = (pads: readonly Pad[]): PadIndex => new Map(pads.map((pad) => [pad.pad, pad.does]));

const boardText = (side: string, pads: readonly Pad[]) =>
  `${side}: ${pads.map(({ pad, does }) => `${pad} ${does === "" ? "is free" : `serves ${does}`}`).join("; ")}`;

/** Both boards with their pads by function; what is not alike is marked on both. */
export function PadsSheet({ picture }: { readonly picture: PadsPicture }) {
  const [left, right] = [indexOf(picture.left), indexOf(picture.right)];
  const unlike = [...new Set([...left.keys(), ...right.keys()])].filter((pad) => left.get(pad) !== right.get(pad));
  return (
    <>
      <h2>{picture.title}</h2>
      <p className="mb-1.5 text-sm">
        {unlike.length === 0 ? (
          "Every pad serves the same on both."
        ) : (
          <>
            <StateShape shape="half" /> Not alike: {unlike.join(", ")}.
          </>
        )}
      </p>
      <div className="grid gap-2">
        <Board pads={picture.left} against={right} side="Left" />
        <Board pads={picture.right} against={left} side="Right" />
      </div>
    </>
  );
}
