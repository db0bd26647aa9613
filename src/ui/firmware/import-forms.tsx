"use client";

import { useState } from "react";
import type { Problem } from "@/core/problem";
import { useAsk } from "@/ui/base/ask";
import { useDropped } from "@/ui/base/drop-anywhere";
import { ProblemNote, Sheet } from "@/ui/base/parts";

const PICK =
  "block w-full text-sm file:mr-3 file:min-h-8 file:rounded-base file:border file:border-edge file:bg-sheet file:px-3 file:text-sm file:text-ink";

/** Documents and images come in here; each is judged before anything is kept. */
export function ImportForms({ mayImport }: { readonly mayImport: boolean }) {
  if (!mayImport)
    return (
      <Sheet className="px-4 py-3.5" label="Import">
        <h2>Import</h2>
        <p className="mt-1 text-sm">The lead technician imports documents and images.</p>
      </Sheet>
    );
  return (
    <div id="import" className="grid gap-4">
      <ImportDocument />
      <ImportImage />
    </div>
  );
}

function ImportDocument() {
  const { ask, problem } = useAsk();
  return (
    <ImportForm
      kind="document"
      label="Document"
      says="A release, part release, board model, processor or idiom, as YAML or JSON. An earlier version is kept."
      problem={problem}
      bring={async (file) => {
        const made = await ask<{ id: string; version: number; unchanged: boolean }>("/api/documents", file);
        if (!made) return "";
        return made.unchanged
          ? `${made.id} is here already, unchanged.`
          : `${made.id} is in, as version ${made.version}.`;
      }}
    />
  );
}

function ImportImage() {
  const { ask, problem } = useAsk();
  return (
    <ImportForm
      kind="image"
      label="Image"
      says="Intel HEX or raw bytes. It must be whole; which release and target it is for stands in it."
      problem={problem}
      bring={async (file) => {
        const made = await ask<{ release_id: string; target: string; length_bytes: number }>("/api/images", file);
        if (!made) return "";
        return `The image of ${made.release_id} for ${made.target} is in: ${Math.round(made.length_bytes / 1024)} KB.`;
      }}
    />
  );
}

function ImportForm({
  kind,
  label,
  says,
  problem,
  bring,
}: {
  readonly kind: "document" | "image";
  readonly label: string;
  readonly says: string;
  readonly problem: Problem | undefined;
  /** Brings a file in; gives what is told of it, empty when it was refused. */
  readonly bring: (file: File) => Promise<string>;
}) {
  const [done, setDone] = useState("");
  const take = ([file]: readonly File[]) => {
    setDone("");
    if (file) void bring(file).then(setDone);
  };
  useDropped(kind, take);
  return (
    <Sheet className="px-4 py-3.5" label={`Import: ${label}`}>
      <h2>Import {kind === "image" ? "an image" : "a document"}</h2>
      <p className="mt-1 mb-2 text-sm text-faded">{says}</p>
      <input
        type="file"
        aria-label={label}
        className={PICK}
        onChange={(event) => take([...(event.target.files ?? [])])}
      />
      <p role="status" className="mt-2 text-sm font-semibold text-reed empty:hidden">
        {done}
      </p>
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} />
        </div>
      )}
    </Sheet>
  );
}
