import type { Metadata } from "next";
import Form from "next/form";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { oneParam, type SearchParams } from "@/app/params";
import {
  candidatesOf,
  CERTAIN_ENOUGH,
  clueKind,
  CLUE_KINDS,
  isCertain,
  questionsFor,
  rankBoards,
  type Clue,
  type Question,
  type Ranking,
} from "@/core/identify";
import { BUTTON_LOOK, Sheet } from "@/ui/base/parts";
import { BoardDrawing } from "@/ui/boards/board-drawing";
import { certaintyText } from "@/ui/boards/certainty";
import { CandidateCard, Contradictions, EvidenceLines } from "@/ui/boards/evidence";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { modelPrior, signsOfBay } from "@/server/repositories/evidence";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";
import { Press } from "@/ui/base/press";
import { Field } from "@/ui/base/field";
import { Carried } from "@/ui/base/field";

export const metadata: Metadata = { title: "Which target?" };

interface Props {
  readonly searchParams: SearchParams;
}

const CAN_TELL_NOT = "unseen";
const LEFT_OUT = "without";
const ANSWERS_SHOWN = 12;

const listed = (text: string) => text.split(",").filter((kind) => clueKind(kind) !== undefined);

/** “It takes X” with its certainty, or which are still in question. */
function headline(ranking: Ranking): string {
  const [first, second] = ranking.targets;
  if (!first) return "No board is described in this workshop.";
  if (ranking.stranger > first.certainty) return "This board is none that the catalogue describes.";
  if (isCertain(ranking)) return `It takes ${first.target}: ${certaintyText(first.certainty)} certain.`;
  if (first.certainty >= CERTAIN_ENOUGH) return `Likely ${first.target}, against some of the signs.`;
  if (ranking.clues.length === 0) return `Which target? ${ranking.targets.length} are possible.`;
  const open = ranking.targets.filter(({ certainty }) => certainty >= 0.03);
  return open.length === 2 && second
    ? `${first.target} (${certaintyText(first.certainty)}) or ${second.target} (${certaintyText(second.certainty)}).`
    : `${first.target} leads with ${certaintyText(first.certainty)}; ${open.length} targets are in question.`;
}

export default async function WhichPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const catalogue = await loadCatalogue();
  const bayNo = oneParam(params.bay);
  const bay = bayNo === "" ? undefined : await signsOfBay(rowId(bayNo), catalogue);
  if (bayNo !== "" && !bay) notFound();
  const leftOut = listed(oneParam(params[LEFT_OUT]));
  const cantTell = listed(oneParam(params[CAN_TELL_NOT]));
  const given = CLUE_KINDS.flatMap(({ kind }): Clue[] => {
    const seen = oneParam(params[kind]).trim();
    return seen === "" ? [] : [{ kind, seen }];
  });
  const byItself = (bay?.clues ?? []).filter(
    ({ kind }) => !leftOut.includes(kind) && !given.some((clue) => clue.kind === kind),
  );
  const ranking = rankBoards(candidatesOf(catalogue), [...byItself, ...given], await modelPrior());
  const [question, ...others] = questionsFor(ranking, cantTell);

  /** This page with some of its words changed; an empty word is left out. */
  const address = (change: Readonly<Record<string, string>>) => {
    const words = { bay: bayNo, [LEFT_OUT]: leftOut.join(","), [CAN_TELL_NOT]: cantTell.join(",") };
    const all = { ...words, ...Object.fromEntries(given.map(({ kind, seen }) => [kind, seen])), ...change };
    const query = new URLSearchParams(Object.entries(all).filter(([, word]) => word !== ""));
    return `/boards/which?${query.toString()}`;
  };
  const without = (kind: string) =>
    given.some((clue) => clue.kind === kind)
      ? address({ [kind]: "" })
      : address({ [LEFT_OUT]: [...leftOut, kind].join(",") });

  const likeliest = ranking.targets[0]?.candidates[0];
  const leading = ranking.candidates.find(({ candidate }) => candidate === likeliest);
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/boards">Boards</Link>
        {bay && (
          <>
            {" · "}
            <Link href={`/bench/${bayNo}`}>Bay {bayNo}</Link>: {bay.live.say}
          </>
        )}
      </nav>
      <h1 className="mb-3">{headline(ranking)}</h1>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <div className="grid min-w-0 gap-4">
          <Contradictions found={ranking.contradictions} likeliest={likeliest?.title ?? ""} />
          {question ? (
            <Asked
              question={question}
              drawn={likeliest?.model}
              address={address}
              cantTell={address({ [CAN_TELL_NOT]: [...cantTell, question.kind].join(",") })}
              hidden={Object.fromEntries(
                [...new URLSearchParams(address({}).split("?")[1])].filter(([name]) => name !== question.kind),
              )}
            />
          ) : (
            <Settled ranking={ranking} bayNo={bayNo} />
          )}
          <Sheet label="Evidence" className="px-4 py-3.5">
            <h2 className="mb-1">What speaks for {likeliest?.title ?? "it"}</h2>
            {leading && leading.weighed.length > 0 ? (
              <EvidenceLines weighed={leading.weighed} about={leading.candidate.title} without={without} />
            ) : (
              <p className="text-sm text-faded">
                Nothing is known yet. Plug the board into a bay, or answer the question: both weigh the same.
              </p>
            )}
            {(leftOut.length > 0 || cantTell.length > 0) && (
              <p className="mt-2 text-sm text-faded">
                {leftOut.length > 0 && `Left out: ${leftOut.map(titleOf).join(", ")}. `}
                {cantTell.length > 0 && `Could not be told: ${cantTell.map(titleOf).join(", ")}. `}
                <Link href={address({ [LEFT_OUT]: "", [CAN_TELL_NOT]: "" })}>Take them up again</Link>
              </p>
            )}
          </Sheet>
          {others.length > 0 && (
            <Sheet label="Other questions" className="px-4 py-3">
              <h2 className="mb-1">It would also help to know</h2>
              <ul className="grid gap-1 text-sm">
                {others.slice(0, 4).map((other) => (
                  <li key={other.kind}>
                    {other.question} <span className="text-faded">about {other.effortS} s</span>{" "}
                    {other.answers.slice(0, 6).map(({ seen }) => (
                      <Link key={seen} href={address({ [other.kind]: seen })} className="mr-2.5 inline-block min-h-6">
                        {seen}
                      </Link>
                    ))}
                  </li>
                ))}
              </ul>
            </Sheet>
          )}
        </div>
        <div>
          <h2 className="mb-2">Boards in question</h2>
          <ul className="grid gap-2">
            {ranking.candidates.slice(0, 7).map((ranked) => (
              <CandidateCard
                key={ranked.candidate.id}
                ranked={ranked}
                first={ranked.candidate === likeliest && ranking.clues.length > 0}
              />
            ))}
          </ul>
          <p className="mt-2 text-sm text-faded">
            {ranking.candidates.length > 7 && `${ranking.candidates.length - 7} more are less likely. `}
            None of them: {certaintyText(ranking.stranger)}.
          </p>
        </div>
      </div>
    </>
  );
}

const titleOf = (kind: string) => clueKind(kind)?.title.toLowerCase() ?? kind;

/** The one next question, large, with the place to look at. */
function Asked({
  question,
  drawn,
  address,
  cantTell,
  hidden,
}: {
  readonly question: Question;
  readonly drawn: Parameters<typeof BoardDrawing>[0]["model"] | undefined;
  readonly address: (change: Readonly<Record<string, string>>) => string;
  readonly cantTell: string;
  readonly hidden: Readonly<Record<string, string>>;
}) {
  return (
    <Sheet label="Next question" className="border-ink px-4 py-4">
      <div className="flex flex-wrap items-start gap-5">
        <div className="grid min-w-64 flex-1 gap-3">
          <p className="text-sm text-faded">What tells most next, in about {question.effortS} s:</p>
          <h2 className="text-[22px]">{question.question}</h2>
          <div className="flex flex-wrap gap-2">
            {question.answers.slice(0, ANSWERS_SHOWN).map(({ seen }) => (
              <Link key={seen} href={address({ [question.kind]: seen })} scroll={false} className={BUTTON_LOOK.call}>
                {seen}
              </Link>
            ))}
            <Link href={cantTell} scroll={false} className={BUTTON_LOOK.plain}>
              I can’t tell
            </Link>
          </div>
          {question.typed && (
            <Form action="/boards/which" scroll={false} className="flex flex-wrap items-end gap-2">
              <Carried values={hidden} />
              <Field
                label="Or as it stands there"
                look="plain"
                className="w-52"
                name={question.kind}
                maxLength={60}
                required
              />
              <Press submit>That is what it says</Press>
            </Form>
          )}
        </div>
        {drawn && question.place && (
          <figure className="w-64 max-w-full">
            <BoardDrawing model={drawn} ring={question.place} />
            <figcaption className="text-center text-[13px] text-faded">
              {drawn.places?.[question.place] ? `Where it would be on a ${drawn.title}` : `A ${drawn.title} has none`}
            </figcaption>
          </figure>
        )}
      </div>
    </Sheet>
  );
}

/** Nothing is left to ask: certain, or as certain as can be. */
function Settled({ ranking, bayNo }: { readonly ranking: Ranking; readonly bayNo: string }) {
  const [first] = ranking.targets;
  if (!first) return null;
  const sure = isCertain(ranking);
  return (
    <Sheet label="Answer" className="border-ink px-4 py-4">
      <h2>{sure ? "Nothing more needs to be asked." : "Nothing is left to ask that would tell more."}</h2>
      <p className="mt-1 text-sm">
        {sure
          ? `${first.candidates.length > 1 ? `${first.candidates.map(({ title }) => title).join(" and ")} share this target` : `A ${first.candidates[0]?.title ?? ""} takes it`}.`
          : "Plug it into a bay so that it can say more by itself, or look again at what was left out."}
      </p>
      <p className="mt-2.5 flex flex-wrap gap-2">
        {bayNo !== "" && (
          <Link href={`/bench/${bayNo}`} className={BUTTON_LOOK.main}>
            Go on in bay {bayNo}
          </Link>
        )}
        <Link href={`/boards/targets?here=${encodeURIComponent(first.target)}`} className={BUTTON_LOOK.plain}>
          What is near {first.target}
        </Link>
      </p>
    </Sheet>
  );
}
