import { Link } from "@/ui/base/link";
import type { Candidate, Contradiction, Pull, Ranked, Weighed } from "@/core/identify";
import { StateShape } from "@/ui/base/mark";
import { certaintyText } from "@/ui/boards/certainty";

/** Bits at which a bar of ink is as long as it gets. */
const LONGEST_BITS = 5;

const PULL_WORD: Readonly<Record<Pull, string>> = {
  excludes: "excludes it",
  "strongly against": "strongly against",
  against: "against",
  neither: "says nothing",
  for: "for it",
  "strongly for": "strongly for it",
};

/** A line of ink that pulls to one side: right is for the board in question, left is against it. */
function Ink({ bits }: { readonly bits: number }) {
  const share = Math.min(1, Math.abs(bits) / LONGEST_BITS);
  return (
    <svg viewBox="-52 0 104 14" className="h-3.5 w-28 shrink-0" aria-hidden="true">
      <path d="M0 0V14" stroke="var(--edge)" />
      <rect
        x={bits < 0 ? -50 * share : 0}
        y="4"
        width={50 * share}
        height="6"
        fill={bits < 0 ? "var(--clay)" : "var(--ink)"}
      />
    </svg>
  );
}

/** Each piece of evidence, and how it pulls at the likeliest board; each can be taken away again. */
export function EvidenceLines({
  weighed,
  about,
  without,
}: {
  readonly weighed: readonly Weighed[];
  /** The likeliest board. */
  readonly about: string;
  /** The address without this clue. */
  readonly without: (kind: string) => string;
}) {
  return (
    <ul aria-label={`Evidence, for or against ${about}`} className="grid">
      {weighed.map(({ clue, title, bits, pull }) => (
        <li
          key={clue.kind}
          className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1.5 text-sm last:border-0"
        >
          <span className="min-w-44 flex-1">
            <span className="text-faded">{title}: </span>
            <span className="key font-semibold">{clue.seen}</span>
          </span>
          <Ink bits={bits} />
          <span className="w-28">{PULL_WORD[pull]}</span>
          <Link href={without(clue.kind)} scroll={false} className="min-h-6" aria-label={`Leave out: ${title}`}>
            leave out
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** A board that may be it; struck when something excludes it or hardly anything is left of it. */
export function CandidateCard({ ranked, first }: { readonly ranked: Ranked; readonly first: boolean }) {
  const { candidate, certainty, weighed } = ranked;
  const excluding = weighed.find(({ pull }) => pull === "excludes");
  const fallen = certainty < 0.005;
  return (
    <li
      className={`border px-3 py-2 ${first ? "border-ink bg-sheet" : fallen ? "border-dashed border-rule text-faded" : "border-rule bg-sheet"}`}
    >
      <div className="flex items-baseline justify-between gap-2">
        <span className={`font-semibold ${fallen ? "line-through" : ""}`}>
          {candidate.model ? (
            <Link href={`/boards/${candidate.id}`} className={fallen ? "text-faded" : ""}>
              {candidate.title}
            </Link>
          ) : (
            candidate.title
          )}
        </span>
        <span className="text-sm whitespace-nowrap">{certaintyText(certainty)}</span>
      </div>
      <div className="text-[13px] text-faded">
        <span className="key">{candidate.target}</span> · {candidate.processor}
        {candidate.model ? ` · printed “${candidate.model.printed}”, revision ${candidate.model.revision}` : ""}
      </div>
      {excluding && (
        <div className="text-[13px]">
          excluded: {excluding.title.toLowerCase()} is {excluding.clue.seen}
        </div>
      )}
    </li>
  );
}

const names = (candidates: readonly Candidate[]) => {
  const titles = candidates.slice(0, 3).map(({ title }) => title);
  const more = candidates.length - titles.length;
  return `${titles.join(", ")}${more > 0 ? ` and ${more} more` : ""}`;
};

/** Signs that do not fit together: said, never settled by lot. */
export function Contradictions({
  found,
  likeliest,
}: {
  readonly found: readonly Contradiction[];
  readonly likeliest: string;
}) {
  if (found.length === 0) return null;
  return (
    <div role="alert" className="flex gap-2.5 border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
      <span className="pt-0.5">
        <StateShape shape="triangle" />
      </span>
      <div>
        <p className="font-semibold">The signs contradict each other.</p>
        {found.map(({ clue, title, speaksFor }) => (
          <p key={clue.kind}>
            {title} is “{clue.seen}”:{" "}
            {speaksFor.length > 0 ? `that speaks for ${names(speaksFor)}` : "nothing in the catalogue shows that"}, and
            not for {likeliest}.
          </p>
        ))}
        <p>Look again, leave out what was misread, or answer the next question.</p>
      </div>
    </div>
  );
}
