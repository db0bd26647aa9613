"use client";

import { useState, type ReactNode } from "react";
import { useAsk } from "@/ui/base/ask";
import { useDropped } from "@/ui/base/drop-anywhere";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { AdoptionNotes, useAdoption } from "@/ui/firmware/adopt";
import { ImportPack } from "@/ui/firmware/packs";
import { FilePick } from "@/ui/base/file-pick";

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
      <ImportPack />
    </div>
  );
}

function ImportDocument() {
  const adoption = useAdoption();
  return (
    <ImportForm
      kind="document"
      label="Document"
      says="A release, part release, board model, processor, idiom or layout, as YAML or JSON. Earlier versions are kept, and read-outs that would read differently are shown first."
      bring={adoption.adopt}
    >
      <AdoptionNotes adoption={adoption} />
    </ImportForm>
  );
}

function ImportImage() {
  const { ask, problem } = useAsk();
  const [told, setTold] = useState("");
  return (
    <ImportForm
      kind="image"
      label="Image"
      says="Intel HEX, S-record, UF2, raw bytes with or without a DFU suffix. It must be whole; which release and target it is for stands in it."
      bring={async (file) => {
        setTold("");
        const made = await ask<{ release_id: string; target: string; length_bytes: number }>("/api/images", file);
        if (made)
          setTold(
            `The image of ${made.release_id} for ${made.target} is in: ${Math.round(made.length_bytes / 1024)} KB.`,
          );
      }}
    >
      <p role="status" className="text-sm font-semibold text-reed empty:hidden">
        {told}
      </p>
      {problem && <ProblemNote problem={problem} />}
    </ImportForm>
  );
}

function ImportForm({
  kind,
  label,
  says,
  bring,
  children,
}: {
  readonly kind: "document" | "image";
  readonly label: string;
  readonly says: string;
  readonly bring: (file: File) => Promise<void>;
  /** What came of it. */
  readonly children: ReactNode;
}) {
  const take = ([file]: readonly File[]) => {
    if (file) void bring(file);
  };
  useDropped(kind, take);
  return (
    <Sheet className="grid gap-2 px-4 py-3.5" label={`Import: ${label}`}>
      <h2>Import {kind === "image" ? "an image" : "a document"}</h2>
      <p className="text-sm text-faded">{says}</p>
      <FilePick label={label} onFile={(file) => take([file])} />
      {children}
    </Sheet>
  );
}
