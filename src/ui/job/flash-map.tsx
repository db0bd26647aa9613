import type { MapRun } from "@/core/loader";

type Holds = MapRun["holds"];

/** How a run looks, and what it is called. Left as it is: ink, dots or paper, as on an image's own map. */
const LOOKS: Readonly<Record<Holds, readonly [look: string, says: string]>> = {
  unknown: ["border-edge bg-sheet", "to be compared"],
  "to-write": ["border-edge bg-straw-wash", "differs: to be erased and written"],
  erased: ["border-edge border-dashed bg-sheet", "disarmed"],
  equal: ["border-reed bg-reed", "equal already"],
  writing: ["border-water bg-water", "being written"],
  written: ["border-water bg-water-wash", "written, being checked"],
  checked: [
    "border-reed bg-[repeating-linear-gradient(45deg,var(--reed-wash)_0_3px,var(--sheet)_3px_6px)]",
    "written and checked",
  ],
  "left: loader": ["border-ink bg-ink", "the loader, left alone"],
  "left: settings": [
    "border-edge bg-sheet [background-image:radial-gradient(var(--color-ink)_1px,transparent_1.5px)] [background-size:6px_6px]",
    "settings, left alone",
  ],
  "left: application": ["border-edge bg-rule", "not reached by it, left alone"],
};

const kilobytes = (bytes: number) => `${Number((bytes / 1024).toFixed(1))} KB`;
const address = (value: number) => `0x${value.toString(16).padStart(8, "0")}`;

/** What of a board's flash is what it should be, what is being written, what is left alone; as wide as it is large. */
export function FlashMap({ map }: { readonly map: readonly MapRun[] }) {
  const total = map.reduce((sum, { lengthBytes }) => sum + lengthBytes, 0);
  const kinds = [...new Set(map.map(({ holds }) => holds))];
  return (
    <div className="mt-2">
      <ol className="flex h-5 gap-[2px]" aria-label="Flash of the board">
        {map.map(({ start, lengthBytes, count, holds, boot }) => (
          <li
            key={start}
            className={`min-w-[3px] border ${LOOKS[holds][0]} ${boot ? "outline-2 outline-ink" : ""}`}
            style={{ flexGrow: lengthBytes / total, flexBasis: 0 }}
            title={`${kilobytes(lengthBytes)} from ${address(start)}: ${LOOKS[holds][1]}`}
          >
            <span className="sr-only">
              {count === 1 ? "One sector" : `${count} sectors`} from {address(start)}, {kilobytes(lengthBytes)}:{" "}
              {LOOKS[holds][1]}
            </span>
          </li>
        ))}
      </ol>
      <p className="mt-1.5 flex flex-wrap gap-x-4 text-[13.5px] text-faded">
        {kinds.map((kind) => (
          <span key={kind} className="inline-flex items-center gap-1.5">
            <span className={`inline-block h-3 w-4 border ${LOOKS[kind][0]}`} aria-hidden="true" />
            {LOOKS[kind][1]}
          </span>
        ))}
        <span>thick: written last</span>
      </p>
    </div>
  );
}
