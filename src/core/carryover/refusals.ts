import { indexOf, type Firmware } from "@/core/catalog";
import { groupBy } from "@/core/group-by";
import { showValue } from "@/core/config";
import { CAUSES, type Proof, type ProvedValue } from "@/core/carryover/proof";

/** What came out otherwise than planned for one reason, with what lies behind it most likely. */
export interface OffGroup {
  /** What happened, as a sentence without its full stop. */
  readonly cause: string;
  /** What is behind it most likely, and what to do: a sentence or two. */
  readonly root: string;
  readonly titles: readonly string[];
  readonly values: number;
}

const HAPPENED: Partial<Record<ProvedValue["result"], string>> = {
  refused: "The board refused it",
  adjusted: "The board made another value of it",
  missing: "It is not in the read-back",
};

/** Places of a setting: “tune 2/roll.hold” and “system/craft.number” end in their keys. */
const keyOf = (id: string) => id.slice(id.indexOf("/") + 1);

/** What a value wants and the board does not have: the likeliest root of all. */
function unmetWish(value: ProvedValue, byId: ReadonlyMap<string, ProvedValue>, release: Firmware): string | undefined {
  const { settings, tables } = indexOf(release);
  const row = value.id.startsWith("row ") ? tables.get(value.id.slice(4, value.id.indexOf("/"))) : undefined;
  const wants = row?.wants ?? settings.get(keyOf(value.id))?.wants;
  const wanted = wants && settings.get(wants.key);
  const other = wants && byId.get(`system/${wants.key}`);
  if (!wants || !wanted || !other) return undefined;
  const [is, found] = [showValue(wants.is, wanted.type), other.found ?? "not known"];
  return found === is
    ? undefined
    : `${wanted.title} is ${found} on the board, and these want it to be ${is}: settle that first, then send them again.`;
}

const listed = (names: readonly string[]) => names.toSorted().join(", ");

function likelyRoot(values: readonly ProvedValue[], code: keyof typeof CAUSES | undefined): string {
  const areas = [...new Set(values.map(({ area }) => area))];
  const likely = code === undefined ? undefined : CAUSES[code]?.likely;
  if (likely !== undefined) return likely(listed(areas));
  return areas.length === 1 && values.length > 1
    ? `All of them are of ${areas[0] ?? ""}: look at what serves it on this board.`
    : "Each stands with its line in the table below.";
}

/** All that ended otherwise than planned, by what lies behind it: what explains most comes first. */
export function offGroups({ values }: Pick<Proof, "values">, release: Firmware): OffGroup[] {
  const off = values.filter(({ result }) => HAPPENED[result] !== undefined);
  const byId = new Map(values.map((value) => [value.id, value]));
  const refusals = off.map((value) => ({
    value,
    cause: value.cause ?? HAPPENED[value.result] ?? "",
    wish: unmetWish(value, byId, release),
  }));
  return [...groupBy(refusals, ({ cause, wish }) => `${cause}\n${wish ?? ""}`).values()]
    .map((group): OffGroup => {
      const [first] = group;
      const code = Object.keys(CAUSES).find((each) => CAUSES[each]?.say === first?.cause);
      return {
        cause: first?.cause ?? "",
        root:
          first?.wish ??
          likelyRoot(
            group.map(({ value }) => value),
            code,
          ),
        titles: [...new Set(group.map(({ value }) => value.title))],
        values: group.length,
      };
    })
    .toSorted((a, b) => b.values - a.values || (a.cause < b.cause ? -1 : 1));
}
