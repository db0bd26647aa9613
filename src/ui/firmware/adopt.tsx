"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Problem } from "@/core/problem";
import { send } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import type { Rereading } from "@/contracts/answers/read-outs";

interface Kept {
  readonly id: string;
  readonly version: number;
  readonly unchanged: boolean;
}

export interface Adoption {
  readonly busy: boolean;
  /** What came of it, in a sentence; empty while nothing was kept. */
  readonly outcome: string;
  readonly problem: Problem | undefined;
  readonly rereading: Rereading | undefined;
  /** The document waits for a word, because read-outs on file would read differently with it. */
  readonly waits: boolean;
  /** Only looks at what would read differently. */
  readonly look: (document: Blob) => Promise<void>;
  /** Keeps the document as the next version, at once if all reads as before. */
  readonly adopt: (document: Blob) => Promise<void>;
  /** Keeps the one that waits. */
  readonly confirm: () => Promise<void>;
  readonly leave: () => void;
}

/** Brings documents in: what is on file is read again with them first, and what reads differently is shown before. */
export function useAdoption(): Adoption {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [outcome, setOutcome] = useState("");
  const [problem, setProblem] = useState<Problem>();
  const [rereading, setRereading] = useState<Rereading>();
  const [waiting, setWaiting] = useState<Blob>();
  const leave = () => {
    setOutcome("");
    setProblem(undefined);
    setRereading(undefined);
    setWaiting(undefined);
  };
  const post = async <T,>(path: string, document: Blob): Promise<T | undefined> => {
    setBusy(true);
    const answer = await send<T>(path, document);
    setBusy(false);
    if (answer.ok) return answer.value;
    setProblem(answer.problem);
    return undefined;
  };
  const read = async (document: Blob) => {
    leave();
    return post<Rereading>("/api/documents/preview", document);
  };
  const keep = async (document: Blob) => {
    const kept = await post<Kept>("/api/documents", document);
    if (!kept) return;
    setRereading(undefined);
    setWaiting(undefined);
    setOutcome(
      kept.unchanged ? `${kept.id} is here already, unchanged.` : `${kept.id} is in, as version ${kept.version}.`,
    );
    router.refresh();
  };
  return {
    busy,
    outcome,
    problem,
    rereading,
    waits: waiting !== undefined,
    leave,
    look: async (document) => setRereading(await read(document)),
    adopt: async (document) => {
      const found = await read(document);
      if (!found) return;
      if (found.changed.length === 0 && found.unwritable.length === 0) return keep(document);
      setRereading(found);
      setWaiting(document);
    },
    confirm: async () => {
      if (waiting) await keep(waiting);
    },
  };
}

const SHOWN = 12;

/** What would read differently, what was refused, what came of it. */
export function AdoptionNotes({ adoption }: { readonly adoption: Adoption }) {
  const { rereading, problem, outcome, waits, busy, confirm, leave } = adoption;
  return (
    <>
      <p role="status" className="text-sm font-semibold text-reed empty:hidden">
        {busy ? <span className="font-normal text-faded">Read-outs on file are read with it: a moment.</span> : outcome}
      </p>
      {problem && <ProblemNote problem={problem} />}
      {rereading && (
        <Sheet label="What would read differently" className="px-4 py-3 text-sm">
          {rereading.changed.length === 0 ? (
            <p>
              <StateShape shape="disc" /> {rereading.looked} read-outs on file were read again: all read as before.
            </p>
          ) : (
            <>
              <p>
                <StateShape shape="triangle" /> {rereading.changed.length} of {rereading.looked} read-outs on file would
                read differently:
              </p>
              <ul className="mt-1">
                {rereading.changed.slice(0, SHOWN).map((each) => (
                  <li key={each.id}>
                    <a href={`/backups/${each.id}`}>{each.name}</a>: {each.says}
                  </li>
                ))}
                {rereading.changed.length > SHOWN && <li>and {rereading.changed.length - SHOWN} more</li>}
              </ul>
            </>
          )}
          {rereading.unwritable.length > 0 && (
            <p className="mt-1">
              <StateShape shape="triangle" /> This language can be read and not written: its document has no form for{" "}
              {rereading.unwritable.join("; ")}. Files can be compared; a board cannot be restored in it.
            </p>
          )}
          {rereading.looked < rereading.total && (
            <p className="mt-1 text-faded">
              Read again were {rereading.looked} of {rereading.total}, those that the document concerns first.
            </p>
          )}
          {waits && (
            <div className="mt-3 flex flex-wrap gap-2">
              <Press look="main" busy={busy} onClick={() => void confirm()}>
                Keep it all the same
              </Press>
              <Press busy={busy} onClick={leave}>
                Leave it
              </Press>
            </div>
          )}
        </Sheet>
      )}
    </>
  );
}
