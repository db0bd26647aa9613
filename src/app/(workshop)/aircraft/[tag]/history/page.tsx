import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { slotsOf } from "@/core/catalog";
import { asOfNewest, compareTwo, comparisonSentence, valueOverTime, type Difference } from "@/core/compare";
import { Mark, StateShape } from "@/ui/base/mark";
import { Empty, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { day, dayTime } from "@/ui/base/time";
import { counted } from "@/ui/base/words";
import { UrlSelect } from "@/ui/base/url-select";
import { ValueChart } from "@/ui/history/value-chart";
import { movesOf } from "@/server/repositories/boards";
import { notesOf } from "@/server/repositories/notes";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftByTag } from "@/server/repositories/fleet";
import { jobsOfAircraft } from "@/server/repositories/jobs";
import { HISTORY_READINGS, passedOver, readingsOf } from "@/server/repositories/sides";
import { knownParts, partChanges, type KnownPart, type PartChange, type ReadWith } from "@/server/web/part-history";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ tag: string }>;
  readonly searchParams: SearchParams;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: `History of ${decodeURIComponent((await params).tag)}` };
}

interface Moment {
  readonly at: number;
  readonly key: string;
  readonly body: React.ReactNode;
}

const SHOWN = 5;

function Changes({ differences }: { readonly differences: readonly Difference[] }) {
  return (
    <ul className="mt-1 grid gap-0.5 text-sm">
      {differences.slice(0, SHOWN).map((difference) => (
        <li key={difference.id} className="flex flex-wrap items-baseline gap-x-2">
          <StateShape shape={difference.flies ? "triangle" : "half"} />
          {difference.title}
          <span className="key text-faded">{difference.place}</span>
          <span className="key">
            {difference.right?.shown ?? "nothing"} → {difference.left?.shown ?? "nothing"}
          </span>
        </li>
      ))}
      {differences.length > SHOWN && <li className="text-faded">and {differences.length - SHOWN} more</li>}
    </ul>
  );
}

/** What was otherwise behind the board since it was read before. */
function Behind({ changes, count }: { readonly changes: readonly PartChange[]; readonly count: ReadWith | undefined }) {
  if (!count) return null;
  const { read, first } = count;
  const again = read - first;
  const same = read - new Set(changes.map(({ name }) => name)).size;
  const said = [
    ...(first === 0 ? [] : [`${counted(first, "part was", "parts were")} read for the first time`]),
    ...(again === 0 ? [] : [`${counted(again, "part was", "parts were")} read, nothing else than before`]),
  ];
  return (
    <div className="mt-1 text-sm">
      Behind the board: {changes.length === 0 ? `${said.join("; ")}.` : ""}
      <ul className="grid gap-0.5">
        {changes.map(({ name, place, says, now, before }) => (
          <li key={`${name} ${now}`} className="flex flex-wrap items-baseline gap-x-2">
            <StateShape shape="half" />
            {place}: {says}
            <Link className="inline-block min-h-6" href={`/compare?left=backup:${now}&right=backup:${before}`}>
              Compare the two
            </Link>
          </li>
        ))}
        {changes.length > 0 && same > 0 && <li className="text-faded">{counted(same, "other part")} as before</li>}
      </ul>
    </div>
  );
}

/** Whose history it is: that of the board, or of a part behind it. */
function Whose({
  tag,
  parts,
  part,
}: {
  readonly tag: string;
  readonly parts: readonly KnownPart[];
  readonly part: string;
}) {
  if (parts.length === 0) return null;
  const all = [{ name: "", place: "The board" }, ...parts];
  return (
    <nav aria-label="Whose history" className="mb-3 flex flex-wrap gap-x-4 text-sm">
      {all.map(({ name, place }) => (
        <Link
          key={name}
          href={`/aircraft/${tag}/history${name === "" ? "" : `?part=${encodeURIComponent(name)}`}`}
          className="min-h-6 aria-[current]:font-semibold aria-[current]:text-ink aria-[current]:no-underline"
          {...(name === part ? { "aria-current": "page" as const } : {})}
        >
          {place}
        </Link>
      ))}
    </nav>
  );
}

export default async function HistoryPage({ params, searchParams }: Props) {
  await requirePage();
  const row = await aircraftByTag(decodeURIComponent((await params).tag));
  if (!row) notFound();
  const asked = await searchParams;
  const parts = await knownParts(row.id);
  const part = parts.find(({ name }) => name === oneParam(asked.part));
  const [catalogue, readings, jobs, moves, behind] = [
    await loadCatalogue(),
    await readingsOf(row.id, part?.name ?? null),
    part ? [] : await jobsOfAircraft(row.id),
    part ? [] : await movesOf(row.id),
    await partChanges(row.id, part ? [] : parts),
  ];
  const notes = await notesOf(readings.map((reading) => reading.id));
  const moments: Moment[] = readings.map((reading, i): Moment => {
    const before = readings[i - 1];
    const compared = before && compareTwo(reading, before, catalogue);
    const all = compared?.ok ? [...compared.value.differences, ...compared.value.personal] : [];
    return {
      at: reading.at,
      key: `backup ${reading.id}`,
      body: (
        <>
          <p>
            <Link href={`/backups/${reading.id}`}>{reading.name}</Link>
            {reading.verdict === "complete" ? "" : `, ${reading.verdict.replace("-", " ")}`}
            {!part && (
              <Link className="ml-4 inline-block min-h-6 text-sm" href={`/backups/${reading.id}/set-up`}>
                Restore this backup
              </Link>
            )}
          </p>
          {compared?.ok && before && (
            <>
              <p className="text-sm">
                Since the read-out before:{" "}
                {all.length === 0 ? "nothing changed." : comparisonSentence({ ...compared.value, differences: all })}{" "}
                <Link href={`/compare?left=backup:${reading.id}&right=backup:${before.id}`}>Compare the two</Link>
              </p>
              <Changes differences={all.toSorted((a, b) => Number(b.flies) - Number(a.flies))} />
            </>
          )}
          {compared && !compared.ok && <p className="text-sm">{compared.problem.message}.</p>}
          <Behind
            changes={behind.changes.filter(({ withId }) => withId === reading.id)}
            count={behind.readWith.get(reading.id)}
          />
          {notes
            .filter((note) => note.backup_id === reading.id)
            .map((note) => (
              <p key={note.id} className="mt-1 border-l-2 border-edge pl-2.5 text-sm">
                {note.text} <span className="text-faded">{note.account}</span>
              </p>
            ))}
        </>
      ),
    };
  });
  for (const job of jobs)
    moments.push({
      at: job.ordered_at.getTime(),
      key: `job ${job.id}`,
      body: (
        <p>
          <Mark mark={job.state === "finished" ? "ok" : job.state === "open" ? "half" : "no"} /> Visit:{" "}
          <Link href={`/jobs/${job.id}`}>{job.headline}</Link>, {job.state === "finished" ? "signed off" : job.state},
          ordered by {job.ordered_by}
        </p>
      ),
    });
  for (const move of moves)
    moments.push({
      at: move.at.getTime(),
      key: `move ${move.id}`,
      body: (
        <p className="text-sm">
          <StateShape shape={move.tag === row.tag ? "half" : "dash"} /> Its board{" "}
          {move.tag === row.tag ? "is" : `went to ${move.tag}:`}{" "}
          {catalogue.models.get(move.model_id)?.title ?? move.model_id}, chip{" "}
          <span className="key">{move.chip_id}</span>
          {move.tag === row.tag && move.from_tag !== null ? `, from ${move.from_tag}` : ""}. Said by {move.account}.
        </p>
      ),
    });
  moments.sort((a, b) => b.at - a.at);
  const newest = readings.at(-1);
  const id = oneParam(asked.value).slice(0, 120);
  const slot = newest && slotsOf(newest.release).find((each) => each.id === id);
  const values = slot ? valueOverTime(asOfNewest(readings, catalogue), id) : [];
  const numbers = values.flatMap((point) => (point.value === undefined ? [] : [{ at: point.at, value: point.value }]));
  const lost = await passedOver(row.id, readings, part?.name ?? null);
  return (
    <>
      {lost.length > 0 && (
        <p className="mb-3 border border-clay px-3 py-2 text-sm">
          <StateShape shape="square" /> Not to be read, because stored bytes are damaged:{" "}
          {lost.map(({ id, name }) => (
            <Link key={id} className="mr-3" href={`/backups/${id}`}>
              {name}
            </Link>
          ))}
        </p>
      )}
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <Plate tag={row.tag} big />
        <h1>
          {part ? `${part.place}: ` : ""}
          {readings.length === 0
            ? lost.length > 0
              ? "None of its read-outs can be read."
              : "Nothing was ever read out."
            : `${readings.length === HISTORY_READINGS ? "The newest " : ""}${readings.length} ${readings.length === 1 ? "read-out" : "read-outs"} since ${day(readings[0]?.at ?? 0)}.`}
        </h1>
        <div className="ml-auto">
          <LinkButton href={`/aircraft/${row.tag}`}>Back to its sheet</LinkButton>
        </div>
      </div>
      <Whose tag={row.tag} parts={parts} part={part?.name ?? ""} />
      {newest && (
        <Sheet label="One value over time" className="mb-5 px-4 py-3.5">
          <div className="flex flex-wrap items-baseline gap-x-4">
            <h2>One value over time</h2>
            <UrlSelect
              name="value"
              label="Setting"
              value={slot ? id : ""}
              none="choose"
              options={slotsOf(newest.release).map((each) => ({
                value: each.id,
                text: `${each.setting.title}${each.scope === "system" ? "" : `, ${each.scope}`}`,
              }))}
            />
          </div>
          {slot && (
            <div className="flex flex-wrap items-start gap-x-8">
              {numbers.length > 1 && <ValueChart points={numbers} />}
              <ol className="mt-1 text-sm" aria-label={`${slot.setting.title} over time`}>
                {values.map((point) => (
                  <li key={point.id}>
                    {day(point.at)}: <span className="key">{point.shown}</span>
                    {!point.explicit && <span className="text-faded"> default</span>}{" "}
                    <Link href={`/backups/${point.id}`}>read-out</Link>
                  </li>
                ))}
              </ol>
            </div>
          )}
        </Sheet>
      )}
      {moments.length === 0 ? (
        <Empty>Visits and read-outs will stand here, and what changed between them.</Empty>
      ) : (
        <ol aria-label="History" className="border-l-2 border-rule">
          {moments.map((moment) => (
            <li key={moment.key} className="relative mb-5 pl-5">
              <span
                className="absolute top-2 -left-[7px] size-3 rounded-full border-2 border-ink bg-paper"
                aria-hidden="true"
              />
              <time className="text-[13px] text-faded" dateTime={new Date(moment.at).toISOString()}>
                {dayTime(moment.at)}
              </time>
              {moment.body}
            </li>
          ))}
        </ol>
      )}
    </>
  );
}
