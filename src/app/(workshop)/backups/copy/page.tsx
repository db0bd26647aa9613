import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { oneParam, type SearchParams } from "@/app/params";
import { Empty, Plate, Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { UrlSearch } from "@/ui/base/url-search";
import { readRegister } from "@/server/repositories/fleet";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Copy onto another board" };

interface Props {
  readonly searchParams: SearchParams;
}

/** Whose settings are copied: each aircraft's newest complete backup, which leads to the board that takes it. */
export default async function CopyPage({ searchParams }: Props) {
  await requirePage();
  const q = oneParam((await searchParams).q).slice(0, 80);
  const { rows } = await readRegister({ text: q });
  return (
    <>
      <h1 className="mb-1">Copy the settings of one aircraft onto another board.</h1>
      <p className="mb-4 text-faded">
        Choose whose settings are copied. What belongs to a board or an airframe stays as the other board has it.
      </p>
      <div className="mb-2">
        <UrlSearch label="Search aircraft" value={q} />
      </div>
      <Sheet label="Aircraft" className="overflow-x-auto">
        <Table
          label="Aircraft"
          rows={rows}
          keyOf={({ id }) => id}
          columns={[
            {
              head: "Aircraft",
              cell: ({ tag, label }) => (
                <>
                  <Plate tag={tag} /> {label}
                </>
              ),
            },
            { head: "Type", cell: ({ type }) => type },
            {
              head: "Newest complete backup",
              cell: ({ complete_id: backupId, complete_at: at }) =>
                backupId === null || at === null ? (
                  <span className="text-faded">none yet</span>
                ) : (
                  <>
                    {dayTime(at.getTime())}{" "}
                    <Link className="ml-3 inline-block min-h-6" href={`/backups/${backupId}/set-up`}>
                      Copy it onto a board
                    </Link>
                  </>
                ),
            },
          ]}
        />
        {rows.length === 0 && <Empty>{q === "" ? "No aircraft yet." : "Nothing matches. Clear the search."}</Empty>}
      </Sheet>
    </>
  );
}
