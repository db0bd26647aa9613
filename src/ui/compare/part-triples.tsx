import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { Sheet } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { counted } from "@/ui/base/words";
import { partSideSays, type ShownSide } from "@/ui/compare/part-pairs";
import { SIDE_NAME } from "@/ui/compare/three-names";

interface Triple {
  readonly name: string;
  readonly title: string;
  readonly place: string;
  readonly base: ShownSide;
  readonly mine: ShownSide;
  readonly theirs: ShownSide;
  readonly changed: number | undefined;
  readonly conflicts: number;
  readonly otherBuild: boolean;
}

function Changed({ base, mine, theirs, changed, conflicts, otherBuild }: Triple) {
  if (changed === undefined || "why" in base || "why" in mine || "why" in theirs) return <>nothing is said of it</>;
  const build = otherBuild ? "other firmware, " : "";
  const both = conflicts === 0 ? "" : `, ${conflicts} on both sides`;
  return (
    <>
      <StateShape shape={changed === 0 && !otherBuild ? "disc" : "triangle"} />{" "}
      <Link
        href={`/compare/three?base=backup:${base.backupId}&mine=backup:${mine.backupId}&theirs=backup:${theirs.backupId}`}
      >
        {changed === 0 && !otherBuild ? "nothing" : `${build}${counted(changed, "value")}${both}`}
      </Link>
    </>
  );
}

/** What is behind three boards, part by part; each leads to its own comparison, and is merged there. */
export function PartTriples({ triples }: { readonly triples: readonly Triple[] }) {
  return (
    <Sheet label="Behind the boards" className="mt-5 overflow-x-auto px-4 py-3">
      <h2 className="mb-1.5">Behind the boards</h2>
      <Table
        label="Parts of the three"
        rows={triples}
        keyOf={({ name }) => name}
        columns={[
          { head: "Part", names: true, cell: ({ title, place }) => `${title}, ${place}` },
          { head: SIDE_NAME.base, cell: ({ base }) => partSideSays(base) },
          { head: SIDE_NAME.mine, cell: ({ mine }) => partSideSays(mine) },
          { head: SIDE_NAME.theirs, cell: ({ theirs }) => partSideSays(theirs) },
          { head: "Changed", cell: (triple) => <Changed {...triple} /> },
        ]}
      />
    </Sheet>
  );
}
