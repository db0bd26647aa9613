import type { Metadata } from "next";
import { told } from "@/app/told";
import { notFound } from "next/navigation";
import { doubtsOf, visibleText } from "@/core/config";
import type { Finding, Recital } from "@/core/idiom";
import { AddNote } from "@/ui/backups/notes";
import { BUTTON_LOOK, Facts, LinkButton, Sheet } from "@/ui/base/parts";
import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { dayTime } from "@/ui/base/time";
import { counted } from "@/ui/base/words";
import { backupById, backupKnown } from "@/server/repositories/backups";
import { readingOf } from "@/server/repositories/readings";
import { notesOf } from "@/server/repositories/notes";
import { mayActAs } from "@/server/roles";
import { keptTogether } from "@/server/web/kept-together";
import { requirePage } from "@/server/web/session";
import { indexOf, releaseTitle } from "@/core/catalog";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export const metadata: Metadata = { title: "Backup" };

const VERDICT = {
  complete: ["disc", "complete"],
  "moved-only": ["triangle", "moved values only"],
  incomplete: ["square", "not complete"],
  raw: ["dashed", "a raw settings region"],
} as const;

/** What is wrong with each line that is not understood, or that leaves open what it says. */
function troubles(recital: Recital): Map<number, string> {
  const meaningByLine = new Map<number, string>();
  const { values, rows } = doubtsOf(recital.configuration);
  for (const { line, reason } of [...rows, ...values])
    if (line > 0 && !meaningByLine.has(line)) meaningByLine.set(line, reason);
  for (const { line, reason } of recital.configuration.unknown)
    if (!meaningByLine.has(line)) meaningByLine.set(line, reason);
  return meaningByLine;
}

/** What each line means, for the hover and for screen readers. */
function meanings(recital: Recital): Map<number, string> {
  const index = indexOf(recital.release);
  const meaningByLine = new Map<number, string>();
  for (const { line, key, scope } of recital.configuration.settings)
    meaningByLine.set(
      line,
      `${index.settings.get(key)?.title ?? key}${scope === "system" ? "" : ` (${scope})`}: ${index.settings.get(key)?.says ?? ""}`,
    );
  for (const { line, table, key } of recital.configuration.rows)
    meaningByLine.set(line, `${index.tables.get(table)?.title ?? table} ${key}`);
  return meaningByLine;
}

async function BackupPage({ params }: Props) {
  const account = await requirePage();
  const id = rowId((await params).id);
  if (!(await backupKnown(id))) notFound();
  const { row, raw } = await backupById(id);
  const [shape, say] = VERDICT[row.verdict];
  const recital = row.source === "rescue" ? undefined : await readingOf(row.sha256);
  const { read: parts, missed } = await keptTogether(row);
  const notes = await notesOf([row.id]);
  const mayWork = mayActAs(account.role, "technician");
  const wrong = recital ? troubles(recital) : new Map<number, string>();
  const meaningByLine = recital ? meanings(recital) : new Map<number, string>();
  // what a text means is worked out anew; what was found when it was filed stands in its row
  const findings = recital?.completeness.findings ?? (row.findings as Finding[]);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <div>
          <h1 className="flex items-center gap-2.5">
            <StateShape shape={shape} />
            {row.name}: {say}.
          </h1>
          <p className="text-faded">
            Taken {dayTime(row.taken_at.getTime())} by {row.taken_by}
            {missed.length > 0 &&
              `. Of the board${parts.length > 0 ? ` and ${counted(parts.length, "part")}` : " alone"}: ${counted(missed.length, "part")} of the aircraft ${missed.length === 1 ? "is" : "are"} not in it`}
          </p>
        </div>
        <div className="ml-auto flex flex-wrap gap-2">
          {(
            [
              ["", "Download as it was received"],
              ["?form=csv", "As CSV"],
              ["?form=json", "As JSON"],
            ] as const
          )
            .slice(0, recital ? 3 : 1)
            .map(([form, title]) => (
              <a key={form} className={BUTTON_LOOK.plain} href={`/api/backups/${row.id}${form}`} download>
                {title}
              </a>
            ))}
          {recital && <LinkButton href={`/compare?left=backup:${row.id}`}>Compare</LinkButton>}
          {mayWork && recital && row.part === null && (
            <LinkButton href={`/backups/${row.id}/set-up`} look={row.verdict === "incomplete" ? "loss" : "main"}>
              {row.verdict === "incomplete" ? "Restore what it holds" : "Restore to a board"}
            </LinkButton>
          )}
        </div>
      </div>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <Sheet label="Text" className="overflow-x-auto">
          {recital ? (
            <ol className="py-2 key text-[13px] leading-[1.55]">
              {recital.lines.map((line) => {
                const meaning = meaningByLine.get(line.number);
                const trouble = wrong.get(line.number);
                return (
                  <li
                    key={line.number}
                    id={`line-${line.number}`}
                    className={`grid grid-cols-[4rem_1fr] target:bg-straw-wash ${trouble === undefined ? "" : "bg-straw-wash"}`}
                    title={meaning}
                  >
                    <a
                      href={`#line-${line.number}`}
                      className="min-h-6 pr-3 text-right text-faded no-underline"
                      aria-label={`Line ${line.number}`}
                    >
                      {line.number}
                    </a>
                    <span className="whitespace-pre-wrap">
                      {visibleText(line.text)}
                      {trouble !== undefined && (
                        <span className="block font-body text-sm whitespace-normal text-faded">
                          <StateShape shape="dashed" /> {trouble}.
                        </span>
                      )}
                    </span>
                  </li>
                );
              })}
            </ol>
          ) : (
            <p className="p-4 text-sm">
              {raw.length} bytes as they stood in flash. They can be downloaded; there is no text to show.
            </p>
          )}
        </Sheet>
        <div className="grid min-w-0 gap-4 lg:sticky lg:top-4">
          <Sheet label="Judgement" className="px-4 py-3.5">
            <h2 className="mb-1.5">How it was judged</h2>
            <ul className="grid gap-1.5 text-sm">
              {findings.map((finding) => (
                <li key={finding.text} className="flex gap-2">
                  <span className="pt-0.5">
                    <StateShape shape={finding.against ? "square" : finding.look === true ? "triangle" : "disc"} />
                  </span>
                  <span>
                    {finding.text}
                    {finding.line !== undefined && finding.line > 0 && (
                      <>
                        {" "}
                        <a href={`#line-${finding.line}`}>line {finding.line}</a>
                      </>
                    )}
                  </span>
                </li>
              ))}
            </ul>
          </Sheet>
          {(parts.length > 0 || missed.length > 0 || row.with_id !== null) && (
            <Sheet label="Read out together" className="px-4 py-3.5">
              <h2 className="mb-1.5">Read out together</h2>
              {row.with_id !== null && (
                <p className="text-sm">
                  {row.place === null ? "A part" : `The part ${row.place}`}, read with{" "}
                  <Link href={`/backups/${row.with_id}`}>its board</Link>.
                </p>
              )}
              <ul className="grid gap-1 text-sm">
                {parts.map((part) => (
                  <li key={part.id}>
                    <StateShape shape={VERDICT[part.verdict][0]} />{" "}
                    <Link href={`/backups/${part.id}`}>{part.name}</Link>
                  </li>
                ))}
                {missed.map(({ part, why }) => (
                  <li key={part.name}>
                    <StateShape shape="dash" /> {part.title}, {part.place}: not read. {why}.
                  </li>
                ))}
              </ul>
            </Sheet>
          )}
          <Sheet label="Notes" className="px-4 py-3.5">
            <h2 className="mb-1.5">Notes</h2>
            {notes.length === 0 && (
              <p className="text-sm text-faded">What no read-out can say: jumpers, pads, how the radio is set up.</p>
            )}
            {notes.map((note) => (
              <p key={note.id} className="mb-1.5 border-l-2 border-edge pl-2.5 text-sm">
                {note.kind === "wiring" && <b>Wiring. </b>}
                {note.text}{" "}
                <span className="text-faded">
                  {note.account}, {dayTime(note.at.getTime())}
                </span>
              </p>
            ))}
            {mayWork && <AddNote backupId={row.id} />}
          </Sheet>
          <Sheet label="Identity" className="px-4 py-3.5">
            <h2 className="mb-1.5">What it says it is</h2>
            <Facts
              facts={[
                ["Release", recital ? releaseTitle(recital.release) : "not known"],
                ["Target", row.target ?? "not known"],
                ["Chip id", row.chip_id ?? "not known"],
                [
                  "SHA-256",
                  <span key="h" className="key">
                    {row.sha256}
                  </span>,
                ],
              ]}
            />
            {row.job_id !== null && (
              <p className="mt-2">
                <LinkButton href={`/jobs/${row.job_id}`}>Visit {row.job_id}</LinkButton>
              </p>
            )}
          </Sheet>
        </div>
      </div>
    </>
  );
}

/** Of a backup whose bytes are damaged: what is known of it. */
async function Rest({ params }: Props) {
  const row = await backupKnown(rowId((await params).id));
  if (!row) return <h1>There is no such backup.</h1>;
  return (
    <>
      <h1>{row.name}: its text cannot be had.</h1>
      <Facts
        facts={[
          ["Taken", `${dayTime(row.taken_at.getTime())} by ${row.taken_by}`],
          ["Judged", row.verdict.replace("-", " ")],
          ["Target", row.target ?? "not known"],
          ["Chip id", row.chip_id ?? "not known"],
        ]}
      />
    </>
  );
}

export default told(BackupPage, Rest);
