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
      <table aria-label="Types and their standards">
        <thead>
          <tr>
            <th>Type</th>
            <th className="text-right">Aircraft</th>
            <th>Standard</th>
            <th>Made</th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ type, count, standard }) => (
            <tr key={type}>
              <td>
                <Link href={`/compare/fleet/${encodeURIComponent(type)}`}>{type}</Link>
              </td>
              <td className="text-right">{count}</td>
              <td>
                {standard
                  ? `Standard ${standard.version}, ${standard.release}${standard.tag === null ? "" : `, as ${standard.tag}`}`
                  : "no standard yet"}
              </td>
              <td>{standard ? `${day(standard.madeAt)} by ${standard.madeBy}` : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
