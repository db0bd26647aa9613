import { Table, type Column } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import type { Drift } from "@/core/compare";
import { StateShape } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { groupByArea, joinProfiles } from "@/ui/compare/groups";

type Cell = Drift["rows"][number]["cells"][number];

/** What an aircraft holds instead of the standard, and since when; absent, it holds what the standard does. */
const Held = ({ cell, since }: { readonly cell: Cell | undefined; readonly since: string | undefined }) =>
  cell ? (
    <>
      <span className="key">{cell.shown}</span>
      <span className="block text-[13px] text-faded">
        {[cell.byDefault ? "at its default" : "", since].filter(Boolean).join(", ")}
      </span>
    </>
  ) : (
    <span className="text-faded">
      <StateShape shape="disc" /> <span className="sr-only">as the standard</span>
    </span>
  );

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
            <Table
              label={group.name}
              rows={group.items}
              keyOf={({ id }) => id}
              columns={[
                {
                  head: "Setting",
                  headLook: "min-w-56",
                  hint: ({ says }) => says,
                  cell: ({ flies, title, place }) => (
                    <span className="flex items-baseline gap-2">
                      <span className="translate-y-0.5">
                        <StateShape shape={flies ? "triangle" : "half"} />
                      </span>
                      <span>
                        {title}
                        <span className="block key wrap-anywhere text-faded">{place}</span>
                      </span>
                    </span>
                  ),
                },
                { head: "Standard", look: "max-w-64 key", cell: ({ standard }) => standard },
                ...off.map(({ tag }): Column<(typeof columns)[number]> => ({
                  head: (
                    <Link
                      href={`/compare?left=aircraft:${tag}&right=${standardRef}`}
                      className="no-underline"
                      aria-label={`Compare ${tag} with the standard`}
                    >
                      <Plate tag={tag} />
                    </Link>
                  ),
                  look: ({ id }) => (cells.has(`${tag} ${id}`) ? "bg-straw-wash" : ""),
                  cell: ({ id }) => <Held cell={cells.get(`${tag} ${id}`)} since={since.get(`${tag} ${id}`)} />,
                })),
              ]}
            />
          </div>
        </section>
      ))}
    </div>
  );
}
