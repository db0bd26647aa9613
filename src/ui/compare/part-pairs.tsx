import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { Sheet } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";

/** A part of a side as it is shown; or why it is not there. */
export type ShownSide =
  { readonly backupId: number; readonly firmware: string; readonly target: string } | { readonly why: string };

interface Pair {
  readonly name: string;
  readonly title: string;
  readonly place: string;
  readonly left: ShownSide;
  readonly right: ShownSide;
  readonly alike: boolean | undefined;
  readonly says: string;
}

export const partSideSays = (side: ShownSide) => ("why" in side ? side.why : `${side.firmware}, ${side.target}`);

function Differs({ left, right, alike, says }: Pair) {
  if (alike === undefined || "why" in left || "why" in right) return <>{says}</>;
  return (
    <>
      <StateShape shape={alike ? "disc" : "triangle"} />{" "}
      <Link href={`/compare?left=backup:${left.backupId}&right=backup:${right.backupId}`}>{says}</Link>
    </>
  );
}

/** What is behind two boards, part by part; each pair leads to its own comparison. */
export function PartPairs({
  pairs,
  leftName,
  rightName,
}: {
  readonly pairs: readonly Pair[];
  readonly leftName: string;
  readonly rightName: string;
}) {
  return (
    <Sheet label="Behind the boards" className="mb-5 overflow-x-auto px-4 py-3">
      <h2 className="mb-1.5">Behind the boards</h2>
      <Table
        label="Parts of both sides"
        rows={pairs}
        keyOf={({ name }) => name}
        columns={[
          { head: "Part", names: true, cell: ({ title, place }) => `${title}, ${place}` },
          { head: leftName, cell: ({ left }) => partSideSays(left) },
          { head: rightName, cell: ({ right }) => partSideSays(right) },
          { head: "Differ", cell: (pair) => <Differs {...pair} /> },
        ]}
      />
    </Sheet>
  );
}
