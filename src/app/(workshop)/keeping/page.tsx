import path from "node:path";
import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { copiesKept } from "@/server/env";
import { keepingLog, knownDamage, lastKeeping, ownsItsTables, type Kept } from "@/server/keeping";
import { signingKeys } from "@/server/signing";
import { requirePage } from "@/server/web/session";
import { AskButton } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { Facts, Sheet } from "@/ui/base/parts";
import { age, dayTime } from "@/ui/base/time";
import { ReplaceKey } from "@/ui/keeping/signing";

export const metadata: Metadata = { title: "Keeping" };

const LINES = 60;
const WHAT = { copy: "Copy", chain: "Record", bytes: "Stored files" } as const;

const shapeOf = (kept: Kept | undefined) => (kept === undefined ? "ring" : kept.good ? "disc" : "square");
const saidOf = (kept: Kept | undefined, never: string) => (kept === undefined ? never : kept.says);

function headline(last: Awaited<ReturnType<typeof lastKeeping>>, now: number): string {
  if (last.chain?.good === false) return "The record does not agree with its chain.";
  if (last.bytes?.good === false) return "Stored files are damaged.";
  if (last.copy?.good === false) return "The last copy could not be made.";
  const copy = last["good-copy"];
  return copy === undefined
    ? "No copy of this workshop was made yet."
    : `The last copy is from ${age(copy.at.getTime(), now)}; the record is whole.`;
}

/** A folder as whoever started the program from its own folder would name it. */
function folderAsSeen(folder: string): string {
  const from = path.relative(process.cwd(), folder);
  return from === "" || from.startsWith("..") || path.isAbsolute(from) ? folder : from;
}

export default async function KeepingPage() {
  await requirePage("lead");
  const [last, log, damage] = [await lastKeeping(), await keepingLog(LINES), await knownDamage()];
  const keys = await signingKeys();
  const now = new Date().getTime();
  const head = last.chain?.facts.head as { no: number; sha256: string } | undefined;
  const copy = last["good-copy"];
  const shared = await ownsItsTables();
  const parts = [
    {
      title: "Copies",
      kept: last.copy,
      never: "None yet: the first is made ten minutes after a start",
      ask: "copy",
      word: "Make a copy now",
      facts: [
        ["Last good", copy === undefined ? "none" : dayTime(copy.at.getTime())],
        ["In", typeof copy?.facts.folder === "string" ? folderAsSeen(copy.facts.folder) : "—"],
        ["Kept", copiesKept() === 0 ? "none are made daily" : `the last ${copiesKept()}, one a day`],
      ],
    },
    {
      title: "The record",
      kept: last.chain,
      never: "Not looked at yet",
      ask: "look",
      word: "Look at everything now",
      facts: [
        ["Looked at", last.chain === undefined ? "never" : dayTime(last.chain.at.getTime())],
        ["Last seal", head === undefined ? "—" : `${head.no}, ${head.sha256}`],
      ],
    },
    {
      title: "Stored files",
      kept: last.bytes,
      never: "The first round is under way",
      facts: [["Last round", last.bytes === undefined ? "none yet" : dayTime(last.bytes.at.getTime())]],
    },
  ] as const;
  return (
    <>
      <h1 className="mb-1">{headline(last, now)}</h1>
      <p className="mb-4 max-w-[46rem] text-sm text-faded">
        Entries of the journal, backups, documents, images and decisions are sealed one after the other, each seal
        holding the hash of the one before it. Whoever wants to be sure writes the last seal down somewhere else;
        bin/verify holds everything against it.
      </p>
      <div className="grid items-start gap-4 md:grid-cols-3">
        {parts.map(({ title, kept, never, facts, ...part }) => (
          <Sheet key={title} label={title} className="grid gap-2.5 px-4 py-3.5">
            <h2 className="flex items-center gap-2">
              <StateShape shape={shapeOf(kept)} /> {title}
            </h2>
            <p className="text-sm wrap-anywhere">{saidOf(kept, never)}.</p>
            <Facts facts={facts} />
            {"ask" in part && (
              <div>
                <AskButton path="/api/keeping" body={{ ask: part.ask }}>
                  {part.word}
                </AskButton>
              </div>
            )}
          </Sheet>
        ))}
      </div>
      <Sheet label="Signatures" className="mt-4 grid gap-2.5 px-4 py-3.5">
        <h2>Signatures</h2>
        <p className="text-sm text-faded">
          Every visit’s papers are signed. Give the thumbprint to whoever is to check them without this workshop.
        </p>
        <ul className="grid gap-1 text-sm">
          {keys.map(({ thumbprint, made_at: at, made_by: by, reason }, i) => (
            <li key={thumbprint}>
              <span className="key break-all">{thumbprint}</span>{" "}
              <span className="text-faded">
                {i === 0 ? "signs now" : "signed earlier"}; made {dayTime(at.getTime())} by {by}
                {reason === "" ? "" : `: ${reason}`}
              </span>
            </li>
          ))}
        </ul>
        <div>
          <ReplaceKey />
        </div>
      </Sheet>
      {shared && (
        <p className="mt-4 border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
          This workshop runs under the account that owns its tables, which could switch off what guards them. With
          DATABASE_OWNER_URL it gets an account of its own.
        </p>
      )}
      {damage.length > 0 && (
        <Sheet label="Damaged files" className="mt-4 px-4 py-3.5">
          <h2 className="mb-2">Damaged, and not to be had from here</h2>
          <ul className="grid gap-1 text-sm">
            {damage.map((each) => (
              <li key={`${each.sha256} ${each.backup_id}`}>
                {each.backup_id === null ? (
                  (each.name ?? "a paper of a job")
                ) : (
                  <Link href={`/backups/${each.backup_id}`}>{each.name}</Link>
                )}
                <span className="block key text-faded">{each.sha256}</span>
              </li>
            ))}
          </ul>
        </Sheet>
      )}
      <h2 className="mt-8 mb-2">What was done</h2>
      <ul className="grid gap-1 text-sm">
        {log.map((each) => (
          <li key={each.at.getTime()} className="grid grid-cols-[1.2rem_10rem_6rem_1fr] gap-2">
            <span className="pt-1">
              <StateShape shape={each.good ? "disc" : "square"} />
            </span>
            <span className="text-faded">{dayTime(each.at.getTime())}</span>
            <span>{WHAT[each.kind]}</span>
            <span className="min-w-0 wrap-anywhere">{each.says}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
