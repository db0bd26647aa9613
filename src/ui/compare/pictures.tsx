import type { DisplayPicture, DrawnPicture, LeverPicture, Notch } from "@/core/compare";
import { Sheet } from "@/ui/base/parts";
import { Curves } from "@/ui/compare/curves";
import { PadsSheet } from "@/ui/compare/pads";

/** A lever from the side: its travel stands upright, what a part of the travel does is written beside it. */
function Lever({ channel, notches }: { readonly channel: string; readonly notches: readonly Notch[] }) {
  const travel = 84;
  return (
    <svg viewBox="0 0 132 104" className="w-[132px]" role="img" aria-label={leverText(channel, notches)}>
      <text x="6" y="101" fontSize="11" fill="var(--faded)">
        channel {channel}
      </text>
      <rect x="14" y="4" width="8" height={travel} rx="4" fill="var(--paper)" stroke="var(--edge)" />
      {notches.map((notch) => {
        const top = 4 + travel * (1 - Math.min(1, notch.to));
        const bottom = 4 + travel * (1 - Math.max(0, notch.from));
        return (
          <g key={`${notch.does}${notch.from}`}>
            <path d={`M26 ${top}h5v${bottom - top}h-5`} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
            <text x="36" y={(top + bottom) / 2 + 4} fontSize="12" fill="var(--ink)">
              {notch.does}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

const leverText = (channel: string, notches: readonly Notch[]) =>
  `Lever on channel ${channel}: ${notches.map((n) => `${n.does} from ${Math.round(n.from * 100)} to ${Math.round(n.to * 100)} % of its travel`).join(", ")}`;

function Levers({ notches, side }: { readonly notches: readonly Notch[]; readonly side: string }) {
  const channels = [...new Set(notches.map((notch) => notch.channel))];
  return (
    <div>
      <h3 className="text-[13px] text-faded">{side}</h3>
      {channels.length === 0 && <p className="text-sm text-faded">No lever does anything.</p>}
      <div className="flex flex-wrap gap-1">
        {channels.map((channel) => (
          <Lever key={channel} channel={channel} notches={notches.filter((notch) => notch.channel === channel)} />
        ))}
      </div>
    </div>
  );
}

const LeverSheet = ({ picture }: { readonly picture: LeverPicture }) => (
  <>
    <h2 className="mb-1.5">{picture.title}</h2>
    <div className="grid gap-2">
      <Levers notches={picture.left} side="Left" />
      <Levers notches={picture.right} side="Right" />
    </div>
  </>
);

function Screen({
  items,
  picture,
  side,
}: {
  readonly items: DisplayPicture["left"];
  readonly picture: DisplayPicture;
  readonly side: string;
}) {
  const [cell, row] = [9, 11];
  return (
    <div>
      <h3 className="text-[13px] text-faded">{side}</h3>
      <svg
        viewBox={`0 0 ${picture.columns * cell} ${picture.lines * row}`}
        className="w-full border border-edge bg-paper"
        role="img"
        aria-label={
          items.map((i) => `${i.item} in line ${i.line}, column ${i.column}`).join("; ") || "nothing is shown"
        }
      >
        {items.map((item) => (
          <text
            key={item.item}
            x={(item.column - 1) * cell + 2}
            y={item.line * row - 2}
            fontSize="10"
            fontFamily="var(--font-key)"
            fill="var(--ink)"
          >
            {item.item}
          </text>
        ))}
      </svg>
    </div>
  );
}

const DisplaySheet = ({ picture }: { readonly picture: DisplayPicture }) => (
  <>
    <h2 className="mb-1.5">{picture.title}</h2>
    <div className="grid gap-2">
      <Screen items={picture.left} picture={picture} side="Left" />
      <Screen items={picture.right} picture={picture} side="Right" />
    </div>
  </>
);

/** What one looks at rather than reads, both sides at once. */
export function Pictures({ pictures }: { readonly pictures: readonly DrawnPicture[] }) {
  return pictures.map((picture) => (
    <Sheet key={picture.title} label={picture.title} className="px-4 py-3.5">
      {picture.kind === "levers" ? (
        <LeverSheet picture={picture} />
      ) : picture.kind === "display" ? (
        <DisplaySheet picture={picture} />
      ) : picture.kind === "pads" ? (
        <PadsSheet picture={picture} />
      ) : (
        <Curves picture={picture} />
      )}
    </Sheet>
  ));
}
