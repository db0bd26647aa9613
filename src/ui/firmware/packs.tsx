"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { send } from "@/ui/base/ask";
import type { Problem } from "@/core/problem";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { FilePick } from "@/ui/base/file-pick";

interface Preview {
  readonly family: string;
  readonly madeAt: string;
  readonly madeBy: string;
  readonly documents: readonly {
    readonly kind: string;
    readonly id: string;
    readonly version: number;
    readonly by: string;
    readonly state: "new" | "same" | "other";
  }[];
  readonly rereading: {
    readonly looked: number;
    readonly changed: readonly { readonly id: number; readonly name: string; readonly says: string }[];
  };
}

const STATE_SAYS = { new: "new here", same: "here already", other: "here otherwise" } as const;
const STATE_SHAPE = { new: "disc", same: "dash", other: "triangle" } as const;

/** A family's documents from another workshop: looked at first, then taken in, all or none. */
export function ImportPack() {
  const router = useRouter();
  const [file, setFile] = useState<File>();
  const [preview, setPreview] = useState<Preview>();
  const [problem, setProblem] = useState<Problem>();
  const [told, setTold] = useState("");
  const [busy, setBusy] = useState(false);
  const post = async <T,>(query: string, pack: File): Promise<T | undefined> => {
    setBusy(true);
    setProblem(undefined);
    const answer = await send<T>(`/api/packs?${query}`, pack);
    setBusy(false);
    if (answer.ok) return answer.value;
    setProblem(answer.problem);
    return undefined;
  };
  const look = async (pack: File | undefined) => {
    setFile(pack);
    setPreview(undefined);
    setTold("");
    if (pack) setPreview(await post<Preview>("look=true", pack));
  };
  const others = preview?.documents.filter(({ state }) => state === "other").length ?? 0;
  const take = async () => {
    if (!file) return;
    const kept = await post<{ family: string; kept: number; unchanged: number }>(`over=${others > 0}`, file);
    if (!kept) return;
    setPreview(undefined);
    setTold(`${kept.family}: ${kept.kept} documents are in, ${kept.unchanged} were here already.`);
    router.refresh();
  };
  return (
    <Sheet className="grid gap-2 px-4 py-3.5" label="Import: Pack">
      <h2>Import a pack</h2>
      <p className="text-sm text-faded">
        A family’s documents from another workshop, in one file. What it would bring is shown first.
      </p>
      <FilePick label="Pack" onFile={(file) => void look(file)} />
      <p role="status" className="text-sm font-semibold text-reed empty:hidden">
        {busy ? <span className="font-normal text-faded">Read-outs on file are read with it: a moment.</span> : told}
      </p>
      {problem && <ProblemNote problem={problem} />}
      {preview && (
        <div className="grid gap-2 text-sm">
          <p>
            <b>{preview.family}</b>, made by {preview.madeBy} on {preview.madeAt.slice(0, 10)}:{" "}
            {preview.documents.length} documents.
          </p>
          <ul
            aria-label="Documents of the pack"
            className="max-h-64 overflow-auto border border-rule px-2 py-1"
            tabIndex={0}
          >
            {preview.documents.map(({ kind, id, version, by, state }) => (
              <li key={`${kind} ${id}`}>
                <StateShape shape={STATE_SHAPE[state]} /> {kind} <span className="key">{id}</span>{" "}
                <span className="text-faded">
                  version {version} by {by}; {STATE_SAYS[state]}
                </span>
              </li>
            ))}
          </ul>
          {preview.rereading.changed.length > 0 && (
            <p>
              <StateShape shape="triangle" /> {preview.rereading.changed.length} of {preview.rereading.looked} read-outs
              on file would read differently.
            </p>
          )}
          {others > 0 && (
            <p>
              <StateShape shape="triangle" /> {others} {others === 1 ? "is" : "are"} here otherwise. Nothing is merged:
              those of the pack come in as the next versions, or not at all.
            </p>
          )}
          <div className="flex gap-2">
            <Press look="main" busy={busy} onClick={() => void take()}>
              {others > 0 ? "Take them as the next versions" : "Take the pack in"}
            </Press>
            <Press busy={busy} onClick={() => void look(undefined)}>
              Leave it
            </Press>
          </div>
        </div>
      )}
    </Sheet>
  );
}
