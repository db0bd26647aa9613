import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { day } from "@/ui/base/time";

export interface TypeLine {
  readonly type: string;
  readonly count: number;
  /** Absent where nobody made one yet. */
  readonly standard?: {
    readonly version: number;
    readonly release: string;
    readonly tag: string | null;
    readonly madeBy: string;
    readonly madeAt: number;
  };
}

/** The types of the fleet, each leading to how its aircraft stand off their standard. */
export function TypeTable({ lines }: { readonly lines: readonly TypeLine[] }) {
  return (
    <div className="relative overflow-x-auto border border-rule bg-sheet">
      <Table
        label="Types and their standards"
        rows={lines}
        keyOf={({ type }) => type}
        columns={[
          {
            head: "Type",
            cell: ({ type }) => <Link href={`/compare/fleet/${encodeURIComponent(type)}`}>{type}</Link>,
          },
          { head: "Aircraft", counts: true, cell: ({ count }) => count },
          {
            head: "Standard",
            cell: ({ standard }) =>
              standard
                ? `Standard ${standard.version}, ${standard.release}${standard.tag === null ? "" : `, as ${standard.tag}`}`
                : "no standard yet",
          },
          { head: "Made", cell: ({ standard }) => (standard ? `${day(standard.madeAt)} by ${standard.madeBy}` : "") },
        ]}
      />
    </div>
  );
}
