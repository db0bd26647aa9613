import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { Groundings } from "@/ui/fleet/groundings";
import { Label } from "@/ui/fleet/label";
import { FileReadout } from "@/ui/fleet/file-readout";
import { standingOf } from "@/ui/fleet/attention";
import { Mark, StateShape } from "@/ui/base/mark";
import { Empty, Facts, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { age, dayTime } from "@/ui/base/time";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftByTag } from "@/server/repositories/fleet";
import { jobsOfAircraft } from "@/server/repositories/jobs";
import { groundingsOf } from "@/server/repositories/groundings";
import { backupsOf } from "@/server/repositories/backups";
import { standardsOf } from "@/server/repositories/standards";
import { requirePage } from "@/server/web/session";
import { mayActAs } from "@/server/roles";
import { fittableKinds, partsView } from "@/server/web/parts-view";
import { FitParts } from "@/ui/parts/fit-parts";
import { PartsSheet } from "@/ui/parts/parts-sheet";
import { registerEntry } from "@/server/web/views";

interface Props {
  readonly params: Promise<{ tag: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: (await params).tag };
}

const VERDICT = {
  complete: { shape: "disc", say: "complete" },
  "moved-only": { shape: "triangle", say: "moved values only" },
  incomplete: { shape: "square", say: "incomplete" },
  raw: { shape: "dashed", say: "raw settings region" },
} as const;

export default async function AircraftPage({ params }: Props) {
  const account = await requirePage();
  const row = await aircraftByTag(decodeURIComponent((await params).tag));
  if (!row) notFound();
  const [catalogue, jobs, backups] = [await loadCatalogue(), await jobsOfAircraft(row.id), await backupsOf(row.id)];
  const parts = await partsView(row.id, row.model_id, catalogue.releases.get(row.release_id ?? ""));
  const kinds = fittableKinds(catalogue);
  const [standard] = await standardsOf(row.type);
  const entry = registerEntry(row, catalogue);
  const now = new Date().getTime();
  const { mark, say } = standingOf(entry);
  const mayWork = mayActAs(account.role, "technician");
  const grounds = (await groundingsOf(row.id)).map(({ id, reason, account: by, at, cause }) => ({
    id,
    reason,
    account: by,
    when: dayTime(at.getTime()),
    byPerson: cause === "person",
  }));
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <Plate tag={row.tag} big />
        <div>
          <h1 className="flex items-center gap-2.5">
            <Mark mark={mark} />
            {say}
          </h1>
          <Label tag={row.tag} label={row.label} type={row.type} editable={mayWork} />
        </div>
        <div className="ml-auto flex flex-wrap gap-2">
          <LinkButton href={`/aircraft/${row.tag}/history`}>History</LinkButton>
          <LinkButton
            href={
              standard
                ? `/compare?left=aircraft:${row.tag}&right=standard:${standard.id}`
                : `/compare?left=aircraft:${row.tag}`
            }
          >
            {standard ? "Against its standard" : "Compare"}
          </LinkButton>
          {entry.job ? (
            <LinkButton href={`/jobs/${entry.job.id}`} look="main">
              Open its card
            </LinkButton>
          ) : (
            <LinkButton href="/bench/1" look="main">
              Put it on the bench
            </LinkButton>
          )}
        </div>
      </div>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <div className="grid min-w-0 gap-5">
          {(grounds.length > 0 || mayWork) && row.state !== "on-bench" && (
            <Groundings tag={row.tag} reasons={grounds} mayWork={mayWork} />
          )}
          <Sheet label="Backups" className="overflow-x-auto">
            <div className="flex flex-wrap items-baseline justify-between gap-x-4 px-4 pt-3 pb-1">
              <h2>Backups</h2>
              {backups.length > 0 && (
                <a className="text-sm" href={`/api/backups/zip?tag=${row.tag}`} download>
                  All of them as ZIP
                </a>
              )}
            </div>
            {backups.length === 0 ? (
              <Empty>None yet. A job takes one before it changes anything, or file a read-out that you have.</Empty>
            ) : (
              <Table
                rows={backups}
                keyOf={({ id }) => id}
                columns={[
                  {
                    head: "Taken",
                    look: "whitespace-nowrap",
                    hint: (backup) => dayTime(backup.taken_at.getTime()),
                    cell: (backup) => age(backup.taken_at.getTime(), now),
                  },
                  {
                    head: "Name",
                    cell: (backup) => (
                      <>
                        <Link href={`/backups/${backup.id}`}>{backup.name}</Link>
                        {backup.job_id !== null && (
                          <span className="text-faded">
                            {" "}
                            in <Link href={`/jobs/${backup.job_id}`}>visit {backup.job_id}</Link>
                          </span>
                        )}
                      </>
                    ),
                  },
                  {
                    head: "Judged",
                    look: "whitespace-nowrap",
                    cell: ({ verdict }) => (
                      <>
                        <StateShape shape={VERDICT[verdict].shape} /> {VERDICT[verdict].say}
                      </>
                    ),
                  },
                  { head: "By", cell: (backup) => backup.taken_by },
                ]}
              />
            )}
          </Sheet>
          <PartsSheet view={parts} tag={row.tag} now={now}>
            {mayWork && <FitParts tag={row.tag} kinds={kinds} />}
          </PartsSheet>
          <Sheet label="Visits to the bench" className="overflow-x-auto">
            <h2 className="px-4 pt-3 pb-1">Visits to the bench</h2>
            {jobs.length === 0 ? (
              <Empty>None yet.</Empty>
            ) : (
              <Table
                bare
                rows={jobs}
                keyOf={({ id }) => id}
                columns={[
                  { head: "Ordered", look: "whitespace-nowrap", cell: (job) => dayTime(job.ordered_at.getTime()) },
                  {
                    head: "Job",
                    cell: (job) => (
                      <>
                        <Link href={`/jobs/${job.id}`}>{job.headline}</Link>
                        <span className="text-faded"> ordered by {job.ordered_by}</span>
                      </>
                    ),
                  },
                  {
                    head: "How it stands",
                    look: "whitespace-nowrap",
                    cell: (job) => (
                      <>
                        <Mark mark={job.state === "finished" ? "ok" : job.state === "open" ? "half" : "no"} />{" "}
                        {job.state === "finished" ? "signed off" : job.state}
                        {job.state === "finished" && (
                          <>
                            {", "}
                            <Link href={`/jobs/${job.id}/proof`}>proof</Link>
                          </>
                        )}
                      </>
                    ),
                  },
                ]}
              />
            )}
          </Sheet>
        </div>
        <div className="grid min-w-0 gap-4">
          <Sheet label="Board" className="px-4 py-3.5">
            <h2 className="mb-2">Its board</h2>
            <Facts
              facts={[
                ["Model", entry.model],
                [
                  "Target",
                  <span key="t" className="key">
                    {entry.target || "not known"}
                  </span>,
                ],
                [
                  "Chip id",
                  <span key="c" className="key">
                    {row.chip_id ?? "not known"}
                  </span>,
                ],
                ["Firmware", entry.firmware],
                ["Whole backup", entry.completeAt === null ? "none" : age(entry.completeAt, now)],
              ]}
            />
          </Sheet>
          {mayWork && <FileReadout tag={row.tag} />}
        </div>
      </div>
    </>
  );
}
