import { Sideways } from "@/ui/base/parts";
import type { BoardModel, BoardPlace, Spot } from "@/core/catalog";

const SCALE = 8;
const MARGIN = 138;
const PLACE_WORD: Readonly<Record<BoardPlace, string>> = {
  printed: "name",
  revision: "revision",
  smallPrint: "small print",
  button: "button",
  processor: "processor",
  gyro: "gyro",
  usb: "USB",
};

export type DrawnModel = Pick<BoardModel, "title" | "size" | "places" | "pads" | "printed" | "smallPrint">;

/** What is tied to a pad: its function, and whether it stands out. */
export interface PadTag {
  readonly text: string;
  readonly stands?: "changed" | "breaks";
}

interface Props {
  readonly model: DrawnModel;
  /** Where to look: a ring around it. */
  readonly ring?: BoardPlace;
  /** Functions as paper tags on strings to their pads. */
  readonly tags?: ReadonlyMap<string, PadTag>;
}

/** A board as it lies on the bench with its arrow up, seen from above. Models without a drawing are drawn as a plain board. */
export function BoardDrawing({ model, ring, tags }: Props) {
  const { widthMm, heightMm } = model.size ?? { widthMm: 36, heightMm: 36 };
  const [w, h] = [widthMm * SCALE, heightMm * SCALE];
  const side = tags ? MARGIN : 20;
  const at = ({ x, y }: Spot) => ({ x: side + x * SCALE, y: 20 + y * SCALE });
  const places = Object.entries(model.places ?? {}) as [BoardPlace, Spot][];
  const pads = Object.entries(model.pads ?? {});
  const ringed = ring === undefined ? undefined : model.places?.[ring];
  const drawing = (
    <svg
      viewBox={`0 0 ${w + 2 * side} ${h + 40 + (tags ? 26 : 0)}`}
      role="img"
      aria-label={describe(model, ring, tags)}
      className={`h-auto w-full ${tags ? "min-w-140" : ""}`}
      style={{ maxWidth: (w + 2 * side) * 1.2 }}
    >
      <rect x={side} y="20" width={w} height={h} rx="7" fill="var(--bench)" stroke="var(--ink)" strokeWidth="1.5" />
      <path d={`M${side + w / 2} 5 l-6 9 h12z`} fill="var(--faded)" />
      {[
        [2.6, 2.6],
        [widthMm - 2.6, 2.6],
        [2.6, heightMm - 2.6],
        [widthMm - 2.6, heightMm - 2.6],
      ].map(([x = 0, y = 0]) => (
        <circle
          key={`${x} ${y}`}
          cx={side + x * SCALE}
          cy={20 + y * SCALE}
          r="9"
          fill="var(--sheet)"
          stroke="var(--edge)"
        />
      ))}
      {places.map(([place, spot]) => (
        <Place key={place} place={place} {...at(spot)} model={model} />
      ))}
      {pads.map(([pad, spot]) => (
        <Pad
          key={pad}
          pad={pad}
          spot={at(spot)}
          edge={edgeOf(spot, widthMm, heightMm)}
          {...(tags?.get(pad) ? { tag: tags.get(pad) } : {})}
        />
      ))}
      {ringed && (
        <ellipse
          cx={at(ringed).x}
          cy={at(ringed).y}
          rx={ring === "printed" ? 62 : ring === "processor" ? 58 : 34}
          ry={ring === "processor" ? 54 : 25}
          fill="none"
          stroke="var(--heather)"
          strokeWidth="4"
        />
      )}
    </svg>
  );
  // on a telephone it is moved about, so that its words can be read
  return tags ? <Sideways label="The board, drawn">{drawing}</Sideways> : drawing;
}

type Edge = "left" | "right" | "below";
const edgeOf = ({ x, y }: Spot, width: number, height: number): Edge =>
  x < 3 ? "left" : x > width - 3 ? "right" : y > height - 3 ? "below" : x < width / 2 ? "left" : "right";

function Pad({
  pad,
  spot: { x, y },
  edge,
  tag,
}: {
  readonly pad: string;
  readonly spot: Spot;
  readonly edge: Edge;
  readonly tag?: PadTag | undefined;
}) {
  const inner = edge === "left" ? 9 : edge === "right" ? -9 : 0;
  const fill = tag?.stands === "breaks" ? "var(--clay)" : tag?.stands === "changed" ? "var(--straw)" : "var(--sheet)";
  return (
    <g>
      <circle cx={x} cy={y} r="5.5" fill={fill} stroke="var(--ink)" />
      <text
        x={x + inner}
        y={edge === "below" ? y - 9 : y + 4}
        fontSize="11"
        textAnchor={edge === "left" ? "start" : edge === "right" ? "end" : "middle"}
        fontFamily="var(--font-key)"
        fill="var(--ink)"
      >
        {pad}
      </text>
      {tag && <Tag x={x} y={y} edge={edge} tag={tag} />}
    </g>
  );
}

function Tag({
  x,
  y,
  edge,
  tag,
}: {
  readonly x: number;
  readonly y: number;
  readonly edge: Edge;
  readonly tag: PadTag;
}) {
  const [dx, dy, anchor] =
    edge === "left"
      ? [-18, 4, "end" as const]
      : edge === "right"
        ? [18, 4, "start" as const]
        : [0, 28, "middle" as const];
  return (
    <g>
      <path
        d={
          edge === "below"
            ? `M${x} ${y + 6} v9`
            : `M${x + (edge === "left" ? -6 : 6)} ${y} h${edge === "left" ? -9 : 9}`
        }
        stroke="var(--edge)"
      />
      <text
        x={x + dx}
        y={y + dy}
        fontSize="11.5"
        textAnchor={anchor}
        fill={tag.stands === "breaks" ? "var(--clay)" : "var(--ink)"}
      >
        {tag.stands === "breaks" ? "■ " : tag.stands === "changed" ? "◐ " : ""}
        {tag.text}
      </text>
    </g>
  );
}

/** A thing on the board, at about its size. */
function Place({ place, x, y, model }: Spot & { readonly place: BoardPlace; readonly model: DrawnModel }) {
  const box = (w: number, h: number, fill: string) => (
    <rect x={x - w / 2} y={y - h / 2} width={w} height={h} rx="2" fill={fill} stroke="var(--edge)" />
  );
  const word = (text: string, size = 11, dy = 4) => (
    <text x={x} y={y + dy} fontSize={size} textAnchor="middle" fill="var(--ink)">
      {text}
    </text>
  );
  switch (place) {
    case "printed":
      return word(model.printed, 15, 5);
    case "revision":
      return word("rev …", 11);
    case "smallPrint":
      return word(model.smallPrint ?? "…", 9.5);
    case "button":
      return (
        <g>
          {box(22, 16, "var(--paper)")}
          <circle cx={x} cy={y} r="5" fill="var(--edge)" />
        </g>
      );
    case "processor":
      return (
        <g>
          {box(78, 78, "var(--paper)")}
          {word(PLACE_WORD.processor)}
        </g>
      );
    case "gyro":
      return (
        <g>
          {box(30, 26, "var(--paper)")}
          {word(PLACE_WORD.gyro, 10, 3.5)}
        </g>
      );
    case "usb":
      return (
        <g>
          {box(64, 30, "var(--sheet)")}
          {word(PLACE_WORD.usb)}
        </g>
      );
  }
}

function describe(model: DrawnModel, ring: BoardPlace | undefined, tags: Props["tags"]): string {
  const look = ring === undefined ? "" : ` Look at its ${PLACE_WORD[ring]}.`;
  const pads = tags ? ` ${[...tags].map(([pad, { text }]) => `${pad}: ${text}`).join("; ")}.` : "";
  return `${model.title}, seen from above.${look}${pads}`;
}
