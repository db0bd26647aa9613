import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { SetUpAs, type KnownBoard } from "@/ui/backups/set-up";
import { dayTime } from "@/ui/base/time";
import { readableBackup } from "@/server/repositories/backups";
import { readBays } from "@/server/repositories/bench";
import { aircraftById } from "@/server/repositories/fleet";
import { mayActAs } from "@/server/roles";
import { rowId } from "@/server/web/row-id";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export const metadata: Metadata = { title: "Restore a backup" };

/** Boards of aircraft that lie in bays: those that can be set up. */
async function boardsAtHand(): Promise<KnownBoard[]> {
  return (await readBays()).flatMap(({ no, live: { tag, presence, job } }) =>
    tag !== undefined && presence !== undefined && presence !== "none" && job === undefined ? [{ bayNo: no, tag }] : [],
  );
}

export default async function SetUpPage({ params }: Props) {
  const mayWork = mayActAs((await requirePage()).role, "technician");
  const row = await readableBackup(rowId((await params).id)).catch(() => undefined);
  if (!row) notFound();
  const owner = row.aircraft_id === null ? undefined : await aircraftById(row.aircraft_id);
  return (
    <>
      <div className="mb-4">
        <h1>Restore {row.name} to a board.</h1>
        <p className="text-faded">
          Taken {dayTime(row.taken_at.getTime())} by {row.taken_by}.{" "}
          <Link href={`/backups/${row.id}`} className="inline-flex min-h-6 items-center">
            The backup itself
          </Link>
        </p>
      </div>
      {mayWork ? (
        <SetUpAs backupId={row.id} tag={owner?.tag} boards={await boardsAtHand()} />
      ) : (
        <p className="text-sm">You can view. A technician orders jobs.</p>
      )}
    </>
  );
}
