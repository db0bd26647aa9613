import { Folded } from "@/ui/base/folded";
import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote } from "@/ui/base/parts";
import { Select } from "@/ui/base/select";
import type { InspectedEntry } from "@/contracts/answers/read-outs";
import type { Problem } from "@/core/problem";

/** One read-out of those that were brought. */
export interface Brought extends InspectedEntry {
  readonly key: string;
  readonly file: Blob;
  /** Name of the file that it came in, when that is an archive. */
  readonly archive: boolean;
  readonly tag: string;
  /** What it is to be read as; empty: what it says itself. */
  readonly as: string;
  /** What it holds, where the text does not say or says it wrongly. */
  readonly extent: string;
  readonly filed?: number;
  readonly refused?: Problem;
}

/** What a person says of one. */
export type Changing = (change: Partial<Pick<Brought, "tag" | "as" | "extent">>) => void;

const SAY = {
  complete: ["disc", "complete"],
  "moved-only": ["triangle", "moved values only"],
  incomplete: ["square", "incomplete"],
  raw: ["dashed", "raw"],
} as const;

/** What a text is, by what it says itself; and as what else it can be read. */
export function WhatItIs({ item, onChange }: { readonly item: Brought; readonly onChange: Changing }) {
  const { proposal } = item;
  if (!proposal)
    return (
      <>
        <StateShape shape="square" /> {item.problem?.message}. {item.problem?.detail}
        <Otherwise item={item} onChange={onChange} />
      </>
    );
  return (
    <>
      {proposal.release}
      {proposal.target !== null && <span className="block key text-faded">{proposal.target}</span>}
      {proposal.evidence.map((text) => (
        <span key={text} className="block text-faded">
          {text}.
        </span>
      ))}
      {item.filed === undefined && <Otherwise item={item} onChange={onChange} />}
    </>
  );
}

/** How whole it is, and what was found in it. */
export function Judged({ item: { proposal } }: { readonly item: Brought }) {
  if (!proposal) return null;
  const [shape, say] = SAY[proposal.verdict];
  return (
    <>
      <StateShape shape={shape} /> {say}
      {proposal.findings
        .filter((finding) => finding.against || proposal.verdict !== "complete")
        .slice(0, 4)
        .map((finding) => (
          <span key={finding.text} className="block text-faded">
            {finding.text}.
          </span>
        ))}
    </>
  );
}

interface WhoseProps {
  readonly item: Brought;
  readonly tags: readonly string[];
  readonly onChange: Changing;
}

/** Which aircraft it is of: proposed, chosen, or on file already. */
export function WhoseItIs({ item, tags, onChange }: WhoseProps) {
  const { proposal } = item;
  if (!proposal) return item.as === "" ? null : <Whose item={item} tags={tags} onChange={onChange} />;
  if (item.filed === undefined && proposal.duplicate)
    return (
      <>
        <StateShape shape="dash" /> on file already:{" "}
        <Link href={`/backups/${proposal.duplicate.id}`}>{proposal.duplicate.name}</Link>
      </>
    );
  return (
    <>
      <Whose item={item} tags={tags} onChange={onChange} />
      <span className="block text-faded">
        {proposal.tag === null ? `${proposal.tagBy}.` : `Proposed by ${proposal.tagBy}.`}
      </span>
    </>
  );
}

function Whose({ item, tags, onChange }: WhoseProps) {
  if (item.filed !== undefined)
    return (
      <>
        <StateShape shape="disc" /> <Link href={`/backups/${item.filed}`}>filed with {item.tag}</Link>
      </>
    );
  return (
    <>
      <Select
        label={`Aircraft of ${item.name}`}
        says="hidden"
        value={item.tag}
        none="Choose…"
        options={tags.map((tag) => ({ value: tag, text: tag }))}
        onValue={(tag) => onChange({ tag })}
      />
      {item.refused && <ProblemNote problem={item.refused} />}
    </>
  );
}

const HOLDS = [
  { value: "all", text: "It holds everything" },
  { value: "moved", text: "It holds only what was changed" },
] as const;

/** What else a text may be read as, with what speaks for it; and what it holds, where nobody but a person knows. */
function Otherwise({ item, onChange }: { readonly item: Brought; readonly onChange: Changing }) {
  if (item.candidates.length === 0) return null;
  const chosen = item.candidates.find(({ releaseId }) => releaseId === item.as);
  return (
    <Folded className="mt-1" look="link" opened={item.as !== ""} head="Read it otherwise">
      <div className="grid justify-items-start gap-1">
        <Select
          label={`Read ${item.name} as`}
          says="hidden"
          value={item.as}
          none="As it says itself"
          options={item.candidates.map(({ releaseId, title }) => ({ value: releaseId, text: `As ${title}` }))}
          onValue={(as) => onChange({ as })}
        />
        {chosen && (
          <>
            <span className="text-faded">{chosen.evidence}.</span>
            <Select
              label={`What ${item.name} holds`}
              says="hidden"
              value={item.extent}
              none="It holds what it says"
              options={HOLDS}
              onValue={(extent) => onChange({ extent })}
            />
          </>
        )}
      </div>
    </Folded>
  );
}
