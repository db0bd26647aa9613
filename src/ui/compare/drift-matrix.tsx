import { Link } from "@/ui/base/link";
import type { Drift } from "@/core/compare";
import { StateShape } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { groupByArea, joinProfiles } from "@/ui/compare/groups";

/** Settings down, aircraft across: what the standard holds, and who holds what instead. */
export function DriftMatrix({
  drift,
  standardRef,
  since,
}: {
  readonly drift: Drift;
  readonly standardRef: string;
  readonly since: ReadonlyMap<string, string>;
}) {
  const off = drift.rows.filter((row) => row.cells.length > 0);
  const columns = joinProfiles(drift);
  const cells = new Map(off.flatMap((row) => row.cells.map((cell) => [`${row.tag} ${cell.column}`, cell] as const)));
  return (
    <div className="grid grid-cols-1 gap-5">
      {groupByArea(columns as (Drift["columns"][number] & { area: never })[]).map((group) => (
        <section key={group.name} aria-label={group.name}>
          <h2 className="mb-1.5">{group.name}</h2>
          <div className="relative overflow-x-auto border border-rule bg-sheet">
            <table aria-label={group.name}>
              <thead>
                <tr>
                  <th className="min-w-56">Setting</th>
                  <th>Standard</th>
                  {off.map((row) => (
                    <th key={row.tag}>
                      <Link
                        href={`/compare?left=aircraft:${row.tag}&right=${standardRef}`}
                        className="no-underline"
                        aria-label={`Compare ${row.tag} with the standard`}
                      >
                        <Plate tag={row.tag} />
                      </Link>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {group.items.map((column) => (
                  <tr key={column.id}>
                    <td title={column.says}>
                      <span className="flex items-baseline gap-2">
                        <span className="translate-y-0.5">
                          <StateShape shape={column.flies ? "triangle" : "half"} />
                        </span>
                        <span>
                          {column.title}
                          <span className="block key wrap-anywhere text-faded">{column.place}</span>
                        </span>
                      </span>
                    </td>
                    <td className="max-w-64 key">{column.standard}</td>
                    {off.map((row) => {
                      const cell = cells.get(`${row.tag} ${column.id}`);
                      return (
                        <td key={row.tag} className={cell ? "bg-straw-wash" : ""}>
                          {cell ? (
                            <>
                              <span className="key">{cell.shown}</span>
                              <span className="block text-[13px] text-faded">
                                {[cell.byDefault ? "at its default" : "", since.get(`${row.tag} ${column.id}`)]
                                  .filter(Boolean)
                                  .join(", ")}
                              </span>
                            </>
                          ) : (
                            <span className="text-faded">
                              <StateShape shape="disc" /> <span className="sr-only">as the standard</span>
                            </span>
                          )}
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </section>
      ))}
    </div>
  );
}
